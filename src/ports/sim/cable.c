/* SPDX-License-Identifier: MIT
 * A cable, bit by bit. Where two talk at once the space (0) wins; a receiver looks for a falling edge and samples in
 * the middle of each bit at its own speed, as the hardware does. Another speed or parity thus needs no rule of its
 * own: garbage and line errors come out by themselves. */
#include "cable.h"

#include <string.h>

#define SECOND 1000000000

static int64_t bit_edge(const vd_serial *line, int64_t bits)
{
    return bits * SECOND / line->baud;
}

/* The bits of one character, first bit lowest: start, data, parity, stop. */
static uint32_t character(const vd_serial *line, uint8_t byte)
{
    unsigned ones = 0;
    uint32_t data = byte & ((1u << line->data_bits) - 1u);
    for (unsigned i = 0; i < line->data_bits; i++) {
        ones += data >> i & 1u;
    }
    uint32_t bits = data << 1;
    unsigned at = 1u + line->data_bits;
    if (line->parity != 'N') {
        bits |= (uint32_t)(line->parity == 'E' ? ones & 1u : ~ones & 1u) << at++;
    }
    for (unsigned i = 0; i < line->stop_bits; i++) {
        bits |= 1u << at++;
    }
    return bits;
}

static const vd_serial *carried(const cable *c, const vd_serial *line)
{
    static const vd_serial at_once = {.baud = 100000000, .data_bits = 8, .parity = 'N', .stop_bits = 1};
    return c->at_once ? &at_once : line;
}

static int64_t talk_some(cable *c, const talk *head, int64_t start, const uint8_t *bytes, size_t count)
{
    if (c->count == CABLE_TALKS) {
        memmove(c->talks, c->talks + 1, sizeof c->talks[0] * --c->count);
    }
    talk *t = &c->talks[c->count++];
    *t = *head;
    t->start = start;
    t->count = (uint16_t)count;
    memcpy(t->bytes, bytes, count);
    t->end = start + bit_edge(&t->line, (int64_t)count * vd_serial_character_bits(&t->line));
    c->bytes += count;
    c->busy += t->end - start;
    return t->end;
}

int64_t cable_talk(cable *c, const void *talker, bool unit, const vd_serial *line, int64_t start, const uint8_t *bytes,
                   size_t count)
{
    static const size_t most = sizeof((talk *)0)->bytes;
    const talk head = {.talker = talker, .unit = unit, .line = *carried(c, line)};
    for (size_t i = 0; i < c->count; i++) {
        if (c->talks[i].talker == talker && c->talks[i].end > start) {
            start = c->talks[i].end;
        }
    }
    for (size_t done = 0; done < count; done += most) {
        start = talk_some(c, &head, start, bytes + done, count - done < most ? count - done : most);
    }
    return start;
}

void cable_forget(cable *c, int64_t time)
{
    size_t kept = 0;
    for (size_t i = 0; i < c->count; i++) {
        if (c->talks[i].end >= time) {
            if (kept != i) {
                c->talks[kept] = c->talks[i];
            }
            kept++;
        }
    }
    c->count = kept;
}

static bool is_space(const talk *t, int64_t bit)
{
    unsigned width = vd_serial_character_bits(&t->line);
    uint32_t bits = character(&t->line, t->bytes[bit / width]);
    return (bits >> (bit % width) & 1u) == 0;
}

static int64_t bit_at(const talk *t, int64_t time)
{
    int64_t bit = (time - t->start) * t->line.baud / SECOND;
    /* Rounding down in bit_edge() may leave the quotient one short at an edge. */
    return bit + (bit_edge(&t->line, bit + 1) <= time - t->start);
}

/* Whether a listener hears what this one says. */
static bool is_heard(const cable *c, const receiver *r, const talk *t)
{
    return t->talker != r->self && !(c->two_ways && r->self != NULL && t->unit == r->unit);
}

static bool line_is_space(const cable *c, const receiver *r, int64_t time)
{
    for (size_t i = 0; i < c->count; i++) {
        const talk *t = &c->talks[i];
        if (is_heard(c, r, t) && time >= t->start && time < t->end && is_space(t, bit_at(t, time))) {
            return true;
        }
    }
    return false;
}

/* The first moment from `time` on at which this talk pulls the line to space. */
static int64_t next_space(const talk *t, int64_t time)
{
    if (time >= t->end) {
        return INT64_MAX;
    }
    int64_t bits = (int64_t)t->count * vd_serial_character_bits(&t->line);
    int64_t bit = time > t->start ? bit_at(t, time) : 0;
    for (; bit < bits; bit++) {
        if (is_space(t, bit)) {
            int64_t edge = t->start + bit_edge(&t->line, bit);
            return edge > time ? edge : time;
        }
    }
    return INT64_MAX;
}

/* The first moment from `time` on at which the line is a mark again. */
static int64_t next_mark(const cable *c, const receiver *r, int64_t time)
{
    while (line_is_space(c, r, time)) {
        int64_t edge = INT64_MAX;
        for (size_t i = 0; i < c->count; i++) {
            const talk *t = &c->talks[i];
            if (is_heard(c, r, t) && time >= t->start && time < t->end) {
                int64_t end = t->start + bit_edge(&t->line, bit_at(t, time) + 1);
                edge = end < edge ? end : edge;
            }
        }
        time = edge;
    }
    return time;
}

/* Samples one character whose start bit begins at `start`; false when it was no start bit. */
static bool sample(const cable *c, const receiver *r, int64_t start, heard *h)
{
    const vd_serial *line = carried(c, &r->line);
    unsigned parity_bit = 1u + line->data_bits, ones = 0;
    unsigned stop_bit = parity_bit + (line->parity != 'N');
    bool any_mark = false;
    *h = (heard){.time = start + bit_edge(line, 2 * stop_bit + 1) / 2};
    for (unsigned i = 0; i <= stop_bit; i++) {
        bool space = line_is_space(c, r, start + bit_edge(line, 2 * i + 1) / 2);
        if (i == 0 && !space) {
            return false;
        }
        any_mark = any_mark || !space;
        if (i >= 1 && i <= line->data_bits && !space) {
            h->byte |= (uint8_t)(1u << (i - 1));
        }
        ones += i >= 1 && i < stop_bit && !space;
        if (i == stop_bit && space) {
            h->errors |= any_mark ? VD_ERROR_FRAMING : VD_ERROR_BREAK;
        }
    }
    if (line->parity != 'N' && (ones & 1u) != (line->parity == 'O')) {
        h->errors |= VD_ERROR_PARITY;
    }
    return true;
}

bool cable_listen(const cable *c, const receiver *r, heard *h)
{
    /* Inside a space there is no falling edge: a receiver that starts there waits for the next one. A space that begins
     * just now has its edge, so what counts is the moment before. */
    bool inside = line_is_space(c, r, r->from - 1);
    int64_t time = inside ? next_mark(c, r, r->from) : r->from;
    for (;;) {
        int64_t start = INT64_MAX;
        for (size_t i = 0; i < c->count; i++) {
            if (is_heard(c, r, &c->talks[i])) {
                int64_t edge = next_space(&c->talks[i], time);
                start = edge < start ? edge : start;
            }
        }
        if (start == INT64_MAX) {
            return false;
        }
        if (sample(c, r, start, h)) {
            return true;
        }
        time = next_mark(c, r, start);
    }
}

void cable_heard(receiver *r, const heard *h)
{
    r->from = h->time;
}
