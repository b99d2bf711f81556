/* SPDX-License-Identifier: MIT
 * All that is known of one setting. */
#include "print.h"

#include <string.h>

static const char *const access_names[] = {
    [VD_READ_WRITE] = "read and write", [VD_READ_ONLY] = "read only", [VD_WRITE_ONLY] = "write only"};
static const char *const rights[] = {
    [VD_ANYONE] = "anyone", [VD_FITTER] = "a fitter who is logged in", [VD_MAKER] = "its maker only"};
static const char *const severities[] = {[VD_ERROR] = "error", [VD_WARNING] = "warning", [VD_REMARK] = "remark"};
static const char *const enforcings[] = {
    [VD_NOT_ENFORCED] = "no", [VD_ENFORCED_WRITING] = "writing", [VD_ENFORCED_STORING] = "storing"};
static const char *const enforced_words[] = {[VD_NOT_ENFORCED] = "",
                                             [VD_ENFORCED_WRITING] = ", enforced by the unit",
                                             [VD_ENFORCED_STORING] = ", enforced by the unit when it stores"};

/* Whose right it is in a unit that may have no password. */
static const char *right_words(const vd_model *model, uint8_t right)
{
    return right == VD_FITTER && model->login.may_be_none
               ? "anyone until it has a password, then by a fitter who is logged in"
               : rights[right];
}

void allowed_text(const vd_set *here, uint16_t i, char *text, size_t size)
{
    vd_writer writer = vd_writer_start(text, size);
    vd_meaning meaning;
    vd_set_meaning(here, i, &meaning);
    vd_meaning_print(&meaning, &writer);
}

/* Where it lives, in the standard's words. */
static char *place_of(const vd_model *model, const vd_setting *setting)
{
    char words[200];
    vd_writer writer = vd_writer_start(words, sizeof words);
    vd_desk_tell_place(vd_desk_of(model), model, setting, &writer);
    return g_strdup(words);
}

static json_t *rules_json(const vd_model *model, uint16_t setting)
{
    json_t *rules = json_array();
    for (uint16_t r = 0; r < model->rule_count; r++) {
        if (vd_rule_mentions(model, r, setting)) {
            const vd_rule *rule = &model->rules[r];
            json_array_append_new(rules,
                                  json_pack("{s:s, s:s, s:s, s:s}", "must", rule->must, "when", rule->when, "severity",
                                            severities[rule->severity], "enforced", enforcings[rule->enforced]));
        }
    }
    return rules;
}

json_t *setting_json(const vd_model *model, const vd_set *here, uint16_t i, const vd_value *initial)
{
    static const char *const rulings[] = {[VD_HOLDS] = "yes", [VD_FAILS] = "no", [VD_NOT_KNOWN] = "not-known"};
    const vd_setting *setting = &model->settings[i];
    char allowed[512];
    allowed_text(here, i, allowed, sizeof allowed);
    char *where = place_of(model, setting);
    json_t *object =
        json_pack("{s:s, s:s, s:s, s:s, s:s, s:s, s:s, s:o, s:b, s:b, s:b, s:o, s:s, s:s, s:s, s:o, s:s}", "key",
                  setting->words->key, "group", model->groups[setting->group].key, "label", setting->words->label,
                  "help", setting->words->help, "type", vd_type_title((vd_type)setting->traits->id), "access",
                  access_names[setting->access], "allowed", allowed, "default", value_json(setting, initial),
                  "essential", setting->essential, "secret", setting->secret, "placeholder", setting->placeholder,
                  "causes", causes_json(&setting->causes), "written-by", rights[setting->written_by], "place", where,
                  "offered", rulings[vd_set_exists(here, i)], "rules", rules_json(model, i), "unit", setting->measure);
    if (vd_index(setting->places_from) != VD_NONE) {
        json_object_set_new(object, setting->like_count > 0 ? "like" : "decimals-from",
                            json_string(model->settings[vd_index(setting->places_from)].words->key));
    }
    if (setting->words->when != NULL) {
        json_object_set_new(object, "when", json_string(setting->words->when));
        json_object_set_new(object, "because", json_string(setting->words->because));
    }
    g_free(where);
    return object;
}

/* How a clock or counter runs. */
static void add_running(sheet *rows, const vd_model *model, uint16_t i)
{
    const vd_setting *setting = &model->settings[i];
    char words[96], zone[32];
    if (setting->traits->id == VD_CLOCK) {
        vd_writer writer = vd_writer_start(zone, sizeof zone);
        vd_value value = {.type = VD_ZONE, .number = setting->zone};
        vd_value_print(&(vd_setting){.traits = &vd_type_zone}, &value, &writer);
        const char *where = vd_index(setting->zone_from) != VD_NONE
                                ? model->settings[vd_index(setting->zone_from)].words->key
                            : setting->zone == VD_ZONE_HERE ? "the zone of who sets it"
                            : setting->zone == 0            ? "UTC"
                                                            : zone;
        g_snprintf(words, sizeof words, "in %s, and may be off by %s", where,
                   duration_text((uint32_t)setting->tolerance * 1000u));
        sheet_row(rows, "runs", words, NULL);
    } else if (setting->traits->id == VD_COUNTER && setting->access != VD_READ_ONLY) {
        g_snprintf(words, sizeof words, "on from what is written, by up to %d until it is read back",
                   (int)setting->tolerance);
        sheet_row(rows, "runs", words, NULL);
    }
}

static void add_existence(sheet *rows, const vd_set *here, uint16_t i)
{
    static const struct {
        const char *words;
        tone t;
    } rulings[] = {[VD_HOLDS] = {"it counts here", TONE_GOOD},
                   [VD_FAILS] = {"unused here", TONE_BAD},
                   [VD_NOT_KNOWN] = {"whether it counts here is not known", TONE_DOUBT}};
    const vd_setting *setting = &here->model->settings[i];
    if (setting->words->when == NULL) {
        return;
    }
    vd_ruling ruling = vd_set_exists(here, i);
    const char *words = vd_set_lacks(here, i) ? "absent here" : rulings[ruling].words;
    char *here_words = g_strdup_printf("%s. %s", words, setting->words->because);
    char *only = g_strdup_printf("only when %s", setting->words->when);
    sheet_row(rows, "counts", here_words, NULL);
    sheet_tone(rows, 1, rulings[ruling].t);
    sheet_row(rows, "", only, NULL);
    g_free(here_words);
    g_free(only);
}

static void add_rules(sheet *rows, const vd_model *model, uint16_t i)
{
    for (uint16_t r = 0; r < model->rule_count; r++) {
        const vd_rule *rule = &model->rules[r];
        if (!vd_rule_mentions(model, r, i)) {
            continue;
        }
        char *text = g_strdup_printf("%s%s: %s%s%s", severities[rule->severity], enforced_words[rule->enforced],
                                     rule->must, rule->when[0] != '\0' ? ", when " : "", rule->when);
        sheet_row(rows, "rule", text, NULL);
        g_free(text);
    }
    for (uint8_t e = 0; e < model->errand_count; e++) {
        for (uint16_t k = 0; k < model->errands[e].setting_count; k++) {
            if (model->errands[e].settings[k] == i) {
                char *text = g_strdup_printf("%s, from %s", model->errands[e].label, model->errands[e].who);
                sheet_row(rows, "ask for", text, NULL);
                g_free(text);
            }
        }
    }
}

static void print_head(const cli *c, const vd_model *model, const vd_setting *setting)
{
    char *about = g_strdup_printf("%s, in group %s", setting->words->label, model->groups[setting->group].label);
    lead_print(c, TONE_STRONG, setting->words->key, "  ", about);
    printf("\n");
    g_free(about);
    if (setting->words->help[0] != '\0') {
        prose_print(stdout, 0, "  ", setting->words->help);
        printf("\n");
    }
}

/* Its type, what it takes, and what it has from the factory. */
static void add_values(sheet *rows, const vd_set *here, uint16_t i, const vd_value *initial)
{
    const vd_model *model = here->model;
    const vd_setting *setting = &model->settings[i];
    char allowed[512];
    allowed_text(here, i, allowed, sizeof allowed);
    char *type = g_strdup_printf("%s, %s%s%s%s%s", vd_type_title((vd_type)setting->traits->id),
                                 access_names[setting->access], setting->read_by != VD_ANYONE ? ", read by " : "",
                                 setting->read_by != VD_ANYONE ? right_words(model, setting->read_by) : "",
                                 setting->written_by != VD_ANYONE ? ", written by " : "",
                                 setting->written_by != VD_ANYONE ? right_words(model, setting->written_by) : "");
    sheet_row(rows, "type", type, NULL);
    sheet_row(rows, "takes", allowed, NULL);
    g_free(type);
    if (setting->keeps != VD_REFUSES) {
        sheet_row(rows, "keeps",
                  setting->keeps == VD_KEEPS_CAPITALS ? "small letters as capitals"
                                                      : "the nearest step of anything else",
                  NULL);
    }
    if (initial->type != VD_NOTHING) {
        const char *text = value_text(setting, initial);
        sheet_row(rows, "default", text[0] != '\0' ? text : "empty", NULL);
    }
    vd_meaning meaning;
    vd_set_meaning(here, i, &meaning);
    for (uint16_t k = 0; k < meaning.choice_count; k++) {
        char *choice = g_strdup_printf("%-10s %s", meaning.choices[k].name, meaning.choices[k].label);
        sheet_row(rows, k == 0 ? "choices" : "", choice, NULL);
        g_free(choice);
    }
    char decimals[160];
    if (setting->like_count > 0) {
        g_snprintf(decimals, sizeof decimals, "what %s chooses; its unit must be said",
                   model->settings[vd_index(setting->places_from)].words->key);
        sheet_row(rows, "like", decimals, NULL);
    } else if (vd_index(setting->places_from) != VD_NONE) {
        g_snprintf(decimals, sizeof decimals, "as %s says; shown here with the factory's %u",
                   model->settings[vd_index(setting->places_from)].words->key, setting->places);
        sheet_row(rows, "decimals", decimals, NULL);
    }
}

/* What writing it does to others, and causes. */
static void add_effects(sheet *rows, const vd_model *model, uint16_t i)
{
    const vd_setting *setting = &model->settings[i];
    if (vd_slots_hold(model, i)) {
        char *slots = g_strdup_printf("each of the %u has its own", model->slots.count);
        sheet_row(rows, "slots", slots, NULL);
        g_free(slots);
    }
    GString *others = g_string_new("");
    for (uint16_t k = 0; k < model->setting_count; k++) {
        if (vd_setting_sets(model, i, k)) {
            g_string_append_printf(others, "%s%s", others->len > 0 ? ", " : "", model->settings[k].words->key);
        }
    }
    if (others->len > 0) {
        sheet_row(rows, "sets", others->str, NULL);
    }
    g_string_free(others, TRUE);
    for (uint8_t k = 0; k < setting->causes.count; k++) {
        char *words = cause_words(&setting->causes.list[k]);
        sheet_row(rows, k == 0 ? "writing" : "", words, NULL);
        g_free(words);
    }
}

void setting_show(const cli *c, const vd_model *model, const vd_set *here, uint16_t i, const vd_value *initial)
{
    const vd_setting *setting = &model->settings[i];
    static const char *const titles[] = {"", "", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    print_head(c, model, setting);
    add_values(&rows, here, i, initial);
    add_existence(&rows, here, i);
    add_running(&rows, model, i);
    add_effects(&rows, model, i);
    if (setting->secret) {
        sheet_row(&rows, "secret", "never shown, and kept out of files that are saved from a unit", NULL);
    }
    if (vd_setting_is_own(setting)) {
        sheet_row(&rows, "note", "belongs to the single unit: another one does not get it from this one's profile",
                  NULL);
    }
    if (setting->placeholder) {
        sheet_row(&rows, "note", "the factory value is a placeholder", NULL);
    }
    add_rules(&rows, model, i);
    char *where = place_of(model, setting);
    sheet_row(&rows, "lives at", where, NULL);
    sheet_print(&rows);
    g_free(where);
}
