/* SPDX-License-Identifier: MIT
 * What the files about benches share. */
#ifndef VD_HOST_BENCH_PARTS_H
#define VD_HOST_BENCH_PARTS_H

#include "yaml_file.h"

struct vd_bench_folder {
    char *folder;
    int lock;
    vd_bench world;
    vd_sim *sim;
    GPtrArray *memory;
    GStringChunk *texts;
    GPtrArray *cables; /* names, in texts */
};

/* Memory for a set that lives as long as the bench. */
void *bench_new_set(vd_bench_folder *bench, const vd_model *model, vd_set *set);
/* Puts units and clock into the state that state.json tells of, if there is one. False with a finding when it is
 * damaged or belongs to another bench. */
bool bench_restore(vd_bench_folder *bench, vd_findings *findings);

#endif
