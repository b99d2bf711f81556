/* SPDX-License-Identifier: MIT
 *
 * Language: how units talk, as constant values. A model points to its language, and whoever names one language links
 * one. What only a desk needs (judging models, searching, raw requests, explaining) is a second value, so that a
 * firmware links none of it; the unit's own end is a third, in unit.h.
 */
#ifndef VERDITE_LANGUAGE_H
#define VERDITE_LANGUAGE_H

#include "verdite/engine.h"
#include "verdite/model_questions.h"

VD_C_BEGIN

/* How the fitter's end does a job in a language; its own files hold how. */
typedef struct vd_speech vd_speech;

/* A language. */
typedef struct vd_language {
    const char *name;   /* as model files have it, e.g. "modbus-rtu" */
    const char *title;  /* for people */
    bool has_address;   /* units have one, so that several share a line; else each is alone */
    bool has_check;     /* what was damaged on the line is seen */
    bool names_answers; /* an answer says by itself what it answers */
    bool has_words;     /* values are fields of records, each with a word (vd_field); else in registers (vd_place) */
    bool has_talker;    /* each line bears the model's talker */
    bool says_unasked;  /* units may say something of themselves */
    const vd_speech *speech; /* how the fitter's end does a job in it */
    const void *own;         /* what only its own files read */
} vd_language;

/* How a desk does what it does in a language; its own files hold how. */
typedef struct vd_desk_ways vd_desk_ways;

/* A language at a desk, where models are judged and units are looked for. */
struct vd_desk {
    const vd_language *language; /* whose desk it is */
    bool asks_anyone;            /* it has a question that needs no model; one desk of all that are searched with has */
    bool is_text;                /* what is said are characters */
    const vd_desk_ways *ways;    /* how it does all that */
};

/* Says where a setting lives, for people. */
void vd_desk_tell_place(const vd_desk *desk, const vd_model *model, const vd_setting *setting, vd_writer *writer);
/* Whether bytes that went out are a request in this language. */
bool vd_desk_is_request(const vd_desk *desk, const uint8_t *bytes, size_t count);
/* Whether what was heard so far is whole. */
bool vd_desk_is_whole(const vd_desk *desk, const uint8_t *bytes, size_t count);
/* Adds in words what was said, for a trace; nothing where it says so plainly itself. */
void vd_desk_explain(const vd_desk *desk, const uint8_t *bytes, size_t count, bool from_unit, vd_writer *writer);

/* The desk of a language among some, NULL behind the last; NULL: it is not among them. */
const vd_desk *vd_desk_in(const vd_desk *const *desks, const vd_language *language);
/* The one that has a question which needs no model, or NULL. */
const vd_desk *vd_desk_general(const vd_desk *const *desks);

VD_C_END

#endif
