/* SPDX-License-Identifier: MIT
 * A unit that plays any model: banks, staging, storing, and how its registers answer. */
#include "verdite/unit.h"

#include <string.h>

enum { ILLEGAL_ADDRESS = 2, ILLEGAL_VALUE = 3, FAILURE = 4, ACKNOWLEDGE = 5, BUSY = 6 };

size_t vd_unit_size(const vd_model *model)
{
    return 3 * vd_set_size(model);
}

vd_status vd_unit_start(vd_unit *unit, const vd_model *model, const vd_identity *identity, void *memory, size_t size)
{
    size_t each = vd_set_size(model);
    uint8_t *at = memory;
    if (size < vd_unit_size(model)) {
        return VD_MEMORY_TOO_SMALL;
    }
    memset(unit, 0, sizeof *unit);
    unit->model = model;
    unit->identity = *identity;
    vd_set_start(&unit->live, model, at, each);
    vd_set_start(&unit->stored, model, at + each, each);
    vd_set_start(&unit->staged, model, at + 2 * each, each);
    vd_set_put_initial(&unit->stored);
    vd_set_put_initial(&unit->live);
    return VD_OK;
}

void vd_unit_power_up(vd_unit *unit)
{
    vd_line line = unit->model->line;
    uint8_t address = unit->model->address_factory;
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        vd_value value = vd_set_get(&unit->stored, i);
        if (unit->model->settings[i].access != VD_READ_ONLY && value.type != VD_NOTHING) {
            vd_set_put(&unit->live, i, &value);
        }
    }
    vd_set_reinterpret(&unit->live);
    vd_set_link(&unit->stored, &line, &address);
    unit->busy_until = 0;
    unit->keeping = unit->keep_failed = false;
    vd_modbus_responder_start(&unit->responder, &line, address, unit->model->reply.usual * 1000u);
}

void vd_unit_answer_to(vd_unit *unit, uint8_t address)
{
    unit->responder.address = address;
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

static uint32_t table_end(const vd_model *model, vd_table table)
{
    uint32_t end = 0;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_place *place = &model->settings[i].place;
        uint32_t place_end = (uint32_t)place->address + place->words;
        end = place->table == table && place_end > end ? place_end : end;
    }
    return end;
}

/* Lays the part of one setting's registers that lies in first..first+count-1 over `registers`. */
static void lay(const vd_set *bank, uint16_t setting, uint32_t first, uint16_t count, uint16_t *registers)
{
    const vd_place *place = &bank->model->settings[setting].place;
    uint16_t own[64];
    if (place->address >= first + count || (uint32_t)place->address + place->words <= first) {
        return;
    }
    vd_registers_put(bank, setting, own, NULL);
    for (uint32_t i = 0; i < place->words; i++) {
        uint32_t at = place->address + i;
        if (at >= first && at < first + count) {
            registers[at - first] = own[i];
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

static void answer_read(vd_unit *unit, const vd_modbus_call *call)
{
    const vd_model *model = unit->model;
    vd_table table = call->function == VD_MODBUS_READ_INPUT ? VD_INPUT : VD_HOLDING;
    uint16_t registers[VD_MODBUS_MOST_READ] = {0};
    uint32_t first = call->first;
    const vd_set *bank = &unit->live;
    if (table == VD_HOLDING && model->store.proof == VD_PROOF_BANK && first >= model->store.bank_offset) {
        bank = &unit->stored;
        first -= model->store.bank_offset;
    }
    bool command =
        table == VD_HOLDING && model->store.needed && call->first == model->store.address && call->count == 1;
    bool identity = lay_identity(unit, table, first, call->count, registers);
    bool outside = first + call->count > table_end(model, table) || in_hole(model, table, first, first + call->count);
    if (!command && !identity && outside) {
        vd_modbus_refuse(&unit->responder, ILLEGAL_ADDRESS);
        return;
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        bool readable = model->settings[i].access != VD_WRITE_ONLY;
        if (model->settings[i].place.table == table && readable && !command) {
            lay(bank, i, first, call->count, registers);
        }
    }
    vd_modbus_answer_registers(&unit->responder, registers);
}

/* The setting that starts at this holding register, or VD_NONE. */
static uint16_t starting_at(const vd_model *model, uint32_t address)
{
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *s = &model->settings[i];
        if (s->place.table == VD_HOLDING && s->place.address == address && s->access != VD_READ_ONLY) {
            return i;
        }
    }
    return VD_NONE;
}

/* Puts the written registers into the staged bank; returns 0 or an exception. */
static uint8_t stage(vd_unit *unit, const vd_modbus_call *call)
{
    const vd_model *model = unit->model;
    vd_set_copy(&unit->staged, &unit->live);
    for (uint32_t done = 0; done < call->count;) {
        uint16_t setting = starting_at(model, call->first + done), registers[64];
        if (setting == VD_NONE || done + model->settings[setting].place.words > call->count) {
            return ILLEGAL_ADDRESS;
        }
        for (uint32_t i = 0; i < model->settings[setting].place.words; i++) {
            const uint8_t *at = call->data + 2 * (done + i);
            registers[i] = (uint16_t)(at[0] << 8 | at[1]);
        }
        vd_registers_take(&unit->staged, setting, registers);
        done += model->settings[setting].place.words;
    }
    vd_set_reinterpret(&unit->staged);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        uint32_t at = model->settings[i].place.address;
        bool written =
            model->settings[i].access != VD_READ_ONLY && at >= call->first && at < (uint32_t)call->first + call->count;
        for (uint16_t k = 0; k < model->pair_count && !written; k++) {
            uint32_t high = model->settings[model->pairs[k].high].place.address;
            written = model->pairs[k].low == i && high >= call->first && high < (uint32_t)call->first + call->count;
        }
        if (written && vd_set_check(&unit->staged, i, NULL) != VD_OK) {
            return ILLEGAL_VALUE;
        }
    }
    return 0;
}

static void answer_write(vd_unit *unit, const vd_modbus_call *call, uint64_t now)
{
    const vd_store *store = &unit->model->store;
    if (store->needed && call->first == store->address && call->count == 1) {
        if (call->data[0] != store->value >> 8 || call->data[1] != (store->value & 0xFFu)) {
            vd_modbus_refuse(&unit->responder, ILLEGAL_VALUE);
            return;
        }
        vd_set_copy(&unit->stored, &unit->live);
        unit->keeping = true;
        unit->busy_until = now + unit->model->reply.store * 1000u;
        vd_modbus_refuse(&unit->responder, ACKNOWLEDGE);
        return;
    }
    uint8_t exception = stage(unit, call);
    if (exception != 0) {
        vd_modbus_refuse(&unit->responder, exception);
        return;
    }
    vd_set_copy(&unit->live, &unit->staged);
    if (!store->needed) {
        vd_set_copy(&unit->stored, &unit->live);
        unit->keeping = true;
    }
    vd_modbus_answer_done(&unit->responder);
}

static void answer_identity(vd_unit *unit)
{
    const vd_identity *identity = &unit->identity;
    const uint8_t ids[] = {0, 1, 2, unit->model->identify.serial_object};
    const char *const objects[] = {identity->maker, identity->product, identity->firmware, identity->serial};
    if (unit->model->identify.way != VD_IDENTIFY_OBJECTS) {
        vd_modbus_refuse(&unit->responder, 1);
        return;
    }
    vd_modbus_answer_identity(&unit->responder, ids, objects, unit->model->identify.serial_object != 0 ? 4 : 3);
}

static void answer(vd_unit *unit, const vd_modbus_call *call, uint64_t now)
{
    if (unit->keep_failed) {
        unit->keep_failed = false;
        vd_modbus_refuse(&unit->responder, FAILURE);
    } else if (unit->model->store.needed && (now < unit->busy_until || unit->keeping)) {
        vd_modbus_refuse(&unit->responder, BUSY);
    } else if (call->function == VD_MODBUS_IDENTIFY) {
        answer_identity(unit);
    } else if (call->function == VD_MODBUS_WRITE_ONE || call->function == VD_MODBUS_WRITE_MANY) {
        answer_write(unit, call, now);
    } else {
        answer_read(unit, call);
    }
}

static void unit_feed(void *engine, const vd_event *event)
{
    vd_unit *unit = engine;
    if (event->kind == VD_KEPT) {
        unit->keeping = false;
        unit->keep_failed = event->status != VD_OK;
        return;
    }
    vd_modbus_responder_engine.feed(&unit->responder, event);
    const vd_modbus_call *call = vd_modbus_responder_call(&unit->responder);
    if (call != NULL) {
        answer(unit, call, event->now);
    }
}

static void unit_wants(const void *engine, vd_wants *wants)
{
    const vd_unit *unit = engine;
    vd_modbus_responder_engine.wants(&unit->responder, wants);
    wants->keep = unit->keeping;
}

const vd_engine vd_unit_engine = {unit_wants, unit_feed};
