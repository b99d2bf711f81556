/* SPDX-License-Identifier: MIT
 * Lines from a unit: what each is in its manner, and what it says.
 *
 *   commands   +LIMIT: 2,1,65.0      OK, ERROR, +CME ERROR: 50        (V.250 5.7, 3GPP TS 27.007 9.2)
 *   queries    "Ling 2";1,65.0       0,"No error"                     (IEEE 488.2 8, SCPI-99 volume 2, 21.8)
 *   sentences  $PQLM,V,2,1,LIMIT,2,1,65.0*hh   $PQLM,A,LIMIT*hh   $PQLM,N,LIMIT,2*hh   (docs/model.md) */
#include "parts.h"

#include "verdite/text.h"

#include <string.h>

bool vd_lines_starts(const char *line, size_t length, const char *head)
{
    size_t size = strlen(head);
    return length >= size && memcmp(line, head, size) == 0;
}

/* A whole number, with blanks around it; false for anything else. */
static bool whole_number(const char *text, size_t length, int *number)
{
    bool negative = false, any = false;
    size_t at = 0;
    while (at < length && text[at] == ' ') {
        at++;
    }
    if (at < length && (text[at] == '-' || text[at] == '+')) {
        negative = text[at++] == '-';
    }
    for (*number = 0; at < length && vd_is_digit(text[at]) && *number < 100000; at++, any = true) {
        *number = *number * 10 + (text[at] - '0');
    }
    while (at < length && text[at] == ' ') {
        at++;
    }
    *number = negative ? -*number : *number;
    return any && at == length;
}

typedef struct code {
    int from, to;
    vd_status status;
} code;

static vd_status status_of(const code *codes, size_t count, int number)
{
    for (size_t i = 0; i < count; i++) {
        if (number >= codes[i].from && number <= codes[i].to) {
            return codes[i].status;
        }
    }
    return VD_REFUSED_OTHER;
}

/* 3GPP TS 27.007 9.2.1: operation not allowed, not supported, SIM busy, incorrect password, incorrect parameters. */
static const code command_codes[] = {{3, 3, VD_REFUSED_RIGHT},
                                     {4, 4, VD_REFUSED_WORD},
                                     {14, 14, VD_REFUSED_BUSY},
                                     {16, 16, VD_LOGIN_NOT_TAKEN},
                                     {50, 50, VD_REFUSED_VALUE}};
/* SCPI-99 volume 2, 21.8.9 to 21.8.11: header errors, protected, parameters and settings conflict. */
static const code query_codes[] = {{-119, -110, VD_REFUSED_WORD},
                                   {-109, -104, VD_REFUSED_VALUE},
                                   {-203, -203, VD_REFUSED_RIGHT},
                                   {-229, -220, VD_REFUSED_VALUE}};
/* Our own, docs/model.md. */
static const code sentence_codes[] = {{1, 1, VD_REFUSED_WORD},
                                      {2, 2, VD_REFUSED_VALUE},
                                      {3, 3, VD_REFUSED_RIGHT},
                                      {4, 4, VD_LOGIN_NOT_TAKEN},
                                      {5, 5, VD_REFUSED_BUSY}};
#define STATUS_OF(codes, number) status_of(codes, sizeof(codes) / sizeof(codes)[0], number)

static vd_reply_line parse_command(const char *line, size_t length)
{
    vd_reply_line reply = {.kind = VD_REPLY_OTHER, .data = line, .data_length = length};
    static const char *const errors[] = {"+CME ERROR:", "+CMS ERROR:"};
    int number = 0;
    if (vd_text_is(line, length, "OK")) {
        reply.kind = VD_REPLY_FINE;
        return reply;
    }
    if (vd_text_is(line, length, "ERROR")) {
        reply.kind = VD_REPLY_NO;
        reply.refusal = VD_REFUSED_OTHER;
        return reply;
    }
    for (size_t i = 0; i < sizeof errors / sizeof errors[0]; i++) {
        size_t head = strlen(errors[i]);
        if (vd_lines_starts(line, length, errors[i])) {
            bool known = i == 0 && whole_number(line + head, length - head, &number);
            reply.kind = VD_REPLY_NO;
            reply.refusal = known ? STATUS_OF(command_codes, number) : VD_REFUSED_OTHER;
            return reply;
        }
    }
    if (length > 1 && line[0] == '+') {
        size_t end = 1;
        while (end < length && line[end] != ':') {
            end++;
        }
        if (end < length) {
            reply.kind = VD_REPLY_DATA;
            reply.word = line + 1;
            reply.word_length = end - 1;
            end += end + 1 < length && line[end + 1] == ' ' ? 2 : 1;
            reply.data = line + end;
            reply.data_length = length - end;
        }
    }
    return reply;
}

vd_status vd_reply_error(const char *data, size_t length)
{
    const char *rest = data, *piece = NULL;
    size_t left = length, size = 0;
    int number = 0;
    bool sound = vd_lines_cut(&vd_queries_manner, &rest, &left, ',', &piece, &size) &&
                 whole_number(piece, size, &number) && rest != NULL;
    return !sound ? VD_ANSWER_STRANGE : number == 0 ? VD_OK : STATUS_OF(query_codes, number);
}

/* The next piece of a sentence as a number above 0; 0 where it is none. */
static unsigned take_number(vd_reply_line *reply)
{
    const char *piece = NULL, *rest = reply->data;
    size_t size = 0, left = reply->data_length;
    int number = 0;
    if (!vd_lines_cut(&vd_sentences_manner, &rest, &left, ',', &piece, &size) || !whole_number(piece, size, &number) ||
        number < 0) {
        return 0;
    }
    reply->data = rest != NULL ? rest : piece + size;
    reply->data_length = left;
    return (unsigned)number;
}

static void take_word(vd_reply_line *reply)
{
    const char *rest = reply->data;
    size_t left = reply->data_length;
    vd_lines_cut(&vd_sentences_manner, &rest, &left, ',', &reply->word, &reply->word_length);
    reply->data = rest != NULL ? rest : reply->word + reply->word_length;
    reply->data_length = left;
}

static vd_reply_line parse_sentence(const char *talker, const char *line, size_t length)
{
    vd_reply_line reply = {.kind = VD_REPLY_OTHER, .data = line, .data_length = length};
    size_t head = strlen(talker);
    if (length < 4 || line[0] != '$') {
        return reply;
    }
    int high = vd_hex_digit(line[length - 2]), low = vd_hex_digit(line[length - 1]);
    if (line[length - 3] != '*' || high < 0 || low < 0 || vd_lines_check(line + 1, length - 4) != (high << 4 | low)) {
        reply.kind = VD_REPLY_BROKEN;
        return reply;
    }
    length -= 3;
    if (!vd_lines_starts(line + 1, length - 1, talker) || length < head + 5 || line[head + 1] != ',' ||
        line[head + 3] != ',') {
        return reply;
    }
    char kind = line[head + 2];
    reply.data = line + head + 4;
    reply.data_length = length - head - 4;
    if (kind == 'V') {
        reply.of = take_number(&reply);
        reply.number = take_number(&reply);
        take_word(&reply);
        reply.kind = reply.of > 0 && reply.number > 0 && reply.number <= reply.of ? VD_REPLY_DATA : VD_REPLY_BROKEN;
    } else if (kind == 'A') {
        take_word(&reply);
        reply.kind = VD_REPLY_FINE;
    } else if (kind == 'N') {
        take_word(&reply);
        reply.kind = VD_REPLY_NO;
        reply.refusal = STATUS_OF(sentence_codes, (int)take_number(&reply));
    }
    return reply;
}

vd_reply_line vd_reply_parse(const vd_manner *manner, const char *talker, const char *line, size_t length)
{
    if (manner->results) {
        return parse_command(line, length);
    }
    if (manner->sealed) {
        return parse_sentence(talker, line, length);
    }
    return (vd_reply_line){.kind = VD_REPLY_DATA, .data = line, .data_length = length};
}

/* ---- Identity ---- */

static bool take_part(vd_identity *identity, const vd_manner *manner, unsigned n, const char *text, size_t length)
{
    /* V.250 6.1.4 to 6.1.7: maker, model, revision, serial number; IEEE 488.2 10.14 has the last two the other way. */
    char *const parts[] = {identity->maker, identity->product, identity->firmware};
    static const size_t sizes[] = {sizeof identity->maker, sizeof identity->product, sizeof identity->firmware};
    unsigned at = manner->results || n < 2 ? n : 5 - n;
    char plain[VD_LONGEST_LINE];
    int got = vd_lines_plain(manner, text, length, plain, sizeof plain);
    if (got < 0) {
        return false;
    }
    if (at == sizeof parts / sizeof parts[0]) {
        vd_identity_take_serial(identity, (const uint8_t *)plain, (size_t)got);
    } else {
        vd_identity_copy(parts[at], sizes[at], (const uint8_t *)plain, (size_t)got);
    }
    return true;
}

static bool stands_in(const char *text, size_t length, const char *line, size_t size)
{
    for (size_t at = 0; at + size <= length; at++) {
        if (memcmp(text + at, line, size) == 0) {
            return true;
        }
    }
    return false;
}

/* Whether a line may be the name of something: result codes that come unasked are words of the standard (V.250 table
 * 1), or begin with a sign. */
static bool is_plain(const char *line, size_t length)
{
    static const char *const codes[] = {"RING", "NO CARRIER", "CONNECT", "BUSY", "NO ANSWER", "NO DIALTONE"};
    bool plain = length > 0 &&
                 ((line[0] >= 'A' && line[0] <= 'Z') || (line[0] >= 'a' && line[0] <= 'z') || vd_is_digit(line[0]));
    for (size_t i = 0; i < sizeof codes / sizeof codes[0]; i++) {
        plain = plain && !vd_text_is(line, length, codes[i]);
    }
    return plain;
}

/* One line for each of the four, perhaps with the word before it (27.007 does so); what comes in between of itself
 * bears another word. */
static vd_heed take_command_identity(const vd_reply_line *reply, const char *request, size_t request_length,
                                     const char *line, size_t length, vd_identity *identity, uint16_t *answers)
{
    static const char *const words[] = {"GMI", "GMM", "GMR", "GSN"};
    bool data = reply->kind == VD_REPLY_DATA;
    bool named = data && *answers < 4 && vd_text_is(reply->word, reply->word_length, words[*answers]);
    bool echo = stands_in(request, request_length, line, length);
    if ((!named && !is_plain(line, length)) || echo) {
        return VD_NOT_MINE;
    }
    if (*answers < 4) {
        take_part(identity, &vd_commands_manner, *answers, reply->data, reply->data_length);
    }
    ++*answers; /* more than four are too many: something else came in between */
    return VD_GOES_ON;
}

vd_heed vd_reply_identity(const vd_manner *manner, const char *talker, const char *request, size_t request_length,
                          const char *line, size_t length, uint16_t wanted, vd_identity *identity, uint16_t *answers,
                          vd_status *status)
{
    vd_reply_line reply = vd_reply_parse(manner, talker, line, length);
    *status = VD_OK;
    if (reply.kind == VD_REPLY_BROKEN) {
        *status = VD_LINE_DAMAGED;
        return VD_NOT_MINE;
    }
    if (reply.kind == VD_REPLY_NO) {
        *status = reply.refusal;
        return VD_ENDS;
    }
    if (manner->results && reply.kind != VD_REPLY_FINE) {
        return take_command_identity(&reply, request, request_length, line, length, identity, answers);
    }
    if (manner->results) {
        *status = *answers == wanted ? VD_OK : VD_ANSWER_STRANGE;
        return VD_ENDS;
    }
    if (manner->sealed && (reply.kind != VD_REPLY_DATA || !vd_text_is(reply.word, reply.word_length, "ID"))) {
        return VD_NOT_MINE;
    }
    const char *rest = reply.data, *piece = NULL;
    size_t left = reply.data_length, size = 0;
    unsigned n = 0;
    bool fine = true;
    while (vd_lines_cut(manner, &rest, &left, ',', &piece, &size)) {
        fine = n < 4 && take_part(identity, manner, n, piece, size) && fine;
        n++;
    }
    if (manner->queue && n != 4) { /* *IDN? has four fields, always: this is something else */
        return VD_NOT_MINE;
    }
    *answers = (uint16_t)n;
    *status = fine && n == 4 ? VD_OK : VD_ANSWER_STRANGE;
    return VD_ENDS;
}
