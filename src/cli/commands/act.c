/* SPDX-License-Identifier: MIT
 * verdite act: has a unit do one of its model's actions. */
#include <string.h>

#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

static const char *action_key_at(const void *about, size_t i)
{
    return ((const vd_model *)about)->actions[i].key;
}

static const vd_action *find_action(cli *c, const vd_model *model, const char *key)
{
    uint16_t found = meant_action(model, key);
    if (found != VD_NONE) {
        return &model->actions[found];
    }
    char *said = g_strdup_printf("The model %s has no action \"%s\".", model->key, key);
    char *near = model->action_count > 0 ? vd_suggest(key, model->action_count, action_key_at, model)
                                         : g_strdup("It has no actions.");
    report_wrong_words(c, said, near);
    g_free(near);
    g_free(said);
    return NULL;
}

vd_class command_act(cli *c)
{
    const vd_model *model = meet_model(c);
    const vd_action *action = model != NULL ? find_action(c, model, c->options.words[0]) : NULL;
    if (action != NULL) {
        const visit_task task = {
            .task = VD_TASK_ACT, .action = action, .called = action->key, .show_changes = changes_show_action};
        visit_judged(c, model, &task);
    }
    return c->worst;
}
