/* SPDX-License-Identifier: MIT
 * A raw request: one exchange, sent once, whatever comes back. */
#include "raw_parts.h"

#include <string.h>

void vd_raw_keep(vd_raw *raw, const uint8_t *bytes, size_t count)
{
    size_t room = sizeof raw->reply - raw->reply_length, taken = count < room ? count : room;
    memcpy(raw->reply + raw->reply_length, bytes, taken);
    raw->reply_length += taken;
    raw->cut = raw->cut || taken < count;
}

vd_status vd_raw_begin(vd_raw *raw, uint64_t now, const vd_desk *desk, const vd_model *model, const vd_serial *line,
                       uint8_t address, uint32_t latency, const char *typed, vd_fault *fault)
{
    memset(raw, 0, sizeof *raw);
    raw->desk = desk;
    raw->model = model;
    return desk->ways->raw_begin(raw, now, line, address, latency, typed, fault);
}

static void raw_feed(void *engine, const vd_event *event)
{
    vd_raw *raw = engine;
    if (!raw->ended) {
        raw->desk->ways->raw_feed(raw, event);
    }
}

static void raw_wants(const void *engine, vd_wants *wants)
{
    const vd_raw *raw = engine;
    raw->desk->ways->raw_wants(raw, wants);
    wants->done = raw->ended;
}

const vd_engine vd_raw_engine = {raw_wants, raw_feed};

bool vd_raw_ended(const vd_raw *raw, vd_status *status)
{
    *status = raw->status;
    return raw->ended;
}

const uint8_t *vd_raw_sent(const vd_raw *raw, size_t *length)
{
    return raw->desk->ways->raw_sent(raw, length);
}

vd_status vd_raw_note(const vd_raw *raw, vd_status status, vd_fault *fault)
{
    return raw->desk->ways->raw_note(raw, status, fault);
}

const uint8_t *vd_raw_reply(const vd_raw *raw, size_t *length, bool *cut)
{
    *length = raw->reply_length;
    *cut = raw->cut;
    return raw->reply;
}
