/* SPDX-License-Identifier: MIT
 * The unit's end of talk in lines: takes a line apart, hands its parts to the unit one by one, and puts what the unit
 * says to each into the form of its manner. */
#include "parts.h"
#include "responder.h"
#include "verdite/text.h"
#include "verdite/lines_unit.h"
#include "verdite/fields.h"
#include "verdite/lines.h"

#include <string.h>

enum state {
    LISTENING,
    CALLING, /* a line waits to be answered */
    PAUSING, /* the answer waits for its time */
    SENDING
};

void vd_lines_responder_start(vd_lines_responder *responder, const vd_manner *manner, const vd_model *model,
                              const vd_serial *line, char *memory)
{
    memset(responder, 0, sizeof *responder);
    responder->line = *line;
    responder->talker = model->lines.talker;
    responder->manner = manner;
    responder->longest = model->lines.longest;
    responder->echoes = model->lines.echoes;
    responder->turnaround = model->reply.usual * 1000u;
    responder->heard = memory;
    responder->reply = memory + VD_LONGEST_LINE;
    responder->writer = vd_writer_start(responder->reply, VD_LINES_REPLY);
    responder->wake = VD_NEVER;
}

static void listen(vd_lines_responder *responder)
{
    responder->state = LISTENING;
    responder->length = 0;
    responder->overlong = responder->damaged = false;
    responder->wake = VD_NEVER;
}

static char capital(char c)
{
    return (char)(c >= 'a' && c <= 'z' ? c - 'a' + 'A' : c);
}

bool vd_lines_is_word(const char *word, uint16_t item, const char *heard, size_t length)
{
    size_t at = 0;
    for (; *word != '\0'; word++) {
        if (*word == '#') {
            unsigned number = 0, digits = 0;
            for (; at < length && vd_is_digit(heard[at]) && digits < 5; at++, digits++) {
                number = number * 10 + (unsigned)(heard[at] - '0');
            }
            if (digits == 0 || number != item) {
                return false;
            }
        } else if (at >= length || capital(heard[at++]) != *word) {
            return false;
        }
    }
    return at == length;
}

/* ---- Taking a line apart ---- */

static void push_error(vd_lines_responder *responder, int code)
{
    enum { OVERFLOW_OF_QUEUE = -350 };
    if (responder->error_count < VD_LINES_ERRORS) {
        responder->errors[responder->error_count++] = (int16_t)code;
    } else {
        responder->errors[VD_LINES_ERRORS - 1] = OVERFLOW_OF_QUEUE;
    }
}

static vd_writer *begin_answer(vd_lines_responder *responder)
{
    vd_writer_add(&responder->writer, responder->answered ? ";" : "");
    responder->answered = true;
    return &responder->writer;
}

static void answer_error(vd_lines_responder *responder)
{
    static const struct {
        int16_t code;
        const char *words;
    } errors[] = {{0, "No error"},
                  {-113, "Undefined header"},
                  {-222, "Data out of range"},
                  {-203, "Command protected"},
                  {-350, "Queue overflow"},
                  {-108, "Parameter not allowed"},
                  {-200, "Execution error"}};
    vd_writer *writer = begin_answer(responder);
    int code = responder->error_count > 0 ? responder->errors[0] : 0;
    const char *words = "Error";
    if (responder->error_count > 0) {
        responder->error_count--;
        memmove(responder->errors, responder->errors + 1, sizeof responder->errors[0] * responder->error_count);
    }
    for (size_t i = 0; i < sizeof errors / sizeof errors[0]; i++) {
        words = errors[i].code == code ? errors[i].words : words;
    }
    vd_writer_add_number(writer, code);
    vd_writer_add(writer, ",\"");
    vd_writer_add(writer, words);
    vd_writer_add(writer, "\"");
}

/* Splits a part at where its data begin. */
static void split(vd_lines_call *call, const char *part, size_t length, const char *joints)
{
    size_t end = 0;
    while (end < length && part[end] != joints[0] && part[end] != joints[1]) {
        end++;
    }
    call->word = part;
    call->word_length = end;
    call->data = part + end + (end < length);
    call->data_length = length - end - (end < length);
    call->kind = end == length ? VD_CALL_DO : part[end] == '?' ? VD_CALL_READ : VD_CALL_SET;
}

/* A part of a command line (V.250 5.4). Returns whether it is for the unit. */
static bool take_command(vd_lines_responder *responder, const char *part, size_t length)
{
    static const char *const identity[] = {"GMI", "GMM", "GMR", "GSN"};
    vd_lines_call *call = &responder->call;
    if (length == 0) {
        return false;
    }
    if (length == 2 && capital(part[0]) == 'E' && (part[1] == '0' || part[1] == '1')) {
        responder->echoes = part[1] == '1';
        return false;
    }
    if (part[0] != '+') {
        vd_lines_refuse(responder, VD_NO_SUCH_WORD);
        return false;
    }
    split(call, part + 1, length - 1, "=?");
    for (unsigned i = 0; i < 4 && call->kind == VD_CALL_DO; i++) {
        if (vd_lines_is_word(identity[i], 0, call->word, call->word_length)) {
            call->kind = VD_CALL_IDENTITY;
            call->part = i;
        }
    }
    return true;
}

static bool take_query(vd_lines_responder *responder, const char *part, size_t length)
{
    vd_lines_call *call = &responder->call;
    while (length > 0 && (part[0] == ' ' || part[0] == ':')) {
        part++;
        length--;
    }
    if (length == 0) {
        return false;
    }
    split(call, part, length, " ?");
    if (vd_lines_is_word("*CLS", 0, call->word, call->word_length)) {
        responder->error_count = 0;
        return false;
    }
    if (call->kind == VD_CALL_READ && vd_lines_is_word("SYST:ERR", 0, call->word, call->word_length)) {
        answer_error(responder);
        return false;
    }
    if (call->kind == VD_CALL_READ && vd_lines_is_word("*OPC", 0, call->word, call->word_length)) {
        vd_writer_add(begin_answer(responder), "1");
        return false;
    }
    if (call->kind == VD_CALL_READ && vd_lines_is_word("*IDN", 0, call->word, call->word_length)) {
        call->kind = VD_CALL_IDENTITY;
    }
    return true;
}

/* A sentence is one part: what is not ours, or damaged, is not for us. */
static bool take_sentence(vd_lines_responder *responder)
{
    size_t head = strlen(responder->talker), length = responder->length;
    const char *line = responder->heard;
    vd_lines_call *call = &responder->call;
    vd_reply_line reply = vd_reply_parse(&vd_sentences_manner, "", line, length);
    responder->at = (uint16_t)length;
    if (reply.kind == VD_REPLY_BROKEN || length < head + 8 || line[0] != '$' ||
        memcmp(line + 1, responder->talker, head) != 0 || line[head + 1] != ',' || line[head + 3] != ',') {
        return false;
    }
    const char *data = line + head + 4;
    length -= head + 7;
    if (line[head + 2] == 'R') {
        *call = (vd_lines_call){.kind = VD_CALL_READ, .word = data, .data = data, .data_length = length};
        bool identity = length == 2 && data[0] == 'I' && data[1] == 'D';
        call->word_length = length;
        call->kind = identity ? VD_CALL_IDENTITY : VD_CALL_READ;
        return true;
    }
    if (line[head + 2] != 'W') {
        return false;
    }
    split(call, data, length, ",,");
    return true;
}

/* Takes the next part that is for the unit; false when the line is through. */
static bool next_call(vd_lines_responder *responder)
{
    if (responder->manner->sealed) {
        return responder->at < responder->length && take_sentence(responder);
    }
    while (responder->at < responder->length && !(responder->refused && responder->manner->results)) {
        const char *rest = responder->heard + responder->at, *part = NULL;
        size_t left = (size_t)responder->length - responder->at, length = 0;
        vd_lines_cut(responder->manner, &rest, &left, ';', &part, &length);
        responder->at = (uint16_t)(responder->at + length + 1);
        bool mine =
            responder->manner->results ? take_command(responder, part, length) : take_query(responder, part, length);
        if (mine) {
            return true;
        }
    }
    return false;
}

static void finish(vd_lines_responder *responder)
{
    if (responder->manner->results && !responder->refused) {
        vd_writer_add(&responder->writer, "\r\nOK\r\n");
    } else if (responder->manner->queue && responder->answered) {
        vd_writer_add(&responder->writer, "\n");
    }
    if (responder->writer.length == 0) {
        listen(responder);
        return;
    }
    responder->state = PAUSING;
    responder->wake = responder->last_heard + responder->turnaround;
}

const vd_lines_call *vd_lines_responder_call(vd_lines_responder *responder)
{
    if (responder->state != CALLING) {
        return NULL;
    }
    if (!responder->calling && !next_call(responder)) {
        finish(responder);
        return NULL;
    }
    responder->calling = true;
    return &responder->call;
}

/* ---- Answers ---- */

vd_writer *vd_lines_answer(vd_lines_responder *responder, const char *word, uint16_t item, unsigned of)
{
    vd_writer *writer = &responder->writer;
    responder->sentence++;
    if (responder->manner->queue) {
        return begin_answer(responder);
    }
    if (responder->manner->results) {
        vd_writer_add(writer, "\r\n");
        vd_writer_add(writer, word[0] != '\0' ? "+" : "");
        vd_writer_add(writer, word);
        vd_writer_add(writer, word[0] != '\0' ? ": " : "");
    } else {
        responder->sentence = responder->sentence > of ? 1 : responder->sentence;
        responder->call.word = writer->text + writer->length + 1; /* where the check begins */
        vd_writer_add(writer, "$");
        vd_writer_add(writer, responder->talker);
        vd_writer_add(writer, ",V,");
        vd_writer_add_number(writer, of);
        vd_writer_add(writer, ",");
        vd_writer_add_number(writer, responder->sentence);
        vd_writer_add(writer, ",");
        vd_writer_add(writer, word);
        vd_writer_add(writer, ",");
    }
    if (item > 0) {
        vd_writer_add_number(writer, item);
        vd_writer_add(writer, ",");
    }
    return writer;
}

static void seal(vd_lines_responder *responder, const char *from)
{
    vd_writer *writer = &responder->writer;
    uint8_t check = vd_lines_check(from, (size_t)(writer->text + writer->length - from));
    vd_writer_add(writer, "*");
    vd_writer_add_hex(writer, check, 2);
    vd_writer_add(writer, "\r\n");
}

void vd_lines_answer_end(vd_lines_responder *responder)
{
    if (responder->manner->results) {
        vd_writer_add(&responder->writer, "\r\n");
    } else if (responder->manner->sealed) {
        seal(responder, responder->call.word);
    }
}

/* Says yes or no to a sentence that set something. */
static void acknowledge(vd_lines_responder *responder, const char *kind, int code)
{
    vd_writer *writer = &responder->writer;
    const char *from = writer->text + writer->length + 1;
    const char *rest = responder->call.word, *word = NULL;
    size_t left = responder->call.word_length, length = 0;
    vd_lines_cut(responder->manner, &rest, &left, ',', &word, &length); /* of several words the first stands for all */
    vd_writer_add(writer, "$");
    vd_writer_add(writer, responder->talker);
    vd_writer_add(writer, kind);
    vd_writer_add_bytes(writer, word, length);
    if (code > 0) {
        vd_writer_add(writer, ",");
        vd_writer_add_number(writer, code);
    }
    seal(responder, from);
}

void vd_lines_done(vd_lines_responder *responder, uint32_t slower)
{
    vd_lines_call_kind kind = responder->call.kind;
    if (responder->manner->sealed && (kind == VD_CALL_SET || kind == VD_CALL_DO)) {
        acknowledge(responder, ",A,", 0);
    }
    responder->calling = false;
    responder->last_heard += slower;
}

void vd_lines_ignore(vd_lines_responder *responder)
{
    responder->calling = false;
    listen(responder);
}

void vd_lines_refuse(vd_lines_responder *responder, vd_lines_refusal why)
{
    static const struct {
        int command, query, sentence;
    } codes[] = {[VD_NO_SUCH_WORD] = {4, -113, 1},
                 [VD_NO_SUCH_VALUE] = {50, -222, 2},
                 [VD_NO_RIGHT] = {3, -203, 3},
                 [VD_NO_PASSWORD] = {16, -203, 4},
                 [VD_NOT_NOW] = {14, -200, 5}};
    if (responder->manner->results) {
        vd_writer_add(&responder->writer, "\r\n+CME ERROR: ");
        vd_writer_add_number(&responder->writer, codes[why].command);
        vd_writer_add(&responder->writer, "\r\n");
    } else if (responder->manner->queue) {
        push_error(responder, codes[why].query);
    } else {
        acknowledge(responder, ",N,", codes[why].sentence);
    }
    responder->refused = true;
    responder->calling = false;
}

bool vd_lines_responder_say(vd_lines_responder *responder, const char *line, uint64_t now)
{
    if (responder->state != LISTENING || responder->length > 0) {
        return false;
    }
    responder->writer = vd_writer_start(responder->reply, VD_LINES_REPLY);
    vd_writer_add(&responder->writer, responder->manner->results ? "\r\n" : "");
    vd_writer_add(&responder->writer, line);
    vd_writer_add(&responder->writer, "\r\n");
    responder->state = PAUSING;
    responder->wake = now;
    return true;
}

/* ---- Hearing ---- */

/* What stands before the last AT was never meant for us, or is what noise left (V.250 5.2.1). */
static void find_head(vd_lines_responder *responder)
{
    size_t from = responder->length;
    for (size_t at = 0; at + 1 < responder->length; at++) {
        bool head = capital(responder->heard[at]) == 'A' && capital(responder->heard[at + 1]) == 'T';
        if (head && (at == 0 || responder->heard[at - 1] < 0x20 || responder->heard[at - 1] > 0x7E)) {
            from = at;
        }
    }
    from = from == responder->length && responder->length >= 2 && capital(responder->heard[0]) == 'A' &&
                   capital(responder->heard[1]) == 'T'
               ? 0
               : from;
    responder->at = (uint16_t)(from + 2);
}

static void take_line(vd_lines_responder *responder)
{
    bool ours = !responder->damaged && !responder->overlong && responder->length > 0;
    responder->at = 0;
    responder->writer = vd_writer_start(responder->reply, VD_LINES_REPLY);
    responder->refused = responder->answered = responder->calling = false;
    responder->sentence = 0;
    if (ours && responder->manner->results) {
        find_head(responder);
        ours = responder->at <= responder->length;
        if (ours && responder->echoes) {
            vd_writer_add_bytes(&responder->writer, responder->heard, responder->length);
            vd_writer_add(&responder->writer, "\r");
        }
    }
    if (!ours) {
        listen(responder);
        return;
    }
    responder->state = CALLING;
    responder->wake = VD_NEVER;
}

static void hear_byte(vd_lines_responder *responder, char c, uint8_t errors)
{
    bool ends = c == '\r' || c == '\n';
    if (responder->state != LISTENING) {
        return; /* a line that comes while another is answered is lost */
    }
    if (errors != 0) {
        c = '\x7F'; /* no character of any line; what stands behind it may be one */
    }
    responder->damaged = responder->damaged || (errors != 0 && !responder->manner->results);
    if (c == '$' && responder->manner->sealed) {
        listen(responder);
    }
    if (ends) {
        take_line(responder);
    } else if (responder->length + 1u < responder->longest) {
        responder->heard[responder->length++] = c;
    } else {
        responder->overlong = true;
    }
}

static void responder_feed(void *engine, const vd_event *event)
{
    vd_lines_responder *responder = engine;
    if (event->kind == VD_HEARD) {
        for (size_t i = 0; i < event->count; i++) {
            if (responder->state == LISTENING) {
                responder->last_heard = event->now;
            }
            hear_byte(responder, (char)event->bytes[i], event->errors != NULL ? event->errors[i] : 0);
        }
    } else if (event->kind == VD_TIME && event->now >= responder->wake) {
        if (responder->state == PAUSING) {
            responder->state = SENDING;
            responder->wake = VD_NEVER;
        } else {
            listen(responder);
        }
    } else if (event->kind == VD_SENT && responder->state == SENDING) {
        listen(responder);
    }
}

static void responder_wants(const void *engine, vd_wants *wants)
{
    const vd_lines_responder *responder = engine;
    *wants = (vd_wants){.line = responder->line, .wake = responder->wake};
    if (responder->state == SENDING) {
        wants->send = (const uint8_t *)responder->writer.text;
        wants->count = responder->writer.length;
    }
}

const vd_engine vd_lines_responder_engine = {responder_wants, responder_feed};
