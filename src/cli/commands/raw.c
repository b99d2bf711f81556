/* SPDX-License-Identifier: MIT
 * verdite raw: one request as it is typed, for what a model does not know yet. */
#include "commands.h"
#include "../print/print.h"
#include "verdite/raw.h"

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

static bool ends_line(uint8_t byte)
{
    return byte == '\r' || byte == '\n';
}

/* One thing that was said: as text, or in hexadecimal with what it means. */
static void show(const cli *c, const vd_desk *desk, json_t *lines, bool from_unit, const uint8_t *bytes, size_t count)
{
    char words[1024] = "";
    vd_writer writer = vd_writer_start(words, sizeof words);
    if (!desk->language->has_words) {
        vd_desk_explain(desk, bytes, count, from_unit, &writer);
    }
    while (desk->is_text && count > 0 && ends_line(bytes[count - 1])) {
        count--;
    }
    show_line(c, lines, from_unit ? "in " : "out",
              desk->is_text ? plain((const char *)bytes, count) : hex(bytes, count), words);
}

static void show_all(const cli *c, const vd_desk *desk, const vd_raw *raw, json_t *sent, json_t *heard)
{
    size_t length = 0, left = 0;
    bool cut = false;
    const uint8_t *out = vd_raw_sent(raw, &length), *rest = vd_raw_reply(raw, &left, &cut);
    show(c, desk, sent, false, out, length);
    while (left > 0) {
        const uint8_t *end = desk->is_text ? memchr(rest, '\n', left) : NULL;
        size_t size = end != NULL ? (size_t)(end - rest) + 1 : left;
        show(c, desk, heard, true, rest, size);
        rest += size;
        left -= size;
    }
}

static void conclude(cli *c, const vd_raw *raw, vd_status status)
{
    vd_fault fault = {0};
    size_t length = 0;
    bool cut = false;
    vd_raw_reply(raw, &length, &cut);
    if (status != VD_OK) {
        vd_raw_note(raw, status, &fault);
    } else if (length == 0) {
        message(c, "No reply, as is usual for this. To ask for errors: :SYST:ERR?");
    }
    if (fault.status != VD_OK) {
        report(c, &fault);
    }
    message(c, "%sNothing of this is verified. The next write reads the unit again.",
            cut ? "The reply was too long and is cut. " : "");
}

/* Who is there, asked once; whoever says nothing is known by his port. */
static vd_identity who_is_there(place *p, const trace *t, const vd_model *model)
{
    static vd_probe_storage probe;
    uint32_t latency = p->kind->latency(p->port), limit = model->reply.longest * 1000u + 2u * latency;
    uint32_t gap = model->reply.gap * 1000u + latency + (uint32_t)vd_serial_time(&p->line, 2);
    vd_probe_begin(vd_probe_in(&probe), p->kind->now(p->ground), vd_desk_of(model), model, &p->line, p->address, limit,
                   gap);
    place_turn(p, t, &vd_probe_engine, vd_probe_in(&probe), NULL, NULL);
    const vd_evidence *evidence = vd_probe_evidence(vd_probe_in(&probe));
    vd_identity met = evidence->status == VD_OK ? evidence->identity : (vd_identity){.serial = ""};
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
        message(c, "note: This was not recorded: %s.", fault.said);
    }
}

vd_class command_raw(cli *c)
{
    static vd_raw_storage raw;
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
        if (vd_raw_begin(vd_raw_in(&raw), p.kind->now(p.ground), vd_desk_of(model), model, &p.line, p.address,
                         p.kind->latency(p.port), words[0], &fault) != VD_OK) {
            report(c, &fault);
        } else {
            json_t *sent = json_array(), *heard = json_array();
            vd_identity met = who_is_there(&p, &t, model);
            place_turn(&p, &t, &vd_raw_engine, vd_raw_in(&raw), NULL, NULL);
            vd_raw_ended(vd_raw_in(&raw), &status);
            keep_that_sent(c, &p, model, &met);
            show_all(c, vd_desk_of(model), vd_raw_in(&raw), sent, heard);
            json_object_set_new(c->result, "sent", sent);
            json_object_set_new(c->result, "heard", heard);
            json_object_set_new(c->result, "verified", json_false());
            conclude(c, vd_raw_in(&raw), status);
        }
    }
    trace_end(c, &t);
    place_close(c, &p);
    g_free(p.name);
    g_free(p.adapter);
    return c->worst;
}
