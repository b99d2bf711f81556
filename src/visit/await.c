/* SPDX-License-Identifier: MIT
 * A small machine: waiting for a unit, because a hand must do something first, because it is starting, or because it
 * restarts. It is asked who it is, now and then, and nothing else is said to it. What is seen of a restart is noted;
 * what it proves, proving.c says. */
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

/* Whether it may take a hand again: after its restart, or since it fell silent in the middle. */
static bool needs_hand_again(const vd_visit *visit)
{
    return visit->step != VD_STEP_LISTENING && visit->model->listening.hand.hold > 0 && !vd_follow_is_on(visit);
}

/* Notes what was seen of a restart that is waited for. */
static void see(vd_visit *visit, unsigned what)
{
    bool after = what == VD_SEEN_START && (visit->standing.seen & VD_SEEN_SILENCE) != 0;
    if (visit->await.wants_restart) {
        visit->standing.seen = (uint8_t)(visit->standing.seen | what | (after ? VD_SEEN_START_AFTER : 0u));
        visit->await.seen = true;
    }
}

/* So short that a unit which is silent for as long as it should be is asked three times before it says that it has
 * started, and once more in case that one of them is spoilt; longer where others want the line. */
static uint32_t pause_between(const vd_visit *visit, uint64_t takes)
{
    uint64_t part = takes / (visit->among_others ? 4 : 8), most = visit->among_others ? 2u * PAUSE : PAUSE;
    uint64_t question = visit->model->reply.longest * (uint64_t)1000, each = takes / (QUESTIONS + 2u);
    if (!visit->among_others && each < question + part) {
        part = each > question ? each - question : 0;
    }
    return takes == 0 ? PAUSE : (uint32_t)(part > most ? most : part < LEAST_PAUSE ? LEAST_PAUSE : part);
}

void vd_await_begin(vd_visit *visit, vd_step step, uint64_t takes, uint64_t limit, bool wants_restart)
{
    uint32_t each = pause_between(visit, takes);
    visit->await = (vd_await){.on = true,
                              .takes = takes,
                              .give_up = visit->now + limit,
                              .enough = visit->now + takes + takes / 2 + PATIENCE / 2,
                              .pause = each,
                              .wants_restart = wants_restart};
    visit->step = (uint8_t)step;
    /* Where the model says that a restart takes none, it is given time to come back by itself. */
    visit->await.hand_from = visit->now + takes + (wants_restart && !visit->model->listening.anew ? PATIENCE : 0);
    if (needs_hand_again(visit)) {
        visit->await.give_up += visit->model->listening.hand.limit * (uint64_t)1000;
    }
    if (visit->gone) {
        see(visit, VD_SEEN_PORT);
    }
    vd_talk_heard_start(&visit->talk);    /* what it said before is no news */
    vd_talk_limit_tries(&visit->talk, 1); /* it is asked again soon enough */
    pause(visit);
}

void vd_await_hand(vd_visit *visit)
{
    vd_await_begin(visit, VD_STEP_BY_HAND, visit->model->restart_time * (uint64_t)1000, VD_HAND_LIMIT, true);
    visit->await.enough = visit->await.give_up; /* however long the hand takes */
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
    bool by_now = visit->step == VD_STEP_BY_HAND ? visit->await.seen : visit->now >= visit->await.hand_from;
    bool silent = visit->await.on && (visit->step == VD_STEP_LISTENING || (needs_hand_again(visit) && by_now));
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
    if (await->silent >= QUESTIONS && visit->now - await->silent_since >= await->takes / 2) {
        see(visit, VD_SEEN_SILENCE);
    }
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
    if (vd_is_known(visit)) {
        vd_login_renew(visit, await->asked_at);
    }
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
    if (vd_talk_heard_start(&visit->talk)) {
        see(visit, VD_SEEN_START);
    }
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
    see(visit, VD_SEEN_PORT);
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
            see(visit, VD_SEEN_START);
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
            see(visit, VD_SEEN_START);
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
