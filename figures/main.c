/* SPDX-License-Identifier: MIT
 * Measures everything, one kind of figure after the other. */
#include "figures.h"

#include <stdio.h>

static vd_model_file *load(const char *folder, const char *name)
{
    char *path = g_build_filename(folder, name, NULL);
    vd_findings *findings = vd_findings_new(path);
    vd_model_file *file = vd_model_file_load(path, findings);
    if (file == NULL) {
        fail("a model does not load");
    }
    vd_findings_free(findings);
    g_free(path);
    return file;
}

int main(int argc, char **argv)
{
    if (argc != 2) {
        fail("give the folder of models");
    }
    vd_model_file *dowel = load(argv[1], "dowel.yaml"), *wren = load(argv[1], "wren.yaml");
    measure_reading(vd_model_file_model(dowel), vd_model_file_model(wren));
    measure_writing(vd_model_file_model(dowel));
    vd_model_file *lines[] = {load(argv[1], "brock.yaml"), load(argv[1], "skep.yaml"), load(argv[1], "lantern.yaml")};
    const vd_model *all[] = {vd_model_file_model(dowel), vd_model_file_model(wren), vd_model_file_model(lines[0]),
                             vd_model_file_model(lines[1]), vd_model_file_model(lines[2])};
    measure_searching(all, G_N_ELEMENTS(all));
    measure_lines(vd_model_file_model(lines[0]), vd_model_file_model(lines[1]), vd_model_file_model(lines[2]));
    measure_models();
    measure_alarms(vd_model_file_model(lines[0]));
    measure_history(vd_model_file_model(dowel));
    vd_model_file_free(dowel);
    vd_model_file_free(wren);
    for (size_t i = 0; i < G_N_ELEMENTS(lines); i++) {
        vd_model_file_free(lines[i]);
    }
    return 0;
}
