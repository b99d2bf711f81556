/* SPDX-License-Identifier: MIT
 * Steps that ask who it is: at first, right before the first byte of a change, and at the end. */
#include "steps.h"
#include "verdite/text.h"

#define MOST_DOUBTS 3u /* of asking who it is where something else was heard */

void vd_meet_other(vd_visit *visit)
{
    visit->standing.same_unit = false;
    vd_note_OTHER_UNIT_NOW(&visit->fault, visit->talk.job.identity.serial, visit->met.serial);
    vd_visit_keep_status(visit, VD_OTHER_UNIT_NOW);
}

/* What this variant and firmware do not have is left alone. Nothing else is known yet, so what other settings decide
 * is open and counts as there. */
static void note_absent(vd_visit *visit)
{
    vd_set *const sets[] = {&visit->live, &visit->stored, &visit->desired, &visit->prior};
    for (size_t k = 0; k < sizeof sets / sizeof sets[0]; k++) {
        vd_set_tell_unit(sets[k], &visit->met);
    }
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        bool absent = vd_set_lacks(&visit->live, i);
        visit->ledger[i].part |= absent ? VD_PART_ABSENT : 0;
        if (absent && visit->leaves_lacking && vd_has_part(visit, i, VD_PART_ASKED) && visit->task != VD_TASK_READ) {
            visit->ledger[i].part &= (uint16_t)~VD_PART_ASKED;
            visit->ledger[i].part |= VD_PART_LACKING;
            vd_set_forget(&visit->desired, i);
        }
    }
}

/* A target that was read from another unit does not make this one its twin. */
static void leave_what_is_its_own(vd_visit *visit)
{
    bool another = visit->origin != NULL && visit->origin[0] != '\0' && visit->met.serial[0] != '\0' &&
                   !vd_same_text(visit->origin, visit->met.serial);
    for (uint16_t i = 0; another && i < visit->model->setting_count && visit->task != VD_TASK_READ; i++) {
        if (vd_has_part(visit, i, VD_PART_ASKED) && vd_setting_is_own(&visit->model->settings[i])) {
            visit->ledger[i].part &= (uint16_t)~VD_PART_ASKED;
            visit->ledger[i].part |= VD_PART_ELSEWHERE;
            vd_set_forget(&visit->desired, i);
        }
    }
}

static bool is_meant(const vd_visit *visit, const vd_identity *found)
{
    return visit->expected == NULL || vd_same_text(found->serial, visit->expected);
}

static bool is_new_enough(vd_visit *visit)
{
    const char *has = visit->met.firmware;
    char needed[24] = "";
    vd_writer writer = vd_writer_start(needed, sizeof needed);
    if (visit->oldest == 0 || vd_firmware_parse(has) >= visit->oldest) {
        return true;
    }
    vd_firmware_print(visit->oldest, &writer);
    vd_note_FIRMWARE_NEEDED(&visit->fault, has[0] != '\0' ? has : "?", needed);
    return false;
}

vd_going vd_step_identify(vd_visit *visit)
{
    vd_visit_run(visit, VD_STEP_IDENTIFY, VD_JOB_IDENTIFY, NULL);
    return VD_GOING;
}

vd_going vd_step_identified(vd_visit *visit, vd_status status)
{
    const vd_identity *found = &visit->talk.job.identity;
    bool first = visit->step == VD_STEP_IDENTIFY;
    if (status == VD_OK && vd_identity_is_cut(found)) {
        visit->met = *found;
        vd_note_SERIAL_TOO_LONG(&visit->fault, found->serial);
        return VD_GIVEN_UP;
    }
    if (status != VD_OK && first && !vd_is_over(visit, status) && vd_is_silence(status) && vd_await_listening(visit)) {
        return VD_GOING;
    }
    if (status != VD_OK) {
        return VD_GIVEN_UP;
    }
    if (vd_model_fits(visit->model, found) && is_meant(visit, found)) {
        visit->met = *found;
        if (!is_new_enough(visit)) {
            return VD_GIVEN_UP;
        }
        note_absent(visit);
        leave_what_is_its_own(visit);
        return VD_FINE;
    }
    /* Where no check guards what was said, one wrong letter makes another model of it: asked again. */
    if (!vd_model_has_check(visit->model) && visit->doubts++ < 1) {
        vd_steps_plan(visit, VD_STEP_IDENTIFY, VD_STEP_IDLE);
        return VD_FINE;
    }
    char said[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(said, sizeof said);
    vd_writer_add(&writer, found->maker);
    vd_writer_add(&writer, " ");
    vd_writer_add(&writer, found->product);
    visit->met = *found;
    if (vd_model_fits(visit->model, found)) {
        vd_note_WRONG_UNIT(&visit->fault, found->serial, visit->expected);
    } else {
        vd_note_OTHER_MODEL(&visit->fault, said, visit->model->key);
    }
    return VD_GIVEN_UP;
}

vd_going vd_step_know(vd_visit *visit)
{
    vd_visit_run(visit, (vd_step)visit->list[visit->at], VD_JOB_IDENTIFY, NULL);
    vd_talk_be_patient(&visit->talk);
    return VD_GOING;
}

/* A damaged line or one reply too many is told apart from somebody else by asking again. */
vd_going vd_step_known(vd_visit *visit, vd_status status)
{
    bool last = visit->list[visit->at] == VD_STEP_KNOW_LAST;
    if (status != VD_OK && !last && !vd_ledger_any_sent(visit) && vd_is_silence(status) && !vd_is_over(visit, status) &&
        visit->step == VD_STEP_KNOW_AGAIN && vd_await_listening(visit)) {
        return VD_GOING;
    }
    if (status != VD_OK && vd_steps_wait_and_repeat(visit, status)) {
        return VD_FINE;
    }
    /* Two that hear each other's replies refuse them, as if they were questions. */
    bool quarrel = visit->doubts > 0 && vd_status_class(status) == VD_CLASS_REFUSED && !vd_is_over(visit, status);
    if (status != VD_OK && !quarrel) {
        visit->standing.same_unit = !last && visit->standing.same_unit;
        return VD_GIVEN_UP;
    }
    bool others = quarrel || vd_talk_heard_others(&visit->talk), same = quarrel || vd_is_known(visit);
    if (same && !others) {
        visit->explained = vd_talk_unexplained(&visit->talk);
        visit->doubts = 0;
        visit->known_last = last;
        return VD_FINE;
    }
    if (visit->doubts++ < MOST_DOUBTS - 1u) {
        vd_steps_plan(visit, (vd_step)visit->list[visit->at], VD_STEP_IDLE);
        return VD_FINE;
    }
    vd_fault_clear(&visit->fault);
    if (same) {
        visit->standing.same_unit = false;
        vd_note_ADDRESS_SHARED(&visit->fault, visit->link.address);
        vd_visit_keep_status(visit, VD_ADDRESS_SHARED);
    } else {
        vd_meet_other(visit);
    }
    return VD_GIVEN_UP;
}
