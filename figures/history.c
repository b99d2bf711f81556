/* SPDX-License-Identifier: MIT
 * The store as it grows: what it takes to look back, to add a visit, and how large one is. Times depend on the machine.
 */
#include <glib/gstdio.h>
#include <stdio.h>
#include <string.h>

#include "figures.h"
#include "verdite/history.h"

#define EACH 200u /* times that each is measured */
#define UNITS 500u

static int compare_times(const void *a, const void *b)
{
    gint64 first = *(const gint64 *)a, second = *(const gint64 *)b;
    return first < second ? -1 : first > second;
}

static void print_times(const char *what, unsigned visits, gint64 *times, size_t count)
{
    char words[80];
    qsort(times, count, sizeof *times, compare_times);
    gint64 median = times[count / 2], worst = times[count - 1];
    g_snprintf(words, sizeof words, "%s, %u visits", what, visits);
    printf("%-44s %9.3f ms in the median, %.3f at worst\n", words, (double)median / 1000, (double)worst / 1000);
}

/* A visit that has written four settings to the unit with a number, to be kept as often as is wanted. */
static void visit_once(const vd_model *dowel, vd_visit *visit, unsigned number)
{
    world w = {.bench = {.name = ""}};
    vd_set target;
    world_add(&w, dowel, 0, 1, &dowel->line);
    g_snprintf(w.units[0].identity.serial, sizeof w.units[0].identity.serial, "QD-%05u", 24000 + number);
    world_start(&w, 1);
    vd_set_start(&target, dowel, own(vd_set_size(dowel)), vd_set_size(dowel));
    set_typed(&target, "weight.low-limit", "20 kg");
    set_typed(&target, "weight.high-limit", "70 kg");
    set_typed(&target, "weight.alarm", "low");
    set_typed(&target, "unit.name", "Ling 2");
    vd_visit_start(visit, dowel, own(vd_visit_size(dowel)), vd_visit_size(dowel), &dowel->line, 1, 1000);
    vd_visit_write(visit, 0, &target, NULL);
    vd_seat seat = {.engine = &vd_visit_engine, .self = visit};
    vd_lane lane = {.port = w.ports[0]};
    vd_loop loop = {&vd_sim_kind, vd_sim_ground(w.sim), &lane, &seat, 1, 1, NULL, NULL};
    vd_status status = VD_OK;
    while (!vd_visit_ended(visit, &status)) {
        vd_wants wants;
        vd_loop_wants(&loop, 0, &wants);
        if (wants.question != VD_ASK_NOTHING) {
            vd_loop_feed(&loop, 0, (vd_event){.kind = VD_ANSWERED, .yes = true});
        } else if (wants.keep) {
            vd_loop_feed(&loop, 0, (vd_event){.kind = VD_KEPT});
        } else {
            vd_loop_step(&loop, VD_NEVER);
        }
    }
    vd_sim_end(w.sim);
}

static vd_visit_storage visits_to[UNITS];

static void keep(vd_store_file *store, unsigned number)
{
    const vd_visit *visit = vd_visit_in(&visits_to[number % UNITS]);
    const vd_occasion occasion = {
        .port = "bracken-usb", .adapter = "f055:6c01 number QA-0001", .who = "fitter", .now = number};
    int64_t id = 0;
    if (vd_history_begin(store, visit, &occasion, &id, NULL) != VD_OK ||
        vd_history_step(store, id, visit, NULL) != VD_OK ||
        vd_history_end(store, id, visit, number + 1, NULL) != VD_OK) {
        fail("a visit was not kept");
    }
}

static void measure_at(vd_store_file *store, unsigned visits, const char *path)
{
    static gint64 times[3][EACH];
    static vd_past past[20];
    for (unsigned i = 0; i < EACH; i++) {
        char serial[32];
        g_snprintf(serial, sizeof serial, "QD-%05u", 24000 + i * 7 % UNITS);
        const vd_past_query of_unit = {.model = "dowel", .serial = serial}, all = {.id = 0};
        gint64 at = g_get_monotonic_time();
        vd_history_find(store, &of_unit, past, G_N_ELEMENTS(past));
        times[0][i] = g_get_monotonic_time() - at;
        at = g_get_monotonic_time();
        vd_history_find(store, &all, past, G_N_ELEMENTS(past));
        times[1][i] = g_get_monotonic_time() - at;
        at = g_get_monotonic_time();
        keep(store, visits + i);
        times[2][i] = g_get_monotonic_time() - at;
    }
    print_times("history of one unit", visits, times[0], EACH);
    print_times("last twenty", visits, times[1], EACH);
    print_times("keep a visit, three commits", visits, times[2], EACH);
    GStatBuf about;
    char *log = g_strconcat(path, "-wal", NULL);
    if (g_stat(path, &about) == 0 && visits >= 100000) {
        printf("%-44s %9.0f bytes\n", "a visit in the store", (double)about.st_size / (visits + EACH));
    }
    g_free(log);
}

void measure_history(const vd_model *dowel)
{
    char *folder = g_dir_make_tmp("verdite-figures-XXXXXX", NULL), *path = g_build_filename(folder, "store.db", NULL);
    char *aside = NULL;
    unsigned kept = 0;
    for (unsigned i = 0; i < UNITS; i++) {
        visit_once(dowel, vd_visit_in(&visits_to[i]), i);
    }
    for (unsigned visits = 1000; visits <= 100000; visits *= 10) {
        vd_store_file *store = vd_store_open(path, &aside, NULL);
        if (store == NULL) {
            fail("no store");
        }
        for (; kept < visits; kept++) {
            keep(store, kept);
        }
        vd_store_close(store); /* what was kept so far goes into the file itself */
        store = vd_store_open(path, &aside, NULL);
        measure_at(store, visits, path);
        kept += EACH;
        vd_store_close(store);
    }
    g_unlink(path);
    g_rmdir(folder);
    g_free(path);
    g_free(folder);
}
