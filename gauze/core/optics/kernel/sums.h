/* Values of the cells around each cell of a grid, brought together for one product. A part of kernel.c. */

/* For each of `cells` starts, the values at so many places after it. */
EXPORT void gather_near(int64_t cells, const int32_t *start, int64_t places, const int32_t *after, const float *values,
                        float *near) {
    for (int64_t i = 0; i < cells; i++) {
        const float *own = values + start[i];
        for (int64_t k = 0; k < places; k++) near[k] = own[after[k]];
        near += places;
    }
}
