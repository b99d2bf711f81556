/* SPDX-License-Identifier: MIT
 * What a change brings about besides: told before anybody is asked, and agreed to one by one where a yes to the whole
 * is not enough. */
#include <string.h>

#include "journal.h"

char *cause_words(const vd_cause *cause)
{
    static const char *const words[] = {[VD_EFFECT_RESTART] = "the unit restarts by itself",
                                        [VD_EFFECT_LINK] = "the unit will answer at another address or line setting",
                                        [VD_EFFECT_OUTAGE] = "what the unit does or feeds is interrupted",
                                        [VD_EFFECT_TELL] = "must have been told before",
                                        [VD_EFFECT_FOR_GOOD] = "nothing puts back what was before",
                                        [VD_EFFECT_APART] = "asked apart"};
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

/* The causes of what changes, each with the key of the setting or action. */
typedef struct walk {
    const vd_visit *unit;
    GHashTable *seen; /* words that were told */
    uint32_t setting;
    uint8_t next;
} walk;

static walk walk_start(const vd_visit *unit)
{
    return (walk){.unit = unit, .seen = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, NULL)};
}

/* The next one that says something new; NULL: there is none. Of those that want a yes by key every one is new. */
static const vd_cause *walk_next(walk *w, const char **key)
{
    const vd_model *model = w->unit->model;
    const vd_action *action = w->unit->task == VD_TASK_ACT ? w->unit->action : NULL;
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

void causes_show(const cli *c, const vd_visit *unit)
{
    walk w = walk_start(unit);
    const char *key = NULL;
    const char *how = unit->task == VD_TASK_ACT ? "" : "Writing ";
    for (const vd_cause *cause = walk_next(&w, &key); cause != NULL; cause = walk_next(&w, &key)) {
        char *words = cause_words(cause);
        message(c, "  %s%s: %s", how, key, words);
        g_free(words);
    }
    g_hash_table_destroy(w.seen);
}

/* ---- Yes to each ---- */

static bool is_among(char **list, const char *word)
{
    return list != NULL && g_strv_contains((const char *const *)list, word);
}

/* --yes answers for the whole only. */
static bool refuse_yes(cli *c, const vd_cause *cause, const char *key)
{
    bool tells = cause->effect == VD_EFFECT_TELL;
    char *words = cause_words(cause);
    char *said = g_strdup_printf("--yes does not answer this: %s: %s", key, words);
    char *allowed = tells ? g_strdup_printf("Once that is done, give --told \"%s\" as well.", cause->who)
                          : g_strdup_printf("To mean it, give --agree %s as well.", key);
    report_wrong_words(c, said, allowed);
    g_free(allowed);
    g_free(said);
    g_free(words);
    return false;
}

static bool agrees_to(cli *c, visit *v, vd_loop *loop, const vd_cause *cause, const char *key)
{
    bool tells = cause->effect == VD_EFFECT_TELL;
    if (tells ? is_among(c->options.told, cause->who) : is_among(c->options.agree, key)) {
        return true;
    }
    if (c->options.yes) {
        return refuse_yes(c, cause, key);
    }
    char *words = cause_words(cause);
    char *question = g_strdup_printf("%s: %s %s", key, words, tells ? "Has that been done?" : "Go on?");
    bool yes = person_agrees(c, v, loop, question);
    g_free(question);
    g_free(words);
    return yes;
}

bool causes_agreed(cli *c, visit *v, vd_loop *loop)
{
    walk w = walk_start(&v->engine);
    const char *key = NULL;
    bool yes = true;
    GString *told = g_string_new("");
    for (const vd_cause *cause = walk_next(&w, &key); cause != NULL && yes; cause = walk_next(&w, &key)) {
        yes = !vd_cause_wants_yes(cause) || agrees_to(c, v, loop, cause, key);
        if (cause->effect == VD_EFFECT_TELL) {
            g_string_append_printf(told, "%s%s", told->len > 0 ? ", " : "told before: ", cause->who);
        }
    }
    g_hash_table_destroy(w.seen);
    g_free(v->remark);
    v->remark = told->len == 0              ? g_strdup(c->options.remark)
                : c->options.remark != NULL ? g_strdup_printf("%s; %s", c->options.remark, told->str)
                                            : g_strdup(told->str);
    g_string_free(told, TRUE);
    return yes;
}
