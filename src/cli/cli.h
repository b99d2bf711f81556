/* SPDX-License-Identifier: MIT
 * One run of a program: its tables, what a person typed, what came of it. */
#ifndef VD_CLI_CLI_H
#define VD_CLI_CLI_H

#include <jansson.h>
#include "verdite/host.h"
#include "verdite/store.h"

/* What a word or the value of an option is. How each kind is judged, and what a shell may offer for it, stands in one
 * table each: options.c and offers.c. */
typedef enum cli_kind {
    KIND_FLAG,        /* an option without a value */
    KIND_NUMBER,      /* a whole number, from its option's `low` to `high` */
    KIND_FRAMING,     /* data bits, parity, stop bits */
    KIND_TIME,        /* a duration with its unit */
    KIND_TEXT,        /* any other words */
    KIND_FILE,        /* a file that is written, or read as text */
    KIND_PROFILE,     /* the file of a profile */
    KIND_SOURCE,      /* a model's key, or a file: a model's or a profile's */
    KIND_SIDE,        /* the words unit and factory, or the file of a profile */
    KIND_FOLDER,      /* a bench */
    KIND_PORT,        /* a serial port, or an adapter of a bench */
    KIND_MODEL,       /* a model's key, or its file */
    KIND_GROUP,       /* a group of settings */
    KIND_VARIANT,     /* a variant of a model */
    KIND_SETTING,     /* a setting's key */
    KIND_ACTION,      /* something that a unit does when told to */
    KIND_CHANGE,      /* KEY=VALUE, or the key of a secret */
    KIND_REQUIREMENT, /* KEY, KEY=WORD or KEY>=NUMBER */
    KIND_UNIT,        /* a unit of a bench */
    KIND_COMMAND      /* a command of the program, or any word about a task */
} cli_kind;

/* A number that may not have been given. */
typedef struct cli_number {
    bool given;
    uint32_t value;
} cli_number;

/* A framing that may not have been given; its baud counts for nothing. */
typedef struct cli_framing {
    bool given;
    vd_serial line;
} cli_framing;

/* Everything that a command may be told. Every text in it is one line of characters that may be shown (verdite/text.h),
 * and not empty. */
typedef struct cli_options {
    char *bench, *port, *model, *group, *save, *trace_to, *search, *variant, *firmware, *as, *password_from, *serial,
        *onto, *remark, *destroy, *addresses, *line, *log, *zone, *chart, *day, *goal, *against, *number;
    char **with;              /* requirements */
    char **told, **agree;     /* who was told; what was agreed to apart */
    char **beside;            /* profiles */
    char **tariffs;           /* in words */
    char **columns, **limits; /* of a log: CHANNEL=COLUMN; other limits to try: ALARM=VALUE */
    cli_framing framing;
    cli_number baud, address, from, to, count;
    bool login, json, trace, yes, replace, wide, slow, quick, all, watch, restart, by_hand, own, fitting, at_once,
        shared, table, presets, drawn, with_words, explain, by_order, quiet, for_all, help;
    uint32_t time; /* milliseconds, where the command takes a time, or its option --holds */
    char **words;  /* what is left: files, keys, models; NULL: nothing */
} cli_options;

/* Groups of options. */
enum {
    TAKES_PLACE = 1, /* bench, port */
    TAKES_LINE = 2,  /* baud, framing, address, trace */
    TAKES_MODEL = 4,
    TAKES_GROUP = 8,
    TAKES_SAVE = 16,
    TAKES_YES = 32,
    TAKES_SEARCH = 64,
    TAKES_COUNT = 128,
    TAKES_LISTING = 256,
    TAKES_ALL = 512,
    TAKES_CHOICE = 1024, /* what helps to choose a model and to look into it */
    TAKES_PASSWORD = 2048,
    TAKES_LOGIN = 4096,
    TAKES_RESTART = 8192,
    TAKES_OWN = 16384,
    TAKES_HISTORY = 32768,
    TAKES_DESTROY = 65536,
    TAKES_SEVERAL = 131072,
    TAKES_AT_ONCE = 262144,
    TAKES_KIND = 524288, /* variant, firmware */
    TAKES_TABLE = 1048576,
    TAKES_LOG = 2097152,
    TAKES_UNDO = 4194304,
    TAKES_WORDS = 8388608,
    TAKES_EXPLAIN = 16777216,
    TAKES_DAY = 33554432,
    TAKES_COURSE = 67108864, /* of days: recorded ones, and how they are drawn */
    TAKES_PLAN = 134217728,
    TAKES_ROUND = 268435456,
    TAKES_ADAPT = 536870912,
    TAKES_NUMBER = 1073741824
};

/* An option: where its value goes, and what is said of it. */
typedef struct cli_option {
    const char *name;
    char letter; /* '\0': none */
    cli_kind kind;
    size_t slot;        /* its place in cli_options */
    const char *value;  /* what help calls its value, NULL for a flag */
    const char *help;   /* one line */
    unsigned belongs;   /* to which groups; 0: to every command */
    uint32_t low, high; /* of a number; of a text, `high` is its most bytes, 0: any */
    bool many;          /* it may stand several times */
} cli_option;

#define CLI_MOST_OPTIONS 128u /* of all commands together */
extern const cli_option cli_option_table[];
extern const size_t cli_option_count;

/* A word that a command takes. */
typedef struct cli_word {
    const char *name; /* as help calls it; NULL: no more words */
    cli_kind kind;
    bool optional, many;
} cli_word;

#define CLI_MOST_WORDS 3u
#define CLI_MOST_EXAMPLES 4u

struct cli;

/* What a person is at when a command is needed: help lists the commands by it. */
struct cli_program;

typedef enum cli_job { JOB_ANY, JOB_LOOK, JOB_UNDERSTAND, JOB_EDIT, JOB_WRITE, JOB_NEXT, JOB_KEEP, JOBS } cli_job;

typedef struct cli_command {
    const char *name;
    cli_job job;
    cli_word words[CLI_MOST_WORDS];
    const char *summary; /* one line */
    const char *help;    /* paragraphs, each a line of its own */
    const char *examples[CLI_MOST_EXAMPLES];
    unsigned takes;
    vd_class (*run)(struct cli *c);
} cli_command;

/* What the environment may say. */
typedef struct cli_variable {
    const char *name, *help;
} cli_variable;

/* A word by which people know a command elsewhere. */
typedef struct cli_other {
    const char *word, *command;
} cli_other;

/* Runs one command of a program, as it would be typed (the first word is the program's name), to its end; `result`
 * takes what --json prints, NULL: not wanted. Returns its exit status. */
typedef vd_class cli_runner(const struct cli_program *program, char **words, json_t **result);

typedef struct cli_program {
    const char *name;
    const char *summary; /* a sentence */
    const cli_command *commands;
    size_t command_count;
    const cli_variable *variables;
    size_t variable_count;
    const cli_other *others; /* NULL: none */
    size_t other_count;
    bool tasks;                                        /* it has pages on what there is to do */
    vd_class (*guide)(struct cli *c, cli_runner *run); /* asks a person who types no command; NULL: shows its help */
} cli_program;

extern const cli_program verdite_program, verdite_bench_program;

/* One run of a program. */
typedef struct cli {
    const cli_program *program;
    const cli_command *command; /* the one that runs */
    cli_options options;
    bool address_typed; /* as opposed to remembered or found */
    vd_catalogue *catalogue;
    const char *model_key; /* of the model that --model names, by its key or by its file; NULL: none */
    vd_store_file *store;  /* NULL: not opened, or there is none: see remembered() in meet.h */
    bool store_tried, store_shut;
    const char *speaker; /* of several units, the one that messages are about; NULL: there is only one, or all are */
    size_t told_aside;   /* how many files of models were told to be left out */
    json_t *result;      /* what --json prints */
    vd_class worst;      /* the exit status so far */
    bool lines;          /* an object a line: what happened stands before it, as it did */
    bool colour, colour_messages, live_messages; /* results, messages on a terminal; progress is wanted */
} cli;

/* Runs a program to its end; returns its exit status. */
int program_run(const cli_program *program, char **words);

#endif
