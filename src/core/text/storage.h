/* SPDX-License-Identifier: MIT
 * Whether what is private fits the memory that a caller has for it (VD_STORAGE). */
#ifndef VD_CORE_STORAGE_H
#define VD_CORE_STORAGE_H

#include "verdite/version.h"

#define VD_FITS(type)                                                                                                  \
    _Static_assert(sizeof(type) <= sizeof(type##_storage) && _Alignof(type) <= _Alignof(type##_storage),               \
                   "there is more room to be kept for it in its public header")

#endif
