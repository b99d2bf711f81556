/* SPDX-License-Identifier: MIT
 * The probe: asks one unit who it is, once, in the language that is asked for, and never anything else. */
#include "probe.h"

#include <string.h>

static bool in_lines(const vd_probe *probe)
{
    return probe->model != NULL && vd_model_talks_in_lines(probe->model);
}

void vd_probe_begin(vd_probe *probe, uint64_t now, const vd_line *line, uint8_t address, uint32_t limit, uint32_t gap,
                    const vd_model *model)
{
    memset(&probe->evidence, 0, sizeof probe->evidence);
    probe->model = model;
    probe->listens_on = false;
    probe->heard_count = 0;
    probe->sent = probe->first = VD_NEVER;
    if (in_lines(probe)) {
        vd_text_probe_begin(probe, now, line, limit, gap);
    } else {
        vd_modbus_probe_begin(probe, now, line, address, limit, gap);
    }
}

void vd_probe_listen_on(vd_probe *probe, uint32_t longer)
{
    if (!in_lines(probe)) {
        probe->listens_on = true;
        probe->client.manner.longest = longer;
        vd_modbus_client_be_patient(&probe->client);
    }
}

static void probe_feed(void *engine, const vd_event *event)
{
    vd_probe *probe = engine;
    in_lines(probe) ? vd_text_probe_feed(probe, event) : vd_modbus_probe_feed(probe, event);
}

static void probe_wants(const void *engine, vd_wants *wants)
{
    const vd_probe *probe = engine;
    in_lines(probe) ? vd_text_probe_wants(probe, wants) : vd_modbus_probe_wants(probe, wants);
}

const vd_engine vd_probe_engine = {probe_wants, probe_feed};

bool vd_probe_ended(const vd_probe *probe)
{
    vd_status status = VD_OK;
    return in_lines(probe) ? vd_text_client_ended(&probe->lines, &status)
                           : vd_modbus_client_ended(&probe->client, &status);
}
