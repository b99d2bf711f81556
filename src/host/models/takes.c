/* SPDX-License-Identifier: MIT
 * Loading what a setting takes: ranges, steps, choices, lengths, what a text looks like. Ranges stand in the file as
 * people type values; here they become counts. Where another setting decides the decimals, the range is given in
 * counts, because that is what the unit holds to. */
#include "parts.h"

#include <string.h>

/* ---- Keys that belong to some types only ---- */

#define OF(type) (1u << (type))
#define RANGED                                                                                                         \
    (OF(VD_INTEGER) | OF(VD_DECIMAL) | OF(VD_DURATION) | OF(VD_PORT) | OF(VD_TIME_OF_DAY) | OF(VD_DATE_TIME) |         \
     OF(VD_CLOCK) | OF(VD_COUNTER) | OF(VD_ZONE))
#define SIZED (OF(VD_TEXT) | OF(VD_HOST) | OF(VD_URL) | OF(VD_PHONE) | OF(VD_APN) | OF(VD_BYTES) | OF(VD_IDENTIFIER))
static const struct {
    const char *key;
    uint32_t types;
} of_types[] = {{"unit", OF(VD_INTEGER) | OF(VD_DECIMAL) | OF(VD_COUNTER)},
                {"zone", OF(VD_CLOCK)},
                {"tolerance", OF(VD_CLOCK) | OF(VD_COUNTER)},
                {"range", RANGED},
                {"step", RANGED},
                {"counts", OF(VD_DECIMAL)},
                {"decimals", OF(VD_DECIMAL) | OF(VD_COUNTER)},
                {"decimals-from", OF(VD_DECIMAL)},
                {"like", OF(VD_DECIMAL)},
                {"scale", OF(VD_DECIMAL) | OF(VD_COUNTER)},
                {"offset", OF(VD_DECIMAL) | OF(VD_COUNTER)},
                {"tick", OF(VD_DURATION) | OF(VD_TIME_OF_DAY) | OF(VD_ZONE)},
                {"length", SIZED},
                {"least-length", SIZED},
                {"alphabet", OF(VD_TEXT)},
                {"pattern", OF(VD_TEXT)},
                {"example", OF(VD_TEXT)},
                {"check-digit", OF(VD_TEXT)},
                {"or-empty", SIZED | OF(VD_IPV6) | OF(VD_KEY) | OF(VD_IMEI) | OF(VD_ICCID)},
                {"choices", OF(VD_CHOICE) | OF(VD_FLAGS)}};

bool model_check_belonging(vd_model_file *file, const yaml_node_t *map, const vd_setting *setting)
{
    bool fine = true;
    for (size_t i = 0; i < G_N_ELEMENTS(of_types); i++) {
        const yaml_node_t *node =
            (of_types[i].types & OF(setting->traits->id)) == 0 ? yaml_member(&file->yaml, map, of_types[i].key) : NULL;
        if (node != NULL) {
            char *allowed =
                g_strdup_printf("It does not go with the type %s.", vd_type_name((vd_type)setting->traits->id));
            fine = yaml_note(&file->yaml, node, vd_fault_of_NO_SUCH_KEY(of_types[i].key, allowed));
            g_free(allowed);
        }
    }
    return fine;
}

/* ---- Ranges ---- */

/* A value as typed in the model file, as a count. */
bool model_take_count(vd_model_file *file, const yaml_node_t *node, const vd_setting *setting, int64_t *count)
{
    const char *text = yaml_text(&file->yaml, node, setting->words->key);
    vd_fault fault = {0};
    vd_typed typed;
    if (text == NULL) {
        return false;
    }
    const vd_meaning meaning = vd_setting_meaning(setting);
    if (vd_value_parse(&meaning, text, strlen(text), &typed, &fault) != VD_OK ||
        vd_value_to_count(&meaning, &typed.value, count, &fault) != VD_OK) {
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
                 {VD_CLOCK, 946684800, 4102444799},
                 {VD_COUNTER, 0, UINT32_MAX},
                 {VD_ZONE, -720, 840}};
    for (size_t i = 0; i < G_N_ELEMENTS(usual); i++) {
        if (usual[i].type == setting->traits->id) {
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
    if (plain->traits->id == VD_TIME_OF_DAY || plain->traits->id == VD_DATE_TIME || plain->traits->id == VD_CLOCK ||
        plain->traits->id == VD_ZONE) {
        plain->tick *= plain->traits->id == VD_ZONE ? 60000 : 1000;
        plain->traits = &vd_type_duration;
    }
    return model_take_count(file, node, plain, &setting->step) &&
           (setting->step >= 1 || yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("this step", "a step above 0")));
}

/* [lowest, highest] */
bool model_take_ends(vd_model_file *file, const yaml_node_t *node, const vd_setting *about, int64_t *low, int64_t *high)
{
    bool two = node->type == YAML_SEQUENCE_NODE && node->data.sequence.items.top - node->data.sequence.items.start == 2;
    if (!two) {
        return yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("this range", "two values: [lowest, highest]"));
    }
    const yaml_node_item_t *ends = node->data.sequence.items.start;
    return model_take_count(file, yaml_node(&file->yaml, ends[0]), about, low) &&
           model_take_count(file, yaml_node(&file->yaml, ends[1]), about, high) &&
           (*low <= *high ||
            yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("this range", "the lower end first")));
}

static bool take_range(vd_model_file *file, const yaml_node_t *map, vd_setting *setting, bool in_counts)
{
    const char *key = in_counts ? "counts" : "range";
    const yaml_node_t *node = yaml_member(&file->yaml, map, key);
    vd_setting plain = *setting;
    if (in_counts) {
        plain.traits = &vd_type_integer;
        plain.measure = "";
    }
    if (node == NULL && !usual_range(setting)) {
        const char *example = in_counts ? "counts: [-1999, 9999]" : "range: [lowest, highest]";
        return yaml_note_missing(&file->yaml, map, key, example);
    }
    if (node != NULL) {
        if (!model_take_ends(file, node, &plain, &setting->min, &setting->max)) {
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
        return yaml_note_missing(&file->yaml, map, "choices", "- {name: both, number: 3}");
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
    int64_t tick = setting->traits->id == VD_ZONE ? 60000 : 1000;
    int64_t unit = setting->traits->id == VD_DURATION ? 1 : tick; /* milliseconds that the number counts in */
    if (!yaml_take_duration(&file->yaml, map, "tick", setting->traits->id == VD_DURATION, 86400000, &tick)) {
        return false;
    }
    setting->tick = (uint32_t)(tick / unit);
    return (tick > 0 && tick % unit == 0) ||
           yaml_note(&file->yaml, yaml_member(&file->yaml, map, "tick"),
                     vd_fault_of_WRONG_SHAPE("this tick", setting->traits->id == VD_DURATION      ? "at least 1 ms"
                                                          : setting->traits->id == VD_TIME_OF_DAY ? "whole seconds"
                                                                                                  : "whole minutes"));
}

/* What a text looks like. */
static bool take_look(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const char *pattern = "", *example = "";
    bool fine = model_take_text(file, map, "alphabet", false, &setting->alphabet);
    fine = model_take_text(file, map, "pattern", false, &pattern) && fine;
    fine = model_take_text(file, map, "example", false, &example) && fine;
    fine = yaml_take_word(&file->yaml, map, "check-digit", false, words_check, &setting->check) && fine;
    setting->pattern = pattern[0] != '\0' ? pattern : NULL;
    model_words(setting)->example = example[0] != '\0' ? example : NULL;
    for (const char *at = setting->alphabet; *at != '\0'; at++) {
        if (*at < 0x20 || *at > 0x7E) {
            return yaml_note(&file->yaml, yaml_member(&file->yaml, map, "alphabet"),
                             vd_fault_of_WRONG_SHAPE(setting->alphabet, "characters of ASCII, which is all that units "
                                                                        "hold"));
        }
    }
    if (setting->pattern != NULL && !vd_pattern_is_sound(pattern)) {
        return yaml_note(&file->yaml, yaml_member(&file->yaml, map, "pattern"),
                         vd_fault_of_WRONG_SHAPE(pattern,
                                                 "characters and [classes] such as [A-Z], each with ?, *, + or "
                                                 "{1,3} behind it where it does not stand once"));
    }
    return fine;
}

static bool take_length(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    int64_t length = setting->length;
    bool exact = setting->traits->id == VD_IDENTIFIER;
    int64_t most = length > 0 ? length : 128;
    if (!yaml_take_integer(&file->yaml, map, "length", length == 0, 1, most, &length)) {
        return false;
    }
    int64_t least = exact || setting->traits->id == VD_BYTES ? length : 0;
    bool fine = yaml_take_integer(&file->yaml, map, "least-length", false, 0, length, &least);
    setting->length = (uint16_t)length;
    setting->least = (uint16_t)least;
    return take_look(file, map, setting) && fine;
}

/* By how much a clock may be off; by how much a counter may be ahead. */
static bool take_tolerance(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "tolerance");
    int64_t off = 2000;
    if (setting->traits->id == VD_COUNTER) {
        vd_setting distance = *setting;
        distance.offset = 0;
        setting->tolerance = 1;
        return node == NULL || model_take_count(file, node, &distance, &setting->tolerance);
    }
    bool fine = yaml_take_duration(&file->yaml, map, "tolerance", false, 86400000, &off);
    setting->tolerance = off / 1000;
    return fine && (setting->tolerance > 0 ||
                    yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("this tolerance", "a second at the least")));
}

bool model_take_limits(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    int64_t number = 0;
    bool fine = true;
    switch ((vd_type)setting->traits->id) {
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
    case VD_COUNTER:
    case VD_DECIMAL: {
        bool dependent = yaml_member(&file->yaml, map, "decimals-from") != NULL;
        bool scaled = yaml_member(&file->yaml, map, "scale") != NULL;
        const yaml_node_t *offset = yaml_member(&file->yaml, map, "offset");
        if (scaled + dependent + (yaml_member(&file->yaml, map, "decimals") != NULL) > 1 ||
            (offset != NULL && !scaled)) {
            return yaml_note(
                &file->yaml,
                offset != NULL && !scaled ? offset : yaml_member(&file->yaml, map, scaled ? "scale" : "decimals-from"),
                vd_fault_of_WRONG_SHAPE("these decimals", "one of decimals, decimals-from, and scale with "
                                                          "or without an offset"));
        }
        fine = yaml_take_integer(&file->yaml, map, "decimals",
                                 !dependent && !scaled && setting->traits->id == VD_DECIMAL, 0, 9, &number);
        setting->places = (uint8_t)number;
        fine = fine && (!scaled || model_take_scale(file, map, setting)) && take_range(file, map, setting, dependent);
        fine = fine && (setting->traits->id != VD_COUNTER || take_tolerance(file, map, setting));
        break;
    }
    case VD_INTEGER:
    case VD_PORT:
    case VD_DATE_TIME: fine = take_range(file, map, setting, false); break;
    case VD_CLOCK: fine = take_range(file, map, setting, false) && take_tolerance(file, map, setting); break;
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
uint8_t model_usual_words(const vd_setting *setting)
{
    if (vd_setting_is(setting, VD_TYPE_BYTES)) {
        return (uint8_t)((setting->length + 1u) / 2u);
    }
    switch ((vd_type)setting->traits->id) {
    case VD_IPV4:
    case VD_MASK:
    case VD_GATEWAY:
    case VD_DATE_TIME:
    case VD_CLOCK: return 2;
    case VD_POSITION: return 4;
    default: return 1;
    }
}
