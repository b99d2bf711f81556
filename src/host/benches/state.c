/* SPDX-License-Identifier: MIT
 * The state in which a bench was left: its clock, what each unit holds live and stored, and whether it listens. Values
 * are kept as people read them, so that the file can be looked at. */
#include "parts.h"
#include "verdite/course.h"

#include <errno.h>
#include <jansson.h>
#include <stddef.h>
#include <string.h>
#include <unistd.h>

#define STATE_FORMAT 2
#define MOST_BYTES (64u << 20)

static char *state_path(const char *folder)
{
    return g_build_filename(folder, "state.json", NULL);
}

static json_t *bank_to_json(const vd_set *set)
{
    json_t *bank = json_object();
    for (uint16_t i = 0; i < set->model->setting_count; i++) {
        const vd_setting *setting = &set->model->settings[i];
        char text[512];
        vd_writer writer = vd_writer_start(text, sizeof text);
        vd_value value = vd_set_get(set, i);
        /* From where, changes with each restart. */
        bool counts = vd_setting_moves(setting) == VD_COUNTS || vd_intervals_show(set->model, i);
        if (value.type != VD_NOTHING && (setting->access != VD_READ_ONLY || counts)) {
            vd_value_print(setting, &value, &writer);
            json_object_set_new(bank, setting->words->key, json_string(text));
        }
    }
    return bank;
}

/* Moments are kept as they are on the bench's clock; those that never come are left out. */
static const struct {
    const char *key;
    size_t offset;
} moments[] = {{"listens-from", offsetof(vd_unit_condition, listens_from)},
               {"writable-from", offsetof(vd_unit_condition, writable_from)},
               {"last-request", offsetof(vd_unit_condition, last_request)},
               {"on-since", offsetof(vd_unit_condition, on_since)},
               {"alarms-since", offsetof(vd_unit_condition, alarms_since)},
               {"alarms-cleared", offsetof(vd_unit_condition, cleared_at)},
               {"days-since", offsetof(vd_unit_condition, days_since)},
               {"off-until", offsetof(vd_unit_condition, off_until)}};

static uint64_t *moment_of(vd_unit_condition *condition, size_t i)
{
    return (uint64_t *)(void *)((char *)condition + moments[i].offset);
}

/* What else is to be found as it was left. */
static void state_to_json(const vd_bench_folder *bench, uint16_t index, json_t *banks)
{
    const vd_unit *unit = vd_sim_unit(bench->sim, index);
    vd_unit_condition condition = vd_unit_condition_of(unit);
    json_object_set_new(banks, "supply", json_boolean(vd_sim_has_supply(bench->sim, index)));
    json_object_set_new(banks, "plugged", json_boolean(vd_sim_is_plugged(bench->sim, index)));
    json_object_set_new(banks, "logged-in", json_boolean(condition.logged_in));
    json_object_set_new(banks, "tries-left", json_integer(condition.tries_left));
    json_t *slots = json_array();
    for (uint8_t n = 1; n <= vd_unit_model(unit)->slots.count; n++) {
        vd_set slot = vd_unit_slot(unit, n);
        json_array_append_new(slots, bank_to_json(&slot));
    }
    json_object_set_new(banks, "slots", slots);
    for (size_t i = 0; i < G_N_ELEMENTS(moments); i++) {
        if (*moment_of(&condition, i) != VD_NEVER) {
            json_object_set_new(banks, moments[i].key, json_integer((json_int_t)*moment_of(&condition, i)));
        }
    }
}

static bool state_from_json(vd_bench_folder *bench, uint16_t index, json_t *banks)
{
    vd_unit_condition condition = {0};
    json_t *supply = json_object_get(banks, "supply"), *plugged = json_object_get(banks, "plugged");
    json_t *tries = json_object_get(banks, "tries-left");
    if (!json_is_boolean(supply) || !json_is_boolean(plugged) || !json_is_integer(tries) ||
        json_integer_value(tries) < 0 || json_integer_value(tries) > 255) {
        return false;
    }
    for (size_t i = 0; i < G_N_ELEMENTS(moments); i++) {
        json_t *moment = json_object_get(banks, moments[i].key);
        *moment_of(&condition, i) = json_is_integer(moment) ? (uint64_t)json_integer_value(moment) : VD_NEVER;
    }
    condition.announced = condition.listens_from <= vd_sim_now(bench->sim);
    condition.logged_in = json_is_true(json_object_get(banks, "logged-in"));
    condition.tries_left = (uint8_t)json_integer_value(tries);
    vd_unit_put_condition(vd_sim_unit(bench->sim, index), &condition);
    if (!json_is_true(supply)) {
        vd_sim_hand(bench->sim, index, VD_HAND_POWER_OFF, 0);
    }
    vd_sim_hand(bench->sim, index, json_is_true(plugged) ? VD_HAND_PLUG : VD_HAND_UNPLUG, 0);
    return true;
}

vd_status vd_bench_keep(vd_bench_folder *bench, vd_fault *fault)
{
    json_t *units = json_object();
    for (uint16_t i = 0; i < bench->world.unit_count; i++) {
        const vd_unit *unit = vd_sim_unit(bench->sim, i);
        json_t *banks = json_pack("{s:o, s:o}", "live", bank_to_json(vd_unit_live(unit)), "stored",
                                  bank_to_json(vd_unit_stored(unit)));
        state_to_json(bench, i, banks);
        json_object_set_new(units, bench->world.units[i].name, banks);
    }
    json_t *state =
        json_pack("{s:i, s:I, s:I, s:o}", "verdite-bench-state", STATE_FORMAT, "clock",
                  (json_int_t)vd_sim_now(bench->sim), "turns", (json_int_t)vd_sim_turns(bench->sim), "units", units);
    char *text = json_dumps(state, JSON_INDENT(1)), *path = state_path(bench->folder);
    vd_status status = vd_file_save(path, &(vd_file_text){text, strlen(text), true}, fault);
    free(text);
    g_free(path);
    json_decref(state);
    return status;
}

static bool bank_from_json(json_t *bank, vd_set *set)
{
    const char *key = NULL;
    json_t *member = NULL;
    json_object_foreach(bank, key, member)
    {
        uint16_t setting = vd_model_find(set->model, key);
        const char *text = json_string_value(member);
        vd_typed typed;
        if (setting == VD_NONE || text == NULL ||
            vd_setting_parse(&set->model->settings[setting], text, strlen(text), &typed, NULL) != VD_OK) {
            return false;
        }
        vd_set_put(set, setting, &typed.value);
    }
    return json_is_object(bank);
}

static bool restore_unit(vd_bench_folder *bench, uint16_t index, json_t *banks)
{
    vd_unit *unit = vd_sim_unit(bench->sim, index);
    if (!bank_from_json(json_object_get(banks, "stored"), vd_unit_stored_bank(unit))) {
        return false;
    }
    for (uint8_t n = 1; n <= vd_unit_model(unit)->slots.count; n++) {
        vd_set slot = vd_unit_slot(unit, n);
        if (!bank_from_json(json_array_get(json_object_get(banks, "slots"), n - 1u), &slot)) {
            return false;
        }
    }
    if (json_is_true(json_object_get(banks, "supply")) && !vd_sim_has_supply(bench->sim, index)) {
        vd_sim_hand(bench->sim, index, VD_HAND_POWER_ON, 0);
    }
    vd_sim_restart_unit(bench->sim, index);
    return bank_from_json(json_object_get(banks, "stored"),
                          vd_unit_stored_bank(unit)) && /* since when it counts is among it */
           bank_from_json(json_object_get(banks, "live"), vd_unit_live_bank(unit)) &&
           state_from_json(bench, index, banks);
}

static bool restore(vd_bench_folder *bench, json_t *state)
{
    json_t *units = json_object_get(state, "units"), *clock = json_object_get(state, "clock");
    json_int_t turns = json_integer_value(json_object_get(state, "turns"));
    vd_sim_put_turns(bench->sim, (uint32_t)CLAMP(turns, 0, G_MAXINT32));
    bool fine = json_integer_value(json_object_get(state, "verdite-bench-state")) == STATE_FORMAT &&
                json_is_integer(clock) && json_integer_value(clock) >= 0 &&
                vd_sim_set_now(bench->sim, (uint64_t)json_integer_value(clock));
    for (uint16_t i = 0; i < bench->world.unit_count && fine; i++) {
        json_t *banks = json_object_get(units, bench->world.units[i].name);
        fine = banks == NULL || restore_unit(bench, i, banks); /* a unit that is new to the file starts afresh */
    }
    return fine;
}

bool bench_restore(vd_bench_folder *bench, vd_findings *findings)
{
    char *path = state_path(bench->folder);
    json_error_t error;
    bool fine = true;
    char *text = NULL;
    size_t length = 0;
    vd_fault unread = {0};
    if (vd_file_read(path, MOST_BYTES, &text, &length, &unread) == VD_OK || g_file_test(path, G_FILE_TEST_EXISTS)) {
        json_t *state = text != NULL ? json_loadb(text, length, JSON_REJECT_DUPLICATES, &error) : NULL;
        fine = state != NULL && restore(bench, state);
        json_decref(state);
    }
    if (!fine) {
        vd_fault fault = {0};
        vd_note_WRONG_SHAPE(&fault, "state.json",
                            "a state that this bench was left in; start it afresh with: verdite-bench afresh FOLDER");
        vd_findings_add(findings, 0, 0, &fault);
    }
    g_free(text);
    g_free(path);
    return fine;
}

vd_status vd_bench_start_afresh(const char *folder, vd_fault *fault)
{
    char *path = state_path(folder);
    int failed = unlink(path);
    int why = errno;
    g_free(path);
    return failed == 0 || why == ENOENT ? VD_OK : vd_note_FILE_UNWRITABLE(fault, g_strerror(why));
}
