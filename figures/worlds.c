/* SPDX-License-Identifier: MIT
 * Worlds of units, and what an exchange takes at least. */
#include "figures.h"

#include <inttypes.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

static GPtrArray *owned;

void fail(const char *what)
{
    fprintf(stderr, "measure: %s\n", what);
    exit(1);
}

static void disown_all(void)
{
    g_ptr_array_free(owned, TRUE);
}

void *own(size_t size)
{
    void *memory = g_malloc0(size);
    if (owned == NULL) {
        owned = g_ptr_array_new_with_free_func(g_free);
        atexit(disown_all);
    }
    g_ptr_array_add(owned, memory);
    return memory;
}

/* The number by which a choice of this setting is held. */
static vd_value choice(const vd_model *model, vd_role role, const char *name)
{
    const vd_setting *setting = &model->settings[vd_model_find_role(model, role)];
    vd_typed typed;
    if (vd_setting_parse(setting, name, strlen(name), &typed, NULL) != VD_OK) {
        fail("a line setting that a dowel does not have");
    }
    return typed.value;
}

static void put_role(vd_set *set, vd_role role, vd_value value)
{
    uint16_t setting = vd_model_find_role(set->model, role);
    if (setting != VD_NONE) {
        vd_set_put(set, setting, &value);
    }
}

void set_typed(vd_set *set, const char *key, const char *typed)
{
    uint16_t setting = vd_model_find(set->model, key);
    vd_typed value;
    if (setting == VD_NONE ||
        vd_setting_parse(&set->model->settings[setting], typed, strlen(typed), &value, NULL) != VD_OK) {
        fail(key);
    }
    vd_set_put(set, setting, &value.value);
}

void world_add(world *w, const vd_model *model, uint16_t cable, uint8_t address, const vd_serial *line)
{
    vd_set *set = own(sizeof *set);
    char baud[16], framing[] = {(char)('0' + line->data_bits), line->parity, (char)('0' + line->stop_bits), '\0'};
    g_snprintf(baud, sizeof baud, "%u", line->baud);
    vd_set_start(set, model, own(vd_set_size(model)), vd_set_size(model));
    vd_set_put_initial(set);
    if (vd_model_find_role(model, VD_ROLE_ADDRESS) != VD_NONE) {
        put_role(set, VD_ROLE_ADDRESS, (vd_value){.type = VD_INTEGER, .number = address});
        put_role(set, VD_ROLE_BAUD, choice(model, VD_ROLE_BAUD, baud));
        put_role(set, VD_ROLE_FRAMING, choice(model, VD_ROLE_FRAMING, framing));
    }
    vd_bench_unit *unit = &w->units[w->bench.unit_count++];
    *unit = (vd_bench_unit){.name = "unit",
                            .model = model,
                            .language = vd_unit_language_of(model),
                            .identity = {"", "", "1.4", ""},
                            .initial = set,
                            .cable = cable};
    g_strlcpy(unit->identity.maker, model->identify.maker, sizeof unit->identity.maker);
    g_strlcpy(unit->identity.product, model->identify.product, sizeof unit->identity.product);
    g_snprintf(unit->identity.serial, sizeof unit->identity.serial, "QD-%05u", 24000u + address);
}

void world_start(world *w, uint16_t adapters)
{
    for (uint16_t i = 0; i < adapters; i++) {
        char *name = own(16);
        g_snprintf(name, 16, "pair-%u", i);
        w->adapters[i] =
            (vd_bench_adapter){.name = name, .label = "", .cable = i, .latency = w->latency > 0 ? w->latency : 1000};
    }
    w->bench = (vd_bench){"figures", w->adapters, w->units, adapters, w->bench.unit_count, adapters};
    w->sim = vd_sim_start(&w->bench);
    for (uint16_t i = 0; i < adapters; i++) {
        if (w->sim == NULL || vd_sim_open(w->sim, w->adapters[i].name, &w->ports[i], NULL) != VD_OK) {
            fail("the bench does not start");
        }
    }
}

uint64_t world_turn(world *w, vd_seat *seats, size_t count, bool (*until)(const void *about), const void *about)
{
    vd_lane lanes[MOST_ADAPTERS] = {{0}};
    for (uint16_t i = 0; i < w->bench.adapter_count; i++) {
        lanes[i].port = w->ports[i];
    }
    vd_loop loop = {.kind = &vd_sim_kind,
                    .ground = vd_sim_ground(w->sim),
                    .lanes = lanes,
                    .seats = seats,
                    .lane_count = w->bench.adapter_count,
                    .seat_count = count};
    uint64_t from = vd_sim_now(w->sim);
    for (size_t done = 0; done < count && (until == NULL || !until(about));) {
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

uint64_t exchange_floor(const vd_model *model, const vd_serial *line, uint64_t request, uint64_t reply)
{
    /* A unit tells the end of a request by the silence behind it, so it replies no sooner than that. */
    uint64_t silence = vd_modbus_silence(line), turnaround = model->reply.usual * 1000u;
    return silence + vd_serial_time(line, request) + MAX(turnaround, silence) + vd_serial_time(line, reply) + 1000 -
           heard_before_its_end(line);
}

uint64_t heard_before_its_end(const vd_serial *line)
{
    return (vd_serial_time(line, 1) + vd_serial_character_bits(line) - 1) / vd_serial_character_bits(line);
}

void print_ratio(const char *what, uint64_t time, uint64_t floor, unsigned most_permille)
{
    uint64_t ratio = (1000 * time + floor / 2) / floor;
    printf("%-44s %9.1f ms   floor %9.1f ms   ratio %" PRIu64 ".%03" PRIu64 "\n", what, (double)time / 1000,
           (double)floor / 1000, ratio / 1000, ratio % 1000);
    if (ratio < 1000) {
        fail("that is below its floor, so the floor is counted wrong");
    }
    if (most_permille > 0 && ratio > most_permille) {
        fail("that is more than it may be");
    }
}
