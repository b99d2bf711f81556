/* SPDX-License-Identifier: MIT
 * A handheld on a Cortex-M3 that sets up gauges: a whole visit over registers, with nothing but the portable library
 * and a dowel compiled ahead (verdite tables dowel), without words. The wishes are a real set; the unit is on the
 * second UART, the verdict goes out by the first. ./run handheld builds it, looks at its size, and has it set up a unit
 * of a bench. */
#define VDM_DOWEL_TABLES
#define VDM_DOWEL_WITHOUT_ALARMS
#include "dowel_tables.h"

#include "board.h"

static const struct wish {
    uint16_t setting;
    vd_value value;
} wishes[] = {
    {VDM_DOWEL_UNIT_NAME, {VD_TEXT, 0, 9, 0, "Bracken 3", NULL}},
    {VDM_DOWEL_UNIT_AVERAGING, {VD_DURATION, 0, 0, 5000, NULL, NULL}},
    {VDM_DOWEL_WEIGHT_LOW_LIMIT, {VD_DECIMAL, 1, 0, 200, NULL, NULL}},
    {VDM_DOWEL_WEIGHT_HIGH_LIMIT, {VD_DECIMAL, 1, 0, 720, NULL, NULL}},
    {VDM_DOWEL_WEIGHT_ALARM, {VD_CHOICE, 0, 0, 3, NULL, NULL}},
    {VDM_DOWEL_WEIGHT_ALARM_DELAY, {VD_DURATION, 0, 0, 30000, NULL, NULL}},
    {VDM_DOWEL_TEMPERATURE_LOW_LIMIT, {VD_DECIMAL, 1, 0, 330, NULL, NULL}},
    {VDM_DOWEL_RELAY_FOLLOWS, {VD_CHOICE, 0, 0, 1, NULL, NULL}},
    {VDM_DOWEL_RELAY_AT_REST, {VD_CHOICE, 0, 0, 1, NULL, NULL}},
};

#define ADDRESS 3u
static const vd_serial line = {9600, 8, 'N', 1};

static vd_visit_storage visit;
static vd_set target;
static uint64_t visit_memory[VDM_DOWEL_VISIT_SIZE / sizeof(uint64_t)];
static uint64_t target_memory[VDM_DOWEL_SET_SIZE / sizeof(uint64_t)];

/* Sends what the visit wants to send, once the line has been silent for long enough. */
static void send(const vd_wants *wants, uint64_t *last)
{
    uint64_t now = board_now();
    if (wants->count == 0 || now < *last + wants->quiet) {
        return;
    }
    board_set_line(&wants->line);
    for (size_t i = 0; i < wants->count; i++) {
        board_send(wants->send[i]);
    }
    now = board_now();
    *last = now;
    const vd_event event = {VD_SENT,           now,   NULL, NULL, 0, now + board_still_leaving(),
                            VD_WIRE_NOT_KNOWN, VD_OK, NULL, false};
    vd_visit_engine.feed(vd_visit_in(&visit), &event);
}

static void hear(uint64_t *last)
{
    uint8_t byte = 0;
    while (board_heard(&byte)) {
        *last = board_now();
        const vd_event event = {VD_HEARD, *last, &byte, NULL, 1, 0, VD_WIRE, VD_OK, NULL, false};
        vd_visit_engine.feed(vd_visit_in(&visit), &event);
    }
}

/* Nobody stands by: it agrees to what it was told to write, and the state before is not kept beyond this visit. */
static void answer(const vd_wants *wants)
{
    vd_event event = {VD_TIME, board_now(), NULL, NULL, 0, 0, VD_WIRE, VD_OK, NULL, wants->question == VD_ASK_WRITE};
    event.kind = wants->question != VD_ASK_NOTHING ? VD_ANSWERED : wants->keep ? VD_KEPT : VD_TIME;
    if (event.kind != VD_TIME || event.now >= wants->wake) {
        vd_visit_engine.feed(vd_visit_in(&visit), &event);
    }
}

static void tell(vd_status status)
{
    static const char *const wholes[] = {[VD_WHOLE_VERIFIED] = "VERIFIED"};
    vd_summary summary = vd_visit_summary(vd_visit_in(&visit));
    board_say(status == VD_OK && summary.whole == VD_WHOLE_VERIFIED ? wholes[VD_WHOLE_VERIFIED] : "NOT VERIFIED");
    board_say_number(" of wishes: ", sizeof wishes / sizeof wishes[0]);
    board_say_number(", status ", (unsigned)status);
    board_say_number(", stack ", board_stack_used());
    board_say("\r\n");
}

int main(void)
{
    vd_status status = VD_OK;
    uint64_t last = 0;
    board_start();
    vd_set_start(&target, &vdm_dowel, target_memory, sizeof target_memory);
    for (size_t i = 0; i < sizeof wishes / sizeof wishes[0]; i++) {
        vd_set_put(&target, wishes[i].setting, &wishes[i].value);
    }
    status = vd_visit_start(vd_visit_in(&visit), &vdm_dowel, visit_memory, sizeof visit_memory, &line, ADDRESS, 1000);
    vd_visit_write(vd_visit_in(&visit), board_now(), &target, NULL);
    while (status == VD_OK && !vd_visit_ended(vd_visit_in(&visit), &status)) {
        vd_wants wants;
        hear(&last);
        vd_visit_engine.wants(vd_visit_in(&visit), &wants);
        send(&wants, &last);
        answer(&wants);
    }
    tell(status);
    return 0;
}
