/* SPDX-License-Identifier: MIT
 * The talk on the wire as text: each frame or line, its time, its bytes or characters, and what it says. What is heard
 * is gathered until it is a whole frame or something else happens. */
#include "verdite/host.h"

#include <string.h>

#define LONGEST 1024u /* characters of a line that goes out in portions */
#define ROW 24u       /* bytes on one line */
/* Microseconds of silence that end what was heard; of characters that end by themselves, one more than a second. */
#define GAP 50000u
#define TEXT_GAP 1100000u

struct vd_tracer {
    FILE *out;
    uint64_t start, first, last;
    GByteArray *heard, *sent; /* until they are whole */
    bool hidden, hides;       /* what is heard, what is sent, carries a secret: not even its length is told */
    uint8_t errors;
    const vd_desk *desk; /* of the language of what was sent last */
    bool started;
};

vd_tracer *vd_tracer_new(FILE *out)
{
    vd_tracer *tracer = g_new0(vd_tracer, 1);
    tracer->out = out;
    tracer->desk = vd_desks[0];
    tracer->heard = g_byte_array_new();
    tracer->sent = g_byte_array_new();
    return tracer;
}

static void write_head(vd_tracer *tracer, uint64_t time, bool sent)
{
    uint64_t since = time - tracer->start;
    fprintf(tracer->out, "%4" G_GUINT64_FORMAT ".%06" G_GUINT64_FORMAT " s  %s ", since / 1000000, since % 1000000,
            sent ? "out" : "in ");
}

static void write_errors(vd_tracer *tracer, uint8_t errors)
{
    fprintf(tracer->out, "%s%s%s", errors & VD_ERROR_PARITY ? " (parity error)" : "",
            errors & VD_ERROR_FRAMING ? " (stop bit missing)" : "", errors & VD_ERROR_BREAK ? " (break)" : "");
}

static void write_frame(vd_tracer *tracer, const uint8_t *bytes, size_t count, bool sent, uint8_t errors)
{
    char words[1024];
    vd_writer writer = vd_writer_start(words, sizeof words);
    vd_desk_explain(tracer->desk, bytes, count, !sent, &writer);
    for (size_t i = 0; i < count; i++) {
        fprintf(tracer->out, "%s %02X", i > 0 && i % ROW == 0 ? "\n                   " : "", bytes[i]);
    }
    fprintf(tracer->out, "\n                    %s", words);
    write_errors(tracer, errors);
    fputc('\n', tracer->out);
}

/* What is no plain character is shown by its number, so that nothing in it steers the terminal. */
static void write_line(vd_tracer *tracer, const uint8_t *bytes, size_t count, bool sent, uint8_t errors)
{
    char words[1024];
    vd_writer writer = vd_writer_start(words, sizeof words);
    vd_desk_explain(tracer->desk, bytes, count, !sent, &writer);
    fputc(' ', tracer->out);
    while (count > 0 && (bytes[count - 1] == '\r' || bytes[count - 1] == '\n')) {
        count--;
    }
    for (size_t i = 0; i < count; i++) {
        if (bytes[i] >= 0x20 && bytes[i] < 0x7F) {
            fputc(bytes[i], tracer->out);
        } else {
            fprintf(tracer->out, "<%02X>", bytes[i]);
        }
    }
    write_errors(tracer, errors);
    fprintf(tracer->out, "%s%s\n", writer.length > 0 ? "\n                    " : "", words);
}

static bool is_text(const uint8_t *bytes, size_t count)
{
    for (size_t i = 0; i < count; i++) {
        if ((bytes[i] < 0x20 || bytes[i] > 0x7E) && bytes[i] != '\r' && bytes[i] != '\n') {
            return false;
        }
    }
    return true;
}

/* In which language something went out. What is none of any is a frame, or the beginning of a line. */
static const vd_desk *desk_of(const uint8_t *bytes, size_t count)
{
    for (const vd_desk *const *desk = vd_desks; *desk != NULL; desk++) {
        if (vd_desk_is_request(*desk, bytes, count)) {
            return *desk;
        }
    }
    return NULL;
}

static void write_any(vd_tracer *tracer, uint64_t time, bool sent, const uint8_t *bytes, size_t count, uint8_t errors)
{
    write_head(tracer, time, sent);
    (tracer->desk->is_text ? write_line : write_frame)(tracer, bytes, count, sent, errors);
}

static void write_hidden(vd_tracer *tracer, uint64_t time, bool sent)
{
    write_head(tracer, time, sent);
    fprintf(tracer->out, " (hidden: it holds a secret)\n");
}

static void flush(vd_tracer *tracer)
{
    if (tracer->hidden) {
        write_hidden(tracer, tracer->first, false);
    }
    if (tracer->heard->len > 0) {
        write_any(tracer, tracer->first, false, tracer->heard->data, tracer->heard->len, tracer->errors);
    }
    g_byte_array_set_size(tracer->heard, 0);
    tracer->hidden = false;
    tracer->errors = 0;
}

static void hear(vd_tracer *tracer, uint64_t now, uint8_t byte, uint8_t errors)
{
    bool end = byte == '\r' || byte == '\n';
    if (tracer->desk->is_text && end && tracer->heard->len == 0) {
        return; /* lines are often framed by empty ones */
    }
    if (tracer->heard->len == 0) {
        tracer->first = now;
    }
    g_byte_array_append(tracer->heard, &byte, 1);
    tracer->errors |= errors;
    if (vd_desk_is_whole(tracer->desk, tracer->heard->data, tracer->heard->len)) {
        flush(tracer);
    }
}

/* A long line goes out in portions. */
static void send(vd_tracer *tracer, uint64_t now, const uint8_t *bytes, size_t count)
{
    GByteArray *sent = tracer->sent;
    g_byte_array_append(sent, bytes, (guint)count);
    const vd_desk *desk = desk_of(sent->data, sent->len);
    if (desk == NULL && is_text(sent->data, sent->len) && sent->len < LONGEST) {
        return;
    }
    tracer->desk = desk != NULL ? desk : vd_desks[0];
    write_any(tracer, now, true, sent->data, sent->len, 0);
    g_byte_array_set_size(sent, 0);
}

void vd_tracer_note(void *about, uint64_t now, size_t lane, bool sent, const uint8_t *bytes, const uint8_t *errors,
                    size_t count)
{
    vd_tracer *tracer = about;
    (void)lane;
    if (!tracer->started) {
        tracer->start = now;
        tracer->started = true;
    }
    if (sent || now - tracer->last > (tracer->desk->is_text ? TEXT_GAP : GAP)) {
        flush(tracer);
    }
    tracer->last = now;
    if (sent && bytes == NULL) {
        if (!tracer->hides) { /* it goes out in portions */
            write_hidden(tracer, now, true);
        }
        tracer->hides = true;
        return;
    }
    tracer->hides = false;
    if (sent) {
        send(tracer, now, bytes, count);
        return;
    }
    if (bytes == NULL) {
        tracer->first = tracer->hidden ? tracer->first : now;
        tracer->hidden = true;
        return;
    }
    for (size_t i = 0; i < count; i++) {
        hear(tracer, now, bytes[i], errors != NULL ? errors[i] : 0);
    }
}

void vd_tracer_free(vd_tracer *tracer)
{
    if (tracer != NULL) {
        flush(tracer);
        fflush(tracer->out);
        g_byte_array_free(tracer->heard, TRUE);
        g_byte_array_free(tracer->sent, TRUE);
        g_free(tracer);
    }
}
