/* The exchange between the patches of a mesh, of which only the rows are kept that stand for all others. A part of kernel.c.
 *
 * Row row_of[j] stands for patch j, which is its image number image_of[j]: what patch j has to patch k is what that row has to
 * patch turned[image_of[j]][k]. Image 0 is the patch itself. */

/* Rows from..to of `own` M + (1 - `own`) M^T; first are the patches of all rows. */
EXPORT void turned_over(int64_t from, int64_t to, int64_t n, float own, const float *rows, const int32_t *first,
                        const int32_t *row_of, const int32_t *image_of, const int32_t *turned, float *found) {
    for (int64_t start = from; start < to; start += ROWS_AT_ONCE) {
        const int64_t end = start + ROWS_AT_ONCE < to ? start + ROWS_AT_ONCE : to;
        for (int64_t j = 0; j < n; j++) {
            const float *other = rows + n * row_of[j];
            const int32_t *at = turned + n * image_of[j];
            for (int64_t i = start; i < end; i++) found[n * i + j] = own * rows[n * i + j] + (1.0f - own) * other[at[first[i]]];
        }
    }
}

/* Rows from..to of M, each column less a 24th of its second differences: four neighbours to a patch, itself at an edge. */
EXPORT void sharpened_columns(int64_t from, int64_t to, int64_t n, const float *rows, const int32_t *first,
                              const int32_t *row_of, const int32_t *image_of, const int32_t *turned,
                              const int32_t *neighbours, float *found) {
    for (int64_t i = from; i < to; i++) {
        float *total = found + n * i;
        for (int64_t j = 0; j < n; j++) total[j] = rows[n * i + j] * (7.0f / 6.0f);
        for (int64_t side = 0; side < 4; side++) {
            const int32_t beside = neighbours[4 * first[i] + side];
            const float *other = rows + n * row_of[beside];
            const int32_t *at = turned + n * image_of[beside];
            if (image_of[beside] == 0) {
                for (int64_t j = 0; j < n; j++) total[j] -= other[j] * (1.0f / 24.0f);
            } else {
                for (int64_t j = 0; j < n; j++) total[j] -= other[at[j]] * (1.0f / 24.0f);
            }
        }
    }
}
