/* SPDX-License-Identifier: MIT
 * Goals as people type them. */
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
