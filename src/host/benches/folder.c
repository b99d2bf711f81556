/* SPDX-License-Identifier: MIT
 * A bench: a folder with bench.yaml, which people edit (docs/bench.md). The state in which its units were left is kept
 * by state.c. */
#include "parts.h"

#include "verdite/log.h"
#include "verdite/survey.h"

#include <errno.h>
#include <fcntl.h>
#include <string.h>
#include <sys/file.h>
#include <unistd.h>

#define BENCH_MOST (1u << 20)
#define BENCH_FORMAT 1
#define MOST_ITEMS 1000

static const char *keep(vd_bench_folder *bench, const char *text)
{
    return g_string_chunk_insert_const(bench->texts, text);
}

static bool take_text(vd_bench_folder *bench, yaml_file *file, const yaml_node_t *map, const char *key, bool needed,
                      const char **out)
{
    const char *text = "";
    bool fine = yaml_take_text(file, map, key, needed, &text);
    *out = keep(bench, text);
    return fine;
}

static bool take_key(vd_bench_folder *bench, yaml_file *file, const yaml_node_t *map, const char *key, const char **out)
{
    const char *text = "";
    bool fine = yaml_take_key(file, map, key, &text);
    *out = keep(bench, text);
    return fine;
}

/* Cables have no more than a name; each name met is one more cable. */
static bool take_cable(vd_bench_folder *bench, yaml_file *file, const yaml_node_t *map, uint16_t *cable)
{
    const char *name = "";
    *cable = VD_NONE;
    if (!yaml_take_text(file, map, "cable", false, &name)) {
        return false;
    }
    for (guint i = 0; i < bench->cables->len && name[0] != '\0'; i++) {
        if (strcmp(g_ptr_array_index(bench->cables, i), name) == 0) {
            *cable = (uint16_t)i;
            return true;
        }
    }
    if (name[0] != '\0') {
        *cable = (uint16_t)bench->cables->len;
        g_ptr_array_add(bench->cables, (gpointer)keep(bench, name));
    }
    return true;
}

static bool take_microseconds(yaml_file *file, const yaml_node_t *map, const char *key, uint32_t *out)
{
    int64_t milliseconds = *out / 1000;
    bool fine = yaml_take_duration(file, map, key, false, 3600000, &milliseconds);
    *out = (uint32_t)(milliseconds * 1000);
    return fine;
}

static bool take_adapter(vd_bench_folder *bench, yaml_file *file, const yaml_node_t *map, vd_bench_adapter *adapter)
{
    static const char *const keys[] = {"name",      "label", "cable", "latency", "bursts", "lost-after", "busy",
                                       "forbidden", "echo",  "noise", "fastest", "wire",   "at-once",    NULL};
    static const char *const wires[] = {
        [VD_WIRE] = "real", [VD_WIRE_NOT_KNOWN] = "not-known", [VD_NO_WIRE] = "none", NULL};
    uint8_t wire = VD_WIRE;
    int64_t lost_after = 0, noise = 0, fastest = 0;
    bool fine =
        yaml_check_keys(file, map, keys) && take_key(bench, file, map, "name", &adapter->name) &&
        take_text(bench, file, map, "label", false, &adapter->label) && take_cable(bench, file, map, &adapter->cable) &&
        take_microseconds(file, map, "latency", &adapter->latency) &&
        take_microseconds(file, map, "bursts", &adapter->burst) &&
        yaml_take_integer(file, map, "lost-after", false, 0, G_MAXINT32, &lost_after) &&
        yaml_take_truth(file, map, "busy", &adapter->busy) && yaml_take_truth(file, map, "echo", &adapter->echo) &&
        yaml_take_integer(file, map, "noise", false, 0, 10000000, &noise) &&
        yaml_take_integer(file, map, "fastest", false, 300, 4000000, &fastest) &&
        yaml_take_truth(file, map, "forbidden", &adapter->forbidden) &&
        yaml_take_word(file, map, "wire", false, wires, &wire) &&
        yaml_take_truth(file, map, "at-once", &adapter->at_once);
    adapter->wire = (vd_wire)wire;
    adapter->fastest = (uint32_t)fastest;
    adapter->lost_after = (uint32_t)lost_after;
    adapter->noise = (uint32_t)noise;
    return fine;
}

static bool take_faults(yaml_file *file, const yaml_node_t *map, vd_bench_faults *faults)
{
    static const char *const keys[] = {
        "damage-every", "cut-every", "extend-every", "function-every", "address-every", "mute-every", "stray-every",
        "late",         "jitter",    "chatter",      "starting",       "answers-all",   "exception",  NULL};
    const struct {
        const char *key;
        uint16_t *out;
    } counts[] = {{"damage-every", &faults->damage_every},   {"cut-every", &faults->cut_every},
                  {"extend-every", &faults->extend_every},   {"function-every", &faults->function_every},
                  {"address-every", &faults->address_every}, {"mute-every", &faults->mute_every},
                  {"stray-every", &faults->stray_every}};
    int64_t exception = 0;
    if (map == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(file, map, keys) && take_microseconds(file, map, "late", &faults->late) &&
                take_microseconds(file, map, "jitter", &faults->jitter) &&
                take_microseconds(file, map, "chatter", &faults->chatter) &&
                take_microseconds(file, map, "starting", &faults->starting) &&
                yaml_take_truth(file, map, "answers-all", &faults->answers_all) &&
                yaml_take_integer(file, map, "exception", false, 1, 255, &exception);
    faults->exception = (uint8_t)exception;
    for (size_t i = 0; i < G_N_ELEMENTS(counts) && fine; i++) {
        int64_t every = 0;
        fine = yaml_take_integer(file, map, counts[i].key, false, 1, 0xFFFF, &every);
        *counts[i].out = (uint16_t)every;
    }
    return fine;
}

/* Hands: a list such as - {does: press, for: 3 s, when: asked}. */
static bool take_hands(vd_bench_folder *bench, yaml_file *file, const yaml_node_t *map, vd_bench_unit *unit)
{
    static const char *const keys[] = {"does", "for", "at", "when", "turn", "after", NULL};
    static const char *const deeds[] = {"press", "unplug", "plug", "power-off", "power-on", NULL};
    static const char *const moments[] = {"at", "asked", NULL};
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(file, map, "hands", 100, &count, &items);
    vd_bench_hand *hands = g_new0(vd_bench_hand, count + 1);
    g_ptr_array_add(bench->memory, hands);
    for (gsize i = 0; i < count && fine; i++) {
        const yaml_node_t *item = yaml_node(file, items[i]);
        uint8_t deed = 0, moment = 0;
        int64_t hold = 0, at = 0, turn = 0;
        fine = yaml_check_keys(file, item, keys) && yaml_take_word(file, item, "does", true, deeds, &deed) &&
               yaml_take_word(file, item, "when", false, moments, &moment) &&
               yaml_take_integer(file, item, "turn", false, moment == 1 ? 1 : 0, moment == 1 ? 10000 : 0, &turn) &&
               yaml_take_duration(file, item, "for", deed == VD_HAND_PRESS, 60000, &hold) &&
               yaml_take_duration(file, item, moment == 1 ? "after" : "at", moment == 0, 86400000, &at);
        hands[i] = (vd_bench_hand){.does = (vd_hand)deed,
                                   .hold = (uint32_t)hold,
                                   .at = (uint64_t)at * 1000u,
                                   .turn = (uint16_t)turn,
                                   .when_asked = moment == 1};
    }
    unit->hands = hands;
    unit->hand_count = (uint16_t)(fine ? count : 0);
    return fine;
}

void *bench_new_set(vd_bench_folder *bench, const vd_model *model, vd_set *set)
{
    void *memory = g_malloc0(vd_set_size(model));
    g_ptr_array_add(bench->memory, memory);
    vd_set_start(set, model, memory, vd_set_size(model));
    return memory;
}

/* A value has as many decimals as its unit gives it, however it was written: 80 kg is 80.0 kg there. */
static bool take_decimals(yaml_file *file, const yaml_node_t *map, vd_set *set)
{
    bool fine = true;
    for (yaml_node_pair_t *pair = map != NULL ? map->data.mapping.pairs.start : NULL;
         pair != NULL && pair < map->data.mapping.pairs.top; pair++) {
        const yaml_node_t *key = yaml_node(file, pair->key), *node = yaml_node(file, pair->value);
        const char *name = key->type == YAML_SCALAR_NODE ? (const char *)key->data.scalar.value : "";
        uint16_t setting = vd_model_find(set->model, name);
        vd_value value = setting != VD_NONE ? vd_set_get(set, setting) : (vd_value){.type = VD_NOTHING};
        vd_fault fault = {0};
        int64_t count = 0;
        if (value.type == VD_NOTHING || vd_index(set->model->settings[setting].places_from) == VD_NONE) {
            continue;
        }
        if (vd_set_to_count(set, setting, &value, &count, &fault) != VD_OK) {
            fine = yaml_note_fault(file, node, &fault);
            continue;
        }
        value = vd_set_from_count(set, setting, count);
        vd_set_put(set, setting, &value);
    }
    return fine;
}

/* What differs from factory defaults. Read-only settings may be given too: they are what the unit measures. */
static bool take_initial(vd_bench_folder *bench, yaml_file *file, const yaml_node_t *map, vd_bench_unit *unit)
{
    vd_set *set = g_new0(vd_set, 1);
    bool fine = true;
    g_ptr_array_add(bench->memory, set);
    bench_new_set(bench, unit->model, set);
    vd_set_tell_unit(set, &unit->identity);
    vd_set_put_initial(set);
    if (map != NULL && map->type != YAML_MAPPING_NODE) {
        return yaml_note(file, map,
                         vd_fault_of_WRONG_SHAPE("settings", "a line for each setting: its key, a colon, its value"));
    }
    for (yaml_node_pair_t *pair = map != NULL ? map->data.mapping.pairs.start : NULL;
         pair != NULL && pair < map->data.mapping.pairs.top; pair++) {
        const yaml_node_t *key = yaml_node(file, pair->key), *node = yaml_node(file, pair->value);
        const char *name = yaml_text(file, key, "a key");
        vd_fault fault = {0};
        vd_typed typed;
        uint16_t setting = name != NULL ? vd_model_find(unit->model, name) : VD_NONE;
        if (setting == VD_NONE) {
            fine = yaml_note(file, key, vd_fault_of_NO_SUCH_SETTING(name, "The model lists all."));
            continue;
        }
        const char *text = yaml_text(file, node, name);
        if (text == NULL ||
            vd_setting_parse(&unit->model->settings[setting], text, strlen(text), &typed, &fault) != VD_OK) {
            fine = text != NULL && yaml_note_fault(file, node, &fault);
            continue;
        }
        vd_set_put(set, setting, &typed.value);
    }
    fine = take_decimals(file, map, set) && fine;
    vd_survey survey;
    vd_fault fault = {0};
    vd_survey_start(&survey, set, NULL);
    while (fine && vd_survey_next(&survey, &fault)) {
        /* What a unit measures, what its maker set and what does not count in its mode may stand there all the same. */
        bool wrong = vd_status_class(fault.status) > VD_CLASS_PARTLY && fault.status != VD_READ_ONLY_SETTING &&
                     fault.status != VD_NOT_YOURS && fault.status != VD_NOT_HERE;
        fine = !wrong || yaml_note_fault(file, map, &fault);
    }
    unit->initial = set;
    return fine;
}

static const char *variant_key_at(const void *about, size_t i)
{
    return ((const vd_model *)about)->variants[i].key;
}

/* The product name by which a unit of this variant identifies itself. */
static const char *take_product(yaml_file *file, const yaml_node_t *map, const vd_model *model, const char *variant)
{
    for (uint8_t i = 0; i < model->variant_count && variant != NULL; i++) {
        if (strcmp(model->variants[i].key, variant) == 0) {
            return model->variants[i].product;
        }
    }
    if (variant == NULL) {
        return model->identify.product;
    }
    char *suggestion = vd_suggest(variant, model->variant_count, variant_key_at, model);
    yaml_note(file, yaml_member(file, map, "variant"), vd_fault_of_NO_SUCH_KEY(variant, suggestion));
    g_free(suggestion);
    return NULL;
}

static bool fits(yaml_file *file, const yaml_node_t *map, const char *key, const char *text, char *to, size_t size)
{
    if (g_strlcpy(to, text, size) < size) {
        return true;
    }
    char *allowed = g_strdup_printf("at most %zu characters", size - 1);
    yaml_note(file, yaml_member(file, map, key), vd_fault_of_WRONG_SHAPE(key, allowed));
    g_free(allowed);
    return false;
}

/* The day that was described, in words; else the usual ones of its model. */
static bool take_days(vd_bench_folder *bench, yaml_file *file, const yaml_node_t *map, vd_bench_unit *unit)
{
    const char *text = NULL;
    vd_fault fault = {0};
    if (!yaml_take_text(file, map, "day", false, &text)) {
        return false;
    }
    if (text != NULL) {
        vd_days *days = vd_days_parse(unit->model, text, &fault);
        if (days == NULL) {
            return yaml_note_fault(file, yaml_member(file, map, "day"), &fault);
        }
        g_ptr_array_add(bench->days, days);
        unit->days = vd_days_list(days, &unit->day_count);
    } else if (unit->model->intervals != NULL) {
        unit->days = unit->model->intervals->days;
        unit->day_count = unit->model->intervals->day_count;
    }
    return true;
}

static bool take_unit(vd_bench_folder *bench, yaml_file *file, const yaml_node_t *map, vd_catalogue *catalogue,
                      vd_bench_unit *unit)
{
    static const char *const keys[] = {"name",      "model",    "variant", "cable", "serial",  "firmware", "off",
                                       "unplugged", "settings", "faults",  "hands", "follows", "day",      NULL};
    const char *model = "", *serial = "", *firmware = "", *variant = NULL;
    bool fine =
        yaml_check_keys(file, map, keys) && take_key(bench, file, map, "name", &unit->name) &&
        yaml_take_text(file, map, "model", true, &model) && take_cable(bench, file, map, &unit->cable) &&
        yaml_take_text(file, map, "serial", true, &serial) && yaml_take_text(file, map, "firmware", true, &firmware) &&
        yaml_take_text(file, map, "variant", false, &variant) && yaml_take_truth(file, map, "off", &unit->off) &&
        yaml_take_truth(file, map, "unplugged", &unit->unplugged) &&
        take_faults(file, yaml_member(file, map, "faults"), &unit->faults) && take_hands(bench, file, map, unit);
    if (!fine) {
        return false;
    }
    vd_findings *own = vd_findings_new("");
    unit->model = vd_catalogue_model(catalogue, model, &own);
    if (unit->model == NULL) {
        yaml_note_fault(file, yaml_member(file, map, "model"), &g_array_index(own->list, vd_finding, 0).fault);
    }
    vd_findings_free(own);
    if (unit->model == NULL) {
        return false;
    }
    unit->language = vd_unit_language_of(unit->model);
    g_strlcpy(unit->identity.maker, unit->model->identify.maker, sizeof unit->identity.maker);
    const char *product = take_product(file, map, unit->model, variant);
    if (product == NULL) {
        return false;
    }
    g_strlcpy(unit->identity.product, product, sizeof unit->identity.product);
    return fits(file, map, "firmware", firmware, unit->identity.firmware, sizeof unit->identity.firmware) &&
           fits(file, map, "serial", serial, unit->identity.serial, VD_SERIAL_MOST + 1) &&
           bench_take_log(bench, file, yaml_member(file, map, "follows"), unit) && take_days(bench, file, map, unit) &&
           take_initial(bench, file, yaml_member(file, map, "settings"), unit);
}

static gsize list_length(yaml_file *file, const yaml_node_t *root, const char *key, const yaml_node_item_t **items)
{
    const yaml_node_t *list = yaml_member(file, root, key);
    if (list == NULL || list->type != YAML_SEQUENCE_NODE ||
        list->data.sequence.items.top - list->data.sequence.items.start > MOST_ITEMS) {
        yaml_note(file, list, vd_fault_of_KEY_MISSING(key, "a list, each item after a dash"));
        return 0;
    }
    *items = list->data.sequence.items.start;
    return (gsize)(list->data.sequence.items.top - list->data.sequence.items.start);
}

static bool take_world(vd_bench_folder *bench, yaml_file *file, vd_catalogue *catalogue)
{
    static const char *const keys[] = {"verdite-bench", "name", "adapters", "units", NULL};
    const yaml_node_t *root = yaml_root(file);
    const yaml_node_item_t *adapters = NULL, *units = NULL;
    if (root == NULL) {
        return yaml_note(file, NULL, vd_fault_of_WRONG_SHAPE("an empty file", "a bench"));
    }
    if (!yaml_check_keys(file, root, keys) || !yaml_take_format(file, root, "verdite-bench", BENCH_FORMAT) ||
        !take_text(bench, file, root, "name", true, &bench->world.name)) {
        return false;
    }
    bench->world.adapter_count = (uint16_t)list_length(file, root, "adapters", &adapters);
    bench->world.unit_count = (uint16_t)list_length(file, root, "units", &units);
    vd_bench_adapter *adapter = g_new0(vd_bench_adapter, bench->world.adapter_count + 1u);
    vd_bench_unit *unit = g_new0(vd_bench_unit, bench->world.unit_count + 1u);
    g_ptr_array_add(bench->memory, adapter);
    g_ptr_array_add(bench->memory, unit);
    bench->world.adapters = adapter;
    bench->world.units = unit;
    bool fine = file->findings->list->len == 0;
    for (uint16_t i = 0; i < bench->world.adapter_count; i++) {
        fine = take_adapter(bench, file, yaml_node(file, adapters[i]), &adapter[i]) && fine;
    }
    for (uint16_t i = 0; i < bench->world.unit_count; i++) {
        fine = take_unit(bench, file, yaml_node(file, units[i]), catalogue, &unit[i]) && fine;
        for (uint16_t k = 0; k < i && fine; k++) {
            if (strcmp(unit[k].name, unit[i].name) == 0) {
                fine = yaml_note(file, yaml_node(file, units[i]), vd_fault_of_KEY_TWICE(unit[i].name));
            }
        }
    }
    bench->world.cable_count = (uint16_t)bench->cables->len;
    return fine;
}

static bool note(vd_findings *findings, vd_status status, const char *said, const char *allowed)
{
    vd_fault fault = {0};
    vd_fault_note(&fault, status, NULL, said, allowed);
    vd_findings_add(findings, 0, 0, &fault);
    return false;
}

static bool lock(vd_bench_folder *bench, vd_findings *findings)
{
    bench->lock = open(bench->folder, O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    if (bench->lock < 0) {
        return note(findings, VD_FILE_UNREADABLE, g_strerror(errno), "");
    }
    return flock(bench->lock, LOCK_EX | LOCK_NB) == 0 || note(findings, VD_BENCH_BUSY, bench->folder, "");
}

/* `own`: nobody else may use it meanwhile, and it stands as it was left. */
static vd_bench_folder *open_world(const char *folder, bool own, vd_catalogue *catalogue, vd_findings *findings)
{
    vd_bench_folder *bench = g_new0(vd_bench_folder, 1);
    bench->lock = -1;
    yaml_file file = {0};
    bench->folder = g_strdup(folder);
    bench->memory = g_ptr_array_new_with_free_func(g_free);
    bench->logs = g_ptr_array_new_with_free_func((GDestroyNotify)vd_log_rows_free);
    bench->days = g_ptr_array_new_with_free_func((GDestroyNotify)vd_days_free);
    bench->texts = g_string_chunk_new(1024);
    bench->cables = g_ptr_array_new();
    char *path = g_build_filename(folder, "bench.yaml", NULL);
    bool fine = !own || lock(bench, findings);
    if (fine) {
        g_free(findings->path);
        findings->path = g_strdup(path);
        fine = yaml_file_load(&file, path, BENCH_MOST, findings) && take_world(bench, &file, catalogue);
    }
    yaml_file_free(&file);
    g_free(path);
    bench->sim = fine ? vd_sim_start(&bench->world) : NULL;
    if (bench->sim == NULL || (own && !bench_restore(bench, findings))) {
        vd_bench_free(bench);
        return NULL;
    }
    return bench;
}

vd_bench_folder *vd_bench_open(const char *folder, vd_catalogue *catalogue, vd_findings *findings)
{
    return open_world(folder, true, catalogue, findings);
}

vd_bench_folder *vd_bench_look(const char *folder, vd_catalogue *catalogue, vd_findings *findings)
{
    return open_world(folder, false, catalogue, findings);
}

void vd_bench_free(vd_bench_folder *bench)
{
    if (bench == NULL) {
        return;
    }
    vd_sim_end(bench->sim);
    if (bench->lock >= 0) {
        close(bench->lock);
    }
    g_ptr_array_free(bench->memory, TRUE);
    g_ptr_array_free(bench->logs, TRUE);
    g_ptr_array_free(bench->days, TRUE);
    g_ptr_array_free(bench->cables, TRUE);
    g_string_chunk_free(bench->texts);
    g_free(bench->folder);
    g_free(bench);
}

vd_moment vd_bench_moment(vd_bench_folder *bench)
{
    const int64_t beginning = 1777708800; /* 2026-05-02 08:00 UTC */
    return (vd_moment){.seconds = beginning + (int64_t)(vd_sim_now(bench->sim) / 1000000u), .known = true};
}

vd_moment vd_moment_now(void)
{
    GDateTime *now = g_date_time_new_now_local();
    vd_moment moment = {.seconds = g_date_time_to_unix(now),
                        .zone = (int16_t)(g_date_time_get_utc_offset(now) / G_TIME_SPAN_MINUTE),
                        .known = true};
    g_date_time_unref(now);
    return moment;
}

vd_sim *vd_bench_sim(vd_bench_folder *bench)
{
    return bench->sim;
}

const vd_bench *vd_bench_world(const vd_bench_folder *bench)
{
    return &bench->world;
}
