/* SPDX-License-Identifier: MIT
 * Chance at both ends of a cable with a unit that talks in lines: pieces of good lines, broken ones and noise, in any
 * order, the same each time. Whatever comes, a visit ends, never calls verified what the unit does not hold, and a
 * unit never comes to hold what its own rules forbid. */
#include "fixtures.h"

#include <stdlib.h>
#include <string.h>

#include "verdite/unit.h"

static uint64_t seed = 88172645463325252u;

static uint32_t chance(uint32_t below)
{
    seed ^= seed << 13;
    seed ^= seed >> 7;
    seed ^= seed << 17;
    return (uint32_t)(seed % below);
}

static const char *const pieces[] = {"AT",
                                     "+",
                                     "OK",
                                     "ERROR",
                                     "\r\n",
                                     "\r",
                                     "\n",
                                     "+CME ERROR: ",
                                     "+NAME: ",
                                     "+ALARM: 1,",
                                     "NONE",
                                     ",",
                                     "\"",
                                     ";",
                                     ":",
                                     "?",
                                     "=",
                                     "$PQLM,",
                                     "V,",
                                     "R,",
                                     "W,",
                                     "A,",
                                     "N,",
                                     "*",
                                     "5F",
                                     "ID",
                                     "NAME",
                                     "ALARM",
                                     "*IDN?",
                                     "*CLS",
                                     ":SYST:ERR?",
                                     "0,\"No error\"",
                                     "-222,",
                                     "1.5E+3",
                                     "99999999999999999999",
                                     "-",
                                     "\\22",
                                     "^2C",
                                     "\"\"",
                                     "LOGIN",
                                     "\"0000\"",
                                     "SAVE",
                                     "RESTART",
                                     "DEFAULTS=ALL",
                                     ",,,,,",
                                     "\xff\xfe",
                                     "Quillmere",
                                     "brock",
                                     "skep",
                                     "lantern",
                                     "RPTMOVE=",
                                     "LIM1:WEIG ",
                                     "LIGHT,",
                                     "17",
                                     "65.0",
                                     "ON",
                                     "OFF"};

/* A line of up to 600 bytes, or several, or half of one. */
static size_t make_line(char *line, size_t size)
{
    size_t length = 0;
    for (uint32_t parts = chance(14); parts > 0; parts--) {
        const char *piece = pieces[chance(G_N_ELEMENTS(pieces))];
        size_t own = strlen(piece);
        if (length + own < size) {
            memcpy(line + length, piece, own);
            length += own;
        }
    }
    while (chance(5) == 0 && length + 1 < size) {
        line[length++] = (char)chance(256);
    }
    for (bool long_one = chance(25) == 0; long_one && length + 2 < size;) {
        line[length++] = 'x';
    }
    if (chance(3) > 0 && length + 2 < size) {
        memcpy(line + length, "\r\n", 2);
        length += 2;
    }
    return length;
}

typedef struct pair {
    vd_visit_storage visit_room;
    vd_visit *visit; /* in that room */
    vd_unit_storage unit_room;
    vd_unit *unit;
    void *visit_memory, *unit_memory;
    vd_set target;
    uint64_t now;
} pair;

static void start(pair *p, const vd_model *model)
{
    size_t visit_size = vd_visit_size(model), unit_size = vd_unit_size(model, vd_unit_language_of(model));
    vd_identity identity = {"Quillmere", "", "1.9", "S-1"};
    g_strlcpy(identity.product, model->identify.product, sizeof identity.product);
    memset(p, 0, sizeof *p);
    p->visit = vd_visit_in(&p->visit_room);
    p->unit = vd_unit_in(&p->unit_room);
    p->visit_memory = calloc(1, visit_size);
    p->unit_memory = calloc(1, unit_size);
    p->target = new_set(model);
    p->now = 20000000;
    vd_set_put_initial(&p->target);
    vd_unit_start(p->unit, model, vd_unit_language_of(model), &identity, p->unit_memory, unit_size);
    vd_unit_power_up(p->unit, 0);
    vd_unit_hold_button(p->unit, 0, 10000);
    vd_visit_start(p->visit, model, p->visit_memory, visit_size, &model->line, 0, 0);
}

static void finish(pair *p)
{
    free(p->visit_memory);
    free(p->unit_memory);
    free(p->target.memory);
}

static void feed_visit(pair *p, vd_event event)
{
    event.now = p->now;
    vd_visit_engine.feed(p->visit, &event);
}

static void feed_unit(pair *p, vd_event event)
{
    vd_wants wants;
    event.now = p->now;
    vd_unit_engine.feed(p->unit, &event);
    vd_unit_engine.wants(p->unit, &wants);
    if (wants.keep) {
        vd_unit_engine.feed(p->unit, &(vd_event){.kind = VD_KEPT, .now = p->now});
    }
}

/* What a fitter would do for the visit, and what the cable carries most of the time. */
static void serve_visit(pair *p)
{
    vd_wants wants;
    vd_visit_engine.wants(p->visit, &wants);
    if (wants.question == VD_ASK_WRITE || wants.question == VD_ASK_OLD_PASSWORD) {
        feed_visit(p, (vd_event){.kind = VD_ANSWERED, .yes = true});
    } else if (wants.question == VD_ASK_PASSWORD) {
        feed_visit(p, (vd_event){.kind = VD_ANSWERED, .yes = true, .bytes = (const uint8_t *)"0000", .count = 4});
    } else if (wants.keep) {
        feed_visit(p, (vd_event){.kind = VD_KEPT});
    } else if (wants.count > 0) {
        if (chance(4) > 0) {
            feed_unit(p, (vd_event){.kind = VD_HEARD, .bytes = wants.send, .count = wants.count});
        }
        feed_visit(p, (vd_event){.kind = VD_SENT, .until = p->now});
    }
    if (wants.wake <= p->now) {
        feed_visit(p, (vd_event){.kind = VD_TIME});
    }
}

static void serve_unit(pair *p)
{
    vd_wants wants;
    feed_unit(p, (vd_event){.kind = VD_TIME});
    vd_unit_engine.wants(p->unit, &wants);
    if (wants.count > 0) {
        if (chance(6) > 0) {
            feed_visit(p, (vd_event){.kind = VD_HEARD, .bytes = wants.send, .count = wants.count});
        }
        feed_unit(p, (vd_event){.kind = VD_SENT, .until = p->now});
    }
}

/* Everything that can be written is in order, and so is every rule that the unit enforces. */
static void check_unit(const pair *p)
{
    const vd_model *model = vd_unit_model(p->unit);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (model->settings[i].access == VD_READ_WRITE) {
            vd_status status = vd_set_check(vd_unit_live(p->unit), i, NULL);
            bool empty = model->settings[i].initial_text != NULL && vd_set_get(vd_unit_live(p->unit), i).length == 0;
            assert_true(status == VD_OK || status == VD_IDLE_HERE || status == VD_NOT_HERE || empty);
        }
    }
    for (uint16_t r = 0; r < model->rule_count; r++) {
        for (uint16_t item = 0; model->rules[r].enforced && item < vd_rule_items(model, r); item++) {
            assert_int_not_equal(vd_rule_judge(vd_unit_live(p->unit), vd_unit_live(p->unit), r, item, NULL), VD_FAILS);
        }
    }
}

static void check_verdicts(const pair *p)
{
    for (uint16_t i = 0; i < vd_unit_model(p->unit)->setting_count; i++) {
        if (vd_visit_verdict(p->visit, i) == VD_CONFIRMED) {
            assert_int_equal(vd_set_compare(vd_visit_desired(p->visit), vd_visit_live(p->visit), i), VD_SAME);
        }
    }
}

static void test_chance_at_both_ends(void **state)
{
    (void)state;
    static const char *const models[] = {"brock", "skep", "lantern"};
    unsigned fine = 0, failed = 0;
    for (unsigned round = 0; round < 600; round++) {
        const vd_model *model = shipped(models[round % 3]);
        uint32_t task = chance(3);
        bool noise = chance(8) > 0; /* now and then the cable is quiet, so that tasks come to their end as well */
        vd_status status = VD_OK;
        pair *p = malloc(sizeof *p);
        start(p, model);
        if (task == 0) {
            vd_visit_read(p->visit, p->now, NULL);
        } else if (task == 1) {
            vd_visit_write(p->visit, p->now, &p->target, NULL);
        } else {
            vd_visit_verify(p->visit, p->now, &p->target, NULL);
        }
        for (unsigned step = 0; step < 400 && !vd_visit_ended(p->visit, &status); step++) {
            char line[600];
            uint8_t errors[600] = {0};
            size_t length = make_line(line, sizeof line);
            errors[chance(600)] = chance(10) == 0 ? VD_ERROR_FRAMING : 0;
            p->now += chance(400000);
            serve_visit(p);
            serve_unit(p);
            vd_event heard = {
                .kind = VD_HEARD, .bytes = (const uint8_t *)line, .errors = errors, .count = noise ? length : 0};
            if (chance(2) == 0) {
                feed_visit(p, heard);
            } else {
                feed_unit(p, heard);
            }
        }
        if (!vd_visit_ended(p->visit, &status)) { /* whatever it was in the middle of, it can be stopped */
            feed_visit(p, (vd_event){.kind = VD_STOP});
            feed_visit(p, (vd_event){.kind = VD_STOP});
            assert_true(vd_visit_ended(p->visit, &status));
        }
        fine += status == VD_OK;
        failed += status != VD_OK;
        check_unit(p);
        check_verdicts(p);
        finish(p);
        free(p);
    }
    assert_true(fine >= 20 && failed >= 100); /* chance reaches both ends */
}

/* What a trace says of a line fits its buffer, whatever the line. */
static void test_chance_in_traces(void **state)
{
    (void)state;
    for (unsigned round = 0; round < 20000; round++) {
        char line[600], words[80];
        size_t length = make_line(line, sizeof line);
        vd_writer writer = vd_writer_start(words, 1 + chance(sizeof words));
        vd_lines_explain(line, length, chance(2) == 0, &writer);
        assert_true(strlen(words) < sizeof words);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(test_chance_at_both_ends),
                                       cmocka_unit_test(test_chance_in_traces)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
