/* SPDX-License-Identifier: MIT
 * verdite startup and verdite needs: what is to be read and known before one leaves the depot. */
#include "cli.h"

#include <string.h>

static void topic(const cli *c, json_t *page, const char *label, const char *text)
{
    json_array_append_new(page, json_pack("{s:s, s:s}", "label", label, "text", text));
    if (c->options.json) {
        return;
    }
    printf("%s%s%s\n", tone_on(c->colour, TONE_STRONG), label, tone_off(c->colour, TONE_STRONG));
    print_wrapped(stdout, 0, 100, "  ", text);
}

/* A duration as people read it, in a buffer that lives until the next call. */
static const char *duration_text(uint32_t milliseconds)
{
    static char text[64];
    static const vd_setting about = {.key = "", .measure = "", .type = VD_DURATION, .tick = 1};
    vd_value value = {.type = VD_DURATION, .number = milliseconds};
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_value_print(&about, &value, &writer);
    return text;
}

static void listening(const cli *c, json_t *page, const vd_model *model)
{
    const vd_listening *listen = &model->listening;
    GString *text = g_string_new(listen->help);
    if (listen->after > 0) {
        g_string_append_printf(text, "%sIt answers %s after %s.", text->len > 0 ? " " : "",
                               duration_text(listen->after), listen->hold > 0 ? "that" : "its supply comes on");
    }
    if (listen->lasts > 0) {
        g_string_append_printf(text, "%sIt goes on listening for %s.", text->len > 0 ? " " : "",
                               duration_text(listen->lasts));
    }
    if (text->len > 0) {
        topic(c, page, "Until it listens", text->str);
    }
    g_string_free(text, TRUE);
}

static void login(const cli *c, json_t *page, const vd_model *model)
{
    const vd_login *l = &model->login;
    if (l->help[0] == '\0') {
        return;
    }
    char *tries = l->tries > 0 ? g_strdup_printf(" After %u wrong tries it locks.", l->tries) : g_strdup("");
    char *text = g_strdup_printf("%s%s%s", l->help, tries,
                                 l->recoverable ? "" : " A forgotten password cannot be recovered: write it down.");
    topic(c, page, "Login", text);
    g_free(tries);
    g_free(text);
}

vd_class command_startup(cli *c)
{
    char **words = c->options.words, text[64];
    if (words == NULL || words[1] != NULL) {
        return report_wrong_words(c, "startup takes a model.", "For example: verdite startup wren");
    }
    c->options.model = g_strdup(words[0]);
    const vd_model *model = choose_model(c);
    if (model == NULL) {
        return c->worst;
    }
    json_t *page = json_array();
    json_object_set_new(c->result, "model", json_string(model->key));
    json_object_set_new(c->result, "startup", page);
    if (!c->options.json) {
        printf("%s%s: before it is set up%s\n\n", tone_on(c->colour, TONE_STRONG), model->title,
               tone_off(c->colour, TONE_STRONG));
    }
    for (uint8_t i = 0; i < model->topic_count; i++) {
        topic(c, page, model->topics[i].label, model->topics[i].text);
    }
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_line_print(&model->line, &writer);
    if (vd_model_has_address(model)) {
        vd_writer_add(&writer, ", unit address ");
        vd_writer_add_number(&writer, model->address_factory);
    }
    topic(c, page, "From the factory", text);
    listening(c, page, model);
    login(c, page, model);
    for (uint8_t i = 0; i < model->action_count; i++) {
        char *label = g_strdup_printf("Apart from settings: %s", model->actions[i].label);
        topic(c, page, label, model->actions[i].help);
        g_free(label);
    }
    return c->worst;
}

static void show_errand(const cli *c, const vd_set *values, const vd_errand *errand, bool lacking, bool of_profile)
{
    const char *state = !of_profile ? "to bring" : lacking ? "MISSING" : "there";
    tone t = !of_profile ? TONE_PLAIN : lacking ? TONE_BAD : TONE_GOOD;
    char *padded_state = padded(state, 9);
    printf("  %s%s%s %s, from %s\n", tone_on(c->colour, t), padded_state, tone_off(c->colour, t), errand->label,
           errand->who);
    g_free(padded_state);
    if (errand->help[0] != '\0') {
        print_wrapped(stdout, 0, 100, "            ", errand->help);
    }
    for (uint16_t i = 0; i < errand->setting_count; i++) {
        const vd_setting *setting = &values->model->settings[errand->settings[i]];
        vd_value value = vd_set_get(values, errand->settings[i]);
        const char *text = value.type == VD_NOTHING ? "" : value_text(setting, &value);
        const char *shown = text[0] != '\0' ? text : "-";
        printf("            %s%s%s\n", setting->key, of_profile ? ": " : "", of_profile ? shown : "");
    }
}

static vd_class list_errands(cli *c, const vd_set *values, bool of_profile)
{
    const vd_model *model = values->model;
    json_t *list = json_array();
    unsigned missing = 0;
    for (uint8_t i = 0; i < model->errand_count; i++) {
        const vd_errand *errand = &model->errands[i];
        bool lacking = vd_errand_lacking(values, errand);
        json_t *keys = json_array();
        for (uint16_t k = 0; k < errand->setting_count; k++) {
            json_array_append_new(keys, json_string(model->settings[errand->settings[k]].key));
        }
        json_array_append_new(list, json_pack("{s:s, s:s, s:s, s:o, s:b}", "what", errand->label, "help", errand->help,
                                              "who", errand->who, "settings", keys, "missing", lacking));
        missing += lacking;
        if (!c->options.json) {
            show_errand(c, values, errand, lacking, of_profile);
        }
    }
    json_object_set_new(c->result, "model", json_string(model->key));
    json_object_set_new(c->result, "needs", list);
    if (model->errand_count == 0) {
        message(c, "A %s needs nothing that must be known before.", model->key);
    } else if (of_profile) {
        message(c, missing > 0 ? "%u of %u still missing." : "Nothing is missing.", missing, model->errand_count);
        c->worst = MAX(c->worst, missing > 0 ? VD_CLASS_NO : VD_CLASS_FINE);
    }
    return c->worst;
}

vd_class command_needs(cli *c)
{
    char **words = c->options.words;
    if (words == NULL || words[1] != NULL) {
        return report_wrong_words(c, "needs takes a model or a profile.",
                                  "For example: verdite needs wren, or verdite needs hive-03.yaml");
    }
    /* A model by its key or its file; whatever else is there is a profile. */
    bool of_model = g_strv_contains(vd_catalogue_keys(c->catalogue), words[0]) || file_kind(words[0]) == FILE_MODEL ||
                    (!g_str_has_suffix(words[0], ".yaml") && !g_file_test(words[0], G_FILE_TEST_EXISTS));
    if (!of_model) {
        vd_profile *profile = choose_profile(c, words[0]);
        if (profile != NULL) {
            list_errands(c, vd_profile_values(profile), true);
        }
        vd_profile_free(profile);
        return c->worst;
    }
    c->options.model = g_strdup(words[0]);
    const vd_model *model = choose_model(c);
    if (model != NULL) {
        vd_set nothing;
        void *memory = g_malloc0(vd_set_size(model));
        vd_set_start(&nothing, model, memory, vd_set_size(model));
        list_errands(c, &nothing, false);
        g_free(memory);
    }
    return c->worst;
}
