/* SPDX-License-Identifier: MIT
 * What verdite-bench does: shows a bench, starts it afresh, lends it a hand (buttons, plugs, supply), lets time pass,
 * and puts it behind pseudo-terminals for programs that want real ports. */
#include "bench.h"
#include "../meet/meet.h"
#include "../print/print.h"
#include "../words/words.h"

#include <errno.h>
#include <string.h>

/* `look`: only to see what there is, also where another program has it. */
static vd_bench_folder *open_as(cli *c, bool look)
{
    const char *folder = c->options.words[0];
    vd_findings *findings = vd_findings_new(folder);
    vd_bench_folder *bench =
        look ? vd_bench_look(folder, c->catalogue, findings) : vd_bench_open(folder, c->catalogue, findings);
    if (bench == NULL) {
        report_findings(c, findings);
    }
    vd_findings_free(findings);
    return bench;
}

static vd_bench_folder *open_bench(cli *c)
{
    return open_as(c, false);
}

static void keep(cli *c, vd_bench_folder *bench)
{
    vd_fault fault = {0};
    if (vd_bench_keep(bench, &fault) != VD_OK) {
        report(c, &fault);
    }
}

/* How a unit stands: where it answers, and what keeps it from answering. Free it. */
static char *standing_words(vd_sim *sim, uint16_t i)
{
    const vd_unit *unit = vd_sim_unit(sim, i);
    char line[32];
    vd_writer writer = vd_writer_start(line, sizeof line);
    vd_serial_print(vd_unit_line(unit), &writer);
    bool addressed = vd_model_has_address(vd_unit_model(unit));
    char *address = addressed ? g_strdup_printf("address %u, ", vd_unit_address(unit)) : g_strdup("");
    char *words = g_strdup_printf("%s%s%s%s%s", address, line, vd_sim_has_supply(sim, i) ? "" : ", off",
                                  vd_sim_is_plugged(sim, i) ? "" : ", unplugged",
                                  addressed || vd_unit_listens(unit, vd_sim_now(sim)) ? "" : ", does not listen");
    g_free(address);
    return words;
}

vd_class bench_show(cli *c)
{
    static const char *const adapter_titles[] = {"adapter", "", NULL}, *const unit_titles[] = {"unit", "", "", NULL};
    vd_bench_folder *bench = open_bench(c);
    if (bench == NULL) {
        return c->worst;
    }
    vd_sim *sim = vd_bench_sim(bench);
    const vd_bench *world = vd_bench_world(bench);
    json_t *adapter_list = json_array(), *unit_list = json_array();
    sheet adapters = sheet_start(c, stdout, adapter_titles), units = sheet_start(c, stdout, unit_titles);
    for (uint16_t i = 0; i < world->adapter_count; i++) {
        const vd_bench_adapter *adapter = &world->adapters[i];
        char *label = g_strdup_printf("%s%s", adapter->label, adapter->cable == VD_NONE ? " (nothing behind it)" : "");
        sheet_row(&adapters, adapter->name, label, NULL);
        json_array_append_new(adapter_list, json_pack("{s:s, s:s}", "name", adapter->name, "label", adapter->label));
        g_free(label);
    }
    for (uint16_t i = 0; i < world->unit_count; i++) {
        const vd_unit *unit = vd_sim_unit(sim, i);
        char *words = standing_words(sim, i);
        char *about = g_strdup_printf("serial number %s, %s", vd_unit_identity(unit)->serial, words);
        sheet_row(&units, world->units[i].name, vd_unit_model(unit)->key, about, NULL);
        json_array_append_new(unit_list, json_pack("{s:s, s:s, s:s, s:s}", "name", world->units[i].name, "model",
                                                   vd_unit_model(unit)->key, "serial", vd_unit_identity(unit)->serial,
                                                   "stands", words));
        g_free(about);
        g_free(words);
    }
    json_object_set_new(c->result, "adapters", adapter_list);
    json_object_set_new(c->result, "units", unit_list);
    if (c->options.json) {
        sheet_drop(&adapters);
        sheet_drop(&units);
    } else {
        sheet_print(&adapters);
        sheet_print(&units);
    }
    vd_bench_free(bench);
    return c->worst;
}

vd_class bench_afresh(cli *c)
{
    vd_fault fault = {0};
    if (vd_bench_start_afresh(c->options.words[0], &fault) != VD_OK) {
        report(c, &fault);
    }
    return c->worst;
}

/* What a hand does to a unit, by the name of the command, and what is said of it. */
static const struct {
    const char *command, *done;
    vd_hand hand;
} hands[] = {{"press", "Its button was held.", VD_HAND_PRESS},
             {"unplug", "Its cable is out.", VD_HAND_UNPLUG},
             {"plug", "Its cable is in.", VD_HAND_PLUG},
             {"power-off", "It has no supply any more.", VD_HAND_POWER_OFF},
             {"power-on", "It has its supply.", VD_HAND_POWER_ON}};

static size_t hand_named(const char *command)
{
    size_t i = 0;
    while (i < G_N_ELEMENTS(hands) && strcmp(hands[i].command, command) != 0) {
        i++;
    }
    return i;
}

/* Does to a unit what a command says: a hand, or without supply for a moment. */
static void lend_hand(vd_sim *sim, uint16_t unit, const char *command, uint32_t milliseconds)
{
    size_t i = hand_named(command);
    i < G_N_ELEMENTS(hands) ? vd_sim_hand(sim, unit, hands[i].hand, milliseconds) : vd_sim_restart_unit(sim, unit);
}

static void tell_done(const cli *c)
{
    size_t i = hand_named(c->command->name);
    if (i < G_N_ELEMENTS(hands)) {
        message(c, "%s", hands[i].done);
    } else {
        message(c, "%s was switched off and on.", c->options.words[1]);
    }
}

static const char *unit_name_at(const void *about, size_t i)
{
    return ((const vd_bench *)about)->units[i].name;
}

vd_class bench_hand(cli *c)
{
    bool elsewhere = served_anywhere(c->options.words[0]);
    vd_bench_folder *bench = open_as(c, elsewhere);
    const vd_bench *world = bench != NULL ? vd_bench_world(bench) : NULL;
    for (uint16_t i = 0; world != NULL && i < world->unit_count; i++) {
        if (strcmp(world->units[i].name, c->options.words[1]) == 0) {
            vd_sim *sim = vd_bench_sim(bench);
            if (!elsewhere) {
                lend_hand(sim, i, c->command->name, c->options.time);
                vd_sim_set_now(sim, vd_sim_now(sim) + (uint64_t)c->options.time * 1000u);
                keep(c, bench);
            } else if (!served_tell(c->options.words[0], c->command->name, world->units[i].name, c->options.time)) {
                report_new(c, vd_fault_of_BENCH_BUSY(c->options.words[0]));
            }
            if (c->worst == VD_CLASS_FINE) {
                tell_done(c);
            }
            vd_bench_free(bench);
            return c->worst;
        }
    }
    if (world != NULL) {
        char *said = g_strdup_printf("Unknown unit \"%s\" on this bench.", c->options.words[1]);
        char *near = vd_suggest(c->options.words[1], world->unit_count, unit_name_at, world);
        report_wrong_words(c, said, near);
        g_free(near);
        g_free(said);
    }
    vd_bench_free(bench);
    return c->worst;
}

vd_class bench_wait(cli *c)
{
    vd_bench_folder *bench = open_bench(c);
    if (bench != NULL) {
        vd_sim *sim = vd_bench_sim(bench);
        vd_sim_set_now(sim, vd_sim_now(sim) + (uint64_t)c->options.time * 1000u);
        keep(c, bench);
    }
    vd_bench_free(bench);
    return c->worst;
}

static void tell(const char *name, const char *path)
{
    printf("%s %s\n", name, path);
    fflush(stdout);
}

/* A bench that is being served, and where other programs say what is done to it. */
typedef struct served {
    vd_bench_folder *bench;
    int pipe;
} served;

static void do_to_unit(void *about, const char *what, const char *unit, uint32_t milliseconds)
{
    vd_sim *sim = vd_bench_sim(((const served *)about)->bench);
    const vd_bench *world = vd_sim_bench(sim);
    for (uint16_t i = 0; i < world->unit_count; i++) {
        if (strcmp(world->units[i].name, unit) == 0) {
            lend_hand(sim, i, what, milliseconds);
        }
    }
}

static void hear_hands(void *about)
{
    served_hear(((const served *)about)->pipe, do_to_unit, about);
}

vd_class bench_serve(cli *c)
{
    vd_bench_folder *bench = open_bench(c);
    vd_fault fault = {0};
    if (bench != NULL) {
        served at = {bench, served_open(c->options.words[0])};
        const vd_sim_ear ear = {at.pipe, hear_hands, &at};
        stops_catch();
        if (vd_sim_serve(vd_bench_sim(bench), stops_flag(), tell, at.pipe >= 0 ? &ear : NULL, &fault) != VD_OK ||
            vd_bench_keep(bench, &fault) != VD_OK) {
            report(c, &fault);
        }
        stops_release();
        served_close(c->options.words[0], at.pipe);
    }
    vd_bench_free(bench);
    return c->worst;
}

/* Makes a bench with one unit of a model, and says how to use it. */
vd_class bench_play(cli *c)
{
    const char *name = c->options.words[0], *folder = c->options.words[1] != NULL ? c->options.words[1] : "";
    const vd_model *model = choose_model_named(c, name);
    vd_fault fault = {0};
    uint16_t variant = VD_NONE;
    uint32_t firmware = 0;
    if (model == NULL) {
        c->worst = g_str_has_suffix(name, ".yaml") ? c->worst : VD_CLASS_USAGE; /* it was typed */
        return c->worst;
    }
    if (!choose_kind(c, model, &variant, &firmware)) {
        return c->worst;
    }
    char *kind = variant != VD_NONE ? g_strdup_printf("    variant: %s\n", model->variants[variant].key) : g_strdup("");
    uint16_t running = vd_model_running_time(model); /* it has been on for a while */
    char *settings =
        running != VD_NONE ? g_strdup_printf("{%s: 1 h}", model->settings[running].words->key) : g_strdup("{}");
    char *own = folder[0] != '\0' ? g_strdup(folder) : g_strdup_printf("%s-bench", model->key);
    char *path = g_build_filename(own, "bench.yaml", NULL);
    bool by_path = g_str_has_suffix(name, ".yaml");
    char *source = by_path ? g_canonicalize_filename(name, NULL) : g_strdup(model->key);
    char *text = g_strdup_printf("# One %s from the factory.\nverdite-bench: 1\nname: %s\nadapters:\n"
                                 "  - {name: %s-usb, label: adapter of the bench, cable: line, latency: 1 ms}\n"
                                 "units:\n  - name: %s-1\n    model: \"%s\"\n    cable: line\n    serial: PLAY-1\n"
                                 "%s    firmware: \"%s\"\n    settings: %s\n",
                                 model->title, model->key, model->key, model->key, source, kind,
                                 firmware != 0 ? c->options.firmware : "9.9", settings);
    if (g_file_test(path, G_FILE_TEST_EXISTS)) {
        char *said = g_strdup_printf("%s exists already.", path);
        report_wrong_words(c, said, "Choose another folder, or use that one.");
        g_free(said);
    } else if (g_mkdir_with_parents(own, 0755) != 0) {
        report_new(c, vd_fault_of_FILE_UNWRITABLE(g_strerror(errno)));
    } else if (vd_file_create(path, &(vd_file_text){text, strlen(text), false}, &fault) != VD_OK) {
        report(c, &fault);
    } else {
        char *address =
            !vd_model_has_address(model) ? g_strdup("") : g_strdup_printf(" at address %u", model->address_factory);
        printf("Made the bench %s with one %s%s. Go on with:\n", own, model->key, address);
        if (model->listening.hand.hold > 0) { /* it listens to nobody before */
            printf("  verdite-bench press %s %s-1 \"%s\"\n", own, model->key,
                   duration_text(model->listening.hand.hold));
        }
        printf("  verdite read --bench %s --model %s\n", own, name);
        if (model->listening.writing.hold > 0) {
            printf("It takes changes only behind this:\n  verdite-bench press %s %s-1 \"%s\"\n", own, model->key,
                   duration_text(model->listening.writing.hold));
        }
        g_free(address);
    }
    g_free(settings);
    g_free(text);
    g_free(kind);
    g_free(source);
    g_free(path);
    g_free(own);
    return c->worst;
}
