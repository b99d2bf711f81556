/* SPDX-License-Identifier: MIT
 * Reading: line time against the floor that physics and the standard set, and memory. Line time is the bench's virtual
 * time, so it is the same on every machine. */
#include "figures.h"

#include <stdio.h>
#include <string.h>

static uint64_t read_all(const vd_model *model, uint16_t count)
{
    static vd_visit_storage visits[MOST_UNITS];
    vd_seat seats[MOST_UNITS] = {{0}};
    world w = {.bench = {.name = ""}};
    for (uint16_t i = 0; i < count; i++) {
        world_add(&w, model, 0, (uint8_t)(i + 1), &model->line);
    }
    world_start(&w, 1);
    for (uint16_t i = 0; i < count; i++) {
        vd_visit_start(vd_visit_in(&visits[i]), model, own(vd_visit_size(model)), vd_visit_size(model), &model->line,
                       (uint8_t)(i + 1), 1000);
        vd_visit_read(vd_visit_in(&visits[i]), 0, NULL);
        seats[i] = (vd_seat){.engine = &vd_visit_engine, .self = vd_visit_in(&visits[i])};
    }
    uint64_t time = world_turn(&w, seats, count, NULL, NULL);
    for (uint16_t i = 0; i < count; i++) {
        vd_status status = VD_OK;
        if (!vd_visit_ended(vd_visit_in(&visits[i]), &status) || status != VD_OK) {
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
    vd_talk_storage talk;
    vd_set set;
    vd_status status = VD_OK;
    uint64_t time = 0;
    world_add(&w, model, 0, 1, &model->line);
    world_start(&w, 1);
    vd_set_start(&set, model, own(vd_set_size(model)), vd_set_size(model));
    vd_talk_start(vd_talk_in(&talk), model, own(vd_talk_size(model)), &model->line, 1, 1000, NULL);
    vd_seat seat = {.engine = &vd_talk_engine, .self = vd_talk_in(&talk)};
    vd_talk_begin(vd_talk_in(&talk), 0, VD_JOB_IDENTIFY, NULL, &set, NULL);
    time += world_turn(&w, &seat, 1, NULL, NULL);
    for (int bank = 0; bank < 2; bank++) {
        for (uint16_t i = 0; i < model->setting_count; i++) {
            uint8_t *which = own(model->setting_count);
            which[i] = 1;
            vd_talk_begin(vd_talk_in(&talk), vd_sim_now(w.sim), bank == 0 ? VD_JOB_READ_LIVE : VD_JOB_READ_STORED,
                          which, &set, NULL);
            time += world_turn(&w, &seat, 1, NULL, NULL);
            if (!vd_talk_ended(vd_talk_in(&talk), &status) || status != VD_OK) {
                fail("a setting was not read");
            }
        }
    }
    vd_sim_end(w.sim);
    return time;
}

/* The least time for a stretch of registers, over every way to cut it (tests/test_plan.c holds the library's own plan
 * against all cuts; here the cuts are found anew, by trying for each gap to read over it or to start again). */
typedef struct stretch {
    vd_place places[300];
    bool absent[300]; /* of another variant: nothing may touch it */
    size_t count;
} stretch;

static void collect(const vd_model *model, bool stored, const uint8_t *which, stretch *all)
{
    vd_set unit;
    vd_identity identity = {"", "", "1.4", ""};
    g_strlcpy(identity.product, model->identify.product, sizeof identity.product);
    vd_set_start(&unit, model, own(vd_set_size(model)), vd_set_size(model));
    vd_set_tell_unit(&unit, &identity);
    for (uint32_t key = 0; key < 0x40000; key++) { /* by table and address */
        for (uint16_t i = 0; i < model->setting_count; i++) {
            const vd_setting *s = &model->settings[i];
            bool absent = s->words->when != NULL && vd_set_lacks(&unit, i);
            bool wanted =
                stored ? s->place.table == VD_HOLDING && s->access == VD_READ_WRITE : s->access != VD_WRITE_ONLY;
            wanted = wanted && (which == NULL || which[i] != 0);
            if ((wanted || absent) && ((uint32_t)s->place.table << 16 | s->place.address) == key && all->count < 300) {
                all->absent[all->count] = absent;
                all->places[all->count++] = s->place;
            }
        }
    }
}

static bool may_be_read_together(const vd_model *model, const stretch *all, size_t from, size_t end)
{
    const vd_place *first = &all->places[from], *last = &all->places[end - 1];
    bool bits = first->table == VD_COIL || first->table == VD_DISCRETE;
    uint32_t words = (uint32_t)last->address + last->words - first->address;
    uint32_t most = bits ? model->limits.read_bits : model->limits.read_registers;
    most = most > 0 ? most : bits ? VD_MODBUS_MOST_READ_BITS : VD_MODBUS_MOST_READ;
    bool legal = first->table == last->table && words <= most;
    for (size_t i = from; i < end; i++) {
        legal = legal && !all->absent[i];
    }
    for (uint16_t h = 0; h < model->hole_count; h++) {
        legal = legal && !(model->holes[h].table == first->table && model->holes[h].first > first->address &&
                           model->holes[h].last < last->address);
    }
    return legal;
}

uint64_t bank_floor(const vd_model *model, bool stored, const uint8_t *which)
{
    static stretch all;
    uint64_t best[300] = {0};
    memset(&all, 0, sizeof all);
    collect(model, stored, which, &all);
    for (size_t end = 1; end <= all.count; end++) {
        best[end] = all.absent[end - 1] ? best[end - 1] : UINT64_MAX;
        for (size_t from = end; from-- > 0;) {
            const vd_place *first = &all.places[from], *last = &all.places[end - 1];
            uint32_t words = (uint32_t)last->address + last->words - first->address;
            if (may_be_read_together(model, &all, from, end)) {
                uint32_t data = first->table >= VD_COIL ? (words + 7) / 8 : 2 * words;
                uint64_t time = best[from] + exchange_floor(model, &model->line, 8, 5 + data);
                best[end] = time < best[end] ? time : best[end];
            }
        }
    }
    return best[all.count];
}

static void measure_wren(const vd_model *model)
{
    uint64_t identify = exchange_floor(model, &model->line, 8, 5 + 32);
    print_ratio("read all of a wren, 16 registers at a time", read_all(model, 1),
                identify + bank_floor(model, false, NULL), 1050);
    printf("%-44s %9zu bytes\n", "memory of a visit with the wren", sizeof(vd_visit_storage) + vd_visit_size(model));
}

/* Identification: 7 characters, then head, three basic objects and the serial number. */
uint64_t identity_floor(const vd_model *dowel)
{
    return exchange_floor(dowel, &dowel->line, 7, 10 + 2 * 4 + 9 + 5 + 3 + 8);
}

void measure_reading(const vd_model *dowel, const vd_model *wren)
{
    uint64_t floor = identity_floor(dowel) + bank_floor(dowel, false, NULL) + bank_floor(dowel, true, NULL);
    print_ratio("read all of a dowel, live and stored", read_all(dowel, 1), floor, 1050);
    print_ratio("read all of eleven dowels", read_all(dowel, MOST_UNITS), MOST_UNITS * floor, 1050);
    print_ratio("  beside it: one request for each setting", read_one_by_one(dowel), floor, 0);
    vd_model thirty = *dowel;
    thirty.setting_count = 30;
    printf("%-44s %9zu bytes: %zu of struct, %zu of buffer\n", "memory of a visit with thirty settings",
           sizeof(vd_visit_storage) + vd_visit_size(&thirty), sizeof(vd_visit_storage), vd_visit_size(&thirty));
    printf("%-44s %9zu bytes\n", "memory of a visit with the whole dowel",
           sizeof(vd_visit_storage) + vd_visit_size(dowel));
    printf("%-44s %9zu bytes\n", "memory of a unit that plays the dowel",
           sizeof(vd_unit_storage) + vd_unit_size(dowel, vd_unit_language_of(dowel)));
    measure_wren(wren);
}
