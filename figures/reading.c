/* SPDX-License-Identifier: MIT
 * Reading: line time against the floor that physics and the standard set, and memory. Line time is the bench's virtual
 * time, so it is the same on every machine. */
#include "figures.h"

#include <stdio.h>

static uint64_t read_all(const vd_model *model, uint16_t count)
{
    static vd_session sessions[MOST_UNITS];
    vd_seat seats[MOST_UNITS] = {{0}};
    world w = {.bench = {.name = ""}};
    for (uint16_t i = 0; i < count; i++) {
        world_add(&w, model, 0, (uint8_t)(i + 1), &model->line);
    }
    world_start(&w, 1);
    for (uint16_t i = 0; i < count; i++) {
        vd_session_start(&sessions[i], model, own(vd_session_size(model)), vd_session_size(model), &model->line,
                         (uint8_t)(i + 1), 1000);
        vd_session_read(&sessions[i], 0, NULL);
        seats[i] = (vd_seat){.engine = &vd_session_engine, .self = &sessions[i]};
    }
    uint64_t time = world_turn(&w, seats, count, NULL, NULL);
    for (uint16_t i = 0; i < count; i++) {
        vd_status status = VD_OK;
        if (!vd_session_ended(&sessions[i], &status) || status != VD_OK) {
            fail("a unit was not read");
        }
    }
    vd_sim_end(w.sim);
    return time;
}

/* The same values with a request for each setting. */
static uint64_t read_one_by_one(const vd_model *model)
{
    world w = {.bench = {.name = ""}};
    vd_modbus_talk talk;
    vd_set set;
    vd_status status = VD_OK;
    uint64_t time = 0;
    world_add(&w, model, 0, 1, &model->line);
    world_start(&w, 1);
    vd_set_start(&set, model, own(vd_set_size(model)), vd_set_size(model));
    vd_modbus_talk_start(&talk, model, own(vd_modbus_talk_size(model)), &model->line, 1, 1000, NULL);
    vd_seat seat = {.engine = &vd_modbus_talk_engine, .self = &talk};
    vd_modbus_talk_begin(&talk, 0, VD_JOB_IDENTIFY, NULL, &set, NULL);
    time += world_turn(&w, &seat, 1, NULL, NULL);
    for (int bank = 0; bank < 2; bank++) {
        for (uint16_t i = 0; i < model->setting_count; i++) {
            uint8_t *which = own(model->setting_count);
            which[i] = 1;
            vd_modbus_talk_begin(&talk, vd_sim_now(w.sim), bank == 0 ? VD_JOB_READ_LIVE : VD_JOB_READ_STORED, which,
                                 &set, NULL);
            time += world_turn(&w, &seat, 1, NULL, NULL);
            if (!vd_modbus_talk_ended(&talk, &status) || status != VD_OK) {
                fail("a setting was not read");
            }
        }
    }
    vd_sim_end(w.sim);
    return time;
}

/* The least time for a stretch of registers, over every way to cut it (tests/test_plan.c holds the library's own plan
 * against all cuts; here the cuts are found anew, by trying for each gap to read over it or to start again). */
static uint64_t bank_floor(const vd_model *model, bool stored)
{
    uint64_t best[300] = {0};
    vd_place places[300] = {{0}};
    size_t count = 0;
    for (uint32_t key = 0; key < 0x20000; key++) { /* by table and address */
        for (uint16_t i = 0; i < model->setting_count; i++) {
            const vd_setting *s = &model->settings[i];
            bool wanted =
                stored ? s->place.table == VD_HOLDING && s->access == VD_READ_WRITE : s->access != VD_WRITE_ONLY;
            if (wanted && ((uint32_t)s->place.table << 16 | s->place.address) == key && count < 300) {
                places[count++] = s->place;
            }
        }
    }
    for (size_t end = 1; end <= count; end++) {
        best[end] = UINT64_MAX;
        for (size_t from = end; from-- > 0;) {
            uint32_t words = (uint32_t)places[end - 1].address + places[end - 1].words - places[from].address;
            bool hole = false;
            for (uint16_t h = 0; h < model->hole_count; h++) {
                hole = hole ||
                       (model->holes[h].table == places[from].table && model->holes[h].first > places[from].address &&
                        model->holes[h].last < places[end - 1].address);
            }
            if (places[from].table == places[end - 1].table && words <= VD_MODBUS_MOST_READ && !hole) {
                uint64_t time = best[from] + exchange_floor(model, &model->line, 8, 5 + 2 * words);
                best[end] = time < best[end] ? time : best[end];
            }
        }
    }
    return best[count];
}

void measure_reading(const vd_model *model)
{
    /* Identification: 7 characters, then head, three basic objects and the serial number. */
    uint64_t identify = exchange_floor(model, &model->line, 7, 10 + 2 * 4 + 9 + 5 + 3 + 8);
    uint64_t floor = identify + bank_floor(model, false) + bank_floor(model, true);
    print_ratio("read all of a dowel, live and stored", read_all(model, 1), floor, 1050);
    print_ratio("read all of eleven dowels", read_all(model, MOST_UNITS), MOST_UNITS * floor, 1050);
    print_ratio("  beside it: one request for each setting", read_one_by_one(model), floor, 0);
    vd_model thirty = *model;
    thirty.setting_count = 30;
    printf("%-44s %9zu bytes: %zu of struct, %zu of buffer\n", "memory of a session with thirty settings",
           sizeof(vd_session) + vd_session_size(&thirty), sizeof(vd_session), vd_session_size(&thirty));
    printf("%-44s %9zu bytes\n", "memory of a session with the whole dowel",
           sizeof(vd_session) + vd_session_size(model));
    printf("%-44s %9zu bytes\n", "memory of a unit that plays the dowel", sizeof(vd_unit) + vd_unit_size(model));
}
