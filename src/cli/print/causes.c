/* SPDX-License-Identifier: MIT
 * What a change brings about besides: told before anybody is asked, and agreed to one by one where a yes to the whole
 * is not enough. */
#include <string.h>

#include "print.h"

char *cause_words(const vd_cause *cause)
{
    static const char *const words[] = {[VD_EFFECT_RESTART] = "restarts the unit",
                                        [VD_EFFECT_LINK] = "changes the unit's address or line setting",
                                        [VD_EFFECT_OUTAGE] = "interrupts what the unit does or feeds",
                                        [VD_EFFECT_TELL] = "must be told first",
                                        [VD_EFFECT_FOR_GOOD] = "cannot be undone",
                                        [VD_EFFECT_APART] = "needs a yes of its own"};
    const char *about = words[cause->effect], *help = cause->help;
    const char *joint = help[0] != '\0' ? ". " : "", *dot = g_str_has_suffix(help, ".") ? "" : ".";
    bool tells = cause->effect == VD_EFFECT_TELL, breaks = cause->effect == VD_EFFECT_OUTAGE;
    char *lasts = cause->lasts > 0 ? g_strdup_printf(" for about %s", duration_text(cause->lasts))
                                   : g_strdup(breaks ? " for a moment" : "");
    char *said = g_strconcat(tells ? cause->who : "", tells ? " " : "", about, lasts, joint, help, dot, NULL);
    g_free(lasts);
    return said;
}

json_t *causes_json(const vd_causes *causes)
{
    json_t *list = json_array();
    for (uint8_t i = 0; i < causes->count; i++) {
        const vd_cause *cause = &causes->list[i];
        json_t *one = json_pack("{s:s, s:s, s:s}", "what", vd_effect_word((vd_effect)cause->effect), "who", cause->who,
                                "help", cause->help);
        if (cause->lasts > 0) {
            json_object_set_new(one, "lasts", json_string(duration_text(cause->lasts)));
        }
        json_array_append_new(list, one);
    }
    return list;
}

/* ---- One after the other ---- */

cause_walk cause_walk_start(const vd_visit *unit)
{
    return (cause_walk){.unit = unit, .seen = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, NULL)};
}

const vd_cause *cause_walk_next(cause_walk *w, const char **key)
{
    const vd_model *model = vd_visit_model(w->unit);
    const vd_action *action = vd_visit_task(w->unit) == VD_TASK_ACT ? vd_visit_action(w->unit) : NULL;
    while (action != NULL ? w->setting == 0 : w->setting < model->setting_count) {
        const vd_setting *setting = &model->settings[w->setting];
        uint16_t index = (uint16_t)w->setting;
        bool changes = action != NULL || vd_visit_changes(w->unit, index) || vd_visit_may_change(w->unit, index);
        const vd_causes *causes = action != NULL ? &action->causes : &setting->causes;
        *key = action != NULL ? action->key : setting->words->key;
        if (!changes || w->next >= causes->count) {
            w->next = 0;
            w->setting++;
            continue;
        }
        const vd_cause *cause = &causes->list[w->next++];
        bool by_key = vd_cause_wants_yes(cause) && cause->effect != VD_EFFECT_TELL;
        char *words = cause_words(cause), *name = g_strdup_printf("%s %s", by_key ? *key : "", words);
        g_free(words);
        if (g_hash_table_add(w->seen, name)) {
            return cause;
        }
    }
    return NULL;
}

void cause_walk_end(cause_walk *w)
{
    g_hash_table_destroy(w->seen);
}

void causes_show(const cli *c, const vd_visit *unit, changes_shown *shown)
{
    cause_walk w = cause_walk_start(unit);
    const char *key = NULL;
    for (const vd_cause *cause = cause_walk_next(&w, &key); cause != NULL; cause = cause_walk_next(&w, &key)) {
        char *words = cause_words(cause), *line = g_strdup_printf("  %s: %s", key, words);
        /* That it restarts and moves is told in a line for all of them. */
        bool bare = cause->help[0] == '\0' && !c->options.explain;
        bool told = bare && ((cause->effect == VD_EFFECT_RESTART && is_planned(unit, VD_STEP_COMING_BACK)) ||
                             (cause->effect == VD_EFFECT_LINK && vd_visit_new_link(unit) != NULL));
        if (!told && changes_are_news(shown, line)) {
            message(c, "%s", line);
        }
        g_free(line);
        g_free(words);
    }
    cause_walk_end(&w);
}
