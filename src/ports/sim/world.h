/* SPDX-License-Identifier: MIT
 * The world of a bench, as its files share it. */
#ifndef VD_SIM_WORLD_H
#define VD_SIM_WORLD_H

#include "cable.h"
#include "verdite/sim.h"
#include "verdite/unit.h"

#define KEPT_ON_CABLE 250000000 /* ns; longer than the slowest character that may still be sampling a talk */
#define QUEUE 65536u

/* An end of a cable, with the next byte it will hear; worked out again only when somebody starts to talk. */
typedef struct ear {
    receiver receiver;
    heard next;
    bool known, any;
} ear;

typedef struct queued {
    uint64_t time; /* microseconds: when the program can have it */
    uint8_t byte, errors;
} queued;

typedef struct adapter {
    const vd_bench_adapter *about;
    vd_sim *sim;
    vd_port port;
    ear ear;
    bool open, lost;
    int64_t next_noise; /* ns */
    int64_t sent_until; /* ns */
    uint64_t delivered;
    queued *queue;
    size_t first, count;
} adapter;

typedef struct unit {
    const vd_bench_unit *about;
    vd_unit_storage room;
    vd_unit *unit;         /* in that room */
    void *memory, *course; /* of the unit; of the days that it lives through */
    ear ear;
    uint64_t replies;
    int64_t on_since, next_chatter, quiet_since; /* ns */
    bool supply, plugged;
    int64_t *due; /* ns: when each of its hands does its thing next, INT64_MAX: never */
} unit;

struct vd_sim {
    const vd_bench *bench;
    int64_t now; /* ns */
    adapter *adapters;
    unit *units;
    cable *cables;
    uint32_t turns;  /* how often the fitter was told to do something */
    uint32_t random; /* starts the same each time, so that chance repeats */
};

/* Nanoseconds as microseconds, rounded up. */
uint64_t world_microseconds(int64_t ns);
/* Whether what an adapter sends takes no time. */
bool world_is_at_once(const adapter *a);
/* Somebody has begun to talk on a cable: what its ends will hear is worked out anew. */
void world_talk_on(vd_sim *sim, uint16_t cable_index);
/* When something happens next, nanoseconds; INT64_MAX: never. */
int64_t world_next_event(vd_sim *sim);
/* When a program can have what an adapter has heard, microseconds; VD_NEVER: it has heard nothing. */
uint64_t world_next_delivery(const adapter *a);

#endif
