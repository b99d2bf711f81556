/* SPDX-License-Identifier: MIT
 * Finding a desk among those of several languages. */
#include "verdite/language.h"

const vd_desk *vd_desk_in(const vd_desk *const *desks, const vd_language *language)
{
    while (*desks != NULL && (*desks)->language != language) {
        desks++;
    }
    return *desks;
}

const vd_desk *vd_desk_general(const vd_desk *const *desks)
{
    while (*desks != NULL && !(*desks)->asks_anyone) {
        desks++;
    }
    return *desks;
}
