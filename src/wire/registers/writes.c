/* SPDX-License-Identifier: MIT
 * What the request at hand of a write is: coils, registers, or fields of bits inside them. */
#include "parts.h"

/* Coils follow one another in a request, one to a setting. */
static vd_status ask_write_coils(vd_modbus_talk *talk, const vd_place *span, uint16_t count)
{
    uint8_t bits[VD_MODBUS_MOST_WRITE_BITS / 8] = {0};
    for (unsigned i = 0; i < count; i++) {
        uint16_t coil = 0;
        vd_status status =
            vd_registers_put(talk->job->values, talk->job->plan.order[talk->job->at + i], &coil, talk->job->fault);
        if (status != VD_OK) {
            return status;
        }
        bits[i / 8] |= (uint8_t)(coil << i % 8);
    }
    if (count == 1 && !talk->job->model->limits.no_single) {
        vd_modbus_ask_write_coil(&talk->client.request, talk->address, span->address, bits[0] != 0);
    } else {
        vd_modbus_ask_write_coils(&talk->client.request, talk->address, span->address, bits, count);
    }
    return VD_OK;
}

/* Function 6 for one register where the unit knows it, else 16. */
void vd_modbus_ask_registers(vd_modbus_talk *talk, uint16_t first, const uint16_t *registers, uint16_t count)
{
    if (count == 1 && !talk->job->model->limits.no_single) {
        vd_modbus_ask_write_one(&talk->client.request, talk->address, first, registers[0]);
    } else {
        vd_modbus_ask_write_many(&talk->client.request, talk->address, first, registers, count);
    }
}

/* Which bits of a register the request at hand is about. */
static uint16_t bits_written(const vd_modbus_talk *talk, unsigned address)
{
    uint16_t bits = 0;
    for (unsigned i = talk->job->at; i < talk->job->plan.next[talk->job->at]; i++) {
        vd_place place = talk->job->model->settings[talk->job->plan.order[i]].place;
        if (place.bits == 0 && address >= place.address && address < (unsigned)place.address + place.words) {
            return 0xFFFF;
        }
        if (place.bits > 0 && place.address == address) {
            place.form = VD_UNSIGNED;
            vd_registers_put_count(&place, -1, &bits);
        }
    }
    return bits;
}

static bool writes_fields(const vd_modbus_talk *talk)
{
    return vd_modbus_plan_has_fields(&talk->job->plan, talk->job->model, talk->job->at);
}

/* Fields of bits: with a mask where the unit can and it is one register; else the registers are read first, so that
 * their other bits stay as they are. */
static void ask_write_fields(vd_modbus_talk *talk, uint16_t where, uint16_t *registers, uint16_t count)
{
    if (talk->fetching) {
        vd_modbus_ask_read(&talk->client.request, talk->address, VD_MODBUS_READ_HOLDING, where, count);
        return;
    }
    if (talk->job->model->limits.mask_write && count == 1) {
        uint16_t others = (uint16_t)~bits_written(talk, where);
        vd_modbus_ask_mask_write(&talk->client.request, talk->address, where, others, registers[0]);
        return;
    }
    for (unsigned i = 0; i < count; i++) {
        uint16_t own = bits_written(talk, where + i);
        registers[i] = (uint16_t)((talk->fetched[i] & ~own) | (registers[i] & own));
    }
    vd_modbus_ask_registers(talk, where, registers, count);
}

/* Whether everything in the request at hand can be read back: only then is it worth asking for it at once. */
static bool is_readable(const vd_modbus_talk *talk)
{
    for (unsigned i = talk->job->at; i < talk->job->plan.next[talk->job->at]; i++) {
        if (!vd_setting_is_shown(&talk->job->model->settings[talk->job->plan.order[i]])) {
            return false;
        }
    }
    return true;
}

vd_status vd_modbus_ask_writes(vd_modbus_talk *talk)
{
    vd_place span;
    uint16_t count = 0, registers[VD_MODBUS_MOST_WRITE] = {0};
    vd_modbus_plan_request(&talk->job->plan, talk->job->model, talk->job->at, &span, &count);
    if (span.table == VD_COIL) {
        return ask_write_coils(talk, &span, count);
    }
    for (unsigned i = talk->job->at; i < talk->job->plan.next[talk->job->at]; i++) {
        uint16_t setting = talk->job->plan.order[i];
        unsigned at = talk->job->model->settings[setting].place.address - span.address;
        vd_status status = vd_registers_put(talk->job->values, setting, registers + at, talk->job->fault);
        if (status != VD_OK) {
            return status;
        }
    }
    if (writes_fields(talk)) {
        ask_write_fields(talk, span.address, registers, count);
    } else if (talk->address != 0 && talk->job->model->limits.read_write && is_readable(talk) &&
               talk->job->model->store.proof != VD_PROOF_SHOWN) {
        vd_modbus_ask_read_write(&talk->client.request, talk->address, span.address, count, span.address, registers,
                                 count);
    } else {
        vd_modbus_ask_registers(talk, span.address, registers, count);
    }
    return VD_OK;
}

/* Whether the request at hand has to read its register first. */
bool vd_modbus_must_fetch(const vd_modbus_talk *talk)
{
    const vd_plan *plan = &talk->job->plan;
    const vd_setting *settings = talk->job->model->settings;
    bool one = settings[plan->order[talk->job->at]].place.address ==
               settings[plan->order[plan->next[talk->job->at] - 1]].place.address;
    return talk->job->kind == VD_JOB_WRITE && writes_fields(talk) && !(one && talk->job->model->limits.mask_write);
}
