/* Cells between partitions. A part of kernel.c. */

typedef struct {
    double pitch_x, pitch_y; /* of the lines on which partitions stand */
    double half;             /* of their thickness, and their lower and upper edge, each less what a line of sight may graze */
    double floor, top;
} Partitions;

/* Between which lines partitions stand, along x and along y: from beyond the first to before the last. */
typedef struct {
    float first[2], last[2];
} Span;

static const Span EVERYWHERE = {{-1e30f, -1e30f}, {1e30f, 1e30f}};

/* What two ends of a line of sight know of it; spans are (n, 4), or nothing where partitions stand on every line. */
static Span span_of(const double *one, int64_t i, const double *other, int64_t j, const double *shift) {
    Span span = EVERYWHERE;
    for (int a = 0; a < 2; a++) {
        if (one) {
            span.first[a] = (float)one[4 * i + a];
            span.last[a] = (float)one[4 * i + 2 + a];
        }
        if (other) {
            const double moved = shift ? shift[a] : 0;
            const float first = (float)(other[4 * j + a] + moved), last = (float)(other[4 * j + 2 + a] + moved);
            span.first[a] = first > span.first[a] ? first : span.first[a];
            span.last[a] = last < span.last[a] ? last : span.last[a];
        }
    }
    return span;
}

/* Whether partitions square to one axis stand in a line's way: its heights while it crosses one must stay above or below it. */
static int crossed(float a, float b, float z_a, float z_b, float pitch, float half, float floor, float top, float first, float last) {
    if ((z_a <= floor && z_b <= floor) || (z_a >= top && z_b >= top)) return 0;
    const int forward = b >= a;
    const float low = forward ? a : b, high = forward ? b : a, z_low = forward ? z_a : z_b, z_high = forward ? z_b : z_a;
    float near = pitch * (__builtin_floorf((low - half) / pitch) + 1.0f) - low; /* the first that ends beyond the lower end */
    if (near - half >= high - low) return 0;
    const float span = high - low > 1e-4f ? high - low : 1e-4f, slope = (z_high - z_low) / span;
    for (; near - half < span; near += pitch) {
        if (low + near < first + half || low + near > last - half) continue;
        const float enters = near - half > 0.0f ? near - half : 0.0f, leaves = near + half < span ? near + half : span;
        const float one = z_low + slope * enters, other = z_low + slope * leaves;
        if ((one > other ? one : other) > floor && (one < other ? one : other) < top) return 1;
    }
    return 0;
}

static int blocked(const Partitions *walls, const Span *span, const double start[3], const double end[3]) {
    const float half = (float)walls->half, floor = (float)walls->floor, top = (float)walls->top;
    const float z_a = (float)start[2], z_b = (float)end[2];
    return crossed((float)start[0], (float)end[0], z_a, z_b, (float)walls->pitch_x, half, floor, top, span->first[0], span->last[0]) ||
           crossed((float)start[1], (float)end[1], z_a, z_b, (float)walls->pitch_y, half, floor, top, span->first[1], span->last[1]);
}

/* How much of an emitter's light on a place gets past the partitions, over all of it: by the corners of its square, and where these
 * differ by the light of many places on it. */
#define MANY 6

static double share_past(const Partitions *walls, const Span *span, const Emitters *lamps, const double place[3],
                         const double normal[3]) {
    int hidden = 0;
    for (int corner = 0; corner < 4; corner++) {
        double start[3];
        for (int a = 0; a < 3; a++)
            start[a] = lamps->places[a] + lamps->size * ((corner & 1) - 0.5) * lamps->right[a] +
                       lamps->size * ((corner >> 1) - 0.5) * lamps->up[a];
        hidden += blocked(walls, span, start, place);
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
            open += blocked(walls, span, start, place) ? 0 : light;
        }
    return whole > 0 ? open / whole : 0;
}

/* Illuminance per lumen of the first of some emitters at shifted places, (n,): weighed where that is asked for, nothing behind
 * partitions; where these stand is told of the places before the shift, (n, 4), and of the emitter, or nothing where they do on
 * every line. */
EXPORT void past_partitions(int64_t n, const double *points, const double *normals, const double *spans, const double *shift,
                            const Emitters *lamps, const double *own_span, const Weighing *how, const Partitions *walls,
                            double *result) {
    for (int64_t first = 0; first < n; first += BLOCK) {
        const int64_t count = n - first < BLOCK ? n - first : BLOCK;
        double middle[3];
        for (int a = 0; a < 3; a++) middle[a] = points[3 * first + a] + shift[a];
        float at[3][BLOCK], normal[3][BLOCK], share[BLOCK], arriving[BLOCK], squared[BLOCK], seen[BLOCK];
        const float *const places[3] = {at[0], at[1], at[2]}, *const facing[3] = {normal[0], normal[1], normal[2]};
        for (int64_t p = 0; p < count; p++)
            for (int a = 0; a < 3; a++) {
                at[a][p] = (float)(points[3 * (first + p) + a] + shift[a] - middle[a]);
                normal[a][p] = (float)normals[3 * (first + p) + a];
            }
        shares(lamps, 0, count, places, facing, middle, share, arriving, squared);
        if (how->by_squared_sine)
            weighed(how, count, share, arriving, squared, seen);
        else
            for (int64_t p = 0; p < count; p++) seen[p] = share[p];
        for (int64_t p = 0; p < count; p++) {
            const Span span = span_of(own_span, 0, spans, first + p, shift);
            const double *own = points + 3 * (first + p), *looks = normals + 3 * (first + p);
            const double place[3] = {own[0] + shift[0], own[1] + shift[1], own[2] + shift[2]};
            result[first + p] = share[p] > 0.0f ? (double)seen[p] * share_past(walls, &span, lamps, place, looks) : 0.0;
        }
    }
}

/* Factors from places (n, 3) of one cell to the patches of another, float (n, patches): as seen past the partitions.
 *
 * quarters (patches, 4, 3) are the middles of each patch's quarters, parts (patches, 4) their shares of its area; those of which
 * looked (4,) is set are sought. A patch that is seen in part is looked at in closely x closely places. Between which lines
 * partitions stand is told of the places and of the patches, each in their own cell, or nothing where they do on every line. */
EXPORT void cell_factors(int64_t n, const double *points, const double *normals, const double *spans, const Patches *mesh,
                         const double *spans_there, const double *quarters,
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
            const Span span = span_of(spans, i, spans_there, j, shift);
            double seen = 0, whole = 0;
            int hidden = 0, open = 0;
            for (int q = 0; q < 4; q++) {
                if (!looked[q]) continue;
                const double *quarter = quarters + 3 * (4 * j + q), part = parts[4 * j + q];
                const double end[3] = {quarter[0] + shift[0], quarter[1] + shift[1], quarter[2] + shift[2]};
                const int behind = blocked(walls, &span, p, end);
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
                        free += !blocked(walls, &span, p, end);
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
