/* SPDX-License-Identifier: MIT
 * A second opinion: units that share no code with the library, on a port of their own. Each keeps its settings as raw
 * text, live and stored, reads and writes its language with a codec of its own, and refuses more than a model says. At
 * a chosen exchange a chosen fault happens. What a visit says afterwards is held against what the unit then holds. */
#ifndef VD_TEST_ORACLE_H
#define VD_TEST_ORACLE_H

#include "verdite/port.h"

enum { ORACLE_CELLS = 24, ORACLE_RAW = 48, ORACLE_QUEUE = 4096 };

typedef enum oracle_manner { REGISTERS, COMMANDS, QUERIES, SENTENCES } oracle_manner;

/* One list makes the enum and the names. Those of the first line are faults of the line: the unit itself is sound.
 * PLUG_OUT, SAYS_IT_STARTED, PORT_PULLED: it says that it has stored and has not, runs on where it was told to restart,
 * and meanwhile its cable is out for ten seconds, or it says that it has started, or its own port is pulled and comes
 * back. */
/* clang-format off */
#define ORACLE_FAULTS(X)                                                                                               \
    X(NOTHING_WRONG)                                                                                                   \
    X(REQUEST_LOST) X(REPLY_LOST) X(DAMAGED) X(CUT) X(LATE) X(DOUBLED) X(NOISE_BEFORE) X(NOISE_AFTER) X(BUSY) X(ECHO)  \
    X(UNSEEN_DAMAGE) X(REFUSED) X(ROUNDED) X(NOT_TAKEN) X(NOT_STORED) X(ANOTHER_MOVED)                                 \
    X(RESTART_BEFORE) X(RESTART_DURING) X(RESTART_AFTER) X(NO_RESTART) X(LATE_RESTART)                                 \
    X(PLUG_OUT) X(SAYS_IT_STARTED) X(PORT_PULLED)                                                                      \
    X(SILENT_FOR_GOOD) X(LINK_NEVER) X(LINK_LATE) X(SOMEBODY_THERE) X(ANOTHER_UNIT) X(SECOND_UNIT) X(PORT_GONE) X(STOPPED_BY_HAND) X(DISK_FULL)
/* clang-format on */
#define ORACLE_ENUM_(name) F_##name,
typedef enum oracle_fault { ORACLE_FAULTS(ORACLE_ENUM_) ORACLE_FAULT_COUNT } oracle_fault;
#undef ORACLE_ENUM_
#define ORACLE_LAST_OF_LINE F_ECHO

/* A setting as such a unit holds it: hexadecimal words of registers, or a field as it is said. */
typedef struct oracle_cell {
    const char *key;  /* the model's */
    const char *word; /* lines: the record */
    uint16_t at;      /* the first register; of a record the field, from 0 */
    uint8_t words;    /* registers */
    char access; /* 'b' both, 'r' reads only, 'w' writes only, 't' tells how long it has run, 'i' input register, 'u'
                    one that a restart sets to 0, 'f' reads only, after the login, 'c' counts whenever it is read */
    const char *from;    /* raw, at first */
    const char *typed;   /* what the task wants, as typed; NULL: nothing */
    const char *to;      /* the same raw */
    const char *factory; /* raw, as it comes from its box; NULL: as `from` */
    const char *other;   /* of what slots hold: raw, in the slot that is not in force at first; NULL: it is in none */
    char slot[2][ORACLE_RAW];
    char live[ORACLE_RAW], stored[ORACLE_RAW];
    int told_before, told_live, told_stored; /* the last exchange in which it was told before any write, and at all */
} oracle_cell;

typedef struct oracle {
    oracle_manner manner;
    oracle_cell cells[ORACLE_CELLS];
    size_t count;
    bool in_characters;     /* registers: framed as Modbus ASCII */
    bool first_after_power; /* slots: whichever is chosen, a restart puts the first one in force */
    bool store_needed, restarts_when_stored, shows_stored, takes_port, wants_login, says_ready;
    uint16_t bank;  /* registers: offset of the stored ones, 0: none can be read */
    char link_from; /* registers: when a new address or speed takes force: 'r' restart, 's' storing, 'w' at once,
                       0: it has none */
    vd_wire wire;   /* what its port says it is */
    bool at_once;   /* bits take no time on it, whatever speed is set */
    uint64_t restart_takes; /* microseconds */
    uint64_t login_lasts;   /* without a request; 0: until it restarts */
    uint64_t longest;       /* no reply comes later, unless a fault makes it */
    /* What happens, and when: up to two faults, each at the n-th exchange, from 1. */
    oracle_fault fault[2];
    int at[2];
    /* The rest is the oracle's own. */
    const char *serial, *password;
    bool logged_in, dead, lost, pulled, named, replaced, doubled_up, somebody,
        link_due;            /* named: it was heard to say who it is */
    unsigned address, speed; /* by which it is reached now */
    uint64_t link_at;        /* when it takes up what it stores of that */
    int exchange, errors, writes, first_write;
    unsigned counted;
    uint64_t now, sent_until, off_until, restart_at, on_since, login_until;
    vd_serial line;
    vd_port port;
    struct {
        uint64_t time;
        uint8_t byte;
    } queue[ORACLE_QUEUE];
    size_t queued, taken;
    char reply[2048];
    size_t reply_length;
    uint64_t slower; /* this reply takes so much longer */
} oracle;

extern const vd_port_kind oracle_port_kind;
/* Whether its port, which is gone, can be had again. */
bool oracle_is_back(oracle *o);
/* Switches it on, with both memories as at first. */
void oracle_start(oracle *o);
oracle_cell *oracle_find(oracle *o, const char *key);
/* Whether a fault strikes in this exchange. */
bool oracle_strikes(const oracle *o, oracle_fault fault);
/* Whether a fault was chosen at all, whenever. */
bool oracle_has(const oracle *o, oracle_fault fault);
/* Whether it only says that it stores and restarts. */
bool oracle_pretends(const oracle *o);
/* Stores, restarts: what the codecs call. */
void oracle_store(oracle *o);
void oracle_restart_soon(oracle *o);
/* Stores what it comes with from its box, and restarts. */
void oracle_go_back(oracle *o);
/* The link that a cell says. */
void oracle_link_of(const oracle *o, bool stored, unsigned *address, unsigned *speed);
/* Saves what is live of what slots hold; false: there is no such slot. */
bool oracle_save_slot(oracle *o, unsigned number);
/* Takes staged values (NULL: not written) if its own rules allow it; false: refuses. */
bool oracle_take(oracle *o, char staged[][ORACLE_RAW]);
/* What a cell says now; `stored` in the bank. */
const char *oracle_say(oracle *o, oracle_cell *cell, bool stored);

/* The codecs: put the answer to a request into o->reply. */
void oracle_answer_registers(oracle *o, const uint8_t *request, size_t count);
/* Takes a request in characters apart; returns its length as one in bytes, check and all, 0 where it is unsound. */
size_t oracle_open(const uint8_t *request, size_t count, uint8_t *bytes, size_t size);
void oracle_answer_line(oracle *o, const char *request, size_t count);
/* Spoils the check, or what no check guards. */
void oracle_seal(char *reply, size_t count, oracle_manner manner);

#endif
