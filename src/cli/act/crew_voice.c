/* SPDX-License-Identifier: MIT
 * Which of several visits a message is about, and with which of them its outcome is kept. */
#include "crew.h"
#include "../print/print.h"

void crew_turn_to(crew *all, crew_member *member)
{
    cli *c = all->c;
    vd_class *worst = &all->worst;
    for (size_t i = 0; i < all->count; i++) {
        worst = c->result == all->members[i].result ? &all->members[i].worst : worst;
    }
    *worst = c->worst;
    c->result = member != NULL ? member->result : all->result;
    c->worst = member != NULL ? member->worst : all->worst;
    if (member != NULL && all->shown != member) {
        fflush(stdout);
        message(c, "%s== Address %u", all->concluded ? "\n" : "", member->v.place.address);
        all->shown = member;
        all->concluded = false;
    }
}
