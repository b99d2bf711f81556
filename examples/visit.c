/* SPDX-License-Identifier: MIT
 * The fitter's end in a hundred lines: opens a bench, visits the unit at an address, prints what it holds.
 *
 *   example-visit models/dowel.yaml benches/bracken 3
 *
 * With vd_posix_open() in place of vd_bench_open() the same loop talks over a real port. */
#include <stdio.h>
#include <stdlib.h>

#include "verdite/host.h"

static void print(const vd_visit *visit)
{
    const vd_model *model = vd_visit_model(visit);
    const vd_identity *identity = vd_visit_identity(visit);
    printf("%s %s, serial number %s\n", identity->maker, identity->product, identity->serial);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        char text[128];
        vd_writer writer = vd_writer_start(text, sizeof text);
        vd_value value = vd_set_get(vd_visit_live(visit), i);
        vd_value_print(&model->settings[i], &value, &writer);
        printf("  %s: %s\n", model->settings[i].words->key, text);
    }
}

static int visit(vd_sim *sim, const char *port_name, const vd_model *model, uint8_t address)
{
    /* The caller owns all memory: a struct, and a buffer of the size the model asks for. */
    static vd_visit_storage visit;
    size_t size = vd_visit_size(model);
    void *memory = malloc(size);
    vd_lane lane = {0};
    vd_seat seat = {.engine = &vd_visit_engine, .self = vd_visit_in(&visit)};
    vd_loop loop = {.kind = &vd_sim_kind,
                    .ground = vd_sim_ground(sim),
                    .lanes = &lane,
                    .lane_count = 1,
                    .seats = &seat,
                    .seat_count = 1};
    vd_status status = VD_OK;
    if (memory == NULL || vd_sim_open(sim, port_name, &lane.port, NULL) != VD_OK) {
        free(memory);
        return 1;
    }
    vd_visit_start(vd_visit_in(&visit), model, memory, size, &model->line, address,
                   lane.port->kind->latency(lane.port));
    vd_visit_read(vd_visit_in(&visit), vd_sim_now(sim), NULL);
    while (!vd_visit_ended(vd_visit_in(&visit), &status)) {
        vd_loop_step(&loop, vd_sim_now(sim) + 1000000);
    }
    if (status == VD_OK) {
        print(vd_visit_in(&visit));
    } else {
        char words[512];
        vd_fault_words(vd_visit_fault(vd_visit_in(&visit)), true, words, sizeof words);
        fprintf(stderr, "%s\n", words);
    }
    free(memory);
    return status == VD_OK ? 0 : 1;
}

int main(int argc, char **argv)
{
    if (argc != 4) {
        fprintf(stderr, "usage: example-visit MODEL.yaml BENCH-FOLDER ADDRESS\n");
        return 2;
    }
    int result = 1;
    vd_catalogue *catalogue = vd_catalogue_open();
    vd_findings *findings = vd_findings_new(argv[1]);
    const vd_model *model = vd_catalogue_model(catalogue, argv[1], &findings);
    vd_bench_folder *bench = vd_bench_open(argv[2], catalogue, findings);
    if (model != NULL && bench != NULL) {
        const char *port_name = vd_bench_world(bench)->adapters[0].name;
        result = visit(vd_bench_sim(bench), port_name, model, (uint8_t)strtoul(argv[3], NULL, 10));
    } else {
        fprintf(stderr, "the model or the bench does not load\n");
    }
    vd_bench_free(bench);
    vd_findings_free(findings);
    vd_catalogue_free(catalogue);
    return result;
}
