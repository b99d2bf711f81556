/* SPDX-License-Identifier: MIT
 * Days that somebody describes, and their memory. */
#include "parts.h"

vd_days *days_new(const vd_model *model)
{
    vd_days *days = g_new0(vd_days, 1);
    days->model = model;
    days->memory = g_ptr_array_new_with_free_func(g_free);
    days->list = g_array_new(FALSE, TRUE, sizeof(vd_day));
    return days;
}

void *days_memory(vd_days *days, gsize size)
{
    void *memory = g_malloc0(MAX(size, 1));
    g_ptr_array_add(days->memory, memory);
    return memory;
}

void vd_days_free(vd_days *days)
{
    if (days != NULL) {
        g_ptr_array_free(days->memory, TRUE);
        g_array_free(days->list, TRUE);
        g_free(days);
    }
}

const vd_day *vd_days_list(const vd_days *days, uint16_t *count)
{
    *count = (uint16_t)days->list->len;
    return &g_array_index(days->list, vd_day, 0);
}
