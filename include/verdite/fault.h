/* SPDX-License-Identifier: MIT
 *
 * Fault: what went wrong, as a status with details.
 *
 * Ownership, everywhere in libverdite: the caller owns all memory. Functions keep no reference to what they are handed
 * unless the comment says so; nothing is allocated, so nothing needs closing. Text is UTF-8.
 * Functions return a vd_status; details go to the vd_fault they are given (which may be NULL), where the first fault
 * sticks until vd_fault_clear().
 */
#ifndef VERDITE_FAULT_H
#define VERDITE_FAULT_H

#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>
#include "verdite/fault_list.h"
#include "verdite/version.h"

VD_C_BEGIN

/* How bad a fault is, in order of badness; the tool exits with this number. */
typedef enum vd_class {
    VD_CLASS_FINE = 0,         /* all is as it should be */
    VD_CLASS_NO = 1,           /* the question was answered, and the answer is no */
    VD_CLASS_PARTLY = 2,       /* right as far as can be known; something cannot be */
    VD_CLASS_NOT_VERIFIED = 3, /* not shown to be right */
    VD_CLASS_USAGE = 4,        /* called with wrong words */
    VD_CLASS_FILE = 5,         /* a file, or a value in it, is wrong */
    VD_CLASS_CONTACT = 6,      /* no talk with the unit */
    VD_CLASS_REFUSED = 7,      /* the unit refused */
    VD_CLASS_INTERRUPTED = 8   /* stopped by hand */
} vd_class;

#define VD_FAULT_ENUM_(name, class, code, takes, what, next) VD_##name,
/* Every outcome of every function. VD_OK is 0; the others are listed, with their words, in fault_list.h. */
typedef enum vd_status { VD_FAULT_LIST(VD_FAULT_ENUM_) VD_STATUS_COUNT } vd_status;
#undef VD_FAULT_ENUM_

typedef struct vd_setting vd_setting;
typedef struct vd_model vd_model;

#define VD_SAID_SIZE 96     /* bytes of a fault's `said`: a value as typed, a serial number, a system's message */
#define VD_ALLOWED_SIZE 256 /* bytes of a fault's `allowed`: a range with units, a dozen choices, a rule's sentence */

/* The details of the first fault met. Text in it is always terminated, valid UTF-8 and free of control
 * characters, whatever was typed or heard. */
typedef struct vd_fault {
    vd_status status;              /* what happened; VD_OK: nothing did */
    const vd_setting *setting;     /* the setting to blame, or NULL; lives as long as its model */
    int32_t number[3];             /* meaning: see the words of the status in fault_list.h */
    char said[VD_SAID_SIZE];       /* what was typed or said, cut to what fits */
    char allowed[VD_ALLOWED_SIZE]; /* what would be right, or the sentence of a rule */
} vd_fault;

/* Forgets the fault. A vd_fault set to all zero bytes is clear as well. */
void vd_fault_clear(vd_fault *fault);

/* Records a fault unless one is recorded already or `fault` is NULL; returns `status` for the caller to hand on. Texts
 * may be NULL; they are copied, made printable and cut (with "...") to what fits. For a status that is known only when
 * it happens; each status that is known beforehand has a function of its own in notes.h. */
vd_status vd_fault_note(vd_fault *fault, vd_status status, const vd_setting *setting, const char *said,
                        const char *allowed);
/* The same with the numbers that the words mention. */
vd_status vd_fault_note_numbers(vd_fault *fault, vd_status status, const vd_setting *setting, const char *said,
                                const char *allowed, int32_t first, int32_t second, int32_t third);

/* A short code of a status for the telephone, e.g. "B2"; "" for those that are not about contact. A: the computer's
 * side, B: the line, C: the unit. */
const char *vd_status_code(vd_status status);
/* The class of a status. */
vd_class vd_status_class(vd_status status);

/* Writes the words of a fault to `text`, terminated: what happened and what it means for the unit, then (when
 * `with_next`) what to do next. Returns the length written, without the terminator; cuts at `size`. */
size_t vd_fault_words(const vd_fault *fault, bool with_next, char *text, size_t size);

VD_C_END

#endif
