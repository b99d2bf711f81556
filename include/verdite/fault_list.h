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
 *  - {1} {2} {3} numbers whose meaning the sentence itself makes plain
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
    X(WRONG_MEASURE, FILE, "", VALUE, "{setting}: \"{said}\" is not in the unit of this setting.", "Give {allowed}.")  \
    X(MEASURE_MISSING, FILE, "", VALUE, "{setting}: \"{said}\" does not say which unit of time.", "Give {allowed}.")   \
    X(NOT_A_DURATION, FILE, "", VALUE, "{setting}: \"{said}\" is not a duration.", "Give {allowed}.")                  \
    X(NOT_A_TRUTH, FILE, "", VALUE, "{setting}: \"{said}\" is neither on nor off.", "Give on or off.")                 \
    X(NOT_A_CHOICE, FILE, "", VALUE, "{setting}: \"{said}\" is not one of its choices.", "Choose {allowed}.")          \
    X(MEASURE_BARE, FILE, "", VALUE,                                                                                   \
      "{setting}: \"{said}\" has no unit, and which it is in hangs on another setting.", "Give {allowed}.")            \
    X(OUT_OF_RANGE, FILE, "", VALUE, "{setting}: \"{said}\" is out of range.", "Give {allowed}.")                      \
    X(OFF_STEP, FILE, "", VALUE, "{setting}: \"{said}\" lies between two steps.", "The nearest are {allowed}.")        \
    X(TEXT_TOO_LONG, FILE, "", COUNTED, "{setting}: \"{said}\" is {1} characters long.", "At most {2} fit.")           \
    X(TEXT_ALPHABET, FILE, "", COUNTED, "{setting}: character {1} of \"{said}\" cannot be held by the unit.",          \
      "Use {allowed}.")                                                                                                \
    X(PLACES_NOT_KNOWN, PARTLY, "", RULE, "{setting} cannot be judged: how many decimals it has is set by {allowed}.", \
      "Read the unit, or name {allowed} as well.")                                                                     \
    X(TIME_NOT_KNOWN, USAGE, "", RULE, "{setting} is to show what time it is, but nobody has told that.",              \
      "Give a date and a time.")                                                                                       \
    X(SLOT_FIXED, FILE, "", VALUE, "{setting}: slot {said} cannot be saved, so what it holds is not changed.",         \
      "Choose {allowed}, which can.")                                                                                  \
    X(WRONG_FORM, FILE, "", VALUE, "{setting}: \"{said}\" is not what belongs here.", "Give {allowed}.")               \
    X(TEXT_TOO_SHORT, FILE, "", COUNTED, "{setting}: \"{said}\" is {1} characters long.", "At least {2} are needed.")  \
    X(CHECK_DIGIT, FILE, "", COUNTED, "{setting}: the check digit of \"{said}\" is wrong, so a digit was mistyped.",   \
      "Compare it with the label; if all others are right, the last one is {1}.")                                      \
    X(IDLE_HERE, FINE, "", RULE, "{setting} is idle here and left alone: {allowed}", "")                               \
    X(NOT_HERE, FILE, "", RULE, "{setting} is absent from this unit: {allowed}", "Take it out.")                       \
    X(NOT_YOURS, FILE, "", ABOUT, "{setting} can be changed by its maker only.", "Take it out.")                       \
    X(SECRET_WRONG, FILE, "", VALUE, "{setting}: what was given cannot be it.", "Give {allowed}.")                     \
    /* Rules between settings */                                                                                       \
    X(RULE_BROKEN, FILE, "", RULE, "{setting}: {allowed}", "")                                                         \
    X(RULE_WARNING, FINE, "", RULE, "{setting}: {allowed}", "")                                                        \
    X(RULE_REMARK, FINE, "", RULE, "{setting}: {allowed}", "")                                                         \
    X(ALARM_DOUBT, FINE, "", RULE, "{setting}: {allowed}", "")                                                         \
    X(CLOCK_OFF, FINE, "", VALUE, "{setting} shows {said}, but it should be {allowed} there by now.",                  \
      "\"now\" sets it.")                                                                                              \
    X(PLACEHOLDER, FINE, "", VALUE,                                                                                    \
      "{setting}: {said} is what comes from the factory and only stands for the real one.", "Put the real one.")       \
    X(RULE_NOT_KNOWN, PARTLY, "", RULE,                                                                                \
      "{setting} cannot be judged: a rule about it needs {allowed}, and that is not known.",                           \
      "Read the unit, or name {allowed} as well.")                                                                     \
    X(READ_ONLY_SETTING, FILE, "", ABOUT, "{setting} can be read, not written.", "Take it out.")                       \
    /* Models and files */                                                                                             \
    X(NO_SUCH_SETTING, FILE, "", WORDS, "There is no setting \"{said}\".", "{allowed}")                                \
    X(NO_SUCH_GROUP, FILE, "", WORDS, "There is no group \"{said}\".", "Choose {allowed}.")                            \
    X(NO_SUCH_TYPE, FILE, "", WORDS, "There is no type \"{said}\".", "{allowed} docs/values.md lists them all.")       \
    X(NO_MODEL_AT_ALL, FILE, "", SAID, "There is no model in {said}.",                                                 \
      "Put model files there, or name another folder in VERDITE_MODELS.")                                              \
    X(NO_SUCH_MODEL, FILE, "", WORDS, "There is no model \"{said}\".",                                                 \
      "Known: {allowed}. For another give its file, such as --model my-unit.yaml.")                                    \
    X(SAME_IDENTITY, FILE, "", WORDS, "A {said} says who it is in the same words as a {allowed}.",                     \
      "To mean it, name it with --model.")                                                                             \
    X(NO_SUCH_KEY, FILE, "", WORDS, "\"{said}\" has no place here.", "{allowed}")                                      \
    X(KEY_TWICE, FILE, "", SAID, "\"{said}\" stands here a second time.", "Keep one of the two.")                      \
    X(KEY_MISSING, FILE, "", WORDS, "\"{said}\" is missing.", "Add it: {allowed}.")                                    \
    X(SECOND_DOCUMENT, FILE, "", PLAIN, "A second document begins here, and a file holds one.",                        \
      "Take the line with --- or ... out, or put what follows it into a file of its own.")                             \
    X(WRONG_SHAPE, FILE, "", WORDS, "\"{said}\" is not what belongs here.", "Give {allowed}.")                         \
    X(NOT_A_KEY, FILE, "", SAID, "\"{said}\" is no key.",                                                              \
      "Use small letters a to z, digits, and hyphens or points between them.")                                         \
    X(NOT_SHOWN, FILE, "", SAID, "A text here holds {said}.",                                                          \
      "Take it out: a text is one line, and nothing in it steers a terminal or turns the direction of reading.")       \
    X(NOT_YAML, FILE, "", SAID, "This is not YAML: {said}.",                                                           \
      "Mend the line, or start again from a file that Verdite saved.")                                                 \
    X(NOT_UTF8, FILE, "", PLAIN, "The file is not UTF-8 text.", "Save it as UTF-8; nothing of it was used.")           \
    X(LOG_WRONG, FILE, "", WORDS, "The log cannot be used: {said}.", "{allowed}")                                      \
    X(NO_GNUPLOT, FILE, "", PLAIN, "There is no chart: the program gnuplot is not there.",                             \
      "Install it (gnuplot-nox), then try again.")                                                                     \
    X(NOT_DRAWN, FILE, "", SAID, "There is no chart: {said}.", "")                                                     \
    X(NO_SUCH_CHANNEL, USAGE, "", WORDS, "There is no channel \"{said}\".", "{allowed}")                               \
    X(NO_SUCH_COLUMN, USAGE, "", WORDS, "The log has no column \"{said}\".", "{allowed}")                              \
    X(FILE_TOO_LARGE, FILE, "", NUMBER, "The file is larger than {1} KB.",                                             \
      "Is it the right file? Nothing of it was used.")                                                                 \
    X(FILE_UNREADABLE, FILE, "", SAID, "The file cannot be read: {said}.", "Check its name and who may read it.")      \
    X(FILE_UNWRITABLE, FILE, "", SAID, "The file cannot be saved: {said}.",                                            \
      "Whatever stood there before is still whole.")                                                                   \
    X(FILE_THERE, USAGE, "", SAID, "{said} is there already, and stays as it is.", "Choose another name.")             \
    X(FILE_CHANGED, FILE, "", SAID, "{said} was changed by somebody else meanwhile, and stays as they left it.",       \
      "Look at it, then do it again.")                                                                                 \
    X(FORMAT_TOO_NEW, FILE, "", WORDS, "The file has format {said}.", "This Verdite knows format {allowed}.")          \
    X(FILE_OF_OTHER_MODEL, FILE, "", WORDS, "The file is for the model \"{said}\", not \"{allowed}\".",                \
      "Take a file of the right model.")                                                                               \
    X(MODEL_INCONSISTENT, FILE, "", VALUE, "The model contradicts itself: {said} {allowed}.", "")                      \
    X(EXPRESSION_WRONG, FILE, "", PLACED, "The expression is wrong at \"{said}\": {allowed}.", "See docs/rules.md.")   \
    X(RULE_AGAINST_DEFAULTS, FILE, "", RULE, "The factory defaults break this rule: {allowed}",                        \
      "Mend the rule or the defaults: a unit from its box must keep every rule.")                                      \
    X(NO_ALIASES, FILE, "", PLAIN, "Anchors and aliases (& and *) are not taken here.",                                \
      "Write it out, or use repeat or a named list of choices.")                                                       \
    X(MEMORY_TOO_SMALL, USAGE, "", PLAIN, "The memory handed over is smaller than this model needs.",                  \
      "Ask the matching _size function.")                                                                              \
    X(CALLED_WRONG, USAGE, "", WORDS, "A function was called with what it does not take: {said}.", "{allowed}")        \
    X(WRONG_WORDS, USAGE, "", WORDS, "{said}", "{allowed}")                                                            \
    /* Ports */                                                                                                        \
    X(NO_PORT, CONTACT, "A2", WORDS, "There is no port \"{said}\".", "{allowed}")                                      \
    X(NO_PORT_AT_ALL, CONTACT, "A1", PLAIN, "No serial port is there.",                                                \
      "Plug the adapter in, then list the ports again.")                                                               \
    X(SEVERAL_PORTS, USAGE, "", ALLOWED, "Several ports are there and none was named.", "They are {allowed}.")         \
    X(PORT_NOT_ALLOWED, CONTACT, "A3", WORDS, "You may not open the port {said}.", "{allowed}")                        \
    X(PORT_BUSY, CONTACT, "A4", WORDS, "The port {said} is in use by {allowed}.",                                      \
      "Close that program, then try again.")                                                                           \
    X(PORT_LOST, CONTACT, "A5", PLAIN, "The port went away in the middle of the work.",                                \
      "Plug the adapter in again, then read the unit afresh.")                                                         \
    X(PORT_FAILED, CONTACT, "A6", SAID, "The port does not work: {said}.",                                             \
      "Try another adapter or another USB socket.")                                                                    \
    X(LINE_NOT_TAKEN, CONTACT, "A7", WORDS, "The port does not take the line setting {said}.", "{allowed}")            \
    X(UNIT_BUSY, CONTACT, "", WORDS, "Another program is at work on {said}: {allowed}.",                               \
      "Let it end, then try again.")                                                                                   \
    X(NOTHING_CUT_OFF, NO, "", SAID, "No interrupted write of {said} is on record.", "")                               \
    X(NOT_THERE, CONTACT, "B1", WORDS, "{said} does not answer at {allowed}.", "Check supply and wires.")              \
    X(NO_SUCH_VISIT, USAGE, "", WORDS, "There is no visit {said}.", "{allowed}")                                       \
    X(NO_STORE, FILE, "", PLAIN,                                                                                       \
      "No earlier visit is known: VERDITE_STORE says \"off\", or the store cannot be used.",                           \
      "Name a store that can be used in VERDITE_STORE, then try again.")                                               \
    X(BENCH_BUSY, CONTACT, "", SAID, "The bench {said} is in use by another program.",                                 \
      "Let that program end, try again.")                                                                              \
    VD_TALK_FAULT_LIST(X)                                                                                              \
    /* A visit to a unit */                                                                                            \
    X(OTHER_MODEL, CONTACT, "C2", WORDS, "Another model answers: {said}.",                                             \
      "Expected {allowed}: check address and cable.")                                                                  \
    X(FIRMWARE_OLD, FINE, "", WORDS, "The unit has firmware {said}; the model describes it from {allowed} on.",        \
      "It may lack settings, or take them otherwise.")                                                                 \
    X(ADDRESS_TAKEN, NO, "", WANTED, "Somebody answers at address {1} already: {said}. Nothing was sent.",             \
      "Choose a free address, or take the other unit off the line.")                                                   \
    X(WOULD_HEAR, NO, "", NUMBER, "A broadcast would be heard by {1} more than were named. Nothing was sent.",         \
      "Name them too, take them off the line, or leave --at-once out.")                                                \
    X(NOTHING_TO_TELL, NO, "", PLAIN, "None of this can be told to several units at once. Nothing was sent.",          \
      "Name settings that may be equal in all of them.")                                                               \
    X(PASSWORD_STAYED, NOT_VERIFIED, "", PLAIN, "It accepted the new password but still takes the old one.",           \
      "Change it again, or leave it as it is.")                                                                        \
    X(PASSWORD_NOT_TAKEN, NOT_VERIFIED, "", PLAIN, "It accepted the new password but refuses a login with it.",        \
      "It may have kept the old one, or only the first characters of the new one: log in with either, and give it a "  \
      "shorter one.")                                                                                                  \
    X(ADDRESS_LISTED, NO, "", WANTED, "On this line address {1} belongs to {said}, which may only be unplugged.",      \
      "Nothing was sent. Choose another address, or give that unit another one first.")                                \
    X(UNIT_ALIKE, NO, "", VALUE, "{setting}: {said} is what {allowed} has, and no two units may have it.",             \
      "Nothing was sent. Give this one its own.")                                                                      \
    X(LINK_STAYED, NOT_VERIFIED, "", PLAIN, "It took the new address or line setting, and answers where it did.",      \
      "Switch it off and on, then look for it at both.")                                                               \
    X(NOT_FOLLOWED, CONTACT, "", WORDS, "It answers neither at {said} nor at {allowed}.",                              \
      "Switch it off and on, wait until it has started, then look for it at both.")                                    \
    X(UNSTEADY, CONTACT, "", SAID,                                                                                     \
      "What the unit says about {said} differs each time it is asked, or other talk is mixed with it.",                \
      "Check cable and plug, and that no other program talks on this line; then read it afresh.")                      \
    X(TAKEN_OTHERWISE, NOT_VERIFIED, "", SAID, "The unit took {said} and at once held something else.",                \
      "Read the unit: it rounds, or has rules of its own.")                                                            \
    X(WRONG_UNIT, CONTACT, "", WORDS,                                                                                  \
      "The unit that answers has the serial number {said}; {allowed} was meant. Nothing was sent.",                    \
      "Check address and cable.")                                                                                      \
    X(SERIAL_TOO_LONG, CONTACT, "", SAID,                                                                              \
      "The unit's serial number is longer than 64 characters, so it cannot be told from others: {said}.",              \
      "Nothing was sent. Ask the maker for a shorter one, or for another way to identify it.")                         \
    X(OTHER_UNIT_NOW, NOT_VERIFIED, "", WORDS, "Another unit answers now: serial number {said}; it was {allowed}.",    \
      "Check cable and address, and whether two units share it; then read the unit afresh.")                           \
    X(NOT_STORED, NOT_VERIFIED, "", PLAIN, "What was written did not stay as it was sent, so nothing was stored.",     \
      "Check the supply, then read the unit and write again: what is live is lost with the supply.")                   \
    X(DECLINED, NO, "", PLAIN, "Nothing was sent: the answer was no.", "The unit is as it was.")                       \
    X(STORE_NEWER, FINE, "", SAID,                                                                                     \
      "{said} was made by a newer Verdite, and is left alone: nothing is remembered now.",                             \
      "Use that Verdite, or name another place in VERDITE_STORE.")                                                     \
    X(STORE_STRANGE, FINE, "", SAID, "{said} is no store of Verdite, and is left alone: nothing is remembered now.",   \
      "Name another place in VERDITE_STORE.")                                                                          \
    X(STORE_ALTERED, FINE, "", SAID,                                                                                   \
      "Another program has changed the tables of {said}. It is left alone, and nothing is remembered now.",            \
      "Rename it to begin a new one, or name another place in VERDITE_STORE.")                                         \
    X(STORE_SHUT, FINE, "", SAID, "What is remembered of units cannot be used: {said}. Work goes on without it.", "")  \
    X(STORE_DAMAGED, FINE, "", SAID, "{said} is damaged, and nothing is remembered now.", "Set it aside by hand.")     \
    X(NOT_TOLD, CONTACT, "", ABOUT, "{setting} was not read: the unit does not show it, or wants a login.",            \
      "Look it up in the model.")                                                                                      \
    X(NOT_KEPT, FILE, "", SAID, "The state before the change could not be kept ({said}), so nothing was sent.",        \
      "Make room or mend the folder; the unit is as it was.")                                                          \
    X(NOT_READ, NOT_VERIFIED, "", ABOUT, "{setting} was not read.", "Read the unit again.")                            \
    X(STOPPED, INTERRUPTED, "", ALLOWED, "Stopped by hand.", "{allowed}")

#endif
