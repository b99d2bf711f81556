/* SPDX-License-Identifier: MIT
 * Both ends of the cable with no port at all: a visit and a unit, each a state machine, joined by a few lines that
 * carry bytes from one to the other and count time by hand. The model is in constant tables, as firmware has it: what
 * `verdite tables dowel` wrote. Only the portable library is used. */
#include <stdio.h>

#include "verdite/modbus_unit.h"
#include "verdite/unit.h"
#include "verdite/visit.h"

#define VDM_DOWEL_TABLES /* here they stand */
#include "dowel_tables.h"

static uint64_t visit_memory[VDM_DOWEL_VISIT_SIZE / sizeof(uint64_t)];
static uint64_t target_memory[VDM_DOWEL_SET_SIZE / sizeof(uint64_t)];
static uint64_t unit_memory[1024];
static vd_visit_storage visit;
static vd_unit_storage unit;

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
    *now += vd_serial_time(&vdm_dowel.line, wants.count);
    to->feed(receiver, &(vd_event){.kind = VD_HEARD, .now = *now, .bytes = wants.send, .count = wants.count});
    from->feed(sender, &(vd_event){.kind = VD_SENT, .now = *now, .until = *now});
    return true;
}

/* Everything a person or a disk would be asked. */
static void look_after(uint64_t now)
{
    vd_wants wants;
    vd_visit_engine.wants(vd_visit_in(&visit), &wants);
    if (wants.question == VD_ASK_WRITE) {
        vd_visit_engine.feed(vd_visit_in(&visit), &(vd_event){.kind = VD_ANSWERED, .now = now, .yes = true});
    } else if (wants.keep) {
        vd_visit_engine.feed(vd_visit_in(&visit), &(vd_event){.kind = VD_KEPT, .now = now});
    }
    vd_unit_engine.wants(vd_unit_in(&unit), &wants);
    if (wants.keep) {
        vd_unit_engine.feed(vd_unit_in(&unit), &(vd_event){.kind = VD_KEPT, .now = now});
    }
}

int main(void)
{
    const vd_identity identity = {"Quillmere", "dowel", "1.4", "QD-00417"};
    const uint16_t limit = VDM_DOWEL_WEIGHT_LOW_LIMIT;
    uint64_t now = 0;
    vd_set target;
    vd_status status = VD_OK;
    if (sizeof unit_memory < vd_unit_size(&vdm_dowel, &vd_modbus_rtu_unit)) {
        return 1;
    }
    vd_unit_start(vd_unit_in(&unit), &vdm_dowel, &vd_modbus_rtu_unit, &identity, unit_memory, sizeof unit_memory);
    vd_unit_power_up(vd_unit_in(&unit), 0);
    vd_set_start(&target, &vdm_dowel, target_memory, sizeof target_memory);
    vd_value wish = {.type = VD_DECIMAL, .places = 1, .number = 215};
    vd_set_put(&target, limit, &wish);

    vd_visit_start(vd_visit_in(&visit), &vdm_dowel, visit_memory, sizeof visit_memory, &vdm_dowel.line,
                   vdm_dowel.address_factory, 0);
    vd_visit_write(vd_visit_in(&visit), now, &target, NULL);
    while (!vd_visit_ended(vd_visit_in(&visit), &status)) {
        look_after(now);
        if (!carry(&vd_visit_engine, vd_visit_in(&visit), &vd_unit_engine, vd_unit_in(&unit), &now) &&
            !carry(&vd_unit_engine, vd_unit_in(&unit), &vd_visit_engine, vd_visit_in(&visit), &now)) {
            now += 100; /* nothing to carry: let a tenth of a millisecond pass at both ends */
            vd_visit_engine.feed(vd_visit_in(&visit), &(vd_event){.kind = VD_TIME, .now = now});
            vd_unit_engine.feed(vd_unit_in(&unit), &(vd_event){.kind = VD_TIME, .now = now});
        }
    }
    vd_summary summary = vd_visit_summary(vd_visit_in(&visit));
    bool verified = status == VD_OK && summary.whole == VD_WHOLE_VERIFIED;
    printf("%s after %u ms of line time: weight.low-limit is %d tenths of a kilogram\n",
           verified ? "verified" : "not verified", (unsigned)(now / 1000),
           (int)vd_set_get(vd_visit_live(vd_visit_in(&visit)), limit).number);
    return verified ? 0 : 1;
}
