/* SPDX-License-Identifier: MIT
 * A small machine: waiting for a unit, because a hand must do something first, because it is starting, or because it
 * restarts. It is asked who it is, now and then, and nothing else is said to it. A restart counts as seen only where it
 * was: the line that the unit says when it has started, or silence to at least three questions in a row over at least
 * half of the time that a restart takes. */
#include "visit_parts.h"

#define PAUSE 500000u /* microseconds between questions, where nothing says how long a restart takes */
#define LEAST_PAUSE 50000u
#define PATIENCE 2000000u /* microseconds beyond the time that the model says, for a unit that starts by itself */
#define GLANCE 1200000u   /* microseconds for which it is asked where it should not be */
#define QUESTIONS 3u      /* that nobody answered, in a row */

static void pause(vd_visit *visit)
{
    vd_fault_clear(&visit->fault);
    visit->wake = visit->now + visit->await.pause;
    visit->news++;
}

/* Whether it restarts, and takes a hand again after that. */
static bool needs_hand_again(const vd_visit *visit)
{
    const vd_listening *listening = &visit->model->listening;
    return visit->await.wants_restart && listening->anew && listening->hand.hold > 0;
}

void vd_await_begin(vd_visit *visit, vd_step step, uint64_t takes, uint64_t limit, bool wants_restart)
{
    uint64_t part = takes / (visit->among_others ? 4 : 8), most = visit->among_others ? 2u * PAUSE : PAUSE;
    uint32_t each = takes == 0 ? PAUSE : (uint32_t)(part > most ? most : part < LEAST_PAUSE ? LEAST_PAUSE : part);
    visit->await = (vd_await){.on = true,
                              .takes = takes,
                              .give_up = visit->now + limit,
                              .enough = visit->now + takes + takes / 2 + PATIENCE / 2,
                              .pause = each,
                              .wants_restart = wants_restart};
    visit->await.hand_from = visit->now + takes;
    if (needs_hand_again(visit)) {
        visit->await.give_up += visit->model->listening.hand.limit * (uint64_t)1000;
    }
    visit->await.seen = visit->gone && wants_restart;
    visit->step = (uint8_t)step;
    vd_talk_heard_start(&visit->talk);    /* what it said before is no news */
    vd_talk_limit_tries(&visit->talk, 1); /* it is asked again soon enough */
    pause(visit);
}

bool vd_await_listening(vd_visit *visit)
{
    const vd_listening *listening = &visit->model->listening;
    const vd_by_hand *hand = &listening->hand;
    uint64_t limit = hand->hold > 0 ? hand->limit * (uint64_t)1000 : listening->after * (uint64_t)1000 + PATIENCE;
    /* Who has an address and is not there may be on another line, or at another address: that is for a search to find.
     */
    if (hand->hold == 0 && (listening->after == 0 || vd_model_has_address(visit->model))) {
        return false;
    }
    vd_await_begin(visit, VD_STEP_LISTENING, 0, limit, false);
    return true;
}

vd_going vd_await_writing(vd_visit *visit, vd_status status)
{
    const vd_by_hand *hand = &visit->model->listening.writing;
    if (hand->hold == 0 || !vd_is_silence(status) || visit->stopping) {
        visit->hand_until = 0;
        return VD_FINE;
    }
    if (visit->hand_until == 0) {
        visit->hand_until = visit->now + hand->limit * (uint64_t)1000;
    }
    if (visit->now >= visit->hand_until) {
        vd_fault_clear(&visit->fault);
        vd_note_NOT_TAKING(&visit->fault, hand->help, (int32_t)(hand->limit / 1000u));
        return VD_GIVEN_UP;
    }
    visit->news++;
    return VD_GOING;
}

const vd_by_hand *vd_visit_wants_hand(const vd_visit *visit)
{
    const vd_listening *listening = &visit->model->listening;
    bool silent = visit->await.on && (visit->step == VD_STEP_LISTENING ||
                                      (needs_hand_again(visit) && visit->now >= visit->await.hand_from));
    return silent && listening->hand.hold > 0 ? &listening->hand : visit->hand_until != 0 ? &listening->writing : NULL;
}

static vd_going end(vd_visit *visit, vd_going going)
{
    visit->await.on = false;
    visit->wake = VD_NEVER;
    vd_talk_limit_tries(&visit->talk, 0);
    return going;
}

/* What is heard while a unit starts may be anything, and says neither that it is there nor that it is not. */
static void count_silence(vd_visit *visit, vd_status status)
{
    vd_await *await = &visit->await;
    if (status != VD_NO_REPLY && status != VD_NO_ANSWER && status != VD_ECHO_ONLY) {
        return;
    }
    if (vd_follow_is_on(visit)) { /* it may just be elsewhere */
        return;
    }
    await->silent_since = await->silent == 0 ? await->asked_at : await->silent_since;
    await->silent++;
    await->seen = await->seen || (await->silent >= QUESTIONS && visit->now - await->silent_since >= await->takes / 2);
}

/* Nobody answered who is meant. */
static vd_going wait_on(vd_visit *visit)
{
    vd_await *await = &visit->await;
    const vd_by_hand *hand = &visit->model->listening.hand;
    bool whole = false, by_hand = visit->step == VD_STEP_LISTENING || needs_hand_again(visit);
    if (visit->now >= await->give_up && vd_follow_next(visit, &whole)) {
        await->give_up = visit->now + (whole ? await->takes : 0u) + GLANCE;
    }
    if (visit->now < await->give_up) {
        pause(visit);
        return VD_GOING;
    }
    if (by_hand && hand->hold > 0) {
        vd_fault_clear(&visit->fault);
        vd_note_NOT_LISTENING(&visit->fault, hand->help, (int32_t)(hand->limit / 1000u));
    } else if (vd_follow_is_on(visit)) {
        vd_follow_in_vain(visit);
    }
    return end(visit, VD_GIVEN_UP);
}

static vd_going after_answer(vd_visit *visit)
{
    vd_await *await = &visit->await;
    if (vd_follow_is_on(visit) && !vd_is_known(visit)) { /* whoever that is does not tell where the unit is */
        return wait_on(visit);
    }
    await->silent = 0;
    if (!await->wants_restart || await->seen || visit->now >= await->enough || vd_follow_is_there(visit)) {
        return end(visit, VD_FINE);
    }
    pause(visit);
    return VD_GOING;
}

static vd_going after_silence(vd_visit *visit, vd_status status)
{
    if (vd_is_over(visit, status)) {
        return end(visit, VD_GIVEN_UP);
    }
    count_silence(visit, status);
    return wait_on(visit);
}

static vd_going after_question(vd_visit *visit)
{
    vd_status status = VD_OK;
    if (!vd_talk_ended(&visit->talk, &status)) {
        return VD_GOING;
    }
    visit->await.seen = visit->await.seen || vd_talk_heard_start(&visit->talk);
    return status == VD_OK && !visit->stopping ? after_answer(visit) : after_silence(visit, status);
}

/* Its port went with it, which shows that it restarts; it is asked again once the port is back. */
static vd_going wait_for_port(vd_visit *visit, const vd_event *event)
{
    vd_status status = VD_OK;
    if (event->kind == VD_LOST && !vd_talk_ended(&visit->talk, &status)) {
        vd_talk_engine.feed(&visit->talk, event);
    }
    if (visit->stopping || event->now >= visit->await.give_up) {
        vd_note_PORT_LOST(&visit->fault);
        return end(visit, VD_GIVEN_UP);
    }
    visit->await.seen = visit->await.wants_restart;
    visit->gone = event->kind != VD_BACK;
    pause(visit);
    visit->wake = visit->gone ? visit->await.give_up : visit->wake;
    return VD_GOING;
}

vd_going vd_await_feed(vd_visit *visit, const vd_event *event)
{
    vd_status status = VD_OK;
    if (visit->gone && visit->model->takes_port) {
        return wait_for_port(visit, event);
    }
    bool resting = vd_talk_ended(&visit->talk, &status);
    if (!resting) {
        vd_talk_engine.feed(&visit->talk, event);
        if (!vd_talk_ended(&visit->talk, &status) && vd_talk_heard_start(&visit->talk)) {
            /* It did not hear what it was asked before it had started: it is asked anew, at once. */
            visit->await.seen = true;
            vd_talk_engine.feed(&visit->talk, &(vd_event){.kind = VD_STOP, .now = visit->now});
            visit->wake = visit->now;
            return VD_GOING;
        }
        return after_question(visit);
    }
    if (event->kind == VD_LOST) {
        vd_fault_note(&visit->fault, event->status, NULL, "", "");
        return end(visit, VD_GIVEN_UP);
    }
    if (visit->stopping) {
        return end(visit, VD_GIVEN_UP);
    }
    if (event->kind == VD_HEARD) {
        vd_talk_engine.feed(&visit->talk, event);
        if (vd_talk_heard_start(&visit->talk)) { /* it is there: no need to wait any longer */
            visit->await.seen = true;
            visit->wake = visit->now;
        }
        return VD_GOING;
    }
    if (event->now >= visit->wake) {
        visit->wake = VD_NEVER;
        visit->await.asked_at = visit->now;
        vd_visit_run(visit, (vd_step)visit->step, VD_JOB_IDENTIFY, NULL);
        return after_question(visit);
    }
    return VD_GOING;
}
