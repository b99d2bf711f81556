/* SPDX-License-Identifier: MIT
 * Sorting numbers of settings. */
#include "verdite/model_questions.h"

/* Shell's method: no memory, no recursion, fast enough for ten thousands. */
void vd_settings_sort(uint16_t *order, uint16_t count, vd_setting_after *after, const void *about)
{
    uint32_t step = 1;
    while (step < count / 3u) {
        step = 3 * step + 1;
    }
    for (; step > 0; step /= 3) {
        for (uint32_t i = step; i < count; i++) {
            uint16_t moved = order[i];
            uint32_t k = i;
            for (; k >= step && after(about, order[k - step], moved); k -= step) {
                order[k] = order[k - step];
            }
            order[k] = moved;
        }
    }
}
