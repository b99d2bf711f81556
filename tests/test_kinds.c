/* SPDX-License-Identifier: MIT
 * Every task on every kind of unit there is, with what may go wrong between: each ends, nothing is called verified that
 * the unit does not hold, and how it came about is as it was. */
#include "fixtures.h"

#include <stdlib.h>
#include <string.h>

static const char *const kinds[] = {"dowel", "brock",   "lantern", "skep", "wren",
                                    "churn", "foghorn", "gong",    "kiln", "sluice"};

enum { READ, WRITE, WRITE_FROM_OTHER, WRITE_FITTING, VERIFY, PROVE, ACT, TELL, EXPECT, TASKS };
static const char *const tasks[] = {
    "read", "write", "write, from another", "write, what fits", "verify", "verify, with a restart",
    "act",  "tell",  "expect another"};

typedef struct manner {
    const char *name;
    vd_bench_faults faults;
    unsigned stop_after;
    uint32_t noise;
    bool no_hand, late_hand, no_yes, no_room, echo, neighbour, no_password;
} manner;
static const manner manners[] = {{.name = "well"},
                                 {.name = "no hand", .no_hand = true},
                                 {.name = "a late hand", .late_hand = true},
                                 {.name = "no yes", .no_yes = true},
                                 {.name = "no room", .no_room = true},
                                 {.name = "no password", .no_password = true},
                                 {.name = "stopped early", .stop_after = 60},
                                 {.name = "stopped late", .stop_after = 700},
                                 {.name = "a neighbour", .neighbour = true},
                                 {.name = "echo", .echo = true},
                                 {.name = "noise", .noise = 40},
                                 {.name = "mute", .faults = {.mute_every = 5}},
                                 {.name = "cut", .faults = {.cut_every = 4}},
                                 {.name = "extended", .faults = {.extend_every = 4}},
                                 {.name = "of others", .faults = {.address_every = 4}},
                                 {.name = "stray", .faults = {.stray_every = 3}},
                                 {.name = "late", .faults = {.late = 150000, .jitter = 90000}},
                                 {.name = "chatter", .faults = {.chatter = 70000}},
                                 {.name = "starting", .faults = {.starting = 900000}},
                                 {.name = "refusing", .faults = {.exception = 3}}};

/* A kind that ships, or one of the tests' own; loaded once. */
static const vd_model *model_of(const char *kind)
{
    static vd_model_file *files[G_N_ELEMENTS(kinds)];
    char path[64];
    size_t at = 0;
    while (strcmp(kinds[at], kind) != 0) {
        at++;
    }
    g_snprintf(path, sizeof path, "tests/units/%s.yaml", kind);
    if (files[at] == NULL && g_file_test(source_path(path), G_FILE_TEST_EXISTS)) {
        vd_findings *findings = vd_findings_new(kind);
        files[at] = vd_model_file_load(source_path(path), findings);
        assert_non_null(files[at]);
        vd_findings_free(findings);
    }
    return files[at] != NULL ? vd_model_file_model(files[at]) : shipped(kind);
}

static bool keeps_rules(const vd_set *set, const vd_set *before)
{
    for (uint16_t i = 0; i < set->model->rule_count; i++) {
        for (uint16_t item = 0; item < vd_rule_items(set->model, i); item++) {
            if (set->model->rules[i].severity == VD_ERROR && vd_rule_judge(set, before, i, item, NULL) == VD_FAILS) {
                return false;
            }
        }
    }
    return true;
}

/* Another value than it holds for each setting that may have one, the link left alone. */
static vd_set other_values(const vd_model *model, const vd_identity *unit)
{
    vd_set before = new_set(model), target = new_set(model);
    vd_set_tell_unit(&before, unit);
    vd_set_put_initial(&before);
    vd_set_copy(&target, &before);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *setting = &model->settings[i];
        vd_value was = vd_set_get(&target, i);
        vd_meaning about;
        bool mine = setting->access != VD_READ_ONLY && !setting->gives_places &&
                    !vd_role_is_link((vd_role)setting->role) && vd_set_meaning(&target, i, &about);
        const int64_t counts[] = {about.max, about.min, about.min + about.step, about.max - about.step};
        static const char *const texts[] = {"Ling", "QU4LM", "4711", "other.example.net", "00-01", "+447700900123"};
        bool put = false, bytes = vd_setting_is(setting, VD_TYPE_BYTES);
        for (size_t k = 0; mine && k < (bytes ? G_N_ELEMENTS(texts) : G_N_ELEMENTS(counts)) && !put; k++) {
            vd_typed typed = {.value = {.type = VD_NOTHING}};
            if (setting->traits->id == VD_CLOCK) { /* what time it is, when it is told */
                typed.value = (vd_value){.type = VD_CLOCK, .number = VD_NOW};
            } else if (bytes) {
                vd_value_parse(&about, texts[k], strlen(texts[k]), &typed, NULL);
            } else {
                typed.value = vd_value_from_count(&about, counts[k]);
            }
            put = typed.value.type != VD_NOTHING && !vd_value_equal(&typed.value, &was) &&
                  vd_set_check_value(&target, i, &typed.value, NULL) == VD_OK && setting->written_by != VD_MAKER;
            if (put) {
                vd_set_put(&target, i, &typed.value);
                put = keeps_rules(&target, &before);
            }
        }
        if (!put && was.type != VD_NOTHING) {
            vd_set_put(&target, i, &was);
        }
        if (!put) {
            vd_set_forget(&target, i);
        }
    }
    free(before.memory);
    return target;
}

static const manner *how;
static bool pressed;
static uint64_t wanted_since;

/* The hand comes at once, or after nine seconds, or not at all; each time that it is wanted anew. */
static void press(rig *r)
{
    const vd_by_hand *hand = vd_visit_wants_hand(r->visit);
    uint64_t now = vd_sim_now(r->sim);
    wanted_since = hand == NULL ? VD_NEVER : wanted_since == VD_NEVER ? now : wanted_since;
    if (hand != NULL && !pressed && !how->no_hand && now >= wanted_since + (how->late_hand ? 9000000 : 0)) {
        vd_sim_hand(r->sim, 0, VD_HAND_PRESS, hand->hold + 200);
        pressed = true;
    }
    pressed = pressed && hand != NULL;
}

static void begin(rig *r, const vd_model *model, int task, const vd_set *target)
{
    uint64_t now = vd_sim_now(r->sim);
    static const vd_moment moment = {.seconds = 1780000000, .zone = 60, .known = true};
    vd_visit_tell_time(r->visit, &moment, now);
    vd_visit_take_from(r->visit, task == WRITE_FROM_OTHER ? "S-2" : NULL);
    vd_visit_leave_lacking(r->visit, task == WRITE_FITTING);
    vd_visit_expect(r->visit, task == EXPECT ? "S-9" : NULL);
    vd_visit_allow_restart(r->visit, task == PROVE);
    vd_visit_want_login(r->visit, task == READ);
    switch (task) {
    case READ: vd_visit_read(r->visit, now, NULL); break;
    case VERIFY:
    case PROVE: vd_visit_verify(r->visit, now, target, NULL); break;
    case ACT: vd_visit_act(r->visit, now, &model->actions[0]); break;
    case TELL: vd_visit_tell(r->visit, now, target, NULL); break;
    default: vd_visit_write(r->visit, now, target, NULL); break;
    }
}

/* Whether the unit itself holds what was called confirmed. */
static bool is_true(rig *r)
{
    const vd_set *stored = vd_unit_stored(vd_sim_unit(r->sim, 0)), *target = vd_visit_desired(r->visit);
    for (uint16_t i = 0; i < target->model->setting_count; i++) {
        bool lasts = !target->model->store.needed && target->model->slots.count == 0;
        const vd_set *held = lasts ? vd_unit_live(vd_sim_unit(r->sim, 0)) : stored;
        bool runs = vd_setting_is(&target->model->settings[i], VD_TYPE_RUNS);
        if (vd_visit_verdict(r->visit, i) == VD_CONFIRMED && !runs && !vd_slots_hold(target->model, i) &&
            vd_set_knows(target, i) && vd_set_compare(held, target, i) == VD_DIFFERENT) {
            return false;
        }
    }
    return true;
}

static unsigned add(unsigned sum, const char *text)
{
    for (; *text != '\0'; text++) {
        sum = sum * 31u + (unsigned char)*text;
    }
    return sum;
}

static void one(const vd_model *model, int task, const manner *m, GString *table)
{
    rig r;
    how = m;
    pressed = false;
    wanted_since = VD_NEVER;
    rig_prepare(&r, model);
    if (model->variant_count > 0) {
        g_strlcpy(r.units[0].identity.product, model->variants[0].product, sizeof r.units[0].identity.product);
    }
    r.adapter.echo = m->echo;
    r.adapter.noise = m->noise;
    r.units[0].faults = m->faults;
    r.units[1] = r.units[0];
    r.units[1].name = "two";
    g_strlcpy(r.units[1].identity.serial, "S-2", sizeof r.units[1].identity.serial);
    r.bench.unit_count = m->neighbour ? 2 : 1;
    r.stop_after = m->stop_after;
    r.refuse_question = m->no_yes;
    r.fail_keep = m->no_room;
    r.password = m->no_password ? NULL : "0000";
    r.watch = press;
    rig_start(&r);
    vd_set target = other_values(model, &r.units[0].identity);
    begin(&r, model, task, &target);
    vd_status status = rig_run(&r);
    vd_summary sum = vd_visit_summary(r.visit);
    char words[512];
    unsigned parts = 0;
    vd_fault_words(vd_visit_fault(r.visit), true, words, sizeof words);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_entry *entry = vd_visit_entry(r.visit, i);
        parts = parts * 31u + entry->part + entry->sending * 7u + entry->live * 3u + entry->stored;
        parts = add(parts, said(vd_visit_live(r.visit), model->settings[i].words->key));
    }
    vd_sim_use use = vd_sim_use_of(r.sim);
    if (!is_true(&r)) {
        fail_msg("%s, %s, %s: confirmed, and not so", model->key, tasks[task], m->name);
    }
    vd_wants wants;
    vd_visit_engine.wants(r.visit, &wants);
    char named[48];
    vd_writer writer = vd_writer_start(named, sizeof named);
    vd_writer_add_status(&writer, status);
    g_string_append_printf(table, "%s, %s, %s: %s; %u %u %u %u %u %u of %u; %u bytes, %u ms, %u news; %08X %08X\n",
                           model->key, tasks[task], m->name, named, sum.confirmed, sum.live_only, sum.differing,
                           sum.unreadable, sum.not_sent, sum.unknown, sum.total, (unsigned)use.bytes,
                           (unsigned)(vd_sim_now(r.sim) / 1000), wants.news, add(0, words), parts);
    free(target.memory);
    rig_end(&r);
}

/* What a slot that cannot be saved holds is not written, and all that can are named. */
static void test_slots_that_are_fixed(void **state)
{
    (void)state;
    const vd_model *model = model_of("foghorn");
    rig r;
    rig_prepare(&r, model);
    rig_start(&r);
    vd_set target = new_set(model);
    put(&target, "horn.period", "50 s");
    assert_int_equal(rig_write(&r, &target), VD_SLOT_FIXED);
    assert_string_equal(vd_visit_fault(r.visit)->said, "1");
    assert_string_equal(vd_visit_fault(r.visit)->allowed, "2 or 3");
    free(target.memory);
    rig_end(&r);
}

static void test_all_kinds(void **state)
{
    (void)state;
    GString *table =
        g_string_new("kind, task, manner: status; confirmed, live only, differing, unreadable, not sent, unknown; "
                     "bytes on the line, time; sums over what was said, and over the ledger\n");
    for (size_t k = 0; k < G_N_ELEMENTS(kinds); k++) {
        const vd_model *model = model_of(kinds[k]);
        for (int task = 0; task < TASKS; task++) {
            bool can = (task != ACT || model->action_count > 0) && (task != TELL || vd_model_has_address(model));
            for (size_t m = 0; can && m < G_N_ELEMENTS(manners); m++) {
                bool by_hand = model->listening.hand.hold > 0 || model->listening.writing.hold > 0;
                bool hands = by_hand && (manners[m].no_hand || manners[m].late_hand);
                if (m == 0 || hands || (m + 2 * k + 3 * (size_t)task) % 4 == 0) { /* the rest take turns */
                    one(model, task, &manners[m], table);
                }
            }
        }
    }
    assert_as_kept("kinds.txt", table->str);
    g_string_free(table, TRUE);
}

int main(void)
{
    const struct CMUnitTest suite[] = {cmocka_unit_test(test_all_kinds), cmocka_unit_test(test_slots_that_are_fixed)};
    return cmocka_run_group_tests(suite, NULL, NULL);
}
