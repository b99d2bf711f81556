/* SPDX-License-Identifier: MIT
 * The commands of verdite-bench. */
#include "bench/bench.h"
#include "commands/commands.h"
#include "words/words.h"

#define FOLDER                                                                                                         \
    {                                                                                                                  \
        "FOLDER", KIND_FOLDER, false, false                                                                            \
    }
#define UNIT                                                                                                           \
    {                                                                                                                  \
        "UNIT", KIND_UNIT, false, false                                                                                \
    }
#define TIME                                                                                                           \
    {                                                                                                                  \
        "TIME", KIND_TIME, false, false                                                                                \
    }

static const cli_command commands[] = {
    {"show",
     JOB_ANY,
     {FOLDER},
     "show adapters and units, and where each unit answers",
     "Shows what is on a bench, and its state.",
     {"verdite-bench show benches/bracken"},
     0,
     bench_show},
    {"afresh",
     JOB_ANY,
     {FOLDER},
     "forget what was done to the bench",
     "The bench is again as its file describes it.",
     {"verdite-bench afresh benches/bracken"},
     0,
     bench_afresh},
    {"restart",
     JOB_ANY,
     {FOLDER, UNIT},
     "switch a unit off and on",
     "Switches a unit off and on: what was not stored is lost.",
     {"verdite-bench restart benches/bracken hive-03"},
     0,
     bench_hand},
    {"press",
     JOB_ANY,
     {FOLDER, UNIT, TIME},
     "hold a unit's button",
     "Holds the button of a unit for a time.",
     {"verdite-bench press benches/yard sorrel \"5 s\""},
     0,
     bench_hand},
    {"unplug",
     JOB_ANY,
     {FOLDER, UNIT},
     "unplug a unit's cable",
     "Unplugs the cable of a unit.",
     {"verdite-bench unplug benches/bracken hive-03"},
     0,
     bench_hand},
    {"plug",
     JOB_ANY,
     {FOLDER, UNIT},
     "plug a unit's cable in again",
     "Plugs the cable of a unit in again.",
     {"verdite-bench plug benches/bracken hive-03"},
     0,
     bench_hand},
    {"power-off",
     JOB_ANY,
     {FOLDER, UNIT},
     "switch a unit off",
     "Switches a unit off.",
     {"verdite-bench power-off benches/bracken hive-03"},
     0,
     bench_hand},
    {"power-on",
     JOB_ANY,
     {FOLDER, UNIT},
     "switch a unit on",
     "Switches a unit on.",
     {"verdite-bench power-on benches/bracken hive-03"},
     0,
     bench_hand},
    {"wait",
     JOB_ANY,
     {FOLDER, TIME},
     "let time pass on the bench",
     "Lets time pass on the bench, at once.",
     {"verdite-bench wait benches/bracken \"10 min\""},
     0,
     bench_wait},
    {"serve",
     JOB_ANY,
     {FOLDER},
     "serve the adapters as pseudo-terminals, in real time",
     "Serves the adapters of a bench as pseudo-terminals and prints their paths. Plays its units in real time until "
     "Ctrl-C.",
     {"verdite-bench serve benches/bracken"},
     0,
     bench_serve},
    {"play",
     JOB_ANY,
     {{"MODEL", KIND_MODEL, false, false}, {"FOLDER", KIND_FOLDER, true, false}},
     "make a bench with one unit of a model",
     "Makes a bench with one new unit of a model: a key or a file. It is of the model's first variant "
     "and has the newest firmware, unless others are named.",
     {"verdite-bench play my-unit.yaml", "verdite-bench play wren --variant probes --firmware 1.2"},
     TAKES_KIND,
     bench_play},
    {"help",
     JOB_ANY,
     {{"COMMAND", KIND_COMMAND, true, false}},
     "all commands, or all about one",
     "Shows what verdite-bench can be asked for, or all about one command.",
     {"verdite-bench help serve"},
     0,
     command_help},
    {"version",
     JOB_ANY,
     {{0}},
     "show the version",
     "Shows the version of Verdite.",
     {"verdite-bench version"},
     0,
     command_version},
};

static const cli_variable variables[] = {
    {"VERDITE_MODELS",
     "Folders of models, with colons between; else the user's own and the one that came with Verdite."},
};

const cli_program verdite_bench_program = {
    "verdite-bench",
    "Looks after a bench: a folder with bench.yaml, in which units are simulated.",
    commands,
    G_N_ELEMENTS(commands),
    variables,
    G_N_ELEMENTS(variables),
    NULL,
    0,
    false,
    NULL};
