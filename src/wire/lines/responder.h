/* SPDX-License-Identifier: MIT
 * The unit's end of the line, as its own files see it. */
#ifndef VD_WIRE_LINES_RESPONDER_H
#define VD_WIRE_LINES_RESPONDER_H

#include "../../core/text/storage.h"
#include "verdite/lines_unit.h"

struct vd_lines_responder {
    const vd_manner *manner;
    vd_serial line;
    const char *talker;
    char *heard, *reply; /* memory of the caller's: VD_LONGEST_LINE and VD_LINES_REPLY */
    vd_writer writer;
    uint32_t turnaround;
    uint16_t length, at, longest; /* of the line; how far it is answered; most that is taken */
    uint16_t sentence;
    uint8_t state, error_count;
    int16_t errors[VD_LINES_ERRORS];
    bool echoes, overlong, damaged, refused, answered, calling;
    vd_lines_call call;
    uint64_t wake, last_heard;
};
VD_FITS(vd_lines_responder);

#endif
