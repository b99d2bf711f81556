/* SPDX-License-Identifier: MIT
 * Benches and the states in which they were left: refused in words, or played for a while and kept. The input is
 * bench.yaml and, behind a zero byte, state.json. */
#include "input.h"

#include <unistd.h>

static char folder[] = "/dev/shm/verdite-fuzz-XXXXXX";

static void put_file(const char *name, const void *bytes, size_t count)
{
    char *path = g_build_filename(folder, name, NULL);
    FILE *file = fopen(path, "wb");
    PROMISE(file != NULL && fwrite(bytes, 1, count, file) == count && fclose(file) == 0, "no %s", name);
    g_free(path);
}

static void clean(void)
{
    char *paths[] = {g_build_filename(folder, "bench.yaml", NULL), g_build_filename(folder, "state.json", NULL)};
    for (size_t i = 0; i < G_N_ELEMENTS(paths); i++) {
        unlink(paths[i]);
        g_free(paths[i]);
    }
}

static void leave(void)
{
    clean();
    rmdir(folder);
}

static void play(vd_bench_folder *bench)
{
    vd_sim *sim = vd_bench_sim(bench);
    const vd_bench *world = vd_bench_world(bench);
    for (uint16_t i = 0; i < world->adapter_count; i++) {
        vd_port *port = NULL;
        PROMISE(vd_text_is_key(world->adapters[i].name), "an adapter's name");
        vd_sim_open(sim, world->adapters[i].name, &port, NULL);
    }
    for (uint16_t i = 0; i < world->unit_count; i++) {
        vd_sim_restart_unit(sim, i);
    }
    PROMISE(vd_bench_keep(bench, NULL) == VD_OK, "it cannot be kept");
}

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    static vd_catalogue *catalogue;
    const uint8_t *zero = memchr(bytes, '\0', count);
    size_t first = zero != NULL ? (size_t)(zero - bytes) : count;
    if (catalogue == NULL) {
        input_model("dowel");
        catalogue = vd_catalogue_open();
        PROMISE(mkdtemp(folder) != NULL, "no folder");
        atexit(leave);
    }
    clean();
    put_file("bench.yaml", bytes, first);
    if (zero != NULL) {
        put_file("state.json", zero + 1, count - first - 1);
    }
    vd_findings *findings = vd_findings_new(folder);
    vd_bench_folder *bench = vd_bench_open(folder, catalogue, findings);
    PROMISE((bench != NULL) == (findings->list->len == 0), "neither a bench nor a reason");
    input_judge_findings(findings);
    if (bench != NULL) {
        play(bench);
        vd_bench_free(bench);
        bench = vd_bench_open(folder, catalogue, findings);
        PROMISE(bench != NULL, "what was kept is not taken back");
    }
    vd_bench_free(bench);
    vd_findings_free(findings);
    return 0;
}
