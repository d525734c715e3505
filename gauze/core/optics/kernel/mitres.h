/* What of a patch or a square is seen round a mitre. A part of kernel.c.
 *
 * The legs of a frame are convex and stand in a row; between two that follow each other lies the plane of a mitre, with the opening
 * that both have in common. A line from one leg to another stays inside when it passes every opening between them. How far the
 * place where it meets the plane lies inside a wall of the earlier leg is linear along the line: with f the distances of the ends
 * from the mitre and g those from the wall, it is g_a + t (g_b - g_a), t = f_a / (f_a - f_b). */

#define MOST_MITRES 2
#define MOST_WALLS 16
#define SHARPEST 1e-4f /* mm: an edge of a shadow is at least so wide */

typedef struct {
    int64_t mitres, walls;
    const double *mitre; /* (mitres, 4): normal and offset, f = n . x - d; negative in the earlier leg */
    const double *wall;  /* (mitres, walls, 4): g = d - n . x; positive inside of the earlier leg's wall */
} Mitres;

/* Distances of a place from all mitres and walls, and how fast these change along a way (NULL: the place itself). */
static inline void from_mitres(const Mitres *all, const double *place, const double *way, float *f, float *g) {
    for (int64_t m = 0; m < all->mitres; m++) {
        const double *n = all->mitre + 4 * m, *of = way ? way : place;
        f[m] = (float)(n[0] * of[0] + n[1] * of[1] + n[2] * of[2] - (way ? 0 : n[3]));
        for (int64_t w = 0; w < all->walls; w++) {
            const double *v = all->wall + 4 * (all->walls * m + w);
            g[MOST_WALLS * m + w] = (float)((way ? 0 : v[3]) - v[0] * of[0] - v[1] * of[1] - v[2] * of[2]);
        }
    }
}

/* A block of things that are looked at: of each the leg, and f, g and how these change over its two sides. */
typedef struct {
    int32_t leg[BLOCK];
    float f[MOST_MITRES][BLOCK], along[2][MOST_MITRES][BLOCK];
    float g[MOST_MITRES][MOST_WALLS][BLOCK], across[2][MOST_MITRES][MOST_WALLS][BLOCK];
    int32_t lowest, highest;
} Seen;

/* Fill one place of a block; sides are two vectors of length 3 each, NULL for what has no size. */
static void put(const Mitres *all, Seen *seen, int64_t j, int32_t leg, const double *place, const double *sides) {
    float f[MOST_MITRES], g[MOST_MITRES * MOST_WALLS];
    for (int part = 0; part < (sides ? 3 : 1); part++) {
        from_mitres(all, place, part ? sides + 3 * (part - 1) : 0, f, g);
        for (int64_t m = 0; m < all->mitres; m++) {
            (part ? seen->along[part - 1][m] : seen->f[m])[j] = f[m];
            for (int64_t w = 0; w < all->walls; w++)
                (part ? seen->across[part - 1][m][w] : seen->g[m][w])[j] = g[MOST_WALLS * m + w];
        }
    }
    if (!sides)
        for (int64_t m = 0; m < all->mitres; m++) {
            seen->along[0][m][j] = seen->along[1][m][j] = 0.0f;
            for (int64_t w = 0; w < all->walls; w++) seen->across[0][m][w][j] = seen->across[1][m][w][j] = 0.0f;
        }
    seen->leg[j] = leg;
    seen->lowest = j == 0 || leg < seen->lowest ? leg : seen->lowest;
    seen->highest = j == 0 || leg > seen->highest ? leg : seen->highest;
}

/* Multiply by the share of each thing of a block that is seen from a place in a leg, itself ``size`` wide; the edges of shadows are
 * as wide as both are seen through the mitre. */
static void past_mitres(const Mitres *all, const Seen *seen, int64_t n, int32_t here, const double place[3], float size,
                        float *restrict share) {
    if (seen->lowest == here && seen->highest == here) return;
    float f[MOST_MITRES], g[MOST_MITRES * MOST_WALLS];
    from_mitres(all, place, 0, f, g);
    for (int64_t m = 0; m < all->mitres; m++) {
        if ((here <= m && seen->highest <= m) || (here > m && seen->lowest > m)) continue;
        const float *restrict there = seen->f[m], *restrict u = seen->along[0][m], *restrict v = seen->along[1][m];
        const float fa = f[m];
        const int32_t *restrict leg = seen->leg;
        for (int64_t w = 0; w < all->walls; w++) {
            const float *restrict gb = seen->g[m][w], *restrict gu = seen->across[0][m][w], *restrict gv = seen->across[1][m][w];
            const float ga = g[MOST_WALLS * m + w];
            for (int64_t j = 0; j < n; j++) {
                const int across = (here <= m) != (leg[j] <= m);
                const float apart = fa - there[j], wide = apart < 0.0f ? -apart : apart;
                const float scale = 1.0f / (wide > SHARPEST ? apart : (apart < 0.0f ? -SHARPEST : SHARPEST));
                float t = fa * scale;
                t = t < 0.0f ? 0.0f : (t > 1.0f ? 1.0f : t);
                const float change = (gb[j] - ga) * scale, one = t * (gu[j] + change * u[j]), other = t * (gv[j] + change * v[j]),
                            own = (1.0f - t) * size;
                const float edge = __builtin_sqrtf(one * one + other * other + own * own) + SHARPEST;
                float inside = 0.5f + (ga + t * (gb[j] - ga)) / edge;
                inside = inside < 0.0f ? 0.0f : (inside > 1.0f ? 1.0f : inside);
                share[j] *= across ? inside : 1.0f;
            }
        }
    }
}
