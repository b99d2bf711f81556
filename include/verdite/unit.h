/* SPDX-License-Identifier: MIT
 *
 * Unit: the other end of the cable. Plays any model: answers requests, stages a write and takes it whole or not at
 * all, keeps a live and a stored bank, loses the live one with its supply.
 */
#ifndef VERDITE_UNIT_H
#define VERDITE_UNIT_H

#include "verdite/engine.h"
#include "verdite/models.h"
#include "verdite/watch.h"

VD_C_BEGIN

/* A log that a unit's readings follow: rows of values of its model's channels. Owned by the caller, and constant. */
typedef struct vd_unit_log {
    const int64_t *times;          /* of each row, milliseconds on the unit's clock, rising */
    const uint64_t *cells, *known; /* of each row a bit for each channel: there is a cell; there is a value in it */
    const int64_t *numbers;        /* row by row one for each channel, times 10^vd_channel_places() */
    uint32_t holds_for[VD_MOST_CHANNELS]; /* milliseconds */
    uint32_t count;
} vd_unit_log;

/* The unit's end of a language: vd_modbus_rtu_unit in modbus_unit.h, the others in lines_unit.h. It links no client. */
typedef struct vd_unit_language vd_unit_language;

#define VD_UNSAID 32u /* unasked lines that wait for the line to be free */

/* One unit. Read the sets freely; change them only while no exchange is under way. */
typedef struct vd_unit {
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
} vd_unit;

extern const vd_engine vd_unit_engine;

/* Bytes that a unit of this model needs besides its struct. */
size_t vd_unit_size(const vd_model *model, const vd_unit_language *language);
/* Makes a unit with factory defaults in both banks; it must be powered up before it answers. `language`: its end of the
 * model's; the model itself need point to none. `memory`: at least vd_unit_size() bytes, aligned for uint64_t, which
 * the unit keeps using. VD_MEMORY_TOO_SMALL. The engine wants `keep` whenever the stored bank has changed and must be
 * made to last; until it is fed VD_KEPT it says it is busy. */
vd_status vd_unit_start(vd_unit *unit, const vd_model *model, const vd_unit_language *language,
                        const vd_identity *identity, void *memory, size_t size);
/* The supply comes on: live values become the stored ones (what only can be read stays), and address and line
 * settings in the stored bank take force; they may have before, as the model says. It listens once its model says so,
 * or when its button has been held. */
void vd_unit_power_up(vd_unit *unit, uint64_t now);
/* What a slot of it holds, from 1 to as many as its model has, of the settings of which slots have a copy. The set is
 * the unit's; what is put there is in the slot. */
vd_set vd_unit_slot(const vd_unit *unit, uint8_t number);
/* Its button is held from `now` on for so long. */
void vd_unit_hold_button(vd_unit *unit, uint64_t now, uint32_t milliseconds);
/* Whether it takes anything in at this moment. */
bool vd_unit_listens(const vd_unit *unit, uint64_t now);
/* The line setting in force; the address, 0 where its language has none. */
const vd_line *vd_unit_line(const vd_unit *unit);
uint8_t vd_unit_address(const vd_unit *unit);
/* The framing of a unit with registers (modbus.h); NULL: it has none. */
const struct vd_framing *vd_unit_framing(const vd_unit *unit);

/* Has the unit's readings follow a log from now on; NULL: they move as its model says. */
void vd_unit_follow(vd_unit *unit, const vd_unit_log *log);
/* Makes the unit answer to this address from now on, whatever its settings say: for a bench that stages faults. */
void vd_unit_answer_to(vd_unit *unit, uint8_t address);

VD_C_END

#endif
