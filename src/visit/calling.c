/* SPDX-License-Identifier: MIT
 * What may be equal everywhere goes out once, by broadcast, to all units of a model on a line. Nobody answers that, so
 * it counts as sent in vain until it is read back from each. And what is told to several that share an address, whose
 * replies nobody can understand. */
#include "steps.h"

static bool may_be_equal(const vd_visit *visit, uint16_t setting)
{
    const vd_setting *about = &visit->model->settings[setting];
    return vd_model_broadcasts(visit->model, setting) && !vd_setting_is_own(about) &&
           !vd_role_is_link((vd_role)about->role) && !about->secret;
}

/* Whether a setting, which is to change, may go out to all units, as far as this one knows. */
static bool may_call(const vd_visit *visit, uint16_t setting)
{
    const vd_setting *about = &visit->model->settings[setting];
    /* What is not acknowledged is no reason to wait for a restart. */
    bool restarts = vd_setting_restarts(about) && !visit->model->store.needed;
    /* What changes only since its decimals do is each unit's own; and decimals go with what hangs on them. */
    bool rescales = about->gives_places || vd_setting_sets_any(visit->model, setting) ||
                    vd_has_part(visit, setting, VD_PART_SWAYED) || vd_has_part(visit, setting, VD_PART_RESCALED);
    return vd_has_part(visit, setting, VD_PART_CHANGES) && vd_has_part(visit, setting, VD_PART_ASKED) && !rescales &&
           !vd_has_part(visit, setting, VD_PART_ABSENT) && may_be_equal(visit, setting) && !about->once &&
           vd_setting_is_shown(about) && visit->model->store.proof != VD_PROOF_SHOWN && !restarts;
}

/* Whether a setting, as it is to be, is the same on the wire for both: equal, with as many decimals, and there. */
static bool calls_alike(const vd_visit *a, const vd_visit *b, uint16_t setting)
{
    vd_value one = vd_set_get(&a->desired, setting), two = vd_set_get(&b->desired, setting);
    vd_meaning first, second;
    bool places = vd_set_meaning(&a->live, setting, &first) && vd_set_meaning(&b->live, setting, &second) &&
                  first.places == second.places;
    bool here = !vd_has_part(a, setting, VD_PART_ABSENT) && !vd_has_part(b, setting, VD_PART_ABSENT);
    int64_t one_shows = 0, two_shows = 0;
    bool now = one.type == VD_CLOCK && one.number == VD_NOW;
    bool zones =
        !now || (vd_set_now(&a->desired, setting, &one_shows) && vd_set_now(&b->desired, setting, &two_shows) &&
                 one_shows - two_shows < 60 && two_shows - one_shows < 60);
    return here && places && zones && vd_value_equal(&one, &two);
}

uint16_t vd_visit_choose_call(const vd_visit *const *visits, size_t count, uint8_t *which)
{
    uint16_t chosen = 0;
    for (uint16_t i = 0; i < visits[0]->model->setting_count; i++) {
        bool changes = false, alike = true;
        for (size_t k = 0; k < count; k++) {
            changes = changes || may_call(visits[k], i);
            alike = alike && calls_alike(visits[0], visits[k], i);
        }
        which[i] = changes && alike;
        chosen = (uint16_t)(chosen + which[i]);
    }
    return chosen;
}

void vd_visit_call(vd_visit *visit, vd_calling calling, const uint8_t *which)
{
    visit->calling = (uint8_t)calling;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool called = which[i] != 0 && !vd_has_part(visit, i, VD_PART_ABSENT);
        visit->ledger[i].part |= !called                                  ? 0u
                                 : vd_has_part(visit, i, VD_PART_CHANGES) ? VD_PART_CALLED
                                                                          : VD_PART_CALLED | VD_PART_ALONG;
    }
}

bool vd_visit_is_calling(const vd_visit *visit)
{
    return visit->calling == VD_CALLS_OUT && visit->step != VD_STEP_DONE;
}

static void choose(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        visit->which[i] = vd_has_part(visit, i, VD_PART_CALLED);
    }
}

vd_going vd_call_begin(vd_visit *visit)
{
    choose(visit);
    vd_running_set(visit);
    if (visit->calling == VD_HEARS_A_CALL) { /* another visit says it */
        vd_ledger_take_call(visit);
        vd_call_ended(visit);
        return VD_FINE;
    }
    const vd_link all = {visit->link.line, 0};
    vd_talk_move(&visit->talk, &all, visit->latency);
    vd_visit_run(visit, VD_STEP_WRITE, VD_JOB_WRITE, &visit->desired);
    return VD_GOING;
}

void vd_call_ended(vd_visit *visit)
{
    visit->calling = VD_CALLS_NOBODY;
    vd_talk_move(&visit->talk, &visit->link, visit->latency);
}

/* ---- Several at one address ---- */

vd_status vd_tell_plan(vd_visit *visit)
{
    bool any = false;
    vd_running_take_time(visit);
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (!vd_has_part(visit, i, VD_PART_ASKED)) {
            continue;
        }
        bool told = may_be_equal(visit, i);
        any = any || told;
        visit->ledger[i].part |= told ? VD_PART_CHANGES : VD_PART_ELSEWHERE;
        visit->ledger[i].part &= (uint16_t) ~(told ? 0u : VD_PART_ASKED);
    }
    visit->count = 0;
    vd_steps_append(visit, VD_STEP_ASK);
    vd_steps_append(visit, VD_STEP_WRITE);
    if (visit->model->store.needed) {
        vd_steps_append(visit, VD_STEP_STORE);
    }
    return any ? vd_order_check(visit) : vd_note_NOTHING_TO_TELL(&visit->fault);
}
