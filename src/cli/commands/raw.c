/* SPDX-License-Identifier: MIT
 * verdite raw: one request as it is typed, for what a model does not know yet. */
#include "../journal.h"
#include "verdite/raw.h"
#include "verdite/modbus.h"
#include "verdite/lines.h"

#include <string.h>

static char *hex(const uint8_t *bytes, size_t count)
{
    GString *text = g_string_new("");
    for (size_t i = 0; i < count; i++) {
        g_string_append_printf(text, "%s%02X", i > 0 ? " " : "", bytes[i]);
    }
    return g_string_free(text, FALSE);
}

/* A line with everything that might steer a terminal shown by its number. */
static char *plain(const char *line, size_t length)
{
    GString *text = g_string_new("");
    for (size_t i = 0; i < length; i++) {
        unsigned char byte = (unsigned char)line[i];
        g_string_append_printf(text, byte >= 0x20 && byte < 0x7F ? "%c" : "<%02X>", byte);
    }
    return g_string_free(text, FALSE);
}

static void show_line(const cli *c, json_t *lines, const char *way, char *text, const char *words)
{
    json_array_append_new(lines, json_string(text));
    if (!c->options.json) {
        printf("%s  %s\n", way, text);
        if (words[0] != '\0') {
            printf("     %s%s%s\n", tone_on(c->colour, TONE_FAINT), words, tone_off(c->colour, TONE_FAINT));
        }
    }
    g_free(text);
}

static void show_lines(const cli *c, const vd_raw *raw, json_t *sent, json_t *heard)
{
    size_t length = 0;
    const char *out = (const char *)vd_raw_sent(raw, &length);
    while (length > 0 && (out[length - 1] == '\r' || out[length - 1] == '\n')) {
        length--;
    }
    show_line(c, sent, "out", plain(out, length), "");
    const char *rest = (const char *)raw->reply;
    for (size_t left = raw->reply_length; left > 0;) {
        const char *end = memchr(rest, '\n', left);
        size_t size = end != NULL ? (size_t)(end - rest) : left;
        show_line(c, heard, "in ", plain(rest, size), "");
        rest += size + (end != NULL);
        left -= size + (end != NULL);
    }
}

static void show_frames(const cli *c, const vd_raw *raw, json_t *sent, json_t *heard)
{
    char words[1024];
    size_t length = 0;
    const uint8_t *out = vd_raw_sent(raw, &length);
    vd_writer writer = vd_writer_start(words, sizeof words);
    vd_modbus_explain(out, length, false, &writer);
    show_line(c, sent, "out", hex(out, length), words);
    if (raw->reply_length > 0) {
        writer = vd_writer_start(words, sizeof words);
        vd_modbus_explain(raw->reply, raw->reply_length, true, &writer);
        show_line(c, heard, "in ", hex(raw->reply, raw->reply_length), words);
    }
}

static void conclude(cli *c, const vd_model *model, const vd_raw *raw, vd_status status)
{
    vd_fault fault = {0};
    bool lines = !vd_model_has_address(model);
    if (status != VD_OK && lines) {
        const char *help = model->listening.hand.help;
        vd_text_client_note(&raw->text, status, "this",
                            help[0] != '\0' ? help : "Check supply, cable, baud and framing.", &fault);
    } else if (status != VD_OK) {
        vd_modbus_client_note(&raw->modbus, status, "this", &fault);
    } else if (raw->reply_length == 0) {
        message(c, "It says nothing to that, as is usual; ask it for errors with :SYST:ERR?");
    }
    if (fault.status != VD_OK) {
        report(c, &fault);
    }
    message(c, "%sNothing of this is verified. The next write reads the unit afresh.",
            raw->cut ? "The reply was longer than is kept. " : "");
}

/* Who is there, asked once; whoever says nothing is known by his port. */
static vd_identity who_is_there(place *p, const trace *t, const vd_model *model)
{
    static vd_probe probe;
    uint32_t latency = p->kind->latency(p->port), limit = model->reply.longest * 1000u + 2u * latency;
    uint32_t gap = model->reply.gap * 1000u + latency + (uint32_t)vd_line_time(&p->line, 2);
    vd_probe_begin(&probe, p->kind->now(p->ground), &p->line, p->address, limit, gap, model);
    place_turn(p, t, &vd_probe_engine, &probe, NULL, NULL);
    vd_identity met = probe.evidence.status == VD_OK ? probe.evidence.identity : (vd_identity){.serial = ""};
    g_strlcpy(met.maker, model->identify.maker, sizeof met.maker);
    return met;
}

/* What the unit holds is no longer what earlier visits left; that something was sent is kept, not what. */
static void keep_that_sent(cli *c, const place *p, const vd_model *model, const vd_identity *met)
{
    vd_fault fault = {0};
    const vd_link link = {p->line, p->address};
    const vd_act act = {.model = model->key, .unit = *met, .from = link, .to = link};
    const vd_occasion occasion = {.task = "raw",
                                  .port = p->name,
                                  .adapter = p->adapter,
                                  .who = g_get_user_name(),
                                  .line = c->options.line,
                                  .now = now_of_day()};
    if (remembered(c) != NULL && vd_history_tell_sent(remembered(c), &act, &occasion, &fault) != VD_OK) {
        message(c, "note: That something was sent is not kept: %s.", fault.said);
    }
}

vd_class command_raw(cli *c)
{
    static vd_raw raw;
    char **words = c->options.words;
    place p = {0};
    trace t;
    vd_fault fault = {0};
    vd_status status = VD_OK;
    const vd_model *model = meet_model(c);
    if (model == NULL || !trace_start(c, &t)) {
        return c->worst;
    }
    if (place_open(c, model, &p)) {
        if (vd_raw_begin(&raw, p.kind->now(p.ground), model, &p.line, p.address, p.kind->latency(p.port), words[0],
                         &fault) != VD_OK) {
            report(c, &fault);
        } else {
            json_t *sent = json_array(), *heard = json_array();
            vd_identity met = who_is_there(&p, &t, model);
            place_turn(&p, &t, &vd_raw_engine, &raw, NULL, NULL);
            vd_raw_ended(&raw, &status);
            keep_that_sent(c, &p, model, &met);
            !vd_model_has_address(model) ? show_lines(c, &raw, sent, heard) : show_frames(c, &raw, sent, heard);
            json_object_set_new(c->result, "sent", sent);
            json_object_set_new(c->result, "heard", heard);
            json_object_set_new(c->result, "verified", json_false());
            conclude(c, model, &raw, status);
        }
    }
    trace_end(c, &t);
    place_close(c, &p);
    g_free(p.name);
    g_free(p.adapter);
    return c->worst;
}
