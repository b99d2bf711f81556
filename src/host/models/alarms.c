/* SPDX-License-Identifier: MIT
 * Loading what a unit watches for: comparisons, conditions, alarms, and what these do.
 */
#include "parts.h"
#include "verdite/alarms.h"

#include <string.h>

#define MOST_ALARMS 64
#define MOST_TESTS 16 /* of one alarm or condition */

/* ---- Formulas ---- */

static uint16_t add_formula(vd_model_file *file, const yaml_node_t *node, const char *text, uint16_t block,
                            vd_gives gives)
{
    vd_formula formula = {model_text(file, text), block, (uint8_t)gives};
    g_array_append_val(file->formulas, formula);
    g_ptr_array_add(file->formula_nodes, (gpointer)node);
    return (uint16_t)(file->formulas->len - 1);
}

bool model_take_formula(vd_model_file *file, const yaml_node_t *map, const char *key, uint16_t block, vd_gives gives,
                        uint16_t *formula)
{
    const char *text = NULL;
    *formula = VD_NONE;
    if (!yaml_take_text(&file->yaml, map, key, false, &text) || text == NULL) {
        return text == NULL;
    }
    *formula = add_formula(file, yaml_member(&file->yaml, map, key), text, block, gives);
    return true;
}

/* A setting, of this item where it is named so. */
static bool take_spot(vd_model_file *file, const yaml_node_t *map, const char *key, uint16_t block, vd_spot *spot)
{
    const char *name = NULL;
    *spot = (vd_spot){VD_NONE, 0};
    if (!yaml_take_text(&file->yaml, map, key, false, &name) || name == NULL) {
        return name == NULL;
    }
    spot->setting = model_find_in_item(file, yaml_member(&file->yaml, map, key), name, block, 0);
    bool own = block != VD_NONE && g_str_has_prefix(name, "this.");
    spot->stride = own ? g_array_index(file->blocks, vd_block, block).members : 0;
    return spot->setting != VD_NONE;
}

static bool take_block(vd_model_file *file, const yaml_node_t *map, const char *key, uint16_t *block)
{
    const char *name = NULL;
    *block = VD_NONE;
    if (!yaml_take_text(&file->yaml, map, key, false, &name) || name == NULL) {
        return name == NULL;
    }
    for (guint i = 0; i < file->blocks->len; i++) {
        const vd_block *one = &g_array_index(file->blocks, vd_block, i);
        *block = one->outer == VD_NONE && strcmp(one->key, name) == 0 ? (uint16_t)i : *block;
    }
    return *block != VD_NONE || yaml_note(&file->yaml, yaml_member(&file->yaml, map, key),
                                          vd_fault_of_WRONG_SHAPE(name, "the key of a block under settings"));
}

/* watches: [probe-1, probe-2]: the channel of each item; they stand one behind the other among the channels as well. */
static bool take_channels_of_items(vd_model_file *file, const yaml_node_t *map, uint16_t block, vd_source *source)
{
    gsize count = 0, wanted = block != VD_NONE ? g_array_index(file->blocks, vd_block, block).count : 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, map, "watches", VD_MOST_CHANNELS, &count, &items) && count == wanted;
    for (gsize i = 0; i < count && fine; i++) {
        const yaml_node_t *node = yaml_node(&file->yaml, items[i]);
        const char *name = yaml_text(&file->yaml, node, "a channel");
        const vd_channel *channel = name != NULL ? g_hash_table_lookup(file->channels, name) : NULL;
        gsize place = channel != NULL ? (gsize)(channel - file->model.channels) : VD_NONE;
        source->channel = i == 0 ? (uint16_t)place : source->channel;
        if (channel == NULL || place != source->channel + i) {
            return name != NULL && yaml_note(&file->yaml, node,
                                             vd_fault_of_WRONG_SHAPE(name, i == 0 ? "the key of a channel"
                                                                                  : "the channel that stands under "
                                                                                    "channels behind the one before"));
        }
    }
    source->by_item = true;
    return fine || yaml_note(&file->yaml, yaml_member(&file->yaml, map, "watches"),
                             vd_fault_of_WRONG_SHAPE("this list", "one channel for each item of the block"));
}

/* watches: a channel, or a setting that chooses one. */
static bool take_source(vd_model_file *file, const yaml_node_t *map, uint16_t block, vd_source *source)
{
    const char *name = NULL;
    const vd_channel *channel = NULL;
    *source = (vd_source){VD_NONE, false, {VD_NONE, 0}};
    const yaml_node_t *node = yaml_member(&file->yaml, map, "watches");
    if (node != NULL && node->type == YAML_SEQUENCE_NODE) {
        return take_channels_of_items(file, map, block, source);
    }
    if (!yaml_take_text(&file->yaml, map, "watches", true, &name)) {
        return false;
    }
    channel = g_hash_table_lookup(file->channels, name);
    if (channel != NULL) {
        source->channel = (uint16_t)(channel - file->model.channels);
        return true;
    }
    if (strchr(name, '.') == NULL) {
        return yaml_note(&file->yaml, node,
                         vd_fault_of_WRONG_SHAPE(name, "the key of a channel, or of a setting that chooses one"));
    }
    return take_spot(file, map, "watches", block, &source->chooser);
}

/* ---- Comparisons ---- */

/* [low, high], each a number or an expression. */
static bool take_pair(vd_model_file *file, const yaml_node_t *node, uint16_t block, vd_test *test)
{
    bool pair =
        node->type == YAML_SEQUENCE_NODE && node->data.sequence.items.top - node->data.sequence.items.start == 2;
    const char *texts[2] = {NULL, NULL};
    for (int i = 0; i < 2 && pair; i++) {
        const yaml_node_t *end = yaml_node(&file->yaml, node->data.sequence.items.start[i]);
        texts[i] = yaml_text(&file->yaml, end, "a limit");
        pair = texts[i] != NULL;
        *(i == 0 ? &test->limit : &test->upper) =
            pair ? add_formula(file, end, texts[i], block, VD_GIVES_NUMBER) : (uint16_t)VD_NONE;
    }
    return pair || yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("these limits", "two: [lower, upper]"));
}

static bool take_test(vd_model_file *file, const yaml_node_t *map, uint16_t block, vd_test *test)
{
    unsigned found = 0;
    int64_t per = 0;
    *test = (vd_test){VD_NONE, VD_NONE, VD_NONE, VD_NONE, VD_NONE, 0, 0};
    bool fine = yaml_check_keys(&file->yaml, map, keys_test);
    for (unsigned way = 0; way < VD_WAYS; way++) {
        const yaml_node_t *node = yaml_member(&file->yaml, map, vd_way_word((uint8_t)way));
        found += node != NULL;
        test->way = node != NULL ? (uint8_t)way : test->way;
        if (node != NULL && (way == VD_OUTSIDE || way == VD_INSIDE)) {
            fine = take_pair(file, node, block, test) && fine;
        } else if (node != NULL) {
            fine = model_take_formula(file, map, vd_way_word((uint8_t)way), block,
                                      way == VD_IS ? VD_GIVES_STATE : VD_GIVES_NUMBER, &test->limit) &&
                   fine;
        }
    }
    if (found != 1) { /* a key that has no place there may have been meant for one of them */
        return fine &&
               yaml_note(&file->yaml, map,
                         vd_fault_of_WRONG_SHAPE("this comparison", "one of above, below, outside, inside, is, rises, "
                                                                    "falls, changes"));
    }
    fine = model_take_formula(file, map, "if", block, VD_GIVES_TRUTH, &test->counts) && fine;
    fine = model_take_formula(file, map, "release", block, VD_GIVES_NUMBER, &test->release) && fine;
    fine = model_take_formula(file, map, "within", block, VD_GIVES_TIME, &test->window) && fine;
    fine = yaml_take_duration(&file->yaml, map, "per", false, G_MAXUINT32, &per) && fine;
    test->per = (uint32_t)per;
    return fine;
}

/* One comparison, or several of which the first that counts is the one; `release`: theirs where they name none. */
static bool take_tests(vd_model_file *file, const yaml_node_t *map, const char *key, uint16_t block, uint16_t release,
                       uint16_t *first, uint8_t *count)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, key);
    bool list = node != NULL && node->type == YAML_SEQUENCE_NODE;
    gsize all = list ? (gsize)(node->data.sequence.items.top - node->data.sequence.items.start) : 1;
    bool fine = true;
    *first = (uint16_t)file->tests->len;
    *count = 0;
    if (node == NULL || all > MOST_TESTS) {
        return yaml_note_missing(&file->yaml, map, key, "when-it-is: {above: 36.0 °C}");
    }
    for (gsize i = 0; i < all; i++) {
        vd_test test;
        fine =
            take_test(file, list ? yaml_node(&file->yaml, node->data.sequence.items.start[i]) : node, block, &test) &&
            fine;
        test.release = test.release == VD_NONE && test.way != VD_IS ? release : test.release;
        g_array_append_val(file->tests, test);
    }
    *count = (uint8_t)all;
    return fine;
}

/* ---- Conditions ---- */

static bool take_condition(vd_model_file *file, const yaml_node_t *map, uint16_t block, bool shared)
{
    vd_condition condition = {.key = "", .block = block};
    bool fine = yaml_check_keys(&file->yaml, map, keys_conditions);
    fine = (!shared || model_take_key(file, map, "key", &condition.key)) && fine;
    fine = take_source(file, map, block, &condition.watches) && fine;
    fine = take_tests(file, map, "is", block, VD_NONE, &condition.test, &condition.test_count) && fine;
    g_array_append_val(file->conditions, condition);
    g_ptr_array_add(file->condition_nodes, (gpointer)map);
    return fine;
}

/* A condition of its own, or one that is shared, by its key. */
static bool add_condition(vd_model_file *file, const yaml_node_t *node, uint16_t block, GArray *indexes)
{
    if (node->type == YAML_MAPPING_NODE) {
        uint16_t index = (uint16_t)file->conditions->len;
        g_array_append_val(indexes, index);
        return take_condition(file, node, block, false);
    }
    const char *key = yaml_text(&file->yaml, node, "a condition");
    for (uint16_t i = 0; key != NULL && i < file->conditions->len; i++) {
        if (strcmp(g_array_index(file->conditions, vd_condition, i).key, key) == 0) {
            g_array_append_val(indexes, i);
            return true;
        }
    }
    return key != NULL &&
           yaml_note(&file->yaml, node,
                     vd_fault_of_WRONG_SHAPE(key, "the key of one of the conditions, or what is watched "
                                                  "and how it is: {watches: speed, is: {above: 5 km/h}}"));
}

/* only-while: {all: [...]} or {any: [...]}, and what becomes of an alarm when it is lost. */
static bool take_only_while(vd_model_file *file, const yaml_node_t *map, vd_alarm *alarm)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "only-while");
    uint8_t lost = 0;
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    if (node == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, node, keys_only_while);
    bool any = yaml_member(&file->yaml, node, "any") != NULL;
    if (any == (yaml_member(&file->yaml, node, "all") != NULL)) {
        return yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("this", "all or any, with a list of conditions"));
    }
    GArray *indexes = g_array_new(FALSE, FALSE, sizeof(uint16_t));
    fine = yaml_take_list(&file->yaml, node, any ? "any" : "all", 16, &count, &items) && fine;
    for (gsize i = 0; i < count; i++) {
        fine = add_condition(file, yaml_node(&file->yaml, items[i]), alarm->block, indexes) && fine;
    }
    fine = yaml_take_word(&file->yaml, node, "lost", false, words_lost, &lost) && fine;
    alarm->holds = lost == 1;
    alarm->any_condition = any;
    uint16_t *kept = model_memory(file, (indexes->len + 1) * sizeof *kept);
    memcpy(kept, indexes->data != NULL ? indexes->data : (gchar *)kept, indexes->len * sizeof *kept);
    alarm->conditions = kept;
    alarm->condition_count = (uint8_t)indexes->len;
    g_array_free(indexes, TRUE);
    return fine;
}

/* ---- Alarms ---- */

static bool take_latches(vd_model_file *file, const yaml_node_t *map, vd_alarm *alarm)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "latches");
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    if (node == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, node, keys_latches);
    fine = model_take_formula(file, node, "while", alarm->block, VD_GIVES_TRUTH, &alarm->latches) && fine;
    alarm->latches =
        alarm->latches != VD_NONE ? alarm->latches : add_formula(file, node, "on", VD_NONE, VD_GIVES_TRUTH);
    fine = yaml_take_list(&file->yaml, node, "cleared-by", 3, &count, &items) && fine;
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *item = yaml_node(&file->yaml, items[i]);
        const char *word = yaml_text(&file->yaml, item, "what clears it");
        unsigned bit = 0;
        for (uint8_t k = 0; word != NULL && words_cleared_by[k] != NULL; k++) {
            bit = strcmp(words_cleared_by[k], word) == 0 ? 1u << k : bit;
        }
        alarm->cleared_by = (uint8_t)((unsigned)alarm->cleared_by | bit);
        fine = (bit != 0 ||
                yaml_note(&file->yaml, item,
                          vd_fault_of_WRONG_SHAPE(word != NULL ? word : "this", "button, command or supply"))) &&
               fine;
    }
    return yaml_take_truth(&file->yaml, node, "clears-always", &alarm->clears_always) && fine;
}

static bool take_times(vd_model_file *file, const yaml_node_t *map, vd_alarm *alarm)
{
    const yaml_node_t *delay = yaml_member(&file->yaml, map, "delay");
    const yaml_node_t *longest = yaml_member(&file->yaml, map, "longest-without");
    uint16_t block = alarm->block;
    bool fine = (delay == NULL || yaml_check_keys(&file->yaml, delay, keys_delay)) &&
                (longest == NULL || yaml_check_keys(&file->yaml, longest, keys_longest));
    fine = model_take_formula(file, delay, "in", block, VD_GIVES_TIME, &alarm->delay_in) && fine;
    fine = model_take_formula(file, delay, "out", block, VD_GIVES_TIME, &alarm->delay_out) && fine;
    fine = model_take_formula(file, longest, "for", block, VD_GIVES_TIME, &alarm->longest) && fine;
    fine = model_take_formula(file, longest, "rest", block, VD_GIVES_TIME, &alarm->rest) && fine;
    return model_take_formula(file, map, "hush", block, VD_GIVES_TIME, &alarm->hush) && fine;
}

static bool take_reactions(vd_model_file *file, const yaml_node_t *map, vd_alarm *alarm)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, map, "does", 64, &count, &items);
    vd_reaction *reactions = model_memory(file, (count + 1) * sizeof *reactions);
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *item = yaml_node(&file->yaml, items[i]);
        fine = yaml_check_keys(&file->yaml, item, keys_does) && fine;
        fine = model_take_key(file, item, "key", &reactions[i].key) && fine;
        fine = model_take_text(file, item, "says", true, &reactions[i].says) && fine;
        fine = model_take_formula(file, item, "if", alarm->block, VD_GIVES_TRUTH, &reactions[i].does) && fine;
        fine = yaml_take_truth(&file->yaml, item, "tells", &reactions[i].tells) && fine;
    }
    alarm->reactions = reactions;
    alarm->reaction_count = (uint8_t)(fine ? count : 0);
    return fine;
}

/* tells: {in: this.tells, people: person, name: name, number: phone} */
static bool take_people(vd_model_file *file, const yaml_node_t *map, vd_alarm *alarm)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "tells");
    const char *members[2] = {NULL, NULL};
    uint16_t *places[2] = {&alarm->person, &alarm->number};
    alarm->tells = (vd_spot){VD_NONE, 0};
    alarm->people = alarm->person = alarm->number = VD_NONE;
    if (node == NULL) {
        return true;
    }
    bool fine =
        yaml_check_keys(&file->yaml, node, keys_tells) && take_spot(file, node, "in", alarm->block, &alarm->tells);
    if (!fine || alarm->tells.setting == VD_NONE ||
        g_array_index(file->settings, vd_setting, alarm->tells.setting).traits->id != VD_FLAGS) {
        return fine && yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("this", "in: a setting that is flags"));
    }
    fine = take_block(file, node, "people", &alarm->people) &&
           yaml_take_text(&file->yaml, node, "name", false, &members[0]) &&
           yaml_take_text(&file->yaml, node, "number", false, &members[1]);
    for (int i = 0; i < 2 && fine && alarm->people != VD_NONE; i++) {
        char *name = members[i] != NULL ? g_strdup_printf("this.%s", members[i]) : NULL;
        *places[i] = name != NULL ? model_find_in_item(file, node, name, alarm->people, 0) : (uint16_t)VD_NONE;
        fine = name == NULL || *places[i] != VD_NONE;
        g_free(name);
    }
    return fine;
}

/* shows: {in: now.alarms, has: alarm-1} */
static bool take_shown(vd_model_file *file, const yaml_node_t *map, vd_alarm *alarm)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "shows");
    const char *name = NULL;
    alarm->shown = (vd_spot){VD_NONE, 0};
    alarm->flag = VD_NO_FLAG;
    if (node == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, node, keys_shows) &&
                take_spot(file, node, "in", alarm->block, &alarm->shown) &&
                yaml_take_text(&file->yaml, node, "has", false, &name);
    if (!fine || alarm->shown.setting == VD_NONE) {
        return false;
    }
    const vd_setting *about = &g_array_index(file->settings, vd_setting, alarm->shown.setting);
    for (uint16_t i = 0; i < about->choice_count && name != NULL; i++) {
        alarm->flag = strcmp(about->choices[i].name, name) == 0 ? (uint8_t)about->choices[i].number : alarm->flag;
    }
    bool flags =
        about->traits->id == VD_FLAGS && (alarm->flag != VD_NO_FLAG || (name == NULL && alarm->block != VD_NONE));
    return flags || (about->traits->id == VD_TRUTH && name == NULL) ||
           yaml_note(
               &file->yaml, node,
               vd_fault_of_WRONG_SHAPE("this", "in: a setting that is on or off, or flags, and has: one of them"));
}

/* announces: {stands: "+RAISED: {item}", ends: "+ENDED: {item}"} */
static bool take_announced(vd_model_file *file, const yaml_node_t *map, vd_alarm *alarm)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "announces");
    alarm->says_stands = alarm->says_ends = "";
    if (node != NULL && !file->model.language->says_unasked) {
        return yaml_note(&file->yaml, node,
                         vd_fault_of_WRONG_SHAPE("this", "nothing: units with registers only answer"));
    }
    return node == NULL || (yaml_check_keys(&file->yaml, node, keys_announces) &&
                            model_take_text(file, node, "stands", true, &alarm->says_stands) &&
                            model_take_text(file, node, "ends", false, &alarm->says_ends));
}

static bool take_matters(vd_model_file *file, const yaml_node_t *map, vd_alarm *alarm)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "matters");
    alarm->idle = "";
    return node == NULL || (yaml_check_keys(&file->yaml, node, keys_matters) &&
                            model_take_formula(file, node, "if", alarm->block, VD_GIVES_TRUTH, &alarm->matters) &&
                            model_take_text(file, node, "else", true, &alarm->idle));
}

/* all-of or any-of: other alarms by key, those of a block with their number. */
static bool take_members(vd_model_file *file, const yaml_node_t *map, const char *key, vd_alarm *alarm)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, map, key, MOST_ALARMS, &count, &items);
    uint16_t *members = model_memory(file, (count + 1) * sizeof *members);
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *node = yaml_node(&file->yaml, items[i]);
        const char *name = yaml_text(&file->yaml, node, "an alarm");
        uint16_t place = 0;
        members[i] = VD_NONE;
        for (guint k = 0; name != NULL && k < file->alarms->len; k++) {
            const vd_alarm *one = &g_array_index(file->alarms, vd_alarm, k);
            uint16_t items_of = one->block != VD_NONE ? g_array_index(file->blocks, vd_block, one->block).count : 1;
            for (uint16_t item = 0; item < items_of; item++, place++) {
                char *full = one->block != VD_NONE ? g_strdup_printf("%s.%u", one->key, item + 1u) : g_strdup(one->key);
                members[i] = strcmp(full, name) == 0 ? place : members[i];
                g_free(full);
            }
        }
        fine = (members[i] != VD_NONE || yaml_note(&file->yaml, node,
                                                   vd_fault_of_WRONG_SHAPE(name != NULL ? name : "this",
                                                                           "an alarm that stands before this one"))) &&
               fine;
    }
    alarm->members = members;
    alarm->member_count = (uint8_t)(fine ? count : 0);
    return fine;
}

static bool take_alarm(vd_model_file *file, const yaml_node_t *map)
{
    vd_alarm alarm = {.key = "", .label = "", .name = {VD_NONE, 0}, .text = {VD_NONE, 0}};
    uint16_t release = VD_NONE;
    alarm.matters = alarm.delay_in = alarm.delay_out = alarm.hush = alarm.latches = alarm.longest = alarm.rest =
        VD_NONE;
    alarm.used = VD_NONE;
    alarm.watches = (vd_source){VD_NONE, false, {VD_NONE, 0}};
    bool fine = yaml_check_keys(&file->yaml, map, keys_alarms) && take_block(file, map, "of", &alarm.block);
    if (!fine) {
        return false;
    }
    fine = model_take_key(file, map, "key", &alarm.key) && fine;
    fine = model_take_text(file, map, "label", alarm.block == VD_NONE, &alarm.label) && fine;
    fine = take_spot(file, map, "name", alarm.block, &alarm.name) && fine;
    fine = take_spot(file, map, "text", alarm.block, &alarm.text) && fine;
    fine = model_take_formula(file, map, "used", alarm.block, VD_GIVES_TRUTH, &alarm.used) && fine;
    fine = take_matters(file, map, &alarm) && fine;
    fine = take_reactions(file, map, &alarm) && fine;
    fine = take_people(file, map, &alarm) && fine;
    fine = take_shown(file, map, &alarm) && fine;
    fine = take_announced(file, map, &alarm) && fine;
    bool all = yaml_member(&file->yaml, map, "all-of") != NULL, any = yaml_member(&file->yaml, map, "any-of") != NULL;
    alarm.joint = all ? VD_ALL_OF : any ? VD_ANY_OF : VD_SINGLE;
    if (all || any) {
        fine = take_members(file, map, all ? "all-of" : "any-of", &alarm) && fine;
    } else {
        fine = take_source(file, map, alarm.block, &alarm.watches) && fine;
        fine = model_take_formula(file, map, "release", alarm.block, VD_GIVES_NUMBER, &release) && fine;
        fine = take_tests(file, map, "when-it-is", alarm.block, release, &alarm.test, &alarm.test_count) && fine;
        fine = take_only_while(file, map, &alarm) && fine;
        fine = take_latches(file, map, &alarm) && fine;
        fine = take_times(file, map, &alarm) && fine;
    }
    for (guint i = 0; i < file->alarms->len; i++) {
        fine = (strcmp(g_array_index(file->alarms, vd_alarm, i).key, alarm.key) != 0 ||
                yaml_note(&file->yaml, map, vd_fault_of_KEY_TWICE(alarm.key))) &&
               fine;
    }
    g_array_append_val(file->alarms, alarm);
    return fine;
}

/* What was collected, in memory that lives as long as the model. */
static const void *settled(vd_model_file *file, GArray *from)
{
    gsize size = from->len * g_array_get_element_size(from);
    void *to = model_memory(file, size + 1);
    if (size > 0) {
        memcpy(to, from->data, size);
    }
    return to;
}

bool model_take_alarms(vd_model_file *file, const yaml_node_t *root)
{
    gsize conditions = 0, alarms = 0;
    const yaml_node_item_t *items = NULL;
    if (file->model.channel_count == 0 && yaml_member(&file->yaml, root, "channels") != NULL) {
        return false; /* what is wrong with these has been said, and the rest would follow from it */
    }
    bool fine = yaml_take_list(&file->yaml, root, "conditions", MOST_ALARMS, &conditions, &items);
    for (gsize i = 0; i < conditions; i++) {
        fine = take_condition(file, yaml_node(&file->yaml, items[i]), VD_NONE, true) && fine;
    }
    fine = yaml_take_list(&file->yaml, root, "alarms", MOST_ALARMS, &alarms, &items) && fine;
    for (gsize i = 0; i < alarms; i++) {
        fine = take_alarm(file, yaml_node(&file->yaml, items[i])) && fine;
    }
    if (file->conditions->len > 255) {
        fine = yaml_note(&file->yaml, yaml_member(&file->yaml, root, "alarms"),
                         vd_fault_of_WRONG_SHAPE("alarms", "at most 255 conditions in all"));
    }
    if (fine) { /* else what is wrong has been said, and the rest follows from it */
        vd_model *model = &file->model;
        model->tests = settled(file, file->tests);
        model->conditions = settled(file, file->conditions);
        model->alarms = settled(file, file->alarms);
        model->test_count = (uint16_t)file->tests->len;
        model->condition_count = (uint8_t)file->conditions->len;
        model->alarm_count = (uint8_t)file->alarms->len;
        model->formulas = settled(file, file->formulas);
        model->formula_count = (uint16_t)file->formulas->len;
    }
    return fine;
}
