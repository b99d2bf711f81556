/* SPDX-License-Identifier: MIT
 * verdite-bench: looks after a bench. Shows it, starts it afresh, lends it a hand (buttons, plugs, supply), lets time
 * pass, and puts it behind pseudo-terminals for programs that want real ports. */
#include "cli.h"

#include <errno.h>
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
    "  verdite-bench press FOLDER UNIT TIME  holds the unit's button for a time such as \"5 s\"\n"
    "  verdite-bench unplug FOLDER UNIT     pulls its cable out; plug puts it in again\n"
    "  verdite-bench power-off FOLDER UNIT  takes its supply away; power-on gives it back\n"
    "  verdite-bench wait FOLDER TIME       lets time pass on the bench\n"
    "  verdite-bench serve FOLDER           the adapters as pseudo-terminals, in real time, until Ctrl-C\n"
    "  verdite-bench play MODEL [FOLDER]    makes a bench with one unit of a model, a key or a file, from the "
    "factory\n\n"
    "Example:\n  verdite-bench show benches/bracken\n  verdite-bench play my-unit.yaml\n";

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
        vd_line_print(vd_unit_line(unit), &writer);
        char *address = !vd_model_has_address(unit->model) ? g_strdup("")
                                                           : g_strdup_printf(", address %u", unit->responder.address);
        vd_sim *sim = vd_bench_sim(bench);
        printf("unit     %-14s  %s, serial number %s%s, %s%s%s%s\n", world->units[i].name, unit->model->key,
               unit->identity.serial, address, line, vd_sim_has_supply(sim, i) ? "" : ", off",
               vd_sim_is_plugged(sim, i) ? "" : ", unplugged",
               vd_model_has_address(unit->model) || vd_unit_listens(unit, vd_sim_now(sim)) ? "" : ", does not listen");
        g_free(address);
    }
}

static void keep(cli *c, vd_bench_folder *bench)
{
    vd_fault fault = {0};
    if (vd_bench_keep(bench, &fault) != VD_OK) {
        report(c, &fault);
    }
}

/* Milliseconds of a time that was typed; false: reported. */
static bool take_time(cli *c, const char *typed, uint32_t *milliseconds)
{
    static const vd_setting about = {
        .key = "time", .measure = "", .type = VD_DURATION, .tick = 1, .step = 1, .max = 366 * (int64_t)86400000};
    vd_typed value;
    if (vd_value_parse(&about, typed, strlen(typed), &value, NULL) != VD_OK ||
        vd_value_check(&about, &value.value, 0, NULL) != VD_OK || value.value.number > UINT32_MAX) {
        report_wrong_words(c, "That is no time.", "Give one with its unit, such as \"5 s\".");
        return false;
    }
    *milliseconds = (uint32_t)value.value.number;
    return true;
}

/* What a hand does to a unit, and what is said of it. */
static const struct {
    const char *verb, *done;
    vd_hand hand;
} hands[] = {{"press", "Its button was held.", VD_HAND_PRESS},
             {"unplug", "Its cable is out.", VD_HAND_UNPLUG},
             {"plug", "Its cable is in.", VD_HAND_PLUG},
             {"power-off", "It has no supply any more.", VD_HAND_POWER_OFF},
             {"power-on", "It has its supply.", VD_HAND_POWER_ON}};

static bool lend_hand(cli *c, vd_bench_folder *bench, uint16_t unit, const char *verb, const char *time)
{
    vd_sim *sim = vd_bench_sim(bench);
    uint32_t hold = 0;
    for (size_t i = 0; i < G_N_ELEMENTS(hands); i++) {
        if (strcmp(hands[i].verb, verb) != 0) {
            continue;
        }
        if (hands[i].hand == VD_HAND_PRESS && !take_time(c, time, &hold)) {
            return true;
        }
        vd_sim_hand(sim, unit, hands[i].hand, hold);
        vd_sim_set_now(sim, vd_sim_now(sim) + (uint64_t)hold * 1000u);
        keep(c, bench);
        message(c, "%s", hands[i].done);
        return true;
    }
    return false;
}

static void handle(cli *c, vd_bench_folder *bench, const char *verb, const char *name, const char *time)
{
    const vd_bench *world = vd_bench_world(bench);
    for (uint16_t i = 0; i < world->unit_count; i++) {
        if (strcmp(world->units[i].name, name) == 0) {
            if (!lend_hand(c, bench, i, verb, time)) {
                vd_sim_restart_unit(vd_bench_sim(bench), i);
                keep(c, bench);
                message(c, "%s was without supply for a moment.", name);
            }
            return;
        }
    }
    report_wrong_words(c, "There is no such unit on this bench.", "See: verdite-bench show FOLDER");
}

static void let_pass(cli *c, vd_bench_folder *bench, const char *time)
{
    uint32_t milliseconds = 0;
    if (take_time(c, time, &milliseconds)) {
        vd_sim_set_now(vd_bench_sim(bench), vd_sim_now(vd_bench_sim(bench)) + (uint64_t)milliseconds * 1000u);
        keep(c, bench);
    }
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

/* Makes a bench with one unit of a model, and says how to use it. */
static void play(cli *c, const char *name, const char *folder)
{
    const vd_model *model = choose_model_named(c, name);
    vd_fault fault = {0};
    if (model == NULL) {
        c->worst = g_str_has_suffix(name, ".yaml") ? c->worst : VD_CLASS_USAGE; /* it was typed */
        return;
    }
    char *own = folder[0] != '\0' ? g_strdup(folder) : g_strdup_printf("%s-bench", model->key);
    char *path = g_build_filename(own, "bench.yaml", NULL);
    bool by_path = g_str_has_suffix(name, ".yaml");
    char *source = by_path ? g_canonicalize_filename(name, NULL) : g_strdup(model->key);
    char *text = g_strdup_printf("# One %s from the factory.\nverdite-bench: 1\nname: %s\nadapters:\n"
                                 "  - {name: %s-usb, label: adapter of the bench, cable: line, latency: 1 ms}\n"
                                 "units:\n  - name: %s-1\n    model: \"%s\"\n    cable: line\n    serial: PLAY-1\n"
                                 "    firmware: \"9.9\"\n    settings: {}\n",
                                 model->title, model->key, model->key, model->key, source);
    if (g_file_test(path, G_FILE_TEST_EXISTS)) {
        char *said = g_strdup_printf("%s is there already.", path);
        report_wrong_words(c, said, "Name another folder, or go on with that one.");
        g_free(said);
    } else if (g_mkdir_with_parents(own, 0755) != 0) {
        report_new(c, vd_fault_of_FILE_UNWRITABLE(g_strerror(errno)));
    } else if (vd_file_save(path, text, strlen(text), &fault) != VD_OK) {
        report(c, &fault);
    } else {
        char *address =
            !vd_model_has_address(model) ? g_strdup("") : g_strdup_printf(" at address %u", model->address_factory);
        printf("Made the bench %s with one %s%s. Go on with:\n"
               "  verdite read --bench %s --model %s\n",
               own, model->key, address, own, name);
        g_free(address);
    }
    g_free(text);
    g_free(source);
    g_free(path);
    g_free(own);
}

static void run(cli *c, const char *verb, const char *folder, const char *unit, const char *time)
{
    vd_fault fault = {0};
    if (strcmp(verb, "afresh") == 0) {
        if (vd_bench_start_afresh(folder, &fault) != VD_OK) {
            report(c, &fault);
        }
        return;
    }
    if (strcmp(verb, "play") == 0) {
        play(c, folder, unit);
        return;
    }
    vd_bench_folder *bench = open_bench(c, folder);
    if (bench == NULL) {
        return;
    }
    if (strcmp(verb, "show") == 0) {
        show(bench);
    } else if (strcmp(verb, "serve") == 0) {
        serve(c, bench);
    } else if (strcmp(verb, "wait") == 0) {
        let_pass(c, bench, unit);
    } else {
        handle(c, bench, verb, unit, time);
    }
    vd_bench_free(bench);
}

int main(int argc, char **argv)
{
    static const struct {
        const char *verb;
        int words;
    } verbs[] = {{"show", 3}, {"afresh", 3}, {"restart", 4}, {"serve", 3}, {"play", 3},      {"play", 4},
                 {"wait", 4}, {"press", 5},  {"unplug", 4},  {"plug", 4},  {"power-off", 4}, {"power-on", 4}};
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
            run(&c, verb, argv[2], argc > 3 ? argv[3] : "", argc > 4 ? argv[4] : "");
        }
    }
    if (!known) {
        report_wrong_words(&c, "That is not how verdite-bench is called.", "See: verdite-bench --help");
    }
    json_decref(c.result);
    vd_catalogue_free(c.catalogue);
    return (int)c.worst;
}
