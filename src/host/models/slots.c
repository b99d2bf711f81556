/* SPDX-License-Identifier: MIT
 * Loading slots: how many, what each holds, which can be saved, which is in force.
 */
#include "parts.h"

#include <string.h>

/* Whether a setting says the number of a slot. */
static bool says_slot(const vd_model_file *file, uint16_t setting, uint8_t count)
{
    const vd_setting *about = &g_array_index(file->settings, vd_setting, setting);
    return (about->traits->id == VD_INTEGER || about->traits->id == VD_CHOICE) && about->min >= 1 &&
           about->max <= count && about->access == VD_READ_WRITE;
}

static bool take_chooser(vd_model_file *file, const yaml_node_t *map, vd_slots *slots)
{
    const char *key = NULL;
    if (!yaml_take_text(&file->yaml, map, "chosen-by", true, &key)) {
        return false;
    }
    const yaml_node_t *node = yaml_member(&file->yaml, map, "chosen-by");
    slots->chosen_by = vd_ref_to(model_find_named(file, node, key));
    return vd_index(slots->chosen_by) != VD_NONE &&
           (says_slot(file, vd_index(slots->chosen_by), slots->count) ||
            yaml_note(&file->yaml, node,
                      vd_fault_of_WRONG_SHAPE(key, "a whole number or choice that is read and written, of slots from 1 "
                                                   "to as many as there are")));
}

/* after-power: the number of a slot, or the key of the setting that says it. */
static bool take_fallback(vd_model_file *file, const yaml_node_t *map, vd_slots *slots)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "after-power");
    const char *text = NULL;
    int64_t number = 0;
    if (!yaml_take_text(&file->yaml, map, "after-power", false, &text) || text == NULL) {
        return text == NULL;
    }
    if (strspn(text, "0123456789") == strlen(text)) {
        bool fine = yaml_take_integer(&file->yaml, map, "after-power", true, 1, slots->count, &number);
        slots->fixed = (uint8_t)number;
        return fine;
    }
    slots->fallback = vd_ref_to(model_find_named(file, node, text));
    return vd_index(slots->fallback) != VD_NONE &&
           (says_slot(file, vd_index(slots->fallback), slots->count) ||
            yaml_note(&file->yaml, node,
                      vd_fault_of_WRONG_SHAPE(text, "the number of a slot, or a setting that says one")));
}

static bool take_writable(vd_model_file *file, const yaml_node_t *map, vd_slots *slots)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, map, "writable", slots->count, &count, &items);
    slots->writable = yaml_member(&file->yaml, map, "writable") == NULL ? UINT64_MAX : 0;
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *node = yaml_node(&file->yaml, items[i]);
        const char *text = yaml_text(&file->yaml, node, "the number of a slot");
        int64_t number = 0;
        if (text == NULL || !g_ascii_string_to_signed(text, 10, 1, slots->count, &number, NULL)) {
            fine =
                yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE(text != NULL ? text : "this", "slots, by number"));
            continue;
        }
        slots->writable |= (uint64_t)1 << (number - 1);
    }
    return fine;
}

/* Presets by name, one for each slot. */
static bool take_beginnings(vd_model_file *file, const yaml_node_t *map, vd_slots *slots)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, map, "begin-with", slots->count, &count, &items);
    uint8_t *begin = model_memory(file, slots->count + 1u);
    memset(begin, 0, slots->count + 1u);
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *node = yaml_node(&file->yaml, items[i]);
        const char *name = yaml_text(&file->yaml, node, "the key of a preset");
        for (uint8_t k = 0; k < file->model.preset_count && name != NULL; k++) {
            begin[i] = strcmp(file->model.presets[k].key, name) == 0 ? (uint8_t)(k + 1u) : begin[i];
        }
        if (begin[i] == 0) {
            fine = yaml_note(&file->yaml, node,
                             vd_fault_of_WRONG_SHAPE(name != NULL ? name : "this", "the key of one of the presets"));
        }
    }
    slots->begin = begin;
    return fine;
}

static bool take_saving(vd_model_file *file, const yaml_node_t *map, vd_slots *slots)
{
    static const char *const keys[] = {"register", NULL}, *const keys_of_lines[] = {"word", NULL};
    bool lines = file->model.language->has_words;
    const yaml_node_t *saving = yaml_member(&file->yaml, map, "saved-by");
    int64_t where = 0;
    if (saving == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, saving, lines ? keys_of_lines : keys);
    fine = yaml_take_integer(&file->yaml, saving, "register", !lines, 0, 0xFFFF, &where) && fine;
    fine = model_take_text(file, saving, "word", lines, &slots->order.word) && fine;
    slots->order.address = (uint16_t)where;
    slots->saved = true;
    return fine;
}

bool model_take_slots(vd_model_file *file, const yaml_node_t *root)
{
    const yaml_node_t *map = yaml_member(&file->yaml, root, "slots");
    vd_slots slots = {.label = "", .order = {.word = "", .argument = ""}};
    int64_t count = 0;
    if (map == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, map, keys_slots);
    fine = yaml_take_integer(&file->yaml, map, "count", true, 2, VD_MOST_SLOTS, &count) && fine;
    slots.count = (uint8_t)count;
    fine = model_take_text(file, map, "label", false, &slots.label) && fine;
    if (yaml_member(&file->yaml, map, "holds") == NULL) {
        fine = yaml_note_missing(&file->yaml, map, "holds", "holds: [horn.period, tone]");
    }
    fine = model_take_settings_named(file, map, "holds", &slots.holds, &slots.hold_count) && fine;
    fine = count > 0 && take_chooser(file, map, &slots) && fine;
    fine = count > 0 && take_fallback(file, map, &slots) && fine;
    fine = count > 0 && take_writable(file, map, &slots) && fine;
    fine = count > 0 && take_beginnings(file, map, &slots) && fine;
    fine = take_saving(file, map, &slots) && fine;
    if (fine) { /* else it counts as not given */
        file->model.slots = slots;
    }
    return fine;
}
