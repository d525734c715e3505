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

/* Illuminance per lumen of the first of some emitters at shifted places, (n,): plain and, where that is asked for, weighed; nothing
 * behind partitions; where these stand is told of the places before the shift, (n, 4), and of the emitter, or nothing where they do on
 * every line. */
EXPORT void past_partitions(int64_t n, const double *points, const double *normals, const double *spans, const double *shift,
                            const Emitters *lamps, const double *own_span, const Weighing *how, const Partitions *walls,
                            double *plain, double *through) {
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
        if (through) weighed(how, count, share, arriving, squared, seen);
        for (int64_t p = 0; p < count; p++) {
            const Span span = span_of(own_span, 0, spans, first + p, shift);
            const double *own = points + 3 * (first + p), *looks = normals + 3 * (first + p);
            const double place[3] = {own[0] + shift[0], own[1] + shift[1], own[2] + shift[2]};
            const double open = share[p] > 0.0f ? share_past(walls, &span, lamps, place, looks) : 0.0;
            plain[first + p] = (double)share[p] * open;
            if (through) through[first + p] = open > 0.0 ? (double)seen[p] * open : 0.0;
        }
    }
}

/* Ends of lines of sight, each with the lines between which partitions stand for it. */
typedef struct {
    float place[3][BLOCK];
    float first[2][BLOCK], last[2][BLOCK];
} Ends;

/* The same as crossed() for many lines from one start, along one axis: hidden is set where partitions stand in the way. */
static void cross(int64_t n, const float start[3], const Span *own, const Ends *ends, int axis, const Partitions *walls,
                  int32_t *restrict hidden) {
    const float pitch = (float)(axis ? walls->pitch_y : walls->pitch_x), half = (float)walls->half;
    const float floor = (float)walls->floor, top = (float)walls->top, a = start[axis], z_a = start[2];
    const float *restrict b = ends->place[axis], *restrict z_b = ends->place[2];
    const float *restrict first = ends->first[axis], *restrict last = ends->last[axis];
    const float own_first = own->first[axis], own_last = own->last[axis];
    float low[BLOCK], z_low[BLOCK], span[BLOCK], slope[BLOCK], lowest = a, highest = a;
    for (int64_t j = 0; j < n; j++) {
        const int forward = b[j] >= a;
        const float away = forward ? b[j] - a : a - b[j];
        low[j] = forward ? a : b[j];
        z_low[j] = forward ? z_a : z_b[j];
        span[j] = away > 1e-4f ? away : 1e-4f;
        slope[j] = (forward ? z_b[j] - z_a : z_a - z_b[j]) / span[j];
        lowest = b[j] < lowest ? b[j] : lowest;
        highest = b[j] > highest ? b[j] : highest;
    }
    for (float line = __builtin_floorf((lowest - half) / pitch) + 1.0f; line * pitch - half < highest; line += 1.0f) {
        const float at = line * pitch;
        for (int64_t j = 0; j < n; j++) {
            const float near = at - low[j], begins = near - half, ends_at = near + half;
            const float enters = begins > 0.0f ? begins : 0.0f, leaves = ends_at < span[j] ? ends_at : span[j];
            const float one = z_low[j] + slope[j] * enters, other = z_low[j] + slope[j] * leaves;
            const float upper = one > other ? one : other, lower = one > other ? other : one;
            const float from = own_first > first[j] ? own_first : first[j], to = own_last < last[j] ? own_last : last[j];
            hidden[j] |= (ends_at > 0.0f) & (begins < span[j]) & (at >= from + half) & (at <= to - half) & (upper > floor) &
                         (lower < top);
        }
    }
}

/* How many of the lines from a start to some ends are open; which are hidden is told. */
static int64_t open_lines(int64_t n, const float start[3], const Span *own, const Ends *ends, const Partitions *walls,
                          int32_t *restrict hidden) {
    for (int64_t j = 0; j < n; j++) hidden[j] = 0;
    cross(n, start, own, ends, 0, walls, hidden);
    cross(n, start, own, ends, 1, walls, hidden);
    int64_t open = 0;
    for (int64_t j = 0; j < n; j++) open += !hidden[j];
    return open;
}

/* The same share of the lines to closely x closely places on one patch; `patch` are its corners. */
static float share_open(const float start[3], const Span *own, const Ends *of_patches, int64_t patch, const float corner[12],
                        int64_t closely, const Partitions *walls) {
    Ends ends;
    int32_t hidden[BLOCK];
    const int64_t n = closely * closely;
    for (int64_t place = 0; place < n; place++) {
        const float s = ((float)(place / closely) + 0.5f) / (float)closely, t = ((float)(place % closely) + 0.5f) / (float)closely;
        for (int axis = 0; axis < 3; axis++)
            ends.place[axis][place] = (1 - s) * (1 - t) * corner[axis] + s * (1 - t) * corner[3 + axis] +
                                      s * t * corner[6 + axis] + (1 - s) * t * corner[9 + axis];
        for (int axis = 0; axis < 2; axis++) {
            ends.first[axis][place] = of_patches->first[axis][patch];
            ends.last[axis][place] = of_patches->last[axis][patch];
        }
    }
    return (float)open_lines(n, start, own, &ends, walls, hidden) / (float)n;
}

/* Factors from places (n, 3) of one cell to the patches of another, float (n, patches): as seen past the partitions.
 *
 * quarters (patches, 4, 3) are the middles of each patch's quarters, parts (patches, 4) their shares of its area; those of which
 * looked (4,) is set are sought. A patch that is seen in part is looked at in closely x closely places, at most BLOCK. Between
 * which lines partitions stand is told of the places and of the patches, each in their own cell, or nothing where they do on
 * every line. */
EXPORT void cell_factors(int64_t n, const double *points, const double *normals, const double *spans, const Patches *mesh,
                         const double *spans_there, const double *quarters,
                         const double *parts, const uint8_t *looked, const double *shift, const Partitions *walls,
                         double near_widths, double grazing, int64_t closely, float *factors) {
    for (int64_t start = 0; start < mesh->count; start += BLOCK) {
        const int64_t count = mesh->count - start < BLOCK ? mesh->count - start : BLOCK;
        float at[3][BLOCK], facing[3][BLOCK], area[BLOCK], reach2[BLOCK], corner[12][BLOCK], whole[BLOCK];
        Ends ends[4];
        for (int64_t j = 0; j < count; j++) {
            const int64_t patch = start + j;
            const double reach = near_widths * mesh->widths[patch];
            area[j] = (float)(mesh->areas[patch] / PI);
            reach2[j] = (float)(reach * reach);
            whole[j] = 0.0f;
            for (int k = 0; k < 12; k++) corner[k][j] = (float)(mesh->corners[12 * patch + k] + shift[k % 3]);
            for (int a = 0; a < 3; a++) {
                at[a][j] = (float)(mesh->centres[3 * patch + a] + shift[a]);
                facing[a][j] = (float)mesh->normals[3 * patch + a];
            }
            const Span span = span_of(0, 0, spans_there, patch, shift);
            for (int q = 0; q < 4; q++) {
                if (looked[q]) whole[j] += (float)parts[4 * patch + q];
                for (int a = 0; a < 3; a++) ends[q].place[a][j] = (float)(quarters[3 * (4 * patch + q) + a] + shift[a]);
                for (int a = 0; a < 2; a++) {
                    ends[q].first[a][j] = span.first[a];
                    ends[q].last[a][j] = span.last[a];
                }
            }
        }
        for (int64_t i = 0; i < n; i++) {
            float here[BLOCK], there[BLOCK], r2[BLOCK], seen[BLOCK], place[3], normal[3], *factor = factors + i * mesh->count + start;
            int32_t hidden[BLOCK], behind[BLOCK];
            const Span own = span_of(spans, i, 0, 0, 0);
            for (int a = 0; a < 3; a++) {
                place[a] = (float)points[3 * i + a];
                normal[a] = (float)normals[3 * i + a];
            }
            int any = 0;
            for (int64_t j = 0; j < count; j++) {
                const float x = at[0][j] - place[0], y = at[1][j] - place[1], z = at[2][j] - place[2];
                here[j] = x * normal[0] + y * normal[1] + z * normal[2];
                there[j] = -(x * facing[0][j] + y * facing[1][j] + z * facing[2][j]);
                r2[j] = x * x + y * y + z * z;
                seen[j] = 0.0f;
                behind[j] = 0;
                any |= (here[j] > (float)grazing) & (there[j] > (float)grazing);
            }
            for (int q = 0; any && q < 4; q++) {
                if (!looked[q]) continue;
                open_lines(count, place, &own, &ends[q], walls, hidden);
                for (int64_t j = 0; j < count; j++) {
                    seen[j] += hidden[j] ? 0.0f : (float)parts[4 * (start + j) + q];
                    behind[j] |= hidden[j];
                }
            }
            int32_t near[BLOCK];
            int64_t some = 0;
            for (int64_t j = 0; j < count; j++) {
                const int open = here[j] > (float)grazing && there[j] > (float)grazing && seen[j] > 0.0f;
                factor[j] = 0.0f;
                if (!open) continue;
                float share = seen[j] / whole[j];
                if (behind[j]) {
                    float own_corner[12];
                    for (int k = 0; k < 12; k++) own_corner[k] = corner[k][j];
                    share = share_open(place, &own, ends, j, own_corner, closely, walls);
                }
                const float squared = r2[j] > 1e-9f ? r2[j] : 1e-9f;
                seen[j] = share;
                factor[j] = share * here[j] * there[j] * area[j] / (squared * squared);
                if (squared < reach2[j]) near[some++] = (int32_t)j;
            }
            float exact[BLOCK];
            polygons(some, near, (const float(*)[BLOCK])corner, place, normal, exact);
            for (int64_t q = 0; q < some; q++) factor[near[q]] = exact[q] * seen[near[q]];
        }
    }
}
