/* SPDX-License-Identifier: MIT
 * Of several visits at a time, which one messages are about, and with which its outcome is kept. */
#include "act.h"

void voice_turn(cli *c, voice **now, voice *to)
{
    (*now)->worst = c->worst;
    *now = to;
    c->result = to->result;
    c->worst = to->worst;
    c->speaker = to->name[0] != '\0' ? to->name : NULL;
}

const char *visit_outcome_words(const visit *v, const voice *told, tone *t)
{
    const char *outcome = json_string_value(json_object_get(told->result, "outcome"));
    bool fine = told->worst == VD_CLASS_FINE, met = vd_visit_identity(v->engine)->product[0] != '\0';
    *t = fine ? TONE_GOOD : told->worst == VD_CLASS_PARTLY ? TONE_DOUBT : TONE_BAD;
    return outcome != NULL                        ? whole_words(v)
           : fine                                 ? "done"
           : !vd_visit_has_sent(v->engine) && met ? "nothing sent"
           : met                                  ? "NOT VERIFIED"
                                                  : "not reached";
}
