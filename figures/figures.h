/* SPDX-License-Identifier: MIT
 * What the measurements share: worlds of units, and memory that is freed when all is measured. */
#ifndef VD_FIGURES_H
#define VD_FIGURES_H

#include "verdite/host.h"
#include "verdite/lines_unit.h"
#include "verdite/modbus_unit.h"

#define MOST_UNITS 11
#define MOST_ADAPTERS 8

/* Units on pairs behind adapters that add 1 ms each, or as much as `latency` says, microseconds. */
typedef struct world {
    uint32_t latency;
    vd_bench_adapter adapters[MOST_ADAPTERS];
    vd_bench_unit units[MOST_UNITS];
    vd_bench bench;
    vd_sim *sim;
    vd_port *ports[MOST_ADAPTERS];
} world;

/* Ends the program: what was to be measured did not work. */
void fail(const char *what);
/* Zeroed memory that lives until the program ends. */
void *own(size_t size);
/* Puts a value as a person types it; it must be one. */
void set_typed(vd_set *set, const char *key, const char *typed);
/* Adds a unit; address and line setting as given, where they are settings of the model. */
void world_add(world *w, const vd_model *model, uint16_t cable, uint8_t address, const vd_serial *line);
/* Starts the world with one pair for each of `adapters` adapters and opens them. */
void world_start(world *w, uint16_t adapters);
/* Turns the loop until all seats are done, or until `until` says so; returns the virtual time that took. */
uint64_t world_turn(world *w, vd_seat *seats, size_t count, bool (*until)(const void *about), const void *about);
/* What one exchange takes at least: silence, the request, the unit's turnaround, the reply, the adapter. */
uint64_t exchange_floor(const vd_model *model, const vd_serial *line, uint64_t request, uint64_t reply);
/* By how much less: each end has a character at the middle of its stop bit, so half a bit of the request and half a bit
 * of the reply are not waited for. */
uint64_t heard_before_its_end(const vd_serial *line);
/* What reading the live or the stored values takes at least, of the settings that `which` names, NULL: of all. */
uint64_t bank_floor(const vd_model *model, bool stored, const uint8_t *which);
/* What it takes at least to ask a dowel who it is. */
uint64_t identity_floor(const vd_model *dowel);
void print_ratio(const char *what, uint64_t time, uint64_t floor, unsigned most_permille);

void measure_reading(const vd_model *dowel, const vd_model *wren);
void measure_writing(const vd_model *dowel);
/* The dowel comes first. */
void measure_searching(const vd_model *const *models, size_t model_count);
void measure_lines(const vd_model *brock, const vd_model *skep, const vd_model *lantern);
void measure_models(void);
void measure_alarms(const vd_model *brock);
void measure_intervals(const vd_model *brock);
void measure_history(const vd_model *dowel);

#endif
