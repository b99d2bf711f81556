/* SPDX-License-Identifier: MIT
 * A search over one port or many, for the commands that ask who is there. */
#ifndef VD_CLI_HUNT_H
#define VD_CLI_HUNT_H

#include "cli.h"

#define MOST_FOUND 247u
#define HUNT_QUICK_TO 32u /* --quick asks addresses up to this one, those of the factory, and those met */

/* A port that is searched. */
typedef struct site {
    char *name;
    vd_posix *posix;
    vd_port *port;
    vd_fault fault; /* why it is not searched */
    vd_search search;
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
    vd_line lines[VD_SEARCH_LINES];
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

#endif
