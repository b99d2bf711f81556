/* SPDX-License-Identifier: MIT
 * What the probes of all languages share. */
#ifndef VD_WIRE_PROBE_PARTS_H
#define VD_WIRE_PROBE_PARTS_H

#include "../core/model/ways.h"
#include "../core/text/storage.h"
#include "verdite/probe.h"

struct vd_probe {
    vd_evidence evidence;
    const vd_desk *desk;
    const vd_model *model;
    uint64_t sent, first;
    uint64_t state[VD_PROBE_STATE / sizeof(uint64_t)]; /* of the language */
};
VD_FITS(vd_probe);

/* Takes note of a byte that was heard, of the unit's: how many, with what errors, since when, and the runs of equal
 * bits in it, which tell of the speed at which it was sent. */
void vd_probe_count(vd_probe *probe, uint64_t heard_at, bool bad);
void vd_probe_hear_runs(vd_probe *probe, uint8_t byte);
/* Microseconds from the last bit sent to the first byte heard. */
uint64_t vd_probe_reply_time(const vd_probe *probe);

#endif
