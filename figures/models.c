/* SPDX-License-Identifier: MIT
 * Loading and checking models of 100, 1,000 and 10,000 settings against libyaml's bare scan of the same file, and
 * judging everything again after one edit. These take the machine's time, so the best of several runs counts. */
#include "figures.h"

#include "verdite/survey.h"

#include <glib/gstdio.h>
#include <inttypes.h>
#include <stdio.h>
#include <string.h>
#include <yaml.h>

#define RUNS 7

/* A model as an author would write it: groups of twenty settings, and three rules to ten settings. */
static char *compose(unsigned settings)
{
    GString *text = g_string_new("verdite-model: 1\nmodel: large\ntitle: A large unit\n"
                                 "line: {baud: 9600, framing: 8E1}\naddress: {from: 1, to: 247, factory: 1}\n"
                                 "identify: {by: objects, maker: Quillmere, product: large}\n"
                                 "times: {usual-reply: 6 ms, longest-reply: 250 ms}\ngroups:\n");
    for (unsigned group = 0; group < 100; group++) {
        g_string_append_printf(text, "  - {key: group-%u, label: Group %u}\n", group, group);
    }
    g_string_append(text, "settings:\n");
    for (unsigned i = 0; i < settings; i++) {
        g_string_append_printf(
            text,
            "  - key: group-%u.limit-%u\n    label: Limit %u\n"
            "    help: Below this weight the low alarm counts. A hive that weighs less needs feeding.\n"
            "    type: decimal\n    unit: kg\n    decimals: 1\n    range: [0.0, 200.0]\n"
            "    default: %u kg\n    at: {register: %u}\n",
            i % 100, i, i, 18 + i % 100, 2 * i);
    }
    g_string_append(text, "rules:\n");
    for (unsigned i = 0; i + 4 < settings; i += 10) {
        unsigned a = i, b = i + 1, c = i + 2;
        g_string_append_printf(text,
                               "  - order: [group-%u.limit-%u, group-%u.limit-%u]\n    enforced: writing\n"
                               "  - must: group-%u.limit-%u + group-%u.limit-%u <= 400 kg\n"
                               "    say: \"{group-%u.limit-%u} and {group-%u.limit-%u} are more than 400 kg.\"\n"
                               "  - must: group-%u.limit-%u > 3 kg and group-%u.limit-%u != 0 kg\n"
                               "    severity: warning\n",
                               a % 100, a, b % 100, b, a % 100, a, c % 100, c, a % 100, a, c % 100, c, b % 100, b,
                               c % 100, c);
    }
    return g_string_free(text, FALSE);
}

static int64_t scan(const char *text, size_t length)
{
    int64_t from = g_get_monotonic_time();
    yaml_parser_t parser;
    yaml_event_t event;
    bool done = false;
    yaml_parser_initialize(&parser);
    yaml_parser_set_input_string(&parser, (const unsigned char *)text, length);
    while (!done) {
        if (yaml_parser_parse(&parser, &event) == 0) {
            fail("libyaml does not take the file");
        }
        done = event.type == YAML_STREAM_END_EVENT;
        yaml_event_delete(&event);
    }
    yaml_parser_delete(&parser);
    return g_get_monotonic_time() - from;
}

static int64_t load(const char *path, vd_model_file **file)
{
    int64_t from = g_get_monotonic_time();
    vd_findings *findings = vd_findings_new(path);
    *file = vd_model_file_load(path, findings);
    int64_t time = g_get_monotonic_time() - from;
    if (*file == NULL) {
        char words[512];
        vd_fault_words(&g_array_index(findings->list, vd_finding, 0).fault, true, words, sizeof words);
        fail(words);
    }
    vd_findings_free(findings);
    return time;
}

/* One value changes, then everything is judged. */
static int64_t judge_again(const vd_model *model, unsigned round)
{
    static vd_set set;
    if (set.model != model) {
        vd_set_start(&set, model, own(vd_set_size(model)), vd_set_size(model));
        vd_set_put_initial(&set);
    }
    int64_t from = g_get_monotonic_time();
    vd_value value = {.type = VD_DECIMAL, .places = 1, .number = 150 + (int64_t)round};
    vd_survey survey;
    vd_fault fault = {0};
    unsigned findings = 0;
    vd_set_put(&set, 10, &value);
    vd_survey_start(&survey, &set, NULL);
    while (vd_survey_next(&survey, &fault)) {
        findings++;
    }
    if (findings > 0) {
        fail("nothing was to be found");
    }
    return g_get_monotonic_time() - from;
}

/* Ten settings in a block of a thousand items, one of them in a block of its own, with rules that compare all of them.
 */
static char *compose_block(unsigned items)
{
    GString *text = g_string_new("verdite-model: 1\nmodel: large\ntitle: A large unit\n"
                                 "line: {baud: 9600, framing: 8E1}\naddress: {from: 1, to: 247, factory: 1}\n"
                                 "identify: {by: objects, maker: Quillmere, product: large}\n"
                                 "times: {usual-reply: 6 ms, longest-reply: 250 ms}\n"
                                 "groups: [{key: bed, label: Beds}]\nsettings:\n");
    g_string_append_printf(text, "  - block: bed\n    label: Bed\n    repeat: %u\n    stride: 40\n    settings:\n",
                           items);
    for (unsigned i = 0; i < 8; i++) {
        g_string_append_printf(text,
                               "      - {key: limit-%c, label: Limit, type: decimal, unit: kg, decimals: 1, "
                               "range: [0, 200], default: %u, at: {register: %u}}\n",
                               (char)('a' + i), 18 + i, 2 * i);
    }
    g_string_append(text, "      - block: window\n        label: Window\n        repeat: 2\n        stride: 2\n"
                          "        settings:\n          - {key: share, label: Share, type: integer, unit: \"%\", "
                          "range: [0, 100], default: 50, when: outer.limit-a > 0 kg, because: Shut., at: {register: "
                          "20}}\n");
    g_string_append(text, "rules:\n  - {each: bed, order: [this.limit-a, this.limit-b]}\n"
                          "  - {each: bed, must: this.window.1.share + this.window.2.share = 100 %}\n");
    return g_string_free(text, FALSE);
}

/* What it takes to unfold one setting more. */
static void measure_blocks(void)
{
    int64_t best[2] = {INT64_MAX, INT64_MAX};
    static const unsigned items[] = {1, 1000};
    char *path = g_strdup_printf("%s/verdite-block.yaml", g_get_tmp_dir());
    for (unsigned run = 0; run < 2 * RUNS; run++) {
        vd_model_file *file = NULL;
        char *text = compose_block(items[run % 2]);
        g_file_set_contents(path, text, -1, NULL);
        int64_t loaded = load(path, &file);
        best[run % 2] = MIN(best[run % 2], loaded);
        vd_model_file_free(file);
        g_free(text);
    }
    printf("%-44s %9.2f us\n", "each of 9,990 settings unfolded from a block", (double)(best[1] - best[0]) / 9990);
    g_remove(path);
    g_free(path);
}

void measure_models(void)
{
    static const unsigned sizes[] = {100, 1000, 10000};
    for (size_t i = 0; i < G_N_ELEMENTS(sizes); i++) {
        char *text = compose(sizes[i]), *path = g_strdup_printf("%s/verdite-large-%u.yaml", g_get_tmp_dir(), sizes[i]);
        char *what = g_strdup_printf("load and check %u settings, against a scan", sizes[i]);
        int64_t best_scan = INT64_MAX, best_load = INT64_MAX, best_judge = INT64_MAX;
        g_file_set_contents(path, text, -1, NULL);
        for (unsigned run = 0; run < RUNS; run++) {
            vd_model_file *file = NULL;
            int64_t scanned = scan(text, strlen(text)), loaded = load(path, &file);
            best_scan = MIN(best_scan, scanned);
            best_load = MIN(best_load, loaded);
            for (unsigned round = 0; round < 20 && sizes[i] == 1000; round++) {
                int64_t judged = judge_again(vd_model_file_model(file), round);
                best_judge = MIN(best_judge, judged);
            }
            vd_model_file_free(file);
        }
        print_ratio(what, (uint64_t)best_load, (uint64_t)best_scan, 3000);
        if (best_judge < INT64_MAX) {
            printf("%-44s %9.3f ms\n", "judge all again: 1,000 settings, 300 rules", (double)best_judge / 1000);
        }
        g_remove(path);
        g_free(text);
        g_free(path);
        g_free(what);
    }
    measure_blocks();
}
