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

/* Distances of a place from all mitres and walls. */
static inline void from_mitres(const Mitres *all, const double *place, float *f, float *g) {
    for (int64_t m = 0; m < all->mitres; m++) {
        const double *n = all->mitre + 4 * m;
        f[m] = (float)(n[0] * place[0] + n[1] * place[1] + n[2] * place[2] - n[3]);
        for (int64_t w = 0; w < all->walls; w++) {
            const double *v = all->wall + 4 * (all->walls * m + w);
            g[all->walls * m + w] = (float)(v[3] - v[0] * place[0] - v[1] * place[1] - v[2] * place[2]);
        }
    }
}

/* Things that are looked at: of each the leg, and f, g and how these change over its two sides, in rows of so many. */
typedef struct {
    int64_t stride;
    const int32_t *leg;
    const float *f, *along;  /* (mitres, n), (2, mitres, n) */
    const float *g, *across; /* (mitres, walls, n), (2, mitres, walls, n) */
} Seen;

/* The same for a block of places of one leg, which have no size. */
typedef struct {
    int32_t leg[BLOCK];
    float f[MOST_MITRES * BLOCK], g[MOST_MITRES * MOST_WALLS * BLOCK], nothing[2 * MOST_MITRES * MOST_WALLS * BLOCK];
} Block;

static Seen seen_places(const Mitres *all, Block *block, int64_t n, int32_t leg, const double *places) {
    float f[MOST_MITRES], g[MOST_MITRES * MOST_WALLS];
    for (int64_t j = 0; j < n; j++) {
        from_mitres(all, places + 3 * j, f, g);
        for (int64_t m = 0; m < all->mitres; m++) {
            block->f[BLOCK * m + j] = f[m];
            for (int64_t w = 0; w < all->walls; w++) block->g[BLOCK * (all->walls * m + w) + j] = g[all->walls * m + w];
        }
        block->leg[j] = leg;
    }
    for (int64_t i = 0; i < 2 * all->mitres * all->walls * BLOCK; i++) block->nothing[i] = 0.0f;
    const Seen seen = {BLOCK, block->leg, block->f, block->nothing, block->g, block->nothing};
    return seen;
}

/* Multiply by the share of each of some things, from the first, that is seen from a place in a leg, itself ``size`` wide; the edges of
 * shadows are as wide as both are seen through the mitre. */
static void past_mitres(const Mitres *all, const Seen *seen, int64_t first, int64_t n, int32_t here, const double place[3], float size,
                        float *restrict share) {
    const int32_t *restrict leg = seen->leg + first;
    int32_t lowest = here, highest = here;
    for (int64_t j = 0; j < n; j++) {
        lowest = leg[j] < lowest ? leg[j] : lowest;
        highest = leg[j] > highest ? leg[j] : highest;
    }
    if (lowest == here && highest == here) return;
    float f[MOST_MITRES], g[MOST_MITRES * MOST_WALLS];
    from_mitres(all, place, f, g);
    for (int64_t m = 0; m < all->mitres; m++) {
        if (highest <= m || lowest > m) continue; /* all on one side of it */
        const int64_t row = seen->stride * m + first, other_row = row + seen->stride * all->mitres;
        const float *restrict there = seen->f + row, *restrict u = seen->along + row, *restrict v = seen->along + other_row;
        const float fa = f[m];
        for (int64_t w = 0; w < all->walls; w++) {
            const int64_t line = seen->stride * (all->walls * m + w) + first, other_line = line + seen->stride * all->mitres * all->walls;
            const float *restrict gb = seen->g + line, *restrict gu = seen->across + line, *restrict gv = seen->across + other_line;
            const float ga = g[all->walls * m + w];
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
