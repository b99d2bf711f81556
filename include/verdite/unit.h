/* SPDX-License-Identifier: MIT
 *
 * Unit: the other end of the cable. Plays any model: answers requests, stages a write and takes it whole or not at
 * all, keeps a live and a stored bank, loses the live one with its supply.
 */
#ifndef VERDITE_UNIT_H
#define VERDITE_UNIT_H

#include "verdite/engine.h"
#include "verdite/model_questions.h"
#include "verdite/watch.h"

VD_C_BEGIN

/* A log that a unit's readings follow: rows of values of its model's channels. Owned by the caller, and constant. */
typedef struct vd_unit_log {
    const int64_t *times;          /* of each row, milliseconds on the unit's clock, rising */
    const uint64_t *cells, *known; /* of each row a bit for each channel: there is a cell; there is a value in it */
    const int64_t *numbers;        /* row by row one for each channel, times 10^vd_channel_places() */
    uint32_t holds_for[VD_MOST_CHANNELS]; /* milliseconds */
    uint32_t count;                       /* of rows */
} vd_unit_log;

/* The unit's end of a language: vd_modbus_rtu_unit in modbus_unit.h, the others in lines_unit.h. It links no client. */
typedef struct vd_unit_language vd_unit_language;

#define VD_UNSAID 32u /* unasked lines that wait for the line to be free */

/* One unit. */
typedef struct vd_unit vd_unit;
VD_STORAGE(vd_unit, 608, 736)

/* The engine of a vd_unit. */
extern const vd_engine vd_unit_engine;

/* Bytes that a unit of this model needs besides its struct. */
size_t vd_unit_size(const vd_model *model, const vd_unit_language *language);
/* Makes a unit with factory defaults in both banks; it must be powered up before it answers. `language`: its end of the
 * model's; the model itself need point to none. `memory`: at least vd_unit_size() bytes, aligned for uint64_t, which
 * the unit keeps using. VD_MEMORY_TOO_SMALL. The engine wants `keep` whenever the stored bank has changed and must be
 * made to last; until it is fed VD_KEPT it says it is busy. */
vd_status vd_unit_start(vd_unit *unit, const vd_model *model, const vd_unit_language *language,
                        const vd_identity *identity, void *memory, size_t size);
/* Its model. */
const vd_model *vd_unit_model(const vd_unit *unit);
/* Who it says it is. */
const vd_identity *vd_unit_identity(const vd_unit *unit);
/* What it holds, live. */
const vd_set *vd_unit_live(const vd_unit *unit);
/* What it holds, stored. */
const vd_set *vd_unit_stored(const vd_unit *unit);
/* What it holds, live, to be changed while no exchange is under way. */
vd_set *vd_unit_live_bank(vd_unit *unit);
/* What it holds, stored, to be changed while no exchange is under way. */
vd_set *vd_unit_stored_bank(vd_unit *unit);
/* The alarms that it watches, NULL: none. */
const vd_watch *vd_unit_alarms(const vd_unit *unit);
/* In what state a unit is besides what it holds. Moments are VD_NEVER where they do not come. */
typedef struct vd_unit_condition {
    uint64_t on_since;      /* when the supply came on */
    uint64_t off_until;     /* it restarts until then */
    uint64_t listens_from;  /* when it begins to listen */
    uint64_t writable_from; /* when it begins to take what changes it */
    uint64_t last_request;  /* when it was asked last */
    uint64_t alarms_since;  /* when its alarms began anew */
    uint64_t cleared_at;    /* when they were cleared last */
    uint64_t days_since;    /* when the days that it follows began */
    uint8_t tries_left;     /* at the login, before it locks */
    bool logged_in;         /* somebody is */
    bool announced;         /* it has said that it has started */
} vd_unit_condition;
/* In what state it is. */
vd_unit_condition vd_unit_condition_of(const vd_unit *unit);
/* Puts it into another state. */
void vd_unit_put_condition(vd_unit *unit, const vd_unit_condition *condition);
/* The supply comes on: live values become the stored ones (what only can be read stays), and address and line
 * settings in the stored bank take force; they may have before, as the model says. It listens once its model says so,
 * or when its button has been held. */
void vd_unit_power_up(vd_unit *unit, uint64_t now);
/* The supply goes off: what its readings show of its days is kept, and nothing goes on until it comes on. */
void vd_unit_power_down(vd_unit *unit, uint64_t now);
/* What a slot of it holds, from 1 to as many as its model has, of the settings of which slots have a copy. The set is
 * the unit's; what is put there is in the slot. */
vd_set vd_unit_slot(const vd_unit *unit, uint8_t number);
/* Its button is held from `now` on for so long. */
void vd_unit_hold_button(vd_unit *unit, uint64_t now, uint32_t milliseconds);
/* Whether it takes anything in at this moment. */
bool vd_unit_listens(const vd_unit *unit, uint64_t now);
/* The line setting in force; the address, 0 where its language has none. */
const vd_serial *vd_unit_line(const vd_unit *unit);
/* The address in force, 0 where its language has none. */
uint8_t vd_unit_address(const vd_unit *unit);
/* The framing of a unit with registers (modbus.h); NULL: it has none. */
const struct vd_framing *vd_unit_framing(const vd_unit *unit);

/* Has the unit's readings follow a log from now on; NULL: they move as its model says. */
void vd_unit_follow(vd_unit *unit, const vd_unit_log *log);
/* Makes the unit answer to this address from now on, whatever its settings say: for a bench that stages faults. */
void vd_unit_answer_to(vd_unit *unit, uint8_t address);

VD_C_END

#endif
