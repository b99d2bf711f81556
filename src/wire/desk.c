/* SPDX-License-Identifier: MIT
 * Finding a desk among those of several languages, and what a desk says of what it is shown. */
#include "../core/model/ways.h"

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

void vd_desk_tell_place(const vd_desk *desk, const vd_model *model, const vd_setting *setting, vd_writer *writer)
{
    desk->ways->tell_place(model, setting, writer);
}

bool vd_desk_is_request(const vd_desk *desk, const uint8_t *bytes, size_t count)
{
    return desk->ways->is_request(desk, bytes, count);
}

bool vd_desk_is_whole(const vd_desk *desk, const uint8_t *bytes, size_t count)
{
    return desk->ways->is_whole(desk, bytes, count);
}

void vd_desk_explain(const vd_desk *desk, const uint8_t *bytes, size_t count, bool from_unit, vd_writer *writer)
{
    desk->ways->explain(desk, bytes, count, from_unit, writer);
}
