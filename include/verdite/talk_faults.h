/* SPDX-License-Identifier: MIT
 *
 * What can go wrong in the talk with a unit, and what finding out why there is none may show: a part of the list in
 * fault_list.h, which says what an entry is.
 */
#ifndef VERDITE_TALK_FAULTS_H
#define VERDITE_TALK_FAULTS_H

/* The faults of talk; X as in fault_list.h. */
#define VD_TALK_FAULT_LIST(X)                                                                                          \
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
    X(NOT_TAKING, CONTACT, "", LIMIT, "The unit can be read, but stayed silent to what would change it for {1} s.",    \
      "{allowed}")                                                                                                     \
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
    X(OTHERS_ANSWER, CONTACT, "C0", WORDS, "{allowed} is silent, and others answer on this line: {said}.",             \
      "Check its own supply, branch and address.")                                                                     \
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
    X(ADDRESS_SHARED_BY, CONTACT, "C5", WANTED, "Two units share address {1}: serial numbers {said}.",                 \
      "Unplug one of the two, give the other its own address, then plug the first in again.")                          \
    X(STILL_STARTING, CONTACT, "C4", NUMBER, "The unit says it is busy, after {1} s still.",                           \
      "Give it time to start; if it stays so, switch it off and on.")                                                  \
    X(MODEL_NOT_KNOWN, CONTACT, "C3", SAID, "A unit answers, but no model here fits it: {said}.",                      \
      "Add a model file for it, or use the tool of its maker.")                                                        \
    X(ANSWERS_EVERYWHERE, CONTACT, "C6", SAID, "One unit answers at every address: {said}.",                           \
      "Its address is not set, or a gateway answers for it: connect it alone and set its address.")

#endif
