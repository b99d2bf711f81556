/* SPDX-License-Identifier: MIT
 * Goals and tariffs as people type them. */
#include "verdite/interval_words.h"
#include "../core/interval/parts.h"
#include "../core/text/span.h"

#include <string.h>

/* A unit that an amount is typed with, and how many of what the goal is measured in it is. */
typedef struct vd_goal_unit {
    const char *sign;
    vd_ratio is;
} vd_goal_unit;

static const vd_goal_unit days[] = {
    {"years", {365, 1}}, {"year", {365, 1}}, {"months", {365, 12}}, {"month", {365, 12}}, {"weeks", {7, 1}},
    {"week", {7, 1}},    {"days", {1, 1}},   {"day", {1, 1}},       {"d", {1, 1}},        {NULL, {0, 1}}};
static const vd_goal_unit bytes[] = {{"B", {1, 1}}, {"kB", {1000, 1}}, {"MB", {1000000, 1}}, {NULL, {0, 1}}};
static const vd_goal_unit seconds[] = {{"weeks", {604800, 1}}, {"week", {604800, 1}}, {"days", {86400, 1}},
                                       {"day", {86400, 1}},    {"d", {86400, 1}},     {"hours", {3600, 1}},
                                       {"h", {3600, 1}},       {NULL, {0, 1}}};
static const vd_goal_unit money[] = {{"", {1, 1}}, {NULL, {0, 1}}};

static const struct {
    const char *lead;
    const vd_goal_unit *units;
} kinds[] = {[VD_GOAL_BATTERY] = {"battery at least ", days},
             [VD_GOAL_DATA] = {"data at most ", bytes},
             [VD_GOAL_PRICE] = {"price at most ", money},
             [VD_GOAL_MEMORY] = {"memory for ", seconds}};

#define LONGEST (3650 * (int64_t)VD_DAY_SECONDS) /* seconds: no memory is planned for longer */

/* A memory is played second by second. */
static bool can_be(const vd_goal *goal)
{
    return goal->kind != VD_GOAL_MEMORY || (goal->limit.below == 1 && goal->limit.number <= LONGEST);
}

static bool read_amount(const vd_goal_unit *units, const char *text, size_t length, vd_ratio *amount)
{
    size_t at = vd_decimal_read(text, length, amount);
    at += at < length && text[at] == ' ';
    for (; at > 0 && units->sign != NULL; units++) {
        if (vd_text_is(text + at, length - at, units->sign)) {
            return vd_ratio_multiply(*amount, units->is, amount) && amount->number > 0;
        }
    }
    return false;
}

vd_status vd_goal_parse(const char *text, size_t length, vd_goal *goal, vd_fault *fault)
{
    char said[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(said, sizeof said);
    for (unsigned kind = 0; kind < VD_GOAL_KINDS; kind++) {
        size_t lead = strlen(kinds[kind].lead);
        if (length > lead && memcmp(text, kinds[kind].lead, lead) == 0 &&
            read_amount(kinds[kind].units, text + lead, length - lead, &goal->limit)) {
            goal->kind = (uint8_t)kind;
            if (can_be(goal)) {
                return VD_OK;
            }
        }
    }
    vd_writer_add_bytes(&writer, text, length);
    return vd_note_GOAL_WRONG(fault, said,
                              "\"battery at least 2 years\", \"data at most 5 MB\", \"price at most 3\" or "
                              "\"memory for 20 days\", at most 3650");
}

/* ---- Tariffs ---- */

/* A part between two commas. */
typedef struct vd_tariff_part {
    const char *text;
    size_t length;
} vd_tariff_part;

static vd_tariff_part trim(vd_tariff_part part)
{
    for (; part.length > 0 && part.text[0] == ' '; part.length--) {
        part.text++;
    }
    for (; part.length > 0 && part.text[part.length - 1] == ' ';) {
        part.length--;
    }
    return part;
}

/* Takes an ending off a part. */
static bool ends_with(vd_tariff_part *part, const char *ending)
{
    size_t length = strlen(ending);
    bool ends = part->length > length && memcmp(part->text + part->length - length, ending, length) == 0;
    part->length -= ends ? length : 0;
    return ends;
}

/* "1.50 EUR": each part of a tariff names the same currency. */
static bool take_money(vd_tariff_part part, vd_typed_tariff *tariff, vd_ratio *amount)
{
    size_t at = vd_decimal_read(part.text, part.length, amount);
    vd_tariff_part name = trim((vd_tariff_part){part.text + at, part.length - at});
    size_t known = strlen(tariff->currency);
    bool letters = at > 0 && name.length > 0 && name.length < sizeof tariff->currency && amount->number >= 0;
    for (size_t i = 0; i < name.length && letters; i++) {
        letters = (name.text[i] < '0' || name.text[i] > '9') && name.text[i] != ' ';
    }
    if (!letters || (known > 0 && !vd_text_is(name.text, name.length, tariff->currency))) {
        return false;
    }
    memcpy(tariff->currency, name.text, name.length);
    return true;
}

/* A fact by its key, or by what people call it. */
static bool take_fact(vd_tariff_part part, const vd_intervals *intervals, uint16_t *fact)
{
    for (uint16_t i = 0; i < intervals->item_count; i++) {
        const vd_item *item = &intervals->items[i];
        if (vd_item_is_fact(item) && item->key[0] != '\0' &&
            (vd_text_is(part.text, part.length, item->key) || vd_text_is(part.text, part.length, item->label))) {
            *fact = i;
            return true;
        }
    }
    return false;
}

/* "0.01 EUR per 10 kB" */
static bool take_step(vd_tariff_part part, vd_typed_tariff *tariff)
{
    static const char per[] = " per ";
    for (size_t at = 0; at + sizeof per <= part.length; at++) {
        if (memcmp(part.text + at, per, sizeof per - 1) == 0) {
            vd_tariff_part step =
                trim((vd_tariff_part){part.text + at + sizeof per - 1, part.length - at - (sizeof per - 1)});
            return take_money((vd_tariff_part){part.text, at}, tariff, &tariff->each) &&
                   read_amount(bytes, step.text, step.length, &tariff->step) &&
                   tariff->step.number >= tariff->step.below;
        }
    }
    return false;
}

static bool take_part(vd_tariff_part part, const vd_intervals *intervals, vd_typed_tariff *tariff)
{
    static const char lead[] = "while ";
    if (part.length > sizeof lead - 1 && memcmp(part.text, lead, sizeof lead - 1) == 0) {
        vd_tariff_part fact = trim((vd_tariff_part){part.text + sizeof lead - 1, part.length - (sizeof lead - 1)});
        return tariff->when == VD_NONE && take_fact(fact, intervals, &tariff->when);
    }
    if (ends_with(&part, " a month")) {
        return take_money(part, tariff, &tariff->base);
    }
    if (ends_with(&part, " included")) {
        return read_amount(bytes, part.text, part.length, &tariff->included);
    }
    if (vd_text_is(part.text, part.length, "each send rounded up")) {
        tariff->rounds_each = true;
        return true;
    }
    return take_step(part, tariff);
}

vd_status vd_tariff_parse(const vd_intervals *intervals, const char *text, size_t length, vd_typed_tariff *tariff,
                          vd_fault *fault)
{
    char said[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(said, sizeof said);
    bool fine = true;
    *tariff = (vd_typed_tariff){.when = VD_NONE, .base = {0, 1}, .included = {0, 1}, .step = {0, 1}, .each = {0, 1}};
    for (size_t at = 0; at <= length && fine;) {
        size_t to = at;
        while (to < length && text[to] != ',') {
            to++;
        }
        vd_tariff_part part = trim((vd_tariff_part){text + at, to - at});
        fine = take_part(part, intervals, tariff);
        if (!fine) {
            vd_writer_add_bytes(&writer, part.text, part.length);
        }
        at = to + 1;
    }
    if (fine && tariff->step.number > 0) {
        return VD_OK;
    }
    if (fine) {
        vd_writer_add_bytes(&writer, text, length);
    }
    return vd_note_TARIFF_WRONG(fault, said,
                                "such parts: \"1.50 EUR a month\", \"1 MB included\", \"0.01 EUR per 10 kB\", which "
                                "must be there, \"each send rounded up\", \"while FACT\"");
}

void vd_tariff_use(const vd_typed_tariff *typed, uint16_t first, vd_amount *amounts, vd_tariff *tariff)
{
    const vd_ratio all[VD_TARIFF_AMOUNTS] = {typed->base, typed->included, typed->step, typed->each};
    for (uint16_t k = 0; k < VD_TARIFF_AMOUNTS; k++) {
        amounts[first + k] = (vd_amount){all[k], VD_AMOUNT_KNOWN};
    }
    *tariff = (vd_tariff){.when = vd_ref_to(typed->when),
                          .base = vd_ref_to(first),
                          .included = vd_ref_to((uint16_t)(first + 1u)),
                          .step = vd_ref_to((uint16_t)(first + 2u)),
                          .each = vd_ref_to((uint16_t)(first + 3u)),
                          .rounds_each = typed->rounds_each};
}
