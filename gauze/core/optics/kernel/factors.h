/* Form factors. A part of kernel.c. */

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
 * where they are nearer than ``beside_widths`` of their widths, or of ``around``.
 * ``leg`` is that of each place, where the mesh has mitres.
 */
EXPORT void form_factors(int64_t n, const double *points, const double *normals, const int32_t *surface, const int32_t *leg, const Patches *mesh,
                         const double *middle, double near_widths, double beside_widths, const Split *beside, const Split *around,
                         float *factors) {
    const int64_t m = mesh->count;
    for (int64_t start = 0; start < m; start += BLOCK) {
        const int64_t count = m - start < BLOCK ? m - start : BLOCK;
        float cx[BLOCK], cy[BLOCK], cz[BLOCK], ux[BLOCK], uy[BLOCK], uz[BLOCK], reach2[BLOCK], beside2[BLOCK], corner[12][BLOCK];
        int32_t own[BLOCK], flat[BLOCK]; /* the surface; the same where it is flat, and sees nothing of itself */
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
            flat[j] = mesh->curved[patch] ? -1 : own[j];
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
                const int32_t seen = flat[j] != here;
                row[j] = seen ? out * in / (r2 * r2) : 0.0f;
                squared[j] = r2;
                special[j] = seen & (r2 < reach2[j]);
                any |= special[j];
            }
            int32_t near[BLOCK];
            float share[BLOCK];
            int64_t found = 0;
            for (int64_t j = 0; any && j < count; j++) {
                if (!special[j]) continue;
                if (own[j] != here)
                    near[found++] = (int32_t)j;
                else
                    row[j] = (float)mesh->areas[start + j] *
                             round_share(point, normal, squared[j] < beside2[j] ? beside : around, start + j);
            }
            polygons(found, near, corner, point, normal, share);
            for (int64_t q = 0; q < found; q++) row[near[q]] = share[q];
            if (mesh->mitres) past_mitres(mesh->mitres, &mesh->seen, start, count, leg[i], points + 3 * i, 0.0f, row);
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
