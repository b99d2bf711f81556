/* SPDX-License-Identifier: MIT
 * Units that talk in lines: the time of a visit against what it takes at least. The floor is the time of every
 * character on the line, as the manner prescribes them, and for each exchange that cannot be saved the unit's
 * turnaround, the silence of two characters before a line, and the adapter's delay. What a model declares (storing,
 * restarting) is left out on both sides. */
#include "figures.h"

#include <stdio.h>
#include <string.h>

/* Lines that it takes at least to ask for all words: each in one question, as many as a line holds. */
static uint64_t lines_to_read(const vd_model *model, bool writable_only)
{
    GHashTable *words = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, NULL);
    uint64_t characters = 0;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *s = &model->settings[i];
        bool queries = vd_manner_of(model)->queue;
        bool wanted = s->access != VD_WRITE_ONLY && !(writable_only && s->access == VD_READ_ONLY);
        char *word = g_strdup_printf("%s %u", s->field.word, queries ? s->field.item : 0u);
        if (wanted && g_hash_table_add(words, word)) {
            characters += strlen(s->field.word) + (queries || vd_manner_of(model)->results ? 3 : 1);
        } else if (!wanted) {
            g_free(word);
        }
    }
    g_hash_table_destroy(words);
    /* AT and its end; nothing but its end; $talker,R and the check */
    uint64_t frame = vd_manner_of(model)->results ? 3 : vd_manner_of(model)->queue ? 1 : 12;
    uint64_t room = model->lines.longest - frame;
    return (characters - 1 + room - 1) / room;
}

static void press(vd_sim *sim)
{
    vd_sim_hand(sim, 0, VD_HAND_PRESS, 10000);
    vd_sim_set_now(sim, 20000000);
}

typedef struct spent {
    uint64_t time, busy;
} spent;

/* Runs the visit to its end; returns how long that took and for how long there were characters on the line, what it
 * waits for a restart, and says meanwhile, left out. */
static spent run(world *w, vd_visit *visit, const char *password)
{
    vd_lane lane = {.port = w->ports[0]};
    vd_seat seat = {.engine = &vd_visit_engine, .self = visit};
    vd_loop loop = {&vd_sim_kind, vd_sim_ground(w->sim), &lane, &seat, 1, 1, NULL, NULL};
    vd_status status = VD_OK;
    spent all = {0};
    while (!vd_visit_ended(visit, &status)) {
        vd_wants wants;
        bool counts = vd_visit_progress(visit).step != VD_STEP_COMING_BACK;
        uint64_t from = vd_sim_now(w->sim), busy = vd_sim_use_of(w->sim).busy;
        vd_loop_wants(&loop, 0, &wants);
        if (wants.question == VD_ASK_WRITE) {
            vd_loop_feed(&loop, 0, (vd_event){.kind = VD_ANSWERED, .yes = true});
        } else if (wants.question == VD_ASK_PASSWORD) {
            vd_loop_feed(
                &loop, 0,
                (vd_event){
                    .kind = VD_ANSWERED, .yes = true, .bytes = (const uint8_t *)password, .count = strlen(password)});
        } else if (wants.keep) {
            vd_loop_feed(&loop, 0, (vd_event){.kind = VD_KEPT});
        } else if (vd_loop_step(&loop, VD_NEVER) != VD_OK) {
            fail("the loop stopped");
        }
        all.time += counts ? vd_sim_now(w->sim) - from : 0;
        all.busy += counts ? vd_sim_use_of(w->sim).busy - busy : 0;
    }
    if (status != VD_OK) {
        fail("a visit to a unit that talks in lines failed");
    }
    return all;
}

static vd_visit *new_visit(const vd_model *model)
{
    vd_visit *visit = vd_visit_in(own(sizeof(vd_visit_storage)));
    vd_visit_start(visit, model, own(vd_visit_size(model)), vd_visit_size(model), &model->line, 0, 1000);
    return visit;
}

static bool talks_in_sentences(const vd_model *model)
{
    return !vd_manner_of(model)->results && !vd_manner_of(model)->queue;
}

/* What these exchanges cost besides their characters. A sentence is taken at its CR: a unit's turnaround begins while
 * the LF still goes out, and the LF of the last answer is not waited for. */
static uint64_t overhead(const vd_model *model, uint64_t exchanges)
{
    uint64_t each =
        model->reply.usual * 1000u + vd_serial_time(&model->line, 2) + 1000u - heard_before_its_end(&model->line);
    return exchanges * each - (talks_in_sentences(model) ? (exchanges + 1) * vd_serial_time(&model->line, 1) : 0);
}

static void measure_read(const char *what, const vd_model *model)
{
    world w = {.bench = {.name = ""}};
    world_add(&w, model, 0, 1, &model->line);
    world_start(&w, 1);
    press(w.sim);
    vd_visit *visit = new_visit(model);
    vd_visit_read(visit, vd_sim_now(w.sim), NULL);
    spent all = run(&w, visit, "");
    uint64_t exchanges = 1 + lines_to_read(model, false);
    if (exchanges != vd_visit_tally(visit)->sent) {
        fail("a unit was read in more exchanges than it takes");
    }
    print_ratio(what, all.time, all.busy + overhead(model, exchanges), 1050);
    vd_sim_end(w.sim);
}

/* Twenty changes of a brock, from the first question to the last value read back. */
static void measure_write(const vd_model *brock)
{
    static const char *const changes[][2] = {{"unit.name", "Sorrel"},
                                             {"unit.zone", "+01:00"},
                                             {"unit.odometer", "18204.5 km"},
                                             {"sim.roaming", "on"},
                                             {"server.host", "a.example.net"},
                                             {"server.port", "5060"},
                                             {"server.keep-alive", "2 min"},
                                             {"report.moving", "1 min"},
                                             {"report.standing", "20 min"},
                                             {"report.parked", "8 h"},
                                             {"input.1.wired", "on"},
                                             {"input.1.means", "door"},
                                             {"input.2.debounce", "1 s"},
                                             {"alarm.1.source", "input-1"},
                                             {"alarm.1.does", "message"},
                                             {"alarm.1.tells", "first"},
                                             {"alarm.1.text", "Door open"},
                                             {"person.1.name", "Dispatch"},
                                             {"person.1.phone", "+447700900123"},
                                             {"power.least", "11.8 V"}};
    world w = {.bench = {.name = ""}};
    vd_set target;
    world_add(&w, brock, 0, 1, &brock->line);
    world_start(&w, 1);
    press(w.sim);
    vd_set_start(&target, brock, own(vd_set_size(brock)), vd_set_size(brock));
    for (size_t i = 0; i < G_N_ELEMENTS(changes); i++) {
        set_typed(&target, changes[i][0], changes[i][1]);
    }
    vd_visit *visit = new_visit(brock);
    vd_visit_write(visit, vd_sim_now(w.sim), &target, NULL);
    spent all = run(&w, visit, "0000");
    if (vd_visit_summary(visit).whole != VD_WHOLE_VERIFIED) {
        fail("twenty changes were not verified");
    }
    /* identify, read alike twice, who it is, log in, write (all of it in one line), check alike twice, save, restart,
     * read back alike twice, who it is */
    uint64_t exchanges = 9 + 2 * lines_to_read(brock, false) + 2 * lines_to_read(brock, true);
    print_ratio("write twenty changes of a brock, and verify", all.time - brock->reply.store * 1000u,
                all.busy + overhead(brock, exchanges), 1050);
    vd_sim_end(w.sim);
}

void measure_lines(const vd_model *brock, const vd_model *skep, const vd_model *lantern)
{
    measure_read("read all of a brock", brock);
    measure_read("read all of a skep", skep);
    measure_read("read all of a lantern", lantern);
    measure_write(brock);
    printf("%-44s %9zu bytes: %zu of struct, %zu of buffer\n", "memory of a visit with the brock",
           sizeof(vd_visit_storage) + vd_visit_size(brock), sizeof(vd_visit_storage), vd_visit_size(brock));
    printf("%-44s %9zu bytes\n", "memory of a unit that plays the brock",
           sizeof(vd_unit_storage) + vd_unit_size(brock, vd_unit_language_of(brock)));
}
