/* SPDX-License-Identifier: MIT
 * verdite startup: what is to be read before a unit is set up. */
#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

static void topic(const cli *c, json_t *page, const char *label, const char *text)
{
    json_array_append_new(page, json_pack("{s:s, s:s}", "label", label, "text", text));
    if (c->options.json) {
        return;
    }
    title_print(c, label);
    prose_print(stdout, 0, "  ", text);
}

static void listening(const cli *c, json_t *page, const vd_model *model)
{
    const vd_listening *listen = &model->listening;
    const vd_by_hand *hand = &listen->hand, *writing = &listen->writing;
    GString *text = g_string_new(hand->help);
    if (listen->after > 0) {
        g_string_append_printf(text, "%sIt answers %s after %s.", text->len > 0 ? " " : "",
                               duration_text(listen->after), hand->hold > 0 ? "that" : "its supply comes on");
    }
    if (hand->lasts > 0) {
        g_string_append_printf(text, "%sIt goes on listening for %s.", text->len > 0 ? " " : "",
                               duration_text(hand->lasts));
    }
    if (listen->anew) {
        g_string_append(text, text->len > 0 ? " After its own restart that is needed again." : "");
    }
    if (text->len > 0) {
        topic(c, page, "Until it listens", text->str);
    }
    if (writing->hold > 0) {
        g_string_assign(text, writing->help);
        if (writing->lasts > 0) {
            g_string_append_printf(text, " It goes on taking changes for %s.", duration_text(writing->lasts));
        }
        topic(c, page, "Until it takes changes", text->str);
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
    c->options.model = g_strdup(words[0]);
    const vd_model *model = choose_model(c);
    if (model == NULL) {
        return c->worst;
    }
    json_t *page = json_array();
    json_object_set_new(c->result, "model", json_string(model->key));
    json_object_set_new(c->result, "startup", page);
    if (!c->options.json) {
        char *title = g_strdup_printf("%s: before it is set up", model->title);
        title_print(c, title);
        printf("\n");
        g_free(title);
    }
    for (uint8_t i = 0; i < model->topic_count; i++) {
        topic(c, page, model->topics[i].label, model->topics[i].text);
    }
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_serial_print(&model->line, &writer);
    if (vd_model_has_address(model)) {
        vd_writer_add(&writer, ", unit address ");
        vd_writer_add_number(&writer, model->address_factory);
    }
    topic(c, page, "From the factory", text);
    listening(c, page, model);
    login(c, page, model);
    for (uint8_t i = 0; i < model->action_count; i++) {
        char *label = g_strdup_printf("Apart from settings: %s", model->actions[i].label);
        GString *text_of = g_string_new(model->actions[i].help);
        for (uint8_t k = 0; k < model->actions[i].causes.count; k++) {
            char *cause = cause_words(&model->actions[i].causes.list[k]);
            g_string_append_printf(text_of, "%sBesides: %s", text_of->len > 0 ? " " : "", cause);
            g_free(cause);
        }
        topic(c, page, label, text_of->str);
        g_string_free(text_of, TRUE);
        g_free(label);
    }
    return c->worst;
}
