/* SPDX-License-Identifier: MIT
 * Loading what a unit watches for: comparisons, conditions, alarms, and what these do.
 */
#include "comparisons.h"
#include "verdite/alarm_words.h"

#include <string.h>

#define MOST_ALARMS 64

static bool take_latches(vd_model_file *file, const yaml_node_t *map, vd_alarm *alarm)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "latches");
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    if (node == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, node, keys_latches);
    fine = model_take_formula(file, node, "while", vd_index(alarm->block), VD_GIVES_TRUTH, &alarm->latches) && fine;
    alarm->latches = vd_index(alarm->latches) != VD_NONE ? alarm->latches
                                                         : model_add_formula(file, node, "on", VD_NONE, VD_GIVES_TRUTH);
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
    uint16_t block = vd_index(alarm->block);
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
        fine = model_take_formula(file, item, "if", vd_index(alarm->block), VD_GIVES_TRUTH, &reactions[i].does) && fine;
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
    vd_ref *places[2] = {&alarm->person, &alarm->number};
    if (node == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, node, keys_tells) &&
                model_take_spot(file, node, "in", vd_index(alarm->block), &alarm->tells);
    if (!fine || vd_index(alarm->tells.setting) == VD_NONE ||
        g_array_index(file->settings, vd_setting, vd_index(alarm->tells.setting)).traits->id != VD_FLAGS) {
        return fine && yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE("this", "in: a setting that is flags"));
    }
    fine = model_take_around(file, node, "people", &alarm->people) &&
           yaml_take_text(&file->yaml, node, "name", false, &members[0]) &&
           yaml_take_text(&file->yaml, node, "number", false, &members[1]);
    for (int i = 0; i < 2 && fine && vd_index(alarm->people) != VD_NONE; i++) {
        char *name = members[i] != NULL ? g_strdup_printf("this.%s", members[i]) : NULL;
        *places[i] =
            vd_ref_to(name != NULL ? model_find_in_item(file, node, name, vd_index(alarm->people), 0) : VD_NONE);
        fine = name == NULL || vd_index(*places[i]) != VD_NONE;
        g_free(name);
    }
    return fine;
}

/* shows: {in: now.alarms, has: alarm-1} */
static bool take_shown(vd_model_file *file, const yaml_node_t *map, vd_alarm *alarm)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "shows");
    const char *name = NULL;
    alarm->flag = VD_NO_FLAG;
    if (node == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, node, keys_shows) &&
                model_take_spot(file, node, "in", vd_index(alarm->block), &alarm->shown) &&
                yaml_take_text(&file->yaml, node, "has", false, &name);
    if (!fine || vd_index(alarm->shown.setting) == VD_NONE) {
        return false;
    }
    const vd_setting *about = &g_array_index(file->settings, vd_setting, vd_index(alarm->shown.setting));
    for (uint16_t i = 0; i < about->choice_count && name != NULL; i++) {
        alarm->flag = strcmp(about->choices[i].name, name) == 0 ? (uint8_t)about->choices[i].number : alarm->flag;
    }
    bool flags = about->traits->id == VD_FLAGS &&
                 (alarm->flag != VD_NO_FLAG || (name == NULL && vd_index(alarm->block) != VD_NONE));
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
    return node == NULL ||
           (yaml_check_keys(&file->yaml, node, keys_matters) &&
            model_take_formula(file, node, "if", vd_index(alarm->block), VD_GIVES_TRUTH, &alarm->matters) &&
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
            uint16_t items_of =
                vd_index(one->block) != VD_NONE ? g_array_index(file->blocks, vd_block, vd_index(one->block)).count : 1;
            for (uint16_t item = 0; item < items_of; item++, place++) {
                char *full = vd_index(one->block) != VD_NONE ? g_strdup_printf("%s.%u", one->key, item + 1u)
                                                             : g_strdup(one->key);
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
    vd_alarm alarm = {.key = "", .label = ""};
    vd_ref release;
    bool fine = yaml_check_keys(&file->yaml, map, keys_alarms) && model_take_around(file, map, "of", &alarm.block);
    if (!fine) {
        return false;
    }
    fine = model_take_key(file, map, "key", &alarm.key) && fine;
    fine = model_take_text(file, map, "label", vd_index(alarm.block) == VD_NONE, &alarm.label) && fine;
    fine = model_take_spot(file, map, "name", vd_index(alarm.block), &alarm.name) && fine;
    fine = model_take_spot(file, map, "text", vd_index(alarm.block), &alarm.text) && fine;
    fine = model_take_formula(file, map, "used", vd_index(alarm.block), VD_GIVES_TRUTH, &alarm.used) && fine;
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
        fine = model_take_source(file, map, vd_index(alarm.block), &alarm.watches) && fine;
        fine = model_take_formula(file, map, "release", vd_index(alarm.block), VD_GIVES_NUMBER, &release) && fine;
        fine =
            model_take_tests(file, map, "when-it-is", vd_index(alarm.block), release, &alarm.test, &alarm.test_count) &&
            fine;
        fine = model_take_only_while(file, map, &alarm) && fine;
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
        fine = model_take_condition(file, yaml_node(&file->yaml, items[i]), VD_NONE, true) && fine;
    }
    fine = yaml_take_list(&file->yaml, root, "alarms", MOST_ALARMS, &alarms, &items) && fine;
    for (gsize i = 0; i < alarms; i++) {
        fine = take_alarm(file, yaml_node(&file->yaml, items[i])) && fine;
    }
    if (file->conditions->len > 255) {
        fine = yaml_note(&file->yaml, yaml_member(&file->yaml, root, "alarms"),
                         vd_fault_of_WRONG_SHAPE("alarms", "at most 255 conditions in all"));
    }
    if (fine) {
        vd_model *model = &file->model;
        model->tests = settled(file, file->tests);
        model->conditions = settled(file, file->conditions);
        model->alarms = settled(file, file->alarms);
        model->test_count = (uint16_t)file->tests->len;
        model->condition_count = (uint8_t)file->conditions->len;
        model->alarm_count = (uint8_t)file->alarms->len;
    }
    return fine;
}

void model_settle_formulas(vd_model_file *file)
{
    file->model.formulas = settled(file, file->formulas);
    file->model.formula_count = (uint16_t)file->formulas->len;
}
