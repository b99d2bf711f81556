/* SPDX-License-Identifier: MIT
 * A unit that has registers: which call gets which answer. */
#include "parts.h"

#include <string.h>

static size_t responder_size(void)
{
    return VD_ALIGNED(sizeof(vd_modbus_responder));
}

static void answer_identity(vd_unit *unit)
{
    const vd_identity *identity = &unit->identity;
    const uint8_t ids[] = {0, 1, 2, unit->model->identify.serial_object};
    const char *const objects[] = {identity->maker, identity->product, identity->firmware, identity->serial};
    if (unit->model->identify.way != VD_IDENTIFY_OBJECTS) {
        vd_modbus_refuse(responder_of(unit), 1);
        return;
    }
    vd_modbus_answer_identity(responder_of(unit), ids, objects, unit->model->identify.serial_object != 0 ? 4 : 3);
}

/* Whether this unit knows the function, and takes so much in one request: 0, or an exception. */
static uint8_t judge_call(const vd_model *model, const vd_modbus_call *call)
{
    const vd_limits *limits = &model->limits;
    bool coils = vd_registers_table_end(model, VD_COIL) > 0, discrete = vd_registers_table_end(model, VD_DISCRETE) > 0;
    const struct {
        uint8_t function;
        uint16_t most; /* 0: no limit of its own */
        bool known;
    } functions[] = {{VD_MODBUS_READ_COILS, limits->read_bits, coils},
                     {VD_MODBUS_READ_DISCRETE, limits->read_bits, discrete},
                     {VD_MODBUS_READ_HOLDING, limits->read_registers, true},
                     {VD_MODBUS_READ_INPUT, limits->read_registers, true},
                     {VD_MODBUS_WRITE_COIL, 0, coils && !limits->no_single},
                     {VD_MODBUS_WRITE_ONE, 0, !limits->no_single},
                     {VD_MODBUS_WRITE_COILS, limits->write_bits, coils},
                     {VD_MODBUS_WRITE_MANY, limits->write_registers, true},
                     {VD_MODBUS_MASK_WRITE, 0, limits->mask_write},
                     {VD_MODBUS_READ_WRITE, limits->write_registers, limits->read_write}};
    for (size_t i = 0; i < sizeof functions / sizeof functions[0]; i++) {
        if (functions[i].function == call->function) {
            bool too_many = functions[i].most > 0 && call->count > functions[i].most;
            return !functions[i].known ? ILLEGAL_FUNCTION : too_many ? ILLEGAL_VALUE : 0;
        }
    }
    return 0;
}

static void answer_call(vd_unit *unit, const vd_modbus_call *call, uint64_t now)
{
    uint8_t exception = judge_call(unit->model, call);
    if (unit->keep_failed) {
        unit->keep_failed = false;
        vd_modbus_refuse(responder_of(unit), FAILURE);
    } else if (unit->model->store.needed && (now < unit->busy_until || unit->keeping)) {
        vd_modbus_refuse(responder_of(unit), BUSY);
    } else if (exception != 0) {
        vd_modbus_refuse(responder_of(unit), exception);
    } else if (call->function == VD_MODBUS_IDENTIFY) {
        answer_identity(unit);
    } else if (call->function == VD_MODBUS_READ_COILS || call->function == VD_MODBUS_READ_DISCRETE) {
        vd_registers_answer_bits(unit, call);
    } else if (call->function == VD_MODBUS_READ_HOLDING || call->function == VD_MODBUS_READ_INPUT) {
        vd_registers_answer_read(unit, call->function, call->first, call->count);
    } else {
        vd_registers_answer_write(unit, call, now);
    }
}

/* ---- The language ---- */

static size_t registers_size(const vd_unit_language *language)
{
    return responder_size() + language->framing->room;
}

static void registers_start(vd_unit *unit, const vd_serial *line, uint8_t address)
{
    vd_modbus_responder_start(responder_of(unit), unit->language->framing, (uint8_t *)unit->end + responder_size(),
                              line, address, unit->model->reply.usual * 1000u);
}

static const vd_serial *registers_line(const vd_unit *unit)
{
    return &responder_of(unit)->line;
}

static uint8_t *registers_address(const vd_unit *unit)
{
    return &responder_of(unit)->address;
}

static bool registers_answer(vd_unit *unit, uint64_t now)
{
    const vd_modbus_call *call = vd_modbus_responder_call(responder_of(unit));
    if (call != NULL) {
        vd_unit_is_asked(unit, now);
        vd_unit_watch(unit, now);
        vd_unit_move_readings(unit, now);
        answer_call(unit, call, now);
    }
    return call != NULL;
}

const vd_unit_ways vd_registers_unit_ways = {.at_once = true,
                                             .size = registers_size,
                                             .start = registers_start,
                                             .line = registers_line,
                                             .address = registers_address,
                                             .engine = &vd_modbus_responder_engine,
                                             .answer = registers_answer};

const vd_unit_language vd_modbus_rtu_unit = {.ways = &vd_registers_unit_ways, .framing = &vd_rtu_framing};
