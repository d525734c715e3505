/* The innermost loops of the light: sums over pairs of places, patches and emitters.
 *
 * Everything here has its formulas and sources in the Python modules that call it (through __init__.py); this file only makes
 * them fast. Arrays are contiguous. No function keeps anything, allocates anything or calls a library: all are safe in threads.
 * Loops over a block of places or patches are written so that the compiler makes vectors of them.
 */

#include <stdint.h>

#define EXPORT __attribute__((visibility("default")))
#define BLOCK 256          /* places or patches at a time: their numbers stay in the first-level cache */
#define CHUNK 64           /* emitters whose light is summed in single precision before it is added in double */
#define MOST_COLUMNS 3     /* of flux: three colours, or X, Y and Z */
#define GAMMAS 181         /* rows and columns of a measured distribution: every degree of gamma, every 5 of C */
#define PLANES 73
#define PI 3.14159265358979323846

/* ---- elementary functions, for vectors: good to 1e-7 of their value ---- */

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

/* ---- emitters ---- */

typedef struct {
    int64_t count, columns;
    const double *places, *axes, *power, *flux; /* (n, 3), (n, 3), (n,), (n, columns) */
    const int32_t *table;                       /* which measured distribution, -1 for cos^m */
    const double *right, *up;                   /* (n, 3): towards C = 0 and C = 90 */
    const float *tables;                        /* (tables, GAMMAS, PLANES), intensity per lumen */
    double least_distance2;
    double size;                                /* side of their emitting squares */
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
    if (regular > 0.0f)
        for (int64_t p = 0; p < n; p++) {
            float sine2 = 1.0f - arriving[p] * arriving[p] / squared[p], own = variance / squared[p];
            result[p] += share[p] * regular / ((float)(2.0 * PI) * own) * exp2_of(sine2 / (-2.0f * own) * 1.44269504089f);
        }
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

/* ---- patches ---- */

typedef struct {
    int64_t count;
    const double *corners, *centres, *normals, *areas, *widths; /* (n, 4, 3), (n, 3), (n, 3), (n,), (n,) */
    const int32_t *surface;
    const uint8_t *curved;
    const int32_t *piece;
    const double *low, *size;    /* (n, 2): where on its piece a patch lies, in s and t */
    const int32_t *kind;         /* of each piece: 0 flat, 1 round, 2 of a sphere */
    const double *numbers;       /* of each piece: 18 */
} Patches;

#define NUMBERS 18

static inline void turn_of(double angle, double *cosine, double *sine) { /* by halving: a piece turns once or twice at most */
    double h = angle / 16.0, h2 = h * h;
    double s = h * (1 - h2 / 6 * (1 - h2 / 20 * (1 - h2 / 42 * (1 - h2 / 72 * (1 - h2 / 110)))));
    double c = 1 - h2 / 2 * (1 - h2 / 12 * (1 - h2 / 30 * (1 - h2 / 56 * (1 - h2 / 90 * (1 - h2 / 132)))));
    for (int i = 0; i < 4; i++) {
        double twice = 2 * s * c;
        c = c * c - s * s;
        s = twice;
    }
    *cosine = c;
    *sine = s;
}

/* Place, normal and area per unit of s and t of a piece at (s, t). Its numbers are told in pieces.py. */
static void of_piece(int32_t kind, const double *g, double s, double t, double place[3], double normal[3], double *density) {
    double cosine, sine, cosine2, sine2;
    switch (kind) {
    case 0: /* base, along, up, twist, normal; area at the first corner, more of it along and up */
        for (int a = 0; a < 3; a++) {
            place[a] = g[a] + s * g[3 + a] + t * (g[6 + a] + s * g[9 + a]);
            normal[a] = g[12 + a];
        }
        *density = g[15] + s * g[16] + t * g[17];
        return;
    case 1: { /* base, e1, e2; radius, wider, height, higher, angle, turn; outwards, upwards, span */
        turn_of(g[13] + t * g[14], &cosine, &sine);
        const double radius = g[9] + s * g[10], height = g[11] + s * g[12];
        const double axis[3] = {g[4] * g[8] - g[5] * g[7], g[5] * g[6] - g[3] * g[8], g[3] * g[7] - g[4] * g[6]};
        for (int a = 0; a < 3; a++) {
            const double out = cosine * g[3 + a] + sine * g[6 + a];
            place[a] = g[a] + height * axis[a] + radius * out;
            normal[a] = g[15] * out + g[16] * axis[a];
        }
        *density = g[17] * radius;
        return;
    }
    default: /* centre, radius, polar, lower, azimuth, turn, |lower turn| radius^2 */
        turn_of(g[4] + s * g[5], &cosine, &sine);
        turn_of(g[6] + t * g[7], &cosine2, &sine2);
        normal[0] = -sine * cosine2;
        normal[1] = -sine * sine2;
        normal[2] = -cosine;
        for (int a = 0; a < 3; a++) place[a] = g[a] - g[3] * normal[a];
        *density = g[8] * sine;
        return;
    }
}

/* The same for many places: which piece each is of, s and t; places and normals (n, 3), densities (n,). */
EXPORT void on_pieces(int64_t n, const int32_t *kind, const double *numbers, const int32_t *which, const double *s, const double *t,
                      double *places, double *normals, double *density) {
    for (int64_t i = 0; i < n; i++)
        of_piece(kind[which[i]], numbers + (int64_t)NUMBERS * which[i], s[i], t[i], places + 3 * i, normals + 3 * i, density + i);
}

/* Illuminance per lumen of one emitter at one place, and the squared distance. */
static double share_at(const Emitters *lamps, int64_t e, const double place[3], const double normal[3], double *squared) {
    const double *where = lamps->places + 3 * e, *axis = lamps->axes + 3 * e;
    double away[3], r2 = 0, out = 0, in = 0, facing = 0;
    for (int a = 0; a < 3; a++) {
        away[a] = place[a] - where[a];
        r2 += away[a] * away[a];
        out += away[a] * axis[a];
        in -= away[a] * normal[a];
        facing += normal[a] * axis[a];
    }
    r2 = r2 > lamps->least_distance2 ? r2 : lamps->least_distance2;
    *squared = r2;
    if (in <= 0) return 0;
    const double far = __builtin_sqrt(r2);
    if (lamps->table[e] >= 0) {
        double x = 0, y = 0;
        for (int a = 0; a < 3; a++) {
            x += away[a] * lamps->right[3 * e + a];
            y += away[a] * lamps->up[3 * e + a];
        }
        const float *table = lamps->tables + (int64_t)lamps->table[e] * GAMMAS * PLANES;
        return (double)read_table(table, (float)out, (float)__builtin_sqrt(x * x + y * y), (float)x, (float)y) * in / (r2 * far);
    }
    if (out <= 0) return 0;
    const double m = lamps->power[e], k = (m + 3) / 2, side2 = lamps->size * lamps->size;
    const double spread = (double)fading((float)r2, NEAREST * (float)(k * side2)) * side2 * k / (6 * r2);
    const double some = in + spread * (in * ((k + 1) * (r2 - out * out) / r2 - 2) - facing * out);
    const double mean = some > 0 ? some : 0;
    if (m == 1.0) return out * mean / (PI * r2 * r2);
    return (m + 1) / (2 * PI) * (double)exp2_of((float)m * log2_of((float)(out / far))) * mean / (r2 * far);
}

/* Flux per lumen on a patch that is near: the patch is divided in four until its parts are small beside their distance. */
static double near_share(const Patches *mesh, const Emitters *lamps, int64_t e, int64_t patch, int64_t divisions) {
    struct { double s, t, size; int64_t level; } waiting[4 * 16];
    int64_t left = 1;
    double total = 0;
    waiting[0].s = waiting[0].t = 0;
    waiting[0].size = 1;
    waiting[0].level = 1;
    while (left) {
        const double s = waiting[left - 1].s, t = waiting[left - 1].t, size = waiting[left - 1].size;
        const int64_t level = waiting[left - 1].level;
        left--;
        double place[3], normal[3], density, squared;
        const double *low = mesh->low + 2 * patch, *whole = mesh->size + 2 * patch;
        const int32_t piece = mesh->piece[patch];
        of_piece(mesh->kind[piece], mesh->numbers + (int64_t)NUMBERS * piece, low[0] + whole[0] * (s + size / 2),
                 low[1] + whole[1] * (t + size / 2), place, normal, &density);
        const double value = share_at(lamps, e, place, normal, &squared), width = mesh->widths[patch] * size;
        if (level >= divisions || width * width <= 0.25 * squared) {
            total += value * density * whole[0] * whole[1] * size * size;
            continue;
        }
        for (int quarter = 0; quarter < 4; quarter++, left++) {
            waiting[left].s = s + (quarter & 1) * size / 2;
            waiting[left].t = t + (quarter >> 1) * size / 2;
            waiting[left].size = size / 2;
            waiting[left].level = level + 1;
        }
    }
    return total;
}

/* Flux of emitters [first, last) on all patches, each corrected to what it emits: added to total (patches, columns).
 *
 * ``own`` (patches,) is for this function's own use. Returns the largest share by which a sum was off. */
EXPORT double direct_flux(const Patches *mesh, const Emitters *lamps, int64_t first, int64_t last, double near,
                          int64_t divisions, double *own, double *total) {
    const int64_t n = mesh->count, k = lamps->columns;
    double missed = 0;
    for (int64_t e = first; e < last; e++) {
        double sum = 0;
        for (int64_t start = 0; start < n; start += BLOCK) {
            const int64_t count = n - start < BLOCK ? n - start : BLOCK;
            const double *middle = mesh->centres + 3 * start;
            float at[3][BLOCK], normal[3][BLOCK], share[BLOCK], arriving[BLOCK], squared[BLOCK];
            const float *const places[3] = {at[0], at[1], at[2]}, *const facing[3] = {normal[0], normal[1], normal[2]};
            for (int64_t p = 0; p < count; p++)
                for (int a = 0; a < 3; a++) {
                    at[a][p] = (float)(mesh->centres[3 * (start + p) + a] - middle[a]);
                    normal[a][p] = (float)mesh->normals[3 * (start + p) + a];
                }
            shares(lamps, e, count, places, facing, middle, share, arriving, squared);
            for (int64_t p = 0; p < count; p++) {
                const double reach = near * mesh->widths[start + p];
                own[start + p] = (double)squared[p] < reach * reach ? near_share(mesh, lamps, e, start + p, divisions)
                                                                    : (double)share[p] * mesh->areas[start + p];
                sum += own[start + p];
            }
        }
        const double off = sum > 1 ? sum - 1 : 1 - sum, scale = 1 / (sum > 1e-6 ? sum : 1e-6);
        missed = off > missed ? off : missed;
        for (int64_t c = 0; c < k; c++) {
            const double flux = lamps->flux[k * e + c] * scale;
            if (flux != 0)
                for (int64_t p = 0; p < n; p++) total[p * k + c] += own[p] * flux;
        }
    }
    return missed;
}

/* ---- form factors ---- */

typedef struct {
    int64_t points;               /* of each patch; 0 where no patch is round */
    const float *places, *facing; /* (patches, 3, points), places from the middle */
} Split;

/* Lambert's formula for quadrilaterals wholly in front of a place: those of a block that are named. */
static void polygons(int64_t n, const int32_t *restrict which, const float (*corner)[BLOCK], const float point[3],
                     const float normal[3], float *restrict share) {
    const float px = point[0], py = point[1], pz = point[2], nx = normal[0], ny = normal[1], nz = normal[2];
    float x[4][BLOCK], y[4][BLOCK], z[4][BLOCK];
    for (int k = 0; k < 4; k++)
        for (int64_t q = 0; q < n; q++) {
            const float dx = corner[3 * k][which[q]] - px, dy = corner[3 * k + 1][which[q]] - py, dz = corner[3 * k + 2][which[q]] - pz;
            const float r2 = dx * dx + dy * dy + dz * dz, scale = 1.0f / __builtin_sqrtf(r2 > 1e-20f ? r2 : 1e-20f);
            x[k][q] = dx * scale;
            y[k][q] = dy * scale;
            z[k][q] = dz * scale;
        }
    for (int64_t q = 0; q < n; q++) share[q] = 0.0f;
    for (int k = 0; k < 4; k++) {
        const int l = (k + 3) % 4;
        for (int64_t q = 0; q < n; q++) {
            const float cx = y[k][q] * z[l][q] - z[k][q] * y[l][q], cy = z[k][q] * x[l][q] - x[k][q] * z[l][q],
                        cz = x[k][q] * y[l][q] - y[k][q] * x[l][q];
            const float sine = __builtin_sqrtf(cx * cx + cy * cy + cz * cz);
            const float cosine = x[k][q] * x[l][q] + y[k][q] * y[l][q] + z[k][q] * z[l][q];
            const float angle = atan2_of(sine, cosine);
            share[q] += (sine > 1e-6f ? angle / sine : 1.0f) * (cx * nx + cy * ny + cz * nz);
        }
    }
    for (int64_t q = 0; q < n; q++) share[q] = (share[q] < 0.0f ? -share[q] : share[q]) * (float)(0.5 / PI);
}

/* Mean of cos cos' / (pi r^2) over some points of a patch of the round piece on which a place lies. */
static float round_share(const float point[3], const float normal[3], const Split *split, int64_t patch) {
    const int64_t n = split->points;
    const float *restrict places = split->places + 3 * n * patch, *restrict facing = split->facing + 3 * n * patch;
    float total = 0.0f;
    for (int64_t q = 0; q < n; q++) {
        const float dx = places[q] - point[0], dy = places[n + q] - point[1], dz = places[2 * n + q] - point[2];
        float r2 = dx * dx + dy * dy + dz * dz;
        r2 = r2 > 1e-9f ? r2 : 1e-9f;
        const float out = positive(dx * normal[0] + dy * normal[1] + dz * normal[2]);
        const float in = positive(-(dx * facing[q] + dy * facing[n + q] + dz * facing[2 * n + q]));
        total += out * in / (r2 * r2);
    }
    return total / ((float)PI * (float)n);
}

/* Factors from places (n, 3) to all patches, float (n, patches), rows summing to 1.
 *
 * Far patches count as points, near ones as polygons; near ones of the place's own round piece as the points of ``beside``,
 * where they are nearer than ``beside_widths`` of their widths, or of ``around``. */
EXPORT void form_factors(int64_t n, const double *points, const double *normals, const int32_t *surface, const Patches *mesh,
                         const double *middle, double near_widths, double beside_widths, const Split *beside, const Split *around,
                         float *factors) {
    const int64_t m = mesh->count;
    for (int64_t start = 0; start < m; start += BLOCK) {
        const int64_t count = m - start < BLOCK ? m - start : BLOCK;
        float cx[BLOCK], cy[BLOCK], cz[BLOCK], ux[BLOCK], uy[BLOCK], uz[BLOCK], reach2[BLOCK], beside2[BLOCK], corner[12][BLOCK];
        int32_t own[BLOCK];
        for (int64_t j = 0; j < count; j++) {
            const int64_t patch = start + j;
            const double scale = mesh->areas[patch] / PI, reach = near_widths * mesh->widths[patch],
                         close = beside_widths * mesh->widths[patch];
            cx[j] = (float)(mesh->centres[3 * patch] - middle[0]);
            cy[j] = (float)(mesh->centres[3 * patch + 1] - middle[1]);
            cz[j] = (float)(mesh->centres[3 * patch + 2] - middle[2]);
            ux[j] = (float)(mesh->normals[3 * patch] * scale);
            uy[j] = (float)(mesh->normals[3 * patch + 1] * scale);
            uz[j] = (float)(mesh->normals[3 * patch + 2] * scale);
            for (int k = 0; k < 12; k++) corner[k][j] = (float)(mesh->corners[12 * patch + k] - middle[k % 3]);
            reach2[j] = (float)(reach * reach);
            beside2[j] = (float)(close * close);
            own[j] = mesh->surface[patch];
        }
        for (int64_t i = 0; i < n; i++) {
            const float point[3] = {(float)(points[3 * i] - middle[0]), (float)(points[3 * i + 1] - middle[1]),
                                    (float)(points[3 * i + 2] - middle[2])};
            const float normal[3] = {(float)normals[3 * i], (float)normals[3 * i + 1], (float)normals[3 * i + 2]};
            const float px = point[0], py = point[1], pz = point[2], nx = normal[0], ny = normal[1], nz = normal[2];
            float *restrict row = factors + i * m + start;
            float squared[BLOCK];
            int32_t special[BLOCK];
            const int32_t here = surface[i];
            int32_t any = 0;
            for (int64_t j = 0; j < count; j++) {
                const float dx = cx[j] - px, dy = cy[j] - py, dz = cz[j] - pz;
                float r2 = dx * dx + dy * dy + dz * dz;
                r2 = r2 > 1e-6f ? r2 : 1e-6f;
                const float out = positive(dx * nx + dy * ny + dz * nz), in = positive(-(dx * ux[j] + dy * uy[j] + dz * uz[j]));
                row[j] = out * in / (r2 * r2);
                squared[j] = r2;
                special[j] = (r2 < reach2[j]) | (own[j] == here);
                any |= special[j];
            }
            if (!any) continue;
            int32_t near[BLOCK];
            float share[BLOCK];
            int64_t found = 0;
            for (int64_t j = 0; j < count; j++) {
                if (!special[j]) continue;
                if (own[j] != here)
                    near[found++] = (int32_t)j;
                else if (!mesh->curved[start + j])
                    row[j] = 0.0f;
                else if (squared[j] < reach2[j])
                    row[j] = (float)mesh->areas[start + j] *
                             round_share(point, normal, squared[j] < beside2[j] ? beside : around, start + j);
            }
            polygons(found, near, corner, point, normal, share);
            for (int64_t q = 0; q < found; q++) row[near[q]] = share[q];
        }
    }
    for (int64_t i = 0; i < n; i++) {
        float *restrict row = factors + i * m;
        double total = 0;
        for (int64_t j = 0; j < m; j++) total += (double)row[j];
        const float scale = (float)(1.0 / total);
        for (int64_t j = 0; j < m; j++) row[j] *= scale;
    }
}

/* ---- lobes ---- */

/* Light that leaves parts of a face in a lobe of width sigma, towards n places: the sum over beams, added to total (n, parts).
 *
 * heading (n, parts, 3), outward (parts, 3), beams (parts, groups, 3), upright and weight (parts, groups). */
EXPORT void lobes(int64_t n, int64_t parts, int64_t groups, const float *heading, const float *outward, const float *beams,
                  const float *upright, const float *weight, double sigma, double *total) {
    const float rate = (float)(-0.5 / (sigma * sigma) * 1.4426950408889634);
    for (int64_t p = 0; p < parts; p++) {
        const float *o = outward + 3 * p;
        for (int64_t start = 0; start < groups; start += BLOCK) {
            const int64_t count = groups - start < BLOCK ? groups - start : BLOCK;
            float bx[BLOCK], by[BLOCK], bz[BLOCK];
            const float *restrict up = upright + groups * p + start, *restrict strength = weight + groups * p + start;
            for (int64_t g = 0; g < count; g++) {
                const float *beam = beams + 3 * (groups * p + start + g);
                bx[g] = beam[0];
                by[g] = beam[1];
                bz[g] = beam[2];
            }
            for (int64_t i = 0; i < n; i++) {
                const float *h = heading + 3 * (parts * i + p);
                const float hx = h[0], hy = h[1], hz = h[2], along = hx * o[0] + hy * o[1] + hz * o[2];
                float sum = 0.0f;
                for (int64_t g = 0; g < count; g++) {
                    const float x = hx - bx[g], y = hy - by[g], z = hz - bz[g], out = along - up[g];
                    sum += strength[g] * exp2_of(rate * positive(x * x + y * y + z * z - out * out));
                }
                total[parts * i + p] += (double)sum;
            }
        }
    }
}

/* ---- distances ---- */

/* Squared distance of points (n, 3) from the nearest of m places. */
EXPORT void nearest2(int64_t n, const double *points, int64_t m, const double *places, double *squared) {
    for (int64_t first = 0; first < n; first += BLOCK) {
        const int64_t count = n - first < BLOCK ? n - first : BLOCK;
        const double *middle = points + 3 * first;
        float x[BLOCK], y[BLOCK], z[BLOCK], least[BLOCK];
        for (int64_t p = 0; p < count; p++) {
            x[p] = (float)(points[3 * (first + p)] - middle[0]);
            y[p] = (float)(points[3 * (first + p) + 1] - middle[1]);
            z[p] = (float)(points[3 * (first + p) + 2] - middle[2]);
            least[p] = 1e30f;
        }
        for (int64_t i = 0; i < m; i++) {
            const float px = (float)(places[3 * i] - middle[0]), py = (float)(places[3 * i + 1] - middle[1]),
                        pz = (float)(places[3 * i + 2] - middle[2]);
            for (int64_t p = 0; p < count; p++) {
                const float dx = x[p] - px, dy = y[p] - py, dz = z[p] - pz, r2 = dx * dx + dy * dy + dz * dz;
                least[p] = r2 < least[p] ? r2 : least[p];
            }
        }
        for (int64_t p = 0; p < count; p++) squared[first + p] = (double)least[p];
    }
}

/* ---- cells between partitions ---- */

typedef struct {
    double pitch_x, pitch_y; /* of the lines on which partitions stand */
    double half;             /* of their thickness, and their lower and upper edge, each less what a line of sight may graze */
    double floor, top;
} Partitions;

/* Whether partitions square to one axis stand in a line's way: its heights while it crosses one must stay above or below it. */
static int crossed(float a, float b, float z_a, float z_b, float pitch, float half, float floor, float top) {
    if ((z_a <= floor && z_b <= floor) || (z_a >= top && z_b >= top)) return 0;
    const int forward = b >= a;
    const float low = forward ? a : b, high = forward ? b : a, z_low = forward ? z_a : z_b, z_high = forward ? z_b : z_a;
    float near = pitch * (__builtin_floorf((low - half) / pitch) + 1.0f) - low; /* the first that ends beyond the lower end */
    if (near - half >= high - low) return 0;
    const float span = high - low > 1e-4f ? high - low : 1e-4f, slope = (z_high - z_low) / span;
    for (; near - half < span; near += pitch) {
        const float enters = near - half > 0.0f ? near - half : 0.0f, leaves = near + half < span ? near + half : span;
        const float one = z_low + slope * enters, other = z_low + slope * leaves;
        if ((one > other ? one : other) > floor && (one < other ? one : other) < top) return 1;
    }
    return 0;
}

static int blocked(const Partitions *walls, const double start[3], const double end[3]) {
    const float half = (float)walls->half, floor = (float)walls->floor, top = (float)walls->top;
    const float z_a = (float)start[2], z_b = (float)end[2];
    return crossed((float)start[0], (float)end[0], z_a, z_b, (float)walls->pitch_x, half, floor, top) ||
           crossed((float)start[1], (float)end[1], z_a, z_b, (float)walls->pitch_y, half, floor, top);
}

/* How much of an emitter's light on a place gets past the partitions, over all of it: by the corners of its square, and where these
 * differ by the light of many places on it. */
#define MANY 6

static double share_past(const Partitions *walls, const Emitters *lamps, const double place[3], const double normal[3]) {
    int hidden = 0;
    for (int corner = 0; corner < 4; corner++) {
        double start[3];
        for (int a = 0; a < 3; a++)
            start[a] = lamps->places[a] + lamps->size * ((corner & 1) - 0.5) * lamps->right[a] +
                       lamps->size * ((corner >> 1) - 0.5) * lamps->up[a];
        hidden += blocked(walls, start, place);
    }
    if (hidden == 0 || hidden == 4) return hidden ? 0.0 : 1.0;
    double start[3], squared, open = 0, whole = 0;
    Emitters part = *lamps;
    part.places = start;
    part.size = 0;
    for (int i = 0; i < MANY; i++)
        for (int j = 0; j < MANY; j++) {
            const double x = (i + 0.5) / MANY - 0.5, y = (j + 0.5) / MANY - 0.5;
            for (int a = 0; a < 3; a++) start[a] = lamps->places[a] + lamps->size * (x * lamps->right[a] + y * lamps->up[a]);
            const double light = share_at(&part, 0, place, normal, &squared);
            whole += light;
            open += blocked(walls, start, place) ? 0 : light;
        }
    return whole > 0 ? open / whole : 0;
}

/* Illuminance per lumen of the first of some emitters at places, (n,): weighed where that is asked for, nothing behind partitions. */
EXPORT void past_partitions(int64_t n, const double *points, const double *normals, const Emitters *lamps, const Weighing *how,
                            const Partitions *walls, double *result) {
    for (int64_t first = 0; first < n; first += BLOCK) {
        const int64_t count = n - first < BLOCK ? n - first : BLOCK;
        const double *middle = points + 3 * first;
        float at[3][BLOCK], normal[3][BLOCK], share[BLOCK], arriving[BLOCK], squared[BLOCK], seen[BLOCK];
        const float *const places[3] = {at[0], at[1], at[2]}, *const facing[3] = {normal[0], normal[1], normal[2]};
        for (int64_t p = 0; p < count; p++)
            for (int a = 0; a < 3; a++) {
                at[a][p] = (float)(points[3 * (first + p) + a] - middle[a]);
                normal[a][p] = (float)normals[3 * (first + p) + a];
            }
        shares(lamps, 0, count, places, facing, middle, share, arriving, squared);
        if (how->by_squared_sine)
            weighed(how, count, share, arriving, squared, seen);
        else
            for (int64_t p = 0; p < count; p++) seen[p] = share[p];
        for (int64_t p = 0; p < count; p++)
            result[first + p] = share[p] > 0.0f ? (double)seen[p] * share_past(walls, lamps, points + 3 * (first + p), normals + 3 * (first + p)) : 0.0;
    }
}

/* Factors from places (n, 3) of one cell to the patches of another, float (n, patches): as seen past the partitions.
 *
 * quarters (patches, 4, 3) are the middles of each patch's quarters, parts (patches, 4) their shares of its area; those of which
 * looked (4,) is set are sought. A patch that is seen in part is looked at in closely x closely places. */
EXPORT void cell_factors(int64_t n, const double *points, const double *normals, const Patches *mesh, const double *quarters,
                         const double *parts, const uint8_t *looked, const double *shift, const Partitions *walls,
                         double near_widths, double grazing, int64_t closely, float *factors) {
    for (int64_t i = 0; i < n; i++)
        for (int64_t j = 0; j < mesh->count; j++) {
            const double *p = points + 3 * i, *normal = normals + 3 * i, *facing = mesh->normals + 3 * j;
            double here = 0, there = 0, r2 = 0;
            for (int a = 0; a < 3; a++) {
                const double away = mesh->centres[3 * j + a] + shift[a] - p[a];
                here += away * normal[a];
                there -= away * facing[a];
                r2 += away * away;
            }
            float *factor = factors + i * mesh->count + j;
            *factor = 0.0f;
            if (here <= grazing || there <= grazing) continue;
            double seen = 0, whole = 0;
            int hidden = 0, open = 0;
            for (int q = 0; q < 4; q++) {
                if (!looked[q]) continue;
                const double *quarter = quarters + 3 * (4 * j + q), part = parts[4 * j + q];
                const double end[3] = {quarter[0] + shift[0], quarter[1] + shift[1], quarter[2] + shift[2]};
                const int behind = blocked(walls, p, end);
                hidden += behind;
                open += !behind;
                seen += behind ? 0 : part;
                whole += part;
            }
            if (!open) continue;
            seen /= whole;
            double corners[12];
            for (int k = 0; k < 12; k++) corners[k] = mesh->corners[12 * j + k] + shift[k % 3];
            if (hidden) {
                int64_t free = 0;
                for (int64_t u = 0; u < closely; u++)
                    for (int64_t v = 0; v < closely; v++) {
                        const double s = ((double)u + 0.5) / (double)closely, t = ((double)v + 0.5) / (double)closely;
                        double end[3];
                        for (int a = 0; a < 3; a++)
                            end[a] = (1 - s) * (1 - t) * corners[a] + s * (1 - t) * corners[3 + a] + s * t * corners[6 + a] +
                                     (1 - s) * t * corners[9 + a];
                        free += !blocked(walls, p, end);
                    }
                seen = (double)free / (double)(closely * closely);
            }
            r2 = r2 > 1e-9 ? r2 : 1e-9;
            double value = here * there * mesh->areas[j] / (PI * r2 * r2);
            const double reach = near_widths * mesh->widths[j];
            if (r2 < reach * reach) {
                float corner[12][BLOCK], share[1];
                const int32_t first[1] = {0};
                for (int k = 0; k < 12; k++) corner[k][0] = (float)(corners[k] - p[k % 3]);
                const float origin[3] = {0, 0, 0}, up[3] = {(float)normal[0], (float)normal[1], (float)normal[2]};
                polygons(1, first, corner, origin, up, share);
                value = (double)share[0];
            }
            *factor = (float)(value * seen);
        }
}
