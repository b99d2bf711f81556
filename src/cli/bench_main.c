/* SPDX-License-Identifier: MIT
 * verdite-bench: looks after a bench. Shows it, starts it afresh, takes the supply from a unit, and puts it behind
 * pseudo-terminals for programs that want real ports. */
#include "cli.h"

#include <signal.h>
#include <string.h>

static volatile sig_atomic_t stop;

static void note_stop(int signal)
{
    (void)signal;
    stop = 1;
}

static const char help[] =
    "verdite-bench looks after a bench: a folder with bench.yaml, in which units are simulated.\n\n"
    "  verdite-bench show FOLDER            adapters and units, and where each unit answers\n"
    "  verdite-bench afresh FOLDER          the next program meets the bench as its file describes it\n"
    "  verdite-bench restart FOLDER UNIT    supply off and on: what was not stored is lost\n"
    "  verdite-bench serve FOLDER           the adapters as pseudo-terminals, in real time, until Ctrl-C\n\n"
    "Example:\n  verdite-bench show benches/bracken\n";

static vd_bench_folder *open_bench(cli *c, const char *folder)
{
    vd_findings *findings = vd_findings_new(folder);
    vd_bench_folder *bench = vd_bench_open(folder, c->catalogue, findings);
    if (bench == NULL) {
        report_findings(c, findings);
    }
    vd_findings_free(findings);
    return bench;
}

static void show(vd_bench_folder *bench)
{
    const vd_bench *world = vd_bench_world(bench);
    for (uint16_t i = 0; i < world->adapter_count; i++) {
        printf("adapter  %-14s  %s%s\n", world->adapters[i].name, world->adapters[i].label,
               world->adapters[i].cable == VD_NONE ? " (nothing behind it)" : "");
    }
    for (uint16_t i = 0; i < world->unit_count; i++) {
        const vd_unit *unit = vd_sim_unit(vd_bench_sim(bench), i);
        char line[32];
        vd_writer writer = vd_writer_start(line, sizeof line);
        vd_line_print(&unit->responder.line, &writer);
        printf("unit     %-14s  %s, serial number %s, address %u, %s%s\n", world->units[i].name, unit->model->key,
               unit->identity.serial, unit->responder.address, line, world->units[i].off ? ", off" : "");
    }
}

static void restart(cli *c, vd_bench_folder *bench, const char *name)
{
    const vd_bench *world = vd_bench_world(bench);
    vd_fault fault = {0};
    for (uint16_t i = 0; i < world->unit_count; i++) {
        if (strcmp(world->units[i].name, name) == 0) {
            vd_sim_restart_unit(vd_bench_sim(bench), i);
            if (vd_bench_keep(bench, &fault) != VD_OK) {
                report(c, &fault);
            } else {
                message(c, "%s was without supply for a moment.", name);
            }
            return;
        }
    }
    report_words(c, VD_WRONG_WORDS, "There is no such unit on this bench.", "See: verdite-bench show FOLDER");
}

static void tell(const char *name, const char *path)
{
    printf("%s %s\n", name, path);
    fflush(stdout);
}

static void serve(cli *c, vd_bench_folder *bench)
{
    struct sigaction action = {.sa_handler = note_stop};
    vd_fault fault = {0};
    sigemptyset(&action.sa_mask);
    sigaction(SIGINT, &action, NULL);
    sigaction(SIGTERM, &action, NULL);
    if (vd_sim_serve(vd_bench_sim(bench), &stop, tell, &fault) != VD_OK || vd_bench_keep(bench, &fault) != VD_OK) {
        report(c, &fault);
    }
}

static void run(cli *c, const char *verb, const char *folder, const char *unit)
{
    vd_fault fault = {0};
    if (strcmp(verb, "afresh") == 0) {
        if (vd_bench_start_afresh(folder, &fault) != VD_OK) {
            report(c, &fault);
        }
        return;
    }
    vd_bench_folder *bench = open_bench(c, folder);
    if (bench == NULL) {
        return;
    }
    if (strcmp(verb, "show") == 0) {
        show(bench);
    } else if (strcmp(verb, "restart") == 0) {
        restart(c, bench, unit);
    } else {
        serve(c, bench);
    }
    vd_bench_free(bench);
}

int main(int argc, char **argv)
{
    static const struct {
        const char *verb;
        int words;
    } verbs[] = {{"show", 3}, {"afresh", 3}, {"restart", 4}, {"serve", 3}};
    cli c = {.result = json_object(), .catalogue = vd_catalogue_open()};
    const char *verb = argc > 1 ? argv[1] : "--help";
    bool known = false;
    if (strcmp(verb, "--help") == 0 || strcmp(verb, "-h") == 0) {
        fputs(help, stdout);
        known = true;
    }
    for (size_t i = 0; i < G_N_ELEMENTS(verbs) && !known; i++) {
        if (strcmp(verb, verbs[i].verb) == 0 && argc == verbs[i].words) {
            known = true;
            run(&c, verb, argv[2], argc > 3 ? argv[3] : "");
        }
    }
    if (!known) {
        report_words(&c, VD_WRONG_WORDS, "That is not how verdite-bench is called.", "See: verdite-bench --help");
    }
    json_decref(c.result);
    vd_catalogue_free(c.catalogue);
    return (int)c.worst;
}
