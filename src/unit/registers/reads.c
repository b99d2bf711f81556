/* SPDX-License-Identifier: MIT
 * How the registers of a unit answer to reads. */
#include "parts.h"

#include <string.h>

uint8_t vd_registers_login_wanted(const vd_unit *unit)
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

uint32_t vd_registers_end_of(const vd_place *place)
{
    return (uint32_t)place->address + place->words;
}

uint32_t vd_registers_table_end(const vd_model *model, vd_table table)
{
    uint32_t end = 0;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_place *place = &model->settings[i].place;
        end = place->table == table && vd_registers_end_of(place) > end ? vd_registers_end_of(place) : end;
    }
    return end;
}

bool vd_registers_is_absent(const vd_unit *unit, uint16_t setting)
{
    return vd_set_lacks(&unit->live, setting);
}

/* Only a fitter may read it, and nobody has logged in. What nobody ever reads is filled with zeros instead. */
static bool is_barred(const vd_unit *unit, uint16_t setting)
{
    return unit->model->settings[setting].read_by == VD_FITTER && !vd_unit_allows(unit, VD_FITTER);
}

bool vd_registers_touches(const vd_unit *unit, vd_table table, uint32_t first, uint32_t end,
                          bool (*holds)(const vd_unit *unit, uint16_t setting))
{
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        const vd_place *place = &unit->model->settings[i].place;
        if (place->table == table && place->address < end && vd_registers_end_of(place) > first && holds(unit, i)) {
            return true;
        }
    }
    return false;
}

void vd_registers_lay(const vd_set *bank, uint16_t setting, uint32_t first, uint16_t count, uint16_t *registers)
{
    const vd_place *place = &bank->model->settings[setting].place;
    uint16_t own[64] = {0};
    if (place->address >= first + count || vd_registers_end_of(place) <= first) {
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
    return end > vd_registers_table_end(unit->model, table) || in_hole(unit->model, table, first, end) ||
           vd_registers_touches(unit, table, first, end, vd_registers_is_absent);
}

static bool readable(const vd_model *model, uint16_t setting, vd_table table)
{
    return model->settings[setting].place.table == table && vd_setting_is_shown(&model->settings[setting]);
}

void vd_registers_answer_bits(vd_unit *unit, const vd_modbus_call *call)
{
    vd_table table = call->function == VD_MODBUS_READ_COILS ? VD_COIL : VD_DISCRETE;
    uint8_t bits[VD_MODBUS_MOST_READ_BITS / 8] = {0};
    if (outside(unit, table, call->first, (uint32_t)call->first + call->count)) {
        vd_modbus_refuse(responder_of(unit), ILLEGAL_ADDRESS);
        return;
    }
    if (vd_registers_touches(unit, table, call->first, (uint32_t)call->first + call->count, is_barred)) {
        vd_modbus_refuse(responder_of(unit), vd_registers_login_wanted(unit));
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

void vd_registers_answer_read(vd_unit *unit, uint8_t function, uint32_t first, uint16_t count)
{
    const vd_model *model = unit->model;
    vd_table table = function == VD_MODBUS_READ_INPUT ? VD_INPUT : VD_HOLDING;
    uint16_t registers[VD_MODBUS_MOST_READ] = {0};
    const vd_set *bank = NULL;
    bool command = table == VD_HOLDING && model->store.needed && first == model->store.order.address && count == 1;
    if (table == VD_HOLDING && model->store.proof == VD_PROOF_BANK && first >= model->store.bank_offset) {
        bank = &unit->stored;
        first -= model->store.bank_offset;
    }
    bool identity = lay_identity(unit, table, first, count, registers);
    if (!command && !identity && outside(unit, table, first, first + count)) {
        vd_modbus_refuse(responder_of(unit), ILLEGAL_ADDRESS);
        return;
    }
    if (vd_registers_touches(unit, table, first, first + count, is_barred)) {
        vd_modbus_refuse(responder_of(unit), vd_registers_login_wanted(unit));
        return;
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (readable(model, i, table) && !command) {
            vd_registers_lay(bank != NULL && !vd_setting_is(&model->settings[i], VD_TYPE_RUNS) ? bank
                                                                                               : vd_unit_shown(unit, i),
                             i, first, count, registers);
        }
    }
    vd_modbus_answer_registers(responder_of(unit), registers);
}
