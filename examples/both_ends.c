/* SPDX-License-Identifier: MIT
 * Both ends of the cable with no port at all: a visit and a unit, each a state machine, joined by a few lines that
 * carry bytes from one to the other and count time by hand. The model is a constant, as firmware has it; only the
 * portable library is used. */
#include <stdio.h>

#include "verdite/modbus_unit.h"
#include "verdite/unit.h"
#include "verdite/visit.h"

static const vd_group groups[] = {{"alarm", "Alarm"}};
static const vd_setting settings[] = {
    {.words = &(const vd_setting_words){"alarm.limit", "Limit", "", NULL, NULL, ""},

     .measure = "°C",
     .block = VD_NONE,
     .tick = 1,
     .traits = &vd_type_decimal,
     .places = 1,
     .places_from = VD_NONE,
     .min = -200,
     .max = 600,
     .step = 1,
     .has_initial = true,
     .initial = 350,
     .place = {.table = VD_HOLDING, .form = VD_SIGNED, .words = 1, .address = 0}},
    {.words = &(const vd_setting_words){"alarm.delay", "Delay", "", NULL, NULL, ""},

     .measure = "",
     .traits = &vd_type_duration,
     .block = VD_NONE,
     .tick = 1000,
     .places_from = VD_NONE,
     .min = 0,
     .max = 600,
     .step = 1,
     .has_initial = true,
     .initial = 10,
     .place = {.table = VD_HOLDING, .form = VD_UNSIGNED, .words = 1, .address = 1}},
};
static vd_model model = {
    .language = &vd_modbus_rtu,
    .key = "thermo",
    .title = "Thermo",
    .summary = "",
    .groups = groups,
    .group_count = 1,
    .settings = settings,
    .setting_count = 2,
    .line = {19200, 8, 'E', 1},
    .address_low = 1,
    .address_high = 247,
    .address_factory = 1,
    .identify = {.way = VD_IDENTIFY_OBJECTS, .maker = "Quillmere", .product = "thermo", .serial_object = 0x80},
    .reply = {.usual = 5, .longest = 100, .gap = 10, .tries = 3, .busy_wait = 10, .busy_limit = 1000},
};

static uint64_t visit_memory[640], unit_memory[256], book_memory[64];
static vd_visit visit;
static vd_unit unit;

/* Hands one engine's bytes to the other; returns whether there were any. */
static bool carry(const vd_engine *from, void *sender, const vd_engine *to, void *receiver, uint64_t *now)
{
    vd_wants wants;
    from->wants(sender, &wants);
    if (wants.count == 0) {
        return false;
    }
    *now += wants.quiet;
    to->feed(receiver, &(vd_event){.kind = VD_TIME, .now = *now}); /* time passes at both ends, not only at this one */
    *now += vd_line_time(&model.line, wants.count);
    to->feed(receiver, &(vd_event){.kind = VD_HEARD, .now = *now, .bytes = wants.send, .count = wants.count});
    from->feed(sender, &(vd_event){.kind = VD_SENT, .now = *now, .until = *now});
    return true;
}

/* Everything a person or a disk would be asked. */
static void look_after(uint64_t now)
{
    vd_wants wants;
    vd_visit_engine.wants(&visit, &wants);
    if (wants.question == VD_ASK_WRITE) {
        vd_visit_engine.feed(&visit, &(vd_event){.kind = VD_ANSWERED, .now = now, .yes = true});
    } else if (wants.keep) {
        vd_visit_engine.feed(&visit, &(vd_event){.kind = VD_KEPT, .now = now});
    }
    vd_unit_engine.wants(&unit, &wants);
    if (wants.keep) {
        vd_unit_engine.feed(&unit, &(vd_event){.kind = VD_KEPT, .now = now});
    }
}

int main(void)
{
    const vd_identity identity = {"Quillmere", "thermo", "1.0", "TH-00001"};
    uint64_t target_memory[32], now = 0;
    vd_set target;
    vd_status status = vd_model_prepare(&model, &vd_modbus_rtu_desk, book_memory, sizeof book_memory, NULL, NULL, NULL);
    if (status != VD_OK || sizeof visit_memory < vd_visit_size(&model) ||
        sizeof unit_memory < vd_unit_size(&model, &vd_modbus_rtu_unit)) {
        return 1;
    }
    vd_unit_start(&unit, &model, &vd_modbus_rtu_unit, &identity, unit_memory, sizeof unit_memory);
    vd_unit_power_up(&unit, 0);
    vd_set_start(&target, &model, target_memory, sizeof target_memory);
    vd_value limit = {.type = VD_DECIMAL, .places = 1, .number = 365};
    vd_set_put(&target, 0, &limit);

    vd_visit_start(&visit, &model, visit_memory, sizeof visit_memory, &model.line, 1, 0);
    vd_visit_write(&visit, now, &target, NULL);
    while (!vd_visit_ended(&visit, &status)) {
        look_after(now);
        if (!carry(&vd_visit_engine, &visit, &vd_unit_engine, &unit, &now) &&
            !carry(&vd_unit_engine, &unit, &vd_visit_engine, &visit, &now)) {
            now += 100; /* nothing to carry: let a tenth of a millisecond pass at both ends */
            vd_visit_engine.feed(&visit, &(vd_event){.kind = VD_TIME, .now = now});
            vd_unit_engine.feed(&unit, &(vd_event){.kind = VD_TIME, .now = now});
        }
    }
    vd_summary summary = vd_visit_summary(&visit);
    bool verified = status == VD_OK && summary.whole == VD_WHOLE_VERIFIED;
    printf("%s after %u ms of line time: alarm.limit is %d tenths of a degree\n",
           verified ? "verified" : "not verified", (unsigned)(now / 1000),
           (int)vd_set_get(vd_visit_live(&visit), 0).number);
    return verified ? 0 : 1;
}
