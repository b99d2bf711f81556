/* SPDX-License-Identifier: MIT
 * Days that are on some weekdays only. */
#include "week.h"

static const char *const names[] = {"mon", "tue", "wed", "thu", "fri", "sat", "sun"};
#define DAYS_OF_WEEK G_N_ELEMENTS(names)

bool week_take_days(yaml_file *file, const yaml_node_t *map, const char *key, uint8_t *on)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(file, map, key, DAYS_OF_WEEK, &count, &items);
    *on = 0;
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *node = yaml_node(file, items[i]);
        const char *word = yaml_text(file, node, "a weekday");
        uint8_t bit = 0;
        for (gsize d = 0; word != NULL && d < DAYS_OF_WEEK; d++) {
            bit = (uint8_t)(g_str_equal(word, names[d]) ? 1u << d : bit);
        }
        *on = (uint8_t)(*on | bit);
        fine = (bit != 0 || (word != NULL && yaml_note(file, node, vd_fault_of_WRONG_SHAPE(word, "mon to sun")))) &&
               word != NULL && fine;
    }
    return fine;
}

bool week_make(yaml_file *file, const yaml_node_t *node, const vd_day *days, const uint8_t *on, vd_day week[7],
               gsize *count)
{
    uint8_t all = 0;
    for (gsize i = 0; i < *count; i++) {
        all |= on[i];
    }
    for (gsize d = 0; d < DAYS_OF_WEEK && all != 0; d++) {
        unsigned found = 0;
        for (gsize i = 0; i < *count; i++) {
            bool is = (on[i] >> d & 1u) != 0;
            week[d] = is ? days[i] : week[d];
            found += is;
        }
        if (found != 1) {
            char *allowed =
                g_strdup_printf("each weekday once: %s is on %s", names[d], found > 0 ? "two days" : "none");
            yaml_note(file, node, vd_fault_of_WRONG_SHAPE("this", allowed));
            g_free(allowed);
            return false;
        }
    }
    *count = all != 0 ? DAYS_OF_WEEK : *count;
    return true;
}
