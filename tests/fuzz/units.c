/* SPDX-License-Identifier: MIT
 * The unit's end of every language against whatever is sent to it: it never holds what its model forbids, never says
 * more than fits, and each of its replies in registers has a right check. Messages stand in the input one behind the
 * other, each after how long the line was quiet and how many bytes it has. */
#include "input.h"
#include "verdite/unit.h"

static vd_unit_storage unit;

static bool has_check(const uint8_t *bytes, size_t count)
{
    uint16_t check = 0xFFFF;
    for (size_t i = 0; i < count; i++) {
        check ^= bytes[i];
        for (int bit = 0; bit < 8; bit++) {
            check = (uint16_t)((check & 1) != 0 ? check >> 1 ^ 0xA001 : check >> 1);
        }
    }
    return check == 0; /* over a frame with its own check, nothing is left */
}

static void serve(const vd_model *model, uint64_t now)
{
    vd_wants wants;
    vd_unit_engine.wants(vd_unit_in(&unit), &wants);
    if (wants.keep) {
        vd_unit_engine.feed(vd_unit_in(&unit), &(vd_event){.kind = VD_KEPT, .now = now});
        vd_unit_engine.wants(vd_unit_in(&unit), &wants);
    }
    if (wants.count > 0) {
        PROMISE(!vd_model_has_address(model) || (wants.count <= VD_MODBUS_FRAME && has_check(wants.send, wants.count)),
                "a reply of %zu bytes with a wrong check", wants.count);
        vd_unit_engine.feed(vd_unit_in(&unit), &(vd_event){.kind = VD_SENT, .now = now, .until = now});
    }
}

static void judge(const vd_model *model)
{
    for (uint16_t i = 0; i < model->setting_count; i++) {
        bool empty =
            model->settings[i].initial_text != NULL && vd_set_get(vd_unit_live(vd_unit_in(&unit)), i).length == 0;
        bool free = model->settings[i].access == VD_READ_WRITE && model->settings[i].written_by != VD_MAKER;
        if (free && !empty) {
            vd_status status = vd_set_check(vd_unit_live(vd_unit_in(&unit)), i, NULL);
            PROMISE(status == VD_OK || status == VD_IDLE_HERE || status == VD_NOT_HERE, "a strange %s",
                    model->settings[i].words->key);
        }
    }
    for (uint16_t r = 0; r < model->rule_count; r++) {
        for (uint16_t item = 0; model->rules[r].enforced && item < vd_rule_items(model, r); item++) {
            PROMISE(vd_rule_judge(vd_unit_live(vd_unit_in(&unit)), vd_unit_live(vd_unit_in(&unit)), r, item, NULL) !=
                        VD_FAILS,
                    "rule %u is broken", r);
        }
    }
}

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    static const char *const models[] = {"dowel", "wren", "skep", "lantern", "brock"};
    input f = {bytes, count};
    const vd_model *model = input_model(models[input_number(&f, G_N_ELEMENTS(models))]);
    vd_identity identity = {"Quillmere", "fuzzed", "1.9", "S-1"};
    size_t size = vd_unit_size(model, vd_unit_language_of(model));
    void *memory = g_malloc0(size);
    uint64_t now = 60000000;
    vd_unit_start(vd_unit_in(&unit), model, vd_unit_language_of(model), &identity, memory, size);
    vd_unit_power_up(vd_unit_in(&unit), 0);
    vd_unit_hold_button(vd_unit_in(&unit), 50000000, 9000);
    while (f.left > 0) {
        uint8_t message[600];
        uint8_t way = input_byte(&f);
        size_t length = input_bytes(&f, message, sizeof message - 4);
        if ((way & 1) != 0 && vd_model_has_address(model)) { /* well-formed, and to it */
            message[0] = length > 0 ? model->address_factory : 0;
            uint16_t check = vd_modbus_crc(message, length);
            message[length++] = (uint8_t)check;
            message[length++] = (uint8_t)(check >> 8);
        }
        now += (way & 2) != 0 ? 1000 * (uint64_t)input_byte(&f) : 5000000;
        vd_unit_engine.feed(vd_unit_in(&unit), &(vd_event){.kind = VD_TIME, .now = now});
        vd_unit_engine.feed(vd_unit_in(&unit),
                            &(vd_event){.kind = VD_HEARD, .now = now, .bytes = message, .count = length});
        for (int n = 0; n < 4; n++) {
            serve(model, now);
            now += 20000;
            vd_unit_engine.feed(vd_unit_in(&unit), &(vd_event){.kind = VD_TIME, .now = now});
        }
    }
    judge(model);
    g_free(memory);
    return 0;
}
