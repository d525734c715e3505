/* Lobes that leave a face, and distances. A part of kernel.c. */

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

#define SAFELY 1.0001 /* a nearest place must not be lost to rounding */

static double squared_between(const double a[3], const double b[3]) {
    const double x = a[0] - b[0], y = a[1] - b[1], z = a[2] - b[2];
    return x * x + y * y + z * z;
}

/* Squared distance of points (n, 3) from the nearest of m places. None is nearest to any point of a block that is farther from its
 * middle than the nearest is by twice the block's radius. */
EXPORT void nearest2(int64_t n, const double *points, int64_t m, const double *places, double *squared) {
    for (int64_t first = 0; first < n; first += BLOCK) {
        const int64_t count = n - first < BLOCK ? n - first : BLOCK;
        const double *middle = points + 3 * (first + count / 2);
        float x[BLOCK], y[BLOCK], z[BLOCK], least[BLOCK];
        for (int64_t p = 0; p < count; p++) {
            x[p] = (float)(points[3 * (first + p)] - middle[0]);
            y[p] = (float)(points[3 * (first + p) + 1] - middle[1]);
            z[p] = (float)(points[3 * (first + p) + 2] - middle[2]);
            least[p] = 1e30f;
        }
        double radius2 = 0, nearest2 = 1e60;
        for (int64_t p = 0; p < count; p++) {
            const double own2 = (double)(x[p] * x[p] + y[p] * y[p] + z[p] * z[p]);
            radius2 = own2 > radius2 ? own2 : radius2;
        }
        for (int64_t i = 0; i < m; i++) {
            const double own2 = squared_between(places + 3 * i, middle);
            nearest2 = own2 < nearest2 ? own2 : nearest2;
        }
        const double farthest = SAFELY * (__builtin_sqrt(nearest2) + 2.0 * __builtin_sqrt(radius2));
        for (int64_t i = 0; i < m; i++) {
            if (squared_between(places + 3 * i, middle) > farthest * farthest) continue;
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

/* Sums of weight (n,) times values (n, k) over the parts that they belong to, added to total (parts, k). */
EXPORT void sums_by_part(int64_t n, int64_t k, const int32_t *part, const double *weight, const double *values, double *total) {
    for (int64_t i = 0; i < n; i++)
        for (int64_t c = 0; c < k; c++) total[k * part[i] + c] += weight[i] * values[k * i + c];
}
