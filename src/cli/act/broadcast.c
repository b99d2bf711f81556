/* SPDX-License-Identifier: MIT
 * What may be equal everywhere goes out once, to all units of a line. First all addresses are asked, so that nobody
 * hears it who is not meant; then the visits wait for one another before the question, and before the first byte. */
#include "crew.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

static bool is_named(const crew *all, uint8_t address)
{
    for (size_t i = 0; i < all->count; i++) {
        if (all->members[i].v.place.address == address) {
            return true;
        }
    }
    return false;
}

static void show_progress(void *about)
{
    const crew *all = about;
    progress_show(all->c, "Asking who else is on the line");
}

/* Whether everybody who was found may hear it; else all who may not are named. */
static bool judge(crew *all, const vd_model *model, const vd_found *found, size_t count)
{
    GString *others = g_string_new("");
    unsigned strangers = 0;
    bool fine = true;
    for (size_t i = 0; i < count; i++) {
        bool known = found[i].status == VD_OK || found[i].status == VD_OTHER_MODEL;
        if (!known) {
            report(all->c, &found[i].fault);
        } else if (found[i].model != model || !is_named(all, found[i].address)) {
            strangers++;
            g_string_append_printf(others, "\n  %s %s at address %u", found[i].identity.product,
                                   found[i].identity.serial, found[i].address);
        }
        fine = fine && known;
    }
    if (strangers > 0) {
        report_new(all->c, vd_fault_of_WOULD_HEAR((int32_t)strangers));
        message(all->c, "Not named:%s", others->str);
    }
    fine = fine && strangers == 0;
    g_string_free(others, TRUE);
    return fine;
}

/* The addresses at which units were met behind this adapter. */
static size_t known_here(const crew *all, uint8_t known[MOST_ADDRESS])
{
    vd_past *past = g_new(vd_past, 500);
    const vd_past_query any = {.id = 0};
    size_t found = vd_history_find(remembered(all->c), &any, past, 500), count = 0;
    for (size_t i = 0; i < found && count < MOST_ADDRESS; i++) {
        bool here = past[i].at != 0 && strcmp(past[i].adapter, all->place.adapter) == 0;
        if (here && memchr(known, past[i].at, count) == NULL) {
            known[count++] = past[i].at;
        }
    }
    g_free(past);
    return count;
}

bool broadcast_is_safe(crew *all, const vd_model *model, const trace *t)
{
    cli *c = all->c;
    vd_status status = VD_OK;
    size_t count = 0;
    if (!vd_model_has_broadcast(model)) {
        char *said = g_strdup_printf("A %s receives no broadcast.", model->key);
        report_wrong_words(c, said, "Nothing was sent. Leave --at-once out: the units are written one by one then.");
        g_free(said);
        return false;
    }
    const vd_model *const *models = choose_models(c);
    while (models[count] != NULL) {
        count++;
    }
    uint32_t latency = all->place.port->kind->latency(all->place.port);
    vd_search_plan plan = vd_search_plan_of(vd_desks, models, count, &all->place.line, 1, latency);
    uint8_t known[MOST_ADDRESS];
    plan.no_lines = true;
    plan.silent_asks = 3; /* nobody may hear it who is not named, also where a question to him is lost */
    plan.remembered = known;
    plan.remembered_count = known_here(all, known);
    plan.quick_limit = MAX(plan.quick_limit, model->reply.longest * 1000u + 2u * latency);
    vd_found *found = g_new0(vd_found, MOST_ADDRESS);
    vd_search_storage search;
    if (c->options.explain) {
        message(c,
                "Every unit on the line receives a broadcast. So all %u addresses are asked first, silent ones three "
                "times.",
                MOST_ADDRESS);
    }
    vd_search_begin(vd_search_in(&search), all->place.kind->now(all->place.ground), &plan, found, MOST_ADDRESS);
    place_turn(&all->place, t, &vd_search_engine, vd_search_in(&search), show_progress, all);
    progress_show(c, "");
    bool ended = vd_search_ended(vd_search_in(&search), &status) && status == VD_OK;
    bool fine = judge(all, model, found, vd_search_count(vd_search_in(&search))) && ended;
    if (!ended) {
        vd_fault fault = {0};
        vd_fault_note(&fault, status, NULL, "", "Nothing was sent. The units are unchanged.");
        report(c, &fault);
    }
    g_free(found);
    return fine;
}

bool broadcast_holds(const crew *all, const crew_member *member, visit_wish wish)
{
    vd_step step = vd_visit_progress(member->v.engine).step;
    bool gate = wish == WISH_ASK || (wish == WISH_KEEP && step == VD_STEP_WRITE);
    return member->hears || (all->at_once && !member->passed && gate);
}

static bool is_waiting(const crew_member *member)
{
    return member->begun && !member->over;
}

/* All changes stand: they are shown unit by unit, and agreed to once. */
static void ask(crew *all, size_t waiting, const uint8_t *which, unsigned called)
{
    cli *c = all->c;
    crew_member *last = &all->members[0];
    for (size_t i = 0; i < all->count; i++) {
        if (is_waiting(&all->members[i])) {
            last = &all->members[i];
            crew_turn_to(all, last);
            asked_shows(c, &last->v);
        }
    }
    crew_turn_to(all, NULL);
    if (called > 0 && waiting > 1) {
        GPtrArray *names = g_ptr_array_new();
        for (uint16_t i = 0; i < last->v.model->setting_count; i++) {
            if (which[i] != 0) {
                g_ptr_array_add(names, (char *)last->v.model->settings[i].words->key);
            }
        }
        char *words = names_words(c, names);
        message(c, "By broadcast to %zu units: %s.", waiting, words);
        g_free(words);
        g_ptr_array_free(names, TRUE);
    } else {
        message(c, "Nothing of this fits a broadcast: written one by one.");
    }
    char *question = g_strdup_printf("Write to %zu unit%s?", waiting, waiting == 1 ? "" : "s");
    bool yes = c->options.yes || person_agrees(c, &last->v, &all->loop, question);
    g_free(question);
    for (size_t i = 0; i < all->count && yes; i++) { /* a no to one of them is a no to the broadcast */
        yes = !is_waiting(&all->members[i]) || causes_agreed(c, &all->members[i].v, &all->loop);
    }
    for (size_t i = 0; i < all->count && stops_so_far() == 0; i++) {
        if (is_waiting(&all->members[i])) {
            crew_member *member = &all->members[i];
            vd_loop_feed(&all->loop, member->v.seat, (vd_event){.kind = VD_ANSWERED, .yes = yes && !member->v.spared});
        }
    }
}

/* The records of all are kept before anything is sent; one calls, and the others wait until it has. */
static void call(crew *all, size_t waiting, const uint8_t *which, unsigned called)
{
    for (size_t i = 0; i < all->count; i++) {
        crew_member *member = &all->members[i];
        if (!is_waiting(member)) {
            continue;
        }
        vd_fault fault = {0};
        bool together = called > 0 && waiting > 1;
        member->passed = true;
        member->hears = together && all->caller != NULL;
        crew_turn_to(all, member);
        journal_write(all->c, &member->v, &fault);
        if (together) {
            vd_visit_call(member->v.engine, member->hears ? VD_HEARS_A_CALL : VD_CALLS_OUT, which);
        }
        all->caller = together && all->caller == NULL ? member : all->caller;
    }
    crew_turn_to(all, NULL);
    for (size_t i = 0; i < all->count; i++) {
        if (is_waiting(&all->members[i]) && !all->members[i].hears) {
            vd_loop_feed(&all->loop, i, (vd_event){.kind = VD_KEPT});
        }
    }
}

void broadcast_go_on(crew *all)
{
    uint8_t *which = g_malloc0(all->members[0].v.model->setting_count);
    const vd_visit **visits = g_new0(const vd_visit *, all->count);
    size_t waiting = 0;
    bool asks = false;
    for (size_t i = 0; i < all->count; i++) {
        const vd_visit *engine = all->members[i].v.engine;
        if (is_waiting(&all->members[i])) {
            visits[waiting++] = engine;
            asks = asks || vd_visit_progress(engine).step == VD_STEP_ASK;
        }
    }
    unsigned called = vd_visit_choose_call(visits, waiting, which);
    asks ? ask(all, waiting, which, called) : call(all, waiting, which, called);
    g_free(visits);
    g_free(which);
}

bool broadcast_was_heard(crew *all)
{
    if (all->caller == NULL || vd_visit_is_calling(all->caller->v.engine)) {
        return false;
    }
    all->caller = NULL;
    for (size_t i = 0; i < all->count; i++) {
        if (all->members[i].hears && is_waiting(&all->members[i])) {
            all->members[i].hears = false;
            vd_loop_feed(&all->loop, i, (vd_event){.kind = VD_KEPT});
        }
    }
    return true;
}
