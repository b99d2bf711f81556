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
#ifndef VERDITE_FAULTS_H
#define VERDITE_FAULTS_H

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
    X(OUT_OF_RANGE, FILE, "", VALUE, "{setting}: \"{said}\" is out of range.", "Give {allowed}.")                      \
    X(OFF_STEP, FILE, "", VALUE, "{setting}: \"{said}\" lies between two steps.", "The nearest are {allowed}.")        \
    X(TEXT_TOO_LONG, FILE, "", COUNTED, "{setting}: \"{said}\" is {1} characters long.", "At most {2} fit.")           \
    X(TEXT_ALPHABET, FILE, "", COUNTED, "{setting}: character {1} of \"{said}\" cannot be held by the unit.",          \
      "Use {allowed}.")                                                                                                \
    X(PLACES_NOT_KNOWN, PARTLY, "", RULE, "{setting} cannot be judged: how many decimals it has is set by {allowed}.", \
      "Read the unit, or name {allowed} as well.")                                                                     \
    X(WRONG_FORM, FILE, "", VALUE, "{setting}: \"{said}\" is not what belongs here.", "Give {allowed}.")               \
    X(TEXT_TOO_SHORT, FILE, "", COUNTED, "{setting}: \"{said}\" is {1} characters long.", "At least {2} are needed.")  \
    X(CHECK_DIGIT, FILE, "", COUNTED, "{setting}: the check digit of \"{said}\" is wrong, so a digit was mistyped.",   \
      "Compare it with the label; if all others are right, the last one is {1}.")                                      \
    X(IDLE_HERE, FINE, "", RULE, "{setting} does not count here and is left alone: {allowed}", "")                     \
    X(NOT_HERE, FILE, "", RULE, "{setting} does not exist in this unit: {allowed}", "Take it out.")                    \
    X(NOT_YOURS, FILE, "", ABOUT, "{setting} can be changed by its maker only.", "Take it out.")                       \
    X(SECRET_WRONG, FILE, "", VALUE, "{setting}: what was given cannot be it.", "Give {allowed}.")                     \
    /* Rules between settings */                                                                                       \
    X(RULE_BROKEN, FILE, "", RULE, "{setting}: {allowed}", "")                                                         \
    X(RULE_WARNING, FINE, "", RULE, "{setting}: {allowed}", "")                                                        \
    X(RULE_REMARK, FINE, "", RULE, "{setting}: {allowed}", "")                                                         \
    X(PLACEHOLDER, FINE, "", VALUE,                                                                                    \
      "{setting}: {said} is what comes from the factory and only stands for the real one.", "Put the real one.")       \
    X(RULE_NOT_KNOWN, PARTLY, "", RULE,                                                                                \
      "{setting} cannot be judged: a rule about it needs {allowed}, and that is not known.",                           \
      "Read the unit, or name {allowed} as well.")                                                                     \
    X(READ_ONLY_SETTING, FILE, "", ABOUT, "{setting} can be read, not written.", "Take it out.")                       \
    /* Models and files */                                                                                             \
    X(NO_SUCH_SETTING, FILE, "", WORDS, "There is no setting \"{said}\".", "{allowed}")                                \
    X(NO_SUCH_GROUP, FILE, "", WORDS, "There is no group \"{said}\".", "Choose {allowed}.")                            \
    X(NO_SUCH_TYPE, FILE, "", WORDS, "There is no type \"{said}\".", "{allowed} docs/model.md lists them all.")        \
    X(NO_MODEL_AT_ALL, FILE, "", SAID, "There is no model in {said}.",                                                 \
      "Put model files there, or name another folder in VERDITE_MODELS.")                                              \
    X(NO_SUCH_MODEL, FILE, "", WORDS, "There is no model \"{said}\".", "Known: {allowed}.")                            \
    X(SAME_IDENTITY, FILE, "", WORDS, "A {said} says who it is in the same words as a {allowed}.",                     \
      "To mean it, name it with --model.")                                                                             \
    X(NO_SUCH_KEY, FILE, "", WORDS, "\"{said}\" has no place here.", "{allowed}")                                      \
    X(KEY_TWICE, FILE, "", SAID, "\"{said}\" stands here a second time.", "Keep one of the two.")                      \
    X(KEY_MISSING, FILE, "", WORDS, "\"{said}\" is missing.", "Add it: {allowed}.")                                    \
    X(WRONG_SHAPE, FILE, "", WORDS, "\"{said}\" is not what belongs here.", "Give {allowed}.")                         \
    X(NOT_A_KEY, FILE, "", SAID, "\"{said}\" is no key.",                                                              \
      "Use small letters a to z, digits, and hyphens or points between them.")                                         \
    X(NOT_SHOWN, FILE, "", SAID, "A text here holds {said}.",                                                          \
      "Take it out: a text is one line, and nothing in it steers a terminal or turns the direction of reading.")       \
    X(NOT_YAML, FILE, "", SAID, "This is not YAML: {said}.",                                                           \
      "Mend the line, or start again from a file that Verdite saved.")                                                 \
    X(NOT_UTF8, FILE, "", PLAIN, "The file is not UTF-8 text.", "Save it as UTF-8; nothing of it was used.")           \
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
    X(PORT_BUSY, CONTACT, "A4", SAID, "The port {said} is in use by another program.",                                 \
      "Close that program, then try again.")                                                                           \
    X(PORT_LOST, CONTACT, "A5", PLAIN, "The port went away in the middle of the work.",                                \
      "Plug the adapter in again, then read the unit afresh.")                                                         \
    X(PORT_FAILED, CONTACT, "A6", SAID, "The port does not work: {said}.",                                             \
      "Try another adapter or another USB socket.")                                                                    \
    X(LINE_NOT_TAKEN, CONTACT, "A7", WORDS, "The port does not take the line setting {said}.", "{allowed}")            \
    X(BENCH_BUSY, CONTACT, "", SAID, "The bench {said} is in use by another program.",                                 \
      "Let that program end, try again.")                                                                              \
    /* Talk on the wire */                                                                                             \
    X(NO_REPLY, CONTACT, "B1", EXCHANGE, "No reply from address {1}: not a byte came back in {2} ms, {3} tries.",      \
      "Check supply, wires (A and B swapped?), address, baud and framing.")                                            \
    X(NOISE_ONLY, CONTACT, "B9", EXCHANGE, "Bytes came back from address {1}, but no valid reply in {3} tries.",       \
      "Baud or framing is most likely wrong: try another.")                                                            \
    X(CHECK_FAILED, CONTACT, "B6", EXCHANGE,                                                                           \
      "The replies of address {1} arrive damaged: check failed in {3} of {3} tries.",                                  \
      "Check wires, screen, termination, and whether two units share the address.")                                    \
    X(CUT_SHORT, CONTACT, "B7", EXCHANGE, "The replies of address {1} break off in the middle, {3} tries.",            \
      "Check wires and supply; a longer gap limit may help behind a slow adapter.")                                    \
    X(LINE_ERRORS, CONTACT, "B8", EXCHANGE, "Address {1} answers with line errors (parity or stop bits), {3} tries.",  \
      "Two units share the address, or the framing is wrong, or the line is disturbed.")                               \
    X(WRONG_ADDRESS, CONTACT, "C1", EXCHANGE, "A reply came from address {2} while address {1} was asked.",            \
      "Check the address, and that no other program talks on this line.")                                              \
    X(WRONG_FUNCTION, CONTACT, "C7", EXCHANGE,                                                                         \
      "Address {1} replied to another request than the one sent (function {2}).",                                      \
      "Check that no other program talks on this line.")                                                               \
    X(WRONG_LENGTH, CONTACT, "C8", EXCHANGE, "Address {1} replied with {2} bytes of data where {3} belong.",           \
      "Is it the right model? Check that no other program talks on this line.")                                        \
    X(EXCEPTION_FUNCTION, REFUSED, "", EXCHANGE, "The unit does not know the request for {said} (exception 1).",       \
      "Is it the right model and firmware?")                                                                           \
    X(EXCEPTION_ADDRESS, REFUSED, "", EXCHANGE,                                                                        \
      "The unit has no register for {said}, or does not let it be written (exception 2).",                             \
      "Is it the right model and firmware?")                                                                           \
    X(EXCEPTION_VALUE, REFUSED, "", EXCHANGE, "The unit refuses the value of {said} (exception 3).",                   \
      "Check it against the other settings: the unit has rules of its own.")                                           \
    X(EXCEPTION_FAILURE, REFUSED, "", EXCHANGE, "The unit failed over {said} (exception 4).",                          \
      "Switch the unit off and on, read it, try again; it may be broken.")                                             \
    X(EXCEPTION_ACKNOWLEDGE, REFUSED, "", EXCHANGE,                                                                    \
      "The unit took the request but was not done with it in {2} ms (exception 5).",                                   \
      "Wait, then read the unit: the outcome is not known.")                                                           \
    X(EXCEPTION_BUSY, REFUSED, "", EXCHANGE, "The unit stayed busy for {2} ms (exception 6).",                         \
      "Wait, then try again.")                                                                                         \
    X(EXCEPTION_MEMORY, REFUSED, "", EXCHANGE, "The unit found its memory damaged (exception 8).",                     \
      "Switch it off and on, read it again; it may be broken.")                                                        \
    X(EXCEPTION_PATH, REFUSED, "", EXCHANGE, "The gateway has no path to the unit (exception 10).",                    \
      "Check the gateway.")                                                                                            \
    X(EXCEPTION_TARGET, REFUSED, "", EXCHANGE, "The gateway heard nothing from the unit (exception 11).",              \
      "Check the unit behind the gateway.")                                                                            \
    X(EXCEPTION_OTHER, REFUSED, "", EXCHANGE, "The unit refuses with a code of its own (exception {2}).",              \
      "Look the code up in the unit's manual.")                                                                        \
    /* Talk in lines */                                                                                                \
    X(NO_ANSWER, CONTACT, "B1", EXCHANGE, "No reply: not a byte came back in {2} ms, {3} tries.", "{allowed}")         \
    X(NO_SENSE, CONTACT, "B9", EXCHANGE, "Bytes came back, but no line that answers what was asked, {3} tries.",       \
      "Baud or framing is most likely wrong, or it is another kind of unit.")                                          \
    X(LINE_CUT_SHORT, CONTACT, "B7", EXCHANGE, "The unit began to answer about {said} and did not finish, {3} tries.", \
      "Did it restart? Check supply and cable, wait a moment, then read it afresh.")                                   \
    X(LINE_DAMAGED, CONTACT, "B6", EXCHANGE, "The unit's lines about {said} arrive damaged, {3} tries.",               \
      "Check cable and plug; a long cable beside a motor picks up noise.")                                             \
    X(ANSWER_STRANGE, CONTACT, "C8", EXCHANGE,                                                                         \
      "What the unit answered about {said} is not what belongs there: {allowed}.",                                     \
      "Is it the right model and firmware?")                                                                           \
    X(REFUSED_WORD, REFUSED, "", EXCHANGE, "The unit does not know the word for {said} ({allowed}).",                  \
      "Is it the right model and firmware?")                                                                           \
    X(REFUSED_VALUE, REFUSED, "", EXCHANGE, "The unit refuses the value of {said} ({allowed}).",                       \
      "Check it against the other settings: the unit has rules of its own.")                                           \
    X(REFUSED_RIGHT, REFUSED, "", EXCHANGE, "The unit does not allow {said} without a login ({allowed}).",             \
      "Log in first.")                                                                                                 \
    X(REFUSED_BUSY, REFUSED, "", EXCHANGE, "The unit is busy and refuses {said} ({allowed}).",                         \
      "Wait, then try again.")                                                                                         \
    X(REFUSED_OTHER, REFUSED, "", EXCHANGE, "The unit refuses {said} ({allowed}).",                                    \
      "Read the unit; look the code up in its manual.")                                                                \
    X(NOBODY_KNOWN, CONTACT, "B1", WORDS, "No unit that is known answers on {said}.",                                  \
      "These must be made to listen first: {allowed}.")                                                                \
    X(NOT_LISTENING, CONTACT, "C9", LIMIT, "The unit did not begin to listen within {1} s.", "{allowed}")              \
    X(LOGIN_NEEDED, REFUSED, "", PLAIN, "This needs the unit's password, and none was given. Nothing was changed.",    \
      "")                                                                                                              \
    X(NO_SUCH_PASSWORD, REFUSED, "", ALLOWED, "That cannot be the unit's password, and was not sent.",                 \
      "It is {allowed}.")                                                                                              \
    X(LOGIN_REFUSED, REFUSED, "", LIMIT, "The unit refuses the password; tries left before it locks: {1}.",            \
      "Make sure of it before you try again: {allowed}")                                                               \
    X(LOGIN_NOT_TAKEN, REFUSED, "", ALLOWED,                                                                           \
      "The unit refuses the password; how many tries are left it does not say.",                                       \
      "Make sure of it before you try again: {allowed}")                                                               \
    X(LOGIN_LOCKED, REFUSED, "", ALLOWED, "The unit is locked: too many wrong passwords were tried.", "{allowed}")     \
    X(PASSWORD_OF_FACTORY, FINE, "", ALLOWED,                                                                          \
      "The unit still has the password from the factory, which everybody can know.",                                   \
      "Give it one of its own: {allowed}.")                                                                            \
    /* Finding out why there is no talk */                                                                             \
    X(SILENT_LINE, CONTACT, "B1", NUMBERS,                                                                             \
      "Nobody answers on this line: {1} questions to addresses {2} to {3}, not a byte came back.",                     \
      "Check supply and wires (A and B swapped?).")                                                                    \
    X(ANSWERS_ELSEWHERE, CONTACT, "B0", WORDS, "Nobody answers at {allowed}, but somebody does there: {said}.",        \
      "Use that line setting, or set it back in the unit.")                                                            \
    X(ECHO_ONLY, CONTACT, "B5", EXCHANGE, "Only our own bytes came back from the line, and no reply.",                 \
      "Check that the pair is connected at the unit; the adapter echoes, or its two wires are joined.")                \
    X(SPEED_LOWER, CONTACT, "B2", NUMBER,                                                                              \
      "Bytes come in that are no replies; they sound like a speed of about {1} bit/s.", "")                            \
    X(GARBLED, CONTACT, "B3", NUMBER, "Bytes with line errors come in that are no replies.",                           \
      "Framing is wrong, or the true speed is higher than {1} bit/s, or something disturbs the line.")                 \
    X(NOT_IN_STEP, CONTACT, "B4", PLAIN, "Bytes come in that are no replies, whether anybody is asked or not.",        \
      "Another program talks on this line, or speed or framing is wrong.")                                             \
    X(ADDRESS_SHARED, CONTACT, "C5", NUMBER, "Two units share address {1}: their replies run into each other.",        \
      "Unplug one of the two, give the other its own address, then plug the first in again.")                          \
    X(STILL_STARTING, CONTACT, "C4", NUMBER, "The unit says it is busy, after {1} s still.",                           \
      "Give it time to start; if it stays so, switch it off and on.")                                                  \
    X(MODEL_NOT_KNOWN, CONTACT, "C3", SAID, "A unit answers, but no model here fits it: {said}.",                      \
      "Add a model file for it, or use the tool of its maker.")                                                        \
    X(ANSWERS_EVERYWHERE, CONTACT, "C6", SAID, "One unit answers at every address: {said}.",                           \
      "Its address is not set, or a gateway answers for it: connect it alone and set its address.")                    \
    /* A visit to a unit */                                                                                            \
    X(OTHER_MODEL, CONTACT, "C2", WORDS, "Another model answers: {said}.",                                             \
      "Expected {allowed}: check address and cable.")                                                                  \
    X(FIRMWARE_OLD, FINE, "", WORDS, "The unit has firmware {said}; the model describes it from {allowed} on.",        \
      "It may lack settings, or take them otherwise.")                                                                 \
    X(ADDRESS_TAKEN, NO, "", WANTED, "Somebody answers at address {1} already: {said}. Nothing was sent.",             \
      "Choose a free address.")                                                                                        \
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
    X(STORE_SHUT, FINE, "", SAID, "What is remembered of units cannot be used: {said}. Work goes on without it.", "")  \
    X(STORE_DAMAGED, FINE, "", SAID, "{said} is damaged, and nothing is remembered now.", "Set it aside by hand.")     \
    X(NOT_TOLD, CONTACT, "", ABOUT, "{setting} was not read: the unit does not show it, or wants a login.",            \
      "Look it up in the model.")                                                                                      \
    X(NOT_KEPT, FILE, "", SAID, "The state before the change could not be kept ({said}), so nothing was sent.",        \
      "Make room or mend the folder; the unit is as it was.")                                                          \
    X(NOT_READ, NOT_VERIFIED, "", ABOUT, "{setting} was not read.", "Read the unit again.")                            \
    X(STOPPED, INTERRUPTED, "", ALLOWED, "Stopped by hand.", "{allowed}")

#endif
