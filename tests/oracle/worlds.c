/* SPDX-License-Identifier: MIT */
#include "worlds.h"

#define RULE "rules:\n  - {must: low < high, say: \"{low} is not below {high}.\", enforced: writing}\n"

/* ---- Registers ---- */

#define PEG(more) PEG_WITH(more, "", "[31, 239]", "")
#define PEG_MOVING(more, moment) PEG_WITH(more, ", new-from: " moment, "[31, 99]}, {register: [102, 239]", PEG_LINK)
#define PEG_WITH(more, moment, hole, settings)                                                                         \
    "verdite-model: 1\nmodel: peg\ntitle: Peg\nsummary: A unit for tests.\n"                                           \
    "line: {baud: 19200, framing: 8N1" moment "}\naddress: {from: 1, to: 247, factory: 5}\n"                           \
    "identify: {by: objects, maker: Quillmere, product: peg}\n" more                                                   \
    "times: {usual-reply: 8 ms, longest-reply: 200 ms, storing: 200 ms, busy-wait: 50 ms, busy-limit: 2 s, gap: 20 "   \
    "ms}\n"                                                                                                            \
    "holes: [{register: [5, 9]}, {register: [14, 19]}, {register: [22, 29]}, {register: " hole "}]\n"                  \
    "groups: [{key: all, label: All}]\n"                                                                               \
    "settings:\n"                                                                                                      \
    "  - {key: mode, group: all, label: Mode, type: choice, choices: [{name: rest, number: 0}, {name: run, number: "   \
    "1}],"                                                                                                             \
    " default: rest, at: {register: 0}}\n"                                                                             \
    "  - {key: decimals, group: all, label: Decimals, type: integer, range: [0, 3], default: 1, at: {register: 1}}\n"  \
    "  - {key: low, group: all, label: Low, type: decimal, unit: kg, decimals-from: decimals, counts: [-9999, 9999],"  \
    " default: 18.0, at: {register: 2, form: signed}}\n"                                                               \
    "  - {key: high, group: all, label: High, type: decimal, unit: kg, decimals-from: decimals, counts: [-9999, "      \
    "9999],"                                                                                                           \
    " default: 65.0, at: {register: 3, form: signed}}\n"                                                               \
    "  - {key: hysteresis, group: all, label: Hysteresis, type: decimal, unit: kg, decimals-from: decimals,"           \
    " counts: [0, 9999], default: 0.5, at: {register: 4}}\n"                                                           \
    "  - {key: name, group: all, label: Name, type: text, length: 8, default: \"\", at: {register: 10}}\n"             \
    "  - {key: every, group: all, label: Every, type: duration, tick: 1 s, range: [1 s, 1 h], default: 1 min,"         \
    " at: {register: 20}}\n" settings PEG_CODE                                                                         \
    "  - {key: spare, group: all, label: Spare, type: integer, range: [0, 9999], default: 7, at: {register: 30}}\n"    \
    "  - {key: reading, group: all, label: Reading, type: decimal, decimals: 1, range: [0, 100], access: read-only,"   \
    " at: {input: 0}}\n"                                                                                               \
    "  - {key: running, group: all, label: Running, type: duration, tick: 1 s, range: [0 s, 1000 d],"                  \
    " access: read-only, at: {input: 1, words: 2}}\n"                                                                  \
    "  - {key: noticed, group: all, label: Noticed, type: integer, range: [0, 9], default: 0, access: read-only,"      \
    " at: {input: 3}}\n" RULE
#define PEG_LINK                                                                                                       \
    "  - {key: address, group: all, label: Address, type: integer, range: [1, 247], default: 5, role: address,"        \
    " at: {register: 100}}\n"                                                                                          \
    "  - {key: speed, group: all, label: Speed, type: choice, role: baud, default: \"19200\", choices: [{name: "       \
    "\"9600\", number: 0}, {name: \"19200\", number: 1}], at: {register: 101}}\n"
#define PEG_CODE                                                                                                       \
    "  - {key: code, group: all, label: Code, type: integer, range: [0, 9999], access: write-only, default: 1234, "    \
    "at: {register: "                                                                                                  \
    "21}}\n"
#define COUNTER(at)                                                                                                    \
    "  - {key: visits, group: all, label: Visits, type: counter, range: [0, 60000], default: 0, at: {" at "}}\n"
#define PEG_RESTART                                                                                                    \
    "restart: {takes: 2 s, running-time: running}\n"                                                                   \
    "actions:\n"                                                                                                       \
    "  - {key: restart, label: Restart, help: Restarts., register: 241, value: 0x5253, does: restart, takes: 2 s}\n"   \
    "  - {key: defaults, label: Defaults, help: Back., register: 241, value: 0x4644, does: factory-defaults, takes: "  \
    "2 "                                                                                                               \
    "s}\n"

#define PEG_QUICK(undone)                                                                                              \
    "restart: {takes: 2 s, undoes: " undone "}\n"                                                                      \
    "actions: [{key: restart, label: Restart, help: Restarts., register: 241, value: 0x5253, does: restart, takes: 2 " \
    "s}]\n"
#define PEG_LOGIN(more) "login: {help: Log in., guards: writing, register: 250, " more "password: code}\n"

#define PEG_CELLS PEG_CELLS_OF(NULL, NULL, NULL)
/* What mode, name and every are in the slot that is not in force; NULL: in none. */
#define PEG_CELLS_OF(mode, name_there, every)                                                                          \
    {.key = "mode",                                                                                                    \
     .at = 0,                                                                                                          \
     .words = 1,                                                                                                       \
     .access = 'b',                                                                                                    \
     .from = "0000",                                                                                                   \
     .typed = "run",                                                                                                   \
     .to = "0001",                                                                                                     \
     .other = (mode)},                                                                                                 \
        {.key = "decimals", .at = 1, .words = 1, .access = 'b', .from = "0001", .typed = "2", .to = "0002"},           \
        {.key = "low", .at = 2, .words = 1, .access = 'b', .from = "00B4", .typed = "20 kg", .to = "07D0"},            \
        {.key = "high", .at = 3, .words = 1, .access = 'b', .from = "028A", .typed = "70 kg", .to = "1B58"},           \
        {.key = "hysteresis", .at = 4, .words = 1, .access = 'b', .from = "0005", .to = "0032"},                       \
        {.key = "name",                                                                                                \
         .at = 10,                                                                                                     \
         .words = 4,                                                                                                   \
         .access = 'b',                                                                                                \
         .from = "0000000000000000",                                                                                   \
         .typed = "Ling",                                                                                              \
         .to = "4C696E6700000000",                                                                                     \
         .other = (name_there)},                                                                                       \
        {.key = "every",                                                                                               \
         .at = 20,                                                                                                     \
         .words = 1,                                                                                                   \
         .access = 'b',                                                                                                \
         .from = "003C",                                                                                               \
         .typed = "2 min",                                                                                             \
         .to = "0078",                                                                                                 \
         .other = (every)},                                                                                            \
        {.key = "spare", .at = 30, .words = 1, .access = 'b', .from = "0007", .to = "0007"},                           \
        {.key = "reading", .at = 0, .words = 1, .access = 'i', .from = "0123", .to = "0123"},                          \
        {.key = "noticed", .at = 3, .words = 1, .access = 'u', .from = "0001", .to = ""},                              \
        {.key = "running", .at = 1, .words = 2, .access = 't', .from = "00000000", .to = ""},                          \
    {                                                                                                                  \
        .key = "code", .at = 21, .words = 1, .access = 'w', .from = "04D2", .typed = "4711", .to = "1267"              \
    }
#define PEG_LINK_CELLS                                                                                                 \
    {.key = "address", .at = 100, .words = 1, .access = 'b', .from = "0005", .typed = "9", .to = "0009"},              \
    {                                                                                                                  \
        .key = "speed", .at = 101, .words = 1, .access = 'b', .from = "0001", .typed = "9600", .to = "0000"            \
    }
/* Two setups of some of it, saved by an order of their own. */
#define PEG_IN_SLOTS(more) PEG_SLOTS(more, "")
#define PEG_SLOTS(more, after)                                                                                         \
    PEG_WITH(more "presets: [{key: one, label: One, settings: {mode: rest}}, {key: two, label: Two, settings: {mode: " \
                  "run, name: ZWEI}}]\n"                                                                               \
                  "slots: {count: 2, holds: [mode, name, every], chosen-by: setup, saved-by: {register: 242}, " after  \
                  "begin-with: [one, two]}\n",                                                                         \
             "", "[31, 99]}, {register: [101, 239]",                                                                   \
             "  - {key: setup, group: all, label: Setup, type: integer, range: [1, 2], default: 1, at: {register: "    \
             "100}}\n")
#define PEG_SLOT_CELLS                                                                                                 \
    {.key = "setup", .at = 100, .words = 1, .access = 'b', .from = "0001", .typed = "2", .to = "0002"},                \
        PEG_CELLS_OF("0001", "5A57454900000000", "003C")
#define PEG_UNIT .manner = REGISTERS, .longest = 200000

/* ---- Lines ---- */

#define LINES(key, speaks, more, quote)                                                                                \
    "verdite-model: 1\nmodel: " key "\ntitle: A unit in lines\nsummary: A unit for tests.\n"                           \
    "speaks: {" speaks "}\nline: {baud: 9600, framing: 8N1}\nidentify: {maker: Quillmere, product: " key "}\n" more    \
    "times: {usual-reply: 10 ms, longest-reply: 400 ms, storing: 150 ms}\n"                                            \
    "groups: [{key: all, label: All}]\n"                                                                               \
    "settings:\n"                                                                                                      \
    "  - {key: name, group: all, label: Name, type: text, alphabet: \"A-Z0-9\", length: 8, default: \"\","             \
    " at: {word: NAME}}\n"                                                                                             \
    "  - {key: low, group: all, label: Low, type: decimal, unit: kg, decimals: 1, range: [0, 100], default: 18.0,"     \
    " at: {word: LIMIT}}\n"                                                                                            \
    "  - {key: high, group: all, label: High, type: decimal, unit: kg, decimals: 1, range: [0, 100], default: 65.0,"   \
    " at: {word: LIMIT, field: 2}}\n"                                                                                  \
    "  - {key: hysteresis, group: all, label: Hysteresis, type: decimal, unit: kg, decimals: 1, range: [0, 10],"       \
    " default: 0.5, at: {word: LIMIT, field: 3}}\n"                                                                    \
    "  - {key: every, group: all, label: Every, type: duration, tick: 1 s, range: [1 s, 1 h], default: 1 min,"         \
    " at: {word: EVERY}}\n"                                                                                            \
    "  - {key: mode, group: all, label: Mode, type: choice, choices: [{name: rest}, {name: run}], default: rest,"      \
    " at: {word: MODE, as: name}}\n"                                                                                   \
    "  - {key: spare, group: all, label: Spare, type: integer, range: [0, 9999], default: 7, at: {word: SPARE}}\n"     \
    "  - {key: running, group: all, label: Running, type: duration, tick: 1 s, range: [0 s, 1000 d],"                  \
    " access: read-only, at: {word: UPTIME}}\n" quote RULE
#define LINE_CELLS(name_from, name_to) LINE_CELLS_HOLDING(name_from, name_to, "0.5", "7")
#define LINE_CELLS_HOLDING(name_from, name_to, hysteresis, spare)                                                      \
    {.key = "name", .word = "NAME", .access = 'b', .from = name_from, .typed = "LING", .to = name_to},                 \
        {.key = "low", .word = "LIMIT", .access = 'b', .from = "18.0", .typed = "20 kg", .to = "20.0"},                \
        {.key = "high", .word = "LIMIT", .at = 1, .access = 'b', .from = "65.0", .typed = "70 kg", .to = "70.0"},      \
        {.key = "hysteresis", .word = "LIMIT", .at = 2, .access = 'b', .from = hysteresis, .to = hysteresis},          \
        {.key = "every", .word = "EVERY", .access = 'b', .from = "60", .typed = "2 min", .to = "120"},                 \
        {.key = "mode", .word = "MODE", .access = 'b', .from = "REST", .typed = "run", .to = "RUN"},                   \
        {.key = "spare", .word = "SPARE", .access = 'b', .from = spare, .to = spare},                                  \
    {                                                                                                                  \
        .key = "running", .word = "UPTIME", .access = 't', .from = "0", .to = ""                                       \
    }
#define LOGIN_LASTING(lasts) "login: {help: Log in., guards: writing, word: LOGIN, password: password" lasts "}\n"
#define LOGIN LOGIN_LASTING("")
#define PASSWORD                                                                                                       \
    "  - {key: password, group: all, label: Password, type: text, alphabet: \"0-9\", length: 8, default: \"0000\","    \
    " access: write-only, secret: yes, at: {word: PASSWD}}\n"
#define SERVICE                                                                                                        \
    "  - {key: service, group: all, label: Service, type: integer, range: [0, 9], access: read-only, read-by: fitter," \
    " at: {word: SERVICE}}\n"
#define SERVICE_CELLS                                                                                                  \
    LINE_CELLS("\"\"", "\"LING\""),                                                                                    \
        {.key = "password", .word = "PASSWD", .access = 'w', .from = "\"0000\"", .to = "\"0000\""},                    \
    {                                                                                                                  \
        .key = "service", .word = "SERVICE", .access = 'f', .from = "3", .to = "3"                                     \
    }
#define RESTART_WORD                                                                                                   \
    "actions: [{key: restart, label: Restart, help: Restarts., word: RESTART, does: restart, takes: 2 s}]\n"

const world worlds[] = {
    {"registers, stored bank",
     PEG("store: {register: 240, value: 0x4B50, proof: bank, bank-offset: 1000}\nrestart: {takes: 2 s}\n"),
     {PEG_UNIT, .restart_takes = 2000000, .store_needed = true, .bank = 1000, .cells = {PEG_CELLS}, .count = 12}},
    {"registers, proof by restart",
     PEG("store: {register: 240, value: 0x4B50, proof: restart}\n" PEG_RESTART),
     {PEG_UNIT, .restart_takes = 2000000, .store_needed = true, .cells = {PEG_CELLS}, .count = 12}},
    {"registers, no proof",
     PEG("store: {register: 240, value: 0x4B50, proof: none}\nrestart: {takes: 2 s}\n"),
     {PEG_UNIT, .restart_takes = 2000000, .store_needed = true, .cells = {PEG_CELLS}, .count = 12}},
    {"registers, restarts as it stores",
     PEG("store: {register: 240, value: 0x4B50, proof: bank, bank-offset: 1000, restarts: yes}\nrestart: {takes: 2 "
         "s}\n"),
     {PEG_UNIT, .restart_takes = 2000000, .store_needed = true, .bank = 1000, .restarts_when_stored = true,
      .cells = {PEG_CELLS}, .count = 12}},
    {"registers, showing what is stored",
     PEG("store: {register: 240, value: 0x4B50, proof: shown}\nrestart: {takes: 2 s, running-time: running}\n"),
     {PEG_UNIT, .restart_takes = 2000000, .store_needed = true, .shows_stored = true, .cells = {PEG_CELLS},
      .count = 12}},
    {"registers, a quick restart that undoes a reading",
     PEG("store: {register: 240, value: 0x4B50, proof: restart}\n" PEG_QUICK("noticed")),
     {PEG_UNIT, .restart_takes = 20000, .store_needed = true, .cells = {PEG_CELLS}, .count = 12}},
    {"registers, without a wire, with a counter",
     PEG_WITH("store: {register: 240, value: 0x4B50, proof: restart}\n" PEG_RESTART, "",
              "[31, 99]}, {register: [101, 239]", COUNTER("register: 100")),
     {PEG_UNIT, .restart_takes = 2000000, .store_needed = true, .wire = VD_NO_WIRE, .at_once = true,
      .cells = {PEG_CELLS, {.key = "visits", .at = 100, .words = 1, .access = 'c', .from = "0000", .to = ""}},
      .count = 13}},
    {"registers, lasting at once",
     PEG("restart: {takes: 2 s}\n"),
     {PEG_UNIT, .restart_takes = 2000000, .cells = {PEG_CELLS}, .count = 12}},
    {"registers, in slots",
     PEG_IN_SLOTS("restart: {takes: 2 s}\n"),
     {PEG_UNIT, .restart_takes = 2000000, .cells = {PEG_SLOT_CELLS}, .count = 13}},
    {"registers, in slots, proof by restart",
     PEG_IN_SLOTS(
         "store: {register: 240, value: 0x4B50, proof: restart}\nrestart: {takes: 2 s, running-time: "
         "running}\nactions: [{key: "
         "restart, label: Restart, help: Restarts., register: 241, value: 0x5253, does: restart, takes: 2 s}]\n"),
     {PEG_UNIT, .restart_takes = 2000000, .store_needed = true, .cells = {PEG_SLOT_CELLS}, .count = 13}},
    {"registers, in slots, the first after a power cycle",
     PEG_SLOTS("store: {register: 240, value: 0x4B50, proof: restart}\nrestart: {takes: 2 s, running-time: "
               "running}\nactions: [{key: "
               "restart, label: Restart, help: Restarts., register: 241, value: 0x5253, does: restart, takes: 2 s}]\n",
               "after-power: 1, "),
     {PEG_UNIT, .restart_takes = 2000000, .store_needed = true, .first_after_power = true, .cells = {PEG_SLOT_CELLS},
      .count = 13}},
    {"registers, moving as it restarts",
     PEG_MOVING("store: {register: 240, value: 0x4B50, proof: bank, bank-offset: 1000}\n" PEG_RESTART, "restart"),
     {PEG_UNIT, .restart_takes = 2000000, .store_needed = true, .bank = 1000, .link_from = 'r',
      .cells = {PEG_CELLS, PEG_LINK_CELLS}, .count = 14}},
    {"registers, moving as it stores",
     PEG_MOVING("store: {register: 240, value: 0x4B50, proof: restart}\n" PEG_RESTART, "storing"),
     {PEG_UNIT, .restart_takes = 2000000, .store_needed = true, .link_from = 's', .cells = {PEG_CELLS, PEG_LINK_CELLS},
      .count = 14}},
    {"registers, moving at once",
     PEG_MOVING("store: {register: 240, value: 0x4B50, proof: bank, bank-offset: 1000}\n" PEG_RESTART, "writing"),
     {PEG_UNIT, .restart_takes = 2000000, .store_needed = true, .bank = 1000, .link_from = 'w',
      .cells = {PEG_CELLS, PEG_LINK_CELLS}, .count = 14}},
    {"registers, login and restart",
     PEG("store: {register: 240, value: 0x4B50, proof: restart}\n" PEG_RESTART PEG_LOGIN("")),
     {PEG_UNIT, .restart_takes = 2000000, .store_needed = true, .wants_login = true, .password = "1234",
      .cells = {PEG_CELLS}, .count = 12}},
    {"registers, a password set where there was none",
     PEG("restart: {takes: 2 s}\n" PEG_LOGIN("may-be-none: yes, ")),
     {PEG_UNIT, .restart_takes = 2000000, .wants_login = true, .password = "1234", .cells = {PEG_CELLS}, .count = 12}},
    {"commands, login and restart",
     LINES(
         "tag", "manner: commands, longest-line: 200, several: yes",
         "store: {word: SAVE, proof: restart}\nrestart: {takes: 2 s}\nlistening: {says: \"+READY\", after: 2 s}\n" LOGIN
             RESTART_WORD,
         PASSWORD),
     {.manner = COMMANDS,
      .restart_takes = 2000000,
      .longest = 400000,
      .store_needed = true,
      .wants_login = true,
      .says_ready = true,
      .password = "0000",
      .cells = {LINE_CELLS("\"\"", "\"LING\""),
                {.key = "password", .word = "PASSWD", .access = 'w', .from = "\"0000\"", .to = "\"0000\""}},
      .count = 9}},
    {"commands, a quick restart that logs out",
     LINES("tag", "manner: commands, longest-line: 200, several: yes",
           "store: {word: SAVE, proof: restart}\nrestart: {takes: 2 s, undoes: login}\n" LOGIN RESTART_WORD,
           PASSWORD SERVICE),
     {.manner = COMMANDS,
      .restart_takes = 20000,
      .longest = 400000,
      .store_needed = true,
      .wants_login = true,
      .password = "0000",
      .cells = {SERVICE_CELLS},
      .count = 10}},
    {"commands, whose port goes with it",
     LINES("tag", "manner: commands, longest-line: 200, several: yes",
           "store: {word: SAVE, proof: restart}\nrestart: {takes: 2 s, takes-port: yes, running-time: "
           "running}\n" RESTART_WORD,
           ""),
     {.manner = COMMANDS,
      .restart_takes = 300000,
      .longest = 400000,
      .store_needed = true,
      .takes_port = true,
      .cells = {LINE_CELLS("\"\"", "\"LING\"")},
      .count = 8}},
    {"commands, at once though the port may be a wire, with a counter",
     LINES("tag", "manner: commands, longest-line: 200, several: yes",
           "store: {word: SAVE, proof: restart}\nrestart: {takes: 2 s, running-time: running}\n" RESTART_WORD,
           COUNTER("word: VISITS")),
     {.manner = COMMANDS,
      .restart_takes = 2000000,
      .longest = 400000,
      .store_needed = true,
      .wire = VD_WIRE_NOT_KNOWN,
      .at_once = true,
      .cells = {LINE_CELLS("\"\"", "\"LING\""),
                {.key = "visits", .word = "VISITS", .access = 'c', .from = "0", .to = ""}},
      .count = 9}},
    {"commands, lasting at once",
     LINES("tag", "manner: commands, longest-line: 200, several: yes", "restart: {takes: 2 s}\n", ""),
     {.manner = COMMANDS,
      .restart_takes = 2000000,
      .longest = 400000,
      .cells = {LINE_CELLS("\"\"", "\"LING\"")},
      .count = 8}},
    {"queries, lasting at once",
     LINES("cup", "manner: queries, longest-line: 200, several: yes", "restart: {takes: 2 s}\n", ""),
     {.manner = QUERIES,
      .restart_takes = 2000000,
      .longest = 400000,
      .cells = {LINE_CELLS("\"\"", "\"LING\"")},
      .count = 8}},
    {"sentences, restarts when it has saved",
     LINES("lid", "manner: sentences, talker: PQLM, longest-line: 82, several: yes",
           "store: {word: SAVE, proof: restart, restarts: yes}\nrestart: {takes: 2 s}\n"
           "listening: {says: \"$PQLM,S,READY*18\", after: 2 s}\n" RESTART_WORD,
           ""),
     {.manner = SENTENCES,
      .restart_takes = 2000000,
      .longest = 400000,
      .store_needed = true,
      .restarts_when_stored = true,
      .says_ready = true,
      .cells = {LINE_CELLS("", "LING")},
      .count = 8}},
    {"commands, fields that are no value",
     LINES("tag", "manner: commands, longest-line: 200, several: yes", "restart: {takes: 2 s}\n", ""),
     {.manner = COMMANDS,
      .restart_takes = 2000000,
      .longest = 400000,
      .cells = {LINE_CELLS_HOLDING("\"\"", "\"LING\"", "N/A", "7X")},
      .count = 8}},
    {"queries, fields that are no value",
     LINES("cup", "manner: queries, longest-line: 200, several: yes", "restart: {takes: 2 s}\n", ""),
     {.manner = QUERIES,
      .restart_takes = 2000000,
      .longest = 400000,
      .cells = {LINE_CELLS_HOLDING("\"\"", "\"LING\"", "N/A", "7X")},
      .count = 8}},
    {"sentences, fields that are no value",
     LINES("lid", "manner: sentences, talker: PQLM, longest-line: 82, several: yes", "restart: {takes: 2 s}\n", ""),
     {.manner = SENTENCES,
      .restart_takes = 2000000,
      .longest = 400000,
      .cells = {LINE_CELLS_HOLDING("", "LING", "N/A", "7X")},
      .count = 8}},
    {"commands, a login that may have run out by itself",
     LINES("tag", "manner: commands, longest-line: 200, several: yes",
           "store: {word: SAVE, proof: restart}\nrestart: {takes: 2 s, undoes: login}\n" LOGIN_LASTING(", lasts: 8 s")
               RESTART_WORD,
           PASSWORD SERVICE),
     {.manner = COMMANDS,
      .restart_takes = 20000,
      .login_lasts = 8000000,
      .longest = 400000,
      .store_needed = true,
      .wants_login = true,
      .password = "0000",
      .cells = {SERVICE_CELLS},
      .count = 10}},
    {"registers in characters, moving as it restarts",
     PEG_MOVING("speaks: {manner: modbus-ascii}\nstore: {register: 240, value: 0x4B50, proof: bank, bank-offset: "
                "1000}\n" PEG_RESTART,
                "restart"),
     {PEG_UNIT, .in_characters = true, .restart_takes = 2000000, .store_needed = true, .bank = 1000, .link_from = 'r',
      .cells = {PEG_CELLS, PEG_LINK_CELLS}, .count = 14}},
    {"registers in characters, proof by restart",
     PEG("speaks: {manner: modbus-ascii}\nstore: {register: 240, value: 0x4B50, proof: restart}\n" PEG_RESTART),
     {PEG_UNIT, .in_characters = true, .restart_takes = 2000000, .store_needed = true, .cells = {PEG_CELLS},
      .count = 12}}};
const size_t world_count = sizeof worlds / sizeof worlds[0];
