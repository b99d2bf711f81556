/* SPDX-License-Identifier: MIT */
#include "fixtures.h"

#include <glib/gstdio.h>
#include <stdlib.h>
#include <string.h>

static const vd_choice modes[] = {{"rest", "", 0}, {"slow-run", "", 2}, {"fast-run", "", 7}};
static const vd_group groups[] = {{"all", "All"}};

#define PLAIN .tick = 1, .measure = "", .step = 1
static const vd_setting settings[] = {
    {.words = &(const vd_setting_words){"count", "Count", "", NULL, NULL, ""},
     .traits = &vd_type_integer,
     PLAIN,
     .min = 5,
     .max = 500,
     .has_initial = true,
     .initial = 10,
     .place = {VD_HOLDING, VD_UNSIGNED, 0, 1, 100, 0, 0}},
    {.words = &(const vd_setting_words){"level", "Level", "", NULL, NULL, ""},
     .traits = &vd_type_decimal,
     .tick = 1,
     .measure = "V",
     .places = 2,
     .min = -1000,
     .max = 1000,
     .step = 5,
     .has_initial = true,
     .place = {VD_HOLDING, VD_SIGNED, 0, 1, 101, 0, 0}},
    {.words = &(const vd_setting_words){"on", "On", "", NULL, NULL, ""},
     .traits = &vd_type_truth,
     PLAIN,
     .max = 1,
     .has_initial = true,
     .place = {VD_HOLDING, VD_UNSIGNED, 0, 1, 102, 0, 0}},
    {.words = &(const vd_setting_words){"mode", "Mode", "", NULL, NULL, ""},
     .traits = &vd_type_choice,
     PLAIN,
     .max = 7,
     .choices = modes,
     .choice_count = 3,
     .has_initial = true,
     .place = {VD_HOLDING, VD_UNSIGNED, 0, 1, 103, 0, 0}},
    {.words = &(const vd_setting_words){"name", "Name", "", NULL, NULL, ""},
     .traits = &vd_type_text,
     PLAIN,
     .length = 5,
     .initial_text = "ling",
     .initial = 4,
     .place = {VD_HOLDING, VD_CHARACTERS, 0, 3, 104, 0, 0}},
    {.words = &(const vd_setting_words){"every", "Every", "", NULL, NULL, ""},
     .traits = &vd_type_duration,
     .measure = "",
     .step = 1,
     .tick = 100,
     .min = 1,
     .max = 36000,
     .has_initial = true,
     .initial = 600,
     .place = {VD_HOLDING, VD_UNSIGNED, 0, 1, 107, 0, 0}},
    {.words = &(const vd_setting_words){"places", "Places", "", NULL, NULL, ""},
     .traits = &vd_type_integer,
     PLAIN,
     .gives_places = true,
     .max = 3,
     .has_initial = true,
     .initial = 1,
     .place = {VD_HOLDING, VD_UNSIGNED, 0, 1, 110, 0, 0}},
    {.words = &(const vd_setting_words){"low", "Low", "", NULL, NULL, ""},
     .traits = &vd_type_decimal,
     .tick = 1,
     .measure = "kg",
     .places = 1,
     .places_from = VD_REF(SAMPLER_PLACES),
     .min = -100000,
     .max = 100000,
     .step = 1,
     .has_initial = true,
     .initial = 180,
     .place = {VD_HOLDING, VD_SIGNED, VD_LOW_FIRST, 2, 111, 0, 0}},
    {.words = &(const vd_setting_words){"high", "High", "", NULL, NULL, ""},
     .traits = &vd_type_decimal,
     .tick = 1,
     .measure = "kg",
     .places = 1,
     .places_from = VD_REF(SAMPLER_PLACES),
     .min = -100000,
     .max = 100000,
     .step = 1,
     .has_initial = true,
     .initial = 650,
     .place = {VD_HOLDING, VD_SIGNED, VD_LOW_FIRST, 2, 113, 0, 0}},
    {.words = &(const vd_setting_words){"secret", "Secret", "", NULL, NULL, ""},
     .traits = &vd_type_integer,
     PLAIN,
     .max = 9999,
     .access = VD_WRITE_ONLY,
     .place = {VD_HOLDING, VD_UNSIGNED, 0, 1, 120, 0, 0}},
    {.words = &(const vd_setting_words){"reading", "Reading", "", NULL, NULL, ""},
     .traits = &vd_type_decimal,
     .tick = 1,
     .measure = "kg",
     .places = 1,
     .places_from = VD_REF(SAMPLER_PLACES),
     .min = -32768,
     .max = 32767,
     .step = 1,
     .access = VD_READ_ONLY,
     .has_initial = true,
     .initial = 413,
     .place = {VD_INPUT, VD_SIGNED, 0, 1, 5, 0, 0}},
};
static const vd_spot blame[] = {{VD_REF(SAMPLER_LOW), 0}, {VD_REF(SAMPLER_HIGH), 0}};
static const vd_rule rules[] = {{.must = "low < high",
                                 .say = "It is {low}, but must be below high, which is {high}.",
                                 .blame = blame,
                                 .blame_count = 2,
                                 .enforced = VD_ENFORCED_WRITING}};
static const vd_hole holes[] = {{VD_HOLDING, 116, 118}};

static vd_model model_of_sampler = {
    .language = &vd_modbus_rtu,
    .key = "sampler",
    .title = "Sampler",
    .summary = "",
    .groups = groups,
    .group_count = 1,
    .settings = settings,
    .setting_count = SAMPLER_SETTINGS,
    .rules = rules,
    .rule_count = 1,
    .holes = holes,
    .hole_count = 1,
    .line = {19200, 8, 'E', 1},
    .address_low = 1,
    .address_high = 247,
    .address_factory = 17,
    .identify = {.way = VD_IDENTIFY_REGISTERS,
                 .maker = "Quillmere",
                 .product = "sampler",
                 .maker_place = {VD_HOLDING, VD_CHARACTERS, 0, 5, 40, 0, 0},
                 .product_place = {VD_HOLDING, VD_CHARACTERS, 0, 4, 45, 0, 0},
                 .firmware_place = {VD_HOLDING, VD_CHARACTERS, 0, 2, 49, 0, 0},
                 .serial_place = {VD_HOLDING, VD_CHARACTERS, 0, 4, 51, 0, 0}},
    .store = {.needed = true, .order = {.address = 1000, .value = 1}, .proof = VD_PROOF_NONE},
    .reply = {.usual = 5,
              .longest = 100,
              .store = 200,
              .busy_wait = 20,
              .busy_limit = 1000,
              .gap = 10,
              .broadcast = 100,
              .tries = 3},
};

const vd_model *sampler(void)
{
    static uint64_t room[2048];
    if (model_of_sampler.book == NULL) {
        assert_int_equal(vd_model_prepare(&model_of_sampler, &vd_modbus_rtu_desk, room, sizeof room, NULL, NULL, NULL),
                         VD_OK);
    }
    return &model_of_sampler;
}

vd_set new_set(const vd_model *model)
{
    vd_set set;
    assert_int_equal(vd_set_start(&set, model, calloc(1, vd_set_size(model)), vd_set_size(model)), VD_OK);
    return set;
}

void put(vd_set *set, const char *key, const char *typed)
{
    vd_typed value;
    vd_fault fault = {0};
    uint16_t setting = vd_model_find(set->model, key);
    assert_int_not_equal(setting, VD_NONE);
    assert_int_equal(vd_setting_parse(&set->model->settings[setting], typed, strlen(typed), &value, &fault), VD_OK);
    vd_set_put(set, setting, &value.value);
}

const char *said(const vd_set *set, const char *key)
{
    static char text[128];
    uint16_t setting = vd_model_find(set->model, key);
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_value value = vd_set_get(set, setting);
    vd_value_print(&set->model->settings[setting], &value, &writer);
    return text;
}

void rig_prepare(rig *r, const vd_model *model)
{
    memset(r, 0, sizeof *r);
    r->visit = vd_visit_in(&r->visit_room);
    r->visitor = model;
    r->adapter = (vd_bench_adapter){.name = "rig", .label = "", .latency = 1000};
    r->units[0] = (vd_bench_unit){
        .name = "one", .model = model, .language = vd_unit_language_of(model), .identity = {"", "", "1.4", "S-1"}};
    g_strlcpy(r->units[0].identity.maker, model->identify.maker, sizeof r->units[0].identity.maker);
    g_strlcpy(r->units[0].identity.product, model->identify.product, sizeof r->units[0].identity.product);
    if (model->intervals != NULL) {
        r->units[0].days = model->intervals->days;
        r->units[0].day_count = model->intervals->day_count;
    }
    r->bench = (vd_bench){"rig", &r->adapter, r->units, 1, 1, 1};
}

void rig_start(rig *r)
{
    const vd_model *model = r->visitor;
    size_t size = vd_visit_size(model);
    r->sim = vd_sim_start(&r->bench);
    assert_non_null(r->sim);
    assert_int_equal(vd_sim_open(r->sim, "rig", &r->port, NULL), VD_OK);
    r->memory = calloc(1, size);
    assert_int_equal(vd_visit_start(r->visit, model, r->memory, size - 1, &model->line, model->address_factory, 1000),
                     VD_MEMORY_TOO_SMALL);
    assert_int_equal(vd_visit_start(r->visit, model, r->memory, size, &model->line, model->address_factory, 1000),
                     VD_OK);
    r->lane = (vd_lane){.port = r->port};
    r->seat = (vd_seat){.engine = &vd_visit_engine, .self = r->visit};
    r->loop = (vd_loop){&vd_sim_kind, vd_sim_ground(r->sim), &r->lane, &r->seat, 1, 1, NULL, NULL};
}

void rig_end(rig *r)
{
    vd_sim_end(r->sim);
    free(r->memory);
}

vd_status rig_run(rig *r)
{
    vd_status status = VD_OK;
    for (unsigned step = 1; !vd_visit_ended(r->visit, &status); step++) {
        vd_wants wants;
        assert_true(step < 1000000);
        if (r->watch != NULL) {
            r->watch(r);
        }
        if (step == r->stop_after || r->stop_now) {
            vd_loop_feed(&r->loop, 0, (vd_event){.kind = VD_STOP});
            continue;
        }
        vd_loop_wants(&r->loop, 0, &wants);
        if (wants.question == VD_ASK_WRITE) {
            vd_loop_feed(&r->loop, 0, (vd_event){.kind = VD_ANSWERED, .yes = !r->refuse_question});
        } else if (wants.question == VD_ASK_OLD_PASSWORD) {
            r->old_asked++;
            vd_loop_feed(&r->loop, 0, (vd_event){.kind = VD_ANSWERED, .yes = !r->refuse_old});
        } else if (wants.question == VD_ASK_PASSWORD) {
            size_t length = r->password != NULL ? strlen(r->password) : 0;
            vd_loop_feed(
                &r->loop, 0,
                (vd_event){
                    .kind = VD_ANSWERED, .yes = length > 0, .bytes = (const uint8_t *)r->password, .count = length});
        } else if (wants.keep) {
            r->kept++;
            vd_status kept = r->fail_keep ? VD_FILE_UNWRITABLE : VD_OK;
            vd_loop_feed(&r->loop, 0, (vd_event){.kind = VD_KEPT, .status = kept, .said = "no room"});
        } else {
            assert_int_equal(vd_loop_step(&r->loop, VD_NEVER), VD_OK);
        }
    }
    return status;
}

vd_status rig_read(rig *r)
{
    vd_visit_read(r->visit, vd_sim_now(r->sim), NULL);
    return rig_run(r);
}

vd_status rig_write(rig *r, const vd_set *target)
{
    vd_visit_write(r->visit, vd_sim_now(r->sim), target, NULL);
    return rig_run(r);
}

const char *source_path(const char *name)
{
    static char path[512];
    g_snprintf(path, sizeof path, "%s/%s", g_getenv("VERDITE_SOURCE"), name);
    return path;
}

void assert_as_kept(const char *name, const char *table)
{
    char *relative = g_build_filename("tests", "oracle", name, NULL), *path = g_strdup(source_path(relative)),
         *kept = NULL;
    if (g_getenv("RENEW_TABLES") != NULL) {
        assert_true(g_file_set_contents(path, table, -1, NULL));
    }
    assert_true(g_file_get_contents(path, &kept, NULL, NULL));
    char **is = g_strsplit(table, "\n", -1), **was = g_strsplit(kept, "\n", -1);
    for (size_t i = 0; is[i] != NULL || was[i] != NULL; i++) {
        if (g_strcmp0(is[i], was[i]) != 0) {
            fail_msg("%s, line %zu, was: %s\n  is: %s\nMeant? Then once with RENEW_TABLES=yes.", path, i + 1,
                     was[i] != NULL ? was[i] : "(nothing)", is[i] != NULL ? is[i] : "(nothing)");
        }
        if (is[i] == NULL || was[i] == NULL) {
            break;
        }
    }
    g_strfreev(is);
    g_strfreev(was);
    g_free(kept);
    g_free(path);
    g_free(relative);
}

vd_model_file *model_of_text(const char *text, vd_findings *findings)
{
    char *path = NULL;
    int opened = g_file_open_tmp("verdite-XXXXXX", &path, NULL);
    assert_true(opened >= 0 && g_close(opened, NULL) && g_file_set_contents(path, text, -1, NULL));
    vd_model_file *file = vd_model_file_load(path, findings);
    g_remove(path);
    g_free(path);
    return file;
}

const vd_model *shipped(const char *name)
{
    static GHashTable *files;
    files = files != NULL ? files : g_hash_table_new(g_str_hash, g_str_equal);
    vd_model_file *file = g_hash_table_lookup(files, name);
    if (file == NULL) {
        char *path = g_strdup_printf("models/%s.yaml", name);
        vd_findings *findings = vd_findings_new(name);
        file = vd_model_file_load(source_path(path), findings);
        assert_non_null(file);
        g_hash_table_insert(files, (gpointer)name, file);
        vd_findings_free(findings);
        g_free(path);
    }
    return vd_model_file_model(file);
}

const vd_model *dowel(void)
{
    return shipped("dowel");
}
