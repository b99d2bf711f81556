/* SPDX-License-Identifier: MIT
 * Loading what a model adds to the units of measure, and how its decimals are counted in them. */
#include "parts.h"

#include "verdite/text.h"

#include <string.h>

static bool take_number(vd_model_file *file, const yaml_node_t *node, const char *text, const char *measure,
                        vd_value *value)
{
    const vd_setting about = {
        .words = &vd_no_words, .measure = measure, .traits = &vd_type_decimal, .step = 1, .tick = 1};
    vd_fault fault = {0};
    vd_typed typed;
    bool fine = vd_setting_parse(&about, text, strlen(text), &typed, &fault) == VD_OK;
    *value = typed.value;
    while (fine && value->places > 0 && value->number % 10 == 0) {
        value->number /= 10;
        value->places--;
    }
    return fine ? value->places <= 9 ||
                      yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE(text, "at most nine decimal places"))
                : yaml_note_fault(&file->yaml, node, &fault);
}

/* is: 1.852 km/h */
static bool take_is(vd_model_file *file, const yaml_node_t *map, vd_own_measure *measure)
{
    const char *text = NULL;
    vd_value value;
    measure->of = "";
    measure->number = measure->below = 1;
    if (!yaml_take_text(&file->yaml, map, "is", false, &text) || text == NULL) {
        return text == NULL;
    }
    const yaml_node_t *node = yaml_member(&file->yaml, map, "is");
    const char *sign = strchr(text, ' ');
    if (sign == NULL) {
        return yaml_note(&file->yaml, node,
                         vd_fault_of_WRONG_SHAPE(text, "a number, a blank and a unit of measure, such as 1.852 km/h"));
    }
    measure->of = model_text(file, sign + 1);
    if (!take_number(file, node, text, measure->of, &value)) {
        return false;
    }
    measure->number = value.number;
    for (; value.places > 0; value.places--) {
        measure->below *= 10;
    }
    return true;
}

bool model_take_measures(vd_model_file *file, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, root, "measures", 200, &count, &items);
    vd_own_measure *measures = model_memory(file, count * sizeof *measures);
    uint8_t good = 0;
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *map = yaml_node(&file->yaml, items[i]);
        vd_own_measure *one = &measures[good];
        gsize spelled = 0;
        const yaml_node_item_t *spellings = NULL;
        bool sound = yaml_check_keys(&file->yaml, map, keys_measures) &&
                     model_take_text(file, map, "sign", true, &one->sign) && take_is(file, map, one) &&
                     yaml_take_list(&file->yaml, map, "spellings", 20, &spelled, &spellings);
        GString *words = g_string_new("");
        for (gsize k = 0; k < spelled && sound; k++) {
            const char *word = yaml_text(&file->yaml, yaml_node(&file->yaml, spellings[k]), "a spelling");
            sound = word != NULL &&
                    (strchr(word, ' ') == NULL || yaml_note(&file->yaml, yaml_node(&file->yaml, spellings[k]),
                                                            vd_fault_of_WRONG_SHAPE(word, "a word without blanks")));
            g_string_append_printf(words, "%s%s", k > 0 ? " " : "", word != NULL ? word : "");
        }
        one->spellings = model_text(file, words->str);
        g_string_free(words, TRUE);
        const char *wrong = sound ? vd_own_measure_wrong(one) : NULL;
        if (wrong != NULL) {
            sound = yaml_note(&file->yaml, map, vd_fault_of_WRONG_SHAPE(one->sign, wrong));
        }
        for (uint8_t k = 0; k < good && sound; k++) {
            sound = strcmp(measures[k].sign, one->sign) != 0 ||
                    yaml_note(&file->yaml, map, vd_fault_of_KEY_TWICE(one->sign));
        }
        good = (uint8_t)(good + sound);
        fine = sound && fine;
    }
    file->model.measures = measures;
    file->model.measure_count = good;
    return fine;
}

const char *model_spellings(const vd_model_file *file, const char *sign)
{
    for (uint8_t i = 0; i < file->model.measure_count; i++) {
        const vd_own_measure *one = &file->model.measures[i];
        if (strcmp(one->sign, sign) == 0 && one->spellings[0] != '\0') {
            return one->spellings;
        }
    }
    return NULL;
}

static bool take_scaled(vd_model_file *file, const yaml_node_t *map, const char *key, const vd_setting *setting,
                        vd_value *value)
{
    const char *text = NULL;
    return yaml_take_text(&file->yaml, map, key, false, &text) &&
           (text == NULL || take_number(file, yaml_member(&file->yaml, map, key), text, setting->measure, value));
}

bool model_take_scale(vd_model_file *file, const yaml_node_t *map, vd_setting *setting)
{
    vd_value scale = {.type = VD_DECIMAL, .number = 1}, offset = {.type = VD_DECIMAL};
    if (!take_scaled(file, map, "scale", setting, &scale) || !take_scaled(file, map, "offset", setting, &offset)) {
        return false;
    }
    setting->places = MAX(scale.places, offset.places);
    for (; scale.places < setting->places && scale.number < G_MAXINT64 / 10; scale.places++) {
        scale.number *= 10;
    }
    for (; offset.places < setting->places && ABS(offset.number) < G_MAXINT64 / 10; offset.places++) {
        offset.number *= 10;
    }
    setting->scale = scale.number;
    setting->offset = offset.number;
    return (scale.number > 0 && scale.places == offset.places) ||
           yaml_note(&file->yaml, yaml_member(&file->yaml, map, "scale"),
                     vd_fault_of_WRONG_SHAPE("this scale", "what one count is: above 0, and not beyond all numbers"));
}
