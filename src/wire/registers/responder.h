/* SPDX-License-Identifier: MIT
 * The unit's end of the line, as its own files see it. */
#ifndef VD_WIRE_REGISTERS_RESPONDER_H
#define VD_WIRE_REGISTERS_RESPONDER_H

#include "../../core/text/storage.h"
#include "verdite/modbus_unit.h"

struct vd_modbus_responder {
    const vd_framing *framing;
    uint8_t *room;
    vd_modbus_ear ear;
    vd_serial line;
    uint8_t address;
    uint32_t turnaround; /* microseconds from the last bit heard to the first sent; at least the frame silence */
    uint8_t frame[VD_MODBUS_FRAME];
    uint16_t length;
    uint8_t state;
    bool damaged;
    vd_modbus_frame reply;
    vd_modbus_call call;
    uint64_t wake, last_heard;
};
VD_FITS(vd_modbus_responder);

#endif
