/* SPDX-License-Identifier: MIT
 * Loading the usual days of a model. What they measure is an expression without settings: it is worked out once the
 * model is prepared. */
#include "intervals.h"
#include "comparisons.h"
#include "../days/week.h"
#include "verdite/course.h"

#include <string.h>

#define MOST_DAYS 32
#define MOST_ACTIVITIES 32
#define MOST_STRETCHES 96 /* of a day */

/* A number of a stretch that is not worked out yet. */
typedef struct pending {
    vd_ratio *to;
    vd_ref formula;    /* of the intervals' own */
    uint16_t quantity; /* which it is; VD_NONE: a speed or an angle, which are not below 0 */
} pending;

static bool take_number(loading *l, const yaml_node_t *map, const char *key, vd_gives gives, uint16_t quantity,
                        vd_ratio *to)
{
    pending one = {.to = to, .quantity = quantity};
    bool fine = interval_take_amount(l, map, key, gives, &one.formula);
    *to = (vd_ratio){0, 1};
    if (fine && vd_index(one.formula) != VD_NONE) {
        g_array_append_val(l->file->day_numbers, one);
    }
    return fine;
}

/* A name under a key, which has to be one of those that items are about. */
static bool take_name(loading *l, const yaml_node_t *node, const char *name, GPtrArray *names, uint16_t *input)
{
    *input = name != NULL ? interval_input(names, name) : VD_NONE;
    return *input != VD_NONE ||
           (name != NULL && yaml_note(&l->file->yaml, node, vd_fault_of_WRONG_SHAPE(name, "what an item is about")));
}

static bool take_given(loading *l, const yaml_node_t *map, vd_stretch *stretch)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool *given = model_memory(l->file, l->given->len + 1);
    bool fine = yaml_take_list(&l->file->yaml, map, "with", l->given->len, &count, &items);
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *node = yaml_node(&l->file->yaml, items[i]);
        uint16_t input = 0;
        bool good = take_name(l, node, yaml_text(&l->file->yaml, node, "a given fact"), l->given, &input);
        if (good) {
            given[input] = true;
        }
        fine = good && fine;
    }
    stretch->given = given;
    return fine;
}

static bool take_quantities(loading *l, const yaml_node_t *map, vd_stretch *stretch)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    vd_ratio *quantities = model_memory(l->file, (l->quantities->len + 1) * sizeof *quantities);
    bool fine = yaml_take_list(&l->file->yaml, map, "quantities", l->quantities->len, &count, &items);
    for (guint k = 0; k < l->quantities->len; k++) {
        quantities[k] = (vd_ratio){0, 1};
    }
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *one = yaml_node(&l->file->yaml, items[i]);
        const char *name = NULL;
        uint16_t input = 0;
        fine = yaml_check_keys(&l->file->yaml, one, keys_quantity) &&
               yaml_take_text(&l->file->yaml, one, "of", true, &name) &&
               take_name(l, one, name, l->quantities, &input) &&
               take_number(l, one, "is", VD_GIVES_NUMBER, input, &quantities[input]) && fine;
    }
    stretch->quantities = quantities;
    return fine;
}

static bool take_happenings(loading *l, const yaml_node_t *map, vd_stretch *stretch)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    uint32_t *happens = model_memory(l->file, (l->happenings->len + 1) * sizeof *happens);
    bool fine = yaml_take_list(&l->file->yaml, map, "happens", l->happenings->len, &count, &items);
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *one = yaml_node(&l->file->yaml, items[i]);
        const char *name = NULL;
        uint16_t input = 0;
        int64_t times = 0;
        bool good = yaml_check_keys(&l->file->yaml, one, keys_happening) &&
                    yaml_take_text(&l->file->yaml, one, "event", true, &name) &&
                    take_name(l, one, name, l->happenings, &input) &&
                    yaml_take_integer(&l->file->yaml, one, "times", true, 0, VD_DAY_SECONDS, &times);
        if (good) {
            happens[input] = (uint32_t)times;
        }
        fine = good && fine;
    }
    stretch->happens = happens;
    return fine;
}

/* What a unit meets in a stretch, or while somebody does something. */
static bool take_meets(loading *l, const yaml_node_t *map, vd_stretch *stretch)
{
    int64_t turns = 0;
    bool fine = take_given(l, map, stretch);
    fine = take_quantities(l, map, stretch) && fine;
    fine = take_happenings(l, map, stretch) && fine;
    fine = take_number(l, map, "speed", VD_GIVES_SPEED, VD_NONE, &stretch->speed) && fine;
    fine = take_number(l, map, "angle", VD_GIVES_ANGLE, VD_NONE, &stretch->angle) && fine;
    fine = yaml_take_integer(&l->file->yaml, map, "turns", false, 0, VD_DAY_SECONDS, &turns) && fine;
    stretch->turns = (uint32_t)turns;
    return fine;
}

static bool take_stretch(loading *l, const yaml_node_t *map, vd_stretch *stretch, bool *rests)
{
    int64_t lasts = 0;
    bool fine = yaml_check_keys(&l->file->yaml, map, keys_stretch) &&
                yaml_take_duration(&l->file->yaml, map, "for", true, (int64_t)VD_DAY_SECONDS * 1000, &lasts);
    if (fine && (lasts <= 0 || lasts % 1000 != 0)) {
        fine = yaml_note(&l->file->yaml, yaml_member(&l->file->yaml, map, "for"),
                         vd_fault_of_WRONG_SHAPE("this", "whole seconds, at least 1 s"));
    }
    stretch->lasts = (uint32_t)(lasts / 1000);
    fine = take_meets(l, map, stretch) && fine;
    return yaml_take_truth(&l->file->yaml, map, "rests", rests) && fine;
}

static bool take_activities(loading *l, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&l->file->yaml, root, "activities", MOST_ACTIVITIES, &count, &items);
    vd_activity *activities = model_memory(l->file, (count + 1) * sizeof *activities);
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *map = yaml_node(&l->file->yaml, items[i]);
        fine = yaml_check_keys(&l->file->yaml, map, keys_activity) &&
               model_take_key(l->file, map, "key", &activities[i].key) && take_meets(l, map, &activities[i].meets) &&
               fine;
    }
    l->made->activities = activities;
    l->made->activity_count = (uint16_t)count;
    return fine && model_refuse_twice(l->file, root, "activities", &activities->key, sizeof *activities, (gsize)count);
}

static bool take_day(loading *l, const yaml_node_t *map, vd_day *day, uint8_t *on)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    int64_t lasts = 0;
    bool fine = yaml_check_keys(&l->file->yaml, map, keys_day) &&
                model_take_text(l->file, map, "label", true, &day->label) &&
                week_take_days(&l->file->yaml, map, "on", on) &&
                yaml_take_list(&l->file->yaml, map, "stretches", MOST_STRETCHES, &count, &items);
    if (fine && count == 0) {
        return yaml_note_missing(&l->file->yaml, map, "stretches", "a list of stretches of the day");
    }
    vd_stretch *stretches = model_memory(l->file, (count + 1) * sizeof *stretches);
    day->stretches = stretches;
    day->stretch_count = (uint16_t)count;
    day->rest = (uint16_t)(count > 0 ? count - 1 : 0);
    for (gsize i = 0; i < count; i++) {
        bool rests = false;
        fine = take_stretch(l, yaml_node(&l->file->yaml, items[i]), &stretches[i], &rests) && fine;
        day->rest = rests ? (uint16_t)i : day->rest;
        lasts += stretches[i].lasts;
    }
    return fine && (lasts <= VD_DAY_SECONDS ||
                    yaml_note(&l->file->yaml, map, vd_fault_of_WRONG_SHAPE("this day", "24 h at most in all")));
}

/* Where a model says none. */
static void add_still_day(loading *l, vd_day *day)
{
    vd_ratio *quantities = model_memory(l->file, (l->quantities->len + 1) * sizeof *quantities);
    vd_stretch *still = model_memory(l->file, sizeof *still);
    for (guint k = 0; k < l->quantities->len; k++) {
        quantities[k] = (vd_ratio){0, 1};
    }
    *still = (vd_stretch){.given = model_memory(l->file, l->given->len + 1),
                          .quantities = quantities,
                          .speed = {0, 1},
                          .angle = {0, 1},
                          .lasts = VD_DAY_SECONDS};
    *day = (vd_day){"nothing happens", still, 1, 0};
}

bool interval_take_days(loading *l, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&l->file->yaml, root, "days", MOST_DAYS, &count, &items);
    vd_day *days = model_memory(l->file, (count + 7) * sizeof *days), week[7];
    uint8_t on[MOST_DAYS] = {0};
    for (gsize i = 0; i < count; i++) {
        fine = take_day(l, yaml_node(&l->file->yaml, items[i]), &days[i], &on[i]) && fine;
    }
    gsize made = count;
    fine = fine && week_make(&l->file->yaml, yaml_member(&l->file->yaml, root, "days"), days, on, week, &made);
    if (fine && made != count) {
        memcpy(days, week, sizeof week);
        count = made;
    }
    if (count == 0) {
        add_still_day(l, &days[0]);
        count = 1;
    }
    fine = take_activities(l, root) && fine;
    l->made->days = days;
    l->made->day_count = (uint16_t)count;
    l->made->formula_count = (uint16_t)(l->file->formulas->len - l->first);
    return fine;
}

GArray *model_day_numbers(void)
{
    return g_array_new(FALSE, TRUE, sizeof(pending));
}

/* Whether it is measured in what it is compared with everywhere. */
static bool is_comparable(const vd_model *model, const pending *one)
{
    for (uint16_t i = 0; one->quantity != VD_NONE && i < model->intervals->item_count; i++) {
        const vd_item *item = &model->intervals->items[i];
        if (item->kind == VD_ITEM_COMPARE && item->compared == VD_COMPARED_QUANTITY && item->input == one->quantity &&
            !vd_intervals_alike(model, item->amount, one->formula)) {
            return false;
        }
    }
    return true;
}

static bool settle_number(vd_model_file *file, const vd_amount *amounts, const pending *one)
{
    const vd_amount *amount = &amounts[vd_index(one->formula)];
    const yaml_node_t *node =
        g_ptr_array_index(file->formula_nodes, file->model.intervals->formula + vd_index(one->formula));
    bool can_be = one->quantity != VD_NONE || vd_intervals_can_be(amount->ratio);
    *one->to = amount->ratio;
    if (amount->state != VD_AMOUNT_KNOWN || !can_be) {
        return yaml_note(&file->yaml, node,
                         vd_fault_of_WRONG_SHAPE("this", "a number that can be, not below 0, without settings"));
    }
    return is_comparable(&file->model, one) ||
           yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("this", "what it is compared with, in such a unit"));
}

bool model_settle_days(vd_model_file *file)
{
    const vd_intervals *intervals = file->model.intervals;
    if (intervals == NULL) {
        return true;
    }
    vd_amount *amounts = g_new0(vd_amount, intervals->formula_count + 1u);
    void *room = g_malloc0(vd_set_size(&file->model));
    vd_set set;
    vd_set_start(&set, &file->model, room, vd_set_size(&file->model));
    vd_intervals_amounts(&set, amounts);
    bool fine = interval_check_limits(file, amounts);
    for (guint i = 0; i < file->day_numbers->len; i++) {
        fine = settle_number(file, amounts, &g_array_index(file->day_numbers, pending, i)) && fine;
    }
    g_free(room);
    g_free(amounts);
    return fine;
}
