/* SPDX-License-Identifier: MIT
 * Where units are met: ports, benches, searches, and what is remembered of units there. */
#ifndef VD_CLI_MEET_H
#define VD_CLI_MEET_H

#include <signal.h>
#include "../cli.h"
#include "verdite/posix.h"
#include "verdite/search.h"

/* ---- stop.c ---- */

/* From now on Ctrl-C and its kin are counted instead of ending the program; until stops_release(). */
void stops_catch(void);
void stops_release(void);
int stops_so_far(void);
/* The count itself, for a loop that looks at it. */
volatile sig_atomic_t *stops_flag(void);

/* ---- remembered.c ---- */

/* What is remembered of units, NULL: nothing; opened when first asked for, and what is wrong with it told once. */
vd_store_file *remembered(cli *c);
/* Whether there is a store to look into; if not, it has been reported. */
bool remembers(cli *c);

/* ---- trace.c ---- */

typedef struct trace {
    FILE *file;
    vd_tracer *tracer; /* NULL: no trace was asked for */
} trace;

/* Opens what was asked for. False: reported. */
bool trace_start(cli *c, trace *t);
/* Has a loop tell the trace. */
void trace_join(const trace *t, vd_loop *loop);
void trace_end(cli *c, trace *t);

/* ---- place.c ---- */

/* Where the talk happens: a bench or real ports. */
typedef struct place {
    vd_bench_folder *bench;
    vd_posix *posix;
    vd_port *port;
    const vd_port_kind *kind;
    void *ground;
    char *name;     /* of the port */
    char *adapter;  /* who the adapter is, whatever the port is called */
    vd_serial line; /* as typed, or as the model says */
    uint8_t address;
} place;

/* Opens the port that was named, or the only one there is. False: reported. */
bool place_open(cli *c, const vd_model *model, place *p);
/* Reports that such a unit has no address. */
void place_refuse_address(cli *c, const vd_model *model);
/* Another address on the same line; the port stays that of the first. */
place place_beside(const place *p, uint8_t address);
/* Opens the port of a place anew, which was lost with the unit that it belongs to, whatever it is called by now; false:
 * it is not there yet. */
bool place_reopen(const vd_model *model, place *p);
/* Turns the loop for one engine at a place until it is done. Ctrl-C stops it; `progress` is called in between, NULL:
 * not. */
void place_turn(place *p, const trace *t, const vd_engine *engine, void *self, void (*progress)(void *about),
                void *about);
/* Remembers the place as one where this model was met. */
void place_remember(cli *c, const place *p, const vd_model *model);
/* Releases the port; keeps the state of a bench. */
void place_close(cli *c, place *p);

/* The port that would be taken: the one that was named, that served last, or the only one; NULL where there is none or
 * several, or the bench cannot be opened, which is reported. */
char *place_likely_port(cli *c, const vd_served *served);

/* The bench that was named by option or environment, NULL: real ports. */
const char *place_bench_folder(const cli *c);

/* How a unit is called at a place: "at address 3 on PORT, LINE", or without an address where it has none. */
char *place_words(const place *p, const vd_model *model);

/* What a port is: for programs, and as a sentence for people, "" where it is what everybody expects. */
const char *wire_name(vd_wire wire);
const char *wire_words(vd_wire wire);

/* ---- moved.c ---- */

/* Nobody answers at an address: tells who was there before, and is at another one now or may be. In moved.c. */
void moved_tell(cli *c, const vd_model *model, const place *p, uint8_t address);

/* ---- hunt.c ---- */

#define MOST_ADDRESS 247u
#define MOST_FOUND MOST_ADDRESS
#define HUNT_QUICK_TO 32u /* --quick asks addresses up to this one, those of the factory, and those met */

/* A port that is searched. */
typedef struct site {
    char *name;
    char *adapter, *label; /* who the adapter is, whatever the port is called; as it is labelled */
    vd_posix *posix;
    vd_port *port;
    vd_fault fault; /* why it is not searched */
    vd_search_storage room;
    vd_search *search; /* in that room */
    vd_search_plan plan;
    vd_found found[MOST_FOUND];
    uint8_t remembered;      /* the address at which a unit was met last behind this adapter */
    uint8_t met[MOST_FOUND]; /* and all that any was met at */
    size_t met_count;
} site;

/* Everything that one search needs. */
typedef struct hunt {
    vd_bench_folder *bench;
    site *sites;
    size_t count;
    const vd_model *const *models;
    size_t model_count;
    vd_serial lines[VD_SEARCH_LINES];
    size_t line_count;
} hunt;

/* How it is asked. */
typedef enum manner {
    ASK_ALL,        /* as the options have it */
    ASK_ELSEWHERE,  /* quickly at every line setting, in every language */
    ASK_NEIGHBOURS, /* quickly, units with addresses at this line setting */
    ASK_HASTILY,    /* a diagnosis: quickly, and once */
    ASK_ONCE,       /* a diagnosis: patiently, and once */
    ASK_UNTOLD      /* a diagnosis that the command itself tells of */
} manner;

/* What is searched for. */
typedef struct quarry {
    uint8_t from, to;       /* 0: whoever talks in lines, and has no address */
    const vd_model *wanted; /* a diagnosis: this model at the address `from`; NULL: whoever is there */
    manner manner;
} quarry;

/* Takes these models, NULL: loads all; false, reported, when there is none. */
bool hunt_load_models(cli *c, hunt *h, const vd_model *const *models);
/* The line settings to ask at; what was typed narrows the choice. */
void hunt_choose_lines(const cli *c, hunt *h);
/* Opens a real port as a site, in `s`, which is empty; its fault says why it cannot be. And lets go of one. */
void site_open(cli *c, site *s, const char *path, const char *adapter, const char *label);
void site_close(site *s);
/* Opens the port that was named, or all; false, reported, when there is none. */
bool hunt_open(cli *c, hunt *h);
/* Loads, chooses and opens, in this order. */
bool hunt_ready(cli *c, hunt *h, const vd_model *const *models);
void hunt_close(cli *c, hunt *h);
/* Whether a search leaves out the addresses beyond HUNT_QUICK_TO at which nobody was met. */
bool hunt_leaves_out(const cli *c);
/* Searches all ports that could be opened, in one thread. False when it was stopped by hand. */
bool hunt_search(cli *c, hunt *h, const quarry *what, const trace *t);
/* Whether two units are at the address of an open port where a visit could not be done: a fault that names them, as far
 * as they can be understood one by one. */
bool hunt_who_shares(cli *c, const place *p, const vd_model *model, vd_fault *fault);
/* Says what is wrong where something is, puts all that was found into `units`; returns how many are in order. */
size_t hunt_conclude(cli *c, const hunt *h, bool finished, json_t *units);

/* ---- meet.c ---- */

/* The model that was named; else that of whoever answers where the unit is said to be, with line and address as if they
 * had been typed; else what served last there. NULL: reported. */
const vd_model *meet_model(cli *c);

#endif
