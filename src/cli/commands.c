/* SPDX-License-Identifier: MIT
 * The table of commands: their names, options and help. */
#include "cli.h"

const cli_command cli_commands[] = {
    {"ports", "", "what is plugged in",
     "Lists the serial ports that are there, or those of a bench, and whether you may open them.\n\n"
     "Example:\n  verdite ports\n  verdite ports --bench benches/bracken\n",
     TAKES_PLACE | TAKES_LISTING, command_ports},
    {"model", "[MODEL [SETTING]]", "what kinds of unit there are, and what one has",
     "Without a word, lists the models and what each can do; with --with, those that will do. With a model, shows its\n"
     "essential settings (--all: all of them). With a setting as well, tells all about that one: what it means and\n"
     "takes, which rules hang on it, where it lives on the wire, and why it is not offered here.\n\n"
     "Example:\n  verdite model --with \"channels>=2\" --with supply=battery\n  verdite model dowel --search alarm\n"
     "  verdite model dowel weight.low-limit\n",
     TAKES_GROUP | TAKES_CHOICE | TAKES_ALL, command_model},
    {"startup", "MODEL", "supply, wiring, lights, and how long until it listens",
     "Shows the page that is to be read before a unit of this model is set up.\n\n"
     "Example:\n  verdite startup wren\n",
     0, command_startup},
    {"needs", "MODEL|FILE", "what must be known before leaving, and what is missing",
     "Lists what must be known before leaving the depot, and who supplies it. Of a profile, what it still lacks.\n\n"
     "Example:\n  verdite needs wren\n  verdite needs logger-1.yaml\n",
     0, command_needs},
    {"find", "", "which units are on the line, or on all lines",
     "Asks for units on all ports at once: the likely addresses at all usual speeds and framings first, then every\n"
     "address where somebody answered. Where nobody did, it asks again slowly, and only that may say that nobody is\n"
     "there. Says at the end what it did not ask. It never writes. Ctrl-C keeps what was found.\n\n"
     "Example:\n  verdite find\n  verdite find --from 1 --to 20 --baud 9600\n",
     TAKES_PLACE | TAKES_SEARCH, command_find},
    {"diagnose", "", "why a unit does not answer, and what to do",
     "Asks one address a few times, listens, and tells the causes of silence and of strange replies apart: adapter, "
     "port,\n"
     "wires, speed, address, another model, a unit that is starting, two units on one address.\n\n"
     "Example:\n  verdite diagnose --address 3\n",
     TAKES_PLACE | TAKES_LINE | TAKES_MODEL, command_diagnose},
    {"link", "", "how sound the line to a unit is",
     "Asks a unit who it is, again and again, touches no setting, and judges the line by what came back.\n\n"
     "Example:\n  verdite link --address 3 --count 100\n",
     TAKES_PLACE | TAKES_LINE | TAKES_MODEL | TAKES_COUNT, command_link},
    {"read", "", "read a unit, to the screen or to a file",
     "Reads all settings of a unit, or one group, and shows where a live value is not the stored one: that would be\n"
     "lost with the supply. With --save, what was read becomes a profile that can be edited and written.\n\n"
     "Example:\n  verdite read --address 3 --save hive-03.yaml\n",
     TAKES_PLACE | TAKES_LINE | TAKES_MODEL | TAKES_GROUP | TAKES_SAVE | TAKES_PASSWORD | TAKES_LOGIN, command_read},
    {"set", "FILE KEY=VALUE ...", "change settings in a file",
     "Changes settings in a profile. Of a secret, give the key alone: it is asked for and not shown. Comments, order "
     "and spelling of everything else stay as they are. Either all\n"
     "changes are made or none.\n\n"
     "Example:\n  verdite set hive-03.yaml weight.low-limit=\"20 kg\" weight.alarm=low\n",
     0, command_set},
    {"check", "FILE", "judge a file without a unit: a profile, or a model as its author",
     "Judges every value of a profile, and every rule between them. Of a model file, tells everything that is wrong "
     "in\n"
     "it: what, where, and what would be right.\n\n"
     "Example:\n  verdite check hive-03.yaml\n  verdite check my-unit.yaml\n",
     0, command_check},
    {"compare", "A B", "what differs between two of: unit, factory, a file",
     "Compares two of these: the word unit (what the unit holds live), the word factory (the model's defaults), or "
     "the\n"
     "name of a profile. Only settings that both know are compared.\n\n"
     "Example:\n  verdite compare unit hive-03.yaml --address 3\n  verdite compare unit factory --address 3\n",
     TAKES_PLACE | TAKES_LINE | TAKES_MODEL | TAKES_GROUP | TAKES_PASSWORD | TAKES_LOGIN, command_compare},
    {"write", "FILE", "make a unit hold what a file says, and verify it",
     "Reads the unit, checks the whole result, shows what will change and asks. Keeps the state before the change in "
     "a\n"
     "file, writes what differs, stores it, reads it back and gives each setting its verdict.\n\n"
     "Example:\n  verdite write hive-03.yaml --address 3\n",
     TAKES_PLACE | TAKES_LINE | TAKES_GROUP | TAKES_YES | TAKES_PASSWORD, command_write},
    {"verify", "FILE", "whether a unit holds what a file says",
     "Reads the unit, live and stored, and compares it with a profile. Changes nothing.\n"
     "Where only a restart shows what a unit has stored, --restart does one; then what is only live is lost.\n\n"
     "Example:\n  verdite verify hive-03.yaml --address 3\n",
     TAKES_PLACE | TAKES_LINE | TAKES_GROUP | TAKES_PASSWORD | TAKES_RESTART, command_verify},
    {"raw", "REQUEST", "send one request as typed, and show what comes back",
     "For what a model does not know yet: sends one request, once, in the unit's own manner, and shows the reply. A "
     "line\n"
     "for units that talk in lines (of sentences, talker and check are added); function and data in hexadecimal for\n"
     "units with registers (address and check are added). Nothing of it is verified.\n\n"
     "Example:\n  verdite raw --model brock \"AT+SIGNAL?\"\n  verdite raw --address 3 \"03 0010 0002\"\n",
     TAKES_PLACE | TAKES_LINE | TAKES_MODEL, command_raw},
};

const size_t cli_command_count = G_N_ELEMENTS(cli_commands);
