/* SPDX-License-Identifier: MIT
 * What is seen and heard of a round: stages while it runs, a line for each unit, who is next, a table at the end. */
#include "round.h"

#include <string.h>

#define EACH 100000u /* microseconds between two drawings */

void round_turn_to(round *r, round_job *job)
{
    voice_turn(r->c, &r->now, job != NULL ? &job->told : &r->whole);
}

void round_ring(const round *r, bool well)
{
    if (r->c->live_messages && !r->c->options.quiet) {
        fputs(well ? "\a" : "\a\a", stderr);
        fflush(stderr);
    }
}

void round_tell(round *r, bool needs, const char *format, ...)
{
    va_list arguments;
    va_start(arguments, format);
    char *words = g_strdup_vprintf(format, arguments);
    va_end(arguments);
    if (needs) {
        prose_print_behind(stderr, r->c->colour_messages, TONE_BAD, "NEEDS YOU:", "", words);
    } else {
        message(r->c, "%s", words);
    }
    g_free(words);
    round_ring(r, !needs);
    r->calls = true;
}

/* ---- While it runs ---- */

static char *padded(const char *first, size_t wide, const char *second, size_t wider)
{
    size_t one = columns_of(first), other = columns_of(second);
    return g_strdup_printf("%s%*s  %s%*s", first, (int)(wide > one ? wide - one : 0), "", second,
                           (int)(wider > other ? wider - other : 0), "");
}

void round_lay_out(round *r)
{
    for (size_t i = 0; i < r->row_count; i++) {
        const vd_roster_unit *about = &r->rows[i].about;
        const char *serial = about->serial[0] != '\0' ? about->serial : about->code;
        r->widths[0] = MAX(r->widths[0], MIN(columns_of(serial), 20));
        r->widths[1] = MAX(r->widths[1], MIN(columns_of(about->name), 20));
    }
}

/* "QD-24003  Ling 2" in columns of their own. */
static char *name_words(const round *r, const round_row *row)
{
    const char *serial = row->serial != NULL && row->serial[0] != '\0' ? row->serial
                         : row->about.serial[0] != '\0'                ? row->about.serial
                                                                       : row->about.code;
    return padded(serial[0] != '\0' ? serial : "-", r->widths[0], row->about.name, r->widths[1]);
}

void round_show_line(round *r, const round_job *job)
{
    const cli *c = r->c;
    const round_row *row = job->row;
    tone t = row->state == ROW_DONE && row->worst == VD_CLASS_FINE ? TONE_GOOD
             : row->state == ROW_DONE                              ? TONE_DOUBT
                                                                   : TONE_BAD;
    double seconds = (double)(job->v.ended - job->v.began) / 1000000.0;
    char *name = name_words(r, row), *at = NULL;
    bool moved = job->address != row->address && row->address != 0;
    at = row->address == 0 ? g_strdup("")
         : moved           ? g_strdup_printf("  %u -> %u", job->address, row->address)
                           : g_strdup_printf("  at %u", row->address);
    char *line = g_strdup_printf("%s%-12s  %s%s%s  %.1f s\n", name, at, tone_on(c->colour, t), row->words,
                                 tone_off(c->colour, t), seconds);
    if (!c->options.json) {
        screen_put(stdout, line);
        fflush(stdout);
    }
    g_free(line);
    g_free(at);
    g_free(name);
}

void round_show_stages(round *r)
{
    uint64_t now = r->loop.kind->now(r->loop.ground);
    if (!r->c->live_messages || now - r->drawn < EACH) {
        return;
    }
    r->drawn = now;
    GString *lines = g_string_new("");
    for (size_t i = 0; i < r->station_count; i++) {
        const station *s = &r->stations[i];
        for (guint k = 0; k < s->jobs->len; k++) {
            const round_job *job = g_ptr_array_index(s->jobs, k);
            if (job->begun && !job->over) {
                char *name = name_words(r, job->row), *stage = stage_words(&job->v);
                vd_progress progress = vd_visit_progress(job->v.engine);
                g_string_append_printf(lines, "%s%s  %u of %u  %s", lines->len > 0 ? "\n" : "", name, progress.number,
                                       progress.of, stage);
                g_free(stage);
                g_free(name);
            }
        }
    }
    bool waits = lines->len == 0 && r->next != NULL;
    progress_show(r->c, waits ? r->next : lines->str);
    g_string_free(lines, TRUE);
}

/* ---- Who is next ---- */

/* Where it is to be plugged in: one port by name and label, of several any. Free it. */
static char *where_words(const round *r)
{
    GPtrArray *names = g_ptr_array_new_with_free_func(g_free);
    for (size_t i = 0; i < r->station_count; i++) {
        const site *at = r->stations[i].at;
        g_ptr_array_add(names,
                        at->label[0] != '\0' ? g_strdup_printf("%s (%s)", at->label, at->name) : g_strdup(at->name));
    }
    char *words = names_words(r->c, names);
    char *where =
        g_strdup_printf("Plug it in%s%s%s.", names->len == 0 ? "" : " at ", names->len > 1 ? "one of: " : "", words);
    g_ptr_array_free(names, TRUE);
    g_free(words);
    return where;
}

void round_call_next(round *r)
{
    bool swept = true;
    for (size_t i = 0; i < r->station_count; i++) {
        swept = swept && (r->stations[i].sweeps > 1 || r->stations[i].lost);
    }
    bool quiet = r->ended || r->awaits || r->held != NULL || round_is_at_work(r) || !swept;
    const round_row *next = r->calls && !quiet ? rows_next(r) : NULL;
    if (next == NULL) {
        return;
    }
    char *who = r->numbers && next->state == ROW_WAITING ? g_strdup_printf("the unit for address %u", next->wanted)
                                                         : row_words(next);
    char *where = next->state == ROW_LEFT ? g_strdup("Put it right, then plug it in again.") : where_words(r);
    const char *hand = next->about.model->listening.hand.hold > 0 ? next->about.model->listening.hand.help : "";
    g_free(r->next);
    r->next = g_strdup_printf("Next: %s. %s%s%s", who, where, hand[0] != '\0' ? " " : "", hand);
    if (!r->c->live_messages) { /* else it stands below all lines, until somebody comes */
        message(r->c, "%s", r->next);
    }
    g_free(where);
    g_free(who);
    r->calls = false;
    if (r->h.bench != NULL && vd_sim_ask_hands(vd_bench_sim(r->h.bench), NULL) && next != r->called) {
        r->news = r->loop.kind->now(r->loop.ground);
    }
    r->called = next;
}

/* ---- At the end ---- */

#define WELL 4
/* How bad it is, for an order with the worst first. */
static int badness(const round_row *row)
{
    static const int order[] = {[ROW_CUT_OFF] = 0, [ROW_LEFT] = 1,      [ROW_AT_WORK] = 1, [ROW_WAITING] = 2,
                                [ROW_DONE] = WELL, [ROW_BEFORE] = WELL, [ROW_TAKEN] = WELL};
    return row->state == ROW_DONE && row->worst != VD_CLASS_FINE ? 3 : order[row->state];
}

static void add_row(sheet *rows, const round_row *row)
{
    static const char *const words[] = {[ROW_WAITING] = "not seen",
                                        [ROW_AT_WORK] = "not verified",
                                        [ROW_CUT_OFF] = "",
                                        [ROW_LEFT] = "",
                                        [ROW_DONE] = "",
                                        [ROW_BEFORE] = "done before"};
    const char *serial = row->about.serial[0] != '\0' ? row->about.serial : row->serial != NULL ? row->serial : "";
    char *at = row->address != 0 ? g_strdup_printf("at %u", row->address) : g_strdup("");
    int bad = badness(row);
    sheet_row(rows, serial[0] != '\0' ? serial : row->about.code, row->about.name, at,
              row->words != NULL ? row->words : words[row->state], NULL);
    sheet_tone(rows, 3, bad < 2 ? TONE_BAD : TONE_DOUBT);
    g_free(at);
}

/* Of rows that are only numbers, those count for which somebody came. */
static bool counts(const round *r, const round_row *row)
{
    return !r->numbers || (row->state != ROW_WAITING && row->state != ROW_TAKEN);
}

void round_show_rows(round *r)
{
    static const char *const titles[] = {"", "", "", "", NULL};
    sheet rows = sheet_start(r->c, stdout, titles);
    unsigned done = 0, before = 0, all = 0;
    json_t *list = json_array();
    for (size_t i = 0; i < r->row_count; i++) {
        const round_row *row = &r->rows[i];
        if (!counts(r, row)) {
            continue;
        }
        all++;
        done += row->state == ROW_DONE;
        before += row->state == ROW_BEFORE;
        json_array_append_new(list, json_pack("{s:i, s:s, s:s, s:s}", "row", (int)row->about.number, "serial",
                                              row->about.serial[0] != '\0' ? row->about.serial
                                              : row->serial != NULL        ? row->serial
                                                                           : "",
                                              "name", row->about.name, "state", row_state_word(row)));
    }
    for (int bad = 0; bad < WELL; bad++) { /* of those that are well each had its line */
        for (size_t i = 0; i < r->row_count; i++) {
            if (badness(&r->rows[i]) == bad && counts(r, &r->rows[i])) {
                add_row(&rows, &r->rows[i]);
            }
        }
    }
    json_object_set_new(r->c->result, "rows", list);
    unsigned left = all - done - before;
    char *earlier = before > 0 ? g_strdup_printf(", %u before", before) : g_strdup("");
    char *rest = g_strdup_printf("%u of %u done now%s, %u left.", done, all, earlier, left);
    if (r->c->options.json) {
        sheet_drop(&rows);
    } else {
        screen_put(stdout, "\n");
        sheet_print(&rows);
        lead_print(r->c, left == 0 ? TONE_GOOD : TONE_BAD, left == 0 ? "ROUND DONE:" : "NOT ALL DONE:", "", rest);
    }
    g_free(rest);
    g_free(earlier);
}
