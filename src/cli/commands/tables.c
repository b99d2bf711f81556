/* SPDX-License-Identifier: MIT
 * verdite tables: a model as constant tables in C, for firmware. */
#include "commands.h"
#include "../words/words.h"

vd_class command_tables(cli *c)
{
    const vd_model *model = choose_model_named(c, c->options.words[0]);
    if (model == NULL) {
        return c->worst;
    }
    char *text = vd_model_tables(model, c->options.with_words);
    json_object_set_new(c->result, "model", json_string(model->key));
    json_object_set_new(c->result, "tables", json_string(text));
    if (!c->options.json) {
        fputs(text, stdout);
    }
    g_free(text);
    return c->worst;
}
