/* SPDX-License-Identifier: MIT
 * Searching: the time until a unit of unknown speed is met, a scan of all addresses, many ports at once. */
#include "figures.h"

#include <stdio.h>

#define LIMIT 60000u /* reply limit of the quick pass */
#define REPLY 43u    /* characters of a dowel's identification */

/* The order in which a wide search tries line settings: the model's own, the standard's, the rest. */
static size_t all_lines(const vd_model *model, vd_line *lines)
{
    static const uint32_t speeds[] = {9600, 19200, 38400, 115200, 4800, 57600, 2400, 1200};
    static const char parities[] = {'E', 'N', 'O'};
    static const vd_line first[] = {{19200, 8, 'E', 1}, {9600, 8, 'E', 1}, {19200, 8, 'N', 1}, {9600, 8, 'N', 1}};
    vd_line wanted[1 + G_N_ELEMENTS(first) + 24];
    size_t count = 0, kept = 0;
    wanted[count++] = model->line;
    for (size_t i = 0; i < G_N_ELEMENTS(first); i++) {
        wanted[count++] = first[i];
    }
    for (size_t i = 0; i < G_N_ELEMENTS(speeds); i++) {
        for (size_t k = 0; k < G_N_ELEMENTS(parities); k++) {
            wanted[count++] = (vd_line){speeds[i], 8, parities[k], 1};
        }
    }
    for (size_t i = 0; i < count; i++) {
        bool known = false;
        for (size_t k = 0; k < kept; k++) {
            known = known || vd_line_equal(&lines[k], &wanted[i]);
        }
        if (!known) {
            lines[kept++] = wanted[i];
        }
    }
    return kept;
}

static bool found_one(const void *search)
{
    return vd_search_count(search) > 0;
}

/* A question that nobody answers: the silence before the next one lies within the reply limit. */
static uint64_t silent_floor(const vd_line *line)
{
    return vd_line_time(line, 7) + LIMIT;
}

/* A dowel at the last setting that replies only after 150 ms: the quick pass misses it, the slow one meets it. */
static void measure_slow_pass(const vd_model *model, const vd_line *lines, size_t count, uint64_t quick_floor)
{
    static vd_search search;
    vd_found found[4];
    world w = {.bench = {.name = ""}};
    uint64_t floor = quick_floor;
    world_add(&w, model, 0, 5, &lines[count - 1]);
    w.units[0].faults.late = 150000;
    world_start(&w, 1);
    const vd_search_plan plan = {.models = &model,
                                 .model_count = 1,
                                 .lines = lines,
                                 .line_count = count,
                                 .from = 5,
                                 .to = 5,
                                 .quick_limit = LIMIT,
                                 .slow_limit = model->reply.longest * 1000u,
                                 .gap = 21000};
    vd_search_begin(&search, 0, &plan, found, G_N_ELEMENTS(found));
    vd_seat seat = {.engine = &vd_search_engine, .self = &search};
    uint64_t time = world_turn(&w, &seat, 1, found_one, &search);
    for (size_t i = 0; i + 1 < count; i++) {
        floor += silent_floor(&lines[i]) - LIMIT + plan.slow_limit;
    }
    floor += exchange_floor(model, &lines[count - 1], 7, REPLY) + w.units[0].faults.late;
    print_ratio("  the same, replying after 150 ms: slow pass", time, floor, 0);
    vd_sim_end(w.sim);
}

/* A dowel at each of the 24 line settings in turn: the worst of them, and the worst ratio. */
static void measure_unknown_speed(const vd_model *model)
{
    static vd_search search;
    vd_line lines[32];
    vd_found found[4];
    size_t count = all_lines(model, lines);
    uint64_t worst = 0, worst_floor = 0, floor = 0;
    for (size_t i = 0; i < count; i++) {
        world w = {.bench = {.name = ""}};
        world_add(&w, model, 0, 5, &lines[i]);
        world_start(&w, 1);
        const vd_search_plan plan = {.models = &model,
                                     .model_count = 1,
                                     .lines = lines,
                                     .line_count = count,
                                     .from = 5,
                                     .to = 5,
                                     .quick_limit = LIMIT,
                                     .gap = 21000};
        vd_search_begin(&search, 0, &plan, found, G_N_ELEMENTS(found));
        vd_seat seat = {.engine = &vd_search_engine, .self = &search};
        uint64_t time = world_turn(&w, &seat, 1, found_one, &search);
        uint64_t least = floor + exchange_floor(model, &lines[i], 7, REPLY);
        least -= i > 0 ? vd_modbus_silence(&lines[i]) : 0; /* it lies within the limit before */
        if (vd_search_count(&search) != 1 || !vd_line_equal(&found[0].line, &lines[i])) {
            fail("a unit was not found");
        }
        if (worst == 0 || time * worst_floor > worst * least) {
            worst = time;
            worst_floor = least;
        }
        floor += silent_floor(&lines[i]);
        if (i + 1 == count) {
            print_ratio("find one dowel, unknown of 24 settings, last", time, least, 1050);
        }
        vd_sim_end(w.sim);
    }
    print_ratio("  the same, the setting with the worst ratio", worst, worst_floor, 1050);
    measure_slow_pass(model, lines, count, floor);
}

static void measure_scan(const vd_model *model)
{
    static vd_search search;
    static vd_found found[16];
    world w = {.bench = {.name = ""}};
    for (uint8_t i = 1; i <= 10; i++) {
        world_add(&w, model, 0, i, &model->line);
    }
    world_add(&w, model, 0, 247, &model->line);
    world_start(&w, 1);
    const vd_search_plan plan = {.models = &model,
                                 .model_count = 1,
                                 .lines = &model->line,
                                 .line_count = 1,
                                 .from = 1,
                                 .to = 247,
                                 .quick_limit = LIMIT,
                                 .gap = 21000};
    vd_search_begin(&search, 0, &plan, found, G_N_ELEMENTS(found));
    vd_seat seat = {.engine = &vd_search_engine, .self = &search};
    uint64_t time = world_turn(&w, &seat, 1, NULL, NULL);
    uint64_t floor = 236 * silent_floor(&model->line) + 11 * exchange_floor(model, &model->line, 7, REPLY);
    if (vd_search_count(&search) != 11) {
        fail("not all units were found");
    }
    print_ratio("scan 1 to 247 on bracken, each met asked twice", time, floor, 1050);
    vd_sim_end(w.sim);
}

static uint64_t search_ports(const vd_model *model, uint16_t first, uint16_t ports)
{
    static vd_search searches[MOST_ADAPTERS];
    static vd_found found[MOST_ADAPTERS][4];
    vd_seat seats[MOST_ADAPTERS] = {{0}};
    world w = {.bench = {.name = ""}};
    for (uint16_t i = 0; i < ports; i++) {
        world_add(&w, model, i, (uint8_t)(20 * (first + i) + 3), &model->line);
    }
    world_start(&w, ports);
    const vd_search_plan plan = {.models = &model,
                                 .model_count = 1,
                                 .lines = &model->line,
                                 .line_count = 1,
                                 .from = 1,
                                 .to = 247,
                                 .quick_limit = LIMIT,
                                 .gap = 21000};
    for (uint16_t i = 0; i < ports; i++) {
        vd_search_begin(&searches[i], 0, &plan, found[i], 4);
        seats[i] = (vd_seat){.engine = &vd_search_engine, .self = &searches[i], .lane = i};
    }
    uint64_t time = world_turn(&w, seats, ports, NULL, NULL);
    vd_sim_end(w.sim);
    return time;
}

void measure_searching(const vd_model *model)
{
    measure_unknown_speed(model);
    measure_scan(model);
    uint64_t slowest = 0;
    for (uint16_t i = 0; i < MOST_ADAPTERS; i++) {
        uint64_t time = search_ports(model, i, 1);
        slowest = time > slowest ? time : slowest;
    }
    print_ratio("eight ports at once, against the slowest one", search_ports(model, 0, MOST_ADAPTERS), slowest, 1100);
}
