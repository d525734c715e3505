/* Emitters, and what a sheet makes of their light. A part of kernel.c. */

typedef struct {
    int64_t count, columns;
    const double *places, *axes, *power, *flux; /* (n, 3), (n, 3), (n,), (n, columns) */
    const int32_t *table;                       /* which measured distribution, -1 for cos^m */
    const double *right, *up;                   /* (n, 3): towards C = 0 and C = 90 */
    const float *tables;                        /* (tables, GAMMAS, PLANES), intensity per lumen */
    double least_distance2;
    double size;                                /* side of their emitting squares */
    const Mitres *mitres;                       /* NULL: all see each other */
    const int32_t *leg;                         /* (n,): in which leg each stands */
    int64_t looked_from;                        /* the leg whose places they are asked about */
} Emitters;

/* An emitter is a square of side s, not a point: the mean of its light over the square, to the second order in s over distance.
 *
 * With out = r cos, in = r cos' and q = r^2 the light of a point is c out^m in / q^k, k = (m + 3) / 2. Moved about in its own
 * plane, out stays; the mean is the value plus s^2 / 24 of the Laplacian there:
 *
 *     c out^m / q^k (in + s^2 k / (6 q) (n.d - (n.a) out + in ((k + 1) (q - out^2) / q - 1)))
 *
 * n.d is -in. Nearer than two sides, or farther for a narrow beam, the series no longer holds: the correction
 * fades, and the square shines as a point. */
#define NEAREST 2.0f /* squared distance over s^2 k: two sides for a Lambertian one, farther for a narrow beam */

static inline float fading(float r2, float nearest) {
    const float share = nearest > r2 ? r2 / nearest : 1.0f;
    return share * share;
}

static inline float read_table(const float *table, float cosine, float sine, float x, float y) {
    float gamma = atan2_of(sine, cosine) * (float)(180.0 / PI);
    float c = atan2_of(y, x) * (float)(180.0 / PI / 5.0);
    c = c < 0.0f ? c + (float)(PLANES - 1) : c;
    gamma = gamma < 0.0f ? 0.0f : gamma;
    int32_t row = (int32_t)gamma, column = (int32_t)c;
    row = row > GAMMAS - 2 ? GAMMAS - 2 : row;
    column = column > PLANES - 2 ? PLANES - 2 : column;
    float down = gamma - (float)row, over = c - (float)column;
    const float *at = table + row * PLANES + column;
    float above = at[0] + (at[1] - at[0]) * over, below = at[PLANES] + (at[PLANES + 1] - at[PLANES]) * over;
    return above + (below - above) * down;
}

/* Illuminance per lumen of one emitter at a block of places, with r cos' and r^2. */
static void shares(const Emitters *lamps, int64_t e, int64_t n, const float *const at[3], const float *const normal[3],
                   const double middle[3], float *restrict share, float *restrict arriving, float *restrict squared) {
    const float ex = (float)(lamps->places[3 * e] - middle[0]), ey = (float)(lamps->places[3 * e + 1] - middle[1]),
                ez = (float)(lamps->places[3 * e + 2] - middle[2]);
    const float ax = (float)lamps->axes[3 * e], ay = (float)lamps->axes[3 * e + 1], az = (float)lamps->axes[3 * e + 2];
    const float *restrict px = at[0], *restrict py = at[1], *restrict pz = at[2];
    const float *restrict nx = normal[0], *restrict ny = normal[1], *restrict nz = normal[2];
    const float least = (float)lamps->least_distance2, m = (float)lamps->power[e], k = (m + 3.0f) / 2.0f;
    const float side2 = (float)(lamps->size * lamps->size), spread = side2 * k / 6.0f, nearest = NEAREST * k * side2;
    if (lamps->table[e] >= 0) {
        const float *table = lamps->tables + (int64_t)lamps->table[e] * GAMMAS * PLANES;
        const double *r = lamps->right + 3 * e, *u = lamps->up + 3 * e;
        const float rx = (float)r[0], ry = (float)r[1], rz = (float)r[2], ux = (float)u[0], uy = (float)u[1], uz = (float)u[2];
        for (int64_t p = 0; p < n; p++) {
            float dx = px[p] - ex, dy = py[p] - ey, dz = pz[p] - ez;
            float r2 = dx * dx + dy * dy + dz * dz;
            r2 = r2 > least ? r2 : least;
            float along = dx * ax + dy * ay + dz * az, x = dx * rx + dy * ry + dz * rz, y = dx * ux + dy * uy + dz * uz;
            float in = positive(-(dx * nx[p] + dy * ny[p] + dz * nz[p]));
            float across = __builtin_sqrtf(x * x + y * y), far = __builtin_sqrtf(r2);
            share[p] = in > 0.0f ? read_table(table, along, across, x, y) * in / (r2 * far) : 0.0f;
            arriving[p] = in;
            squared[p] = r2;
        }
    } else if (m == 1.0f) {
        for (int64_t p = 0; p < n; p++) {
            float dx = px[p] - ex, dy = py[p] - ey, dz = pz[p] - ez;
            float r2 = dx * dx + dy * dy + dz * dz;
            r2 = r2 > least ? r2 : least;
            float out = positive(dx * ax + dy * ay + dz * az), in = positive(-(dx * nx[p] + dy * ny[p] + dz * nz[p]));
            float facing = nx[p] * ax + ny[p] * ay + nz[p] * az, part = fading(r2, nearest) * spread / r2;
            float mean = in + part * (in * ((k + 1.0f) * (r2 - out * out) / r2 - 2.0f) - facing * out);
            share[p] = in > 0.0f ? out * positive(mean) / ((float)PI * r2 * r2) : 0.0f;
            arriving[p] = in;
            squared[p] = r2;
        }
    } else {
        const float scale = (m + 1.0f) / (float)(2.0 * PI);
        for (int64_t p = 0; p < n; p++) {
            float dx = px[p] - ex, dy = py[p] - ey, dz = pz[p] - ez;
            float r2 = dx * dx + dy * dy + dz * dz;
            r2 = r2 > least ? r2 : least;
            float out = positive(dx * ax + dy * ay + dz * az), in = positive(-(dx * nx[p] + dy * ny[p] + dz * nz[p]));
            float far = __builtin_sqrtf(r2), cosine = out / far;
            float beam = exp2_of(m * log2_of(cosine > 1e-30f ? cosine : 1e-30f));
            float facing = nx[p] * ax + ny[p] * ay + nz[p] * az, part = fading(r2, nearest) * spread / r2;
            float mean = in + part * (in * ((k + 1.0f) * (r2 - out * out) / r2 - 2.0f) - facing * out);
            share[p] = out > 0.0f && in > 0.0f ? scale * beam * positive(mean) / (r2 * far) : 0.0f;
            arriving[p] = in;
            squared[p] = r2;
        }
    }
}

#define LEAST_EXPONENT -60.0f /* of two: less is not seen beside what the brightest place has */

/* What a sheet makes of light by its angle: a table over the squared sine, and the emitter itself, as wide as it is seen. */
typedef struct {
    const float *by_squared_sine; /* NULL: not weighed */
    int64_t steps;
    double regular, emitter_variance;
    int64_t window; /* 0: all light; 1: that of near emitters; 2: that of far ones */
    double window_first, window_scale;
} Weighing;

static void windowed(const Weighing *how, int64_t n, const float *restrict squared, float *restrict share) {
    const float first = (float)how->window_first, scale = (float)how->window_scale;
    const int far = how->window == 2;
    for (int64_t p = 0; p < n; p++) {
        float x = (squared[p] - first) * scale;
        x = x < 0.0f ? 0.0f : (x > 1.0f ? 1.0f : x);
        float near = 1.0f - x * x * x * (10.0f - x * (15.0f - 6.0f * x));
        share[p] *= far ? 1.0f - near : near;
    }
}

static void weighed(const Weighing *how, int64_t n, const float *restrict share, const float *restrict arriving,
                    const float *restrict squared, float *restrict result) {
    const float *restrict table = how->by_squared_sine;
    const float steps = (float)how->steps, variance = (float)how->emitter_variance, regular = (float)how->regular;
    for (int64_t p = 0; p < n; p++) {
        float sine2 = positive(1.0f - arriving[p] * arriving[p] / squared[p]);
        result[p] = share[p] * table[(int32_t)(sine2 * steps)];
    }
    if (!(regular > 0.0f)) return;
    const float rate = -0.5f * 1.44269504089f / variance;
    float most = -1e30f; /* exponent: an emitter that is seen from aside only gives nothing straight on */
    for (int64_t p = 0; p < n; p++) {
        const float exponent = rate * (squared[p] - arriving[p] * arriving[p]);
        most = exponent > most ? exponent : most;
    }
    if (most < LEAST_EXPONENT) return;
    for (int64_t p = 0; p < n; p++)
        result[p] += share[p] * regular * squared[p] / ((float)(2.0 * PI) * variance) *
                     exp2_of(rate * (squared[p] - arriving[p] * arriving[p]));
}

/* Direct illuminance at places (n, 3) with normals, plain and, where it is asked for, weighed: (n, columns) each, added to. */
EXPORT void direct_light(int64_t n, const double *points, const double *normals, const Emitters *lamps, const Weighing *how,
                         double *plain, double *seen) {
    const int64_t k = lamps->columns;
    for (int64_t first = 0; first < n; first += BLOCK) {
        const int64_t count = n - first < BLOCK ? n - first : BLOCK;
        double middle[3] = {0, 0, 0};
        for (int64_t p = 0; p < count; p++)
            for (int a = 0; a < 3; a++) middle[a] += points[3 * (first + p) + a] / (double)count;
        float at[3][BLOCK], normal[3][BLOCK], share[BLOCK], arriving[BLOCK], squared[BLOCK], result[BLOCK];
        Block block;
        Seen here;
        if (lamps->mitres) here = seen_places(lamps->mitres, &block, count, (int32_t)lamps->looked_from, points + 3 * first);
        const float *const places[3] = {at[0], at[1], at[2]}, *const facing[3] = {normal[0], normal[1], normal[2]};
        for (int64_t p = 0; p < count; p++)
            for (int a = 0; a < 3; a++) {
                at[a][p] = (float)(points[3 * (first + p) + a] - middle[a]);
                normal[a][p] = (float)normals[3 * (first + p) + a];
            }
        for (int64_t chunk = 0; chunk < lamps->count; chunk += CHUNK) {
            const int64_t last = chunk + CHUNK < lamps->count ? chunk + CHUNK : lamps->count;
            float sum[MOST_COLUMNS][BLOCK] = {{0}}, sum_seen[MOST_COLUMNS][BLOCK] = {{0}};
            for (int64_t e = chunk; e < last; e++) {
                shares(lamps, e, count, places, facing, middle, share, arriving, squared);
                if (how->window) windowed(how, count, squared, share);
                if (lamps->mitres)
                    past_mitres(lamps->mitres, &here, 0, count, lamps->leg[e], lamps->places + 3 * e, (float)lamps->size, share);
                if (seen) weighed(how, count, share, arriving, squared, result);
                for (int64_t c = 0; c < k; c++) {
                    const float flux = (float)lamps->flux[k * e + c];
                    if (flux == 0.0f) continue;
                    for (int64_t p = 0; p < count; p++) sum[c][p] += share[p] * flux;
                    if (seen)
                        for (int64_t p = 0; p < count; p++) sum_seen[c][p] += result[p] * flux;
                }
            }
            for (int64_t p = 0; p < count; p++)
                for (int64_t c = 0; c < k; c++) {
                    plain[(first + p) * k + c] += (double)sum[c][p];
                    if (seen) seen[(first + p) * k + c] += (double)sum_seen[c][p];
                }
        }
    }
}
