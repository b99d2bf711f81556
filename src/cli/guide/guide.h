/* SPDX-License-Identifier: MIT
 * The guide: who types no command is asked one question at a time. Each question is chosen by what is true by now; each
 * answer becomes a command, which is shown and run as if it had been typed. */
#ifndef VD_CLI_GUIDE_GUIDE_H
#define VD_CLI_GUIDE_GUIDE_H

#include "../act/act.h"

/* How much was done to find somebody. */
typedef enum effort { EFFORT_NONE, EFFORT_QUICK, EFFORT_ALL, EFFORT_DIAGNOSED } effort;

/* A unit that was found. Texts are its own; "" where it has none. */
typedef struct guide_unit {
    char *port, *line, *product, *serial;
    const vd_model *model;
    unsigned address; /* 0: it has none */
} guide_unit;

/* What is true by now. */
typedef struct guide {
    cli *c;
    cli_runner *run;
    bool left;         /* the person wants no more */
    vd_class worst;    /* of what was written */
    GPtrArray *ports;  /* by name; none: not listed yet */
    char *port;        /* the one that is meant, NULL: all */
    bool chose_port;   /* or all of them */
    effort effort;     /* of the last look */
    GPtrArray *units;  /* that were found */
    guide_unit *unit;  /* one of them: the one that is meant; NULL: not chosen yet */
    bool read, done;   /* the one that is meant: its settings were shown; nothing is left to do */
    vd_class class;    /* how what was done to it last ended */
    bool kept_address; /* it was asked whether it gets another one */
    bool kept_open;    /* what was interrupted stays so */
    json_t *held;      /* what its reading told, NULL: not read */
    char *file;        /* the profile in hand, NULL: none */
    bool edited;       /* and not written to the unit that is meant */
    bool unsent;       /* what was edited in it was written to no unit yet */
    bool said_all;     /* no more is to be changed */
    bool offered;      /* it was asked whether the file is meant for this unit */
    GPtrArray *proved,
        *unproved; /* units that were written, in words: those that were verified, and those that were not */
} guide;

/* ---- ask.c ---- */

/* A line that was typed behind a question, without blanks around it; NULL: the person leaves. `hint`: what stands above
 * the question, "" nothing. Free it. */
char *guide_asks(guide *g, const char *hint, const char *question);
/* Yes where nothing was typed; false as well where the person leaves. */
bool guide_agrees(guide *g, const char *question);
/* Shows a command and runs it; the words end with NULL. A unit that is meant and `at_unit`: where it is stands behind
 * them. `result` takes what --json would print, NULL: not wanted. */
vd_class guide_does(guide *g, bool at_unit, json_t **result, const char *const *words);
/* The words of the list above. */
#define GUIDE_WORDS(...) ((const char *const[]){__VA_ARGS__, NULL})

/* ---- units.c ---- */

/* Lists the ports, or asks which of them is meant. */
void guide_lists_ports(guide *g);
void guide_chooses_port(guide *g);
/* A unit in words: "dowel QD-24017 at address 247". Free it. */
char *guide_unit_words(const guide *g, const guide_unit *unit);
/* Looks who is there. */
void guide_looks(guide *g);
/* Finds out which unit is meant. */
void guide_chooses(guide *g);
/* Waits until the person has done something about cable, adapter or unit; nothing that was seen is certain then. */
void guide_waits(guide *g, const char *what);
/* The unit that is meant is done with: the next one. */
void guide_goes_on(guide *g);
void guide_parts(guide *g);
void guide_unit_free(void *unit);

/* ---- edits.c ---- */

/* Asks for one change and puts it into the file in hand. */
void guide_edits(guide *g);

/* ---- guide.c ---- */

/* Asks until the person leaves. Returns the worst of what was written. */
vd_class guide_go(cli *c, cli_runner *run);

#endif
