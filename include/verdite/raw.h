/* SPDX-License-Identifier: MIT
 *
 * Raw: one request as a person types it, for what a model does not know yet.
 */
#ifndef VERDITE_RAW_H
#define VERDITE_RAW_H

#include "verdite/language.h"

VD_C_BEGIN

#define VD_RAW_REPLY 4096u /* bytes of a reply that are kept */

/* One request as a person types it, for what a model does not know yet, sent once; everything that comes back. */
typedef struct vd_raw vd_raw;
VD_STORAGE(vd_raw, 6464, 6464)

/* The engine of a vd_raw. */
extern const vd_engine vd_raw_engine;

/* Begins a request to a unit of this model. `typed`: for Modbus the function and its data in hexadecimal, address and
 * check are added; else a line in the unit's manner, whose end (and of sentences the talker and the check) is
 * added. VD_WRONG_WORDS where it cannot be sent, with what is allowed. */
vd_status vd_raw_begin(vd_raw *raw, uint64_t now, const vd_desk *desk, const vd_model *model, const vd_serial *line,
                       uint8_t address, uint32_t latency, const char *typed, vd_fault *fault);
/* Whether it has ended, and how: VD_OK when an answer came that says nothing else. A refusal is an answer too. */
bool vd_raw_ended(const vd_raw *raw, vd_status *status);
/* What was sent, as it was sent. */
const uint8_t *vd_raw_sent(const vd_raw *raw, size_t *length);
/* What came back; of units that talk in lines the lines, each with '\n' behind it. `*cut`: there was more. */
const uint8_t *vd_raw_reply(const vd_raw *raw, size_t *length, bool *cut);
/* Records why it ended with a status other than VD_OK. */
vd_status vd_raw_note(const vd_raw *raw, vd_status status, vd_fault *fault);

VD_C_END

#endif
