/* SPDX-License-Identifier: MIT
 * Models compiled ahead: the tables that were written are, written again, the same; a visit by them says and does on
 * the wire what one by the model that was loaded does, and so does a unit that plays them. */
#include "fixtures.h"

#include "verdite/compiled.h"
#include "verdite/types.h"

#include <string.h>

/* With words, and bare: each shipped model twice. What is bare is named so. */
#define VDM_DOWEL_TABLES
#define VDM_BROCK_TABLES
#define VDM_SKEP_TABLES
#define VDM_WREN_TABLES
#define VDM_LANTERN_TABLES
#include "brock_tables.h"
#include "dowel_tables.h"
#include "lantern_tables.h"
#include "skep_tables.h"
#include "wren_tables.h"

extern const vd_model bare_dowel, bare_brock, bare_skep, bare_wren, bare_lantern;

static const struct {
    const char *key;
    const vd_model *full, *bare;
} models[] = {{"dowel", &vdm_dowel, &bare_dowel},
              {"brock", &vdm_brock, &bare_brock},
              {"skep", &vdm_skep, &bare_skep},
              {"wren", &vdm_wren, &bare_wren},
              {"lantern", &vdm_lantern, &bare_lantern}};

static void test_written_again_they_are_the_same(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(models); i++) {
        const vd_model *loaded = shipped(models[i].key);
        char *once = vd_model_tables(loaded, true), *again = vd_model_tables(models[i].full, true);
        assert_string_equal(once, again);
        g_free(once);
        g_free(again);
    }
}

/* What stands there without words is no text that anybody reads. */
static void test_bare_ones_have_no_words(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(models); i++) {
        const vd_model *model = models[i].bare;
        assert_int_equal(model->setting_count, models[i].full->setting_count);
        assert_string_equal(model->title, "");
        assert_int_equal(model->topic_count + model->ability_count + model->alarm_count + model->formula_count, 0);
        assert_null(model->book->say);
        for (uint16_t k = 0; k < model->setting_count; k++) {
            assert_ptr_equal(model->settings[k].words, &vd_no_words);
            bool printed = model->language->has_words && vd_setting_is(&model->settings[k], VD_TYPE_PRINTED);
            assert_int_equal(model->settings[k].traits->words != NULL, printed); /* else nobody reads them */
        }
        for (uint16_t k = 0; k < model->rule_count; k++) {
            assert_null(model->rules[k].must);
        }
    }
}

static void test_sizes_are_what_they_are_said_to_be(void **state)
{
    (void)state;
    const struct {
        const vd_model *model;
        size_t set, visit;
    } sizes[] = {{&vdm_dowel, VDM_DOWEL_SET_SIZE, VDM_DOWEL_VISIT_SIZE},
                 {&vdm_brock, VDM_BROCK_SET_SIZE, VDM_BROCK_VISIT_SIZE},
                 {&vdm_skep, VDM_SKEP_SET_SIZE, VDM_SKEP_VISIT_SIZE},
                 {&vdm_wren, VDM_WREN_SET_SIZE, VDM_WREN_VISIT_SIZE},
                 {&vdm_lantern, VDM_LANTERN_SET_SIZE, VDM_LANTERN_VISIT_SIZE}};
    for (size_t i = 0; i < G_N_ELEMENTS(sizes); i++) {
        assert_int_equal(vd_set_size(sizes[i].model), sizes[i].set);
        assert_int_equal(vd_visit_size(sizes[i].model), sizes[i].visit);
    }
}

/* What came of a visit, and what it cost. */
typedef struct came {
    vd_status status;
    vd_summary summary;
    uint64_t time, bytes;
    uint32_t verdicts; /* of all settings, mixed */
    uint32_t said;     /* all bytes of the line and their times, mixed */
} came;

static void mix(void *about, uint64_t time, size_t lane, bool sent, const uint8_t *bytes, const uint8_t *errors,
                size_t count)
{
    uint32_t *said = about;
    (void)errors;
    *said = (*said * 31u + (uint32_t)time) * 31u + (uint32_t)lane + (sent ? 7u : 0u);
    for (size_t i = 0; bytes != NULL && i < count; i++) {
        *said = *said * 31u + bytes[i];
    }
}

static bool keeps_the_rules(const vd_set *whole)
{
    for (uint16_t i = 0; i < whole->model->rule_count; i++) {
        for (uint16_t item = 0; item < vd_rule_items(whole->model, i); item++) {
            if (vd_rule_judge(whole, whole, i, item, NULL) == VD_FAILS) {
                return false;
            }
        }
    }
    return true;
}

/* Wishes for many settings of which a profile would have any: a step beside the default, where no rule is broken. */
static void wish(vd_set *target)
{
    const vd_model *model = target->model;
    vd_set whole = new_set(model);
    vd_set_put_initial(&whole);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *s = &model->settings[i];
        bool number =
            !vd_type_is_bytes((vd_type)s->traits->id) && vd_index(s->places_from) == VD_NONE && !s->gives_places;
        if (s->access != VD_READ_WRITE || s->secret || s->own || vd_role_is_link((vd_role)s->role) || !number ||
            s->set_count > 0 || s->conditional) {
            continue;
        }
        int64_t count = s->initial > s->min ? s->initial - s->step : s->initial + s->step;
        const vd_meaning meaning = vd_setting_meaning(s);
        vd_value value = vd_value_from_count(&meaning, count), before = vd_set_get(&whole, i);
        vd_set_put(&whole, i, &value);
        if (vd_set_check(&whole, i, NULL) == VD_OK && keeps_the_rules(&whole)) {
            vd_set_put(target, i, &value);
        } else {
            vd_set_put(&whole, i, &before);
        }
    }
    free(whole.memory);
}

static came visit_with(const vd_model *visitor, const vd_model *played, const vd_unit_language *language)
{
    rig r;
    rig_prepare(&r, played);
    r.units[0].language = language;
    r.visitor = visitor;
    r.password = "0000";
    rig_start(&r);
    if (played->listening.hand.hold > 0) {
        vd_sim_hand(r.sim, 0, VD_HAND_PRESS, played->listening.hand.hold);
    }
    vd_set target = new_set(visitor);
    wish(&target);
    came c = {0};
    r.loop.trace = mix;
    r.loop.trace_about = &c.said;
    c.status = rig_write(&r, &target);
    c.summary = vd_visit_summary(r.visit);
    c.time = vd_sim_now(r.sim);
    c.bytes = vd_sim_use_of(r.sim).bytes;
    for (uint16_t i = 0; i < visitor->setting_count; i++) {
        c.verdicts = c.verdicts * 31u + (uint32_t)vd_visit_verdict(r.visit, i);
    }
    free(target.memory);
    rig_end(&r);
    return c;
}

static void assert_alike(const char *key, const char *what, const came *a, const came *b)
{
    if (a->status != b->status || memcmp(&a->summary, &b->summary, sizeof a->summary) != 0 || a->time != b->time ||
        a->bytes != b->bytes || a->verdicts != b->verdicts || a->said != b->said) {
        fail_msg("%s with %s: ended with %d and %d, at %llu and %llu, after %llu and %llu bytes, %08X and %08X", key,
                 what, a->status, b->status, (unsigned long long)a->time, (unsigned long long)b->time,
                 (unsigned long long)a->bytes, (unsigned long long)b->bytes, a->said, b->said);
    }
}

static void test_a_visit_by_tables_is_the_same_visit(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(models); i++) {
        const vd_model *loaded = shipped(models[i].key);
        const vd_unit_language *language = vd_unit_language_of(loaded);
        came by_file = visit_with(loaded, loaded, language), full = visit_with(models[i].full, loaded, language),
             bare = visit_with(models[i].bare, loaded, language), played = visit_with(loaded, models[i].full, language);
        vd_model alone = *models[i].full;
        alone.language = NULL;
        came mute = visit_with(loaded, &alone, language);
        assert_int_equal(by_file.status, VD_OK);
        if (by_file.summary.whole != VD_WHOLE_VERIFIED || by_file.bytes < 400 || by_file.said == 0) {
            fail_msg("%s: %d after %llu bytes", models[i].key, by_file.summary.whole,
                     (unsigned long long)by_file.bytes);
        }
        assert_alike(models[i].key, "its tables", &by_file, &full);
        assert_alike(models[i].key, "bare tables", &by_file, &bare);
        assert_alike(models[i].key, "a unit of tables", &by_file, &played);
        assert_alike(models[i].key, "a unit without a language in its tables", &by_file, &mute);
    }
}

/* A unit's own firmware may leave the language out of its model, so that it links no client. */
static void test_a_unit_needs_no_language_in_its_model(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(models); i++) {
        const vd_model *loaded = shipped(models[i].key);
        vd_model alone = *models[i].full;
        size_t size = vd_unit_size(models[i].full, vd_unit_language_of(loaded));
        const vd_identity identity = {"Quillmere", "", "1.4", "S-1"};
        static vd_unit_storage unit;
        uint64_t now = 5000000;
        void *memory = calloc(1, size);
        vd_wants wants;
        alone.language = NULL;
        assert_int_equal(vd_unit_start(vd_unit_in(&unit), &alone, vd_unit_language_of(loaded), &identity, memory, size),
                         VD_OK);
        vd_unit_power_up(vd_unit_in(&unit), 0);
        vd_unit_hold_button(vd_unit_in(&unit), 1000000, 10000);
        for (; now < 100000000; now += 250000) {
            vd_unit_engine.feed(vd_unit_in(&unit), &(vd_event){.kind = VD_TIME, .now = now});
            vd_unit_engine.wants(vd_unit_in(&unit), &wants);
            if (wants.count > 0) {
                vd_unit_engine.feed(vd_unit_in(&unit), &(vd_event){.kind = VD_SENT, .now = now, .until = now});
            }
        }
        assert_int_equal(vd_unit_address(vd_unit_in(&unit)), alone.address_factory);
        free(memory);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_written_again_they_are_the_same),
        cmocka_unit_test(test_bare_ones_have_no_words),
        cmocka_unit_test(test_sizes_are_what_they_are_said_to_be),
        cmocka_unit_test(test_a_visit_by_tables_is_the_same_visit),
        cmocka_unit_test(test_a_unit_needs_no_language_in_its_model),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
