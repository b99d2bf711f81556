/* SPDX-License-Identifier: MIT
 * What the talks of all languages share. */
#ifndef VD_WIRE_TALK_H
#define VD_WIRE_TALK_H

#include "verdite/talk.h"

/* ---- A job under way: work.c ---- */

size_t vd_work_size(const vd_model *model);
void vd_work_start(vd_work *work, const vd_model *model, void *memory, vd_fault *fault);
void vd_work_end(vd_work *work, vd_status status);
/* Whether a read goes on without the request that failed: always where the unit itself has answered, and where it did
 * not, unless the one before failed so too. */
bool vd_work_skips(vd_work *work, vd_status status, bool answered);
bool vd_work_is_read(const vd_work *work);
/* Whether the job is on settings, as opposed to the unit as a whole. */
bool vd_work_is_on_settings(const vd_work *work);
/* What became of the settings from order[from] up to order[end]. */
/* Notes that an exchange has ended; `hidden`: it held a secret. */
void vd_work_exchanged(vd_work *work, bool hidden, vd_status status);
void vd_work_mark(vd_work *work, unsigned from, unsigned end, vd_outcome outcome);
/* What the job is about just now, for people: the settings from order[from] up to order[end], or its name. */
void vd_work_name(const vd_work *work, unsigned from, unsigned end, vd_writer *writer);

/* ---- The fitter's end of a language ---- */

typedef struct vd_language {
    /* Bytes that it needs besides what every job does. */
    size_t (*size)(const vd_model *model);
    void (*start)(vd_talk *talk, void *memory, const vd_line *line, uint8_t address, uint32_t latency);
    void (*move)(vd_talk *talk, const vd_link *link, uint32_t latency);
    /* Begins the job that talk->work is about; `held` is what the unit holds. */
    void (*begin)(vd_talk *talk, const vd_set *held);
    void (*forget)(vd_talk *talk); /* wipes what the requests and replies of the job held, where any of it was secret */
    void (*log_in)(vd_talk *talk, const char *password, size_t length);
    /* The exchange was fed: goes on when it has ended. */
    void (*proceed)(vd_talk *talk);
    /* The engine of one exchange, and its state in the talk. */
    const vd_engine *exchange;
    void *(*exchange_of)(vd_talk *talk);
    uint8_t *(*tries)(vd_talk *talk);
    void (*be_patient)(vd_talk *talk);
    bool (*heard_others)(const vd_talk *talk);
    bool (*heard_start)(vd_talk *talk);
    uint32_t (*unexplained)(const vd_talk *talk);
    uint32_t (*disturbed)(const vd_talk *talk);
    bool (*is_hidden)(const vd_talk *talk);
    bool (*rescales_at_once)(const vd_model *model, const uint8_t *which, uint16_t decides);
} vd_language;

extern const vd_language vd_registers_language, vd_lines_language;

#endif
