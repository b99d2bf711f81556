/* SPDX-License-Identifier: MIT
 *
 * Fault values: for each fault of fault_list.h a function that makes one on the spot, on a computer, where 400 bytes
 * are nothing: vd_fault_of_OUT_OF_RANGE(setting, said, allowed) is what vd_note_OUT_OF_RANGE() would record.
 */
#ifndef VERDITE_FAULT_VALUES_H
#define VERDITE_FAULT_VALUES_H

#include "verdite/notes.h"

VD_C_BEGIN

#define VD_FAULT_OF_(name, note, with_fault, without, ...)                                                             \
    static inline vd_fault vd_fault_of_##name without                                                                  \
    {                                                                                                                  \
        vd_fault own;                                                                                                  \
        vd_fault_clear(&own);                                                                                          \
        note(&own, VD_##name, __VA_ARGS__);                                                                            \
        return own;                                                                                                    \
    }
#define VD_FAULT_VALUE_OF_(name, class, code, takes, what, next) VD_##takes##_(VD_FAULT_OF_, name)
VD_FAULT_LIST(VD_FAULT_VALUE_OF_)
#undef VD_FAULT_VALUE_OF_
#undef VD_FAULT_OF_

VD_C_END

#endif
