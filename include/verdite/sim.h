/* SPDX-License-Identifier: MIT
 *
 * Sim: a port that simulates the hardware. A bench is a small world of adapters, cables and units with a clock of its
 * own that jumps to the next event: the same every time, to the byte. Each bit is charged at the line's speed; what is
 * sent at one speed and heard at another is garbage, with the line errors that a real receiver would report.
 */
#ifndef VERDITE_SIM_H
#define VERDITE_SIM_H

#include <signal.h>

#include "verdite/day.h"
#include "verdite/port.h"
#include "verdite/unit.h"

VD_C_BEGIN

/* Faults, of a unit's replies or of an adapter. `every` n: each n-th reply has it, 0 never. */
typedef struct vd_bench_faults {
    uint16_t damage_every;   /* one bit of the reply is flipped */
    uint16_t cut_every;      /* the second half of the reply is missing */
    uint16_t extend_every;   /* the reply announces and holds two bytes more, with a sound check */
    uint16_t function_every; /* the reply is for another function, with a sound check */
    uint16_t address_every;  /* the reply comes from another address, with a sound check */
    uint16_t mute_every;     /* no reply */
    uint16_t stray_every;    /* a stray byte goes before the reply */
    uint32_t late;           /* each reply comes this much later, microseconds */
    uint32_t jitter;         /* each reply comes up to this much later, by chance with a fixed seed, microseconds */
    uint32_t chatter;        /* it talks unasked every so often, microseconds, 0: never */
    uint32_t starting;       /* it says it is busy for so long after its supply comes on, microseconds */
    bool answers_all;        /* it answers to every address */
    uint8_t exception;       /* each reply is this exception instead, 0 none */
} vd_bench_faults;

/* An adapter of a bench, as a program sees it. */
typedef struct vd_bench_adapter {
    const char *name;     /* the port's name */
    const char *label;    /* what a list of ports shows: maker and product */
    uint16_t cable;       /* index, or VD_NONE when nothing is plugged in behind it */
    uint32_t latency;     /* delay of each byte received, microseconds */
    uint32_t burst;       /* bytes are delivered only every so often, microseconds; 0: one by one */
    uint32_t lost_after;  /* the adapter is pulled after so many bytes received; 0: never */
    bool busy, forbidden; /* held by another program; not allowed to this user */
    bool echo;            /* it hears what it sends itself */
    uint32_t noise;       /* random bytes a second that it seems to hear, 0: none */
    uint32_t fastest;     /* the highest baud that it can do, 0: any */
    vd_wire wire;         /* what its port says that it is */
    bool at_once;         /* bits take no time behind it, whatever its port says; without a wire they never do */
} vd_bench_adapter;

/* What a hand does to a unit. */
typedef enum vd_hand { VD_HAND_PRESS, VD_HAND_UNPLUG, VD_HAND_PLUG, VD_HAND_POWER_OFF, VD_HAND_POWER_ON } vd_hand;

/* Something that a hand does by itself. */
typedef struct vd_bench_hand {
    vd_hand does;    /* vd_hand */
    uint32_t hold;   /* VD_HAND_PRESS: for so long, milliseconds */
    uint64_t at;     /* microseconds: at this virtual time, or so long after it was asked */
    bool when_asked; /* not at a time, but whenever the fitter is told to do something */
    uint16_t turn;   /* with when_asked: only the so-manieth time, from 1; 0: each time */
} vd_bench_hand;

/* A unit of a bench. */
typedef struct vd_bench_unit {
    const char *name;                 /* what people call it */
    const vd_model *model;            /* what it is */
    const vd_unit_language *language; /* the unit's end of the model's */
    vd_identity identity;             /* who it says it is */
    const vd_set *initial;            /* values that differ from factory defaults, live and stored alike; or NULL */
    uint16_t cable;                   /* index, or VD_NONE where it is on none */
    bool off;                         /* no supply at first */
    bool unplugged;                   /* its cable is out at first */
    vd_bench_faults faults;           /* what its replies suffer */
    const vd_bench_hand *hands;       /* what is done to it by hand, and when */
    uint16_t hand_count;              /* of `hands` */
    const vd_day *days;         /* it lives through these, one behind the other; NULL: its model has no intervals */
    uint16_t day_count;         /* of `days` */
    const vd_unit_log *follows; /* its readings follow this; NULL: they move as its model says */
} vd_bench_unit;

/* A world, constant while it is simulated; the simulation keeps using it. */
typedef struct vd_bench {
    const char *name;                                /* what people call it */
    const vd_bench_adapter *adapters;                /* all of them */
    const vd_bench_unit *units;                      /* all of them */
    uint16_t adapter_count, unit_count, cable_count; /* how many there are */
} vd_bench;

/* A bench at work. */
typedef struct vd_sim vd_sim;

/* Starts a bench with all its units powered up. NULL when there is no memory. */
vd_sim *vd_sim_start(const vd_bench *bench);
/* Frees it; NULL is fine. */
void vd_sim_end(vd_sim *sim);
/* Opens an adapter by name: VD_NO_PORT, VD_PORT_BUSY, VD_PORT_NOT_ALLOWED. The port belongs to the simulation. */
vd_status vd_sim_open(vd_sim *sim, const char *name, vd_port **port, vd_fault *fault);
/* The kind of its ports. */
extern const vd_port_kind vd_sim_kind;
/* The ground of every port of this simulation, for a vd_loop. */
void *vd_sim_ground(vd_sim *sim);

/* Virtual time, microseconds. */
uint64_t vd_sim_now(const vd_sim *sim);
/* Lets the world run up to a time. False: it has passed. */
bool vd_sim_set_now(vd_sim *sim, uint64_t now);
/* The unit, to save or restore its banks between runs: put back `stored`, restart it so that its link takes force, then
 * put back `live`. */
vd_unit *vd_sim_unit(vd_sim *sim, uint16_t unit_index);
/* The unit's supply goes off and on: live values that were not stored are gone. */
void vd_sim_restart_unit(vd_sim *sim, uint16_t unit_index);

/* A hand does this to a unit, now. `hold` as in vd_bench_hand. */
void vd_sim_hand(vd_sim *sim, uint16_t unit_index, vd_hand does, uint32_t hold);
/* The fitter at this port, NULL: at any, is told to do something: the hands that wait for that begin to. False when
 * none does.
 */
bool vd_sim_ask_hands(vd_sim *sim, const char *port);
/* How often that was so at any port; to be put back, so that a bench goes on where it was left. */
uint32_t vd_sim_turns(const vd_sim *sim);
void vd_sim_put_turns(vd_sim *sim, uint32_t turns); /* puts that back */
/* Whether a unit has its supply. */
bool vd_sim_has_supply(const vd_sim *sim, uint16_t unit_index);
/* Whether a unit is plugged in. */
bool vd_sim_is_plugged(const vd_sim *sim, uint16_t unit_index);

/* The world it was started with. */
const vd_bench *vd_sim_bench(const vd_sim *sim);
/* When something next happens in the world, VD_NEVER when nothing will. */
uint64_t vd_sim_next(vd_sim *sim);
/* Lets the world run up to `until`. */
void vd_sim_run(vd_sim *sim, uint64_t until);

/* Something else to wait for while a bench is served, such as a pipe: `heard` is called when it can be read. */
typedef struct vd_sim_ear {
    int file; /* a descriptor that is looked at */
    /* Called when something can be read there. */
    void (*heard)(void *about);
    void *about; /* what `heard` is about */
} vd_sim_ear;

/* Shows each adapter of the bench as a pseudo-terminal and runs the world in real time until `*stop` is not 0. `tell`
 * is called with the name and the path of each. The world sees the speed and stop bits that the other end has set;
 * parity does not pass a pseudo-terminal, so it is taken to be what the units on that cable use. `ear`: NULL, there is
 * nothing else. VD_PORT_FAILED. */
vd_status vd_sim_serve(vd_sim *sim, volatile sig_atomic_t *stop, void (*tell)(const char *name, const char *path),
                       const vd_sim_ear *ear, vd_fault *fault);

/* Bytes that crossed all cables so far, in both directions, and microseconds during which a cable was in use. */
typedef struct vd_sim_use {
    uint64_t bytes, busy; /* bytes on the cables so far; microseconds in which there were any */
} vd_sim_use;
/* How the cables were used so far. */
vd_sim_use vd_sim_use_of(const vd_sim *sim);

VD_C_END

#endif
