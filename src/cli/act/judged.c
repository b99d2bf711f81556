/* SPDX-License-Identifier: MIT
 * A visit that makes a unit hold something, or compares it, and its verdicts. */
#include "act.h"
#include "../print/print.h"

#include <string.h>

/* Whether there is anything to judge: the unit was met, and either all went well or something was sent to it. */
static bool is_judged(const visit *v)
{
    bool met = v->opened && vd_visit_identity(v->engine)->product[0] != '\0' && v->status != VD_OTHER_MODEL &&
               v->status != VD_WRONG_UNIT;
    bool login = v->status == VD_LOGIN_NEEDED || v->status == VD_LOGIN_REFUSED || v->status == VD_LOGIN_NOT_TAKEN ||
                 v->status == VD_LOGIN_LOCKED;
    bool sent = met && vd_visit_has_sent(v->engine);
    return met && (vd_visit_standing(v->engine)->writes ? sent || v->status == VD_OK : !login);
}

void judged_show(cli *c, visit *v)
{
    const visit_task *task = v->task;
    bool judged = is_judged(v);
    visit_json(c, v);
    if (judged && task->read_from != NULL && json_object_get(c->result, "left-to-its-unit") == NULL) {
        changes_tell_left_out(c, v->engine, task->read_from->serial, &v->shown);
    }
    if (judged && json_object_get(c->result, "left-alone") == NULL) {
        changes_tell_idle(c, v->engine, &v->shown);
    }
    if (v->opened && task->target != NULL) {
        changes_tell_lacking(c, v->engine, task->name);
    }
    if (judged) {
        verdicts_show(c, v, task->name);
    }
    if (task->task == VD_TASK_TELL && v->opened && vd_visit_has_sent(v->engine)) {
        verdicts_show_told(c, v);
    }
    if (!task->goes_on) {
        journal_tell_open(c, v);
    }
}

vd_class visit_judged(cli *c, const vd_model *model, const visit_task *task)
{
    visit v;
    visit_do(c, &v, model, task);
    judged_show(c, &v);
    visit_free(&v);
    return c->worst;
}
