/* SPDX-License-Identifier: MIT
 * verdite model: which kinds of unit there are, which of them will do, and what one has. All about one setting is told
 * in setting.c. */
#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

/* ---- Which kinds there are ---- */

/* What it can do; where that hangs on the variant, by variant. */
static json_t *abilities_json(const vd_model *model)
{
    json_t *abilities = json_object();
    for (uint8_t i = 0; i < model->ability_count; i++) {
        const vd_ability *ability = &model->abilities[i];
        json_t *what =
            ability->words[0] != '\0' ? json_string(ability->words) : json_integer((json_int_t)ability->number);
        if (ability->variant == NULL) {
            json_object_set_new(abilities, ability->key, what);
            continue;
        }
        json_t *variants = json_object_get(abilities, ability->key);
        if (!json_is_object(variants)) {
            variants = json_object();
            json_object_set_new(abilities, ability->key, variants);
        }
        json_object_set_new(variants, ability->variant, what);
    }
    return abilities;
}

/* `variant`: of this one only; VD_NONE: of all. */
static void show_abilities(const cli *c, const vd_model *model, uint16_t variant)
{
    static const char *const titles[] = {"", "", "", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    for (uint8_t i = 0; i < model->ability_count; i++) {
        const vd_ability *ability = &model->abilities[i];
        if (variant != VD_NONE && ability->variant != NULL &&
            strcmp(ability->variant, model->variants[variant].key) != 0) {
            continue;
        }
        char *number = ability->words[0] == '\0' ? g_strdup_printf("%d", (int)ability->number) : NULL;
        char *label = ability->variant != NULL ? g_strdup_printf("%s, variant %s", ability->label, ability->variant)
                                               : g_strdup(ability->label);
        sheet_row(&rows, ability->key, number != NULL ? number : ability->words, label, NULL);
        g_free(number);
        g_free(label);
    }
    sheet_print(&rows);
}

/* Whether a variant of a model meets all that is required; says what it lacks. False also when a requirement makes no
 * sense. */
static bool meets_all(cli *c, const vd_model *model, uint16_t variant, GString *lacks, bool *sense)
{
    g_string_truncate(lacks, 0);
    for (char **with = c->options.with; with != NULL && *with != NULL && *sense; with++) {
        vd_fault fault = {0};
        bool meets = false;
        if (vd_model_meets(model, variant, *with, &meets, &fault) != VD_OK) {
            report(c, &fault);
            c->worst = VD_CLASS_USAGE; /* it was typed, not found in a file */
            *sense = false;
        } else if (!meets) {
            g_string_append_printf(lacks, "%s%s", lacks->len > 0 ? ", " : "", *with);
        }
    }
    return *sense && lacks->len == 0;
}

/* Whether a model, or one of its variants, meets all that is required; `which` are those that do, "" for all. */
static bool fits_as(cli *c, const vd_model *model, GString *lacks, GString *which, bool *sense)
{
    unsigned fitting = 0;
    if (model->variant_count == 0) {
        return meets_all(c, model, VD_NONE, lacks, sense);
    }
    for (uint8_t i = 0; i < model->variant_count && *sense; i++) {
        if (meets_all(c, model, i, lacks, sense)) {
            g_string_append_printf(which, "%s%s", which->len > 0 ? ", " : "; variant ", model->variants[i].key);
            fitting++;
        }
    }
    g_string_truncate(which, fitting == model->variant_count ? 0 : which->len);
    return fitting > 0;
}

static vd_class list_models(cli *c)
{
    json_t *list = json_array();
    const vd_model *const *models = choose_models(c);
    unsigned fitting = 0;
    bool sense = true;
    for (size_t i = 0; models[i] != NULL && sense; i++) {
        const vd_model *model = models[i];
        GString *lacks = g_string_new("");
        GString *which = g_string_new("");
        bool fits = fits_as(c, model, lacks, which, &sense);
        fitting += fits;
        if (fits) {
            json_array_append_new(list, json_pack("{s:s, s:s, s:i, s:o}", "model", model->key, "title", model->title,
                                                  "settings", model->setting_count, "can", abilities_json(model)));
        }
        if (sense && !c->options.json) {
            char *what = g_strdup_printf("%s, %u settings%s%s", model->title, model->setting_count,
                                         fits ? which->str : ": lacks ", fits ? "" : lacks->str);
            char *lead = g_strdup_printf("%-10s", model->key);
            lead_print(c, fits ? TONE_STRONG : TONE_FAINT, lead, "           ", what);
            g_free(lead);
            g_free(what);
        }
        if (fits && !c->options.json) {
            show_abilities(c, model, VD_NONE);
        }
        g_string_free(which, TRUE);
        g_string_free(lacks, TRUE);
    }
    json_object_set_new(c->result, "models", list);
    if (models[0] != NULL && fitting == 0 && sense && c->options.with != NULL) {
        message(c, "No model has all of that.");
        c->worst = MAX(c->worst, VD_CLASS_NO);
    }
    return c->worst;
}

/* ---- What one has ---- */

/* How many slots there are, what they hold, and how one comes into force. */
static char *slots_words(const vd_model *model)
{
    const vd_slots *slots = &model->slots;
    GString *words = g_string_new("");
    g_string_append_printf(words, "%u, each with a copy of %u settings; %s loads one", slots->count, slots->hold_count,
                           model->settings[vd_index(slots->chosen_by)].words->key);
    GString *fixed = g_string_new("");
    for (uint8_t n = 1; n <= slots->count; n++) {
        if (!vd_slot_is_writable(model, n)) {
            g_string_append_printf(fixed, "%s%u", fixed->len > 0 ? ", " : "", n);
        }
    }
    g_string_append_printf(words, "%s%s%s", slots->saved ? "; saved by an order of its own" : "",
                           fixed->len > 0 ? "; not to be changed: " : "", fixed->str);
    if (vd_index(slots->fallback) != VD_NONE) {
        g_string_append_printf(words, "; after a power cycle %s says which",
                               model->settings[vd_index(slots->fallback)].words->key);
    } else if (slots->fixed > 0) {
        g_string_append_printf(words, "; after a power cycle number %u", slots->fixed);
    }
    g_string_free(fixed, TRUE);
    return g_string_free(words, FALSE);
}

static void show_head(const cli *c, const vd_model *model, uint16_t variant)
{
    char line[32];
    vd_writer writer = vd_writer_start(line, sizeof line);
    vd_serial_print(&model->line, &writer);
    char *key = g_strdup_printf("(%s)", model->key);
    lead_print(c, TONE_STRONG, model->title, "", key);
    g_free(key);
    prose_print(stdout, 0, "", model->summary);
    char *address =
        !vd_model_has_address(model) ? g_strdup("") : g_strdup_printf(", address %u", model->address_factory);
    char *talks = g_strdup_printf("Talks %s. From the factory: %s%s. Stored %s.", model->language->title, line, address,
                                  model->store.needed ? "on command; until then a change is lost with the supply"
                                                      : "as it is written");
    prose_print(stdout, 0, "", talks);
    g_free(talks);
    g_free(address);
    show_abilities(c, model, variant);
    static const char *const titles[] = {"", "", NULL};
    sheet variants = sheet_start(c, stdout, titles);
    for (uint8_t i = 0; i < model->variant_count; i++) {
        char *name = g_strdup_printf("variant %s", model->variants[i].key);
        sheet_row(&variants, name, model->variants[i].label, NULL);
        g_free(name);
    }
    for (uint8_t i = 0; i < model->preset_count; i++) {
        char *name = g_strdup_printf("preset:%s", model->presets[i].key);
        sheet_row(&variants, name, model->presets[i].label, NULL);
        g_free(name);
    }
    if (model->slots.count > 0) {
        char *words = slots_words(model);
        sheet_row(&variants, model->slots.label[0] != '\0' ? model->slots.label : "slots", words, NULL);
        g_free(words);
    }
    sheet_print(&variants);
}

/* What stands in the column of defaults. */
static const char *default_text(const vd_setting *setting, const vd_value *initial)
{
    const char *text = setting->access == VD_READ_ONLY    ? "read only"
                       : setting->access == VD_WRITE_ONLY ? "write only"
                       : initial->type == VD_NOTHING      ? ""
                                                          : value_text(setting, initial);
    return text[0] != '\0' ? text : "-";
}

static void show_settings(const cli *c, const vd_model *model, const vd_set *initial, const uint8_t *which)
{
    static const char *const titles[] = {"setting", "default", "takes", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    for (uint8_t group = 0; group < model->group_count; group++) {
        bool headed = false;
        for (uint16_t i = 0; i < model->setting_count; i++) {
            const vd_setting *setting = &model->settings[i];
            if (setting->group != group || which[i] == 0) {
                continue;
            }
            if (!headed) {
                sheet_heading(&rows, model->groups[group].label);
            }
            headed = true;
            char allowed[512];
            vd_value value = vd_set_get(initial, i);
            allowed_text(initial, i, allowed, sizeof allowed);
            sheet_row(&rows, setting->words->key, default_text(setting, &value), allowed, NULL);
        }
    }
    sheet_print(&rows);
}

/* What was left out, and how to see it. */
static void show_rest(const cli *c, const vd_set *here, unsigned shown, unsigned elsewhere)
{
    const vd_model *model = here->model;
    unsigned hidden = model->setting_count - shown - elsewhere;
    GString *text = g_string_new("");
    if (hidden > 0 && c->options.group == NULL && c->options.search == NULL) {
        g_string_append_printf(text, "\n%u more in the groups", hidden);
        for (uint8_t i = 0; i < model->group_count; i++) {
            g_string_append_printf(text, "%s %s", i > 0 ? "," : "", model->groups[i].key);
        }
        g_string_append(text, ": add --all, --group GROUP or --search WORD.");
    }
    if (elsewhere > 0) {
        char *reasons = reasons_not_here(c, here, NULL);
        g_string_append_printf(text, "%s\n%s", text->len > 0 ? "\n" : "", reasons);
        g_free(reasons);
    }
    if (text->len > 0) {
        prose_print(stdout, 0, "", text->str);
    }
    g_string_free(text, TRUE);
}

static bool contains(const char *text, const char *word)
{
    char *small = g_utf8_strdown(text, -1), *wanted = g_utf8_strdown(word, -1);
    bool found = strstr(small, wanted) != NULL;
    g_free(small);
    g_free(wanted);
    return found;
}

static bool is_about(const vd_setting *setting, const char *word)
{
    bool found = contains(setting->words->key, word) || contains(setting->words->label, word) ||
                 contains(setting->words->help, word);
    for (uint16_t i = 0; i < setting->choice_count && !found; i++) {
        found = contains(setting->choices[i].name, word) || contains(setting->choices[i].label, word);
    }
    return found;
}

/* Which settings are shown: of a group, found by a word, everything, or the essential ones. */
static bool choose_settings(cli *c, const vd_model *model, const vd_set *here, uint8_t *which, unsigned *elsewhere)
{
    uint8_t *group = NULL;
    bool any_essential = false;
    if (!choose_group(c, model, &group)) {
        return false;
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        any_essential = any_essential || model->settings[i].essential;
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *setting = &model->settings[i];
        bool narrowed = group != NULL || c->options.search != NULL || c->options.all;
        bool wanted = (group == NULL || group[i] != 0) &&
                      (c->options.search == NULL || is_about(setting, c->options.search)) &&
                      (narrowed || setting->essential || !any_essential);
        bool there = vd_set_exists(here, i) != VD_FAILS;
        which[i] = wanted && there;
        *elsewhere += !there;
    }
    g_free(group);
    return true;
}

static void describe(cli *c, const vd_model *model, const vd_set *here, const vd_set *initial)
{
    uint8_t *which = g_new0(uint8_t, model->setting_count);
    unsigned elsewhere = 0, shown = 0;
    if (choose_settings(c, model, here, which, &elsewhere)) {
        json_t *list = json_array();
        for (uint16_t i = 0; i < model->setting_count; i++) {
            vd_value value = vd_set_get(initial, i);
            shown += which[i];
            if (which[i] != 0) {
                json_array_append_new(list, setting_json(model, here, i, &value));
            }
        }
        json_object_set_new(c->result, "settings", list);
        if (shown == 0) {
            message(c, "The model %s has no setting about \"%s\".", model->key,
                    c->options.search != NULL ? c->options.search : "that");
            c->worst = MAX(c->worst, VD_CLASS_NO);
        } else if (!c->options.json) {
            if (c->options.search == NULL && c->options.group == NULL) {
                show_head(c, model, here->variant);
            }
            show_settings(c, model, initial, which);
            show_rest(c, here, shown, elsewhere);
        }
    }
    g_free(which);
}

static const char *setting_key_at(const void *about, size_t i)
{
    return ((const vd_model *)about)->settings[i].words->key;
}

static void describe_one(cli *c, const vd_model *model, const char *key, const vd_set *here, const vd_set *initial)
{
    uint16_t i = meant_setting(model, key);
    if (i == VD_NONE) {
        char *suggestion = vd_suggest(key, model->setting_count, setting_key_at, model);
        if (!meant_several(c, model, key)) {
            report_new(c, vd_fault_of_NO_SUCH_SETTING(key, suggestion));
        }
        c->worst = VD_CLASS_USAGE;
        g_free(suggestion);
        return;
    }
    vd_value value = vd_set_get(initial, i);
    json_t *list = json_array();
    json_array_append_new(list, setting_json(model, here, i, &value));
    json_object_set_new(c->result, "settings", list);
    if (!c->options.json) {
        setting_show(c, model, here, i, &value);
    }
}

/* The unit that it is about, as far as it was said: variant, firmware, the values of a profile. */
static bool tell_here(cli *c, const vd_model *model, vd_set *here)
{
    if (!choose_kind(c, model, &here->variant, &here->firmware)) {
        return false;
    }
    if (c->options.as != NULL) {
        vd_profile *profile = choose_profile(c, c->options.as);
        bool same = profile != NULL && vd_profile_model(profile) == model;
        if (profile != NULL && !same) {
            report_new(c, vd_fault_of_FILE_OF_OTHER_MODEL(vd_profile_model(profile)->key, model->key));
        }
        if (same) {
            const vd_set *values = vd_profile_values(profile);
            vd_set_overlay(here, values);
            here->variant = here->variant != VD_NONE ? here->variant : values->variant;
            here->firmware = here->firmware != 0 ? here->firmware : values->firmware;
        }
        vd_profile_free(profile);
        return same;
    }
    return true;
}

vd_class command_model(cli *c)
{
    char **words = c->options.words;
    if (words == NULL) {
        return list_models(c);
    }
    c->options.model = g_strdup(words[0]);
    const vd_model *model = choose_model(c);
    if (model == NULL) {
        return c->worst;
    }
    vd_set here, initial;
    void *memory[2] = {g_malloc0(vd_set_size(model)), g_malloc0(vd_set_size(model))};
    vd_set_start(&here, model, memory[0], vd_set_size(model));
    vd_set_start(&initial, model, memory[1], vd_set_size(model));
    json_object_set_new(c->result, "model", json_string(model->key));
    if (tell_here(c, model, &here)) {
        initial.variant = here.variant;
        initial.firmware = here.firmware;
        vd_set_put_initial(&initial);
        if (words[1] != NULL) {
            describe_one(c, model, words[1], &here, &initial);
        } else {
            describe(c, model, &here, &initial);
        }
    }
    g_free(memory[0]);
    g_free(memory[1]);
    return c->worst;
}
