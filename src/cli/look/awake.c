/* SPDX-License-Identifier: MIT
 * When a unit is awake: what wakes it, for how long, and what goes on or is cut off while it sleeps. */
#include "intervals.h"

#include <string.h>

/* What may rule or happen: a case by its label, what has no cases by its own. */
typedef struct doing {
    const char *label;
    bool asleep; /* while it sleeps, too */
} doing;

static void add_doing(GArray *all, const char *label, bool asleep)
{
    const doing one = {label, asleep};
    g_array_append_val(all, one);
}

/* All that may be on some day, and whether it may be while the unit sleeps. */
static GArray *doings(const played *p, const uint8_t *asleep)
{
    GArray *all = g_array_new(FALSE, FALSE, sizeof(doing));
    for (uint16_t i = 0; i < p->intervals->item_count; i++) {
        const vd_item *item = &p->intervals->items[i];
        if (!vd_item_is_event(item) || p->may[i] == 0 || item->label[0] == '\0') {
            continue;
        }
        if (item->kind != VD_ITEM_COUNTER || item->counter->case_count == 1) {
            add_doing(all, item->label, asleep[i] != 0);
            continue;
        }
        for (uint8_t k = 0; k < item->counter->case_count; k++) {
            if (vd_case_never(&p->plan, p->may, i, k).why == VD_NEVER_NOT) {
                bool rules = asleep[i] != 0 && vd_case_never(&p->plan, asleep, i, k).why == VD_NEVER_NOT;
                add_doing(all, item->counter->cases[k].label, rules);
            }
        }
    }
    return all;
}

/* "\"Parked\", \"Reports\"" */
static char *names(const GArray *all, bool asleep)
{
    GString *words = g_string_new("");
    for (guint n = 0; n < all->len; n++) {
        const doing *one = &g_array_index(all, doing, n);
        if (one->asleep == asleep) {
            g_string_append_printf(words, "%s\"%s\"", words->len > 0 ? ", " : "", one->label);
        }
    }
    return g_string_free(words, FALSE);
}

static char *fact_words(const played *p, uint16_t fact)
{
    char text[256];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_interval_say_fact(p->set, p->intervals->items, fact, &writer);
    return g_strdup(text);
}

static char *held_words(const played *p, uint16_t fact)
{
    uint64_t least = vd_played_least(&p->runs, fact).held, most = vd_played_most(&p->runs, fact).held;
    const char *held = duration_text((int64_t)(most * VD_DAY_SECONDS / p->plan.counted) * 1000);
    return most == 0 ? g_strdup((p->may[fact] & 1u) != 0 ? "never on these days" : "never")
                     : g_strconcat(least < most ? "up to " : "", held, NULL);
}

static uint8_t *while_asleep(const played *p, uint16_t awake)
{
    uint8_t *asleep = g_malloc(p->intervals->item_count);
    memcpy(asleep, p->may, p->intervals->item_count);
    vd_intervals_asleep(&p->plan, awake, asleep);
    return asleep;
}

static void show_asleep(const cli *c, const GArray *all)
{
    char *on = names(all, true), *off = names(all, false);
    char *goes_on = g_strdup_printf("While it sleeps goes on: %s.", on[0] != '\0' ? on : "nothing");
    char *cut_off = g_strdup_printf("Cut off then: %s.", off);
    lead_print(c, TONE_FAINT, "-", "  ", goes_on);
    if (off[0] != '\0') {
        lead_print(c, TONE_FAINT, "-", "  ", cut_off);
    }
    g_free(cut_off);
    g_free(goes_on);
    g_free(off);
    g_free(on);
}

void awake_show(const cli *c, const played *p)
{
    static const char *const titles[] = {"", "", NULL};
    uint16_t awake = vd_index(p->intervals->awake);
    if (awake == VD_NONE) {
        return;
    }
    const vd_item *item = &p->intervals->items[awake];
    sheet s = sheet_start(c, stdout, titles);
    char *held = held_words(p, awake), *title = g_strdup_printf("%s, a day: %s", vd_item_called(item), held);
    sheet_heading(&s, title);
    for (uint8_t k = 0; k < item->of_count; k++) {
        char *words = fact_words(p, item->of[k]), *how_long = held_words(p, item->of[k]);
        sheet_row(&s, words, how_long, NULL);
        g_free(how_long);
        g_free(words);
    }
    sheet_print(&s);
    if ((p->may[awake] & 2u) != 0) {
        uint8_t *asleep = while_asleep(p, awake);
        GArray *all = doings(p, asleep);
        show_asleep(c, all);
        g_array_free(all, TRUE);
        g_free(asleep);
    }
    g_free(title);
    g_free(held);
}

static json_t *seconds_json(const played *p, uint16_t fact)
{
    return json_pack("[I, I]", (json_int_t)vd_played_least(&p->runs, fact).held,
                     (json_int_t)vd_played_most(&p->runs, fact).held);
}

void awake_json(const cli *c, const played *p)
{
    uint16_t awake = vd_index(p->intervals->awake);
    if (awake == VD_NONE) {
        return;
    }
    const vd_item *item = &p->intervals->items[awake];
    json_t *by = json_array(), *on = json_array(), *off = json_array();
    for (uint8_t k = 0; k < item->of_count; k++) {
        char *words = fact_words(p, item->of[k]);
        json_array_append_new(by, json_pack("{s:s, s:o}", "words", words, "seconds", seconds_json(p, item->of[k])));
        g_free(words);
    }
    uint8_t *asleep = while_asleep(p, awake);
    GArray *all = doings(p, asleep);
    for (guint n = 0; n < all->len && (p->may[awake] & 2u) != 0; n++) {
        const doing *one = &g_array_index(all, doing, n);
        json_array_append_new(one->asleep ? on : off, json_string(one->label));
    }
    json_object_set_new(
        c->result, "awake",
        json_pack("{s:o, s:o, s:o, s:o}", "seconds", seconds_json(p, awake), "by", by, "goes-on", on, "cut-off", off));
    g_array_free(all, TRUE);
    g_free(asleep);
}
