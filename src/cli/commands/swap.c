/* SPDX-License-Identifier: MIT
 * verdite swap: two units change their addresses, through a free one. The same moves finish a swap that was cut off,
 * and put it back: from wherever the two are by now to where they are to be. */
#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

#define MOST_MOVES 4u
#define MOST_PLACES 8u

/* Two units, where they are, and where they are to be. */
typedef struct pair {
    const vd_model *model;
    vd_identity unit[2];
    uint32_t at[2], to[2]; /* `at` 0: not known */
    vd_served place;       /* where they were met */
    int64_t act;           /* its row, 0: none is kept */
    int64_t of;            /* the swap that it finishes or undoes */
    const char *called;
} pair;

/* ---- Where they are ---- */

/* Whoever is at an address; empty: nobody of this kind. */
static vd_identity who_is_at(cli *c, const pair *p, uint32_t address)
{
    vd_identity met = {.serial = ""};
    g_clear_pointer(&c->options.serial, g_free);
    c->options.address = (cli_number){.given = true, .value = address};
    if (!visit_finds(c, p->model, &met)) {
        met.serial[0] = '\0';
    }
    return met;
}

static void add_place(uint32_t *places, size_t *count, uint32_t address)
{
    bool known = address == 0;
    for (size_t i = 0; i < *count; i++) {
        known = known || places[i] == address;
    }
    if (!known && *count < MOST_PLACES) {
        places[(*count)++] = address;
    }
}

/* Looks for both where they may be: at the two addresses, and where their last visits left them or were to. */
static bool find_both(cli *c, pair *p)
{
    uint32_t places[MOST_PLACES] = {0};
    size_t count = 0;
    add_place(places, &count, p->to[0]);
    add_place(places, &count, p->to[1]);
    for (int i = 0; i < 2; i++) {
        vd_past last[2];
        const vd_past_query query = {.model = p->model->key, .serial = p->unit[i].serial, .writes = true};
        size_t found = vd_history_find(remembered(c), &query, last, 2);
        for (size_t k = 0; k < found; k++) {
            add_place(places, &count, last[k].to.address);
            add_place(places, &count, last[k].from.address);
        }
    }
    p->at[0] = p->at[1] = 0;
    for (size_t k = 0; k < count && c->worst <= VD_CLASS_PARTLY && (p->at[0] == 0 || p->at[1] == 0); k++) {
        vd_identity met = who_is_at(c, p, places[k]);
        for (int i = 0; i < 2; i++) {
            p->at[i] = met.serial[0] != '\0' && strcmp(met.serial, p->unit[i].serial) == 0 ? places[k] : p->at[i];
        }
    }
    for (int i = 0; i < 2; i++) {
        if (p->at[i] == 0 && c->worst <= VD_CLASS_PARTLY) {
            report_new(c, vd_fault_of_NOT_THERE(p->unit[i].serial, "any address that it had"));
        }
    }
    return p->at[0] != 0 && p->at[1] != 0;
}

/* The highest address at which nobody answers, 0: there is none within reach. */
static uint32_t find_free(cli *c, const pair *p)
{
    unsigned tries = 0;
    for (uint32_t address = p->model->address_high; address >= p->model->address_low && address > 0 && tries < 5;
         address--) {
        if (address == p->to[0] || address == p->to[1] || address == p->model->address_factory) {
            continue;
        }
        tries++;
        if (who_is_at(c, p, address).product[0] == '\0' && c->worst <= VD_CLASS_PARTLY) {
            return address;
        }
    }
    report_wrong_words(c, "No free address was found. Nothing was sent.", "Give one of the two a free address first.");
    return 0;
}

/* ---- Moving ---- */

/* One leg. False: the unit is not known to be there now. */
static bool move(cli *c, pair *p, int i, uint32_t to)
{
    char *address = g_strdup_printf("%u", to);
    char *words[] = {change_of_role(c, p->model, VD_ROLE_ADDRESS, "address", address), NULL};
    const visit_task leg = {.called = p->called, .of = p->act, .leg = p->act != 0};
    message(c, "== %s from %u to %u", p->unit[i].serial, p->at[i], to);
    g_free(c->options.serial);
    c->options.serial = g_strdup(p->unit[i].serial);
    c->options.address = (cli_number){.given = true, .value = p->at[i]};
    changes_write(c, p->model, words, &leg);
    bool moved = c->worst == VD_CLASS_FINE || c->worst == VD_CLASS_PARTLY;
    p->at[i] = moved ? to : p->at[i];
    c->options.yes = c->options.yes || moved; /* it is one job */
    g_free(words[0]);
    g_free(address);
    return moved;
}

static bool is_done(const pair *p)
{
    return p->at[0] == p->to[0] && p->at[1] == p->to[1];
}

/* Moves whoever can go to where he is to be; where each stands in the other's way, the first goes by a free address. */
static bool move_both(cli *c, pair *p)
{
    bool fine = true;
    for (unsigned moves = 0; fine && !is_done(p) && moves < MOST_MOVES; moves++) {
        int i = p->at[0] == p->to[0] || p->at[1] == p->to[0] ? 1 : 0;
        bool blocked = p->at[1 - i] == p->to[i];
        uint32_t to = blocked ? find_free(c, p) : p->to[i];
        i = blocked ? 0 : i;
        fine = to != 0 && move(c, p, i, to);
    }
    return fine && is_done(p);
}

/* ---- The act ---- */

static bool begin_act(cli *c, pair *p)
{
    vd_fault fault = {0};
    vd_act act = {.model = p->model->key, .unit = p->unit[0], .other = p->unit[1]};
    vd_served_recall(remembered(c), p->model->key, NULL, &p->place);
    act.from = (vd_link){p->place.line, (uint8_t)p->to[1]};
    act.to = (vd_link){p->place.line, (uint8_t)p->to[0]};
    const vd_occasion occasion = {.task = p->called,
                                  .port = p->place.port,
                                  .adapter = p->place.adapter,
                                  .who = g_get_user_name(),
                                  .remark = c->options.remark,
                                  .line = c->options.line,
                                  .now = now_of_day(),
                                  .of = p->of};
    if (remembered(c) == NULL || vd_history_begin_act(remembered(c), &act, &occasion, &p->act, &fault) == VD_OK) {
        return true;
    }
    report_new(c, vd_fault_of_NOT_KEPT(fault.said));
    return false;
}

static vd_class do_swap(cli *c, pair *p)
{
    c->address_typed = true;
    if (!begin_act(c, p)) {
        return c->worst;
    }
    bool done = move_both(c, p);
    vd_fault fault = {0};
    if (p->act != 0) {
        vd_history_end_act(remembered(c), p->act,
                           done ? c->worst == VD_CLASS_FINE ? VD_WHOLE_VERIFIED : VD_WHOLE_LIVE_ONLY : VD_WHOLE_NOT,
                           done, now_of_day(), &fault);
    }
    message(c, "%s: %s is at %u, %s at %u.", done ? "Done" : "Half done", p->unit[0].serial, p->at[0],
            p->unit[1].serial, p->at[1]);
    if (!done && p->act != 0) {
        message(c, "Next: verdite finish (goes on), or verdite undo %" G_GINT64_FORMAT " (puts both back).", p->act);
    }
    return c->worst;
}

vd_class swap_go_on(cli *c, const vd_past *past, bool back)
{
    pair p = {.model = choose_model_named(c, past->model), .of = past->id, .called = back ? "undo" : "finish"};
    if (p.model == NULL) {
        return c->worst;
    }
    p.unit[0] = p.unit[1] = past->unit;
    g_strlcpy(p.unit[1].serial, past->other, sizeof p.unit[1].serial);
    p.to[0] = back ? past->from.address : past->to.address;
    p.to[1] = back ? past->to.address : past->from.address;
    if (!c->options.baud.given && !c->options.framing.given) {
        c->options.baud = (cli_number){.given = true, .value = past->from.line.baud};
        c->options.framing = (cli_framing){.given = true, .line = past->from.line};
    }
    return find_both(c, &p) ? do_swap(c, &p) : c->worst;
}

static bool parse_two(cli *c, uint32_t address[2])
{
    for (int i = 0; i < 2; i++) {
        guint64 number = 0;
        if (!g_ascii_string_to_unsigned(c->options.words[i], 10, 1, 247, &number, NULL)) {
            char *said = g_strdup_printf("\"%s\" is not an address.", c->options.words[i]);
            report_wrong_words(c, said, "Give two numbers from 1 to 247.");
            g_free(said);
            return false;
        }
        address[i] = (uint32_t)number;
    }
    if (address[0] == address[1]) {
        report_wrong_words(c, "The two addresses are the same.", "Give the addresses of two units.");
    }
    return address[0] != address[1];
}

vd_class command_swap(cli *c)
{
    pair p = {.called = "swap"};
    if (!parse_two(c, p.at)) {
        return c->worst;
    }
    c->options.address = (cli_number){.given = true, .value = p.at[0]};
    p.model = meet_model(c);
    char *word = p.model != NULL ? change_of_role(c, p.model, VD_ROLE_ADDRESS, "address", "") : NULL;
    bool there = word != NULL;
    g_free(word);
    for (int i = 0; i < 2 && there; i++) {
        p.unit[i] = who_is_at(c, &p, p.at[i]);
        there = p.unit[i].product[0] != '\0';
        if (!there && c->worst == VD_CLASS_FINE) {
            char *where = g_strdup_printf("address %u", p.at[i]);
            report_new(c, vd_fault_of_NOT_THERE("A unit of this model", where));
            g_free(where);
        }
    }
    if (!there) {
        return c->worst;
    }
    p.to[0] = p.at[1];
    p.to[1] = p.at[0];
    return do_swap(c, &p);
}
