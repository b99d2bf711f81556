/* SPDX-License-Identifier: MIT
 * What a visit tells of itself. */
#include "visit_parts.h"

vd_sending vd_visit_acted(const vd_visit *visit)
{
    return (vd_sending)visit->acted;
}

const vd_action *vd_visit_action(const vd_visit *visit)
{
    return visit->action;
}

const vd_model *vd_visit_model(const vd_visit *visit)
{
    return visit->model;
}

const vd_fault *vd_visit_fault(const vd_visit *visit)
{
    return &visit->fault;
}

bool vd_visit_was_read_back(const vd_visit *visit)
{
    return visit->read_back;
}

const vd_tally *vd_visit_tally(const vd_visit *visit)
{
    return vd_talk_tally(&visit->talk);
}

uint32_t vd_visit_unexplained(const vd_visit *visit)
{
    return vd_talk_unexplained(&visit->talk);
}

const vd_identity *vd_visit_identity(const vd_visit *visit)
{
    return &visit->met;
}

const vd_set *vd_visit_live(const vd_visit *visit)
{
    return &visit->live;
}

const vd_set *vd_visit_stored(const vd_visit *visit)
{
    return &visit->stored;
}

const vd_set *vd_visit_desired(const vd_visit *visit)
{
    return &visit->desired;
}

const vd_set *vd_visit_before(const vd_visit *visit)
{
    return &visit->prior;
}

const vd_entry *vd_visit_entry(const vd_visit *visit, uint16_t setting)
{
    return &visit->ledger[setting];
}

const vd_standing *vd_visit_standing(const vd_visit *visit)
{
    return &visit->standing;
}
