/* SPDX-License-Identifier: MIT
 * A round: the units of a roster, one after another or many at once, each set up and verified by its row. */
#ifndef VD_CLI_ROUND_H
#define VD_CLI_ROUND_H

#include "../act/act.h"
#include "verdite/roster.h"

#include <termios.h>

#define ROUND_JOBS 8u                 /* visits at the same time on one line */
#define ROUND_SEATS (ROUND_JOBS + 1u) /* of a line in the loop: them, and the search */

/* What is known of a row. */
typedef enum row_state {
    ROW_WAITING, /* its unit was not seen yet */
    ROW_AT_WORK, /* a visit to its unit is under way, or about to begin */
    ROW_CUT_OFF, /* its unit went away while it was written */
    ROW_LEFT,    /* it is not verified, and needs a person */
    ROW_TAKEN,   /* a row that is only a number: another unit on the line has that */
    ROW_DONE,    /* verified, or as good as its model allows */
    ROW_BEFORE   /* that was so in an earlier round, and its unit was not met since */
} row_state;

typedef struct round_row {
    vd_roster_unit about;
    size_t index; /* in the roster */
    row_state state;
    vd_class worst;  /* of its last visit */
    char *words;     /* how that ended */
    char *serial;    /* of the unit that the row is for, once it was met; "" where it has none */
    uint8_t wanted;  /* the address that it is to have, 0: its row says none */
    uint8_t address; /* where its unit was met last */
    int64_t when;    /* milliseconds since 1970: when it was done; 0: it is not */
    int64_t before;  /* and when, in an earlier round; it may have been changed since */
    int64_t seen;    /* and when a visit met it last; 0: never */
    bool open;       /* a visit to it was cut off */
    unsigned tries;  /* visits in this round */
    unsigned moved;  /* of the round, when its address was in use: it is tried again once another unit has moved */
    bool blocked;
} round_row;

/* A port at which units are met. */
typedef struct station station;

/* A visit to a unit of a row. */
typedef struct round_job {
    visit v;
    visit_task task;
    voice told;
    round_row *row;
    station *at;
    void *memory;
    vd_set target;
    vd_identity met; /* as it was found */
    uint8_t address; /* where it was found */
    bool begun, over;
    row_state was;    /* of the row, before */
    const char *left; /* why it is left alone, in a few words; NULL: it is not */
} round_job;

/* Someone who stands at a port. */
typedef struct standing {
    unsigned missed; /* sweeps in a row that asked for him in vain */
    bool settled;    /* there is nothing more to do for him until he was away */
    uint8_t address;
} standing;

struct station {
    site *at;
    size_t lane;
    uint8_t asked[256]; /* addresses of the present sweep */
    size_t asked_count;
    unsigned sweeps;          /* so far */
    size_t cursor;            /* in the list of all addresses that are asked by and by */
    bool explored;            /* all of them were asked once */
    bool judged;              /* it was told what else is heard there */
    bool sweeping, lost, own; /* own: it came after the round had begun, or was found by it */
    uint64_t again;           /* when its port is looked for again */
    GHashTable *standing;     /* by name: standing */
    GPtrArray *jobs;          /* round_job, in the order in which they begin */
};

/* What comes from the keyboard. */
typedef struct keys {
    bool terminal, raw;
    struct termios before;
    GString *burst, *typed; /* bytes that came together; the line that is being typed */
    gint64 last;            /* when the last byte came, microseconds */
    bool asking, ended;     /* a question stands; an answer came to it */
    char *answer;
    const char *question;
} keys;

typedef struct round {
    cli *c;
    hunt h;
    trace t;
    vd_loop loop;
    station *stations;
    size_t station_count;
    vd_roster *roster;
    round_row *rows;
    size_t row_count;
    voice whole, *now;
    GHashTable *agreed;      /* words of the causes that were agreed to */
    const round_row *called; /* who was called for last */
    char *next;              /* the words of that; NULL: nobody was */
    uint64_t news, drawn;    /* when something happened last, and was drawn, by the clock of the loop */
    uint64_t wait;           /* so long without news end the round, VD_NEVER: none does */
    bool numbers;            /* its rows are only numbers, and are given out as units come */
    GHashTable *secrets;     /* those that were asked for once, for all units */
    GHashTable *refused;     /* adapters that cannot be opened */
    bool looks;              /* it opens ports that come */
    gint64 looked;           /* when it looked for them last, microseconds */
    gint64 asleep;           /* how long the computer has slept so far, microseconds */
    bool slept;              /* it did just now, and its ports are opened again */
    bool awaits;             /* a unit waits for its code */
    bool calls;              /* the fitter is to be told who is next */
    bool ended;              /* nothing new is begun */
    unsigned moved;          /* units that have got another address so far */
    size_t widths[2];        /* of the columns for serial numbers and names */
    keys keys;
    char *held; /* the code that was scanned last and whose unit was not met yet; NULL: none */
} round;

/* ---- rows.c ---- */

/* Takes the rows of a roster, and what earlier visits say of them. */
void rows_take(round *r);
void rows_free(round *r);
/* The row of a unit; NULL: it is on the list with none. */
round_row *rows_of_serial(const round *r, const char *serial);
/* The row that a unit without a serial number got which has this address by now; NULL: none. */
round_row *rows_at(const round *r, uint8_t address);
/* A row that has this serial number but for zeros before it, which spreadsheets drop; NULL: none. */
round_row *rows_but_zeros(const round *r, const char *serial);
/* The row that a unit without a listed serial number gets by order: the one whose address it has, else the first free
 * one; NULL: there is none. */
round_row *rows_in_order(const round *r, const vd_model *model, uint8_t address);
/* The row that a code is for, or a serial number as it was typed; NULL: none. */
round_row *rows_of_code(const round *r, const char *code);
/* Whether a unit of this model may be one that is told by its code alone. */
bool rows_want_code(const round *r, const vd_model *model);
/* Whether nothing is left to be done. */
bool rows_all_done(const round *r);
/* Who is next; NULL: nobody. */
const round_row *rows_next(const round *r);
/* "QD-30001 (Ling 1)", as much of it as the row says. Free it. */
char *row_words(const round_row *row);
const char *row_state_word(const round_row *row);

/* ---- standing.c ---- */

/* By what someone is known at a port: his serial number, else his address. Free it. */
char *standing_name(const vd_identity *who, uint8_t address);
/* Someone who stands there; `fresh`: he does since now. */
standing *station_meets(station *s, const char *name, bool *fresh);
/* Whether any visit is under way, or stands in the queue. */
bool round_is_at_work(const round *r);

/* ---- station.c ---- */

/* Opens the ports. False: reported. */
bool stations_open(round *r);
void stations_close(round *r);
/* Opens ports that have come since; `told`: and says so. */
void stations_look(round *r, bool told);
/* What was under way at all ports is unknown; they are opened again. */
void stations_lose(round *r);
/* Does what is due at a station. Whether that was anything. */
bool station_tend(round *r, station *s);

/* ---- meeting.c ---- */

/* Decides what is done with a unit that was found. */
void meeting_decide(round *r, station *s, const vd_found *found);

/* ---- secrets.c ---- */

/* Puts the secrets of a row into what its unit is to hold. False: one is missing, which is reported; nothing is done
 * for the unit. */
bool job_take_secrets(round *r, round_job *job);
void round_forget_secrets(round *r);

/* ---- job.c ---- */

/* Of a seat that nobody has taken. */
extern const vd_engine round_idle_engine;

void job_add(round *r, station *s, round_row *row, const vd_found *found);
/* Does what is due for the jobs of a station. Whether that was anything. */
bool jobs_tend(round *r, station *s);
bool jobs_are_over(const station *s);
void job_free(gpointer about);

/* ---- consent.c ---- */

/* Tells what the round will do, and asks, or takes what was answered beforehand. False: no; reported where it is. */
bool consent_given(round *r);
/* Whether what one unit's changes cause was agreed to; asks where it was not. */
bool consent_covers(round *r, round_job *job);

/* ---- keys.c ---- */

/* From now on keys are read one by one, where they come from a terminal, so that a scanner is told from a person. */
void keys_begin(round *r);
void keys_end(round *r);
/* While something else reads a line from the terminal. */
void keys_pause(round *r);
void keys_resume(round *r);
/* Whether there is a person who can be asked in the middle of a round. */
bool keys_can_ask(const round *r);
/* Asks; only this word, typed after the question, agrees. What is scanned meanwhile is held. */
bool keys_ask(round *r, const char *question, const char *word);
/* Takes what was typed or scanned by now. */
void keys_listen(round *r);

/* ---- show.c ---- */

/* From now on messages are about this job; NULL: about the round. */
void round_turn_to(round *r, round_job *job);
/* One bell for verified, two for "needs you". */
void round_ring(const round *r, bool well);
/* Tells of a unit for which nothing is done; `needs`: the fitter has to do something. */
void round_tell(round *r, bool needs, const char *format, ...) G_GNUC_PRINTF(3, 4);
/* How wide the columns of lines are. */
void round_lay_out(round *r);
/* The line of a job that has ended. */
void round_show_line(round *r, const round_job *job);
/* Draws what is under way, on a terminal. */
void round_show_stages(round *r);
/* Tells who is next, once. */
void round_call_next(round *r);
/* The table at the end. */
void round_show_rows(round *r);

/* ---- round.c ---- */

/* Tells what is known of the rows of a roster, without any port. */
vd_class round_status(cli *c, vd_roster *roster);
/* Does a round, to its end. */
vd_class round_do(cli *c, vd_roster *roster);
/* The same where each unit that comes gets the next number of a plan. */
vd_class round_number(cli *c, vd_roster *roster);

#endif
