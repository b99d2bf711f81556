/* SPDX-License-Identifier: MIT
 * The talk on the wire as text: one line for each frame, its time, its bytes and what it says. What is heard is
 * gathered until it is a whole frame or something else happens. */
#include "verdite/host.h"

#define ROW 24u    /* bytes on one line */
#define GAP 50000u /* microseconds of silence that end what was heard */

struct vd_tracer {
    FILE *out;
    uint64_t start, first, last;
    GByteArray *heard;
    uint8_t errors;
    bool started;
};

vd_tracer *vd_tracer_new(FILE *out)
{
    vd_tracer *tracer = g_new0(vd_tracer, 1);
    tracer->out = out;
    tracer->heard = g_byte_array_new();
    return tracer;
}

static void write_frame(vd_tracer *tracer, uint64_t time, bool sent, const uint8_t *bytes, size_t count, uint8_t errors)
{
    char words[1024];
    vd_writer writer = vd_writer_start(words, sizeof words);
    uint64_t since = time - tracer->start;
    vd_modbus_explain(bytes, count, !sent, &writer);
    fprintf(tracer->out, "%4" G_GUINT64_FORMAT ".%06" G_GUINT64_FORMAT " s  %s ", since / 1000000, since % 1000000,
            sent ? "out" : "in ");
    for (size_t i = 0; i < count; i++) {
        fprintf(tracer->out, "%s %02X", i > 0 && i % ROW == 0 ? "\n                   " : "", bytes[i]);
    }
    fprintf(tracer->out, "\n                    %s%s%s%s\n", words, errors & VD_ERROR_PARITY ? " (parity error)" : "",
            errors & VD_ERROR_FRAMING ? " (stop bit missing)" : "", errors & VD_ERROR_BREAK ? " (break)" : "");
}

static void flush(vd_tracer *tracer)
{
    if (tracer->heard->len > 0) {
        write_frame(tracer, tracer->first, false, tracer->heard->data, tracer->heard->len, tracer->errors);
    }
    g_byte_array_set_size(tracer->heard, 0);
    tracer->errors = 0;
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
    if (sent || now - tracer->last > GAP) {
        flush(tracer);
    }
    tracer->last = now;
    if (sent) {
        write_frame(tracer, now, true, bytes, count, 0);
        return;
    }
    for (size_t i = 0; i < count; i++) {
        if (tracer->heard->len == 0) {
            tracer->first = now;
        }
        g_byte_array_append(tracer->heard, &bytes[i], 1);
        tracer->errors |= errors != NULL ? errors[i] : 0;
        int length = vd_modbus_reply_length(tracer->heard->data, tracer->heard->len);
        if (length == (int)tracer->heard->len || tracer->heard->len >= VD_MODBUS_FRAME) {
            flush(tracer);
        }
    }
}

void vd_tracer_free(vd_tracer *tracer)
{
    if (tracer != NULL) {
        flush(tracer);
        fflush(tracer->out);
        g_byte_array_free(tracer->heard, TRUE);
        g_free(tracer);
    }
}
