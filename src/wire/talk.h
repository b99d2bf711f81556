/* SPDX-License-Identifier: MIT
 * What the talks of all languages share. */
#ifndef VD_WIRE_TALK_H
#define VD_WIRE_TALK_H

#include "verdite/wire.h"

/* ---- A job under way: talk.c ---- */

size_t vd_work_size(const vd_model *model);
void vd_work_start(vd_work *work, const vd_model *model, void *memory, vd_fault *fault);
void vd_work_end(vd_work *work, vd_status status);
/* Whether the job is on settings, as opposed to the unit as a whole. */
bool vd_work_is_on_settings(const vd_work *work);
/* What became of the settings from order[from] up to order[end]. */
void vd_work_mark(vd_work *work, unsigned from, unsigned end, vd_outcome outcome);
/* What the job is about just now, for people: the settings from order[from] up to order[end], or its name. */
void vd_work_name(const vd_work *work, unsigned from, unsigned end, vd_writer *writer);

/* ---- The languages ---- */

void vd_modbus_talk_start(vd_modbus_talk *talk, const vd_line *line, uint8_t address, uint32_t latency);
void vd_modbus_talk_begin(vd_modbus_talk *talk, const vd_set *held);
/* The client was fed: goes on when its exchange has ended. */
void vd_modbus_talk_proceed(vd_modbus_talk *talk);

size_t vd_text_talk_size(const vd_model *model);
void vd_text_talk_start(vd_text_talk *talk, void *memory, const vd_line *line, uint32_t latency);
void vd_text_talk_begin(vd_text_talk *talk, const vd_set *held);
void vd_text_talk_log_in(vd_text_talk *talk, const char *password, size_t length);
void vd_text_talk_proceed(vd_text_talk *talk);

#endif
