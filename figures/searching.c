/* SPDX-License-Identifier: MIT
 * Searching: the time until a unit of unknown speed is met, a scan of all addresses, many ports at once. */
#include "figures.h"

#include <stdio.h>

#define LIMIT 60000u /* reply limit of the quick pass, as vd_search_plan_of(vd_desks, ) has it for a quick port */
#define REPLY 43u    /* characters of a dowel's identification */

static bool found_one(const void *search)
{
    return vd_search_count(search) > 0;
}

/* A question that nobody answers: the silence before the next one lies within the reply limit. */
static uint64_t silent_floor(const vd_serial *line)
{
    return vd_serial_time(line, 7) + LIMIT;
}

/* A dowel at the last setting that replies only after 150 ms: the quick pass misses it, the slow one meets it. */
static void measure_slow_pass(const vd_model *model, const vd_serial *lines, size_t count, uint64_t quick_floor)
{
    static vd_search_storage search;
    vd_found found[4];
    world w = {.bench = {.name = ""}};
    uint64_t floor = quick_floor;
    world_add(&w, model, 0, 5, &lines[count - 1]);
    w.units[0].faults.late = 150000;
    world_start(&w, 1);
    vd_search_plan plan = vd_search_plan_of(vd_desks, &model, 1, lines, count, 1000);
    plan.from = plan.to = 5;
    vd_search_begin(vd_search_in(&search), 0, &plan, found, G_N_ELEMENTS(found));
    vd_seat seat = {.engine = &vd_search_engine, .self = vd_search_in(&search)};
    uint64_t time = world_turn(&w, &seat, 1, found_one, vd_search_in(&search));
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
    static vd_search_storage search;
    vd_serial lines[VD_SEARCH_LINES];
    vd_found found[4];
    size_t all = vd_search_lines(&model, 1, true, 0, NULL, lines), count = 0;
    for (size_t i = 0; i < all; i++) { /* a second stop bit is no matter for a receiver: 8N2 is met as 8N1 */
        if (lines[i].stop_bits == 1) {
            lines[count++] = lines[i];
        }
    }
    uint64_t worst = 0, worst_floor = 0, floor = 0;
    for (size_t i = 0; i < count; i++) {
        world w = {.bench = {.name = ""}};
        world_add(&w, model, 0, 5, &lines[i]);
        world_start(&w, 1);
        vd_search_plan plan = vd_search_plan_of(vd_desks, &model, 1, lines, count, 1000);
        plan.from = plan.to = 5;
        plan.slow_limit = 0;
        vd_search_begin(vd_search_in(&search), 0, &plan, found, G_N_ELEMENTS(found));
        vd_seat seat = {.engine = &vd_search_engine, .self = vd_search_in(&search)};
        uint64_t time = world_turn(&w, &seat, 1, found_one, vd_search_in(&search));
        uint64_t least = floor + exchange_floor(model, &lines[i], 7, REPLY);
        least -= i > 0 ? vd_modbus_silence(&lines[i]) : 0; /* it lies within the limit before */
        if (vd_search_count(vd_search_in(&search)) != 1 || !vd_serial_equal(&found[0].line, &lines[i])) {
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

/* What a fitter waits for: a search with its defaults on bracken, with the models that ship. */
static void measure_find(const vd_model *const *models, size_t model_count, uint32_t latency)
{
    static vd_search_storage search;
    static vd_found found[16];
    static char what[64];
    const vd_model *dowel = models[0];
    vd_serial lines[VD_SEARCH_LINES];
    size_t count = vd_search_lines(models, model_count, false, 0, NULL, lines);
    world w = {.bench = {.name = ""}, .latency = latency};
    for (uint8_t i = 1; i <= 10; i++) {
        world_add(&w, dowel, 0, i, &dowel->line);
    }
    world_add(&w, dowel, 0, 247, &dowel->line);
    world_start(&w, 1);
    vd_search_plan plan = vd_search_plan_of(vd_desks, models, model_count, lines, count, latency);
    vd_search_begin(vd_search_in(&search), 0, &plan, found, G_N_ELEMENTS(found));
    vd_seat seat = {.engine = &vd_search_engine, .self = vd_search_in(&search)};
    uint64_t time = world_turn(&w, &seat, 1, NULL, NULL), floor = 0;
    if (vd_search_count(vd_search_in(&search)) != 11) {
        fail("not all units were found");
    }
    for (size_t i = 0; i < model_count; i++) { /* who talks in lines is asked once, at its own setting */
        bool lined = !vd_model_has_address(models[i]);
        floor += lined ? vd_serial_time(&models[i]->line, 8) + plan.quick_limit : 0;
    }
    floor += 236 * (vd_serial_time(&dowel->line, 7) + plan.quick_limit);
    /* Whoever is met is asked once more: two on one address seldom answer alike twice. */
    floor += (uint64_t)2 * 11 * (exchange_floor(dowel, &dowel->line, 7, REPLY) + latency - 1000);
    floor += (uint64_t)11 * plan.quick_limit; /* and then whether anybody else answers there */
    g_snprintf(what, sizeof what, "find on bracken, adapter of %u ms", latency / 1000);
    print_ratio(what, time, floor, 1050);
    vd_sim_end(w.sim);
}

static void measure_scan(const vd_model *model)
{
    static vd_search_storage search;
    static vd_found found[16];
    world w = {.bench = {.name = ""}};
    for (uint8_t i = 1; i <= 10; i++) {
        world_add(&w, model, 0, i, &model->line);
    }
    world_add(&w, model, 0, 247, &model->line);
    world_start(&w, 1);
    vd_search_plan plan = vd_search_plan_of(vd_desks, &model, 1, &model->line, 1, 1000);
    plan.slow_limit = 0;
    vd_search_begin(vd_search_in(&search), 0, &plan, found, G_N_ELEMENTS(found));
    vd_seat seat = {.engine = &vd_search_engine, .self = vd_search_in(&search)};
    uint64_t time = world_turn(&w, &seat, 1, NULL, NULL);
    uint64_t floor = 236 * silent_floor(&model->line) + 11 * exchange_floor(model, &model->line, 7, REPLY);
    floor += (uint64_t)11 * plan.quick_limit; /* whether anybody else answers where somebody was met */
    if (vd_search_count(vd_search_in(&search)) != 11) {
        fail("not all units were found");
    }
    print_ratio("scan 1 to 247 on bracken, each met asked twice", time, floor, 1050);
    vd_sim_end(w.sim);
}

static uint64_t search_ports(const vd_model *model, uint16_t first, uint16_t ports)
{
    static vd_search_storage searches[MOST_ADAPTERS];
    static vd_found found[MOST_ADAPTERS][4];
    vd_seat seats[MOST_ADAPTERS] = {{0}};
    world w = {.bench = {.name = ""}};
    for (uint16_t i = 0; i < ports; i++) {
        world_add(&w, model, i, (uint8_t)(20 * (first + i) + 3), &model->line);
    }
    world_start(&w, ports);
    vd_search_plan plan = vd_search_plan_of(vd_desks, &model, 1, &model->line, 1, 1000);
    plan.slow_limit = 0;
    for (uint16_t i = 0; i < ports; i++) {
        vd_search_begin(vd_search_in(&searches[i]), 0, &plan, found[i], 4);
        seats[i] = (vd_seat){.engine = &vd_search_engine, .self = vd_search_in(&searches[i]), .lane = i};
    }
    uint64_t time = world_turn(&w, seats, ports, NULL, NULL);
    vd_sim_end(w.sim);
    return time;
}

void measure_searching(const vd_model *const *models, size_t model_count)
{
    const vd_model *model = models[0];
    static const uint32_t latencies[] = {1000, 4000, 25000};
    for (size_t i = 0; i < G_N_ELEMENTS(latencies); i++) {
        measure_find(models, model_count, latencies[i]);
    }
    measure_unknown_speed(model);
    measure_scan(model);
    uint64_t slowest = 0;
    for (uint16_t i = 0; i < MOST_ADAPTERS; i++) {
        uint64_t time = search_ports(model, i, 1);
        slowest = time > slowest ? time : slowest;
    }
    print_ratio("eight ports at once, against the slowest one", search_ports(model, 0, MOST_ADAPTERS), slowest, 1100);
}
