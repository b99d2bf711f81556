/* SPDX-License-Identifier: MIT
 * What the files of unit/ share. */
#ifndef VD_UNIT_PARTS_H
#define VD_UNIT_PARTS_H

#include "../core/text/storage.h"
#include "verdite/unit.h"
#include "../core/alarm/parts.h"

struct vd_unit {
    const vd_model *model;
    vd_identity identity;
    vd_set live, stored;
    /* The rest is private. */
    vd_set staged;
    uint8_t *touched; /* a byte for each setting: what the present write puts */
    uint8_t *slots;   /* sets, one for each slot */
    const vd_unit_language *language;
    void *end; /* its state */
    uint64_t busy_until, off_until, on_since, listens_from, writable_from, last_request;
    const vd_action *due; /* what it does once its reply is out */
    uint8_t tries_left;   /* at the login, before it locks */
    const vd_unit_log *log;
    const struct vd_unit_days_ways *days_ways; /* of the days that it follows; NULL: none */
    void *course;                              /* its state there */
    uint64_t days_since;                       /* when they began */
    uint8_t unsaid[VD_UNSAID]; /* alarms of which something is to be said yet, twice their number, and 1 more: stands */
    uint8_t unsaid_count;
    vd_watch watch;
    vd_set watched;
    uint8_t *alarm_memory;
    uint64_t alarms_since, cleared_at; /* when its alarms began anew, and were cleared last */
    int64_t looked;                    /* milliseconds: when it looked at its readings last */
    uint32_t row;                      /* of the log, the next one */
    bool watching, restarted, cleared, catching_up;
    bool keeping, keep_failed, logged_in, announced, restart_due, link_due;
};
VD_FITS(vd_unit);

/* ---- banks.c: banks, and what becomes of them ---- */

/* Whether the staged bank may be taken: each setting in unit->touched is in order, what the unit makes fit by itself is
 * made to fit, and no rule that it enforces is broken. */
bool vd_unit_accepts_staged(vd_unit *unit);
/* The staged bank becomes the live one, and the stored one where nothing needs to be stored. */
void vd_unit_take_staged(vd_unit *unit, uint64_t now);
/* The bank from which it answers about a setting. */
const vd_set *vd_unit_shown(const vd_unit *unit, uint16_t setting);
void vd_unit_store(vd_unit *unit, uint64_t now);
/* Whether it would: no rule that it enforces when storing is broken. */
bool vd_unit_may_store(const vd_unit *unit);
/* Does what an action is for; it is silent while it restarts, from when its reply is out. */
void vd_unit_act(vd_unit *unit, const vd_action *action, uint64_t now);
void vd_unit_restart(vd_unit *unit, uint64_t now);

/* ---- slots.c ---- */

/* Puts into each slot what it holds from the factory. */
void vd_unit_new_slots(vd_unit *unit);
/* What is live goes into a slot, from 1; false where there is none such, or it cannot be saved. */
bool vd_unit_save_slot(vd_unit *unit, uint32_t number);
/* What is live is made to last: it goes into the slot in force, where slots have no order of their own for that. */
void vd_unit_keep_slot(vd_unit *unit);
/* The supply has come on: the slot that is in force then is loaded. */
void vd_unit_fall_back(vd_unit *unit);
/* What has become live of a setting sets others. */
void vd_unit_set_others(vd_unit *unit, uint16_t setting);

/* ---- hands.c ---- */

/* It listens from then on; VD_NEVER: until a hand does something. */
void vd_unit_listen_from(vd_unit *unit, uint64_t from);
/* Whether it takes in what would change it, at this moment: else it is silent to that. */
bool vd_unit_takes_changes(const vd_unit *unit, uint64_t now);

/* ---- unit.c ---- */

/* From now on it is reached as a bank says. */
void vd_unit_take_link(vd_unit *unit, const vd_set *bank);

/* ---- rights.c ---- */

/* Whether who talks now may do what this right, a vd_right, allows. */
bool vd_unit_allows(const vd_unit *unit, uint8_t right);
/* Whether he may have it store, or give it orders. */
bool vd_unit_allows_orders(const vd_unit *unit);
/* A password was said; whether it is the right one, and it is not locked. */
bool vd_unit_log_in(vd_unit *unit, const vd_value *said);
/* A request came: who was logged in and silent for too long is so no longer. */
void vd_unit_is_asked(vd_unit *unit, uint64_t now);

/* ---- factory.c ---- */

/* Puts what a unit holds from the factory into a bank, which knows which unit it is of. */
void vd_unit_as_new(vd_set *bank);

/* ---- readings.c ---- */

/* A clock or counter goes on from what is live; what is stored of it is where it would have begun. */
void vd_unit_run_from(vd_unit *unit, uint16_t setting, uint64_t now);
/* Whether readings are shifted by a setting: what it becomes shows in them at once. */
bool vd_unit_shifts(const vd_unit *unit, uint16_t setting);
/* Brings the readings to where they are now. */
void vd_unit_move_readings(vd_unit *unit, uint64_t now);

/* ---- course.c: linked only where a unit follows days ---- */

/* What the days that it follows do to it. */
typedef struct vd_unit_days_ways {
    void (*go_on)(vd_unit *unit, uint64_t now);   /* up to now */
    void (*show)(vd_unit *unit, uint64_t now);    /* the same, and its readings show it */
    void (*anew)(vd_unit *unit, uint64_t now);    /* they begin again; readings go on from what they show */
    void (*since)(vd_unit *unit, uint64_t since); /* they began then */
    bool (*differs)(const vd_unit *unit);         /* whether a setting of its intervals is another by now */
    void (*say)(vd_unit *unit, uint64_t now);     /* what it has to say unasked, as far as the line is free */
    uint64_t (*wake)(const vd_unit *unit);        /* when it may have something to say; VD_NEVER: it has not */
} vd_unit_days_ways;

/* ---- alarms.c ---- */

/* Says a line of the model unasked, with the number of an item and the check that sentences have. False: it cannot just
 * now. */
bool vd_unit_say(vd_unit *unit, const char *line, uint16_t item, uint64_t now);

/* Bytes that the alarms of a model take. */
size_t vd_unit_alarm_size(const vd_model *model);
/* Brings its alarms, and what shows them, to where they are now. */
void vd_unit_watch(vd_unit *unit, uint64_t now);
/* The same where what shifts its readings has just become another. */
void vd_unit_look_again(vd_unit *unit, uint64_t now);
/* Says what they have to say unasked, as far as the line is free. */
void vd_unit_say_alarms(vd_unit *unit, uint64_t now);
/* When they say something unasked next; VD_NEVER: they do not. */
uint64_t vd_unit_alarm_wake(const vd_unit *unit);
/* They begin anew: a start, or other settings for them. */
void vd_unit_alarms_anew(vd_unit *unit, uint64_t now);

/* ---- The unit's end of a language ---- */

/* What it does, whatever the framing or manner. Its state, unit->end, begins with what the engine is of. */
typedef struct vd_unit_ways {
    bool at_once; /* on a shared line: it answers as soon as its supply is on, so that nobody waits for each of many */
    size_t (*size)(const vd_unit_language *language); /* of the state */
    void (*start)(vd_unit *unit, const vd_serial *line, uint8_t address);
    const vd_serial *(*line)(const vd_unit *unit);
    /* NULL where it has no address. */
    uint8_t *(*address)(const vd_unit *unit);
    const vd_engine *engine; /* hears requests and sends replies */
    /* Answers the request that waits; false where there is none. */
    bool (*answer)(vd_unit *unit, uint64_t now);
    /* Says a line unasked, false where it cannot just now; NULL where the language has no such thing. */
    bool (*say)(vd_unit *unit, const char *line, uint64_t now);
} vd_unit_ways;

struct vd_unit_language {
    const vd_unit_ways *ways;
    const struct vd_framing *framing; /* in registers */
    const struct vd_manner *manner;   /* in lines */
};

extern const vd_unit_ways vd_registers_unit_ways;

#endif
