/* SPDX-License-Identifier: MIT
 * What the files of visit/ share. */
#ifndef VD_VISIT_PARTS_H
#define VD_VISIT_PARTS_H

#include "../core/text/storage.h"
#include "verdite/visit.h"
#include "../wire/talk_parts.h"

#define VD_MOST_STEPS 32u
#define VD_PASSWORD_SIZE 64u
typedef struct vd_await { /* a unit that is waited for; private */
    uint64_t give_up, enough, takes, asked_at, silent_since, hand_from;
    uint32_t pause;
    uint16_t silent; /* questions in a row that nobody answered */
    bool on, wants_restart;
    bool seen; /* something like a restart, so that it is waited for no longer: no proof */
} vd_await;

typedef struct vd_login_state {                             /* a login that is under way; private */
    uint64_t at;                                            /* when it was done */
    char password[VD_PASSWORD_SIZE], old[VD_PASSWORD_SIZE]; /* `old`: in force until this task changed it */
    uint8_t length, old_length;
    uint8_t tries, busy; /* how often it was said, and how often the unit was busy then */
    bool on, wanted, done, factory, declined;
    bool sure, refused; /* it said yes to the password; it turned down what a login may allow */
    bool took_new;      /* it said yes to a login with the password that it was given in this task */
} vd_login_state;

typedef struct vd_follow { /* a unit that is followed to another link; private */
    vd_link from, to;      /* of the whole visit */
    vd_link was, goes;     /* of the present move */
    vd_identity other;
    uint8_t stage, seen, doubts, left;
    bool expected, sent;
} vd_follow;

struct vd_visit {
    vd_fault fault;
    const vd_model *model;
    vd_talk talk;
    vd_set live, stored, desired, prior; /* now; in storage; as it is to be; live, as it was before */
    vd_entry *ledger;
    uint8_t *which; /* what the present job is on */
    uint64_t now, wake, read_at, ran_at;
    uint64_t restart_from;    /* when the last thing was told behind which a restart shows what is stored; 0: nothing */
    vd_moment moment;         /* what time it is, as it was told at `told_at`, if it was */
    uint64_t told_at, set_at; /* when what runs by itself was written last */
    uint64_t hand_until;      /* it was silent to a write: a hand is waited for; 0: no hand is */
    int64_t ran;              /* milliseconds that the unit said it was running, at ran_at; -1: it does not say */
    vd_identity met;          /* who it is, as it said at first */
    const char *expected, *origin;
    uint32_t oldest; /* firmware that is needed, 0: any */
    vd_await await;
    vd_login_state login;
    vd_follow follow;
    const vd_action *action;
    vd_action saving;    /* the order that saves a slot */
    char slot_number[8]; /* its argument */
    uint8_t acted;       /* vd_sending */
    uint8_t calling;     /* vd_calling, until that was done */
    vd_link link;        /* where it is reached now */
    uint32_t latency;
    uint8_t list[VD_MOST_STEPS];
    uint8_t count, at, task, step; /* of the list; `step` is where it stands, a small machine included */
    uint8_t rounds, stores, restarts, doubts, silences; /* how often that was done already */
    uint32_t news, disturbed;                           /* how often the line had been disturbed when the task began */
    uint32_t explained; /* what the line had brought when it was last known that the unit is alone */
    vd_status status;
    vd_standing standing;
    bool stopping, gone, read_back, known_last, store_sent, restart_lost, sending_again, may_restart, by_hand, idle_too;
    bool leaves_lacking, among_others;
    bool stood; /* what a restart undoes was last seen otherwise before the restart that is watched */
    bool slot_saved, slot_seen, slot_shown;
    bool more_due;      /* what is written now is not the last of it */
    bool keeping, kept; /* a record is being kept; it is, or cannot be */
};
VD_FITS(vd_visit);

#define VD_FOLLOW_LINKS 5u /* old and new link, where only a part of it has changed, and where all of it has */

/* How a small machine, or a step, goes on. */
typedef enum vd_going {
    VD_GOING,    /* it is not over yet */
    VD_FINE,     /* it is over, and the next step may begin */
    VD_GIVEN_UP, /* it is over in vain; visit->fault says why */
    VD_LEFT_OUT  /* the person did not want it */
} vd_going;

/* Whether the task changes something: it writes, or has it act. */
bool vd_changes(const vd_visit *visit);

/* ---- The talk of a visit: job.c ---- */

/* Begins a job; `visit->which` says on which settings. */
void vd_visit_run(vd_visit *visit, vd_step step, vd_job_kind job, vd_set *values);
/* Whether nothing was heard that makes sense: the unit may be starting, or not be listening. */
bool vd_is_silence(vd_status status);
/* The first setting of a read to which it did not answer, or VD_NONE: it may have restarted in the middle, and what it
 * said before that is old. */
uint16_t vd_first_unanswered(const vd_visit *visit);
/* Whether it said that it is busy, so that it has not taken what it was told. */
bool vd_is_busy(vd_status status);
/* Whether the port is lost because it is the unit's own, and the unit restarts; if so, that is no fault. */
bool vd_went_with_port(vd_visit *visit, vd_status status);
/* Whether who answered last is who was met at first. */
bool vd_is_known(const vd_visit *visit);
/* Whether it makes no sense to go on: the port is gone, or the person wants to stop. */
bool vd_is_over(const vd_visit *visit, vd_status status);

/* ---- The ledger: ledger.c ---- */

/* Parts of a setting that a write moves, or may. */
#define VD_TOUCHED (VD_PART_CHANGES | VD_PART_ALONG | VD_PART_RESCALED)

bool vd_has_part(const vd_visit *visit, uint16_t setting, unsigned part);
/* Has `visit->which` name the settings of a job: those with any of these parts that are shown, with all that they hang
 * on; and what the unit tells of its running time. */
void vd_ledger_choose(vd_visit *visit, unsigned parts);
/* Forgets what was read of those that `visit->which` names, live and (`stored_too`) stored, so that nothing old passes
 * for new. */
void vd_ledger_forget(vd_visit *visit, bool stored_too);
/* What is stored of anything, or live, may be otherwise from now on. */
void vd_ledger_doubt_stored(vd_visit *visit);
void vd_ledger_doubt_live(vd_visit *visit);
/* Takes over what became of each setting in a write. Returns whether some were not tried. */
bool vd_ledger_take_outcomes(vd_visit *visit);
/* What `visit->which` names was called out to several units, this one among them. */
void vd_ledger_take_call(vd_visit *visit);
/* Whether anything was sent, or may have been. */
bool vd_ledger_any_sent(const vd_visit *visit);

/* ---- What was turned down is tried once more: turned_down.c ---- */

/* Puts off what the job that has ended was refused, where others of its kind may have to go before it. False: there are
 * none, or that was done. */
bool vd_put_off(vd_visit *visit);
/* The one to try again first, VD_NONE: nothing waits; and that it is tried now, for the last time. */
uint16_t vd_last_put_off(const vd_visit *visit);
void vd_put_off_is_tried(vd_visit *visit, uint16_t setting);
/* Whether a setting goes before one that waits. */
bool vd_goes_before_put_off(const vd_visit *visit, uint16_t setting);

/* ---- What runs by itself: running.c ---- */

/* Tells all sets what time it is by now. */
void vd_running_take_time(vd_visit *visit);
/* Right before what `which` names is written: clocks that are to show what time it is get the value that is. */
void vd_running_set(vd_visit *visit);
/* Whether what was read of a clock or counter is what it should have come to by now. */
bool vd_running_fits(const vd_visit *visit, const vd_value *is, uint16_t setting);

/* ---- Settings that set others, and slots: slots.c ---- */

/* Marks what will be set by what is to be written; whatever that is, it is wanted where nothing else is asked for. */
void vd_sway_work_out(vd_visit *visit);
/* Whether a setting that is to be written sets others; whether some are still to be read after that. */
bool vd_sways(const vd_visit *visit, uint16_t setting);
bool vd_sway_is_open(const vd_visit *visit);
/* Whether what is asked for is in a slot that must be saved; and whether one is loaded again, for that to be seen, or
 * since a restart leaves another one in force. */
bool vd_slots_need_saving(const vd_visit *visit);
bool vd_slots_need_loading(const vd_visit *visit, bool restarts);
/* Whether a restart puts another slot in force, so that a setting will be otherwise: what then, or nothing known. */
bool vd_slots_come_up(const vd_visit *visit, uint16_t setting, vd_value *value);
/* Marks what loading shows. */
void vd_slots_mark(vd_visit *visit);
/* What is known of how a setting with VD_PART_IN_SLOT is stored. */
vd_reading vd_slots_stored(const vd_visit *visit, uint16_t setting);
/* Whether the slot that is to be in force can be saved, where that is needed. */
vd_status vd_slots_check(vd_visit *visit);

/* ---- held.c ---- */

/* Takes over what was read, held against what is wanted. */
void vd_ledger_take_readings(vd_visit *visit);

/* ---- What is to change: order.c ---- */

/* Fills `desired` with what the unit holds where nothing else is asked for; what does not count in the mode that
 * results is asked for no longer. */
void vd_order_complete(vd_visit *visit);
/* Whether what is asked for may be written, by itself and by the rules. */
vd_status vd_order_check(vd_visit *visit);
/* Works out the whole result, checks it, and marks what must be written. VD_OK, or why nothing may be written. */
vd_status vd_order_work_out(vd_visit *visit);
/* Marks what shares a record or register with what is to be written. */
void vd_order_mark_company(vd_visit *visit);
/* Whether a setting is there, and does not count in the mode that a set is in. */
bool vd_is_idle(const vd_visit *visit, const vd_set *set, uint16_t setting);
/* Whether anything must be written or stored. */
bool vd_order_anything(const vd_visit *visit);
/* Whether the unit restarts by itself when it has stored. */
bool vd_restarts_when_stored(const vd_visit *visit);

/* ---- Running time: order.c ---- */

/* Whether the unit has restarted since its running time was last taken: holds, fails, or not known. */
vd_ruling vd_has_restarted(const vd_visit *visit);
/* Takes note of the running time that was just read. */
void vd_take_running_time(vd_visit *visit);

/* ---- Another address or line setting: follow.c ---- */

/* Whether a setting that is asked for says where it is to be reached, and it is reached elsewhere. */
bool vd_is_off_link(const vd_visit *visit, uint16_t setting);
/* Whether a setting by which it is reached is to be written. */
bool vd_is_link_change(const vd_visit *visit, uint16_t setting);
/* Works out where it will be reached, now that the changes stand. */
void vd_follow_work_out(vd_visit *visit);
bool vd_follow_moves(const vd_visit *visit);
/* It is to be asked who it is: at the new link where it should have taken that up by now, else where it was; where
 * nothing was sent that moves it, as before. */
void vd_follow_begin(vd_visit *visit, bool expected);
bool vd_follow_is_on(const vd_visit *visit);
/* Nobody answered for long enough: the next of all links. `whole`: to be waited at for as long as a restart takes.
 * False: there is none left. */
bool vd_follow_next(vd_visit *visit, bool *whole);
/* Whether it is just being asked where it should have moved to. */
bool vd_follow_is_there(const vd_visit *visit);
/* It answered. Whether it moved to where it should have. */
bool vd_follow_take(vd_visit *visit);
/* It answered nowhere. */
vd_status vd_follow_in_vain(vd_visit *visit);
/* Marks those by which it is to be reached and is not. */
void vd_follow_judge(vd_visit *visit);

/* ---- What several units are told: calling.c ---- */

/* Plans what all at one address are told; or why it may not be. */
vd_status vd_tell_plan(vd_visit *visit);

/* ---- Waiting for a unit: await.c ---- */

/* Begins to ask it who it is until it answers, for `limit` microseconds. With `wants_restart` an answer is not enough:
 * it must have been silent for most of the `takes` microseconds that a restart takes, or have said that it has started;
 * what was seen of it is noted in `standing`. */
void vd_await_begin(vd_visit *visit, vd_step step, uint64_t takes, uint64_t limit, bool wants_restart);
/* The same while the person switches it off and on. */
void vd_await_hand(vd_visit *visit);
/* It did not answer. Whether it may just not be listening, so that it is waited for. */
bool vd_await_listening(vd_visit *visit);
/* What became of telling it something that changes it. VD_GOING: it was silent, and takes a hand before it hears such
 * a thing, which is waited for; VD_GIVEN_UP: for too long. */
vd_going vd_await_writing(vd_visit *visit, vd_status status);
vd_going vd_await_feed(vd_visit *visit, const vd_event *event);

/* ---- Logging in: login.c ---- */

/* Whether what comes next takes a login that has not been done yet. */
bool vd_login_is_due(const vd_visit *visit, vd_step step);
vd_going vd_login_begin(vd_visit *visit);
vd_going vd_login_feed(vd_visit *visit, const vd_event *event);
/* What only a fitter may read is left out where nobody logs in. */
void vd_login_leave_out(vd_visit *visit);
/* The unit has restarted, or turned down what a login allows. */
void vd_login_is_lost(vd_visit *visit);
/* Whether a login that the unit took would still be in force now, if nothing but its time could end it. */
bool vd_login_would_last(const vd_visit *visit);
/* The unit answered to what it was asked at a moment: from then on its login lasts anew, if it was in force then. */
void vd_login_renew(vd_visit *visit, uint64_t asked_at);
void vd_login_forget(vd_visit *visit);

/* ---- The steps: steps.c ---- */

typedef struct vd_step_about {
    /* Begins it. VD_GOING: a job or a question stands. */
    vd_going (*begin)(vd_visit *visit);
    /* Its job has ended. */
    vd_going (*ended)(vd_visit *visit, vd_status status);
    bool lasts; /* what it does outlasts the visit: that it begins is kept first, and what became of those before it */
} vd_step_about;

extern const vd_step_about vd_steps[VD_STEP_COUNT];

/* Plans steps right behind the present one. */
void vd_steps_insert(vd_visit *visit, const vd_step *steps, size_t count);
void vd_steps_append(vd_visit *visit, vd_step step);
/* Remembers what went wrong without ending the visit. */
void vd_visit_keep_status(vd_visit *visit, vd_status status);
/* Goes on with the first planned step of this kind, leaving out what lies between. */
void vd_steps_skip_to(vd_visit *visit, vd_step step);

#endif
