/* SPDX-License-Identifier: MIT
 * One day, second by second: what holds and what happens, as rows to be drawn. */
#include "intervals.h"

#include <string.h>

/* A row being gathered. */
typedef struct gathering {
    uint16_t item, k; /* VD_NONE: the item as a whole */
    GArray *marks, *spans;
    uint64_t expired; /* of the case, so far */
    bool holds;
    day_row row;
} gathering;

static void add_gathering(GArray *rows, const played *p, uint16_t item, uint16_t k)
{
    const vd_item *about = &p->intervals->items[item];
    const char *label = k != VD_NONE ? about->counter->cases[k].label : "";
    gathering g = {.item = item, .k = k};
    g.marks = g_array_new(FALSE, FALSE, sizeof(uint32_t));
    g.spans = g_array_new(FALSE, FALSE, sizeof(vd_day_span));
    g.row.label = label[0] != '\0' ? label : vd_item_called(about);
    g_array_append_val(rows, g);
}

/* Facts first, then cases, then other events; only those that people have a name for. */
static GArray *rows_of(const played *p)
{
    GArray *rows = g_array_new(FALSE, FALSE, sizeof(gathering));
    for (uint16_t i = 0; i < p->intervals->item_count; i++) {
        if (vd_item_is_fact(&p->intervals->items[i]) && p->intervals->items[i].label[0] != '\0') {
            add_gathering(rows, p, i, VD_NONE);
        }
    }
    for (uint16_t i = 0; i < p->intervals->item_count; i++) {
        const vd_counter *counter = p->intervals->items[i].counter;
        for (uint8_t k = 0; counter != NULL && k < counter->case_count; k++) {
            add_gathering(rows, p, i, k);
        }
    }
    for (uint16_t i = 0; i < p->intervals->item_count; i++) {
        const vd_item *item = &p->intervals->items[i];
        if (vd_item_is_event(item) && item->counter == NULL && item->label[0] != '\0') {
            add_gathering(rows, p, i, VD_NONE);
        }
    }
    return rows;
}

/* Whether it holds from now on: a fact, or a case of several that rules. */
static bool is_so(const gathering *g, const vd_item *item, const vd_course *course)
{
    return vd_item_is_fact(item)
               ? vd_course_holds(course, g->item)
               : g->k != VD_NONE && item->counter->case_count > 1 && vd_course_rules(course, g->item) == g->k;
}

/* What a second adds to a row. */
static void look_at(gathering *g, const played *p, const vd_course *course, uint32_t second, bool counts)
{
    const vd_item *item = &p->intervals->items[g->item];
    bool holds = is_so(g, item, course);
    if (holds != g->holds) {
        if (holds) {
            vd_day_span span = {second, VD_DAY_SECONDS};
            g_array_append_val(g->spans, span);
        } else {
            g_array_index(g->spans, vd_day_span, g->spans->len - 1).to = second;
        }
        g->holds = holds;
    }
    if (vd_item_is_fact(item)) {
        return;
    }
    uint64_t expired = g->k != VD_NONE ? vd_course_case(course, g->item, g->k).expired : 0;
    if (counts && (g->k != VD_NONE ? expired > g->expired : vd_course_happened(course, g->item))) {
        g_array_append_val(g->marks, second);
    }
    g->expired = expired;
}

/* Spans and marks that came before the day are none of it: what holds at its begin holds from 0 on. */
static void begin_day(gathering *g)
{
    vd_day_span span = {0, VD_DAY_SECONDS};
    g_array_set_size(g->spans, 0);
    if (g->holds) {
        g_array_append_val(g->spans, span);
    }
}

day_row *day_rows(const played *p, uint16_t day, size_t *count)
{
    int64_t from = (int64_t)day * VD_DAY_SECONDS, to = from + VD_DAY_SECONDS;
    vd_course_plan plan = p->plan;
    vd_course_storage room;
    vd_course *course = vd_course_in(&room);
    plan.uncounted = (uint32_t)from;
    plan.counted = VD_DAY_SECONDS;
    size_t size = vd_course_size(&plan);
    void *memory = g_malloc0(size);
    GArray *all = rows_of(p);
    bool begun = false;
    vd_course_start(course, &plan, memory, size, NULL);
    while (vd_course_next(course) && vd_course_time(course) < to) {
        int64_t time = vd_course_time(course);
        bool inside = time >= from;
        for (guint i = 0; i < all->len && inside && !begun; i++) {
            begin_day(&g_array_index(all, gathering, i));
        }
        begun = begun || inside;
        for (guint i = 0; i < all->len; i++) {
            look_at(&g_array_index(all, gathering, i), p, course, inside ? (uint32_t)(time - from) : 0, inside);
        }
    }
    day_row *rows = g_new0(day_row, all->len + 1);
    *count = 0;
    for (guint i = 0; i < all->len; i++) {
        gathering *g = &g_array_index(all, gathering, i);
        day_row *row = &rows[*count];
        *row = g->row;
        row->mark_count = g->marks->len;
        row->span_count = g->spans->len;
        row->marks = (uint32_t *)(void *)g_array_free(g->marks, FALSE);
        row->spans = (vd_day_span *)(void *)g_array_free(g->spans, FALSE);
        if (row->mark_count + row->span_count == 0) { /* nothing to be seen */
            g_free(row->marks);
            g_free(row->spans);
        } else {
            (*count)++;
        }
    }
    g_array_free(all, TRUE);
    g_free(memory);
    return rows;
}

void day_rows_free(day_row *rows, size_t count)
{
    for (size_t i = 0; i < count; i++) {
        g_free(rows[i].marks);
        g_free(rows[i].spans);
    }
    g_free(rows);
}

/* ---- As text ---- */

#define MANY 48u /* columns of a day, half an hour each */
#define FEW 24u

static char *strip_of(const day_row *row, unsigned columns)
{
    uint32_t each = VD_DAY_SECONDS / columns;
    char *strip = g_strnfill(columns, '.');
    for (size_t k = 0; k < row->span_count; k++) {
        for (uint32_t at = row->spans[k].from / each; at < columns && at * each < row->spans[k].to; at++) {
            strip[at] = '=';
        }
    }
    for (size_t k = 0; k < row->mark_count; k++) {
        uint32_t at = row->marks[k] / each;
        strip[at] = strip[at] == '|' || strip[at] == '#' ? '#' : '|';
    }
    return strip;
}

/* "Reports 65" */
static char *label_of(const day_row *row)
{
    return row->mark_count > 0 ? g_strdup_printf("%s %zu", row->label, row->mark_count) : g_strdup(row->label);
}

void day_rows_show(const cli *c, const char *title, const day_row *rows, size_t count)
{
    static const char *const titles[] = {"", "", NULL};
    size_t width = width_of(stdout), labels = 0;
    char **called = g_new0(char *, count + 1);
    for (size_t i = 0; i < count; i++) {
        called[i] = label_of(&rows[i]);
        labels = MAX(labels, (size_t)g_utf8_strlen(called[i], -1));
    }
    bool many = width == 0 || width >= labels + MANY + 4u;
    sheet s = sheet_start(c, stdout, titles);
    sheet_heading(&s, title);
    sheet_row(&s, "Hour", many ? "0-----3-----6-----9-----12----15----18----21----" : "0--3--6--9--12-15-18-21-", NULL);
    for (size_t i = 0; i < count; i++) {
        char *strip = strip_of(&rows[i], many ? MANY : FEW);
        sheet_row(&s, called[i], strip, NULL);
        g_free(strip);
    }
    sheet_print(&s);
    lead_print(c, TONE_FAINT, "-", "  ", "| once, # more often, = while it holds or rules");
    g_strfreev(called);
}

void day_rows_draw(cli *c, const char *title, const day_row *rows, size_t count)
{
    vd_day_row *drawn = g_new0(vd_day_row, count + 1);
    char **times = g_new0(char *, count + 1), *picture = NULL;
    size_t length = 0;
    vd_fault fault = {0};
    for (size_t i = 0; i < count; i++) {
        times[i] = rows[i].mark_count > 0 ? g_strdup_printf("%zu", rows[i].mark_count) : g_strdup("");
        drawn[i] = (vd_day_row){.label = rows[i].label,
                                .times = times[i],
                                .marks = rows[i].marks,
                                .spans = rows[i].spans,
                                .mark_count = rows[i].mark_count,
                                .span_count = rows[i].span_count};
    }
    vd_day_draw(title, drawn, count, picture_is_svg(c), &picture, &length, &fault);
    picture_keep(c, picture, length, &fault);
    g_free(picture);
    g_strfreev(times);
    g_free(drawn);
}
