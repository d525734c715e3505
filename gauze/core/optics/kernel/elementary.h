/* Elementary functions, for vectors: good to 1e-7 of their value. A part of kernel.c. */

static inline float exp2_of(float x) {
    x = x < -126.0f ? -126.0f : (x > 126.0f ? 126.0f : x);
    int32_t whole = (int32_t)(x + (x < 0.0f ? -0.5f : 0.5f));
    float f = (x - (float)whole) * 0.69314718056f;
    float series = 1.0f + f * (1.0f + f * (0.5f + f * (1.0f / 6 + f * (1.0f / 24 + f * (1.0f / 120 + f * (1.0f / 720))))));
    union { int32_t i; float f; } scale = {(whole + 127) << 23};
    return series * scale.f;
}

static inline float log2_of(float x) {
    union { float f; int32_t i; } bits = {x};
    int32_t exponent = ((bits.i - 0x3f3504f3) >> 23);          /* so that the mantissa lies between sqrt(1/2) and sqrt(2) */
    union { int32_t i; float f; } mantissa = {bits.i - (exponent << 23)};
    float t = (mantissa.f - 1.0f) / (mantissa.f + 1.0f), t2 = t * t;
    float series = t * (2.0f + t2 * (2.0f / 3 + t2 * (2.0f / 5 + t2 * (2.0f / 7 + t2 * (2.0f / 9)))));
    return (float)exponent + series * 1.44269504089f;
}

static inline float atan2_of(float y, float x) {
    float across = y < 0 ? -y : y, along = x < 0 ? -x : x;
    float least = across < along ? across : along, most = across < along ? along : across;
    float ratio = least / (most > 1e-30f ? most : 1e-30f);
    int steep = ratio > 0.41421356f;
    float z = steep ? (ratio - 1.0f) / (ratio + 1.0f) : ratio, z2 = z * z;
    float angle = z * (1.0f + z2 * (-1.f / 3 + z2 * (1.f / 5 + z2 * (-1.f / 7 + z2 * (1.f / 9 + z2 * (-1.f / 11 + z2 * (1.f / 13)))))));
    angle = steep ? angle + (float)(PI / 4) : angle;
    angle = across > along ? (float)(PI / 2) - angle : angle;
    angle = x < 0 ? (float)PI - angle : angle;
    return y < 0 ? -angle : angle;
}

static inline float positive(float x) { return x > 0.0f ? x : 0.0f; }
