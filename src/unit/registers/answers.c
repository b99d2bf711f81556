/* SPDX-License-Identifier: MIT
 * A unit that has registers: how they answer to reads, writes, storing and orders. */
#include "../parts.h"

#include "verdite/modbus_unit.h"
#include "verdite/registers.h"

#include <string.h>

static vd_modbus_responder *responder_of(const vd_unit *unit)
{
    return unit->end;
}

static size_t responder_size(void)
{
    return VD_ALIGNED(sizeof(vd_modbus_responder));
}

/* AP 7: exception 1 is also the word of a unit that is in the wrong state for what it is asked; a login is wanted. */
enum {
    WRONG_STATE = 1,
    ILLEGAL_FUNCTION = 1,
    ILLEGAL_ADDRESS = 2,
    ILLEGAL_VALUE = 3,
    FAILURE = 4,
    ACKNOWLEDGE = 5,
    BUSY = 6
};

/* AP 7: exception 1 is also the word of a unit that is in the wrong state for what it is asked. */
static uint8_t login_wanted(const vd_unit *unit)
{
    return unit->model->login.refusal != 0 ? unit->model->login.refusal : 1;
}

static bool in_hole(const vd_model *model, vd_table table, uint32_t first, uint32_t end)
{
    for (uint16_t i = 0; i < model->hole_count; i++) {
        const vd_hole *hole = &model->holes[i];
        if (hole->table == table && first <= hole->last && end > hole->first) {
            return true;
        }
    }
    return false;
}

static uint32_t end_of(const vd_place *place)
{
    return (uint32_t)place->address + place->words;
}

static uint32_t table_end(const vd_model *model, vd_table table)
{
    uint32_t end = 0;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_place *place = &model->settings[i].place;
        end = place->table == table && end_of(place) > end ? end_of(place) : end;
    }
    return end;
}

/* This variant or firmware does not have it. */
static bool is_absent(const vd_unit *unit, uint16_t setting)
{
    return unit->model->settings[setting].conditional && vd_set_lacks(&unit->live, setting);
}

/* Only a fitter may read it, and nobody has logged in. What nobody ever reads is filled with zeros instead. */
static bool is_barred(const vd_unit *unit, uint16_t setting)
{
    return unit->model->settings[setting].read_by == VD_FITTER && !vd_unit_allows(unit, VD_FITTER);
}

/* Whether a stretch touches a setting of which this holds. */
static bool touches(const vd_unit *unit, vd_table table, uint32_t first, uint32_t end,
                    bool (*holds)(const vd_unit *unit, uint16_t setting))
{
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        const vd_place *place = &unit->model->settings[i].place;
        if (place->table == table && place->address < end && end_of(place) > first && holds(unit, i)) {
            return true;
        }
    }
    return false;
}

/* Lays the part of one setting's registers that lies in first..first+count-1 over `registers`. */
static void lay(const vd_set *bank, uint16_t setting, uint32_t first, uint16_t count, uint16_t *registers)
{
    const vd_place *place = &bank->model->settings[setting].place;
    uint16_t own[64] = {0};
    if (place->address >= first + count || end_of(place) <= first) {
        return;
    }
    vd_registers_put(bank, setting, own, NULL);
    for (uint32_t i = 0; i < place->words; i++) {
        uint32_t at = place->address + i;
        if (at >= first && at < first + count) { /* fields of bits share a register */
            registers[at - first] = (uint16_t)(place->bits > 0 ? registers[at - first] | own[i] : own[i]);
        }
    }
}

static void lay_text(const vd_place *place, const char *text, uint32_t first, uint16_t count, uint16_t *registers)
{
    size_t length = strlen(text);
    for (uint32_t i = 0; i < 2u * place->words && i < length; i++) {
        uint32_t at = place->address + i / 2;
        if (at >= first && at < first + count) {
            registers[at - first] |= (uint16_t)((uint8_t)text[i] << (i % 2 == 0 ? 8 : 0));
        }
    }
}

/* Whether the stretch lies in the registers that hold the identity; if so, lays it over `registers`. */
static bool lay_identity(const vd_unit *unit, vd_table table, uint32_t first, uint16_t count, uint16_t *registers)
{
    const vd_identify *identify = &unit->model->identify;
    const struct {
        const vd_place *place;
        const char *text;
    } parts[] = {{&identify->maker_place, unit->identity.maker},
                 {&identify->product_place, unit->identity.product},
                 {&identify->firmware_place, unit->identity.firmware},
                 {&identify->serial_place, unit->identity.serial}};
    bool any = false;
    for (size_t i = 0; i < sizeof parts / sizeof parts[0]; i++) {
        const vd_place *place = parts[i].place;
        if (place->words > 0 && place->table == table && first < (uint32_t)place->address + place->words &&
            place->address < first + count) {
            any = true;
            lay_text(place, parts[i].text, first, count, registers);
        }
    }
    return any;
}

static bool outside(const vd_unit *unit, vd_table table, uint32_t first, uint32_t end)
{
    return end > table_end(unit->model, table) || in_hole(unit->model, table, first, end) ||
           touches(unit, table, first, end, is_absent);
}

static bool readable(const vd_model *model, uint16_t setting, vd_table table)
{
    return model->settings[setting].place.table == table && vd_setting_is_shown(&model->settings[setting]);
}

static void answer_bits(vd_unit *unit, const vd_modbus_call *call)
{
    vd_table table = call->function == VD_MODBUS_READ_COILS ? VD_COIL : VD_DISCRETE;
    uint8_t bits[VD_MODBUS_MOST_READ_BITS / 8] = {0};
    if (outside(unit, table, call->first, (uint32_t)call->first + call->count)) {
        vd_modbus_refuse(responder_of(unit), ILLEGAL_ADDRESS);
        return;
    }
    if (touches(unit, table, call->first, (uint32_t)call->first + call->count, is_barred)) {
        vd_modbus_refuse(responder_of(unit), login_wanted(unit));
        return;
    }
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        uint32_t at = unit->model->settings[i].place.address;
        uint16_t bit = 0;
        if (readable(unit->model, i, table) && at >= call->first && at < (uint32_t)call->first + call->count) {
            vd_registers_put(vd_unit_shown(unit, i), i, &bit, NULL);
            bits[(at - call->first) / 8] |= (uint8_t)(bit << (at - call->first) % 8);
        }
    }
    vd_modbus_answer_bits(responder_of(unit), bits);
}

static void answer_read(vd_unit *unit, uint8_t function, uint32_t first, uint16_t count)
{
    const vd_model *model = unit->model;
    vd_table table = function == VD_MODBUS_READ_INPUT ? VD_INPUT : VD_HOLDING;
    uint16_t registers[VD_MODBUS_MOST_READ] = {0};
    const vd_set *bank = NULL;
    bool command = table == VD_HOLDING && model->store.needed && first == model->store.address && count == 1;
    if (table == VD_HOLDING && model->store.proof == VD_PROOF_BANK && first >= model->store.bank_offset) {
        bank = &unit->stored;
        first -= model->store.bank_offset;
    }
    bool identity = lay_identity(unit, table, first, count, registers);
    if (!command && !identity && outside(unit, table, first, first + count)) {
        vd_modbus_refuse(responder_of(unit), ILLEGAL_ADDRESS);
        return;
    }
    if (touches(unit, table, first, first + count, is_barred)) {
        vd_modbus_refuse(responder_of(unit), login_wanted(unit));
        return;
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (readable(model, i, table) && !command) {
            lay(bank != NULL && !vd_setting_is(&model->settings[i], VD_TYPE_RUNS) ? bank : vd_unit_shown(unit, i), i,
                first, count, registers);
        }
    }
    vd_modbus_answer_registers(responder_of(unit), registers);
}

/* ---- Writing ---- */

static bool writes_coils(const vd_modbus_call *call)
{
    return call->function == VD_MODBUS_WRITE_COIL || call->function == VD_MODBUS_WRITE_COILS;
}

static uint16_t written_word(const vd_modbus_call *call, uint32_t n)
{
    unsigned word = writes_coils(call) ? (unsigned)call->data[n / 8] >> n % 8 & 1u
                                       : (unsigned)call->data[2 * n] << 8 | call->data[2 * n + 1];
    return (uint16_t)word;
}

/* Stages every setting that starts at this register or coil; returns how many words they are, 0 when there is none or
 * one reaches beyond `room`. */
static uint32_t stage_at(vd_unit *unit, vd_table table, uint32_t address, const uint16_t *words, uint32_t room)
{
    uint32_t taken = 0;
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        const vd_setting *s = &unit->model->settings[i];
        if (s->place.table != table || s->place.address != address || s->access == VD_READ_ONLY) {
            continue;
        }
        if (s->place.words > room) {
            return 0;
        }
        vd_registers_take(&unit->staged, i, words);
        taken = s->place.words;
    }
    return taken;
}

/* Function 22: the register as it is, with some of its bits replaced. */
static uint16_t masked(const vd_unit *unit, const vd_modbus_call *call)
{
    uint16_t now = 0;
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        if (unit->model->settings[i].place.table == VD_HOLDING) {
            lay(&unit->live, i, call->first, 1, &now);
        }
    }
    return (uint16_t)((now & call->keep) | (call->set & ~call->keep));
}

/* Whether a holding register is not the first one of its setting. */
static bool is_inside(const vd_unit *unit, uint32_t address)
{
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        const vd_place *place = &unit->model->settings[i].place;
        if (place->table == VD_HOLDING && address > place->address && address < end_of(place)) {
            return true;
        }
    }
    return false;
}

static bool was_written(const vd_unit *unit, uint16_t setting, vd_table table, const vd_modbus_call *call)
{
    const vd_setting *s = &unit->model->settings[setting];
    return s->access != VD_READ_ONLY && s->place.table == table && s->place.address >= call->first &&
           s->place.address < (uint32_t)call->first + call->count;
}

static bool may_write(const vd_unit *unit)
{
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        if (unit->touched[i] != 0 && !vd_unit_allows(unit, unit->model->settings[i].written_by)) {
            return false;
        }
    }
    return true;
}

/* Puts what is to be written into the staged bank; returns 0 or an exception. */
static uint8_t stage(vd_unit *unit, const vd_modbus_call *call)
{
    vd_table table = writes_coils(call) ? VD_COIL : VD_HOLDING;
    uint32_t end = (uint32_t)call->first + call->count;
    vd_set_copy(&unit->staged, &unit->live);
    if (touches(unit, table, call->first, end, is_absent)) {
        return ILLEGAL_ADDRESS;
    }
    for (uint32_t done = 0; done < call->count;) {
        uint16_t words[64];
        uint32_t room = call->count - done;
        for (uint32_t i = 0; i < room && i < 64; i++) {
            words[i] = call->function == VD_MODBUS_MASK_WRITE ? masked(unit, call) : written_word(call, done + i);
        }
        uint32_t taken = stage_at(unit, table, call->first + done, words, room);
        if (taken == 0) {
            return ILLEGAL_ADDRESS;
        }
        done += taken;
    }
    vd_set_reinterpret(&unit->staged);
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        unit->touched[i] = was_written(unit, i, table, call);
    }
    if (!may_write(unit)) {
        return login_wanted(unit);
    }
    return vd_unit_accepts_staged(unit) ? 0 : ILLEGAL_VALUE;
}

static bool is_command(const vd_modbus_call *call, uint16_t address)
{
    return call->first == address && call->count == 1 &&
           (call->function == VD_MODBUS_WRITE_ONE || call->function == VD_MODBUS_WRITE_MANY);
}

static void store(vd_unit *unit, uint64_t now)
{
    if (!vd_unit_may_store(unit)) {
        vd_modbus_refuse(responder_of(unit), ILLEGAL_VALUE);
        return;
    }
    vd_unit_store(unit, now);
    vd_modbus_refuse(responder_of(unit), ACKNOWLEDGE);
}

/* Whether this writes the password to where it is wanted; if so, answers. */
static bool log_in(vd_unit *unit, const vd_modbus_call *call)
{
    const vd_login *login = &unit->model->login;
    const vd_place *place = login->address != 0 ? &unit->model->settings[login->setting].place : NULL;
    bool written = call->function == VD_MODBUS_WRITE_ONE || call->function == VD_MODBUS_WRITE_MANY;
    uint16_t words[64];
    if (place == NULL || !written || call->first != login->address || call->count != place->words) {
        return false;
    }
    for (uint8_t i = 0; i < place->words && i < 64; i++) {
        words[i] = written_word(call, i);
    }
    vd_registers_take(&unit->staged, login->setting, words);
    vd_value said = vd_set_get(&unit->staged, login->setting);
    vd_unit_log_in(unit, &said) ? vd_modbus_answer_done(responder_of(unit))
                                : vd_modbus_refuse(responder_of(unit), ILLEGAL_VALUE);
    vd_set_forget(&unit->staged, login->setting);
    return true;
}

/* A unit that takes one setting after the other keeps what it took before it refuses one. */
static uint8_t take_one_by_one(vd_unit *unit, const vd_modbus_call *call, uint64_t now)
{
    vd_modbus_call one = *call;
    uint32_t end = (uint32_t)call->first + call->count;
    for (uint32_t at = call->first; at < end; at += one.count) {
        one.first = (uint16_t)at;
        one.data = call->data + 2 * (at - call->first);
        one.count = 1;
        while (at + one.count < end && is_inside(unit, at + one.count)) {
            one.count++;
        }
        uint8_t exception = stage(unit, &one);
        if (exception != 0) {
            return exception;
        }
        vd_unit_take_staged(unit, now);
    }
    return 0;
}

static void answer_write(vd_unit *unit, const vd_modbus_call *call, uint64_t now)
{
    const vd_model *model = unit->model;
    bool allowed = vd_unit_allows_orders(unit);
    if (log_in(unit, call)) {
        return;
    }
    if (!vd_unit_takes_changes(unit, now)) {
        vd_modbus_ignore(responder_of(unit));
        return;
    }
    bool to_store = model->store.needed && is_command(call, model->store.address);
    if (to_store && written_word(call, 0) == model->store.value) {
        allowed ? store(unit, now) : vd_modbus_refuse(responder_of(unit), login_wanted(unit));
        return;
    }
    for (uint8_t i = 0; i < model->action_count; i++) {
        const vd_action *action = &model->actions[i];
        if (is_command(call, action->address) && written_word(call, 0) == action->value) {
            if (!allowed) {
                vd_modbus_refuse(responder_of(unit), login_wanted(unit));
                return;
            }
            unit->due = action;
            vd_modbus_answer_done(responder_of(unit));
            return;
        }
    }
    if (model->slots.saved && is_command(call, model->slots.address)) {
        !allowed                                         ? vd_modbus_refuse(responder_of(unit), login_wanted(unit))
        : vd_unit_save_slot(unit, written_word(call, 0)) ? vd_modbus_answer_done(responder_of(unit))
                                                         : vd_modbus_refuse(responder_of(unit), ILLEGAL_VALUE);
        return;
    }
    if (to_store) { /* what it is told there is nothing that it does */
        vd_modbus_refuse(responder_of(unit), allowed ? ILLEGAL_VALUE : login_wanted(unit));
        return;
    }
    bool one_by_one = model->limits.one_by_one && call->function == VD_MODBUS_WRITE_MANY;
    uint8_t exception = one_by_one ? take_one_by_one(unit, call, now) : stage(unit, call);
    if (exception != 0) {
        vd_modbus_refuse(responder_of(unit), exception);
        return;
    }
    if (!one_by_one) {
        vd_unit_take_staged(unit, now);
    }
    if (call->function == VD_MODBUS_READ_WRITE) {
        answer_read(unit, VD_MODBUS_READ_HOLDING, call->read_first, call->read_count);
    } else {
        vd_modbus_answer_done(responder_of(unit));
    }
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
    bool coils = table_end(model, VD_COIL) > 0, discrete = table_end(model, VD_DISCRETE) > 0;
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
        answer_bits(unit, call);
    } else if (call->function == VD_MODBUS_READ_HOLDING || call->function == VD_MODBUS_READ_INPUT) {
        answer_read(unit, call->function, call->first, call->count);
    } else {
        answer_write(unit, call, now);
    }
}

/* ---- The language ---- */

static size_t registers_size(const vd_unit_language *language)
{
    return responder_size() + language->framing->room;
}

static void registers_start(vd_unit *unit, const vd_line *line, uint8_t address)
{
    vd_modbus_responder_start(responder_of(unit), unit->language->framing, (uint8_t *)unit->end + responder_size(),
                              line, address, unit->model->reply.usual * 1000u);
}

static const vd_line *registers_line(const vd_unit *unit)
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
