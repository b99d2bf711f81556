/* SPDX-License-Identifier: MIT
 * Who a unit is, over Modbus: identification objects (AP 6.21), or texts in registers where a model says so. */
#include "parts.h"

/* The one stretch of registers that holds all of a model's identity. */
static void identity_span(const vd_identify *identify, uint16_t *first, uint16_t *count)
{
    const vd_place *places[] = {&identify->maker_place, &identify->product_place, &identify->firmware_place,
                                &identify->serial_place};
    unsigned low = 0xFFFF, high = 0;
    for (size_t i = 0; i < sizeof places / sizeof places[0]; i++) {
        unsigned end_of = (unsigned)places[i]->address + places[i]->words;
        if (places[i]->words > 0) {
            low = places[i]->address < low ? places[i]->address : low;
            high = end_of > high ? end_of : high;
        }
    }
    *first = (uint16_t)low;
    *count = (uint16_t)(high - low);
}

uint16_t vd_modbus_ask_for_identity(vd_modbus_frame *frame, uint8_t address, const vd_model *model, uint8_t object)
{
    enum { EXTENDED = 3 };
    uint16_t first = 0, count = 0;
    if (model == NULL || model->identify.way == VD_IDENTIFY_OBJECTS) {
        vd_modbus_ask_identity(frame, address, EXTENDED, object);
        return 0;
    }
    identity_span(&model->identify, &first, &count);
    vd_modbus_ask_read(frame, address, vd_modbus_read_function(model->identify.product_place.table), first, count);
    return first;
}

uint8_t vd_modbus_take_identity(const uint8_t *reply, size_t length, uint8_t serial_object, vd_identity *identity)
{
    enum { MORE = 4, NEXT = 5, NUMBER = 6, FIRST = 7, MAKER = 0, PRODUCT = 1, FIRMWARE = 2, PRIVATE = 0x80 };
    const uint8_t *at = reply + FIRST;
    for (uint8_t i = 0; length > NUMBER && i < reply[NUMBER]; i++) {
        const uint8_t *text = at + 2;
        bool serial = serial_object != 0 ? at[0] == serial_object : at[0] >= PRIVATE && identity->serial[0] == '\0';
        if (at[0] == MAKER) {
            vd_identity_copy(identity->maker, sizeof identity->maker, text, at[1]);
        } else if (at[0] == PRODUCT) {
            vd_identity_copy(identity->product, sizeof identity->product, text, at[1]);
        } else if (at[0] == FIRMWARE) {
            vd_identity_copy(identity->firmware, sizeof identity->firmware, text, at[1]);
        } else if (serial) {
            vd_identity_take_serial(identity, text, at[1]);
        }
        at = text + at[1];
    }
    return length > NUMBER && reply[MORE] == 0xFF ? reply[NEXT] : 0;
}

static void take_text(const uint8_t *data, uint16_t first, const vd_place *place, char *text, size_t size)
{
    if (place->words > 0) {
        vd_identity_copy(text, size, data + 2u * (unsigned)(place->address - first), 2u * place->words);
    }
}

void vd_modbus_take_identity_registers(const uint8_t *data, uint16_t first, const vd_identify *identify,
                                       vd_identity *identity)
{
    take_text(data, first, &identify->maker_place, identity->maker, sizeof identity->maker);
    take_text(data, first, &identify->product_place, identity->product, sizeof identity->product);
    take_text(data, first, &identify->firmware_place, identity->firmware, sizeof identity->firmware);
    const vd_place *serial = &identify->serial_place;
    if (serial->words > 0) {
        vd_identity_take_serial(identity, data + 2u * (unsigned)(serial->address - first), 2u * serial->words);
    }
}
