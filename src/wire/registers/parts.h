/* SPDX-License-Identifier: MIT
 * What the files about registers share. */
#ifndef VD_WIRE_REGISTERS_PARTS_H
#define VD_WIRE_REGISTERS_PARTS_H

#include "verdite/modbus.h"
#include "verdite/registers.h"
#include "verdite/rules.h"
#include "verdite/talk.h"
#include "../talk_parts.h"

struct vd_modbus_client {
    vd_modbus_manner manner;
    uint8_t *room; /* of the framing, the caller's */
    vd_modbus_ear ear;
    vd_modbus_frame request, poll;
    uint8_t reply[VD_MODBUS_FRAME];
    uint16_t reply_length;
    uint8_t state, tries_done, owed, reply_errors;
    bool repeatable, polling, overlong, poll_for_busy;
    vd_status status, seen, settled; /* result; the best clue so far; result held back while the line drains */
    uint64_t wake, now, first_sent, last_sent, reply_from, last_heard, listen_end, busy_end;
    uint32_t first_wait;
    uint8_t stray_address, stray_bytes;
    uint8_t echo;          /* vd_echo */
    bool echo_over;        /* of this try: what came back of our own bytes is behind us */
    uint16_t echoed;       /* bytes of this try that came back so far */
    bool patient;          /* listens on behind the reply, for somebody else */
    bool leaves;           /* the unit goes after this request: that it takes it is all that it says */
    bool deaf;             /* takes nothing for a reply, and waits for as long as one takes */
    uint8_t last_lingered; /* the byte heard last while it does */
    bool others;           /* somebody else did reply */
    uint32_t unexplained;  /* bytes and whole replies that belong to no request, since it was started */
    vd_tally tally;
};
VD_FITS(vd_modbus_client);

/* ---- The talk: talk.c, plan.c, writes.c ---- */

#define VD_MODBUS_MOST_MERGED 8u /* registers with fields of bits that go out in one request */

/* The talk in registers. */
typedef struct vd_modbus_talk {
    vd_job *job;
    vd_modbus_client client;
    uint16_t first_register, fetched[VD_MODBUS_MOST_MERGED];
    uint16_t last_count; /* of the request before, where that was a read */
    uint8_t address, next_object, last_function;
    bool fetching;        /* the registers are read before some of their bits are written */
    bool patient, others; /* listens for somebody else who has this address; there was one */
    bool spacing;         /* this exchange only stands between two whose replies could be taken for each other */
} vd_modbus_talk;

static inline const vd_framing *vd_framing_of(const vd_language *language)
{
    return language->own;
}

/* The check so far, with one byte more. */
#define VD_MODBUS_CRC_START 0xFFFFu
uint16_t vd_modbus_crc_add(uint16_t crc, uint8_t byte);
/* Whether the last two bytes are the check of those before; false below 4 bytes. */
bool vd_modbus_crc_fits(const uint8_t *bytes, size_t count);

/* Bytes of data that belong into the reply to a read. */
unsigned vd_modbus_bytes_asked(const uint8_t *request);
/* The function that reads a table. */
uint8_t vd_modbus_read_function(uint8_t table);

/* Whether the request that starts at order[at] writes fields of bits. */
/* See vd_talk_rescales_at_once(). */
bool vd_modbus_rescales_at_once(const vd_model *model, const uint8_t *which, uint16_t decides);
bool vd_modbus_plan_has_fields(const vd_plan *plan, const vd_model *model, uint16_t at);

/* ---- writes.c ---- */

/* Puts the request at hand of a write into the client; VD_OK, or why a value does not fit. */
vd_status vd_modbus_ask_writes(vd_modbus_talk *talk);
/* Writes registers: with function 6 where it is one and the unit knows it, else 16. */
void vd_modbus_ask_registers(vd_modbus_talk *talk, uint16_t first, const uint16_t *registers, uint16_t count);
/* Whether the request at hand has to read its registers first. */
bool vd_modbus_must_fetch(const vd_modbus_talk *talk);

void vd_frame_begin(vd_modbus_frame *frame, uint8_t address, uint8_t function);
void vd_frame_byte(vd_modbus_frame *frame, uint8_t byte);
void vd_frame_word(vd_modbus_frame *frame, uint16_t word);
void vd_frame_end(vd_modbus_frame *frame);

/* ---- At a desk: judge.c, explain.c, probe.c, raw.c ---- */

extern const vd_speech vd_registers_speech;
extern const vd_desk_ways vd_registers_ways;

const char *vd_registers_judge_setting(const vd_model *model, const vd_setting *setting, vd_where *where);
void vd_registers_judge(const vd_model *model, uint16_t *order, vd_judge *judge);
void vd_registers_tell_place(const vd_model *model, const vd_setting *setting, vd_writer *writer);
void vd_registers_probe_begin(struct vd_probe *probe, uint64_t now, const vd_serial *line, uint8_t address,
                              uint32_t limit, uint32_t gap);
void vd_registers_probe_listen_on(struct vd_probe *probe, uint32_t longer);
void vd_registers_probe_feed(struct vd_probe *probe, const vd_event *event);
void vd_registers_probe_wants(const struct vd_probe *probe, vd_wants *wants);
bool vd_registers_probe_ended(const struct vd_probe *probe);
vd_status vd_registers_raw_begin(struct vd_raw *raw, uint64_t now, const vd_serial *line, uint8_t address,
                                 uint32_t latency, const char *typed, vd_fault *fault);
void vd_registers_raw_feed(struct vd_raw *raw, const vd_event *event);
void vd_registers_raw_wants(const struct vd_raw *raw, vd_wants *wants);
const uint8_t *vd_registers_raw_sent(const struct vd_raw *raw, size_t *length);
vd_status vd_registers_raw_note(const struct vd_raw *raw, vd_status status, vd_fault *fault);

static inline uint16_t vd_word_at(const uint8_t *bytes)
{
    return (uint16_t)(bytes[0] << 8 | bytes[1]);
}

#endif
