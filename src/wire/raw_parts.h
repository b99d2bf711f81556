/* SPDX-License-Identifier: MIT
 * What the raw requests of all languages share. */
#ifndef VD_WIRE_RAW_PARTS_H
#define VD_WIRE_RAW_PARTS_H

#include "../core/model/ways.h"
#include "../core/text/storage.h"
#include "verdite/raw.h"

struct vd_raw {
    const vd_desk *desk;
    const vd_model *model;
    uint8_t reply[VD_RAW_REPLY]; /* units that talk in lines: the lines, each with '\n' behind it */
    size_t reply_length;
    vd_status status;
    bool cut, ended;
    uint64_t state[VD_RAW_STATE / sizeof(uint64_t)]; /* of the language */
};
VD_FITS(vd_raw);

/* Keeps what was heard, as far as there is room. */
void vd_raw_keep(vd_raw *raw, const uint8_t *bytes, size_t count);

#endif
