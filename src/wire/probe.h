/* SPDX-License-Identifier: MIT
 * What the probes of all languages share. */
#ifndef VD_WIRE_PROBE_H
#define VD_WIRE_PROBE_H

#include "verdite/probe.h"

/* Takes note of a byte that was heard, of the unit's: how many, with what errors, since when, and the runs of equal
 * bits in it, which tell of the speed at which it was sent. */
void vd_probe_count(vd_probe *probe, uint64_t heard_at, bool bad);
void vd_probe_hear_runs(vd_probe *probe, uint8_t byte);
/* Microseconds from the last bit sent to the first byte heard. */
uint64_t vd_probe_reply_time(const vd_probe *probe);

#endif
