/* SPDX-License-Identifier: MIT
 * How the registers of a unit answer to writes, storing and orders. */
#include "parts.h"

#include <string.h>

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
            vd_registers_lay(&unit->live, i, call->first, 1, &now);
        }
    }
    return (uint16_t)((now & call->keep) | (call->set & ~call->keep));
}

/* Whether a holding register is not the first one of its setting. */
static bool is_inside(const vd_unit *unit, uint32_t address)
{
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        const vd_place *place = &unit->model->settings[i].place;
        if (place->table == VD_HOLDING && address > place->address && address < vd_registers_end_of(place)) {
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
    if (vd_registers_touches(unit, table, call->first, end, vd_registers_is_absent)) {
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
        return vd_registers_login_wanted(unit);
    }
    return vd_unit_accepts_staged(unit) ? 0 : ILLEGAL_VALUE;
}

static bool is_command(const vd_modbus_call *call, uint16_t address)
{
    return call->first == address && call->count == 1 &&
           (call->function == VD_MODBUS_WRITE_ONE || call->function == VD_MODBUS_WRITE_MANY);
}

static bool says(const vd_modbus_call *call, const vd_order *order)
{
    return is_command(call, order->address) && written_word(call, 0) == order->value;
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
    const vd_place *place = login->order.address != 0 ? &unit->model->settings[vd_index(login->setting)].place : NULL;
    bool written = call->function == VD_MODBUS_WRITE_ONE || call->function == VD_MODBUS_WRITE_MANY;
    uint16_t words[64];
    if (place == NULL || !written || call->first != login->order.address || call->count != place->words) {
        return false;
    }
    for (uint8_t i = 0; i < place->words && i < 64; i++) {
        words[i] = written_word(call, i);
    }
    vd_registers_take(&unit->staged, vd_index(login->setting), words);
    vd_value said = vd_set_get(&unit->staged, vd_index(login->setting));
    vd_unit_log_in(unit, &said) ? vd_modbus_answer_done(responder_of(unit))
                                : vd_modbus_refuse(responder_of(unit), ILLEGAL_VALUE);
    vd_set_forget(&unit->staged, vd_index(login->setting));
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

void vd_registers_answer_write(vd_unit *unit, const vd_modbus_call *call, uint64_t now)
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
    bool to_store = model->store.needed && is_command(call, model->store.order.address);
    if (to_store && says(call, &model->store.order)) {
        allowed ? store(unit, now) : vd_modbus_refuse(responder_of(unit), vd_registers_login_wanted(unit));
        return;
    }
    for (uint8_t i = 0; i < model->action_count; i++) {
        const vd_action *action = &model->actions[i];
        if (says(call, &action->order)) {
            if (!allowed) {
                vd_modbus_refuse(responder_of(unit), vd_registers_login_wanted(unit));
                return;
            }
            unit->due = action;
            vd_modbus_answer_done(responder_of(unit));
            return;
        }
    }
    if (model->slots.saved && is_command(call, model->slots.order.address)) {
        !allowed ? vd_modbus_refuse(responder_of(unit), vd_registers_login_wanted(unit))
        : vd_unit_save_slot(unit, written_word(call, 0)) ? vd_modbus_answer_done(responder_of(unit))
                                                         : vd_modbus_refuse(responder_of(unit), ILLEGAL_VALUE);
        return;
    }
    if (to_store) { /* what it is told there is nothing that it does */
        vd_modbus_refuse(responder_of(unit), allowed ? ILLEGAL_VALUE : vd_registers_login_wanted(unit));
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
        vd_registers_answer_read(unit, VD_MODBUS_READ_HOLDING, call->read_first, call->read_count);
    } else {
        vd_modbus_answer_done(responder_of(unit));
    }
}
