/* SPDX-License-Identifier: MIT
 *
 * Everything that can go wrong, once: its name, its class, its code for the telephone, what it takes, and its words.
 *
 * Each entry is X(name, class, code, takes, what, next). `code` is "" for what is not about contact. `takes` is one of
 * the shapes in notes.h: which arguments it is noted with. `what` says what happened and what it means for the unit,
 * `next` what to do now. Both may hold places that vd_fault_words() fills in from the fault record:
 *
 *  - {setting} the setting's key
 *  - {said} what was typed, read or heard
 *  - {allowed} what would have been right
 *  - {1} {2} {3} numbers whose meaning the sentence itself makes plain; {3|try|tries} with the noun that agrees
 *
 * The classes are those of vd_class in fault.h; the command-line tool exits with the number of the class.
 */
#ifndef VERDITE_FAULT_LIST_H
#define VERDITE_FAULT_LIST_H

#include "verdite/talk_faults.h"

/* Every fault there is; X as above. */
#define VD_FAULT_LIST(X)                                                                                               \
    X(OK, FINE, "", PLAIN, "No fault.", "")                                                                            \
    /* Values */                                                                                                       \
    X(EMPTY, FILE, "", VALUE, "{setting} has no value.", "Give {allowed}.")                                            \
    X(NOT_A_NUMBER, FILE, "", VALUE, "{setting}: \"{said}\" is not a number.", "Give {allowed}.")                      \
    X(TOO_MANY_DIGITS, FILE, "", VALUE, "{setting}: \"{said}\" has more digits than can be kept exactly.",             \
      "Give {allowed}.")                                                                                               \
    X(WRONG_MEASURE, FILE, "", VALUE, "{setting}: \"{said}\" has the wrong unit.", "Give {allowed}.")                  \
    X(MEASURE_MISSING, FILE, "", VALUE, "{setting}: \"{said}\" needs a unit of time.", "Give {allowed}.")              \
    X(NOT_A_DURATION, FILE, "", VALUE, "{setting}: \"{said}\" is not a duration.", "Give {allowed}.")                  \
    X(NOT_A_TRUTH, FILE, "", VALUE, "{setting}: \"{said}\" is not on or off.", "Give on or off.")                      \
    X(NOT_A_CHOICE, FILE, "", VALUE, "{setting}: \"{said}\" is not a choice.", "Choose {allowed}.")                    \
    X(MEASURE_BARE, FILE, "", VALUE, "{setting}: \"{said}\" needs a unit. Which one depends on another setting.",      \
      "Give {allowed}.")                                                                                               \
    X(OUT_OF_RANGE, FILE, "", VALUE, "{setting}: \"{said}\" is out of range.", "Give {allowed}.")                      \
    X(OFF_STEP, FILE, "", VALUE, "{setting}: \"{said}\" is between two steps.", "The nearest are {allowed}.")          \
    X(TEXT_TOO_LONG, FILE, "", COUNTED, "{setting}: \"{said}\" has {1|character|characters}.", "At most {2} fit.")     \
    X(TEXT_ALPHABET, FILE, "", COUNTED, "{setting}: the unit cannot hold character {1} of \"{said}\".",                \
      "Use {allowed}.")                                                                                                \
    X(PLACES_NOT_KNOWN, PARTLY, "", RULE, "{setting} cannot be judged: {allowed} sets its decimals and is unknown.",   \
      "Read the unit, or give {allowed} too.")                                                                         \
    X(TIME_NOT_KNOWN, USAGE, "", RULE, "{setting} cannot be set to now: the time is unknown here.",                    \
      "Give a date and a time.")                                                                                       \
    X(SLOT_FIXED, FILE, "", VALUE, "{setting}: slot {said} cannot be saved, so nothing in it is changed.",             \
      "Choose {allowed}.")                                                                                             \
    X(WRONG_FORM, FILE, "", VALUE, "{setting}: \"{said}\" has the wrong form.", "Give {allowed}.")                     \
    X(TEXT_TOO_SHORT, FILE, "", COUNTED, "{setting}: \"{said}\" has {1|character|characters}.",                        \
      "At least {2} are needed.")                                                                                      \
    X(CHECK_DIGIT, FILE, "", COUNTED, "{setting}: the check digit of \"{said}\" is wrong, so a digit was mistyped.",   \
      "Compare it with the label. If the others are right, the last digit is {1}.")                                    \
    X(IDLE_HERE, FINE, "", RULE, "{setting} is unused in this unit. {allowed}", "")                                    \
    X(NOT_HERE, FILE, "", RULE, "{setting} does not exist in this unit. {allowed}", "Remove it.")                      \
    X(NOT_YOURS, FILE, "", ABOUT, "Only the maker can change {setting}.", "Remove it.")                                \
    X(SECRET_WRONG, FILE, "", VALUE, "{setting}: this cannot be the secret.", "Give {allowed}.")                       \
    /* Rules between settings */                                                                                       \
    X(RULE_BROKEN, FILE, "", RULE, "{setting}: {allowed}", "")                                                         \
    X(RULE_WARNING, FINE, "", RULE, "{setting}: {allowed}", "")                                                        \
    X(RULE_REMARK, FINE, "", RULE, "{setting}: {allowed}", "")                                                         \
    X(ALARM_DOUBT, FINE, "", RULE, "{setting}: {allowed}", "")                                                         \
    X(CLOCK_OFF, FINE, "", VALUE, "{setting} shows {said}. It should be {allowed} by now.", "\"now\" sets it.")        \
    X(PLACEHOLDER, FINE, "", VALUE, "{setting} is still the factory placeholder: {said}.", "Enter your own.")          \
    X(RULE_NOT_KNOWN, PARTLY, "", RULE, "{setting} cannot be judged: {allowed} is unknown.",                           \
      "Read the unit, or give {allowed} too.")                                                                         \
    X(READ_ONLY_SETTING, FILE, "", ABOUT, "{setting} can be read, but not written.", "Remove it.")                     \
    /* Models and files */                                                                                             \
    X(NO_SUCH_SETTING, FILE, "", WORDS, "Unknown setting \"{said}\".", "{allowed}")                                    \
    X(NO_SUCH_GROUP, FILE, "", WORDS, "Unknown group \"{said}\".", "Choose {allowed}.")                                \
    X(NO_SUCH_TYPE, FILE, "", WORDS, "Unknown type \"{said}\".", "{allowed} All types: docs/values.md.")               \
    X(NO_MODEL_AT_ALL, FILE, "", SAID, "No model was found in {said}.",                                                \
      "Put model files there, or name another folder in VERDITE_MODELS.")                                              \
    X(NO_SUCH_MODEL, FILE, "", WORDS, "Unknown model \"{said}\".", "Known: {allowed}.")                                \
    X(SAME_IDENTITY, FILE, "", WORDS,                                                                                  \
      "Units of the models {said} and {allowed} identify themselves in the same words.",                               \
      "Name the model that you mean.")                                                                                 \
    X(NO_SUCH_KEY, FILE, "", WORDS, "Unknown key \"{said}\".", "{allowed}")                                            \
    X(KEY_TWICE, FILE, "", SAID, "\"{said}\" is here twice.", "Keep one of the two.")                                  \
    X(KEY_MISSING, FILE, "", WORDS, "\"{said}\" is missing.", "Add it: {allowed}.")                                    \
    X(SECOND_DOCUMENT, FILE, "", PLAIN, "A second document begins here. A file holds one.",                            \
      "Remove the line with --- or ..., or move the rest to another file.")                                            \
    X(WRONG_SHAPE, FILE, "", WORDS, "\"{said}\" does not belong here.", "Give {allowed}.")                             \
    X(NOT_A_KEY, FILE, "", SAID, "\"{said}\" is not a key.",                                                           \
      "Use small letters a to z and digits, with hyphens or points between them.")                                     \
    X(NOT_SHOWN, FILE, "", SAID, "This text contains {said}.", "Remove it: a text is one line of visible characters.") \
    X(NOT_YAML, FILE, "", SAID, "This is not YAML: {said}.",                                                           \
      "Correct the line, or start again from a file that Verdite saved.")                                              \
    X(NOT_UTF8, FILE, "", PLAIN, "The file is not UTF-8 text. Nothing of it was used.", "Save it as UTF-8.")           \
    X(GOAL_WRONG, USAGE, "", WORDS, "\"{said}\" is not a goal.", "Give {allowed}.")                                    \
    X(TARIFF_WRONG, USAGE, "", WORDS, "\"{said}\" makes no tariff.", "Give {allowed}.")                                \
    X(DAY_WRONG, FILE, "", WORDS, "The day cannot be used: {said}.", "{allowed}")                                      \
    X(TABLE_WRONG, FILE, "", WORDS, "{said}.", "{allowed}")                                                            \
    X(PLAN_WRONG, USAGE, "", WORDS, "\"{said}\" is no plan of addresses.", "{allowed}")                                \
    X(LOG_WRONG, FILE, "", WORDS, "The log cannot be used: {said}.", "{allowed}")                                      \
    X(NO_GNUPLOT, FILE, "", PLAIN, "No chart was drawn: the program gnuplot is missing.",                              \
      "Install gnuplot-nox, then try again.")                                                                          \
    X(NOT_DRAWN, FILE, "", SAID, "No chart was drawn: {said}.", "")                                                    \
    X(NO_SUCH_ITEM, FILE, "", WORDS, "Unknown item \"{said}\".", "{allowed}")                                          \
    X(NO_SUCH_CHANNEL, USAGE, "", WORDS, "Unknown channel \"{said}\".", "{allowed}")                                   \
    X(NO_SUCH_COLUMN, USAGE, "", WORDS, "The log has no column \"{said}\".", "{allowed}")                              \
    X(FILE_TOO_LARGE, FILE, "", NUMBER, "The file is larger than {1} KB. Nothing of it was used.",                     \
      "Check that it is the right file.")                                                                              \
    X(FILE_UNREADABLE, FILE, "", SAID, "The file cannot be read: {said}.", "Check its name and its permissions.")      \
    X(FILE_UNWRITABLE, FILE, "", SAID, "The file cannot be saved: {said}. An earlier file is unchanged.", "")          \
    X(FILE_THERE, USAGE, "", SAID, "{said} exists already and is unchanged.", "Choose another name.")                  \
    X(FILE_CHANGED, FILE, "", SAID, "Another program changed {said} in the meantime. It was not overwritten.",         \
      "Look at it, then try again.")                                                                                   \
    X(FORMAT_TOO_NEW, FILE, "", WORDS, "The file has format {said}. This Verdite knows format {allowed}.",             \
      "Use a newer Verdite.")                                                                                          \
    X(FIRMWARE_NEEDED, FILE, "", WORDS, "The unit has firmware {said}. The profile needs {allowed} or later.",         \
      "Nothing was sent. Update the unit, or use another profile.")                                                    \
    X(FILE_OF_OTHER_MODEL, FILE, "", WORDS, "The file is for the model {said}, not {allowed}.",                        \
      "Choose a file of the right model.")                                                                             \
    X(MODEL_INCONSISTENT, FILE, "", VALUE, "The model contradicts itself: {said} {allowed}.", "")                      \
    X(EXPRESSION_WRONG, FILE, "", PLACED, "The expression is wrong at \"{said}\": {allowed}.", "See docs/rules.md.")   \
    X(RULE_AGAINST_DEFAULTS, FILE, "", RULE, "The factory values break this rule: {allowed}",                          \
      "Correct the rule or the values: a new unit must keep every rule.")                                              \
    X(NO_ALIASES, FILE, "", PLAIN, "Anchors and aliases (& and *) are not accepted here.",                             \
      "Write it out, or use repeat or a named list of choices.")                                                       \
    X(MEMORY_TOO_SMALL, USAGE, "", PLAIN, "The memory is too small for this model.",                                   \
      "Ask the matching _size function.")                                                                              \
    X(CALLED_WRONG, USAGE, "", WORDS, "A function was called with a wrong argument: {said}.", "{allowed}")             \
    X(WRONG_WORDS, USAGE, "", WORDS, "{said}", "{allowed}")                                                            \
    /* Ports */                                                                                                        \
    X(NO_PORT, CONTACT, "A2", WORDS, "Unknown port \"{said}\".", "{allowed}")                                          \
    X(NO_PORT_AT_ALL, CONTACT, "A1", PLAIN, "No serial port was found.",                                               \
      "Plug in the adapter, then list the ports again.")                                                               \
    X(SEVERAL_PORTS, USAGE, "", ALLOWED, "There are several ports: {allowed}.", "")                                    \
    X(PORT_NOT_ALLOWED, CONTACT, "A3", WORDS, "You are not allowed to open the port {said}.", "{allowed}")             \
    X(PORT_BUSY, CONTACT, "A4", WORDS, "The port {said} is in use by {allowed}.",                                      \
      "Close that program, then try again.")                                                                           \
    X(PORT_LOST, CONTACT, "A5", PLAIN, "The port disappeared during the work.",                                        \
      "Plug in the adapter again, then read the unit.")                                                                \
    X(PORT_FAILED, CONTACT, "A6", SAID, "The port does not work: {said}.",                                             \
      "Try another adapter or another USB socket.")                                                                    \
    X(LINE_NOT_TAKEN, CONTACT, "A7", WORDS, "The port does not accept the line setting {said}.", "{allowed}")          \
    X(UNIT_BUSY, CONTACT, "", WORDS, "Another program works on {said}: {allowed}.",                                    \
      "Wait until it ends, then try again.")                                                                           \
    X(NOTHING_CUT_OFF, NO, "", SAID, "No interrupted write of {said} is on record.", "")                               \
    X(NOT_THERE, CONTACT, "B1", WORDS, "{said} does not answer at {allowed}.", "Check supply and wires.")              \
    X(NO_SUCH_VISIT, USAGE, "", WORDS, "{said} is not on record.", "{allowed}")                                        \
    X(NO_STORE, FILE, "", PLAIN, "No visits are on record: VERDITE_STORE is \"off\", or the store cannot be used.",    \
      "Name a usable store in VERDITE_STORE, then try again.")                                                         \
    X(BENCH_BUSY, CONTACT, "", SAID, "Another program uses the bench {said}.", "Wait until it ends, then try again.")  \
    VD_TALK_FAULT_LIST(X)                                                                                              \
    /* A visit to a unit */                                                                                            \
    X(OTHER_MODEL, CONTACT, "C2", WORDS, "Another model answers: {said}, not {allowed}.", "Check address and cable.")  \
    X(FIRMWARE_OLD, FINE, "", WORDS, "The unit has firmware {said}. The model describes {allowed} and later.",         \
      "Some settings may be missing or different.")                                                                    \
    X(ADDRESS_TAKEN, NO, "", WANTED, "Address {1} is in use by {said}. Nothing was sent.",                             \
      "Choose a free address, or take the other unit off the line.")                                                   \
    X(WOULD_HEAR, NO, "", NUMBER, "{1|unit|units} that you did not name would receive this too. Nothing was sent.",    \
      "Name them too, or take them off the line.")                                                                     \
    X(NOTHING_TO_TELL, NO, "", PLAIN, "None of this can be sent to several units at once. Nothing was sent.",          \
      "Name settings that may be the same in all of them.")                                                            \
    X(PASSWORD_STAYED, NOT_VERIFIED, "", PLAIN, "It accepted the new password but still takes the old one.",           \
      "Change it again, or keep the old one.")                                                                         \
    X(PASSWORD_NOT_TAKEN, NOT_VERIFIED, "", PLAIN, "It accepted the new password but refuses a login with it.",        \
      "It may have kept the old one, or cut the new one short. Log in with one of them, then give it a shorter one.")  \
    X(ADDRESS_LISTED, NO, "", WANTED,                                                                                  \
      "Address {1} belongs to {said} on this line, which may only be unplugged. Nothing was sent.",                    \
      "Choose another address, or first give that unit another one.")                                                  \
    X(UNIT_ALIKE, NO, "", VALUE,                                                                                       \
      "{setting}: {allowed} has {said} already, and no two units may share it. Nothing was sent.",                     \
      "Give this unit its own.")                                                                                       \
    X(LINK_STAYED, NOT_VERIFIED, "", PLAIN,                                                                            \
      "It accepted the new address or line setting but still answers at the old one.",                                 \
      "Switch it off and on, then look for it at both.")                                                               \
    X(NOT_FOLLOWED, CONTACT, "", WORDS, "It does not answer at {said} or at {allowed}.",                               \
      "Switch it off and on, wait until it has started, then look for it at both.")                                    \
    X(UNSTEADY, CONTACT, "", SAID, "The unit answers differently each time it is asked about {said}.",                 \
      "Check cable and plug, and that no other program uses this line. Then read it again.")                           \
    X(TAKEN_OTHERWISE, NOT_VERIFIED, "", SAID, "The unit accepted {said}, then changed it.",                           \
      "Read the unit: it rounds, or has rules of its own.")                                                            \
    X(WRONG_UNIT, CONTACT, "", WORDS, "The unit that answers is {said}, not {allowed}. Nothing was sent.",             \
      "Check address and cable.")                                                                                      \
    X(SERIAL_TOO_LONG, CONTACT, "", SAID,                                                                              \
      "The unit's serial number is longer than 64 characters: {said}. Nothing was sent.",                              \
      "Ask the maker for a shorter one.")                                                                              \
    X(OTHER_UNIT_NOW, NOT_VERIFIED, "", WORDS, "Another unit answers now: {said}. Before it was {allowed}.",           \
      "Check cable and address, and whether two units share it. Then read the unit.")                                  \
    X(NOT_STORED, NOT_VERIFIED, "", PLAIN, "The unit did not keep what was sent, so nothing was stored.",              \
      "Check the supply, then read the unit and write again. What is live is lost with the supply.")                   \
    X(DECLINED, NO, "", PLAIN, "You answered no. Nothing was sent.", "The unit is unchanged.")                         \
    X(STORE_NEWER, FINE, "", SAID, "A newer Verdite made {said}. It is not used, and nothing is recorded now.",        \
      "Use that Verdite, or name another store in VERDITE_STORE.")                                                     \
    X(STORE_STRANGE, FINE, "", SAID, "{said} is not a store of Verdite. It is not used, and nothing is recorded now.", \
      "Name another store in VERDITE_STORE.")                                                                          \
    X(STORE_ALTERED, FINE, "", SAID,                                                                                   \
      "Another program changed the tables of {said}. It is not used, and nothing is recorded now.",                    \
      "Rename it to begin a new one, or name another store in VERDITE_STORE.")                                         \
    X(STORE_SHUT, FINE, "", SAID, "The record of visits cannot be used: {said}. Work goes on without it.", "")         \
    X(STORE_DAMAGED, FINE, "", SAID, "{said} is damaged. Nothing is recorded now.",                                    \
      "Move it away to begin a new one.")                                                                              \
    X(NOT_TOLD, CONTACT, "", ABOUT, "{setting} was not read: the unit does not show it, or needs a login.",            \
      "Look it up in the model.")                                                                                      \
    X(NOT_KEPT, FILE, "", SAID, "The state before could not be kept ({said}). Nothing was sent.",                      \
      "Make room or repair the folder, then try again.")                                                               \
    X(NOT_READ, NOT_VERIFIED, "", ABOUT, "{setting} was not read.", "Read the unit again.")                            \
    X(STOPPED, INTERRUPTED, "", ALLOWED, "Stopped by hand.", "{allowed}")

#endif
