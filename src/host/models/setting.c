/* SPDX-License-Identifier: MIT
 * Loading one setting of a model: its type, words, place and factory default. What it takes is takes.c. */
#include "parts.h"

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
            setting->traits = vd_type_of(type);
            setting->length = setting->least = vd_type_length(type);
            return true;
        }
    }
    for (size_t i = 0; i < G_N_ELEMENTS(aliases); i++) {
        if (strcmp(aliases[i].name, name) == 0) {
            setting->traits = vd_type_of(aliases[i].type);
            setting->length = setting->least = aliases[i].length;
            return true;
        }
    }
    char *suggestion = vd_suggest(name, VD_TYPE_COUNT - VD_INTEGER, type_name_at, NULL);
    yaml_note(&file->yaml, yaml_member(&file->yaml, map, "type"), vd_fault_of_NO_SUCH_TYPE(name, suggestion));
    g_free(suggestion);
    return false;
}

/* ---- The setting ---- */

static bool take_group(vd_model_file *file, const yaml_node_t *map, const char *of_block, vd_setting *setting)
{
    const char *group = of_block;
    if (!yaml_take_text(&file->yaml, map, "group", false, &group)) {
        return false;
    }
    /* Left out, the key says it: "weight.low-limit" is in the group "weight". */
    char *name = group != NULL ? g_strdup(group) : g_strndup(setting->words->key, strcspn(setting->words->key, "."));
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
    static const char *const words[] = {"on",      "off",      "and",  "or",    "not",  "in",  "has",
                                        "variant", "firmware", "item", "outer", "this", "now", NULL};
    if (!model_take_key(file, map, "key", &model_words(setting)->key)) {
        return false;
    }
    const char *key = setting->words->key;
    bool fine = g_ascii_islower(key[0]) && !g_strv_contains(words, key) && !g_str_has_prefix(key, "this.") &&
                !g_str_has_prefix(key, "outer.");
    for (const char *part = key; part != NULL && fine; part = strchr(part, '.')) {
        part += part[0] == '.';
        size_t digits = strspn(part, "0123456789");
        fine = digits == 0 || (part[digits] != '.' && part[digits] != '\0');
    }
    return fine || yaml_note(&file->yaml, yaml_member(&file->yaml, map, "key"),
                             vd_fault_of_WRONG_SHAPE(setting->words->key,
                                                     "a key such as weight.low-limit. It begins with a letter, is no "
                                                     "word of expressions, and has no part of digits alone"));
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
    yaml_file *yaml = &file->yaml;
    const char *when = "", *because = "";
    bool fine = model_take_text(file, map, "label", true, &model_words(setting)->label);
    fine = model_take_text(file, map, "help", false, &model_words(setting)->help) && fine;
    fine = take_measure(file, map, setting) && fine;
    fine = yaml_take_word(yaml, map, "access", false, words_access, &setting->access) && fine;
    fine = yaml_take_word(yaml, map, "read-by", false, words_right, &setting->read_by) && fine;
    fine = yaml_take_word(yaml, map, "written-by", false, words_right, &setting->written_by) && fine;
    fine = yaml_take_word(yaml, map, "role", false, words_role, &setting->role) && fine;
    fine = model_take_causes(file, map, &setting->causes) && fine;
    fine = yaml_take_word(yaml, map, "keeps", false, words_keeps, &setting->keeps) && fine;
    fine = yaml_take_word(yaml, map, "among-units", false, words_among, &setting->among) && fine;
    fine = yaml_take_truth(yaml, map, "once", &setting->once) && fine;
    fine = yaml_take_truth(yaml, map, "or-empty", &setting->or_empty) && fine;
    fine = yaml_take_truth(yaml, map, "essential", &setting->essential) && fine;
    fine = yaml_take_truth(yaml, map, "secret", &setting->secret) && fine;
    fine = yaml_take_truth(yaml, map, "placeholder", &setting->placeholder) && fine;
    fine = yaml_take_truth(yaml, map, "own", &setting->own) && fine;
    fine = yaml_take_text(yaml, map, "when", false, &when) && fine;
    fine = yaml_take_text(yaml, map, "because", when[0] != '\0', &because) && fine;
    setting->conditional = when[0] != '\0';
    model_words(setting)->when = setting->conditional ? model_text(file, when) : NULL;
    model_words(setting)->because = model_text(file, because);
    return fine;
}

/* What a clock that does not run right gains or loses in a day. */
static bool take_drift(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    static const char *const keys[] = {"gains", "loses", NULL};
    const yaml_node_t *node = yaml_member(&file->yaml, map, "moves");
    int64_t gains = 0, loses = 0;
    vd_motion *motion = model_motion(file, setting);
    *motion = (vd_motion){.way = VD_RUNS_ON, .period = 1000};
    if (node == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, node, keys);
    fine = yaml_take_duration(&file->yaml, node, "gains", false, 3600000, &gains) && fine;
    fine = yaml_take_duration(&file->yaml, node, "loses", false, 3600000, &loses) && fine;
    motion->gains = (int32_t)(gains - loses);
    return fine;
}

/* moves: {between: [34 °C, 36 °C], over: 20 min}, or {one-more-every: 1 s}, or {runs: 1 s}; or only what shifts it. */
static bool take_motion(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    static const char *const keys[] = {"between", "over", "one-more-every", "runs", "takes-off", "adds", NULL};
    const yaml_node_t *node = yaml_member(&file->yaml, map, "moves");
    vd_motion *motion = model_motion(file, setting);
    if (setting->traits->id == VD_CLOCK) {
        return take_drift(file, map, setting);
    }
    if (node == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, node, keys);
    const yaml_node_t *between = yaml_member(&file->yaml, node, "between");
    bool counts = yaml_member(&file->yaml, node, "one-more-every") != NULL;
    const char *key = between != NULL ? "over" : counts ? "one-more-every" : "runs";
    bool shifted =
        yaml_member(&file->yaml, node, "takes-off") != NULL || yaml_member(&file->yaml, node, "adds") != NULL;
    int64_t period = 0;
    if (shifted && between == NULL && !counts && yaml_member(&file->yaml, node, "runs") == NULL) {
        return fine;
    }
    motion->way = between != NULL ? VD_SWINGS : counts && setting->traits->id != VD_COUNTER ? VD_COUNTS : VD_RUNS_ON;
    fine = yaml_take_duration(&file->yaml, node, key, true, 366 * (int64_t)86400000, &period) && fine;
    bool written = setting->access != VD_READ_ONLY && (setting->traits->id != VD_COUNTER || between != NULL);
    if (fine && (written || period == 0 || vd_setting_is(setting, VD_TYPE_BYTES))) {
        return yaml_note(&file->yaml, node,
                         vd_fault_of_WRONG_SHAPE("moves", "a time above 0, of a reading that is a number, or of a "
                                                          "counter"));
    }
    motion->period = (uint32_t)period;
    return fine && (between == NULL || model_take_ends(file, between, setting, &motion->low, &motion->high));
}

bool model_take_setting(vd_model_file *file, const yaml_node_t *map, const char *of_block, vd_setting *setting)
{
    static const vd_type_traits none = {NULL, NULL, VD_NOTHING, 0, 0};
    vd_setting_words *words = model_memory(file, sizeof *words);
    *words = vd_no_words;
    *setting = (vd_setting){.words = words, .traits = &none, .measure = "", .step = 1, .item = VD_NONE, .tick = 1};
    bool fine = yaml_check_keys(&file->yaml, map, keys_setting);
    bool keyed = take_key(file, map, setting), typed = take_type(file, map, setting);
    fine = keyed && typed && fine;
    fine = take_words(file, map, setting) && fine;
    fine = keyed && take_group(file, map, of_block, setting) && fine;
    if (typed) {
        setting->secret =
            setting->secret || (setting->traits->id == VD_KEY && yaml_member(&file->yaml, map, "secret") == NULL);
        fine = model_check_belonging(file, map, setting) && model_take_limits(file, map, setting) && fine;
        setting->place.form = vd_setting_is(setting, VD_TYPE_BYTES) ? VD_CHARACTERS : VD_UNSIGNED;
        setting->place.words = model_usual_words(setting);
    }
    const yaml_node_t *at = yaml_member(&file->yaml, map, "at");
    bool lines = file->model.language->has_words;
    setting->field.word = "";
    if (at == NULL) {
        return yaml_note_missing(&file->yaml, map, "at",
                                 lines ? "where it lives, such as {word: NAME}"
                                       : "where it lives, such as {register: 22}");
    }
    fine = (!typed || take_motion(file, map, setting)) && fine;
    return (lines ? model_take_field(file, at, &setting->field) : model_take_place(file, at, &setting->place)) && fine;
}

static const yaml_node_t *source_of(const vd_model_file *file, uint16_t setting)
{
    return g_array_index(file->sources, model_source, setting).map;
}

/* like: this.source. Each of its choices that is named like a channel makes the setting like what that channel reads.
 */
static bool take_likeness(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const char *key = NULL;
    const yaml_node_t *node = yaml_member(&file->yaml, map, "like");
    if (!yaml_take_text(&file->yaml, map, "like", false, &key) || key == NULL) {
        return key == NULL;
    }
    uint16_t chooser = model_find_in_item(file, node, key, vd_index(setting->block), setting->item);
    if (chooser == VD_NONE) {
        return false;
    }
    vd_setting *from = &g_array_index(file->settings, vd_setting, chooser);
    vd_likeness *like = model_memory(file, (from->choice_count + 1u) * sizeof *like);
    for (uint16_t i = 0; i < from->choice_count && from->traits->id == VD_CHOICE; i++) {
        const vd_channel *channel = g_hash_table_lookup(file->channels, from->choices[i].name);
        const vd_setting *of = channel != NULL && vd_index(channel->reads) != VD_NONE
                                   ? &g_array_index(file->settings, vd_setting, vd_index(channel->reads))
                                   : NULL;
        bool number = of != NULL && (of->traits->id == VD_INTEGER || of->traits->id == VD_DECIMAL);
        if (number && yaml_member(&file->yaml, source_of(file, vd_index(channel->reads)), "decimals-from") != NULL) {
            return yaml_note(&file->yaml, node,
                             vd_fault_of_WRONG_SHAPE(of->words->key, "readings with decimals of their own"));
        }
        if (number) {
            like[setting->like_count++] = (vd_likeness){from->choices[i].number, of};
        }
    }
    if (setting->like_count == 0) {
        return yaml_note(&file->yaml, node,
                         vd_fault_of_WRONG_SHAPE(key, "a setting with choices that are named like channels"));
    }
    setting->like = like;
    setting->places_from = vd_ref_to(chooser);
    from->gives_places = true;
    return true;
}

/* zone: "+01:00", or here, or the key of the setting that says it. */
static bool take_zone(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    static const vd_setting_words words = {.key = "zone"};
    static const vd_setting zone = {
        .words = &words, .measure = "", .traits = &vd_type_zone, .tick = 1, .step = 1, .min = -720, .max = 840};
    const yaml_node_t *node = yaml_member(&file->yaml, map, "zone");
    const char *text = NULL;
    vd_typed typed;
    if (!yaml_take_text(&file->yaml, map, "zone", false, &text) || text == NULL) {
        return text == NULL;
    }
    if (strcmp(text, "here") == 0) {
        setting->zone = VD_ZONE_HERE;
        return true;
    }
    if (vd_setting_parse(&zone, text, strlen(text), &typed, NULL) == VD_OK) {
        setting->zone = (int16_t)typed.value.number;
        return vd_setting_check(&zone, &typed.value, NULL) == VD_OK ||
               yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE(text, "an offset from -12:00 to +14:00"));
    }
    setting->zone_from = vd_ref_to(model_find_in_item(file, node, text, vd_index(setting->block), setting->item));
    return vd_index(setting->zone_from) != VD_NONE &&
           (g_array_index(file->settings, vd_setting, vd_index(setting->zone_from)).traits->id == VD_ZONE ||
            yaml_note(&file->yaml, node,
                      vd_fault_of_WRONG_SHAPE(text, "an offset such as \"+01:00\", here, or a setting of type zone")));
}

bool model_take_sets(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    if (yaml_member(&file->yaml, map, "sets") == NULL) {
        return true;
    }
    bool fine = yaml_take_list(&file->yaml, map, "sets", 1000, &count, &items);
    GArray *found = g_array_new(FALSE, FALSE, sizeof(uint16_t));
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *node = yaml_node(&file->yaml, items[i]);
        const char *name = yaml_text(&file->yaml, node, "a setting");
        bool own = name != NULL && (g_str_has_prefix(name, "this.") || g_str_has_prefix(name, "outer."));
        uint16_t one =
            own ? model_find_in_item(file, node, name, vd_index(setting->block), setting->item) : (uint16_t)VD_NONE;
        if (own) {
            g_array_append_val(found, one);
        }
        fine = name != NULL && (own ? one != VD_NONE : model_add_named(file, node, name, found)) && fine;
    }
    uint16_t *sets = model_memory(file, found->len * sizeof *sets);
    if (found->len > 0) {
        memcpy(sets, found->data, found->len * sizeof *sets);
    }
    setting->sets = sets;
    setting->set_count = (uint16_t)(fine ? found->len : 0);
    g_array_free(found, TRUE);
    return fine;
}

bool model_take_dependence(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const char *key = NULL;
    if (setting->traits->id == VD_CLOCK) {
        return take_zone(file, map, setting);
    }
    if (yaml_member(&file->yaml, map, "like") != NULL) {
        return take_likeness(file, map, setting);
    }
    if (!yaml_take_text(&file->yaml, map, "decimals-from", false, &key) || key == NULL) {
        return key == NULL;
    }
    const yaml_node_t *node = yaml_member(&file->yaml, map, "decimals-from");
    setting->places_from = vd_ref_to(model_find_in_item(file, node, key, vd_index(setting->block), setting->item));
    if (vd_index(setting->places_from) == VD_NONE) {
        return false;
    }
    /* Until a unit is read, its factory default for the decimals holds. */
    vd_setting *from = &g_array_index(file->settings, vd_setting, vd_index(setting->places_from));
    const yaml_node_t *from_node = g_array_index(file->sources, model_source, vd_index(setting->places_from)).map;
    int64_t places = 0;
    from->gives_places = true;
    if (from_node == NULL) {
        return false; /* it was not understood, and that has been said */
    }
    bool fine = yaml_take_integer(&file->yaml, from_node, "default", true, 0, 9, &places);
    setting->places = (uint8_t)places;
    return fine;
}

/* Whether the values of one can be added to those of the other: a difference of temperatures is one in kelvin. */
static bool add_up(const vd_setting *reading, const vd_setting *by)
{
    bool degrees = strcmp(reading->measure, "°C") == 0 && strcmp(by->measure, "K") == 0;
    return vd_setting_is(reading, VD_TYPE_PLACED) && vd_setting_is(by, VD_TYPE_PLACED) && reading->scale == 0 &&
           reading->offset == 0 && reading->step == 1 && (degrees || strcmp(reading->measure, by->measure) == 0);
}

static bool take_shift(vd_model_file *file, const yaml_node_t *moves, const char *word, const vd_setting *reading,
                       uint16_t *by)
{
    const char *key = NULL;
    if (!yaml_take_text(&file->yaml, moves, word, false, &key) || key == NULL) {
        return key == NULL;
    }
    const yaml_node_t *node = yaml_member(&file->yaml, moves, word);
    uint16_t found = model_find_in_item(file, node, key, vd_index(reading->block), reading->item);
    if (found == VD_NONE) {
        return false;
    }
    if (reading->access != VD_READ_ONLY || !add_up(reading, &g_array_index(file->settings, vd_setting, found))) {
        return yaml_note(&file->yaml, node,
                         vd_fault_of_WRONG_SHAPE(word, "a setting with the unit of this reading, or K for °C. The "
                                                       "reading is a number without scale and step"));
    }
    *by = (uint16_t)(found + 1);
    return true;
}

bool model_take_shifts(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const yaml_node_t *moves = yaml_member(&file->yaml, map, "moves");
    return moves == NULL || setting->traits->id == VD_CLOCK ||
           (take_shift(file, moves, "takes-off", setting, &model_motion(file, setting)->taken_off) &&
            take_shift(file, moves, "adds", setting, &model_motion(file, setting)->added));
}

bool model_take_default(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "default");
    vd_fault fault = {0};
    vd_typed typed;
    if (node == NULL) {
        return true;
    }
    if (setting->traits->id == VD_CLOCK && node->type == YAML_SCALAR_NODE &&
        strcmp((const char *)node->data.scalar.value, "now") == 0) {
        return yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("now", "a date, which it shows when it is new"));
    }
    if (!vd_setting_is(setting, VD_TYPE_BYTES)) {
        setting->has_initial = true;
        return model_take_count(file, node, setting, &setting->initial);
    }
    const char *text = yaml_text(&file->yaml, node, setting->words->key);
    if (text == NULL) {
        return false;
    }
    if (text[0] == '\0') { /* nothing has been put there yet */
        setting->initial_text = "";
        return true;
    }
    if (vd_setting_parse(setting, text, strlen(text), &typed, &fault) != VD_OK) {
        return yaml_note_fault(&file->yaml, node, &fault);
    }
    char *bytes = model_memory(file, typed.value.length);
    memcpy(bytes, typed.value.text, typed.value.length);
    setting->initial_text = bytes;
    setting->initial = typed.value.length;
    return true;
}
