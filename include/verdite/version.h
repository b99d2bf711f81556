/* SPDX-License-Identifier: MIT
 *
 * Version: of the library whose headers these are; and what makes them usable from C++ as well.
 */
#ifndef VERDITE_VERSION_H
#define VERDITE_VERSION_H

#include <stdint.h>

/* The version's first number: what changes it breaks what is linked. */
#define VD_VERSION_MAJOR 0
/* Its second number. */
#define VD_VERSION_MINOR 1
/* Its third number. */
#define VD_VERSION_PATCH 0
/* A number that grows with the version: two digits each for minor and patch. */
#define VD_VERSION_NUMBER (VD_VERSION_MAJOR * 10000 + VD_VERSION_MINOR * 100 + VD_VERSION_PATCH)

/* The edition of constant tables that are made from a model (verdite tables); it grows where they must be made anew. */
#define VD_TABLES_EDITION 2
#ifdef __cplusplus
/* A static assertion, in C and in C++. */
#define VD_STATIC_ASSERT(holds, words) static_assert(holds, words)
#else
#define VD_STATIC_ASSERT(holds, words) _Static_assert(holds, words)
#endif

/* A size rounded up, so that what is aligned for uint64_t can stand behind it. */
#define VD_ALIGNED(size) (((size_t)(size) + 7u) / 8u * 8u)

/* The memory of what is private, such as `static vd_visit_storage visit;`, and how it is got from there: `vd_visit_in(
 * &visit)`. The caller owns it, and it is not moved while it is in use. It has so many bytes where pointers have up to
 * four, and more: `small`, `large`. */
#define VD_STORAGE(type, small, large)                                                                                 \
    typedef struct type##_storage {                                                                                    \
        uint64_t room[((sizeof(void *) > 4 ? (large) : (small)) + 7u) / 8u];                                           \
    } type##_storage;                                                                                                  \
    static inline type *type##_in(type##_storage *storage)                                                             \
    {                                                                                                                  \
        return (type *)(void *)storage;                                                                                \
    }

/* What stands between these two is declared for C, and is what a shared library shows. */
#if defined(__GNUC__)
#define VD_SHOWN _Pragma("GCC visibility push(default)")
/* Ends what VD_SHOWN begins. */
#define VD_SHOWN_END _Pragma("GCC visibility pop")
#else
#define VD_SHOWN
#define VD_SHOWN_END
#endif
#ifdef __cplusplus
/* Begins what is declared for C. */
#define VD_C_BEGIN                                                                                                     \
    VD_SHOWN extern "C"                                                                                                \
    {
/* Ends what is declared for C. */
#define VD_C_END                                                                                                       \
    }                                                                                                                  \
    VD_SHOWN_END
#else
#define VD_C_BEGIN VD_SHOWN
#define VD_C_END VD_SHOWN_END
#endif

#endif
