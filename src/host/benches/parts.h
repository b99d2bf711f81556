/* SPDX-License-Identifier: MIT
 * What the files about benches share. */
#ifndef VD_HOST_BENCH_PARTS_H
#define VD_HOST_BENCH_PARTS_H

#include "../files/yaml_file.h"
#include "verdite/days.h"

struct vd_bench_folder {
    char *folder;
    int lock;
    vd_bench world;
    vd_sim *sim;
    GPtrArray *memory;
    GPtrArray *logs; /* of vd_unit_log */
    GPtrArray *days; /* of vd_days */
    GStringChunk *texts;
    GPtrArray *cables; /* names, in texts */
};

/* Memory for a set that lives as long as the bench. */
void *bench_new_set(vd_bench_folder *bench, const vd_model *model, vd_set *set);
/* log.c: the log that a unit's readings follow. */
bool bench_take_log(vd_bench_folder *bench, yaml_file *file, const yaml_node_t *map, vd_bench_unit *unit);
/* Puts units and clock into the state that state.json tells of, if there is one. False with a finding when it is
 * damaged or belongs to another bench. */
bool bench_restore(vd_bench_folder *bench, vd_findings *findings);

#endif
