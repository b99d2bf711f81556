/* SPDX-License-Identifier: MIT
 * Units that talk in lines at a desk, whatever the manner. */
#include "parts.h"

#include "verdite/text.h"

static bool suits(const vd_desk *desk, const vd_serial *line)
{
    (void)desk; /* text is seven bits */
    (void)line;
    return true;
}

static bool is_general(const vd_model *model)
{
    (void)model; /* each manner has its own question */
    return false;
}

static bool ends_line(uint8_t byte)
{
    return byte == '\r' || byte == '\n';
}

static bool is_request(const vd_desk *desk, const uint8_t *bytes, size_t count)
{
    (void)desk;
    for (size_t i = 0; i < count; i++) {
        if ((bytes[i] < 0x20 || bytes[i] > 0x7E) && !ends_line(bytes[i])) {
            return false;
        }
    }
    return count > 0 && ends_line(bytes[count - 1]);
}

static bool is_whole(const vd_desk *desk, const uint8_t *bytes, size_t count)
{
    (void)desk;
    return count > 0 && (ends_line(bytes[count - 1]) || count >= VD_LONGEST_LINE);
}

static void explain(const vd_desk *desk, const uint8_t *bytes, size_t count, bool from_unit, vd_writer *writer)
{
    (void)desk; /* which manner it is in shows by how it begins */
    while (count > 0 && ends_line(bytes[count - 1])) {
        count--;
    }
    vd_lines_explain((const char *)bytes, count, from_unit, writer);
}

static const vd_desk_ways ways = {.judge_setting = vd_lines_judge_setting,
                                  .judge = vd_lines_judge,
                                  .tell_place = vd_lines_tell_place,
                                  .suits = suits,
                                  .is_general = is_general,
                                  .probe_begin = vd_lines_probe_begin,
                                  .probe_listen_on = vd_lines_probe_listen_on,
                                  .probe_feed = vd_lines_probe_feed,
                                  .probe_wants = vd_lines_probe_wants,
                                  .probe_ended = vd_lines_probe_ended,
                                  .raw_begin = vd_lines_raw_begin,
                                  .raw_feed = vd_lines_raw_feed,
                                  .raw_wants = vd_lines_raw_wants,
                                  .raw_sent = vd_lines_raw_sent,
                                  .raw_note = vd_lines_raw_note,
                                  .is_request = is_request,
                                  .is_whole = is_whole,
                                  .explain = explain};

const vd_desk vd_commands_desk = {.language = &vd_commands, .is_text = true, .ways = &ways};
const vd_desk vd_queries_desk = {.language = &vd_queries, .is_text = true, .ways = &ways};
const vd_desk vd_sentences_desk = {.language = &vd_sentences, .is_text = true, .ways = &ways};
