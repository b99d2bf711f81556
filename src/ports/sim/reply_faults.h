/* SPDX-License-Identifier: MIT
 * What a bench does to a unit's replies when it is told to. */
#ifndef VD_SIM_REPLY_FAULTS_H
#define VD_SIM_REPLY_FAULTS_H

#include "verdite/modbus.h"
#include "verdite/sim.h"

/* Copies the `number`th reply (from 1) to `to`, which has room for MOST_SPOILT bytes more than the reply, with the
 * faults due. Returns the length; 0 when no reply is to be sent. */
size_t spoil_reply(const vd_framing *framing, const vd_bench_faults *faults, uint64_t number, const uint8_t *reply,
                   size_t count, uint8_t *to);

/* The same for units that talk in lines. */
size_t spoil_lines(const vd_bench_faults *faults, uint64_t number, const uint8_t *reply, size_t count, uint8_t *to);

#define MOST_SPOILT 128u /* bytes that may come to a reply */

#endif
