/* SPDX-License-Identifier: MIT
 * What is known of the units of a roster, from visits that were kept: who is done, who differs, who was never seen. */
#include "round.h"

/* How a row stands, the worst first. */
typedef enum stand { STAND_CUT_OFF, STAND_CHANGED, STAND_OTHER, STAND_NEVER, STAND_DONE, STANDS } stand;

static const struct {
    const char *name, *words;
    tone t;
} stands[] = {[STAND_CUT_OFF] = {"cut-off", "cut off while it was written", TONE_BAD},
              [STAND_CHANGED] = {"changed", "changed since it was done", TONE_BAD},
              [STAND_OTHER] = {"differs", "met, but not as its row says", TONE_DOUBT},
              [STAND_NEVER] = {"never-seen", "never seen", TONE_DOUBT},
              [STAND_DONE] = {"done", "done", TONE_GOOD}};

static stand stand_of(const round_row *row)
{
    return row->state == ROW_BEFORE ? STAND_DONE
           : row->open              ? STAND_CUT_OFF
           : row->before != 0       ? STAND_CHANGED
           : row->seen != 0         ? STAND_OTHER
                                    : STAND_NEVER;
}

static void add(sheet *rows, json_t *list, const round_row *row)
{
    const vd_roster_unit *about = &row->about;
    stand how = stand_of(row);
    int64_t when = how == STAND_DONE ? row->before : row->seen;
    const char *serial = about->serial[0] != '\0' ? about->serial : about->code;
    char *at = how == STAND_DONE && row->address != 0 ? g_strdup_printf("at %u", row->address) : g_strdup("");
    char *time = when != 0 ? time_words(when) : g_strdup("");
    sheet_row(rows, serial[0] != '\0' ? serial : "-", about->name, at, stands[how].words, time, NULL);
    sheet_tone(rows, 3, stands[how].t);
    json_t *one = json_pack("{s:i, s:s, s:s, s:s, s:s}", "row", (int)about->number, "serial", about->serial, "code",
                            about->code, "name", about->name, "state", stands[how].name);
    if (when != 0) {
        json_object_set_new(one, "when", json_integer(when));
    }
    json_array_append_new(list, one);
    g_free(time);
    g_free(at);
}

vd_class round_status(cli *c, vd_roster *roster)
{
    static const char *const titles[] = {"", "", "", "", "", NULL};
    round r = {.c = c, .roster = roster};
    sheet rows = sheet_start(c, stdout, titles);
    json_t *list = json_array();
    size_t done = 0;
    rows_take(&r);
    for (int how = 0; how < STANDS; how++) {
        for (size_t i = 0; i < r.row_count; i++) {
            if (stand_of(&r.rows[i]) == (stand)how) {
                add(&rows, list, &r.rows[i]);
                done += how == STAND_DONE;
            }
        }
    }
    json_object_set_new(c->result, "rows", list);
    if (c->options.json) {
        sheet_drop(&rows);
    } else {
        sheet_print(&rows);
        bool all = done == r.row_count;
        char *rest = g_strdup_printf("%zu of %zu.", done, r.row_count);
        lead_print(c, all ? TONE_GOOD : TONE_BAD, "Done, as kept here:", "", rest);
        g_free(rest);
    }
    c->worst = MAX(c->worst, done == r.row_count ? VD_CLASS_FINE : VD_CLASS_NO);
    rows_free(&r);
    return c->worst;
}
