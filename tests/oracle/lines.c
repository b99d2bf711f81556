/* SPDX-License-Identifier: MIT
 * A unit that talks in lines, in the manner of ITU-T V.250, of IEEE 488.2 and SCPI-99, or of NMEA 0183, written from
 * those standards. It takes whole records only, in capitals, and does the parts of a line from left to right up to the
 * first that is wrong. */
#include "oracle.h"

#include <stdarg.h>
#include <stdio.h>
#include <string.h>

enum refusal { NONE, UNKNOWN_WORD, WRONG_VALUE, NOT_ALLOWED, WRONG_PASSWORD, BUSY_NOW };
static const int command_errors[] = {0, 4, 50, 3, 16, 14};
static const int query_errors[] = {0, -113, -222, -203, -221, -350};

static void say(oracle *o, const char *format, ...)
{
    va_list arguments;
    va_start(arguments, format);
    int added = vsnprintf(o->reply + o->reply_length, sizeof o->reply - o->reply_length, format, arguments);
    va_end(arguments);
    o->reply_length += (size_t)added;
}

/* Cuts the next piece off, in front of `mark` outside quotation marks; NULL when nothing is left. */
static char *next_piece(char **rest, char mark)
{
    char *piece = *rest;
    int quoted = 0;
    if (piece == NULL) {
        return NULL;
    }
    for (char *c = piece; *c != '\0'; c++) {
        quoted ^= *c == '"';
        if (*c == mark && !quoted) {
            *c = '\0';
            *rest = c + 1;
            return piece;
        }
    }
    *rest = NULL;
    return piece;
}

static unsigned fields_of(const oracle *o, const char *word)
{
    unsigned count = 0;
    for (size_t i = 0; i < o->count; i++) {
        count += strcmp(o->cells[i].word, word) == 0;
    }
    return count;
}

static size_t field_of(const oracle *o, const char *word, unsigned number)
{
    size_t i = 0;
    while (strcmp(o->cells[i].word, word) != 0 || o->cells[i].at != number) {
        i++;
    }
    return i;
}

/* What a record says, with commas; false when nobody may read it. */
static bool record(oracle *o, const char *word, char *text, size_t size)
{
    unsigned count = fields_of(o, word);
    text[0] = '\0';
    for (unsigned n = 0; n < count; n++) {
        oracle_cell *cell = &o->cells[field_of(o, word, n)];
        if (cell->access == 'w' || (cell->access == 'f' && !o->logged_in)) {
            return false;
        }
        size_t used = strlen(text);
        snprintf(text + used, size - used, "%s%s", n > 0 ? "," : "", oracle_say(o, cell, false));
    }
    return count > 0;
}

static enum refusal write_record(oracle *o, const char *word, char *values)
{
    char staged[ORACLE_CELLS][ORACLE_RAW] = {{0}}, *piece = NULL;
    unsigned count = fields_of(o, word), n = 0;
    if (count == 0) {
        return UNKNOWN_WORD;
    }
    if (o->wants_login && !o->logged_in) {
        return NOT_ALLOWED;
    }
    while ((piece = next_piece(&values, ',')) != NULL) {
        size_t i = n < count ? field_of(o, word, n) : 0;
        if (n >= count || strchr("rtf", o->cells[i].access) != NULL || strlen(piece) >= ORACLE_RAW) {
            return WRONG_VALUE;
        }
        snprintf(staged[i], ORACLE_RAW, "%s", piece);
        n++;
    }
    return n == count && oracle_take(o, staged) ? NONE : WRONG_VALUE;
}

/* A word that is said to it, with what follows. */
static enum refusal obey(oracle *o, const char *word, char *values)
{
    if (oracle_strikes(o, F_BUSY)) {
        return BUSY_NOW;
    }
    if (oracle_strikes(o, F_REFUSED)) {
        return WRONG_VALUE;
    }
    if (strcmp(word, "LOGIN") == 0 && o->wants_login) {
        char quoted[32];
        snprintf(quoted, sizeof quoted, o->manner == SENTENCES ? "%s" : "\"%s\"", o->password);
        o->logged_in = strcmp(values, quoted) == 0;
        return o->logged_in ? NONE : WRONG_PASSWORD;
    }
    if (strcmp(word, "SAVE") == 0 && o->store_needed) {
        if (o->wants_login && !o->logged_in) {
            return NOT_ALLOWED;
        }
        oracle_store(o);
        return NONE;
    }
    if (strcmp(word, "RESTART") == 0) {
        oracle_restart_soon(o);
        return NONE;
    }
    return write_record(o, word, values);
}

/* ---- V.250: a line of parts, each answered in a line of its own, then one result ---- */

static void command_error(oracle *o, enum refusal why)
{
    say(o, "\r\n+CME ERROR: %d\r\n", command_errors[why]);
}

static void answer_commands(oracle *o, char *line)
{
    static const char *const identity[] = {"+GMI", "+GMM", "+GMR", "+GSN"};
    const char *const texts[] = {"Quillmere", "tag", "2.0", o->serial};
    char *rest = line + 2, *part = NULL, text[256];
    if (strncmp(line, "AT", 2) != 0) {
        return;
    }
    if (oracle_strikes(o, F_BUSY) || oracle_strikes(o, F_REFUSED)) {
        command_error(o, oracle_strikes(o, F_BUSY) ? BUSY_NOW : WRONG_VALUE);
        return;
    }
    while ((part = next_piece(&rest, ';')) != NULL && *part != '\0') {
        size_t length = strlen(part);
        char *equals = strchr(part, '=');
        bool known = false;
        for (int i = 0; i < 4; i++) {
            if (strcmp(part, identity[i]) == 0) {
                say(o, "\r\n%s\r\n", texts[i]);
                known = true;
            }
        }
        if (known) {
            continue;
        }
        enum refusal why = NONE;
        if (*part != '+') {
            why = UNKNOWN_WORD;
        } else if (part[length - 1] == '?') {
            part[length - 1] = '\0';
            if (record(o, part + 1, text, sizeof text)) {
                say(o, "\r\n%s: %s\r\n", part, text);
            } else {
                why = strcmp(part, "+SERVICE") == 0 ? NOT_ALLOWED : UNKNOWN_WORD;
            }
        } else {
            static char nothing[1];
            if (equals != NULL) {
                *equals = '\0';
            }
            why = obey(o, part + 1, equals != NULL ? equals + 1 : nothing);
        }
        if (why != NONE) {
            command_error(o, why);
            return;
        }
    }
    say(o, "\r\nOK\r\n");
}

/* ---- SCPI: answers in one line, nothing at all to what is no question; errors wait in a queue (of one here) ---- */

static void answer_queries(oracle *o, char *line)
{
    char *rest = line, *part = NULL, text[256];
    unsigned answers = 0;
    while ((part = next_piece(&rest, ';')) != NULL) {
        part += *part == ':';
        char *blank = strchr(part, ' ');
        size_t length = strlen(part);
        if (strcmp(part, "*CLS") == 0) {
            o->errors = 0;
        } else if (strcmp(part, "*IDN?") == 0) {
            say(o, "%sQuillmere,cup,%s,2.0", answers++ > 0 ? ";" : "", o->serial);
        } else if (strcmp(part, "*OPC?") == 0) {
            say(o, "%s1", answers++ > 0 ? ";" : "");
        } else if (strcmp(part, "SYST:ERR?") == 0) {
            say(o, "%s%d,\"%s\"", answers++ > 0 ? ";" : "", o->errors, o->errors == 0 ? "No error" : "Wrong");
            o->errors = 0;
        } else if (length > 0 && part[length - 1] == '?') {
            part[length - 1] = '\0';
            bool refused = oracle_strikes(o, F_BUSY) || oracle_strikes(o, F_REFUSED);
            if (!refused && record(o, part, text, sizeof text)) {
                say(o, "%s%s", answers++ > 0 ? ";" : "", text);
            } else {
                o->errors = oracle_strikes(o, F_BUSY) ? query_errors[BUSY_NOW] : query_errors[UNKNOWN_WORD];
                break; /* the rest of the line is not looked at */
            }
        } else {
            static char nothing[1];
            if (blank != NULL) {
                *blank = '\0';
            }
            enum refusal why = obey(o, part, blank != NULL ? blank + 1 : nothing);
            o->errors = why != NONE ? query_errors[why] : o->errors;
        }
    }
    if (answers > 0) {
        say(o, "\n");
    }
}

/* ---- NMEA 0183: one sentence, or a counted number of them, each with its check ---- */

static unsigned check_of(const char *text, size_t length)
{
    unsigned check = 0;
    while (length-- > 0) {
        check ^= (unsigned char)*text++;
    }
    return check;
}

static void sentence(oracle *o, const char *text)
{
    say(o, "$%s*%02X\r\n", text, check_of(text, strlen(text)));
}

static void answer_sentences(oracle *o, char *line)
{
    char text[300], said[256], *rest = line, *words[12];
    char *star = strrchr(line, '*');
    unsigned check = 0;
    if (line[0] != '$' || star == NULL || sscanf(star + 1, "%2x", &check) != 1 ||
        check != check_of(line + 1, (size_t)(star - line - 1))) {
        return;
    }
    *star = '\0';
    char *talker = next_piece(&rest, ','), *kind = next_piece(&rest, ',');
    if (strcmp(talker, "$PQLM") != 0 || kind == NULL || rest == NULL) {
        return;
    }
    unsigned count = 0;
    if (strcmp(kind, "W") == 0) {
        static char nothing[1];
        char *word = next_piece(&rest, ',');
        enum refusal why = obey(o, word, rest != NULL ? rest : nothing);
        snprintf(text, sizeof text, "PQLM,%s,%s", why == NONE ? "A" : "N", word);
        if (why != NONE) {
            snprintf(text + strlen(text), sizeof text - strlen(text), ",%d", (int)why);
        }
        sentence(o, text);
        return;
    }
    for (char *word = NULL; (word = next_piece(&rest, ',')) != NULL && count < 12;) {
        bool known = strcmp(word, "ID") == 0 || record(o, word, said, sizeof said);
        if (!known || oracle_strikes(o, F_BUSY) || oracle_strikes(o, F_REFUSED)) {
            snprintf(text, sizeof text, "PQLM,N,%s,%d", word, oracle_strikes(o, F_BUSY) ? 5 : 1);
            sentence(o, text);
            return;
        }
        words[count++] = word;
    }
    for (unsigned n = 0; n < count; n++) {
        if (strcmp(words[n], "ID") == 0) {
            snprintf(said, sizeof said, "Quillmere,lid,%s,2.0", o->serial);
        } else {
            record(o, words[n], said, sizeof said);
        }
        snprintf(text, sizeof text, "PQLM,V,%u,%u,%s,%s", count, n + 1, words[n], said);
        sentence(o, text);
    }
}

void oracle_answer_line(oracle *o, const char *request, size_t count)
{
    char line[600];
    while (count > 0 && (request[count - 1] == '\r' || request[count - 1] == '\n')) {
        count--;
    }
    snprintf(line, sizeof line, "%.*s", (int)count, request);
    o->reply_length = 0;
    switch (o->manner) {
    case COMMANDS: answer_commands(o, line); break;
    case QUERIES: answer_queries(o, line); break;
    case SENTENCES: answer_sentences(o, line); break;
    case REGISTERS: break;
    }
}
