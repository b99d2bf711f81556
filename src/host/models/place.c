/* SPDX-License-Identifier: MIT
 * Loading where a value lives on the wire: in registers, or in a field of a record. */
#include "parts.h"

#include "verdite/fields.h"

#include <string.h>

/* Keys for vd_table. */
const char *const model_tables[] = {"register", "input", "coil", "discrete", NULL};

/* "bits: 3" or "bits: [4, 7]", lowest and highest. */
static bool take_bits(vd_model_file *file, const yaml_node_t *map, vd_place *place)
{
    const yaml_node_t *node = yaml_member(&file->yaml, map, "bits");
    const char *texts[2] = {NULL, NULL};
    int64_t low = 0, high = 0;
    if (node == NULL) {
        return true;
    }
    if (node->type == YAML_SCALAR_NODE) {
        texts[0] = texts[1] = (const char *)node->data.scalar.value;
    } else if (node->type == YAML_SEQUENCE_NODE &&
               node->data.sequence.items.top - node->data.sequence.items.start == 2) {
        for (int i = 0; i < 2; i++) {
            texts[i] = yaml_text(&file->yaml, yaml_node(&file->yaml, node->data.sequence.items.start[i]), "a bit");
        }
    }
    if (texts[0] == NULL || texts[1] == NULL || !g_ascii_string_to_signed(texts[0], 10, 0, 15, &low, NULL) ||
        !g_ascii_string_to_signed(texts[1], 10, low, 15, &high, NULL) || high - low == 15) {
        return yaml_note(&file->yaml, node,
                         vd_fault_of_WRONG_SHAPE("bits", "one bit from 0 to 15, or [lowest, highest]"));
    }
    place->low_bit = (uint8_t)low;
    place->bits = (uint8_t)(high - low + 1);
    return true;
}

bool model_take_place(vd_model_file *file, const yaml_node_t *map, vd_place *place)
{
    static const char *const keys[] = {"register", "input", "coil", "discrete", "form", "words", "order", "bits", NULL};
    yaml_file *yaml = &file->yaml;
    int64_t address = 0, words = place->words;
    uint8_t form = VD_UNSIGNED, found = 0;
    bool fine = yaml_check_keys(yaml, map, keys);
    for (uint8_t table = 0; model_tables[table] != NULL && fine; table++) {
        if (yaml_member(yaml, map, model_tables[table]) != NULL) {
            found++;
            place->table = table;
            fine = yaml_take_integer(yaml, map, model_tables[table], true, 0, 0xFFFF, &address);
        }
    }
    if (fine && found != 1) {
        return yaml_note(yaml, map, vd_fault_of_WRONG_SHAPE("this place", "one of register, input, coil, discrete"));
    }
    fine = yaml_take_word(yaml, map, "form", false, words_form, &form) && fine;
    fine = yaml_take_integer(yaml, map, "words", false, 1, 64, &words) && fine;
    fine = yaml_take_word(yaml, map, "order", false, words_order, &place->order) && fine;
    fine = fine && take_bits(file, map, place);
    if (fine && yaml_member(yaml, map, "form") != NULL && place->form == VD_CHARACTERS) {
        return yaml_note(yaml, yaml_member(yaml, map, "form"),
                         vd_fault_of_WRONG_SHAPE(words_form[form], "no form: it is characters or bytes"));
    }
    place->form = place->form == VD_CHARACTERS ? VD_CHARACTERS : form;
    place->address = (uint16_t)address;
    place->words = (uint8_t)words;
    return fine;
}

bool model_take_field(vd_model_file *file, const yaml_node_t *map, vd_field *field)
{
    static const char *const keys[] = {"word", "field", "as", NULL};
    int64_t number = 1;
    bool fine = yaml_check_keys(&file->yaml, map, keys);
    fine = model_take_text(file, map, "word", true, &field->word) && fine;
    fine = yaml_take_integer(&file->yaml, map, "field", false, 1, 64, &number) && fine;
    fine = yaml_take_word(&file->yaml, map, "as", false, words_as, &field->saying) && fine;
    field->number = (uint8_t)(number - 1);
    return fine;
}

bool model_take_order(vd_model_file *file, const yaml_node_t *map, vd_order *order)
{
    bool lines = file->model.language->has_words;
    int64_t where = 0, value = 0;
    bool fine = yaml_take_integer(&file->yaml, map, "register", !lines, 0, 0xFFFF, &where);
    fine = yaml_take_integer(&file->yaml, map, "value", !lines, 0, 0xFFFF, &value) && fine;
    fine = model_take_text(file, map, "word", lines, &order->word) && fine;
    if (order->word[0] != '\0' && lines && !vd_field_is_word(order->word, false)) {
        fine = yaml_note(&file->yaml, yaml_member(&file->yaml, map, "word"),
                         vd_fault_of_WRONG_SHAPE(order->word, "a word of capitals, digits, : and _"));
    }
    order->address = (uint16_t)where;
    order->value = (uint16_t)value;
    return model_take_text(file, map, "argument", false, &order->argument) && fine;
}
