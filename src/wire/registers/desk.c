/* SPDX-License-Identifier: MIT
 * Units with registers at a desk, whatever the framing. */
#include "parts.h"

static bool suits(const vd_desk *desk, const vd_serial *line)
{
    return line->data_bits >= vd_framing_of(desk->language)->least_data_bits;
}

/* Who tells by registers who it is has to be asked with its model. */
static bool is_general(const vd_model *model)
{
    return model->identify.way == VD_IDENTIFY_OBJECTS;
}

static bool is_request(const vd_desk *desk, const uint8_t *bytes, size_t count)
{
    uint8_t frame[VD_MODBUS_FRAME];
    bool ends = false;
    uint16_t length = vd_framing_open(vd_framing_of(desk->language), bytes, count, frame, &ends);
    return vd_modbus_crc_fits(frame, length);
}

static bool is_whole(const vd_desk *desk, const uint8_t *bytes, size_t count)
{
    const vd_framing *framing = vd_framing_of(desk->language);
    uint8_t frame[VD_MODBUS_FRAME];
    bool ends = false;
    uint16_t length = vd_framing_open(framing, bytes, count, frame, &ends);
    bool whole = framing->by_silence ? vd_modbus_reply_length(frame, length) == (int)length : ends;
    return whole || length >= VD_MODBUS_FRAME;
}

static void explain(const vd_desk *desk, const uint8_t *bytes, size_t count, bool from_unit, vd_writer *writer)
{
    uint8_t frame[VD_MODBUS_FRAME];
    bool ends = false;
    uint16_t length = vd_framing_open(vd_framing_of(desk->language), bytes, count, frame, &ends);
    vd_modbus_explain(frame, length, from_unit, writer);
}

const vd_desk_ways vd_registers_ways = {.judge_setting = vd_registers_judge_setting,
                                        .judge = vd_registers_judge,
                                        .tell_place = vd_registers_tell_place,
                                        .suits = suits,
                                        .is_general = is_general,
                                        .probe_begin = vd_registers_probe_begin,
                                        .probe_listen_on = vd_registers_probe_listen_on,
                                        .probe_feed = vd_registers_probe_feed,
                                        .probe_wants = vd_registers_probe_wants,
                                        .probe_ended = vd_registers_probe_ended,
                                        .raw_begin = vd_registers_raw_begin,
                                        .raw_feed = vd_registers_raw_feed,
                                        .raw_wants = vd_registers_raw_wants,
                                        .raw_sent = vd_registers_raw_sent,
                                        .raw_note = vd_registers_raw_note,
                                        .is_request = is_request,
                                        .is_whole = is_whole,
                                        .explain = explain};
