/* SPDX-License-Identifier: MIT
 * Loading one setting of a model. Ranges and defaults stand in the file as people type values; here they become counts.
 * Where another setting decides the decimals, the range is given in counts, because that is what the unit holds to. */
#include "model_parts.h"

#include "verdite/text.h"

#include <string.h>

/* Other names of types, with the length that they stand for. */
static const struct {
    const char *name;
    vd_type type;
    uint16_t length;
} aliases[] = {{"eui-64", VD_IDENTIFIER, 8}, {"eui-48", VD_IDENTIFIER, 6}};

static const char *type_name_at(const void *about, size_t i)
{
    (void)about;
    return vd_type_name((vd_type)(VD_INTEGER + i));
}

static bool take_type(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const char *name = NULL;
    if (!yaml_take_text(&file->yaml, map, "type", true, &name) || name == NULL) {
        return false;
    }
    for (vd_type type = VD_INTEGER; type < VD_TYPE_COUNT; type++) {
        if (strcmp(vd_type_name(type), name) == 0) {
            setting->type = (uint8_t)type;
            setting->length = setting->least = vd_type_length(type);
            return true;
        }
    }
    for (size_t i = 0; i < G_N_ELEMENTS(aliases); i++) {
        if (strcmp(aliases[i].name, name) == 0) {
            setting->type = (uint8_t)aliases[i].type;
            setting->length = setting->least = aliases[i].length;
            return true;
        }
    }
    char *suggestion = vd_suggest(name, VD_TYPE_COUNT - VD_INTEGER, type_name_at, NULL);
    yaml_note(&file->yaml, yaml_member(&file->yaml, map, "type"), vd_fault_of_NO_SUCH_TYPE(name, suggestion));
    g_free(suggestion);
    return false;
}

/* ---- Keys that belong to some types only ---- */

#define OF(type) (1u << (type))
#define RANGED                                                                                                         \
    (OF(VD_INTEGER) | OF(VD_DECIMAL) | OF(VD_DURATION) | OF(VD_PORT) | OF(VD_TIME_OF_DAY) | OF(VD_DATE_TIME) |         \
     OF(VD_ZONE))
#define SIZED (OF(VD_TEXT) | OF(VD_HOST) | OF(VD_URL) | OF(VD_PHONE) | OF(VD_APN) | OF(VD_BYTES) | OF(VD_IDENTIFIER))
static const struct {
    const char *key;
    uint32_t types;
} of_types[] = {{"unit", OF(VD_INTEGER) | OF(VD_DECIMAL)},
                {"range", RANGED},
                {"step", RANGED},
                {"counts", OF(VD_DECIMAL)},
                {"decimals", OF(VD_DECIMAL)},
                {"decimals-from", OF(VD_DECIMAL)},
                {"scale", OF(VD_DECIMAL)},
                {"offset", OF(VD_DECIMAL)},
                {"tick", OF(VD_DURATION) | OF(VD_TIME_OF_DAY) | OF(VD_ZONE)},
                {"length", SIZED},
                {"least-length", SIZED},
                {"alphabet", OF(VD_TEXT)},
                {"choices", OF(VD_CHOICE) | OF(VD_FLAGS)}};

static bool check_belonging(vd_model_file *file, const yaml_node_t *map, const vd_setting *setting)
{
    bool fine = true;
    for (size_t i = 0; i < G_N_ELEMENTS(of_types); i++) {
        const yaml_node_t *node =
            (of_types[i].types & OF(setting->type)) == 0 ? yaml_member(&file->yaml, map, of_types[i].key) : NULL;
        if (node != NULL) {
            char *allowed = g_strdup_printf("It does not go with the type %s.", vd_type_name((vd_type)setting->type));
            fine = yaml_note(&file->yaml, node, vd_fault_of_NO_SUCH_KEY(of_types[i].key, allowed));
            g_free(allowed);
        }
    }
    return fine;
}

/* ---- Ranges ---- */

/* A value as typed in the model file, as a count. */
static bool take_count(vd_model_file *file, const yaml_node_t *node, const vd_setting *setting, int64_t *count)
{
    const char *text = yaml_text(&file->yaml, node, setting->key);
    vd_fault fault = {0};
    vd_typed typed;
    if (text == NULL) {
        return false;
    }
    if (vd_value_parse(setting, text, strlen(text), &typed, &fault) != VD_OK ||
        vd_value_to_count(setting, &typed.value, setting->places, count, &fault) != VD_OK) {
        return yaml_note_fault(&file->yaml, node, &fault);
    }
    return true;
}

/* What types with a natural range have when the file says nothing. False: the file must. */
static bool usual_range(vd_setting *setting)
{
    static const struct {
        vd_type type;
        int64_t min, max;
    } usual[] = {{VD_PORT, 1, 65535},
                 {VD_TIME_OF_DAY, 0, 86399},
                 {VD_DATE_TIME, 946684800, 4102444799}, /* 2000 to 2099 */
                 {VD_ZONE, -720, 840}};
    for (size_t i = 0; i < G_N_ELEMENTS(usual); i++) {
        if (usual[i].type == setting->type) {
            setting->min = usual[i].min / setting->tick;
            setting->max = usual[i].max / setting->tick;
            return true;
        }
    }
    return false;
}

/* A step is a distance: of times it is a duration. */
static bool take_step(vd_model_file *file, const yaml_node_t *map, vd_setting *plain, vd_setting *setting)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "step");
    setting->step = 1;
    plain->offset = 0;
    if (node == NULL) {
        return true;
    }
    if (plain->type == VD_TIME_OF_DAY || plain->type == VD_DATE_TIME || plain->type == VD_ZONE) {
        plain->tick *= plain->type == VD_ZONE ? 60000 : 1000;
        plain->type = VD_DURATION;
    }
    return take_count(file, node, plain, &setting->step) &&
           (setting->step >= 1 || yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("this step", "a step above 0")));
}

/* [lowest, highest] */
static bool take_ends(vd_model_file *file, const yaml_node_t *node, const vd_setting *about, int64_t *low,
                      int64_t *high)
{
    bool two = node->type == YAML_SEQUENCE_NODE && node->data.sequence.items.top - node->data.sequence.items.start == 2;
    if (!two) {
        return yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("this range", "two values: [lowest, highest]"));
    }
    const yaml_node_item_t *ends = node->data.sequence.items.start;
    return take_count(file, yaml_node(&file->yaml, ends[0]), about, low) &&
           take_count(file, yaml_node(&file->yaml, ends[1]), about, high) &&
           (*low <= *high ||
            yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("this range", "the lower end first")));
}

static bool take_range(vd_model_file *file, const yaml_node_t *map, vd_setting *setting, bool in_counts)
{
    const char *key = in_counts ? "counts" : "range";
    const yaml_node_t *node = yaml_member(&file->yaml, map, key);
    vd_setting plain = *setting;
    if (in_counts) {
        plain.type = VD_INTEGER;
        plain.measure = "";
    }
    if (node == NULL && !usual_range(setting)) {
        const char *example = in_counts ? "counts: [-1999, 9999]" : "range: [lowest, highest]";
        return yaml_note(&file->yaml, map, vd_fault_of_KEY_MISSING(key, example));
    }
    if (node != NULL) {
        if (!take_ends(file, node, &plain, &setting->min, &setting->max)) {
            return false;
        }
    }
    return take_step(file, map, &plain, setting);
}

/* ---- Choices ---- */

static bool take_choices(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "choices");
    choice_list own = {NULL, 0};
    const choice_list *list = &own;
    if (node == NULL) {
        return yaml_note(&file->yaml, map, vd_fault_of_KEY_MISSING("choices", "- {name: both, number: 3}"));
    }
    if (node->type == YAML_SCALAR_NODE) {
        list = g_hash_table_lookup(file->choice_lists, node->data.scalar.value);
        if (list == NULL) {
            return yaml_note(
                &file->yaml, node,
                vd_fault_of_WRONG_SHAPE((const char *)node->data.scalar.value,
                                        "a list of choices, or the name of one under the top-level key choices"));
        }
    } else if (!model_take_choices(file, node, &own)) {
        return false;
    }
    setting->choices = list->choices;
    setting->choice_count = list->count;
    setting->min = INT32_MAX;
    setting->max = INT32_MIN;
    for (uint16_t i = 0; i < list->count; i++) {
        setting->min = MIN(setting->min, list->choices[i].number);
        setting->max = MAX(setting->max, list->choices[i].number);
    }
    return true;
}

/* ---- Limits by type ---- */

static bool take_tick(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    int64_t tick = setting->type == VD_ZONE ? 60000 : 1000;
    int64_t unit = setting->type == VD_DURATION ? 1 : tick; /* milliseconds that the number counts in */
    if (!yaml_take_duration(&file->yaml, map, "tick", setting->type == VD_DURATION, 86400000, &tick)) {
        return false;
    }
    setting->tick = (uint32_t)(tick / unit);
    return (tick > 0 && tick % unit == 0) ||
           yaml_note(&file->yaml, yaml_member(&file->yaml, map, "tick"),
                     vd_fault_of_WRONG_SHAPE("this tick", setting->type == VD_DURATION      ? "at least 1 ms"
                                                          : setting->type == VD_TIME_OF_DAY ? "whole seconds"
                                                                                            : "whole minutes"));
}

static bool take_length(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    int64_t length = setting->length;
    bool exact = setting->type == VD_IDENTIFIER;
    int64_t most = length > 0 ? length : 128;
    if (!yaml_take_integer(&file->yaml, map, "length", length == 0, 1, most, &length)) {
        return false;
    }
    int64_t least = exact || setting->type == VD_BYTES ? length : 0;
    bool fine = yaml_take_integer(&file->yaml, map, "least-length", false, 0, length, &least);
    setting->length = (uint16_t)length;
    setting->least = (uint16_t)least;
    return fine && model_take_text(file, map, "alphabet", false, &setting->alphabet);
}

static bool take_limits(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    int64_t number = 0;
    bool fine = true;
    switch ((vd_type)setting->type) {
    case VD_TRUTH: setting->max = 1; break;
    case VD_CHOICE:
    case VD_FLAGS: fine = take_choices(file, map, setting); break;
    case VD_IPV4:
    case VD_MASK:
    case VD_GATEWAY: setting->max = UINT32_MAX; break;
    case VD_POSITION: setting->min = INT64_MIN, setting->max = INT64_MAX; break;
    case VD_TIME_OF_DAY:
    case VD_ZONE:
    case VD_DURATION: fine = take_tick(file, map, setting) && take_range(file, map, setting, false); break;
    case VD_DECIMAL: {
        bool dependent = yaml_member(&file->yaml, map, "decimals-from") != NULL;
        bool scaled = yaml_member(&file->yaml, map, "scale") != NULL;
        const yaml_node_t *offset = yaml_member(&file->yaml, map, "offset");
        if (scaled + dependent + (yaml_member(&file->yaml, map, "decimals") != NULL) > 1 ||
            (offset != NULL && !scaled)) {
            return yaml_note(&file->yaml, offset != NULL ? offset : map,
                             vd_fault_of_WRONG_SHAPE("these decimals", "one of decimals, decimals-from, and scale with "
                                                                       "or without an offset"));
        }
        fine = yaml_take_integer(&file->yaml, map, "decimals", !dependent && !scaled, 0, 9, &number);
        setting->places = (uint8_t)number;
        fine = fine && (!scaled || model_take_scale(file, map, setting)) && take_range(file, map, setting, dependent);
        break;
    }
    case VD_INTEGER:
    case VD_PORT:
    case VD_DATE_TIME: fine = take_range(file, map, setting, false); break;
    case VD_IPV6:
    case VD_KEY:
    case VD_IMEI: break; /* of one length */
    case VD_ICCID: setting->least = 0; break;
    default: fine = take_length(file, map, setting); break;
    }
    setting->alphabet = setting->alphabet != NULL && setting->alphabet[0] != '\0' ? setting->alphabet : NULL;
    return fine;
}

/* Registers that values of a type usually take. */
static uint8_t usual_words(const vd_setting *setting)
{
    if (vd_type_is_bytes((vd_type)setting->type)) {
        return (uint8_t)((setting->length + 1u) / 2u);
    }
    switch ((vd_type)setting->type) {
    case VD_IPV4:
    case VD_MASK:
    case VD_GATEWAY:
    case VD_DATE_TIME: return 2;
    case VD_POSITION: return 4;
    default: return 1;
    }
}

/* ---- The setting ---- */

static bool take_group(vd_model_file *file, const yaml_node_t *map, const char *of_block, vd_setting *setting)
{
    const char *group = of_block;
    if (!yaml_take_text(&file->yaml, map, "group", false, &group)) {
        return false;
    }
    /* Left out, the key says it: "weight.low-limit" is in the group "weight". */
    char *name = group != NULL ? g_strdup(group) : g_strndup(setting->key, strcspn(setting->key, "."));
    uint16_t found = vd_model_find_group(&file->model, name);
    if (found == VD_NONE) {
        const yaml_node_t *node = yaml_member(&file->yaml, map, "group");
        yaml_note(&file->yaml, node != NULL ? node : map,
                  vd_fault_of_NO_SUCH_GROUP(name, "one of those listed under groups"));
    }
    g_free(name);
    setting->group = (uint8_t)found;
    return found != VD_NONE;
}

/* In an expression a key stands beside numbers and these words. */
static bool take_key(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    static const char *const words[] = {"on", "off", "and", "or", "not", "in", "has", "variant", "firmware", NULL};
    if (!model_take_key(file, map, "key", &setting->key)) {
        return false;
    }
    return (g_ascii_islower(setting->key[0]) && !g_strv_contains(words, setting->key)) ||
           yaml_note(&file->yaml, yaml_member(&file->yaml, map, "key"),
                     vd_fault_of_WRONG_SHAPE(setting->key,
                                             "a key that begins with a letter and is no word of expressions, such as "
                                             "weight.low-limit"));
}

static bool take_measure(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    bool fine = model_take_text(file, map, "unit", false, &setting->measure);
    setting->spellings = model_spellings(file, setting->measure);
    return fine &&
           (vd_text_is_measure(setting->measure) ||
            yaml_note(&file->yaml, yaml_member(&file->yaml, map, "unit"),
                      vd_fault_of_WRONG_SHAPE(setting->measure,
                                              "a unit of measure, with no digit in front and without # : , ; quotation "
                                              "marks and brackets")));
}

static bool take_words(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    static const char *const accesses[] = {"read-write", "read-only", "write-only", NULL};
    static const char *const rights[] = {"anyone", "fitter", "maker", NULL};
    static const char *const roles[] = {"none", "address", "baud", "framing", "name", NULL};
    static const char *const effects[] = {"nothing", "restart", "link", "outage", NULL};
    static const char *const keepings[] = {"as-written", "capitals", "nearest-step", NULL};
    yaml_file *yaml = &file->yaml;
    const char *when = "", *because = "";
    bool fine = model_take_text(file, map, "label", true, &setting->label);
    fine = model_take_text(file, map, "help", false, &setting->help) && fine;
    fine = take_measure(file, map, setting) && fine;
    fine = yaml_take_word(yaml, map, "access", false, accesses, &setting->access) && fine;
    fine = yaml_take_word(yaml, map, "read-by", false, rights, &setting->read_by) && fine;
    fine = yaml_take_word(yaml, map, "written-by", false, rights, &setting->written_by) && fine;
    fine = yaml_take_word(yaml, map, "role", false, roles, &setting->role) && fine;
    fine = yaml_take_word(yaml, map, "writing-causes", false, effects, &setting->effect) && fine;
    fine = yaml_take_word(yaml, map, "keeps", false, keepings, &setting->keeps) && fine;
    fine = yaml_take_truth(yaml, map, "once", &setting->once) && fine;
    fine = yaml_take_truth(yaml, map, "essential", &setting->essential) && fine;
    fine = yaml_take_truth(yaml, map, "secret", &setting->secret) && fine;
    fine = yaml_take_truth(yaml, map, "placeholder", &setting->placeholder) && fine;
    fine = yaml_take_truth(yaml, map, "own", &setting->own) && fine;
    fine = yaml_take_text(yaml, map, "when", false, &when) && fine;
    fine = yaml_take_text(yaml, map, "because", when[0] != '\0', &because) && fine;
    setting->when = when[0] != '\0' ? model_text(file, when) : NULL;
    setting->because = model_text(file, because);
    return fine;
}

/* moves: {between: [34 °C, 36 °C], over: 20 min}, or {one-more-every: 1 s}, or {runs: 1 s}. */
static bool take_motion(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    static const char *const keys[] = {"between", "over", "one-more-every", "runs", NULL};
    const yaml_node_t *node = yaml_member(&file->yaml, map, "moves");
    vd_motion *motion = &setting->motion;
    if (node == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, node, keys);
    const yaml_node_t *between = yaml_member(&file->yaml, node, "between");
    bool counts = yaml_member(&file->yaml, node, "one-more-every") != NULL;
    const char *key = between != NULL ? "over" : counts ? "one-more-every" : "runs";
    int64_t period = 0;
    motion->way = between != NULL ? VD_SWINGS : counts ? VD_COUNTS : VD_RUNS_ON;
    fine = yaml_take_duration(&file->yaml, node, key, true, 366 * (int64_t)86400000, &period) && fine;
    if (fine && (setting->access != VD_READ_ONLY || period == 0 || vd_type_is_bytes((vd_type)setting->type))) {
        return yaml_note(&file->yaml, node,
                         vd_fault_of_WRONG_SHAPE("moves", "a time above 0, of a reading that is a number"));
    }
    motion->period = (uint32_t)period;
    return fine && (between == NULL || take_ends(file, between, setting, &motion->low, &motion->high));
}

bool model_take_setting(vd_model_file *file, const yaml_node_t *map, const char *of_block, vd_setting *setting)
{
    static const char *const keys[] = {
        "key",         "group",  "label",   "help",       "type",     "unit",           "range",        "counts",
        "step",        "length", "tick",    "choices",    "decimals", "decimals-from",  "least-length", "alphabet",
        "default",     "access", "read-by", "written-by", "role",     "writing-causes", "essential",    "secret",
        "placeholder", "when",   "because", "at",         "keeps",    "once",           "moves",        "own",
        "scale",       "offset", NULL};
    *setting = (vd_setting){.key = "",
                            .label = "",
                            .help = "",
                            .measure = "",
                            .because = "",
                            .step = 1,
                            .places_from = VD_NONE,
                            .block = VD_NONE,
                            .item = VD_NONE,
                            .tick = 1};
    bool fine = yaml_check_keys(&file->yaml, map, keys);
    bool keyed = take_key(file, map, setting), typed = take_type(file, map, setting);
    fine = keyed && typed && fine;
    fine = take_words(file, map, setting) && fine;
    fine = keyed && take_group(file, map, of_block, setting) && fine;
    if (typed) {
        setting->secret =
            setting->secret || (setting->type == VD_KEY && yaml_member(&file->yaml, map, "secret") == NULL);
        fine = check_belonging(file, map, setting) && take_limits(file, map, setting) && fine;
        setting->place.form = vd_type_is_bytes((vd_type)setting->type) ? VD_CHARACTERS : VD_UNSIGNED;
        setting->place.words = usual_words(setting);
    }
    const yaml_node_t *at = yaml_member(&file->yaml, map, "at");
    bool lines = vd_model_talks_in_lines(&file->model);
    setting->field.word = "";
    if (at == NULL) {
        return yaml_note(&file->yaml, map,
                         vd_fault_of_KEY_MISSING("at", lines ? "where it lives, such as {word: NAME}"
                                                             : "where it lives, such as {register: 22}"));
    }
    fine = (!typed || take_motion(file, map, setting)) && fine;
    return (lines ? model_take_field(file, at, &setting->field) : model_take_place(file, at, &setting->place)) && fine;
}

bool model_take_dependence(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const char *key = NULL;
    if (!yaml_take_text(&file->yaml, map, "decimals-from", false, &key) || key == NULL) {
        return key == NULL;
    }
    const yaml_node_t *node = yaml_member(&file->yaml, map, "decimals-from");
    char *full = NULL;
    if (g_str_has_prefix(key, "this.") && setting->block != VD_NONE) {
        const vd_block *block = &g_array_index(file->blocks, vd_block, setting->block);
        full = g_strdup_printf("%s.%u.%s", block->key, setting->item + 1u, key + 5);
    }
    setting->places_from = model_find_named(file, node, full != NULL ? full : key);
    g_free(full);
    if (setting->places_from == VD_NONE) {
        return false;
    }
    /* Until a unit is read, its factory default for the decimals holds. */
    vd_setting *from = &g_array_index(file->settings, vd_setting, setting->places_from);
    const yaml_node_t *from_node = file->nodes[setting->places_from];
    int64_t places = 0;
    from->gives_places = true;
    if (from_node == NULL) {
        return false; /* it was not understood, and that has been said */
    }
    bool fine = yaml_take_integer(&file->yaml, from_node, "default", true, 0, 9, &places);
    setting->places = (uint8_t)places;
    return fine;
}

bool model_take_default(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "default");
    vd_fault fault = {0};
    vd_typed typed;
    if (node == NULL) {
        return true;
    }
    if (!vd_type_is_bytes((vd_type)setting->type)) {
        setting->has_initial = true;
        return take_count(file, node, setting, &setting->initial);
    }
    const char *text = yaml_text(&file->yaml, node, setting->key);
    if (text == NULL) {
        return false;
    }
    if (text[0] == '\0') { /* nothing has been put there yet */
        setting->initial_text = "";
        return true;
    }
    if (vd_value_parse(setting, text, strlen(text), &typed, &fault) != VD_OK) {
        return yaml_note_fault(&file->yaml, node, &fault);
    }
    char *bytes = model_memory(file, typed.value.length);
    memcpy(bytes, typed.value.text, typed.value.length);
    setting->initial_text = bytes;
    setting->initial = typed.value.length;
    return true;
}
