/* SPDX-License-Identifier: MIT
 * The commands of verdite. */
#include "commands/commands.h"
#include "words/words.h"

#define UNIT (TAKES_PLACE | TAKES_LINE)

static const cli_command commands[] = {
    {"ports",
     {{0}},
     "what is plugged in",
     "Lists the serial ports that are there, or those of a bench, and whether you may open them.",
     {"verdite ports", "verdite ports --bench benches/bracken"},
     TAKES_PLACE | TAKES_LISTING,
     command_ports},
    {"model",
     {{"MODEL", KIND_MODEL, true, false}, {"SETTING", KIND_SETTING, true, false}},
     "what kinds of unit there are, and what one has",
     "Without a word, lists the models and what each can do; with --with, those that will do.\n"
     "With a model, shows its essential settings (--all: all of them).\n"
     "With a setting as well, tells all about that one: what it means and takes, which rules hang on it, where it "
     "lives on the wire, and why it is absent or idle here.",
     {"verdite model dowel weight.low-limit", "verdite model dowel --search alarm",
      "verdite model --with \"channels>=2\" --with supply=battery"},
     TAKES_GROUP | TAKES_CHOICE | TAKES_ALL,
     command_model},
    {"startup",
     {{"MODEL", KIND_MODEL, false, false}},
     "supply, wiring, lights, and how long until it listens",
     "Shows the page that is to be read before a unit of this model is set up.",
     {"verdite startup wren"},
     0,
     command_startup},
    {"tables",
     {{"MODEL", KIND_MODEL, false, false}},
     "a model as constant tables in C, for firmware",
     "Writes a model as constant tables in C: settings, places, rules and alarms, already judged and compiled, without "
     "names and texts unless they are wanted.",
     {"verdite tables dowel", "verdite tables dowel --with-words"},
     TAKES_WORDS,
     command_tables},
    {"needs",
     {{"MODEL|FILE", KIND_SOURCE, false, false}},
     "what must be known before leaving, and what is missing",
     "Lists what must be known before leaving the depot, and who supplies it. Of a profile, what it still lacks.",
     {"verdite needs wren", "verdite needs logger-1.yaml"},
     0,
     command_needs},
    {"find",
     {{0}},
     "which units are on the line, or on all lines",
     "Asks for units on all ports at once: the likely addresses at all usual speeds and framings first, then every "
     "address where somebody answered. Where nobody did, it asks again slowly, and only that may say that nobody is "
     "there.\n"
     "Says at the end what it did not ask. It never writes. Ctrl-C keeps what was found.",
     {"verdite find", "verdite find --from 1 --to 20 --baud 9600"},
     TAKES_PLACE | TAKES_SEARCH,
     command_find},
    {"diagnose",
     {{0}},
     "why a unit does not answer, and what to do",
     "Asks one address a few times, listens, and tells the causes of silence and of strange replies apart: adapter, "
     "port, wires, speed, address, another model, a unit that is starting, two units on one address.",
     {"verdite diagnose --address 3"},
     UNIT | TAKES_MODEL,
     command_diagnose},
    {"link",
     {{0}},
     "how sound the line to a unit is",
     "Asks a unit who it is, again and again, touches no setting, and judges the line by what came back.",
     {"verdite link --address 3 --count 100"},
     UNIT | TAKES_MODEL | TAKES_COUNT,
     command_link},
    {"read",
     {{0}},
     "read a unit, to the screen or to a file",
     "Reads all settings of a unit, or one group, and shows where a live value is not the stored one: that would be "
     "lost with the supply.\n"
     "With --save, what was read becomes a profile that can be edited and written.",
     {"verdite read --address 3", "verdite read --address 3 --save hive-03.yaml"},
     UNIT | TAKES_MODEL | TAKES_GROUP | TAKES_SAVE | TAKES_PASSWORD | TAKES_LOGIN,
     command_read},
    {"set",
     {{"FILE", KIND_PROFILE, false, false}, {"KEY=VALUE", KIND_CHANGE, false, true}},
     "change settings in a file",
     "Changes settings in a profile. Comments, order and spelling of everything else stay as they are. Either all "
     "changes are made or none.\n"
     "Of a secret, give the key alone: it is asked for and not shown. preset:NAME stands for all values of a preset of "
     "the model.",
     {"verdite set hive-03.yaml weight.low-limit=\"20 kg\" weight.alarm=low", "verdite set box.yaml preset:saves-data"},
     TAKES_MODEL,
     command_set},
    {"unset",
     {{"FILE", KIND_PROFILE, false, false}, {"KEY", KIND_SETTING, false, true}},
     "take settings out of a file",
     "Takes settings out of a profile, with their lines. All else in it stays as it is.",
     {"verdite unset hive-03.yaml line.address unit.name"},
     TAKES_MODEL,
     command_unset},
    {"new",
     {{"FILE", KIND_FILE, false, false}, {"MODEL|FILE|visit:N", KIND_SOURCE, false, false}},
     "a new file from factory defaults, a visit, or another file",
     "Saves a new profile: of the factory defaults of a model, of what a unit held after a visit (their numbers are in "
     "verdite history), or of another profile.",
     {"verdite new hive-11.yaml dowel", "verdite new hive-03.yaml visit:12",
      "verdite new trip.yaml wren --variant probes"},
     TAKES_KIND | TAKES_MODEL,
     command_new},
    {"check",
     {{"FILE", KIND_PROFILE, false, false}},
     "judge a file without a unit: a profile, or a model as its author",
     "Judges every value of a profile, and every rule between them. Of a model file, tells everything that is wrong "
     "in it: what, where, and what would be right.",
     {"verdite check hive-03.yaml", "verdite check my-unit.yaml"},
     TAKES_MODEL,
     command_check},
    {"compare",
     {{"A", KIND_SIDE, false, false}, {"B", KIND_SIDE, false, false}},
     "what differs between two of: unit, factory, a file",
     "Compares two of these: the word unit (what the unit holds live), the word factory (the model's defaults), or "
     "the name of a profile. Only settings that both know are compared.",
     {"verdite compare unit hive-03.yaml --address 3", "verdite compare unit factory --address 3"},
     UNIT | TAKES_MODEL | TAKES_GROUP | TAKES_PASSWORD | TAKES_LOGIN,
     command_compare},
    {"alarms",
     {{"unit|MODEL|FILE", KIND_SIDE, false, false}, {"ALARM", KIND_TEXT, true, false}},
     "what each alarm means, as a sentence, and what is doubtful about it",
     "Says in plain words what each alarm of a unit, of the factory defaults of a model, or of a profile means, so "
     "that "
     "somebody could set it again from that; which are free; and what is set but can never matter, or sounds always. "
     "With an alarm, by its number, key or name, only that one; with --table, in columns.",
     {"verdite alarms dowel", "verdite alarms box.yaml 2", "verdite alarms unit --address 3 --table"},
     UNIT | TAKES_MODEL | TAKES_KIND | TAKES_PASSWORD | TAKES_LOGIN | TAKES_TABLE,
     command_alarms},
    {"alarm",
     {{"unit|FILE", KIND_SIDE, false, false},
      {"add|clear|ALARM", KIND_TEXT, false, false},
      {"WORDS", KIND_TEXT, true, true}},
     "add, change or clear an alarm by what it means",
     "Adds an alarm in the first slot that is free and can be so, changes one, or clears one, in a profile or in a "
     "unit, "
     "and shows what it meant and will mean.\n"
     "In words: CHANNEL above, below, is, outside A to B or inside A to B; for TIME; release VALUE; ends-after TIME; "
     "only "
     "while CHANNEL above VALUE and ...; does WHAT; tells WHO; text TEXT; latches on. What is not said stays as it is. "
     "With "
     "clear, the alarm follows.\n"
     "An alarm goes by its number, its key or its name (verdite alarms).",
     {"verdite alarm box.yaml add speed above 90 km/h for 10 s does message tells first",
      "verdite alarm box.yaml 2 below \"11.8 V\"", "verdite alarm box.yaml clear 2",
      "verdite alarm unit weight-low below 20 kg --address 3"},
     UNIT | TAKES_MODEL | TAKES_YES | TAKES_PASSWORD,
     command_alarm},
    {"try",
     {{"unit|MODEL|FILE", KIND_SIDE, false, false}, {"CHANNEL=VALUE", KIND_TEXT, true, true}},
     "when its alarms would have sounded, on values or on a log",
     "Tries the alarms of a unit, of a model's factory defaults, or of a profile out: on the values that are given; of "
     "a "
     "unit, else on those that it measures now; with --log, on values over time. Nothing is written anywhere.\n"
     "With a log, tells when each would have sounded and why, when nothing was known, and how close the others came; "
     "with "
     "--limit, how often it would have been with other limits.",
     {"verdite try hive.yaml brood=\"36.4 °C\"", "verdite try hive.yaml --log days.csv --chart days.png",
      "verdite try hive.yaml --log days.csv --limit \"high brood=35 °C to 37 °C by 0.5 °C\"",
      "verdite try unit --address 3"},
     UNIT | TAKES_MODEL | TAKES_KIND | TAKES_PASSWORD | TAKES_LOGIN | TAKES_LOG,
     command_try},
    {"write",
     {{"FILE", KIND_PROFILE, false, false}},
     "make a unit hold what a file says, and verify it",
     "Reads the unit, checks the whole result, shows what will change and asks. Keeps the state before the change, "
     "writes what differs, stores it, reads it back and gives each setting its verdict.\n"
     "What belongs to the single unit (its address, name, tare) is left out where the file was read from another one.\n"
     "Several units on one line are written side by side, so that one restarts while the next is read; each is "
     "verified "
     "for itself. With --at-once all addresses are asked first, and nothing is sent where anybody else would hear it.",
     {"verdite write hive-03.yaml --address 3", "verdite write hive-03.yaml --addresses 1-10 --yes"},
     UNIT | TAKES_GROUP | TAKES_YES | TAKES_PASSWORD | TAKES_OWN | TAKES_SEVERAL | TAKES_AT_ONCE,
     command_write},
    {"verify",
     {{"FILE", KIND_PROFILE, false, false}},
     "whether a unit holds what a file says",
     "Reads the unit, live and stored, and compares it with a profile. Changes nothing.\n"
     "Some units show what they stored only by a restart. --restart does one; --by-hand asks you to switch the unit "
     "off and on. What is only live is lost then. Without them what is equal is called EQUAL, not VERIFIED.",
     {"verdite verify hive-03.yaml --address 3"},
     UNIT | TAKES_GROUP | TAKES_PASSWORD | TAKES_RESTART | TAKES_OWN | TAKES_SEVERAL,
     command_verify},
    {"change",
     {{"KEY=VALUE", KIND_CHANGE, false, true}},
     "change settings of a unit, and verify it, without a file",
     "Does what write does, with the settings that are named, and needs no file. Of a secret, give the key alone: it "
     "is asked for and not shown. preset:NAME stands for all values of a preset of the model.",
     {"verdite change --address 3 weight.low-limit=\"20 kg\" weight.alarm=low",
      "verdite change --addresses 1-10 --at-once weight.low-limit=\"20 kg\""},
     UNIT | TAKES_MODEL | TAKES_YES | TAKES_PASSWORD | TAKES_SEVERAL | TAKES_AT_ONCE,
     command_change},
    {"assign",
     {{"ADDRESS", KIND_TEXT, false, false}, {"NAME", KIND_TEXT, true, false}, {"SPEED", KIND_TEXT, true, false}},
     "give a new unit its address, and a name, and a speed",
     "Gives the unit at the factory address, or at --address, another one, and follows it there. Nobody else may "
     "answer there. Have one new unit alone on the line: of two at one address the weaker cannot be heard.",
     {"verdite assign 11 \"Ling 11\"", "verdite assign 11 \"Ling 11\" 19200"},
     UNIT | TAKES_MODEL | TAKES_YES | TAKES_PASSWORD,
     command_assign},
    {"act",
     {{"ACTION", KIND_ACTION, false, false}},
     "have a unit do something: restart, go back to factory defaults, and what its model names",
     "Has a unit do one of the actions of its model (verdite startup MODEL shows them). Says first what that destroys, "
     "keeps "
     "the state before, tells the unit once, follows it through its restart, and judges by what is read afterwards.\n"
     "What cannot be undone wants a word that names it; --yes alone does not do.",
     {"verdite act restart --address 3", "verdite act factory-defaults --address 3 --destroy settings"},
     UNIT | TAKES_MODEL | TAKES_YES | TAKES_DESTROY | TAKES_PASSWORD,
     command_act},
    {"swap",
     {{"ADDRESS", KIND_TEXT, false, false}, {"ADDRESS", KIND_TEXT, false, false}},
     "have two units change their addresses",
     "Has two units on one line exchange their addresses through a free one: three moves, each followed and read "
     "back. It is one act in the history: where it is cut off, finish goes on with it, and undo puts both back.",
     {"verdite swap 3 5"},
     TAKES_PLACE | TAKES_LINE | TAKES_MODEL | TAKES_YES | TAKES_PASSWORD,
     command_swap},
    {"finish",
     {{0}},
     "go on with a write that was cut off",
     "Goes on with the last write that was cut off or not verified: looks for its unit where it was to be and where it "
     "was, reads it, and writes what is still to be written. What was secret is asked for again.",
     {"verdite finish", "verdite finish --serial QD-24003"},
     UNIT | TAKES_MODEL | TAKES_YES | TAKES_PASSWORD,
     command_finish},
    {"undo",
     {{"WHEN", KIND_TEXT, true, false}},
     "put back what a unit held before a visit",
     "Puts back what a visit changed: the one with this number, or the first one from this day or time on that changed "
     "the unit; without a word, the one that was cut off, else the last one. What was changed since stays, but for "
     "--all. It names what it cannot put back, such as a secret or a clock. The word is then PARTLY UNDONE.",
     {"verdite undo", "verdite undo 12", "verdite undo 2026-11-26 --serial QD-24003 --all"},
     UNIT | TAKES_MODEL | TAKES_YES | TAKES_PASSWORD | TAKES_UNDO,
     command_undo},
    {"history",
     {{"VISIT|SETTING", KIND_SETTING, true, false}},
     "visits of before, one of them, or a setting over time",
     "Without a word, the last visits, of all units or of one. With the number of a visit, what it changed. With a "
     "setting, its values over time in the unit that was met last, or that --serial names.",
     {"verdite history --serial QD-24003", "verdite history 12", "verdite history weight.low-limit --serial QD-24003"},
     TAKES_HISTORY,
     command_history},
    {"raw",
     {{"REQUEST", KIND_TEXT, false, false}},
     "send one request as typed, and show what comes back",
     "For what a model does not know yet: sends one request, once, in the unit's own manner, and shows the reply. A "
     "line for units that talk in lines (of sentences, talker and check are added); function and data in hexadecimal "
     "for units with registers (address and check are added). Nothing of it is verified.",
     {"verdite raw --model brock \"AT+SIGNAL?\"", "verdite raw --address 3 \"03 0010 0002\""},
     UNIT | TAKES_MODEL,
     command_raw},
    {"help",
     {{"COMMAND", KIND_COMMAND, true, false}},
     "all commands, or all about one",
     "Shows what can be asked of Verdite, or of one command.",
     {"verdite help read"},
     0,
     command_help},
    {"version", {{0}}, "which Verdite this is", "Shows the version.", {"verdite version"}, 0, command_version},
};

static const cli_variable variables[] = {
    {"VERDITE_BENCH", "A bench to use where --bench names none."},
    {"VERDITE_MODELS",
     "Folders of models, with colons between; else the user's own and the one that came with Verdite."},
    {"VERDITE_PASSWORD", "The password of a unit that wants a login."},
    {"VERDITE_STORE", "The file in which visits are kept, and where units were met; \"off\": nowhere."},
    {"XDG_STATE_HOME", "The folder in which Verdite keeps states before a change where there is no such file."},
    {"NO_COLOR", "Where it is not empty, nothing is coloured."},
};

const cli_program verdite_program = {"verdite",
                                     "Sets up units on a serial line: read, edit, check, write, and verify by reading "
                                     "back.",
                                     commands,
                                     G_N_ELEMENTS(commands),
                                     variables,
                                     G_N_ELEMENTS(variables)};
