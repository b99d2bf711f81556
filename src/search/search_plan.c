/* SPDX-License-Identifier: MIT
 * Where a search looks first, and how long it waits. */
#include "verdite/search.h"

#define QUICK_LIMIT 60000u    /* microseconds; few units take longer to begin a reply */
#define QUICK_MARGIN 20000u   /* microseconds: a unit that is a little slower than usual */
#define LISTEN_LIMIT 1200000u /* microseconds; long enough to hear a unit that talks once a second */
#define DIAGNOSIS_ASKS 4u
#define GAP 20000u /* silence inside a reply; USB adapters deliver in bursts 16 ms apart */

static size_t add(vd_serial *lines, size_t count, const vd_serial *line)
{
    for (size_t i = 0; i < count; i++) {
        if (vd_serial_equal(&lines[i], line)) {
            return count;
        }
    }
    if (count < VD_SEARCH_LINES) {
        lines[count++] = *line;
    }
    return count;
}

size_t vd_search_lines(const vd_model *const *models, size_t model_count, bool wide, uint32_t speed,
                       const vd_serial *framing, vd_serial *lines)
{
    /* SL 2.5.1 and 3.3: 19200 with even parity is what units must come with, 9600 what they must know as well. */
    static const vd_serial standard[] = {{19200, 8, 'E', 1}, {9600, 8, 'E', 1}, {19200, 8, 'N', 1}, {9600, 8, 'N', 1}};
    static const uint32_t speeds[] = {9600, 19200, 38400, 115200, 4800, 57600, 2400, 1200};
    static const char parities[] = {'E', 'N', 'O'};
    bool framed = framing != NULL && framing->data_bits != 0, narrowed = speed != 0 || framed;
    size_t count = 0, most = wide ? sizeof speeds / sizeof speeds[0] : 2;
    for (size_t i = 0; i < model_count && !narrowed; i++) {
        count = add(lines, count, &models[i]->line);
    }
    for (size_t i = 0; i < sizeof standard / sizeof standard[0] && !narrowed; i++) {
        count = add(lines, count, &standard[i]);
    }
    for (size_t i = 0; i < model_count && !narrowed; i++) { /* seven bits: the standard names none */
        for (size_t k = 0; k < most && models[i]->line.data_bits == 7 && vd_model_has_address(models[i]); k++) {
            vd_serial line = {speeds[k], 7, models[i]->line.parity, models[i]->line.stop_bits};
            count = add(lines, count, &line);
        }
    }
    for (size_t i = 0; i < sizeof speeds / sizeof speeds[0] && (narrowed || wide); i++) {
        for (size_t k = 0; k < sizeof parities; k++) {
            vd_serial line = {speed != 0 ? speed : speeds[i], 8, parities[k], 1};
            if (framed) {
                line = (vd_serial){line.baud, framing->data_bits, framing->parity, framing->stop_bits};
            }
            count = add(lines, count, &line);
        }
        if (!framed) { /* without parity the standard wants two stop bits (SL 2.5.1) */
            vd_serial line = {speed != 0 ? speed : speeds[i], 8, 'N', 2};
            count = add(lines, count, &line);
        }
    }
    return count;
}

vd_search_plan vd_search_plan_of(const vd_desk *const *desks, const vd_model *const *models, size_t model_count,
                                 const vd_serial *lines, size_t line_count, uint32_t latency)
{
    uint32_t slow = 0, quick = 0;
    for (size_t i = 0; i < model_count; i++) {
        uint32_t longest = models[i]->reply.longest * 1000u, usual = models[i]->reply.usual * 1000u;
        slow = longest > slow ? longest : slow;
        quick = usual > quick ? usual : quick;
    }
    quick += QUICK_MARGIN + 2 * latency; /* so that the slowest known does not reply into the next question */
    return (vd_search_plan){.desks = desks,
                            .models = models,
                            .model_count = model_count,
                            .lines = lines,
                            .line_count = line_count,
                            .from = 1,
                            .to = 247,
                            .quick_limit = quick > QUICK_LIMIT ? quick : QUICK_LIMIT,
                            .slow_limit = slow + 2 * latency,
                            .gap = GAP + latency};
}

void vd_search_plan_diagnose(vd_search_plan *plan, uint8_t address, const vd_model *wanted)
{
    plan->from = plan->to = address;
    plan->wanted = wanted;
    plan->no_addresses = wanted != NULL && !vd_model_has_address(wanted);
    plan->no_lines = !plan->no_addresses;
    plan->any_line = true;
    plan->asks = DIAGNOSIS_ASKS;
    plan->slow_limit = plan->slow_limit > LISTEN_LIMIT ? plan->slow_limit : LISTEN_LIMIT;
}
