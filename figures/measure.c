/* SPDX-License-Identifier: MIT
 * Measures what the documents claim: line time against the floor that physics and the standard set, and memory. Line
 * time is the bench's virtual time, so it is the same on every machine. */
#include "verdite/host.h"

#include <inttypes.h>
#include <stdio.h>
#include <stdlib.h>

#define MOST_UNITS 11

static const char *model_path;

static GPtrArray *owned; /* everything that was allocated; freed when all is measured */

static void *own(size_t size)
{
    void *memory = g_malloc0(size);
    g_ptr_array_add(owned, memory);
    return memory;
}

static void fail(const char *what)
{
    fprintf(stderr, "measure: %s\n", what);
    exit(1);
}

static vd_model_file *load_model(void)
{
    vd_findings *findings = vd_findings_new(model_path);
    vd_model_file *file = vd_model_file_load(model_path, findings);
    if (file == NULL) {
        fail("the model does not load");
    }
    vd_findings_free(findings);
    return file;
}

/* A bench of `count` dowels at addresses 1 to count, on one pair behind an adapter that adds 1 ms. */
typedef struct world {
    vd_bench_adapter adapter;
    vd_bench_unit units[MOST_UNITS];
    vd_bench bench;
    vd_sim *sim;
    vd_port *port;
} world;

static void build(world *w, const vd_model *model, uint16_t count)
{
    *w = (world){.adapter = {.name = "pair", .label = "", .latency = 1000}};
    for (uint16_t i = 0; i < count; i++) {
        vd_set *set = own(sizeof *set);
        vd_value address = {.type = VD_INTEGER, .number = i + 1};
        vd_set_start(set, model, own(vd_set_size(model)), vd_set_size(model));
        vd_set_put_initial(set);
        vd_set_put(set, vd_model_find_role(model, VD_ROLE_ADDRESS), &address);
        w->units[i] = (vd_bench_unit){
            .name = "unit", .model = model, .identity = {"Quillmere", "dowel", "1.4", "QD-24001"}, .initial = set};
    }
    w->bench = (vd_bench){"figures", &w->adapter, w->units, 1, count, 1};
    w->sim = vd_sim_start(&w->bench);
    if (w->sim == NULL || vd_sim_open(w->sim, "pair", &w->port, NULL) != VD_OK) {
        fail("the bench does not start");
    }
}

static uint64_t turn(world *w, vd_seat *seats, size_t count)
{
    vd_lane lane = {.port = w->port};
    vd_loop loop = {&vd_sim_kind, vd_sim_ground(w->sim), &lane, seats, 1, count, NULL, NULL};
    uint64_t from = vd_sim_now(w->sim);
    for (size_t done = 0; done < count;) {
        done = 0;
        if (vd_loop_step(&loop, vd_sim_now(w->sim) + 1000000) != VD_OK) {
            fail("the loop stopped");
        }
        for (size_t i = 0; i < count; i++) {
            vd_wants wants;
            vd_loop_wants(&loop, i, &wants);
            done += wants.done;
        }
    }
    return vd_sim_now(w->sim) - from;
}

static uint64_t read_all(const vd_model *model, uint16_t count)
{
    static vd_session sessions[MOST_UNITS];
    vd_seat seats[MOST_UNITS] = {{0}};
    world w;
    build(&w, model, count);
    for (uint16_t i = 0; i < count; i++) {
        vd_session_start(&sessions[i], model, own(vd_session_size(model)), vd_session_size(model), &model->line,
                         (uint8_t)(i + 1), 1000);
        vd_session_read(&sessions[i], 0, NULL);
        seats[i] = (vd_seat){.engine = &vd_session_engine, .self = &sessions[i]};
    }
    uint64_t time = turn(&w, seats, count);
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
    world w;
    vd_modbus_talk talk;
    vd_set set;
    vd_status status = VD_OK;
    uint64_t time = 0;
    build(&w, model, 1);
    vd_set_start(&set, model, own(vd_set_size(model)), vd_set_size(model));
    vd_modbus_talk_start(&talk, model, own(vd_modbus_talk_size(model)), &model->line, 1, 1000, NULL);
    vd_seat seat = {.engine = &vd_modbus_talk_engine, .self = &talk};
    vd_modbus_talk_begin(&talk, 0, VD_JOB_IDENTIFY, NULL, &set);
    time += turn(&w, &seat, 1);
    for (int bank = 0; bank < 2; bank++) {
        for (uint16_t i = 0; i < model->setting_count; i++) {
            uint8_t *which = own(model->setting_count);
            which[i] = 1;
            vd_modbus_talk_begin(&talk, vd_sim_now(w.sim), bank == 0 ? VD_JOB_READ_LIVE : VD_JOB_READ_STORED, which,
                                 &set);
            time += turn(&w, &seat, 1);
            if (!vd_modbus_talk_ended(&talk, &status) || status != VD_OK) {
                fail("a setting was not read");
            }
        }
    }
    vd_sim_end(w.sim);
    return time;
}

/* What one exchange takes at least: silence, the request, the unit's turnaround, the reply, the adapter. */
static uint64_t exchange_floor(const vd_model *model, uint64_t request, uint64_t reply)
{
    return vd_modbus_silence(&model->line) + vd_line_time(&model->line, request) + model->reply.usual * 1000u +
           vd_line_time(&model->line, reply) + 1000;
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
                uint64_t time = best[from] + exchange_floor(model, 8, 5 + 2 * words);
                best[end] = time < best[end] ? time : best[end];
            }
        }
    }
    return best[count];
}

static uint64_t permille(uint64_t time, uint64_t floor)
{
    return (1000 * time + floor / 2) / floor;
}

static void print_ratio(const char *what, uint64_t time, uint64_t floor)
{
    uint64_t ratio = permille(time, floor);
    printf("%-44s %9.1f ms   floor %9.1f ms   ratio %" PRIu64 ".%03" PRIu64 "\n", what, (double)time / 1000,
           (double)floor / 1000, ratio / 1000, ratio % 1000);
}

int main(int argc, char **argv)
{
    if (argc != 2) {
        fail("give the path of dowel.yaml");
    }
    model_path = argv[1];
    owned = g_ptr_array_new_with_free_func(g_free);
    vd_model_file *file = load_model();
    const vd_model *model = vd_model_file_model(file);
    /* Identification: 7 characters, then head, three basic objects and the serial number. */
    uint64_t identify = exchange_floor(model, 7, 10 + 2 * 4 + 9 + 5 + 3 + 8);
    uint64_t floor = identify + bank_floor(model, false) + bank_floor(model, true);
    uint64_t one = read_all(model, 1), eleven = read_all(model, MOST_UNITS);
    print_ratio("read all of a dowel, live and stored", one, floor);
    print_ratio("read all of eleven dowels", eleven, MOST_UNITS * floor);
    print_ratio("  beside it: one request for each setting", read_one_by_one(model), floor);
    vd_model thirty = *model;
    thirty.setting_count = 30;
    printf("%-44s %9zu bytes: %zu of struct, %zu of buffer\n", "memory of a session with thirty settings",
           sizeof(vd_session) + vd_session_size(&thirty), sizeof(vd_session), vd_session_size(&thirty));
    printf("%-44s %9zu bytes\n", "memory of a session with the whole dowel",
           sizeof(vd_session) + vd_session_size(model));
    printf("%-44s %9zu bytes\n", "memory of a unit that plays the dowel", sizeof(vd_unit) + vd_unit_size(model));
    if (permille(one, floor) > 1050 || permille(eleven, MOST_UNITS * floor) > 1050) {
        fail("reading takes more than 1.05 times the floor");
    }
    g_ptr_array_free(owned, TRUE);
    vd_model_file_free(file);
    return 0;
}
