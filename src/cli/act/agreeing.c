/* SPDX-License-Identifier: MIT
 * A yes to each thing that a change causes, where a yes to the whole is not enough. */
#include "act.h"
#include "../print/print.h"

static bool is_among(char **list, const char *word)
{
    return list != NULL && g_strv_contains((const char *const *)list, word);
}

bool cause_is_answered(const cli *c, const vd_cause *cause, const char *key)
{
    bool tells = cause->effect == VD_EFFECT_TELL;
    return tells ? is_among(c->options.told, cause->who) : is_among(c->options.agree, key);
}

bool cause_refuse(cli *c, const vd_cause *cause, const char *key)
{
    bool tells = cause->effect == VD_EFFECT_TELL;
    char *words = cause_words(cause);
    char *said = g_strdup_printf("--yes is not enough: %s: %s", key, words);
    char *allowed = tells ? g_strdup_printf("Nothing was sent. When that is done, add --told \"%s\".", cause->who)
                          : g_strdup_printf("Nothing was sent. To mean it, add --agree %s.", key);
    report_wrong_words(c, said, allowed);
    g_free(allowed);
    g_free(said);
    g_free(words);
    return false;
}

static bool agrees_to(cli *c, visit *v, vd_loop *loop, const vd_cause *cause, const char *key)
{
    bool tells = cause->effect == VD_EFFECT_TELL;
    if (cause_is_answered(c, cause, key)) {
        return true;
    }
    if (c->options.yes) {
        return cause_refuse(c, cause, key);
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
    cause_walk w = cause_walk_start(v->engine);
    const char *key = NULL;
    bool yes = true;
    GString *told = g_string_new("");
    for (const vd_cause *cause = cause_walk_next(&w, &key); cause != NULL && yes; cause = cause_walk_next(&w, &key)) {
        yes = !vd_cause_wants_yes(cause) || agrees_to(c, v, loop, cause, key);
        if (cause->effect == VD_EFFECT_TELL) {
            g_string_append_printf(told, "%s%s", told->len > 0 ? ", " : "told before: ", cause->who);
        }
    }
    cause_walk_end(&w);
    g_free(v->remark);
    v->remark = told->len == 0              ? g_strdup(c->options.remark)
                : c->options.remark != NULL ? g_strdup_printf("%s; %s", c->options.remark, told->str)
                                            : g_strdup(told->str);
    g_string_free(told, TRUE);
    return yes;
}
