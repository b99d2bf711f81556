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
    X(NO_REPLY, CONTACT, "B1", EXCHANGE, "No reply from address {1}: no byte in {2} ms, {3|try|tries}.",               \
      "Check supply, wires (A and B swapped?), address, baud and framing.")                                            \
    X(NOISE_ONLY, CONTACT, "B9", EXCHANGE, "Address {1} sends bytes, but no valid reply in {3|try|tries}.",            \
      "Baud or framing is probably wrong.")                                                                            \
    X(CHECK_FAILED, CONTACT, "B6", EXCHANGE,                                                                           \
      "Replies from address {1} arrive damaged: the check failed in {3} of {3|try|tries}.",                            \
      "Check wires, screen, termination, and whether two units share the address.")                                    \
    X(CUT_SHORT, CONTACT, "B7", EXCHANGE, "Replies from address {1} stop in the middle, {3|try|tries}.",               \
      "Check wires and supply. Behind a slow adapter a longer gap limit may help.")                                    \
    X(LINE_ERRORS, CONTACT, "B8", EXCHANGE,                                                                            \
      "Replies from address {1} have line errors (parity or stop bits), {3|try|tries}.",                               \
      "Two units share the address, or the framing is wrong, or the line is disturbed.")                               \
    X(WRONG_ADDRESS, CONTACT, "C1", EXCHANGE, "Address {2} replied, but address {1} was asked.",                       \
      "Check the address, and that no other program uses this line.")                                                  \
    X(WRONG_FUNCTION, CONTACT, "C7", EXCHANGE, "Address {1} replied to another request (function {2}).",               \
      "Check that no other program uses this line.")                                                                   \
    X(WRONG_LENGTH, CONTACT, "C8", EXCHANGE, "Address {1} replied with {2|byte|bytes} of data instead of {3}.",        \
      "Check the model, and that no other program uses this line.")                                                    \
    X(EXCEPTION_FUNCTION, REFUSED, "", EXCHANGE, "The unit does not know the request for {said} (exception 1).",       \
      "Check model and firmware.")                                                                                     \
    X(EXCEPTION_ADDRESS, REFUSED, "", EXCHANGE,                                                                        \
      "The unit has no register for {said}, or does not allow writing it (exception 2).", "Check model and firmware.") \
    X(EXCEPTION_VALUE, REFUSED, "", EXCHANGE, "The unit refuses the value of {said} (exception 3).",                   \
      "Check it against the other settings: the unit has rules of its own.")                                           \
    X(EXCEPTION_FAILURE, REFUSED, "", EXCHANGE, "The unit failed at {said} (exception 4).",                            \
      "Switch it off and on, read it, try again. It may be broken.")                                                   \
    X(EXCEPTION_ACKNOWLEDGE, REFUSED, "", EXCHANGE,                                                                    \
      "The unit accepted the request but did not finish it in {2} ms (exception 5).",                                  \
      "Wait, then read the unit: the result is unknown.")                                                              \
    X(EXCEPTION_BUSY, REFUSED, "", EXCHANGE, "The unit stayed busy for {2} ms (exception 6).",                         \
      "Wait, then try again.")                                                                                         \
    X(EXCEPTION_MEMORY, REFUSED, "", EXCHANGE, "The unit reports damaged memory (exception 8).",                       \
      "Switch it off and on, then read it. It may be broken.")                                                         \
    X(EXCEPTION_PATH, REFUSED, "", EXCHANGE, "The gateway has no path to the unit (exception 10).",                    \
      "Check the gateway.")                                                                                            \
    X(EXCEPTION_TARGET, REFUSED, "", EXCHANGE, "The gateway got no reply from the unit (exception 11).",               \
      "Check the unit behind the gateway.")                                                                            \
    X(EXCEPTION_OTHER, REFUSED, "", EXCHANGE, "The unit refuses with a code of its own (exception {2}).",              \
      "Look up the code in its manual.")                                                                               \
    /* Talk in lines */                                                                                                \
    X(NO_ANSWER, CONTACT, "B1", EXCHANGE, "No reply: no byte in {2} ms, {3|try|tries}.", "{allowed}")                  \
    X(NO_SENSE, CONTACT, "B9", EXCHANGE, "Bytes arrive, but no line that answers the question, {3|try|tries}.",        \
      "Baud or framing is probably wrong, or it is another kind of unit.")                                             \
    X(LINE_CUT_SHORT, CONTACT, "B7", EXCHANGE,                                                                         \
      "The reply about {said} stops in the middle, {3|try|tries}. The unit may have restarted.",                       \
      "Check supply and cable, wait a moment, then read it again.")                                                    \
    X(LINE_DAMAGED, CONTACT, "B6", EXCHANGE, "Replies about {said} arrive damaged, {3|try|tries}.",                    \
      "Check cable and plug. A long cable beside a motor picks up noise.")                                             \
    X(ANSWER_STRANGE, CONTACT, "C8", EXCHANGE, "The reply about {said} has the wrong form: {allowed}.",                \
      "Check model and firmware.")                                                                                     \
    X(REFUSED_WORD, REFUSED, "", EXCHANGE, "The unit does not know the word for {said} ({allowed}).",                  \
      "Check model and firmware.")                                                                                     \
    X(REFUSED_VALUE, REFUSED, "", EXCHANGE, "The unit refuses the value of {said} ({allowed}).",                       \
      "Check it against the other settings: the unit has rules of its own.")                                           \
    X(REFUSED_RIGHT, REFUSED, "", EXCHANGE, "The unit refuses {said} without a login ({allowed}).", "Log in first.")   \
    X(REFUSED_BUSY, REFUSED, "", EXCHANGE, "The unit is busy and refuses {said} ({allowed}).",                         \
      "Wait, then try again.")                                                                                         \
    X(REFUSED_OTHER, REFUSED, "", EXCHANGE, "The unit refuses {said} ({allowed}).",                                    \
      "Read the unit, and look up the code in its manual.")                                                            \
    X(NOBODY_KNOWN, CONTACT, "B1", WORDS, "No unit of a known model answers on {said}.",                               \
      "Make these listen first: {allowed}.")                                                                           \
    X(NOT_LISTENING, CONTACT, "C9", LIMIT, "The unit did not begin to listen within {1} s.", "{allowed}")              \
    X(NOT_TAKING, CONTACT, "", LIMIT, "The unit can be read, but accepted no change for {1} s.", "{allowed}")          \
    X(LOGIN_NEEDED, REFUSED, "", PLAIN, "The unit needs its password, and none was given. Nothing was changed.", "")   \
    X(NO_SUCH_PASSWORD, REFUSED, "", ALLOWED, "This cannot be the unit's password. It was not sent.",                  \
      "A password is {allowed}.")                                                                                      \
    X(LOGIN_REFUSED, REFUSED, "", LIMIT, "The unit refuses the password. Tries left before it locks: {1}.",            \
      "Be sure of it before you try again: {allowed}")                                                                 \
    X(LOGIN_NOT_TAKEN, REFUSED, "", ALLOWED,                                                                           \
      "The unit refuses the password. It does not say how many tries are left.",                                       \
      "Be sure of it before you try again: {allowed}")                                                                 \
    X(LOGIN_LOCKED, REFUSED, "", ALLOWED, "The unit is locked after too many wrong passwords.", "{allowed}")           \
    X(PASSWORD_OF_FACTORY, FINE, "", ALLOWED, "The unit still has the factory password, which everybody can know.",    \
      "Give it its own: {allowed}.")                                                                                   \
    /* Finding out why there is no talk */                                                                             \
    X(SILENT_LINE, CONTACT, "B1", NUMBERS,                                                                             \
      "Nobody answers on this line: {1|question|questions} to addresses {2} to {3}, no byte in reply.",                \
      "Check supply and wires (A and B swapped?).")                                                                    \
    X(ANSWERS_ELSEWHERE, CONTACT, "B0", WORDS, "Nobody answers at {allowed}, but {said} answers.",                     \
      "Use that line setting, or set it back in the unit.")                                                            \
    X(OTHERS_ANSWER, CONTACT, "C0", WORDS, "{allowed} is silent, but others answer on this line: {said}.",             \
      "Check its own supply, branch and address.")                                                                     \
    X(ECHO_ONLY, CONTACT, "B5", EXCHANGE, "Only our own bytes come back, and no reply.",                               \
      "Check the wires at the unit: the adapter echoes, or its two wires are joined.")                                 \
    X(SPEED_LOWER, CONTACT, "B2", NUMBER, "The bytes that arrive are not replies. Their speed is about {1} bit/s.",    \
      "")                                                                                                              \
    X(GARBLED, CONTACT, "B3", NUMBER, "The bytes that arrive have line errors and are not replies.",                   \
      "The framing is wrong, or the speed is above {1} bit/s, or the line is disturbed.")                              \
    X(NOT_IN_STEP, CONTACT, "B4", PLAIN, "Bytes arrive without a question, and they are not replies.",                 \
      "Another program uses this line, or speed or framing is wrong.")                                                 \
    X(ADDRESS_SHARED, CONTACT, "C5", NUMBER, "Two units share address {1}: their replies collide.",                    \
      "Unplug one, give the other its own address, then plug the first in again.")                                     \
    X(ADDRESS_SHARED_BY, CONTACT, "C5", WANTED, "Two units share address {1}: {said}.",                                \
      "Unplug one, give the other its own address, then plug the first in again.")                                     \
    X(STILL_STARTING, CONTACT, "C4", NUMBER, "The unit is still busy after {1} s.",                                    \
      "Give it time to start. If it stays busy, switch it off and on.")                                                \
    X(MODEL_NOT_KNOWN, CONTACT, "C3", SAID, "A unit answers, but no model fits it: {said}.",                           \
      "Add a model file for it, or use the maker's tool.")                                                             \
    X(ANSWERS_EVERYWHERE, CONTACT, "C6", SAID, "One unit answers at every address: {said}.",                           \
      "Its address is not set, or a gateway answers for it. Connect it alone and set its address.")

#endif
