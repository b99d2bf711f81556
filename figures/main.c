/* SPDX-License-Identifier: MIT
 * Measures everything, one kind of figure after the other, or the kinds that are named. */
#include "figures.h"

#include <string.h>

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

/* The models that are measured with, the dowel first. */
enum { DOWEL, WREN, BROCK, SKEP, LANTERN, MODELS };

static void reading(const vd_model *const *models)
{
    measure_reading(models[DOWEL], models[WREN]);
}

static void writing(const vd_model *const *models)
{
    measure_writing(models[DOWEL]);
}

static void searching(const vd_model *const *models)
{
    measure_searching(models, MODELS);
}

static void lines(const vd_model *const *models)
{
    measure_lines(models[BROCK], models[SKEP], models[LANTERN]);
}

static void loading(const vd_model *const *models)
{
    (void)models;
    measure_models();
}

static void alarms(const vd_model *const *models)
{
    measure_alarms(models[BROCK]);
}

static void intervals(const vd_model *const *models)
{
    measure_intervals(models[BROCK]);
}

static void history(const vd_model *const *models)
{
    measure_history(models[DOWEL]);
}

static const struct {
    const char *name;
    void (*measure)(const vd_model *const *models);
} kinds[] = {{"reading", reading}, {"writing", writing}, {"searching", searching}, {"lines", lines},
             {"models", loading},  {"alarms", alarms},   {"intervals", intervals}, {"history", history}};

int main(int argc, char **argv)
{
    static const char *const names[MODELS] = {"dowel.yaml", "wren.yaml", "brock.yaml", "skep.yaml", "lantern.yaml"};
    vd_model_file *files[MODELS];
    const vd_model *models[MODELS];
    if (argc < 2) {
        fail("give the folder of models, and the kinds of figures where not all are meant");
    }
    for (int i = 0; i < MODELS; i++) {
        files[i] = load(argv[1], names[i]);
        models[i] = vd_model_file_model(files[i]);
    }
    int known = 0;
    for (size_t i = 0; i < G_N_ELEMENTS(kinds); i++) {
        bool named = argc == 2;
        for (int word = 2; word < argc; word++) {
            bool is_it = strcmp(argv[word], kinds[i].name) == 0;
            known += is_it;
            named = named || is_it;
        }
        if (named) {
            kinds[i].measure(models);
        }
    }
    for (int i = 0; i < MODELS; i++) {
        vd_model_file_free(files[i]);
    }
    if (known != argc - 2) {
        fail("a kind of figures is not known: they are reading, writing, searching, lines, models, alarms, intervals, "
             "history");
    }
    return 0;
}
