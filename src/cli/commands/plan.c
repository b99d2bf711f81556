/* SPDX-License-Identifier: MIT
 * verdite plan: goals, and what is compared on the same days. */
#include "commands.h"

static void plan(cli *c, const side *s, const day_list *days)
{
    if (c->options.goal != NULL) {
        goal_answer_for(c, &s->set, days);
    } else if (c->options.against != NULL) {
        against_show(c, &s->set, days);
    } else {
        beside_show(c, &s->set, days);
    }
}

vd_class command_plan(cli *c)
{
    intervals_open(c, plan);
    return c->worst;
}
