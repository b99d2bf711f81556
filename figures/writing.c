/* SPDX-License-Identifier: MIT
 * Writing over registers: the time of a write and its verification against the exchanges that it takes at least, what
 * the truth costs included and told one by one. */
#include "figures.h"

#include <stdio.h>
#include <string.h>

/* Runs the write to its end; returns how long each step took in `steps`. */
static uint64_t run(world *w, vd_visit *visit, uint64_t steps[VD_STEP_COUNT])
{
    vd_lane lane = {.port = w->ports[0]};
    vd_seat seat = {.engine = &vd_visit_engine, .self = visit};
    vd_loop loop = {&vd_sim_kind, vd_sim_ground(w->sim), &lane, &seat, 1, 1, NULL, NULL};
    vd_status status = VD_OK;
    uint64_t from = vd_sim_now(w->sim), last = from;
    while (!vd_visit_ended(visit, &status)) {
        vd_wants wants;
        vd_step step = vd_visit_progress(visit).step;
        vd_loop_wants(&loop, 0, &wants);
        if (wants.question != VD_ASK_NOTHING) {
            vd_loop_feed(&loop, 0, (vd_event){.kind = VD_ANSWERED, .yes = true});
        } else if (wants.keep) {
            vd_loop_feed(&loop, 0, (vd_event){.kind = VD_KEPT});
        } else if (vd_loop_step(&loop, VD_NEVER) != VD_OK) {
            fail("the loop stopped");
        }
        steps[step] += vd_sim_now(w->sim) - last;
        last = vd_sim_now(w->sim);
    }
    if (status != VD_OK || vd_visit_summary(visit).whole != VD_WHOLE_VERIFIED) {
        fail("a write was not verified");
    }
    return last - from;
}

/* The fewest requests that write these settings and touch nothing between: one for each stretch of registers. */
static uint64_t requests_floor(const vd_model *model, const uint8_t *which)
{
    uint64_t time = 0;
    unsigned run = 0;
    for (uint32_t at = 0; at <= 0x10000; at++) {
        unsigned words = 0;
        for (uint16_t i = 0; i < model->setting_count; i++) {
            const vd_place *place = &model->settings[i].place;
            words = which[i] != 0 && place->table == VD_HOLDING && place->address == at ? place->words : words;
        }
        if (words > 0) {
            run += words;
            at += words - 1;
        } else if (run > 0) {
            time += exchange_floor(model, &model->line, run == 1 ? 8 : 9 + 2 * run, 8);
            run = 0;
        }
    }
    return time;
}

/* Asked to store, the unit says that it takes a while; then it is asked once whether it has. */
static uint64_t storing_floor(const vd_model *model)
{
    return exchange_floor(model, &model->line, 8, 5) + model->reply.store * (uint64_t)1000 +
           exchange_floor(model, &model->line, 8, 7);
}

/* What the truth costs is in it: who it is twice more, with time for another one to be heard; what was written and how
 * long the unit has been running, before it is stored; and all of it read back. */
static uint64_t write_floor(const vd_model *model, const vd_visit *visit)
{
    uint8_t *changed = own(model->setting_count), *looked_at = own(model->setting_count);
    uint8_t *settings = own(model->setting_count);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        changed[i] = vd_visit_changes(visit, i);
        looked_at[i] = changed[i] != 0 || i == vd_index(model->running);
        settings[i] = model->settings[i].access == VD_READ_WRITE || i == vd_index(model->running);
    }
    uint64_t reading = bank_floor(model, false, NULL) + bank_floor(model, true, NULL);
    return 3 * identity_floor(model) + 2 * model->reply.longest * (uint64_t)1000 + reading +
           requests_floor(model, changed) + bank_floor(model, false, looked_at) + storing_floor(model) +
           bank_floor(model, false, settings) + bank_floor(model, true, NULL);
}

/* Another address and speed, at which the unit is read back. Waits that are declared are told apart: until it has
 * restarted, and for replies where nobody may be. */
static void measure_move(const vd_model *dowel)
{
    static vd_visit_storage visit;
    uint64_t steps[VD_STEP_COUNT] = {0};
    world w = {.bench = {.name = ""}};
    vd_set target;
    vd_model there = *dowel;
    there.line.baud = 19200;
    world_add(&w, dowel, 0, 247, &dowel->line);
    world_start(&w, 1);
    vd_set_start(&target, dowel, own(vd_set_size(dowel)), vd_set_size(dowel));
    set_typed(&target, "line.address", "5");
    set_typed(&target, "line.baud", "19200");
    vd_visit_start(vd_visit_in(&visit), dowel, own(vd_visit_size(dowel)), vd_visit_size(dowel), &dowel->line, 247,
                   1000);
    vd_visit_write(vd_visit_in(&visit), 0, &target, NULL);
    uint64_t time = run(&w, vd_visit_in(&visit), steps);
    uint8_t *changed = own(dowel->setting_count), *looked_at = own(dowel->setting_count);
    uint8_t *settings = own(dowel->setting_count);
    for (uint16_t i = 0; i < dowel->setting_count; i++) {
        changed[i] = vd_visit_changes(vd_visit_in(&visit), i);
        looked_at[i] = changed[i] != 0 || i == vd_index(dowel->running);
        settings[i] = dowel->settings[i].access == VD_READ_WRITE || i == vd_index(dowel->running);
    }
    uint64_t waits = steps[VD_STEP_SEE_FREE] + steps[VD_STEP_SEE_LEFT] + steps[VD_STEP_COMING_BACK];
    uint64_t floor = 2 * identity_floor(dowel) + dowel->reply.longest * (uint64_t)1000 +
                     bank_floor(dowel, false, NULL) + bank_floor(dowel, true, NULL) + requests_floor(dowel, changed) +
                     bank_floor(dowel, false, looked_at) + storing_floor(dowel) +
                     exchange_floor(dowel, &dowel->line, 8, 8) + bank_floor(&there, false, settings) +
                     bank_floor(&there, true, NULL) + identity_floor(&there) + dowel->reply.longest * (uint64_t)1000;
    /* Behind a wait for nobody the line has been silent for long enough. */
    floor -= vd_modbus_silence(&dowel->line) + vd_modbus_silence(&there.line);
    print_ratio("give a dowel another address and speed", time - waits, floor, 1050);
    printf("%-44s %9.1f ms\n", "  beside it: waiting for replies from nobody",
           (double)(steps[VD_STEP_SEE_FREE] + steps[VD_STEP_SEE_LEFT]) / 1000);
    printf("%-44s %9.1f ms, of which it restarts %u ms\n", "  beside it: until it is met again",
           (double)steps[VD_STEP_COMING_BACK] / 1000, (unsigned)dowel->restart_time);
    vd_sim_end(w.sim);
}

void measure_writing(const vd_model *dowel)
{
    static const struct {
        vd_step step;
        const char *what;
    } shown[] = {{VD_STEP_IDENTIFY, "  of which: who it is"},
                 {VD_STEP_READ, "  reading live values"},
                 {VD_STEP_READ_STORED, "  reading stored values"},
                 {VD_STEP_KNOW_AGAIN, "  who it is again, and whether alone"},
                 {VD_STEP_WRITE, "  writing"},
                 {VD_STEP_CHECK, "  reading back what is live, before storing"},
                 {VD_STEP_STORE, "  storing"},
                 {VD_STEP_READ_BACK, "  reading back live values"},
                 {VD_STEP_READ_BACK_STORED, "  reading back stored values"},
                 {VD_STEP_KNOW_LAST, "  who it was, and whether alone"}};
    static const char *const changes[][2] = {{"unit.name", "Ling 2"},
                                             {"unit.light", "high"},
                                             {"unit.averaging", "5 s"},
                                             {"unit.mains", "none"},
                                             {"unit.start-delay", "1 min"},
                                             {"weight.tare", "6.4 kg"},
                                             {"weight.low-limit", "20 kg"},
                                             {"weight.high-limit", "70 kg"},
                                             {"weight.hysteresis", "1 kg"},
                                             {"weight.alarm", "low"},
                                             {"weight.alarm-delay", "30 s"},
                                             {"weight.filter", "1 s"},
                                             {"temperature.offset", "0.2 °C"},
                                             {"temperature.low-limit", "33 °C"},
                                             {"temperature.high-limit", "38 °C"},
                                             {"temperature.alarm", "both"},
                                             {"temperature.latching", "on"},
                                             {"relay.follows", "either"},
                                             {"relay.hold", "10 s"},
                                             {"relay.operations", "5"}};
    static vd_visit_storage visit;
    uint64_t steps[VD_STEP_COUNT] = {0};
    world w = {.bench = {.name = ""}};
    vd_set target;
    world_add(&w, dowel, 0, 1, &dowel->line);
    world_start(&w, 1);
    vd_set_start(&target, dowel, own(vd_set_size(dowel)), vd_set_size(dowel));
    for (size_t i = 0; i < G_N_ELEMENTS(changes); i++) {
        set_typed(&target, changes[i][0], changes[i][1]);
    }
    vd_visit_start(vd_visit_in(&visit), dowel, own(vd_visit_size(dowel)), vd_visit_size(dowel), &dowel->line, 1, 1000);
    vd_visit_write(vd_visit_in(&visit), 0, &target, NULL);
    uint64_t time = run(&w, vd_visit_in(&visit), steps);
    print_ratio("write twenty changes of a dowel, verify", time, write_floor(dowel, vd_visit_in(&visit)), 1050);
    for (size_t i = 0; i < G_N_ELEMENTS(shown); i++) {
        printf("%-44s %9.1f ms\n", shown[i].what, (double)steps[shown[i].step] / 1000);
    }
    vd_sim_end(w.sim);
    measure_move(dowel);
}
