/* SPDX-License-Identifier: MIT
 * What the probes of all languages share. */
#ifndef VD_WIRE_PROBE_H
#define VD_WIRE_PROBE_H

#include "modbus/modbus.h"
#include "verdite/probe.h"

/* Takes note of the runs of equal bits in a byte that was heard: they tell of the speed at which it was sent. */
void vd_probe_hear_runs(vd_probe *probe, uint8_t byte);

void vd_modbus_probe_begin(vd_probe *probe, uint64_t now, const vd_line *line, uint8_t address, uint32_t limit,
                           uint32_t gap);
void vd_modbus_probe_feed(vd_probe *probe, const vd_event *event);
void vd_modbus_probe_wants(const vd_probe *probe, vd_wants *wants);

void vd_text_probe_begin(vd_probe *probe, uint64_t now, const vd_line *line, uint32_t limit, uint32_t gap);
void vd_text_probe_feed(vd_probe *probe, const vd_event *event);
void vd_text_probe_wants(const vd_probe *probe, vd_wants *wants);

#endif
