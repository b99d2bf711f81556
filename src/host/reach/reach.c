/* SPDX-License-Identifier: MIT
 * The common case in a few calls: one unit, one setting, waiting for each. */
#include "verdite/reach.h"

#include "verdite/history.h"
#include "verdite/posix.h"

#include <string.h>

struct vd_reach {
    vd_reach_place place;
    vd_catalogue *catalogue;
    const vd_model *model;
    vd_bench_folder *bench;
    vd_posix *posix;
    vd_port *port;
    const vd_port_kind *kind;
    void *ground;
    const char *name; /* of the port */
    vd_visit_storage visit;
    void *memory;
    vd_store_file *store; /* NULL: none can be used */
    int64_t record;       /* of the visit under way, 0: none */
};

/* What was found first in a file stands for all. */
static void take_finding(const vd_findings *findings, vd_fault *fault)
{
    if (fault != NULL && findings->list->len > 0) {
        *fault = g_array_index(findings->list, vd_finding, 0).fault;
        fault->setting = NULL; /* it goes with the findings */
    }
}

static bool open_port(vd_reach *reach, vd_fault *fault)
{
    const vd_reach_place *place = &reach->place;
    reach->name = place->port;
    if (place->bench == NULL) {
        reach->kind = &vd_posix_kind;
        if (place->port == NULL) {
            vd_note_NO_PORT(fault, "", "Name the port.");
        } else if (vd_posix_open(place->port, (vd_signal)reach->model->dtr, (vd_signal)reach->model->rts, &reach->posix,
                                 fault) == VD_OK) {
            reach->port = vd_posix_port(reach->posix);
        }
        return reach->port != NULL;
    }
    vd_findings *findings = vd_findings_new(place->bench);
    reach->bench = vd_bench_open(place->bench, reach->catalogue, findings);
    take_finding(findings, fault);
    vd_findings_free(findings);
    const vd_bench *world = reach->bench != NULL ? vd_bench_world(reach->bench) : NULL;
    const char *port = place->port != NULL                         ? place->port
                       : world != NULL && world->adapter_count > 0 ? world->adapters[0].name
                                                                   : NULL;
    if (world != NULL && port == NULL) {
        vd_note_NO_PORT_AT_ALL(fault);
    } else if (world != NULL) {
        reach->name = port;
        reach->kind = &vd_sim_kind;
        reach->ground = vd_sim_ground(vd_bench_sim(reach->bench));
        vd_sim_open(vd_bench_sim(reach->bench), port, &reach->port, fault);
    }
    return reach->port != NULL;
}

static bool find_model(vd_reach *reach, vd_fault *fault)
{
    vd_findings *findings = vd_findings_new("");
    reach->model = vd_catalogue_model(reach->catalogue, reach->place.model, &findings);
    take_finding(findings, fault);
    vd_findings_free(findings);
    return reach->model != NULL;
}

vd_reach *vd_reach_open(const vd_reach_place *place, vd_fault *fault)
{
    vd_reach *reach = g_new0(vd_reach, 1);
    reach->place = *place;
    reach->catalogue = vd_catalogue_open();
    if (!find_model(reach, fault) || !open_port(reach, fault)) {
        vd_reach_close(reach);
        return NULL;
    }
    const vd_model *model = reach->model;
    size_t size = vd_visit_size(model);
    reach->memory = g_malloc0(size);
    vd_visit_start(vd_visit_in(&reach->visit), model, reach->memory, size,
                   place->line.baud != 0 ? &place->line : &model->line,
                   place->address != 0 ? place->address : model->address_factory, reach->kind->latency(reach->port));
    vd_visit_expect(vd_visit_in(&reach->visit), place->serial);
    char *aside = NULL;
    reach->store = vd_store_open(place->store, &aside, NULL);
    g_free(aside);
    return reach;
}

static int64_t now_of_day(void)
{
    return g_get_real_time() / 1000;
}

/* The record that a visit wants kept. */
static vd_status keep(vd_reach *reach, vd_fault *fault)
{
    bool first = vd_visit_progress(vd_visit_in(&reach->visit)).step == VD_STEP_KEEP;
    const vd_occasion occasion = {
        .port = reach->name, .adapter = reach->name, .who = g_get_user_name(), .now = now_of_day()};
    if (first && reach->store == NULL) {
        return vd_before_keep(vd_visit_in(&reach->visit), NULL, fault);
    }
    if (first) {
        return vd_history_begin(reach->store, vd_visit_in(&reach->visit), &occasion, &reach->record, fault);
    }
    return reach->record != 0 ? vd_history_step(reach->store, reach->record, vd_visit_in(&reach->visit), fault) : VD_OK;
}

static void answer(vd_reach *reach, vd_loop *loop, const vd_wants *wants)
{
    const char *password = reach->place.password;
    if (wants->question == VD_ASK_PASSWORD) {
        vd_loop_feed(loop, 0,
                     (vd_event){.kind = VD_ANSWERED,
                                .yes = password != NULL,
                                .bytes = (const uint8_t *)password,
                                .count = password != NULL ? strlen(password) : 0});
    } else if (wants->question == VD_ASK_WRITE) {
        vd_loop_feed(loop, 0, (vd_event){.kind = VD_ANSWERED, .yes = true});
    } else if (wants->question == VD_ASK_OLD_PASSWORD) {
        vd_loop_feed(loop, 0, (vd_event){.kind = VD_ANSWERED, .yes = false});
    } else if (wants->keep) {
        vd_fault fault = {0};
        vd_status status = keep(reach, &fault);
        vd_loop_feed(loop, 0, (vd_event){.kind = VD_KEPT, .status = status, .said = fault.said});
    }
}

/* Turns the loop until the task that was begun has ended. */
static vd_status turn(vd_reach *reach, vd_fault *fault)
{
    vd_lane lane = {.port = reach->port};
    vd_seat seat = {.engine = &vd_visit_engine, .self = vd_visit_in(&reach->visit)};
    vd_loop loop = {
        .kind = reach->kind, .ground = reach->ground, .lanes = &lane, .lane_count = 1, .seats = &seat, .seat_count = 1};
    vd_wants wants;
    vd_status status = VD_OK;
    for (vd_loop_wants(&loop, 0, &wants); !wants.done; vd_loop_wants(&loop, 0, &wants)) {
        if (wants.question != VD_ASK_NOTHING || wants.keep) {
            answer(reach, &loop, &wants);
        } else if (wants.reopen || vd_loop_step(&loop, VD_NEVER) != VD_OK) {
            vd_loop_feed(&loop, 0, (vd_event){.kind = VD_LOST, .status = VD_PORT_LOST});
        }
    }
    vd_visit_ended(vd_visit_in(&reach->visit), &status);
    if (reach->record != 0) {
        vd_history_end(reach->store, reach->record, vd_visit_in(&reach->visit), now_of_day(), NULL);
        reach->record = 0;
    }
    if (status != VD_OK && fault != NULL) {
        *fault = *vd_visit_fault(vd_visit_in(&reach->visit));
    }
    return status;
}

/* The setting's number; VD_NONE: noted. */
static uint16_t find_setting(const vd_reach *reach, const char *key, vd_fault *fault)
{
    uint16_t setting = vd_model_find(reach->model, key);
    if (setting == VD_NONE) {
        vd_note_NO_SUCH_SETTING(fault, key, "The model lists its settings.");
    }
    return setting;
}

vd_status vd_reach_read(vd_reach *reach, const char *key, char *text, size_t size, vd_fault *fault)
{
    uint16_t setting = find_setting(reach, key, fault);
    vd_writer writer = vd_writer_start(text, size);
    if (setting == VD_NONE) {
        return VD_NO_SUCH_SETTING;
    }
    uint8_t *which = g_new0(uint8_t, reach->model->setting_count);
    which[setting] = 1;
    vd_visit_want_login(vd_visit_in(&reach->visit), reach->place.password != NULL);
    vd_visit_read(vd_visit_in(&reach->visit), reach->kind->now(reach->ground), which);
    vd_status status = turn(reach, fault);
    if (status == VD_OK && !vd_set_knows(vd_visit_live(vd_visit_in(&reach->visit)), setting)) {
        status = vd_note_NOT_TOLD(fault, &reach->model->settings[setting]);
    } else if (status == VD_OK) {
        vd_value value = vd_set_get(vd_visit_live(vd_visit_in(&reach->visit)), setting);
        vd_value_show(&reach->model->settings[setting], &value, &writer);
    }
    g_free(which);
    return status;
}

vd_status vd_reach_write(vd_reach *reach, const char *key, const char *text, vd_whole *whole, vd_fault *fault)
{
    uint16_t setting = find_setting(reach, key, fault);
    vd_typed typed;
    *whole = VD_WHOLE_NOT;
    if (setting == VD_NONE) {
        return VD_NO_SUCH_SETTING;
    }
    vd_status status = vd_setting_parse(&reach->model->settings[setting], text, strlen(text), &typed, fault);
    if (status == VD_OK) {
        vd_set target;
        size_t size = vd_set_size(reach->model);
        void *memory = g_malloc0(size);
        vd_set_start(&target, reach->model, memory, size);
        vd_set_put(&target, setting, &typed.value);
        vd_visit_write(vd_visit_in(&reach->visit), reach->kind->now(reach->ground), &target, NULL);
        status = turn(reach, fault);
        *whole = vd_visit_summary(vd_visit_in(&reach->visit)).whole;
        vd_wipe(memory, size);
        g_free(memory);
    }
    vd_wipe(&typed, sizeof typed);
    return status;
}

void vd_reach_close(vd_reach *reach)
{
    if (reach == NULL) {
        return;
    }
    if (reach->bench != NULL) {
        vd_bench_keep(reach->bench, NULL);
    }
    if (reach->memory != NULL) {
        vd_wipe(reach->memory, vd_visit_size(reach->model));
        g_free(reach->memory);
    }
    vd_store_close(reach->store);
    vd_posix_close(reach->posix);
    vd_bench_free(reach->bench);
    vd_catalogue_free(reach->catalogue);
    vd_wipe(reach, sizeof *reach);
    g_free(reach);
}
