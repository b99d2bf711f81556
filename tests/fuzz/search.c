/* SPDX-License-Identifier: MIT
 * Searches and diagnoses against a line that says anything: each ends, and what it says of it can be shown. */
#include "input.h"

#define MOST_STEPS 20000u

static void judge(const vd_search *search, const vd_found *found)
{
    char words[512];
    vd_fault fault = {0};
    vd_search_judge_line(search, &fault);
    vd_fault_words(&fault, true, words, sizeof words);
    PROMISE(input_is_plain(words), "%s", words);
    for (size_t i = 0; i < vd_search_count(search); i++) {
        const vd_identity *who = &found[i].identity;
        vd_fault_words(&found[i].fault, true, words, sizeof words);
        PROMISE(input_is_plain(words) && input_is_plain(who->maker) && input_is_plain(who->product) &&
                    input_is_plain(who->firmware) && input_is_plain(who->serial),
                "who was found: %s", words);
        PROMISE(found[i].status != VD_OK || found[i].model != NULL, "in order, and of no model");
    }
}

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    static vd_search_storage search;
    static vd_found found[32];
    input f = {bytes, count};
    const vd_model *models[] = {input_model("brock"), input_model("dowel"), input_model("lantern"), input_model("skep"),
                                input_model("wren")};
    vd_serial lines[VD_SEARCH_LINES];
    uint8_t way = input_byte(&f);
    size_t line_count = vd_search_lines(models, 5, (way & 1) != 0, 0, NULL, lines);
    vd_search_plan plan = vd_search_plan_of(vd_desks, models, 5, lines, MIN(line_count, 4), 1000);
    uint64_t now = 20000000;
    plan.from = (uint8_t)(1 + input_number(&f, 240));
    plan.to = (uint8_t)(plan.from + input_number(&f, 6));
    plan.slow_all = (way & 2) != 0;
    plan.no_lines = (way & 4) != 0;
    if ((way & 8) != 0) {
        vd_search_plan_diagnose(&plan, plan.from, models[1]);
    }
    vd_search_begin(vd_search_in(&search), now, &plan, found, G_N_ELEMENTS(found));
    vd_status status = VD_OK;
    for (unsigned steps = 0; steps < MOST_STEPS && !vd_search_ended(vd_search_in(&search), &status); steps++) {
        static uint8_t asked[4096], heard[4096];
        vd_wants wants;
        vd_search_engine.wants(vd_search_in(&search), &wants);
        if (wants.count > 0) {
            size_t asked_count = MIN(wants.count, sizeof asked), length = 0;
            memcpy(asked, wants.send, asked_count);
            vd_search_engine.feed(vd_search_in(&search), &(vd_event){.kind = VD_SENT, .now = now, .until = now});
            uint8_t reply = input_byte(&f);
            now += 3000;
            if ((reply & 1) != 0) {
                length = MIN(asked_count, (size_t)input_byte(&f));
                memcpy(heard, asked, length);
            }
            length += (reply & 3) != 0 ? input_bytes(&f, heard + length, sizeof heard - 600 - length) : 0;
            if ((reply & 4) != 0 && length > 0) {
                uint16_t check = vd_modbus_crc(heard, length);
                heard[length++] = (uint8_t)check;
                heard[length++] = (uint8_t)(check >> 8);
            }
            vd_search_engine.feed(vd_search_in(&search),
                                  &(vd_event){.kind = VD_HEARD, .now = now, .bytes = heard, .count = length});
            continue;
        }
        now = wants.wake == VD_NEVER ? now + 1000000 : MAX(wants.wake, now + 1);
        vd_search_engine.feed(vd_search_in(&search), &(vd_event){.kind = VD_TIME, .now = now});
    }
    PROMISE(vd_search_ended(vd_search_in(&search), &status), "it does not end");
    judge(vd_search_in(&search), found);
    return 0;
}
