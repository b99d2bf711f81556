/* SPDX-License-Identifier: MIT
 * The probe: asks one unit who it is, once, in the language that is asked for, and never anything else. */
#include "probe_parts.h"

#include <string.h>

void vd_probe_begin(vd_probe *probe, uint64_t now, const vd_desk *desk, const vd_model *model, const vd_serial *line,
                    uint8_t address, uint32_t limit, uint32_t gap)
{
    memset(&probe->evidence, 0, sizeof probe->evidence);
    probe->desk = desk;
    probe->model = model;
    probe->sent = probe->first = VD_NEVER;
    desk->ways->probe_begin(probe, now, line, address, limit, gap);
}

void vd_probe_listen_on(vd_probe *probe, uint32_t longer)
{
    probe->desk->ways->probe_listen_on(probe, longer);
}

void vd_probe_count(vd_probe *probe, uint64_t heard_at, bool bad)
{
    vd_evidence *evidence = &probe->evidence;
    evidence->bytes = (uint16_t)(evidence->bytes + (evidence->bytes < UINT16_MAX));
    evidence->error_bytes = (uint16_t)(evidence->error_bytes + (bad && evidence->error_bytes < UINT16_MAX));
    probe->first = probe->first == VD_NEVER ? heard_at : probe->first;
}

void vd_probe_hear_runs(vd_probe *probe, uint8_t byte)
{
    /* Start bit 0, then the data bits; the last run has no end inside the character and says nothing. */
    unsigned bits = (unsigned)byte << 1, run = 1;
    for (unsigned i = 1; i < 9; i++) {
        if ((bits >> i & 1u) == (bits >> (i - 1) & 1u)) {
            run++;
            continue;
        }
        if (probe->evidence.shortest_run == 0 || run < probe->evidence.shortest_run) {
            probe->evidence.shortest_run = (uint8_t)run;
        }
        run = 1;
    }
}

uint64_t vd_probe_reply_time(const vd_probe *probe)
{
    bool both = probe->first != VD_NEVER && probe->sent != VD_NEVER && probe->first > probe->sent;
    return both ? probe->first - probe->sent : 0;
}

static void probe_feed(void *engine, const vd_event *event)
{
    vd_probe *probe = engine;
    probe->desk->ways->probe_feed(probe, event);
}

static void probe_wants(const void *engine, vd_wants *wants)
{
    const vd_probe *probe = engine;
    probe->desk->ways->probe_wants(probe, wants);
}

const vd_engine vd_probe_engine = {probe_wants, probe_feed};

bool vd_probe_ended(const vd_probe *probe)
{
    return probe->desk->ways->probe_ended(probe);
}

const vd_evidence *vd_probe_evidence(const vd_probe *probe)
{
    return &probe->evidence;
}
