/* SPDX-License-Identifier: MIT
 * verdite plan --against: what the values of one setting make of the days, the present and a wanted one marked. */
#include "commands.h"
#include "../look/goal.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

#define ROWS 10u /* samples, besides the present and the wanted value */
#define BAR 20   /* columns */

/* One value. */
typedef struct sample {
    vd_value value;
    int64_t count;
    const char *mark;
    char *words[4];  /* of the events, the data, the battery, the memory; NULL: the model says nothing of it */
    vd_ratio worth;  /* of the worse end of what is drawn as a bar */
    int64_t measure; /* as a whole number */
} sample;

static gint by_count(gconstpointer a, gconstpointer b)
{
    int64_t one = ((const sample *)a)->count, other = ((const sample *)b)->count;
    return (one > other) - (one < other);
}

static void add_sample(GArray *samples, const vd_meaning *meaning, int64_t count, const char *mark)
{
    for (guint i = 0; i < samples->len; i++) {
        sample *there = &g_array_index(samples, sample, i);
        if (there->count == count) {
            there->mark = mark[0] != '\0' ? mark : there->mark;
            return;
        }
    }
    sample one = {.value = vd_value_from_count(meaning, count), .count = count, .mark = mark};
    g_array_append_val(samples, one);
}

/* Times that people think of, seconds. */
static const int32_t round_times[] = {10,  20,   30,   60,   120,   180,   300,   600,
                                      900, 1800, 3600, 7200, 10800, 21600, 43200, 86400};

/* Each about as many times as much as the one before, since intervals are thought of so; the ends among them. */
static void add_row(GArray *samples, const vd_meaning *meaning)
{
    int64_t steps = (meaning->max - meaning->min) / meaning->step;
    for (unsigned k = 0; k <= ROWS; k++) {
        int64_t at = k > 0 ? steps : 0;
        for (unsigned less = k; less > 0 && less < ROWS; less++) {
            at = at * 5 / 9; /* ten of them make a span of about 350 */
        }
        add_sample(samples, meaning, meaning->min + at * meaning->step, "");
    }
}

static GArray *samples_of(const vd_setting *setting, const vd_meaning *meaning, int64_t now, int64_t wanted)
{
    GArray *samples = g_array_new(FALSE, FALSE, sizeof(sample));
    bool times = setting->traits == &vd_type_duration && setting->tick > 0;
    for (size_t k = 0; k < G_N_ELEMENTS(round_times) && times; k++) {
        int64_t milliseconds = (int64_t)round_times[k] * 1000, count = milliseconds / setting->tick;
        if (milliseconds % setting->tick == 0 && count > meaning->min && count < meaning->max &&
            (count - meaning->min) % meaning->step == 0) {
            add_sample(samples, meaning, count, "");
        }
    }
    if (samples->len < 3) {
        add_row(samples, meaning);
    }
    add_sample(samples, meaning, meaning->min, "");
    add_sample(samples, meaning, meaning->min + (meaning->max - meaning->min) / meaning->step * meaning->step, "");
    add_sample(samples, meaning, now, "now");
    if (wanted != INT64_MIN) {
        add_sample(samples, meaning, wanted, "wanted");
    }
    g_array_sort(samples, by_count);
    return samples;
}

/* What the bar is about: the battery, else data, else nothing. */
static vd_goal_kind drawn_kind(const vd_model *model)
{
    const vd_goal battery = {.kind = VD_GOAL_BATTERY};
    return vd_goal_belongs(model->intervals, model->intervals->costs, &battery) ? VD_GOAL_BATTERY : VD_GOAL_DATA;
}

/* A store that nothing empties: for how long it does is what a logger is asked. */
static bool only_fills(const vd_intervals *intervals)
{
    bool fills = false;
    for (uint16_t i = 0; i < intervals->item_count; i++) {
        fills = fills || (intervals->items[i].kind == VD_ITEM_STORE && intervals->items[i].of_count == 1);
    }
    return fills;
}

static char *lasts(const vd_set *set, const day_list *days)
{
    int64_t full = goal_memory_lasts(set, days);
    return g_strdup(full < 0 ? "over 10 years" : duration_text(full * 1000));
}

static void play_sample(sample *s, const vd_set *set, uint16_t setting, const day_list *days, vd_set *room)
{
    const vd_goal goal = {.kind = (uint8_t)drawn_kind(set->model)};
    played p;
    vd_set_put(room, setting, &s->value);
    played_start(&p, room, days);
    uint16_t event = goal_event(set->model, &goal);
    s->words[0] = event != VD_NONE ? played_item_words(&p, event) : NULL;
    s->words[1] = played_cost_words(&p, PLAYED_DATA);
    s->words[2] = played_cost_words(&p, PLAYED_BATTERY);
    s->words[3] = only_fills(p.intervals) ? lasts(room, days) : NULL;
    if (vd_goal_belongs(p.intervals, p.plan.costs, &goal) && vd_goal_worth(&goal, &p.runs, &s->worth)) {
        s->measure = ABS(s->worth.number / s->worth.below);
    }
    played_free(&p);
}

static void show(const cli *c, const vd_set *set, uint16_t setting, GArray *samples)
{
    const vd_setting *about = &set->model->settings[setting];
    const vd_goal goal = {.kind = (uint8_t)drawn_kind(set->model)};
    bool battery = goal.kind == VD_GOAL_BATTERY,
         bar = vd_goal_belongs(set->model->intervals, set->model->intervals->costs, &goal);
    uint16_t event = goal_event(set->model, &goal);
    const char *titles[] = {about->words->key,
                            "",
                            event != VD_NONE ? vd_item_called(&set->model->intervals->items[event]) : "",
                            battery ? "battery"
                            : bar   ? "data a month"
                                    : "",
                            only_fills(set->model->intervals) ? "memory lasts" : "",
                            bar ? "at worst" : "",
                            NULL};
    sheet s = sheet_start(c, stdout, titles);
    int64_t most = 1;
    for (guint i = 0; i < samples->len; i++) {
        most = MAX(most, g_array_index(samples, sample, i).measure);
    }
    for (guint i = 0; i < samples->len; i++) {
        const sample *one = &g_array_index(samples, sample, i);
        const char *words = one->words[battery ? 2 : 1];
        char *drawn = g_strnfill((gsize)((one->measure * BAR + most - 1) / most), '#');
        sheet_row(&s, value_text(about, &one->value), one->mark, one->words[0] != NULL ? one->words[0] : "",
                  words != NULL ? words : "", one->words[3] != NULL ? one->words[3] : "", drawn, NULL);
        g_free(drawn);
    }
    sheet_print(&s);
}

static json_t *samples_json(const vd_setting *about, GArray *samples)
{
    static const char *const keys[] = {"times", "data", "battery", "memory"};
    json_t *list = json_array();
    for (guint i = 0; i < samples->len; i++) {
        const sample *one = &g_array_index(samples, sample, i);
        json_t *row = json_pack("{s:o, s:s}", "value", value_json(about, &one->value), "mark", one->mark);
        for (unsigned k = 0; k < G_N_ELEMENTS(keys); k++) {
            if (one->words[k] != NULL) {
                json_object_set_new(row, keys[k], json_string(one->words[k]));
            }
        }
        json_array_append_new(list, row);
    }
    return list;
}

/* KEY, or KEY=VALUE for a wanted value. VD_NONE: reported. */
static uint16_t take_setting(cli *c, const vd_set *set, vd_meaning *meaning, int64_t *wanted)
{
    const char *words = c->options.against, *equals = strchr(words, '=');
    char *key = equals != NULL ? g_strndup(words, (gsize)(equals - words)) : g_strdup(words);
    uint16_t setting = meant_setting(set->model, key);
    vd_fault fault = {0};
    vd_typed typed;
    *wanted = INT64_MIN;
    if (setting == VD_NONE) {
        char *said = g_strdup_printf("Unknown setting \"%s\".", key);
        report_wrong_words(c, said, "Name the setting of an interval, such as report.every.");
        g_free(said);
    } else if (goal_values(set, setting, meaning) == 0 || meaning->choice_count > 0) {
        char *said = g_strdup_printf("%s has no row of values that can be tried.", key);
        report_wrong_words(c, said, "Name a number or a duration that is in use and known.");
        g_free(said);
        setting = VD_NONE;
    } else if (equals != NULL && (vd_value_parse(meaning, equals + 1, strlen(equals + 1), &typed, &fault) != VD_OK ||
                                  vd_value_check(meaning, &typed.value, &fault) != VD_OK ||
                                  vd_value_to_count(meaning, &typed.value, wanted, &fault) != VD_OK)) {
        report(c, &fault);
        c->worst = VD_CLASS_USAGE;
        setting = VD_NONE;
    }
    g_free(key);
    return setting;
}

vd_class against_show(cli *c, const vd_set *set, const day_list *days)
{
    vd_meaning meaning;
    int64_t wanted = INT64_MIN, now = 0;
    uint16_t setting = take_setting(c, set, &meaning, &wanted);
    played p;
    if (setting == VD_NONE) {
        return c->worst;
    }
    played_start(&p, set, days);
    if (played_is_known(c, &p)) {
        vd_value value = vd_set_get(set, setting);
        void *memory = g_malloc0(vd_set_size(set->model));
        vd_set room = *set;
        vd_value_to_count(&meaning, &value, &now, NULL);
        GArray *samples = samples_of(&set->model->settings[setting], &meaning, now, wanted);
        vd_set_start(&room, set->model, memory, vd_set_size(set->model));
        vd_set_copy(&room, set);
        for (guint i = 0; i < samples->len; i++) {
            play_sample(&g_array_index(samples, sample, i), set, setting, days, &room);
        }
        json_object_set_new(c->result, "model", json_string(set->model->key));
        json_object_set_new(c->result, "against", samples_json(&set->model->settings[setting], samples));
        if (!c->options.json) {
            show(c, set, setting, samples);
        }
        for (guint i = 0; i < samples->len; i++) {
            for (unsigned k = 0; k < G_N_ELEMENTS(g_array_index(samples, sample, i).words); k++) {
                g_free(g_array_index(samples, sample, i).words[k]);
            }
        }
        g_array_free(samples, TRUE);
        g_free(memory);
    }
    played_free(&p);
    return c->worst;
}
