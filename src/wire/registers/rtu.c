/* SPDX-License-Identifier: MIT
 * Modbus RTU: bytes as they are, parted by silence (SL 2.5.1). */
#include "parts.h"

static uint32_t characters(uint32_t bytes)
{
    return bytes;
}

static const uint8_t *put(const vd_modbus_frame *frame, uint8_t *room, uint16_t *count)
{
    (void)room;
    *count = frame->length;
    return frame->bytes;
}

static unsigned take(vd_modbus_ear *ear, uint8_t character, uint8_t *bytes)
{
    (void)ear;
    bytes[0] = character;
    return 1;
}

const vd_framing vd_rtu_framing = {.by_silence = true,
                                   .least_data_bits = 8,
                                   .silence = vd_modbus_silence,
                                   .characters = characters,
                                   .put = put,
                                   .take = take};
