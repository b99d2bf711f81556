/* SPDX-License-Identifier: MIT
 * Loading counters: what adds up to a value. */
#include "intervals.h"
#include "comparisons.h"

static bool take_case(loading *l, const yaml_node_t *map, vd_gives gives, vd_case *one)
{
    bool fine = yaml_check_keys(&l->file->yaml, map, keys_case);
    if (fine && yaml_member(&l->file->yaml, map, "every") == NULL) {
        fine = yaml_note_missing(&l->file->yaml, map, "every", "how long, how far or how many");
    }
    return fine && model_take_text(l->file, map, "label", false, &one->label) &&
           interval_take_one(l, map, "while", &one->when) &&
           interval_take_amount(l, map, "every", gives, &one->value) &&
           yaml_take_word(&l->file->yaml, map, "zero", false, words_zero, &one->zero);
}

/* Cases, or the only one under the counter's own every and zero. */
static bool take_cases(loading *l, const yaml_node_t *map, vd_gives gives, vd_counter *counter)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool single = yaml_member(&l->file->yaml, map, "every") != NULL;
    bool fine = yaml_take_list(&l->file->yaml, map, "cases", MOST_PARTS, &count, &items);
    if (fine && single == (count > 0)) {
        return yaml_note(&l->file->yaml, map, vd_fault_of_WRONG_SHAPE("this", "either every or a list of cases"));
    }
    vd_case *cases = model_memory(l->file, (count + 1) * sizeof *cases);
    cases[0].label = "";
    for (gsize i = 0; i < count; i++) {
        fine = take_case(l, yaml_node(&l->file->yaml, items[i]), gives, &cases[i]) && fine;
    }
    if (single) {
        fine = interval_take_amount(l, map, "every", gives, &cases[0].value) &&
               yaml_take_word(&l->file->yaml, map, "zero", false, words_zero, &cases[0].zero) && fine;
    }
    counter->cases = cases;
    counter->case_count = (uint8_t)(single ? 1 : count);
    return fine;
}

static bool take_series(loading *l, const yaml_node_t *map, vd_gives gives, vd_counter *counter)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    uint8_t then = 0;
    bool fine = yaml_take_list(&l->file->yaml, map, "series", MOST_PARTS, &count, &items) &&
                yaml_take_word(&l->file->yaml, map, "then", false, words_then, &then);
    vd_ref *series = model_memory(l->file, (count + 1) * sizeof *series);
    for (gsize i = 0; i < count && fine; i++) {
        fine = interval_add_amount(l, yaml_node(&l->file->yaml, items[i]), gives, &series[i]);
    }
    counter->series = series;
    counter->series_count = (uint8_t)count;
    counter->stops = then != 0;
    return fine;
}

bool interval_take_counter(loading *l, const yaml_node_t *map, uint8_t adds, vd_item *item)
{
    yaml_file *yaml = &l->file->yaml;
    vd_counter *counter = model_memory(l->file, sizeof *counter);
    static const uint8_t given[] = {[VD_ADDS_SECONDS] = VD_GIVES_TIME,
                                    [VD_ADDS_WAY] = VD_GIVES_WAY,
                                    [VD_ADDS_TURNING] = VD_GIVES_ANGLE,
                                    [VD_ADDS_EVENTS] = VD_GIVES_PLAIN};
    vd_gives gives = (vd_gives)given[adds];
    uint8_t edge = 0;
    counter->adds = adds;
    item->counter = counter;
    bool fine = take_cases(l, map, gives, counter);
    fine = take_series(l, map, gives, counter) && fine;
    fine = interval_take_one(l, map, "while", &item->gate) && fine;
    fine = yaml_take_word(yaml, map, "closed", false, words_closed, &item->closed) && fine;
    fine = yaml_take_word(yaml, map, "change", false, words_change, &counter->change) && fine;
    fine = yaml_take_word(yaml, map, "edge", false, words_edge, &edge) && fine;
    fine = yaml_take_truth(yaml, map, "carried", &counter->carried) && fine;
    fine = yaml_take_truth(yaml, map, "at-once", &counter->at_once) && fine;
    fine = interval_take_between(l, map, "jitter", gives, item) && fine;
    fine = interval_take_items(l, map, "zeroed-by", &item->clears, &item->clear_count) && fine;
    fine = interval_take_items(l, map, "of", &item->of, &item->of_count) && fine;
    counter->new_edge = edge != 0;
    return fine;
}
