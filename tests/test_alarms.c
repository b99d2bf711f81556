/* SPDX-License-Identifier: MIT
 * Alarms against what docs/alarms.md says of them: random ones on random logs, beside a reference that looks afresh in
 * every millisecond. ALARM_CASES says how many. */
#include "fixtures.h"
#include "oracle/alarms.h"
#include "verdite/log.h"
#include "verdite/watch.h"

#include <glib/gstdio.h>
#include <stdlib.h>
#include <string.h>

static uint64_t seed = 1;

static int dice(int sides)
{
    seed = seed * 6364136223846793005u + 1442695040888963407u;
    return (int)((seed >> 33) % (unsigned)sides);
}

static const int few_times[] = {0, 1, 2, 5, 10, 20, 40};

static int some_time(void)
{
    return few_times[dice(G_N_ELEMENTS(few_times))];
}

/* ---- A case at random ---- */

/* The last channel is on or off, the others are numbers on a coarse grid, so that values meet limits exactly. */
static ref_test some_test(void)
{
    ref_test test = {.channel = dice(REF_CHANNELS), .per = 10, .beside = -1};
    test.way = test.channel == REF_CHANNELS - 1 ? REF_IS : dice(8);
    test.way = test.way == REF_IS && test.channel != REF_CHANNELS - 1 ? REF_ABOVE : test.way;
    test.limit = test.way == REF_IS ? dice(2) : dice(12) * 25;
    test.upper = test.limit + 50 + dice(6) * 25;
    test.release = test.way == REF_IS || dice(2) == 0 ? 0 : dice(4) * 25;
    test.release = test.way == REF_OUTSIDE && 2 * test.release > test.upper - test.limit ? 25 : test.release;
    test.within = 5 + dice(4) * 5;
    if (test.way >= REF_RISES) {
        test.limit = dice(8) * 25;
    } else if (test.way != REF_IS && dice(4) == 0) {
        test.beside = dice(REF_CHANNELS - 1);
        test.limit = dice(4) * 25;
        test.upper = test.limit + 50;
    }
    return test;
}

static void some_case(ref_case *c)
{
    memset(c, 0, sizeof *c);
    for (int i = 0; i < REF_CHANNELS; i++) {
        c->holds_for[i] = 10 + dice(5) * 10;
    }
    c->conditions[0] = some_test();
    c->conditions[1] = some_test();
    c->alarm_count = 1 + dice(REF_ALARMS);
    c->joint = c->alarm_count >= 2 ? dice(3) : 0;
    for (int i = 0; i < c->alarm_count; i++) {
        ref_alarm *alarm = &c->alarms[i];
        alarm->test = some_test();
        alarm->delay_in = some_time();
        alarm->delay_out = dice(2) == 0 ? 0 : some_time();
        alarm->hush = dice(3) == 0 ? some_time() : 0;
        alarm->longest = dice(4) == 0 ? some_time() : -1;
        alarm->rest = some_time();
        alarm->latches = dice(2) == 0;
        alarm->cleared_by = 1 + dice(7);
        alarm->always = dice(2) == 0;
        alarm->any = dice(2) == 0;
        alarm->holds = dice(2) == 0;
        alarm->condition_count = dice(3);
        alarm->conditions[0] = dice(2);
        alarm->conditions[1] = 1 - alarm->conditions[0];
    }
    c->row_count = 8 + dice(40);
    int time = 1000, step = 1 + dice(20);
    for (int i = 0; i < c->row_count; i++) {
        time += dice(12) == 0 ? 0 : dice(15) == 0 ? -dice(20) : dice(8) == 0 ? dice(60) : 1 + dice(step);
        c->rows[i].time = time;
        for (int k = 0; k < REF_CHANNELS; k++) {
            c->rows[i].cell[k] = dice(6) == 0 ? 0 : dice(12) == 0 ? 1 : 2;
            c->rows[i].value[k] = k == REF_CHANNELS - 1 ? dice(2) : dice(13) * 25;
        }
    }
    c->mark_count = dice(REF_MARKS);
    for (int i = 0, at = 1000; i < c->mark_count; i++) {
        at += dice(120);
        c->marks[i] = (ref_mark){at, dice(4) == 0 ? 0 : 1 << dice(3)};
    }
}

/* ---- The same as a model file ---- */

static void add_limit(GString *yaml, const ref_test *test, int limit)
{
    if (test->beside >= 0) {
        g_string_append_printf(yaml, "now.c%d + ", test->beside);
    }
    g_string_append_printf(yaml, "%d.%02d", limit / 100, limit % 100);
}

static void add_test(GString *yaml, const ref_test *test)
{
    static const char *const ways[] = {"above", "below", "outside", "inside", "is", "rises", "falls", "changes"};
    g_string_append_printf(yaml, "{%s: ", ways[test->way]);
    if (test->way == REF_IS) {
        g_string_append(yaml, test->limit != 0 ? "\"on\"" : "\"off\"");
    } else if (test->way == REF_OUTSIDE || test->way == REF_INSIDE) {
        g_string_append(yaml, "[");
        add_limit(yaml, test, test->limit);
        g_string_append(yaml, ", ");
        add_limit(yaml, test, test->upper);
        g_string_append(yaml, "]");
    } else {
        add_limit(yaml, test, test->limit);
    }
    if (test->way >= REF_RISES) {
        g_string_append_printf(yaml, ", per: %d ms, within: %d ms", test->per, test->within);
    }
    if (test->release > 0) {
        g_string_append_printf(yaml, ", release: %d.%02d", test->release / 100, test->release % 100);
    }
    g_string_append(yaml, "}");
}

static char *as_model(const ref_case *c)
{
    static const char *const clearers[] = {"button", "command", "supply"};
    GString *yaml = g_string_new("verdite-model: 1\nmodel: bell\ntitle: Bell\nsummary: A unit for tests.\n"
                                 "line: {baud: 9600, framing: 8N1}\naddress: {from: 1, to: 9, factory: 5}\n"
                                 "identify: {by: objects, maker: Quillmere, product: bell, serial-object: 0x80}\n"
                                 "times: {usual-reply: 8 ms, longest-reply: 200 ms}\n"
                                 "groups: [{key: now, label: Now}]\nsettings:\n");
    for (int i = 0; i < REF_CHANNELS - 1; i++) {
        g_string_append_printf(yaml,
                               "  - {key: now.c%d, label: C, type: decimal, decimals: 2, range: [0, 99], access: "
                               "read-only, at: {input: %d}}\n",
                               i, i);
    }
    g_string_append(yaml,
                    "  - {key: now.c3, label: C, type: truth, access: read-only, at: {discrete: 0}}\nchannels:\n");
    for (int i = 0; i < REF_CHANNELS; i++) {
        g_string_append_printf(yaml, "  - {key: c%d, label: C, reads: now.c%d, holds-for: %d ms}\n", i, i,
                               c->holds_for[i]);
    }
    g_string_append(yaml, "conditions:\n");
    for (int i = 0; i < 2; i++) {
        g_string_append_printf(yaml, "  - {key: k%d, watches: c%d, is: ", i, c->conditions[i].channel);
        add_test(yaml, &c->conditions[i]);
        g_string_append(yaml, "}\n");
    }
    g_string_append(yaml, "alarms:\n");
    for (int i = 0; i < c->alarm_count; i++) {
        const ref_alarm *alarm = &c->alarms[i];
        const char *comma = "";
        g_string_append_printf(yaml, "  - key: a%d\n    label: A\n    watches: c%d\n    when-it-is: ", i,
                               alarm->test.channel);
        add_test(yaml, &alarm->test);
        g_string_append_printf(yaml, "\n    delay: {in: %d ms, out: %d ms}\n    hush: %d ms\n", alarm->delay_in,
                               alarm->delay_out, alarm->hush);
        if (alarm->longest >= 0) {
            g_string_append_printf(yaml, "    longest-without: {for: %d ms, rest: %d ms}\n", alarm->longest,
                                   alarm->rest);
        }
        if (alarm->latches) {
            g_string_append(yaml, "    latches: {cleared-by: [");
            for (int k = 0; k < 3; k++) {
                if ((alarm->cleared_by >> k & 1) != 0) {
                    g_string_append_printf(yaml, "%s%s", comma, clearers[k]);
                    comma = ", ";
                }
            }
            g_string_append_printf(yaml, "], clears-always: %s}\n", alarm->always ? "yes" : "no");
        }
        if (alarm->condition_count > 0) {
            g_string_append_printf(yaml, "    only-while: {%s: [k%d", alarm->any ? "any" : "all", alarm->conditions[0]);
            if (alarm->condition_count > 1) {
                g_string_append_printf(yaml, ", k%d", alarm->conditions[1]);
            }
            g_string_append_printf(yaml, "], lost: %s}\n", alarm->holds ? "holds" : "releases");
        }
    }
    if (c->joint != 0) {
        g_string_append_printf(yaml, "  - key: both\n    label: B\n    %s: [a0, a1%s]\n",
                               c->joint == 1 ? "all-of" : "any-of", c->alarm_count > 2 ? ", a2" : "");
    }
    return g_string_free(yaml, FALSE);
}

/* ---- Both run, and compared ---- */

typedef struct heard {
    ref_event events[REF_EVENTS];
    int count, alarms;
    int64_t mets, counteds, numbers; /* sums over what events tell besides */
} heard;

static void listen(void *about, const vd_alarm_event *event)
{
    heard *h = about;
    h->mets += event->met != VD_NO_TIME ? event->met : 1;
    h->counteds += event->counted != VD_NO_TIME ? event->counted : 1;
    h->numbers += event->known ? event->number : 1;
    if (h->count < REF_EVENTS) {
        int alarm = event->alarm < h->alarms ? event->alarm : REF_ALARMS;
        h->events[h->count++] =
            (ref_event){alarm, event->what, (int)event->time, event->what == VD_ALARM_SOUNDS ? (int)event->since : 0};
    }
}

static void feed(vd_watch *watch, const ref_case *c)
{
    int mark = 0;
    for (int i = 0; i < c->row_count; i++) {
        const ref_row *row = &c->rows[i];
        for (; mark < c->mark_count && c->marks[mark].time <= row->time; mark++) {
            if (c->marks[mark].clears == 0) {
                vd_watch_restart(watch, c->marks[mark].time);
            } else {
                vd_watch_clear(watch, c->marks[mark].time, (uint8_t)c->marks[mark].clears);
            }
        }
        if (vd_watch_row(watch, row->time)) {
            for (uint16_t k = 0; k < REF_CHANNELS; k++) {
                int64_t scale = k == REF_CHANNELS - 1 ? 1 : 10000;
                if (row->cell[k] != 0) {
                    vd_watch_cell(watch, k, row->cell[k] == 2, row->value[k] * scale);
                }
            }
        }
    }
    vd_watch_end(watch);
}

static int event_order(const void *a, const void *b)
{
    const ref_event *p = a, *q = b;
    return p->alarm != q->alarm ? p->alarm - q->alarm : p->time - q->time; /* within one instant as they were told */
}

static void sorted(ref_event *events, int count)
{
    for (int i = 1; i < count; i++) { /* in place, and what is equal stays in order */
        ref_event one = events[i];
        int k = i;
        for (; k > 0 && event_order(&events[k - 1], &one) > 0; k--) {
            events[k] = events[k - 1];
        }
        events[k] = one;
    }
}

static void fail_with(const char *yaml, const ref_case *c, const heard *h, const ref_result *ref)
{
    fputs(yaml, stderr); /* longer than what is printed else */
    for (int i = 0; i < c->row_count; i++) {
        print_error("row %d:", c->rows[i].time);
        for (int k = 0; k < REF_CHANNELS; k++) {
            print_error(" %d/%d", c->rows[i].cell[k], c->rows[i].value[k]);
        }
        print_error("\n");
    }
    for (int i = 0; i < c->mark_count; i++) {
        print_error("mark %d: %d\n", c->marks[i].time, c->marks[i].clears);
    }
    for (int i = 0; i < h->count || i < ref->event_count; i++) {
        ref_event a = i < h->count ? h->events[i] : (ref_event){-1, -1, -1, -1};
        ref_event b = i < ref->event_count ? ref->events[i] : (ref_event){-1, -1, -1, -1};
        print_error("alarm %d: %d at %d since %d | %d: %d at %d since %d\n", a.alarm, a.what, a.time, a.since, b.alarm,
                    b.what, b.time, b.since);
    }
}

/* What a hundred cases came to in numbers that the two references do not have: sums of what is told of each alarm. */
typedef struct account {
    int64_t mets, counteds, numbers, sounded, stood, unjudged, pended, near, near_at, rates, crowded, lost, events;
} account;
static account accounts[20];

static void take_into_account(account *a, const vd_watch *watch, const heard *h)
{
    a->crowded += vd_watch_odd_rows(watch).crowded;
    a->events += h->count;
    a->mets += h->mets - (int64_t)h->count * vd_watch_begin(watch);
    a->counteds += h->counteds - (int64_t)h->count * vd_watch_begin(watch);
    a->numbers += h->numbers;
    for (uint16_t n = 0; n < vd_watch_count(watch); n++) {
        const vd_watched *one = vd_watch_alarm(watch, n);
        bool near = one->near_at != VD_NO_TIME, rate = near && one->near_rate.type != VD_NOTHING;
        a->sounded += one->sounded;
        a->stood += one->stood;
        a->unjudged += one->unjudged;
        a->pended += one->pended;
        a->lost += one->lost;
        a->near += near ? one->near : 0;
        a->near_at += near ? one->near_at - vd_watch_begin(watch) : 0;
        a->rates += rate ? one->near_rate.number % 1000003 + one->near_per : 0;
    }
}

static void test_it_came_about_as_before(void **state)
{
    (void)state;
    GString *table =
        g_string_new("cases: events, sounded, stood, unjudged, pended, near, near at, rates, crowded, lost, "
                     "met, counted, numbers\n");
    if (g_getenv("ALARM_CASES") != NULL) { /* these are other cases */
        g_string_free(table, TRUE);
        return;
    }
    for (size_t i = 0; i < G_N_ELEMENTS(accounts); i++) {
        const account *a = &accounts[i];
        const int64_t numbers[] = {a->events, a->sounded, a->stood, a->unjudged, a->pended,   a->near,   a->near_at,
                                   a->rates,  a->crowded, a->lost,  a->mets,     a->counteds, a->numbers};
        g_string_append_printf(table, "%zu:", i * 100);
        for (size_t k = 0; k < G_N_ELEMENTS(numbers); k++) {
            g_string_append_printf(table, " %" G_GINT64_FORMAT, numbers[k]);
        }
        g_string_append_c(table, '\n');
    }
    assert_as_kept("alarms.txt", table->str);
    g_string_free(table, TRUE);
}

static void one_case(const char *folder, account *of)
{
    static ref_case c;
    static ref_result ref;
    static heard h;
    some_case(&c);
    char *yaml = as_model(&c), *path = g_build_filename(folder, "bell.yaml", NULL);
    assert_true(g_file_set_contents(path, yaml, -1, NULL));
    vd_findings *findings = vd_findings_new(path);
    vd_model_file *file = vd_model_file_load(path, findings);
    if (file == NULL) {
        char words[512];
        vd_fault_words(&g_array_index(findings->list, vd_finding, 0).fault, true, words, sizeof words);
        fail_msg("%s\n%s", words, yaml);
    }
    const vd_model *model = vd_model_file_model(file);
    vd_set set;
    vd_watch_storage watch;
    size_t set_size = vd_set_size(model), size = vd_watch_size(model, 0, 64);
    void *set_memory = g_malloc0(set_size), *memory = g_malloc0(size);
    vd_set_start(&set, model, set_memory, set_size);
    memset(&h, 0, sizeof h);
    h.alarms = c.alarm_count;
    assert_int_equal(vd_watch_start(vd_watch_in(&watch), &set, 0, 64, memory, size, listen, &h, NULL), VD_OK);
    feed(vd_watch_in(&watch), &c);
    take_into_account(of, vd_watch_in(&watch), &h);
    ref_run(&c, &ref);
    sorted(h.events, h.count);
    sorted(ref.events, ref.event_count);
    bool same = h.count == ref.event_count && (int)vd_watch_odd_rows(vd_watch_in(&watch)).replaced == ref.replaced &&
                (int)vd_watch_odd_rows(vd_watch_in(&watch)).left_out == ref.left_out;
    for (int i = 0; i < h.count && same; i++) {
        same = memcmp(&h.events[i], &ref.events[i], sizeof h.events[i]) == 0;
    }
    for (uint16_t i = 0; i < c.alarm_count && same; i++) {
        const vd_watched *one = vd_watch_alarm(vd_watch_in(&watch), i);
        bool told = ref.near[i] >= 0;
        same = (one->near_at != VD_NO_TIME) == told || c.alarms[i].test.way >= REF_RISES;
        same = same && (!told || one->near == (int64_t)ref.near[i] * 10000);
        if (!same) {
            print_error("near of %d: %lld, not %d\n", i, (long long)one->near, ref.near[i]);
        }
    }
    if (!same) {
        fail_with(yaml, &c, &h, &ref);
        print_error("rows replaced %u, not %d; left out %u, not %d\n", vd_watch_odd_rows(vd_watch_in(&watch)).replaced,
                    ref.replaced, vd_watch_odd_rows(vd_watch_in(&watch)).left_out, ref.left_out);
    }
    assert_true(same);
    g_free(memory);
    g_free(set_memory);
    vd_model_file_free(file);
    vd_findings_free(findings);
    g_free(path);
    g_free(yaml);
}

static void test_random_alarms(void **state)
{
    (void)state;
    const char *many = g_getenv("ALARM_CASES");
    long cases = many != NULL ? strtol(many, NULL, 10) : 2000;
    char *folder = g_dir_make_tmp("alarms-XXXXXX", NULL);
    for (long i = 0; i < cases; i++) {
        seed = (uint64_t)i * 7919 + 17;
        one_case(folder, &accounts[i / 100 % (long)G_N_ELEMENTS(accounts)]);
    }
    char *path = g_build_filename(folder, "bell.yaml", NULL);
    g_remove(path);
    g_rmdir(folder);
    g_free(path);
    g_free(folder);
}

/* ---- Rows that are not kept, and limits that are run ---- */

static const char beside[] =
    "verdite-model: 1\nmodel: bell\ntitle: Bell\nline: {baud: 9600, framing: 8N1}\n"
    "address: {from: 1, to: 9, factory: 5}\nidentify: {by: objects, maker: Quillmere, product: bell, serial-object: "
    "0x80}\n"
    "times: {usual-reply: 8 ms, longest-reply: 200 ms}\ngroups: [{key: now, label: Now}]\nsettings:\n"
    "  - {key: now.a, label: A, type: decimal, decimals: 1, range: [0, 99], access: read-only, at: {input: 0}}\n"
    "  - {key: now.b, label: B, type: decimal, decimals: 1, range: [0, 99], access: read-only, at: {input: 1}}\n"
    "channels:\n  - {key: a, label: A, reads: now.a, holds-for: 1 min}\n"
    "  - {key: b, label: B, reads: now.b, holds-for: 1 min}\nalarms:\n"
    "  - {key: fast, label: F, watches: a, when-it-is: {rises: 1, per: 10 s, within: 30 s}}\n"
    "  - {key: over, label: O, watches: a, when-it-is: {above: \"max(now.b, 20)\"}}\n";

/* How often each alarm sounded in ten rows, ten seconds apart; `b` is told in the fourth row and not known in the
 * seventh. */
static void sound_beside(uint16_t history, uint32_t *fast, uint32_t *over, uint32_t *crowded, heard *h)
{
    vd_findings *findings = vd_findings_new("");
    vd_model_file *file = model_of_text(beside, findings);
    assert_non_null(file);
    const vd_model *model = vd_model_file_model(file);
    vd_set set = new_set(model);
    vd_watch_storage watch;
    size_t size = vd_watch_size(model, 0, history);
    void *memory = g_malloc0(size);
    memset(h, 0, sizeof *h);
    h->alarms = 2;
    assert_int_equal(vd_watch_start(vd_watch_in(&watch), &set, 0, history, memory, size, listen, h, NULL), VD_OK);
    for (int i = 0; i < 10; i++) {
        assert_true(vd_watch_row(vd_watch_in(&watch), i * 10000));
        vd_watch_cell(vd_watch_in(&watch), 0, true, (3 + i * 5) * INT64_C(1000000)); /* 3, 8, 13, ... */
        if (i == 0 || i == 5) {
            vd_watch_cell(vd_watch_in(&watch), 1, true, i == 0 ? 0 : INT64_C(90000000));
        } else if (i == 7) {
            vd_watch_cell(vd_watch_in(&watch), 1, false, 0);
        }
    }
    vd_watch_end(vd_watch_in(&watch));
    *fast = vd_watch_alarm(vd_watch_in(&watch), 0)->sounded;
    *over = vd_watch_alarm(vd_watch_in(&watch), 1)->sounded;
    *crowded = vd_watch_odd_rows(vd_watch_in(&watch)).crowded;
    g_free(memory);
    free(set.memory);
    vd_model_file_free(file);
    vd_findings_free(findings);
}

static void test_beside_the_references(void **state)
{
    (void)state;
    uint32_t fast = 0, over = 0, crowded = 0;
    heard h;
    sound_beside(64, &fast, &over, &crowded, &h);
    assert_int_equal(fast, 1);
    assert_int_equal(over, 1); /* at 23, above 20; over once b is 90; not known once b is not */
    assert_int_equal(crowded, 0);
    const int whats[] = {VD_ALARM_LOST, VD_ALARM_SOUNDS, VD_ALARM_KNOWN, VD_ALARM_SOUNDS, VD_ALARM_ENDS, VD_ALARM_LOST};
    const int times[] = {0, 30000, 30000, 40000, 50000, 70000};
    assert_int_equal(h.count, G_N_ELEMENTS(whats));
    for (int i = 0; i < h.count; i++) {
        assert_int_equal(h.events[i].what, whats[i]);
        assert_int_equal(h.events[i].time, times[i]);
    }
    sound_beside(4, &fast, &over, &crowded, &h); /* just enough */
    assert_int_equal(fast, 1);
    assert_int_equal(crowded, 0);
    sound_beside(2, &fast, &over, &crowded, &h); /* the row that counts is no longer there */
    assert_int_equal(fast, 0);
    assert_int_equal(over, 1);
    assert_true(crowded >= 5);
}

/* ---- The same in a unit, over the wire ---- */

typedef struct call {
    int64_t time; /* milliseconds */
    int alarm, stands;
} call;

static void note_told(void *about, const vd_alarm_event *event)
{
    GArray *told = about;
    call one = {event->time, event->alarm + 1, event->what == VD_ALARM_SOUNDS};
    if (event->what == VD_ALARM_SOUNDS || event->what == VD_ALARM_ENDS) {
        g_array_append_val(told, one);
    }
}

/* What the try-out tells of a log, on the clock of a unit that began with its first row. */
static GArray *told_of(const vd_bench_unit *unit, const char *path)
{
    static char *const columns[] = {(char *)"input-2=Door", NULL};
    const vd_model *model = unit->model;
    GArray *told = g_array_new(FALSE, FALSE, sizeof(call));
    vd_fault fault = {0};
    vd_log *log = vd_log_open(path, model, columns, VD_NO_ZONE, &fault);
    assert_non_null(log);
    size_t set_size = vd_set_size(model), size = vd_watch_size(model, 0, 64);
    void *set_memory = g_malloc0(set_size), *memory = g_malloc0(size);
    vd_set set;
    vd_watch_storage watch;
    vd_set_start(&set, model, set_memory, set_size);
    vd_set_copy(&set, unit->initial);
    assert_int_equal(vd_watch_start(vd_watch_in(&watch), &set, 0, 64, memory, size, note_told, told, &fault), VD_OK);
    assert_int_equal(vd_log_measure(log, vd_watch_in(&watch), 0, NULL, NULL, &fault), VD_OK);
    assert_int_equal(vd_log_feed(log, vd_watch_in(&watch), NULL, NULL, NULL, &fault), VD_OK);
    vd_watch_end(vd_watch_in(&watch));
    for (guint i = 0; i < told->len; i++) {
        g_array_index(told, call, i).time -= vd_watch_begin(vd_watch_in(&watch));
    }
    vd_log_free(log);
    g_free(memory);
    g_free(set_memory);
    return told;
}

/* Every line that comes from a unit by itself, for three days, and when its end was heard. */
static GArray *heard_from(vd_sim *sim)
{
    GArray *caught = g_array_new(FALSE, FALSE, sizeof(call));
    GString *line = g_string_new("");
    vd_port *port = NULL;
    vd_taken taken;
    const vd_serial usual = {.baud = 115200, .data_bits = 8, .parity = 'N', .stop_bits = 1};
    const uint64_t end = (uint64_t)3 * 86400 * 1000000;
    assert_int_equal(vd_sim_open(sim, "box-cable", &port, NULL), VD_OK);
    assert_int_equal(port->kind->set_line(port, &usual, &taken), VD_OK);
    while (port->kind->now(port->ground) < end) {
        uint8_t byte = 0, errors = 0;
        size_t count = 0;
        vd_port *const ports[] = {port};
        port->kind->wait(port->ground, ports, 1, end);
        while (port->kind->receive(port, &byte, &errors, 1, &count) == VD_OK && count == 1) {
            call one = {(int64_t)(port->kind->now(port->ground) / 1000), 0, 0};
            one.stands = g_str_has_prefix(line->str, "+RAISED: ");
            if (byte == '\n' && (sscanf(line->str, "+RAISED: %d", &one.alarm) == 1 ||
                                 sscanf(line->str, "+ENDED: %d", &one.alarm) == 1)) {
                g_array_append_val(caught, one);
            }
            byte == '\n' ? g_string_truncate(line, 0) : g_string_append_c(line, (char)byte);
        }
    }
    g_string_free(line, TRUE);
    return caught;
}

static void test_over_the_wire(void **state)
{
    (void)state;
    char *folder = g_dir_make_tmp("ride-XXXXXX", NULL), *bench_path = g_build_filename(folder, "bench.yaml", NULL);
    char *days = g_strdup(source_path("logs/heather-days.csv"));
    char *text =
        g_strdup_printf("verdite-bench: 1\nname: ride\nadapters:\n  - {name: box-cable, cable: box, latency: 1 ms}\n"
                        "units:\n  - name: sorrel\n    model: brock\n    cable: box\n    serial: QB-31007\n"
                        "    firmware: \"2.1\"\n    follows: {log: %s, columns: [input-2=Door]}\n"
                        "    settings: {alarm.1.source: speed, alarm.1.limit: 80 km/h, alarm.1.delay: 90 s, "
                        "alarm.2.source: input-2, alarm.2.delay: 1 min, alarm.3.source: voltage, "
                        "alarm.3.limit: 12.0 V, alarm.3.delay: 0 s}\n",
                        days);
    assert_true(g_file_set_contents(bench_path, text, -1, NULL));
    g_setenv("VERDITE_MODELS", source_path("models"), TRUE);
    vd_catalogue *catalogue = vd_catalogue_open();
    vd_findings *findings = vd_findings_new("");
    vd_bench_folder *bench = vd_bench_open(folder, catalogue, findings);
    assert_non_null(bench);
    GArray *told = told_of(&vd_bench_world(bench)->units[0], days), *caught = heard_from(vd_bench_sim(bench));
    assert_true(told->len > 10);
    assert_int_equal(caught->len, told->len);
    for (guint i = 0; i < told->len; i++) {
        const call *a = &g_array_index(told, call, i), *b = &g_array_index(caught, call, i);
        assert_int_equal(a->alarm, b->alarm);
        assert_int_equal(a->stands, b->stands);
        assert_in_range(b->time - a->time, 0, 10); /* the line takes its time */
    }
    g_array_free(told, TRUE);
    g_array_free(caught, TRUE);
    vd_bench_free(bench);
    vd_findings_free(findings);
    vd_catalogue_free(catalogue);
    g_remove(bench_path);
    g_rmdir(folder);
    g_free(text);
    g_free(days);
    g_free(bench_path);
    g_free(folder);
}

/* Which settings have a part in whether, or when, an alarm of a dowel sounds. */
static void test_what_an_alarm_hangs_on(void **state)
{
    (void)state;
    static const struct {
        uint16_t alarm; /* as the model lists them: weight low, weight high, temperature low, temperature high */
        const char *key;
        bool hangs;
    } cases[] = {{0, "weight.low-limit", true},      {0, "weight.high-limit", false},
                 {0, "weight.hysteresis", true},     {0, "weight.alarm", true},
                 {0, "weight.alarm-delay", true},    {0, "weight.latching", true},
                 {0, "unit.start-delay", true},      {0, "weight.decimals", true},
                 {0, "relay.follows", false},        {0, "unit.name", false},
                 {0, "unit.light", false},           {0, "temperature.alarm", false},
                 {1, "weight.high-limit", true},     {1, "weight.low-limit", false},
                 {2, "weight.alarm", false},         {2, "temperature.low-limit", true},
                 {3, "temperature.high-limit", true}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        if (vd_alarm_hangs_on(dowel(), cases[i].alarm, vd_model_find(dowel(), cases[i].key)) != cases[i].hangs) {
            fail_msg("alarm %u, %s", cases[i].alarm, cases[i].key);
        }
    }
}

/* What stands goes on standing when something else is written; it begins anew when what it hangs on changes, be it by a
 * choice that sets others, or by another slot that is loaded. */
static void test_what_is_written_beside_it(void **state)
{
    (void)state;
    static const struct {
        const char *key, *typed;
        bool anew;
    } cases[] = {{"unit.name", "HIVE 3", false},
                 {"relay.follows", "weight", false},
                 {"unit.light", "off", false},
                 {"weight.alarm-delay", "11 s", true},
                 {"weight.hysteresis", "0.6 kg", true},
                 {"unit.light", "high", true},
                 {"weight.decimals", "2", true},
                 {"unit.scene", "3", false},
                 {"unit.scene", "2", true}};
    char *text = NULL;
    assert_true(g_file_get_contents(source_path("models/dowel.yaml"), &text, NULL, NULL));
    char **parts = g_strsplit(text, "    default: low\n    at: {register: 12}\n", -1);
    assert_int_equal(g_strv_length(parts), 2);
    char *whole = g_strjoinv("    default: low\n    sets: [weight.hysteresis]\n    at: {register: 12}\n", parts);
    char **around = g_strsplit(whole, "\nsettings:\n", 2);
    char *bright = g_strjoinv(
        "\npresets:\n"
        "  - {key: high, label: for the day, settings: {weight.hysteresis: 0.6 kg}}\n"
        "  - {key: even, label: as it comes, settings: {weight.hysteresis: 0.5 kg}}\n"
        "slots: {label: Scene, count: 3, holds: [weight.hysteresis], chosen-by: unit.scene,\n"
        "        saved-by: {register: 300}, begin-with: [even, high, even]}\n"
        "settings:\n"
        "  - {key: unit.scene, label: Scene, type: integer, range: [1, 3], default: 1, at: {register: 66}}\n",
        around);
    vd_findings *findings = vd_findings_new("");
    vd_model_file *file = model_of_text(bright, findings);
    assert_non_null(file);
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        rig r;
        rig_prepare(&r, vd_model_file_model(file));
        rig_start(&r);
        put(vd_unit_live_bank(vd_sim_unit(r.sim, 0)), "now.weight", "46.2 kg");
        vd_set target = new_set(vd_model_file_model(file)), then = new_set(vd_model_file_model(file));
        put(&target, "weight.alarm", "low");
        put(&target, "weight.low-limit", "60 kg"); /* it weighs less */
        assert_int_equal(rig_write(&r, &target), VD_OK);
        vd_sim_set_now(r.sim, vd_sim_now(r.sim) + 120000000);
        assert_int_equal(rig_read(&r), VD_OK);
        const vd_watch *watch = vd_unit_alarms(vd_sim_unit(r.sim, 0));
        assert_int_equal(vd_watch_alarm(watch, 0)->state, VD_STANDING);
        put(&then, cases[i].key, cases[i].typed);
        assert_int_equal(rig_write(&r, &then), VD_OK);
        if ((vd_watch_alarm(watch, 0)->state != VD_STANDING) != cases[i].anew) {
            fail_msg("%s: state %u", cases[i].key, vd_watch_alarm(watch, 0)->state);
        }
        free(target.memory);
        free(then.memory);
        rig_end(&r);
    }
    vd_model_file_free(file);
    vd_findings_free(findings);
    g_free(bright);
    g_strfreev(around);
    g_free(whole);
    g_strfreev(parts);
    g_free(text);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_random_alarms),          cmocka_unit_test(test_it_came_about_as_before),
        cmocka_unit_test(test_beside_the_references),  cmocka_unit_test(test_over_the_wire),
        cmocka_unit_test(test_what_an_alarm_hangs_on), cmocka_unit_test(test_what_is_written_beside_it)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
