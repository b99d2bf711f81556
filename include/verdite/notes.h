/* SPDX-License-Identifier: MIT
 *
 * Notes: for each fault of fault_list.h a function that records it, which takes just what its words are about. What is
 * missing or wrong there does not compile.
 *
 *   vd_note_OUT_OF_RANGE(fault, setting, said, allowed)    as vd_fault_note()
 */
#ifndef VERDITE_NOTES_H
#define VERDITE_NOTES_H

#include "verdite/fault.h"

VD_C_BEGIN

/* The shapes, also for whoever makes more of the list (host.h does). Each hands on what records it; the arguments, with
 * the fault before them and without; and what is recorded of these: setting, said, allowed, and three numbers where
 * there are any. */
#define VD_PLAIN_(G, name) G(name, vd_fault_note, (vd_fault * fault), (void), NULL, NULL, NULL)
#define VD_ABOUT_(G, name)                                                                                             \
    G(name, vd_fault_note, (vd_fault * fault, const vd_setting *setting), (const vd_setting *setting), setting, NULL,  \
      NULL)
#define VD_VALUE_(G, name)                                                                                             \
    G(name, vd_fault_note, (vd_fault * fault, const vd_setting *setting, const char *said, const char *allowed),       \
      (const vd_setting *setting, const char *said, const char *allowed), setting, said, allowed)
#define VD_COUNTED_(G, name)                                                                                           \
    G(name, vd_fault_note_numbers,                                                                                     \
      (vd_fault * fault, const vd_setting *setting, const char *said, const char *allowed, int32_t first,              \
       int32_t second),                                                                                                \
      (const vd_setting *setting, const char *said, const char *allowed, int32_t first, int32_t second), setting,      \
      said, allowed, first, second, 0)
#define VD_RULE_(G, name)                                                                                              \
    G(name, vd_fault_note, (vd_fault * fault, const vd_setting *setting, const char *allowed),                         \
      (const vd_setting *setting, const char *allowed), setting, NULL, allowed)
#define VD_SAID_(G, name)                                                                                              \
    G(name, vd_fault_note, (vd_fault * fault, const char *said), (const char *said), NULL, said, NULL)
#define VD_ALLOWED_(G, name)                                                                                           \
    G(name, vd_fault_note, (vd_fault * fault, const char *allowed), (const char *allowed), NULL, NULL, allowed)
#define VD_WORDS_(G, name)                                                                                             \
    G(name, vd_fault_note, (vd_fault * fault, const char *said, const char *allowed),                                  \
      (const char *said, const char *allowed), NULL, said, allowed)
/* Something in a longer text; the place of its first character, from 1, or 0. */
#define VD_PLACED_(G, name)                                                                                            \
    G(name, vd_fault_note_numbers, (vd_fault * fault, const char *said, const char *allowed, int32_t first),           \
      (const char *said, const char *allowed, int32_t first), NULL, said, allowed, first, 0, 0)
#define VD_LIMIT_(G, name)                                                                                             \
    G(name, vd_fault_note_numbers, (vd_fault * fault, const char *allowed, int32_t first),                             \
      (const char *allowed, int32_t first), NULL, NULL, allowed, first, 0, 0)
#define VD_WANTED_(G, name)                                                                                            \
    G(name, vd_fault_note_numbers, (vd_fault * fault, const char *said, int32_t first),                                \
      (const char *said, int32_t first), NULL, said, NULL, first, 0, 0)
#define VD_NUMBER_(G, name)                                                                                            \
    G(name, vd_fault_note_numbers, (vd_fault * fault, int32_t first), (int32_t first), NULL, NULL, NULL, first, 0, 0)
#define VD_NUMBERS_(G, name)                                                                                           \
    G(name, vd_fault_note_numbers, (vd_fault * fault, int32_t first, int32_t second, int32_t third),                   \
      (int32_t first, int32_t second, int32_t third), NULL, NULL, NULL, first, second, third)
/* Of an exchange: who was asked, for how long, how often, or what stands in their place. */
#define VD_EXCHANGE_(G, name)                                                                                          \
    G(name, vd_fault_note_numbers,                                                                                     \
      (vd_fault * fault, const char *said, const char *allowed, int32_t first, int32_t second, int32_t third),         \
      (const char *said, const char *allowed, int32_t first, int32_t second, int32_t third), NULL, said, allowed,      \
      first, second, third)

#define VD_NOTE_(name, note, with_fault, without, ...)                                                                 \
    static inline vd_status vd_note_##name with_fault                                                                  \
    {                                                                                                                  \
        return note(fault, VD_##name, __VA_ARGS__);                                                                    \
    }
#define VD_NOTE_OF_(name, class, code, takes, what, next) VD_##takes##_(VD_NOTE_, name)
VD_FAULT_LIST(VD_NOTE_OF_)
#undef VD_NOTE_OF_
#undef VD_NOTE_

VD_C_END

#endif
