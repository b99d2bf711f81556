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
     {FOLDER},
     "adapters and units, and where each unit answers",
     "Shows what there is on a bench, and how it stands at the moment.",
     {"verdite-bench show benches/bracken"},
     0,
     bench_show},
    {"afresh",
     {FOLDER},
     "forget what became of the bench",
     "The next program meets the bench as its file describes it.",
     {"verdite-bench afresh benches/bracken"},
     0,
     bench_afresh},
    {"restart",
     {FOLDER, UNIT},
     "supply off and on",
     "Takes a unit's supply away for a moment: what was not stored is lost.",
     {"verdite-bench restart benches/bracken hive-03"},
     0,
     bench_hand},
    {"press",
     {FOLDER, UNIT, TIME},
     "hold a unit's button",
     "Holds the button of a unit for a time.",
     {"verdite-bench press benches/yard sorrel \"5 s\""},
     0,
     bench_hand},
    {"unplug",
     {FOLDER, UNIT},
     "pull a unit's cable out",
     "Pulls the cable of a unit out.",
     {"verdite-bench unplug benches/bracken hive-03"},
     0,
     bench_hand},
    {"plug",
     {FOLDER, UNIT},
     "put a unit's cable in again",
     "Puts the cable of a unit in again.",
     {"verdite-bench plug benches/bracken hive-03"},
     0,
     bench_hand},
    {"power-off",
     {FOLDER, UNIT},
     "take a unit's supply away",
     "Takes the supply of a unit away.",
     {"verdite-bench power-off benches/bracken hive-03"},
     0,
     bench_hand},
    {"power-on",
     {FOLDER, UNIT},
     "give a unit's supply back",
     "Gives a unit its supply back.",
     {"verdite-bench power-on benches/bracken hive-03"},
     0,
     bench_hand},
    {"wait",
     {FOLDER, TIME},
     "let time pass on the bench",
     "Lets time pass on the bench, at once.",
     {"verdite-bench wait benches/bracken \"10 min\""},
     0,
     bench_wait},
    {"serve",
     {FOLDER},
     "the adapters as pseudo-terminals, in real time",
     "Puts the adapters of a bench behind pseudo-terminals, prints the path of each, and plays its units in real time "
     "until Ctrl-C.",
     {"verdite-bench serve benches/bracken"},
     0,
     bench_serve},
    {"play",
     {{"MODEL", KIND_MODEL, false, false}, {"FOLDER", KIND_FOLDER, true, false}},
     "make a bench with one unit of a model",
     "Makes a bench with one unit, from the factory, of a model: a key or a file. It is of the model's first variant "
     "and has the newest firmware, unless others are named.",
     {"verdite-bench play my-unit.yaml", "verdite-bench play wren --variant probes --firmware 1.2"},
     TAKES_KIND,
     bench_play},
    {"help",
     {{"COMMAND", KIND_COMMAND, true, false}},
     "all commands, or all about one",
     "Shows what verdite-bench can be asked for, or all about one command.",
     {"verdite-bench help serve"},
     0,
     command_help},
    {"version", {{0}}, "which Verdite this is", "Shows the version.", {"verdite-bench version"}, 0, command_version},
};

static const cli_variable variables[] = {
    {"VERDITE_MODELS",
     "Folders of models, with colons between; else the user's own and the one that came with Verdite."},
};

const cli_program verdite_bench_program = {
    "verdite-bench", "Looks after a bench: a folder with bench.yaml, in which units are simulated.",
    commands,        G_N_ELEMENTS(commands),
    variables,       G_N_ELEMENTS(variables)};
