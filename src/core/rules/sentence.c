/* SPDX-License-Identifier: MIT
 * The sentence of a rule that is broken. */
#include "../expression/expression.h"

/* What lies beyond midnight is a time of another day. */
static void add_time_of_day(vd_value value, vd_writer *writer)
{
    int64_t day = value.number / 86400 - (value.number % 86400 < 0);
    value.number -= day * 86400;
    vd_words_time_of_day.print(NULL, &value, writer);
    vd_writer_add(writer, day > 0 ? " of a later day" : day < 0 ? " of an earlier day" : "");
}

void vd_term_show(const vd_set *set, const vd_set *before, const vd_term *shown, uint16_t item, vd_writer *writer)
{
    const vd_kind *kind = &shown->kind;
    uint16_t setting = vd_spot_in(kind->spot, item);
    if (setting != VD_NONE) {
        vd_value value = vd_set_get(set, setting);
        if (vd_set_exists(set, setting) == VD_FAILS) {
            vd_writer_add(writer, vd_set_lacks(set, setting) ? "absent" : "idle");
        } else {
            vd_value_show(&set->model->settings[setting], &value, writer);
        }
        return;
    }
    vd_result result = vd_run(set, before, &shown->code, item);
    vd_measure second = vd_measure_find(set->model, "s");
    vd_measure measure = vd_measure_find(set->model, kind->sign != NULL ? kind->sign : "");
    vd_value value = {.number = result.ratio.number, .text = result.text, .length = result.length};
    if (!result.known) {
        vd_writer_add(writer, result.none ? "none" : "not known");
    } else if (kind->is == VD_IS_TRUTH) {
        vd_writer_add(writer, result.ratio.number != 0 ? "on" : "off");
    } else if (kind->is == VD_IS_TEXT) {
        vd_print_characters(NULL, &value, writer);
    } else if (kind->is == VD_IS_DATE) {
        vd_words_date_time.print(NULL, &value, writer);
    } else if (kind->is == VD_IS_CLOCK) {
        add_time_of_day(value, writer);
    } else if (vd_dimension_equal(&kind->dimension, &second.dimension)) {
        vd_ratio milliseconds = {0, 1};
        vd_ratio_multiply(result.ratio, (vd_ratio){1000, 1}, &milliseconds);
        int64_t whole = milliseconds.number / milliseconds.below;
        /* What takes minutes and more is not told in milliseconds. */
        vd_print_duration(whole >= 60000 || whole <= -60000 ? whole / 1000 * 1000 : whole, writer);
    } else {
        vd_ratio in_unit = result.ratio;
        vd_ratio_divide(result.ratio, measure.scale, &in_unit);
        vd_ratio_print(in_unit, writer);
        vd_writer_add(writer, kind->sign != NULL && kind->sign[0] != '\0' ? " " : "");
        vd_writer_add(writer, kind->sign != NULL ? kind->sign : "");
    }
}

typedef struct sentence {
    const vd_set *set, *before;
    const vd_term *next; /* they stand in the order of the sentence */
    uint16_t item;
} sentence;

static bool fill_next(void *about, const char *name, size_t length, vd_writer *writer)
{
    sentence *s = about;
    (void)name, (void)length;
    vd_term_show(s->set, s->before, s->next++, s->item, writer);
    return true;
}

void vd_rule_say(const vd_set *set, const vd_set *before, uint16_t index, uint16_t item, vd_writer *writer)
{
    const vd_rule *rule = &set->model->rules[index];
    sentence s = {set, before, &set->model->book->shown[set->model->book->rules[index].shown], item};
    if (rule->say == NULL || rule->say[0] == '\0') {
        vd_writer_add(writer, "this must hold: ");
        vd_writer_add(writer, rule->must);
        return;
    }
    vd_writer_add_filled(writer, rule->say, fill_next, &s);
}
