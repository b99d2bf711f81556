/* SPDX-License-Identifier: MIT
 * Sixteen alarms on eight channels tried out on logs of up to a year of minutes, and on 2 GB, against libcsv's bare
 * scan of the same file; and all alarms of a brock read aloud. These take the machine's time, so the best of several
 * runs counts. */
#include "figures.h"

#include <csv.h>
#include <glib/gstdio.h>
#include <inttypes.h>
#include <stdio.h>

#include "verdite/alarm_words.h"
#include "verdite/log.h"

#define RUNS 7
#define CHANNELS 8
#define ALARMS 16

static char *compose(bool arithmetic)
{
    GString *text = g_string_new("verdite-model: 1\nmodel: belfry\ntitle: Belfry\nline: {baud: 9600, framing: 8N1}\n"
                                 "address: {from: 1, to: 9, factory: 5}\n"
                                 "identify: {by: objects, maker: Quillmere, product: belfry}\n"
                                 "times: {usual-reply: 8 ms, longest-reply: 200 ms}\n"
                                 "groups: [{key: now, label: Now}]\nsettings:\n");
    for (int i = 0; i < CHANNELS; i++) {
        g_string_append_printf(text,
                               "  - {key: now.c%d, label: C, type: decimal, decimals: 1, unit: °C, range: [-50, 100], "
                               "access: read-only, at: {input: %d, form: signed}}\n",
                               i, i);
    }
    g_string_append(text, "channels:\n");
    for (int i = 0; i < CHANNELS; i++) {
        g_string_append_printf(text, "  - {key: c%d, label: C%d, reads: now.c%d, holds-for: 15 min}\n", i, i, i);
    }
    g_string_append(text, "alarms:\n");
    for (int i = 0; i < ALARMS; i++) {
        int other = (i + 3) % CHANNELS;
        char *limit = arithmetic ? g_strdup_printf("now.c%d %c 6 °C", other, i < CHANNELS ? '+' : '-')
                                 : g_strdup_printf("%d °C", i < CHANNELS ? 34 + i % 4 : 22);
        g_string_append_printf(text,
                               "  - {key: a%d, label: A%d, watches: c%d, when-it-is: {%s: %s, release: 0.5 °C}, delay: "
                               "{in: 5 min, out: 2 min}, only-while: {all: [{watches: c%d, is: {above: 20 °C}}]}}\n",
                               i, i, i % CHANNELS, i < CHANNELS ? "above" : "below", limit, other);
        g_free(limit);
    }
    return g_string_free(text, FALSE);
}

/* A row each minute; values swing, each at its own pace, and jitter. */
static void write_log(const char *path, unsigned rows)
{
    FILE *file = fopen(path, "w");
    uint32_t chance = 1;
    fputs("time,c0,c1,c2,c3,c4,c5,c6,c7\n", file);
    for (unsigned i = 0; i < rows; i++) {
        unsigned minute = i % 1440, day = i / 1440;
        GDate date;
        g_date_clear(&date, 1);
        g_date_set_dmy(&date, 1, G_DATE_JANUARY, 2025);
        g_date_add_days(&date, day);
        fprintf(file, "%04d-%02d-%02dT%02u:%02u:00Z", g_date_get_year(&date), g_date_get_month(&date),
                g_date_get_day(&date), minute / 60, minute % 60);
        for (unsigned k = 0; k < CHANNELS; k++) {
            unsigned period = 4000 + 300 * k, at = (i + 900 * k) % period, half = period / 2;
            unsigned swing = (at < half ? at : period - at) * 160 / half;
            chance = chance * 1664525u + 1013904223u;
            fprintf(file, ",%u.%u", (200 + swing + (chance >> 24) % 9) / 10, (200 + swing + (chance >> 24) % 9) % 10);
        }
        fputc('\n', file);
    }
    fclose(file);
}

static void count_cell(void *text, size_t length, void *about)
{
    (void)text, (void)length;
    (*(uint64_t *)about)++;
}

static void end_row(int end, void *about)
{
    (void)end, (void)about;
}

static int64_t scan(const char *path)
{
    int64_t from = g_get_monotonic_time();
    struct csv_parser parser;
    FILE *file = fopen(path, "rb");
    char *piece = g_malloc(65536);
    size_t got = 0;
    uint64_t cells = 0;
    csv_init(&parser, 0);
    while ((got = fread(piece, 1, 65536, file)) > 0) {
        csv_parse(&parser, piece, got, count_cell, end_row, &cells);
    }
    csv_fini(&parser, count_cell, end_row, &cells);
    csv_free(&parser);
    g_free(piece);
    fclose(file);
    return g_get_monotonic_time() - from;
}

static void count_event(void *about, const vd_alarm_event *event)
{
    *(uint64_t *)about += event->what == VD_ALARM_SOUNDS;
}

static int64_t try_out(const vd_model *model, const char *path, uint64_t *sounded)
{
    int64_t from = g_get_monotonic_time();
    size_t set_size = vd_set_size(model), size = vd_watch_size(model, 0, 64);
    void *set_memory = g_malloc0(set_size), *memory = g_malloc0(size);
    vd_set set;
    vd_watch_storage watch;
    vd_log *log = vd_log_open(path, model, NULL, VD_NO_ZONE, NULL);
    *sounded = 0;
    vd_set_start(&set, model, set_memory, set_size);
    vd_watch_start(vd_watch_in(&watch), &set, 0, 64, memory, size, count_event, sounded, NULL);
    if (log == NULL || vd_log_measure(log, vd_watch_in(&watch), 0, NULL, NULL, NULL) != VD_OK ||
        vd_log_feed(log, vd_watch_in(&watch), NULL, NULL, NULL, NULL) != VD_OK) {
        fail("the log cannot be tried out");
    }
    vd_watch_end(vd_watch_in(&watch));
    vd_log_free(log);
    g_free(memory);
    g_free(set_memory);
    return g_get_monotonic_time() - from;
}

static vd_model_file *load(const char *folder, bool arithmetic)
{
    char *text = compose(arithmetic), *path = g_build_filename(folder, "belfry.yaml", NULL);
    vd_findings *findings = vd_findings_new(path);
    g_file_set_contents(path, text, -1, NULL);
    vd_model_file *file = vd_model_file_load(path, findings);
    if (file == NULL) {
        fail("the model with sixteen alarms is not sound");
    }
    vd_findings_free(findings);
    g_remove(path);
    g_free(path);
    g_free(text);
    return file;
}

static void measure_aloud(const vd_model *model)
{
    char text[VD_SENTENCE_SIZE];
    vd_set set;
    vd_set_start(&set, model, own(vd_set_size(model)), vd_set_size(model));
    vd_set_put_initial(&set);
    set_typed(&set, "alarm.1.source", "speed");
    set_typed(&set, "alarm.2.source", "voltage");
    set_typed(&set, "alarm.3.source", "input-1");
    set_typed(&set, "alarm.4.source", "moved");
    int64_t best = INT64_MAX;
    for (int run = 0; run < 100; run++) {
        int64_t from = g_get_monotonic_time();
        for (uint16_t n = 0; n < vd_model_alarm_count(model); n++) {
            vd_writer writer = vd_writer_start(text, sizeof text);
            vd_alarm_call(&set, n, &writer);
            vd_alarm_say(&set, n, &writer);
        }
        int64_t took = g_get_monotonic_time() - from;
        best = took < best ? took : best;
    }
    printf("%-44s %9.3f ms\n", "read aloud all alarms of a brock", (double)best / 1000);
}

/* Logs of a row each minute; the last has 2 GB. */
static const struct length {
    const char *name;
    unsigned rows;
    int runs;
} lengths[] = {{"1 day of minutes", 1440, RUNS},
               {"10 days of minutes", 14400, RUNS},
               {"100 days of minutes", 144000, RUNS},
               {"a year of minutes", 525600, RUNS},
               {"2 GB", 33000000, 3}};

static void measure_length(const char *folder, const char *path, const struct length *length, bool arithmetic)
{
    vd_model_file *file = load(folder, arithmetic);
    int64_t least = INT64_MAX, bare = INT64_MAX;
    uint64_t sounded = 0;
    for (int run = 0; run < length->runs; run++) {
        int64_t took = try_out(vd_model_file_model(file), path, &sounded), floor = scan(path);
        least = took < least ? took : least;
        bare = floor < bare ? floor : bare;
    }
    char *name = g_strdup_printf("try out 16 alarms%s, %s", arithmetic ? " with sums" : "", length->name);
    printf("%-44s %9.1f ms   floor   %9.1f ms   ratio %.3f, sounded %" PRIu64 "\n", name, (double)least / 1000,
           (double)bare / 1000, (double)least / (double)bare, sounded);
    g_free(name);
    vd_model_file_free(file);
}

void measure_alarms(const vd_model *brock)
{
    char *folder = g_dir_make_tmp("alarms-XXXXXX", NULL), *path = g_build_filename(folder, "log.csv", NULL);
    for (size_t i = 0; i < G_N_ELEMENTS(lengths); i++) {
        write_log(path, lengths[i].rows);
        measure_length(folder, path, &lengths[i], false);
        measure_length(folder, path, &lengths[i], true);
        g_remove(path);
    }
    g_rmdir(folder);
    g_free(path);
    g_free(folder);
    measure_aloud(brock);
}
