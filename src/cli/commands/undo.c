/* SPDX-License-Identifier: MIT
 * verdite finish, verdite undo: goes on with a visit that was cut off, or puts back what a unit held before one. Both
 * are writes like any other. */
#include <string.h>

#include "../journal.h"
#include "../secret.h"

#define MOST_LINKS 6u

/* What is kept of a visit. */
typedef struct kept {
    vd_past past;
    const vd_model *model;
    void *memory;
    vd_set before, wanted;
    uint16_t *about;
} kept;

static bool load(cli *c, kept *k)
{
    k->model = choose_model_named(c, k->past.model);
    if (k->model == NULL) {
        return false;
    }
    size_t size = vd_set_size(k->model);
    k->memory = g_malloc0(2 * size);
    k->about = g_new0(uint16_t, k->model->setting_count);
    vd_set_start(&k->before, k->model, k->memory, size);
    vd_set_start(&k->wanted, k->model, (char *)k->memory + size, size);
    size_t left = vd_history_values(remembered(c), k->past.id, &k->before, &k->wanted, NULL, k->about);
    if (left > 0) {
        message(c, "note: %zu of what is kept the model knows no longer; it is left out.", left);
    }
    return true;
}

static void drop(kept *k)
{
    if (k->memory != NULL) {
        vd_wipe(k->memory, 2 * vd_set_size(k->model));
    }
    g_free(k->memory);
    g_free(k->about);
}

/* ---- Where the unit is ---- */

static void aim(cli *c, const cli_options *typed, const vd_past *past, const vd_link *link)
{
    cli_options *options = &c->options;
    options->address =
        typed->address.given ? typed->address : (cli_number){.given = link->address != 0, .value = link->address};
    if (!typed->baud.given && !typed->framing.given) {
        options->baud = (cli_number){.given = true, .value = link->line.baud};
        options->framing = (cli_framing){.given = true, .line = link->line};
    }
    if (options->serial == NULL && past->unit.serial[0] != '\0') {
        options->serial = g_strdup(past->unit.serial);
    }
}

/* Where it was met last, where that visit was to take it, and where it was then. */
static size_t links_of(cli *c, const kept *k, vd_link *links)
{
    vd_past last = k->past;
    const vd_link usual = {k->model->line, k->model->address_factory}; /* an older Verdite did not keep where it was */
    const vd_past_query query = {.model = k->past.model, .serial = k->past.unit.serial};
    if (k->past.unit.serial[0] != '\0') {
        vd_history_find(remembered(c), &query, &last, 1);
    }
    const vd_link all[MOST_LINKS] = {last.to,
                                     last.from,
                                     k->past.to,
                                     k->past.from,
                                     {k->past.from.line, k->past.to.address}, /* only a part of it took force */
                                     {k->past.to.line, k->past.from.address}};
    size_t count = 0;
    for (size_t i = 0; i < G_N_ELEMENTS(all); i++) {
        count = vd_link_add(links, count, all[i].line.baud != 0 ? &all[i] : &usual);
    }
    return count;
}

/* Looks for the unit where it may be by now. False: it does not answer, or something else is in the way. */
static bool meet_again(cli *c, const kept *k)
{
    const cli_options typed = c->options;
    vd_link links[MOST_LINKS];
    size_t count = typed.address.given ? 1 : links_of(c, k, links);
    if (typed.address.given) {
        links[0] =
            (vd_link){k->past.to.line.baud != 0 ? k->past.to.line : k->model->line, (uint8_t)typed.address.value};
    }
    GString *tried = g_string_new("");
    bool met = false;
    for (size_t i = 0; i < count && !met && c->worst == VD_CLASS_FINE; i++) {
        char words[64];
        vd_writer writer = vd_writer_start(words, sizeof words);
        aim(c, &typed, &k->past, &links[i]);
        met = visit_finds(c, k->model, NULL);
        vd_link_print(&links[i], &writer);
        g_string_append_printf(tried, "%s%s", i > 0 ? ", nor at " : "", words);
    }
    if (!met && c->worst == VD_CLASS_FINE) {
        char *unit = g_strdup_printf("%s %s", k->past.model, k->past.unit.serial);
        report_new(c, vd_fault_of_NOT_THERE(unit, tried->str));
        g_free(unit);
    }
    g_string_free(tried, TRUE);
    return met;
}

/* ---- Which visit ---- */

/* The last one that is open: of the unit that was named, behind the port or at the address that was named, or of all.
 */
static bool find_open(cli *c, vd_past *past)
{
    vd_past *found = g_new(vd_past, 50);
    const vd_past_query query = {.model = c->model_key, .serial = c->options.serial, .open = true};
    size_t count = vd_history_find(remembered(c), &query, found, 50);
    bool any = false;
    for (size_t i = 0; i < count && !any; i++) {
        uint32_t address = c->options.address.value;
        bool there = found[i].to.address == address || found[i].from.address == address;
        any = (c->options.port == NULL || strcmp(found[i].port, c->options.port) == 0) &&
              (!c->options.address.given || there);
        *past = found[i];
    }
    g_free(found);
    return any;
}

static void tell_which(cli *c, const kept *k, const char *what)
{
    char *when = time_words(k->past.began);
    message(c, "%s visit %" G_GINT64_FORMAT " to %s %s, %s.", what, k->past.id, k->past.model,
            k->past.unit.serial[0] != '\0' ? k->past.unit.serial : "without a serial number", when);
    if (k->past.unit.serial[0] == '\0') {
        message(c, "It says no serial number: make sure that the unit here is the same one.");
    }
    g_free(when);
}

/* ---- What cannot be had again ---- */

/* Secrets were not kept: they are asked for, and left out where nothing is given. */
static void ask_secrets(cli *c, kept *k)
{
    for (uint16_t i = 0; i < k->model->setting_count; i++) {
        const vd_setting *setting = &k->model->settings[i];
        bool lost = (k->about[i] & VD_PAST_SECRET) != 0 && (k->about[i] & VD_PAST_ASKED) != 0;
        vd_typed typed;
        vd_fault fault = {0};
        if (!lost) {
            continue;
        }
        message(c, "%s is secret, and was not kept.", setting->key);
        secret *given = secret_of_person(c, setting->key);
        if (given != NULL &&
            vd_value_parse(setting, secret_text(given), strlen(secret_text(given)), &typed, &fault) == VD_OK) {
            vd_set_put(&k->wanted, i, &typed.value);
        } else {
            message(c, "%s is left out: what it holds stays unknown.", setting->key);
        }
        vd_wipe(&typed, sizeof typed);
        secret_free(given);
    }
}

/* Tells what that visit changed and nothing can put back; takes it out. */
static void leave_out(cli *c, kept *k)
{
    for (uint16_t i = 0; i < k->model->setting_count; i++) {
        const vd_setting *setting = &k->model->settings[i];
        bool changed = (k->about[i] & VD_PAST_CHANGES) != 0, known = vd_set_knows(&k->before, i);
        vd_status status = known ? vd_set_check(&k->before, i, NULL) : VD_OK;
        const vd_cause *for_good = vd_causes_find(&setting->causes, VD_EFFECT_FOR_GOOD);
        bool refused = known && status != VD_OK && vd_status_class(status) != VD_CLASS_PARTLY;
        if (changed && setting->type == VD_CLOCK) {
            message(c, "Cannot be put back: %s, which has gone on since.", setting->key);
        } else if (changed && !known) {
            message(c, "Cannot be put back: %s, %s.", setting->key,
                    setting->secret ? "which is secret and was not kept" : "which could not be read before");
        } else if (changed && for_good != NULL) {
            message(c, "Cannot be put back: %s. %s", setting->key, for_good->help);
        } else if (changed && refused) {
            message(c, "Cannot be put back: %s, since the model refuses what it held.", setting->key);
        }
        bool counted = setting->type == VD_COUNTER && !changed; /* it only went on */
        if (refused || counted || for_good != NULL || setting->access == VD_READ_ONLY) {
            vd_set_forget(&k->before, i);
        }
    }
}

static vd_class write_back(cli *c, kept *k, bool undoes)
{
    const visit_task task = {.task = VD_TASK_WRITE,
                             .target = undoes ? &k->before : &k->wanted,
                             .read_from = &k->past.unit,
                             .called = undoes ? "undo" : "finish",
                             .of = k->past.id,
                             .show_changes = changes_show};
    return meet_again(c, k) ? visit_judged(c, k->model, &task) : c->worst;
}

vd_class command_finish(cli *c)
{
    kept k = {.memory = NULL};
    const char *serial = c->options.serial;
    if (!find_open(c, &k.past)) {
        return report_new(c, vd_fault_of_NOTHING_CUT_OFF(serial != NULL ? serial : "any unit"));
    }
    tell_which(c, &k, "Going on with");
    if (load(c, &k)) {
        ask_secrets(c, &k);
        write_back(c, &k, false);
    }
    drop(&k);
    return c->worst;
}

/* Without a word: what was cut off, else the last visit that changed the unit that answers. */
static bool find_to_undo(cli *c, vd_past *past)
{
    char **words = c->options.words;
    if (words != NULL && words[0] != NULL) {
        return past_named(c, words[0], c->model_key, c->options.serial, past);
    }
    if (find_open(c, past)) {
        return true;
    }
    vd_identity met = {.serial = ""};
    const vd_model *model = c->options.serial == NULL ? meet_model(c) : NULL;
    if (model != NULL) {
        visit v = {0};
        const visit_task task = {.task = VD_TASK_IDENTIFY};
        if (visit_do(c, &v, model, &task)) {
            met = *vd_visit_identity(&v.engine);
        }
        visit_free(&v);
    }
    const char *serial = c->options.serial != NULL ? c->options.serial : met.serial;
    const vd_past_query query = {.model = model != NULL ? model->key : c->model_key, .serial = serial, .writes = true};
    bool found = c->worst == VD_CLASS_FINE && vd_history_find(remembered(c), &query, past, 1) == 1;
    if (!found && c->worst == VD_CLASS_FINE) {
        report_new(c, vd_fault_of_NO_SUCH_VISIT("that changed this unit", "verdite history shows all."));
    }
    return found;
}

vd_class command_undo(cli *c)
{
    kept k = {.memory = NULL};
    if (find_to_undo(c, &k.past)) {
        tell_which(c, &k, "Putting back what was before");
        if (load(c, &k)) {
            leave_out(c, &k);
            write_back(c, &k, true);
        }
    }
    drop(&k);
    return c->worst;
}
