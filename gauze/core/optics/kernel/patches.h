/* The patches of a surface, and the pieces that they lie on. A part of kernel.c. */

typedef struct {
    int64_t count;
    const double *corners, *centres, *normals, *areas, *widths; /* (n, 4, 3), (n, 3), (n, 3), (n,), (n,) */
    const int32_t *surface;
    const uint8_t *curved;
    const int32_t *piece;
    const double *low, *size;    /* (n, 2): where on its piece a patch lies, in s and t */
    const int32_t *kind;         /* of each piece: 0 flat, 1 round, 2 of a sphere */
    const double *numbers;       /* of each piece: 20 */
    const Mitres *mitres;        /* NULL: all see each other */
    Seen seen;                   /* as they are seen past these */
} Patches;

#define NUMBERS 20

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

/* An angle with its cosine and sine: places that follow each other often share it. */
typedef struct {
    double angle, cosine, sine;
} Turn;

#define NO_TURNS {{0, 1, 0}, {0, 1, 0}}

static inline void turn_to(double angle, Turn *turn) {
    if (angle == turn->angle) return;
    turn->angle = angle;
    turn_of(angle, &turn->cosine, &turn->sine);
}

/* Place, normal and area per unit of s and t of a piece at (s, t). Its numbers are told in pieces.py; `last` are the angles that were met
 * last. */
static void of_piece(int32_t kind, const double *g, double s, double t, Turn last[2], double place[3], double normal[3],
                     double *density) {
    switch (kind) {
    case 0: /* base, along, up, twist, normal; area at the first corner, more of it along and up */
        for (int a = 0; a < 3; a++) {
            place[a] = g[a] + s * g[3 + a] + t * (g[6 + a] + s * g[9 + a]);
            normal[a] = g[12 + a];
        }
        *density = g[15] + s * g[16] + t * g[17];
        return;
    case 1: { /* base, e1, e2; radius, wider, height, higher, angle, turn; outwards, upwards, span; slants of both ends */
        turn_to(g[13] + t * g[14], last);
        const double cosine = last->cosine, sine = last->sine;
        const double radius = g[9] + s * g[10], aside = radius * cosine, slant = g[18] + s * (g[19] - g[18]);
        const double height = g[11] + s * g[12] + slant * aside;
        const double axis[3] = {g[4] * g[8] - g[5] * g[7], g[5] * g[6] - g[3] * g[8], g[3] * g[7] - g[4] * g[6]};
        for (int a = 0; a < 3; a++) {
            const double out = cosine * g[3 + a] + sine * g[6 + a];
            place[a] = g[a] + height * axis[a] + radius * out;
            normal[a] = g[15] * out + g[16] * axis[a];
        }
        *density = g[17] * radius * (g[19] != g[18] ? 1 + (g[19] - g[18]) * aside / g[12] : 1);
        return;
    }
    default: /* centre, radius, polar, lower, azimuth, turn, |lower turn| radius^2 */
        turn_to(g[4] + s * g[5], last);
        turn_to(g[6] + t * g[7], last + 1);
        normal[0] = -last[0].sine * last[1].cosine;
        normal[1] = -last[0].sine * last[1].sine;
        normal[2] = -last[0].cosine;
        for (int a = 0; a < 3; a++) place[a] = g[a] - g[3] * normal[a];
        *density = g[8] * last[0].sine;
        return;
    }
}

/* The same for many places: which piece each is of, s and t; places and normals (n, 3), densities (n,). */
EXPORT void on_pieces(int64_t n, const int32_t *kind, const double *numbers, const int32_t *which, const double *s, const double *t,
                      double *places, double *normals, double *density) {
    Turn last[2] = NO_TURNS;
    for (int64_t i = 0; i < n; i++)
        of_piece(kind[which[i]], numbers + (int64_t)NUMBERS * which[i], s[i], t[i], last, places + 3 * i, normals + 3 * i,
                 density + i);
}

static double apart(const double a[3], const double b[3]) {
    const double x = a[0] - b[0], y = a[1] - b[1], z = a[2] - b[2];
    return __builtin_sqrt(x * x + y * y + z * z);
}

/* Patches of pieces: which piece each is of, its least s and t and its size there, (n, 2). Corners (n, 4, 3), centres of gravity and
 * normals there (n, 3), areas and longest diagonals (n,); by a rule of `nodes` shares (nodes, 2) with weights (nodes,). */
EXPORT void patches_of(int64_t n, const int32_t *kind, const double *numbers, const int32_t *which, const double *low,
                       const double *size, int64_t nodes, const double *shares, const double *weights, double *corners,
                       double *centres, double *normals, double *areas, double *widths) {
    Turn last[2] = NO_TURNS;
    for (int64_t i = 0; i < n; i++) {
        const int32_t own = kind[which[i]];
        const double *g = numbers + (int64_t)NUMBERS * which[i], *at = low + 2 * i, *whole = size + 2 * i;
        double place[3], normal[3], density, area = 0, s = 0, t = 0, *corner = corners + 12 * i;
        for (int k = 0; k < 4; k++) /* counter-clockwise */
            of_piece(own, g, at[0] + (k == 1 || k == 2 ? whole[0] : 0), at[1] + (k > 1 ? whole[1] : 0), last, corner + 3 * k, normal,
                     &density);
        for (int64_t k = 0; k < nodes; k++) {
            const double x = at[0] + whole[0] * shares[2 * k], y = at[1] + whole[1] * shares[2 * k + 1];
            of_piece(own, g, x, y, last, place, normal, &density);
            const double part = density * weights[k] * whole[0] * whole[1];
            area += part;
            s += part * x;
            t += part * y;
        }
        of_piece(own, g, s / area, t / area, last, centres + 3 * i, normals + 3 * i, &density);
        const double one = apart(corner, corner + 6), other = apart(corner + 3, corner + 9);
        areas[i] = area;
        widths[i] = one > other ? one : other;
    }
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
    Turn last[2] = NO_TURNS;
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
                 low[1] + whole[1] * (t + size / 2), last, place, normal, &density);
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
            float at[3][BLOCK], normal[3][BLOCK], share[BLOCK], arriving[BLOCK], squared[BLOCK], seen[BLOCK];
            const float *const places[3] = {at[0], at[1], at[2]}, *const facing[3] = {normal[0], normal[1], normal[2]};
            for (int64_t p = 0; p < count; p++) seen[p] = 1.0f;
            if (mesh->mitres)
                past_mitres(mesh->mitres, &mesh->seen, start, count, lamps->leg[e], lamps->places + 3 * e, (float)lamps->size, seen);
            for (int64_t p = 0; p < count; p++)
                for (int a = 0; a < 3; a++) {
                    at[a][p] = (float)(mesh->centres[3 * (start + p) + a] - middle[a]);
                    normal[a][p] = (float)mesh->normals[3 * (start + p) + a];
                }
            shares(lamps, e, count, places, facing, middle, share, arriving, squared);
            for (int64_t p = 0; p < count; p++) {
                const double reach = near * mesh->widths[start + p];
                if (seen[p] == 0.0f)
                    own[start + p] = 0;
                else
                    own[start + p] = (double)seen[p] * ((double)squared[p] < reach * reach
                                                            ? near_share(mesh, lamps, e, start + p, divisions)
                                                            : (double)share[p] * mesh->areas[start + p]);
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
