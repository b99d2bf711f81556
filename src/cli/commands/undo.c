/* SPDX-License-Identifier: MIT
 * verdite finish, verdite undo: goes on with a visit that was cut off, or puts back what a unit held before one. Both
 * are writes like any other. */
#include <string.h>

#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

#define MOST_LINKS 6u

/* What is kept of a visit. */
typedef struct kept {
    vd_past past;
    const vd_model *model;
    void *memory;
    vd_set before, wanted, after;
    uint16_t *about;
    size_t left; /* values that could not be taken */
} kept;

static bool load(cli *c, kept *k)
{
    k->model = choose_model_named(c, k->past.model);
    if (k->model == NULL) {
        return false;
    }
    size_t size = vd_set_size(k->model);
    k->memory = g_malloc0(3 * size);
    k->about = g_new0(uint16_t, k->model->setting_count);
    vd_set_start(&k->before, k->model, k->memory, size);
    vd_set_start(&k->wanted, k->model, (char *)k->memory + size, size);
    vd_set_start(&k->after, k->model, (char *)k->memory + 2 * size, size);
    k->left = vd_history_values(remembered(c), k->past.id, &k->before, &k->wanted, &k->after, k->about);
    if (k->left > 0) {
        message(c, "note: %zu recorded values are skipped: the model no longer allows or knows them.", k->left);
        c->worst = MAX(c->worst, VD_CLASS_PARTLY);
    }
    return true;
}

static void drop(kept *k)
{
    if (k->memory != NULL) {
        vd_wipe(k->memory, 3 * vd_set_size(k->model));
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
    if (options->onto != NULL) {
        g_free(options->serial);
        options->serial = g_strdup(options->onto);
    } else if (options->serial == NULL && past->unit.serial[0] != '\0') {
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
    const vd_past_query query = {.model = c->model_key, .serial = c->options.serial, .open = true, .acts = true};
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
        message(c, "%s is secret and was not recorded.", setting->words->key);
        secret *given = secret_of_person(c, setting->words->key);
        if (given != NULL &&
            vd_setting_parse(setting, secret_text(given), strlen(secret_text(given)), &typed, &fault) == VD_OK) {
            vd_set_put(&k->wanted, i, &typed.value);
        } else {
            message(c, "%s is skipped: its value stays unknown.", setting->words->key);
        }
        vd_wipe(&typed, sizeof typed);
        secret_free(given);
    }
}

/* Why a setting cannot be put back; NULL: it can. */
static char *why_not(const kept *k, uint16_t i)
{
    const vd_setting *setting = &k->model->settings[i];
    const vd_cause *for_good = vd_causes_find(&setting->causes, VD_EFFECT_FOR_GOOD);
    vd_value value = vd_set_get(&k->before, i);
    bool known = vd_set_knows(&k->before, i);
    vd_status status = known ? vd_set_check(&k->before, i, NULL) : VD_OK;
    if (status == VD_IDLE_HERE) {
        status = vd_set_check_value(&k->before, i, &value, NULL);
    }
    bool refused = status != VD_OK && vd_status_class(status) != VD_CLASS_PARTLY;
    return vd_setting_is(setting, VD_TYPE_RUNS) ? g_strdup("it has counted on since")
           : !known && setting->secret          ? g_strdup("it is secret and was not recorded")
           : !known                             ? g_strdup("it was not read before")
           : for_good != NULL                   ? g_strdup(for_good->help)
           : refused                            ? g_strdup("the model does not allow the earlier value")
                                                : NULL;
}

/* What is put back: what that visit changed, and what came along; all of it where that was asked for, or is not known.
 * What cannot be is told and left out; the keys of what that visit changed of these are returned. Owned by the caller.
 */
static char *choose(cli *c, kept *k, bool all)
{
    GString *cannot = g_string_new("");
    for (uint16_t i = 0; i < k->model->setting_count; i++) {
        const vd_setting *setting = &k->model->settings[i];
        bool changed = (k->about[i] & VD_PAST_CHANGES) != 0;
        bool moved = (k->about[i] & VD_PAST_ALONG) != 0 || vd_set_compare(&k->before, &k->after, i) == VD_DIFFERENT;
        char *why = setting->access != VD_READ_ONLY ? why_not(k, i) : NULL;
        if (changed && why != NULL) {
            message(c, "Cannot be undone: %s: %s%s", setting->words->key, why, g_str_has_suffix(why, ".") ? "" : ".");
            g_string_append_printf(cannot, "%s%s", cannot->len > 0 ? ", " : "", setting->words->key);
        }
        if (why != NULL || setting->access == VD_READ_ONLY || !(all || changed || moved)) {
            vd_set_forget(&k->before, i);
        }
        g_free(why);
    }
    return g_string_free(cannot, cannot->len == 0);
}

static vd_class write_back(cli *c, kept *k, bool undoes, const char *cannot)
{
    const visit_task task = {.task = VD_TASK_WRITE,
                             .target = undoes ? &k->before : &k->wanted,
                             .read_from = &k->past.unit,
                             .called = undoes ? "undo" : "finish",
                             .of = k->past.id,
                             .puts_back = undoes,
                             .cannot = cannot,
                             .show_changes = changes_show};
    if (!meet_again(c, k)) {
        return c->worst;
    }
    visit v;
    visit_do(c, &v, k->model, &task);
    bool breaks = v.status == VD_RULE_BROKEN;
    judged_show(c, &v);
    visit_free(&v);
    if (undoes && !c->options.all && breaks) {
        message(c,
                "Together with later changes this breaks a rule. To put back the whole earlier state: verdite undo "
                "%" G_GINT64_FORMAT " --all",
                k->past.id);
    }
    return c->worst;
}

vd_class command_finish(cli *c)
{
    kept k = {.memory = NULL};
    const char *serial = c->options.serial;
    if (!remembers(c)) {
        return c->worst;
    }
    if (!find_open(c, &k.past)) {
        return report_new(c, vd_fault_of_NOTHING_CUT_OFF(serial != NULL ? serial : "any unit"));
    }
    tell_which(c, &k, "Finishing");
    if (k.past.other[0] != '\0') {
        return swap_go_on(c, &k.past, false);
    }
    if (load(c, &k)) {
        ask_secrets(c, &k);
        write_back(c, &k, false, NULL);
    }
    drop(&k);
    return c->worst;
}

/* The last visit that changed something by what is kept; what raw sent is not. */
static bool find_last(cli *c, const vd_past_query *query, vd_past *past)
{
    vd_past *found = g_new(vd_past, 50);
    size_t count = vd_history_find(remembered(c), query, found, 50), at = 0;
    while (at < count && strcmp(found[at].task, "raw") == 0) {
        at++;
    }
    if (at > 0) {
        message(c, "note: raw has sent something since (visit %" G_GINT64_FORMAT "). It cannot be undone.",
                found[0].id);
    }
    *past = at < count ? found[at] : *past;
    g_free(found);
    return at < count;
}

/* Without a word: what was cut off, else the last visit that changed the unit that answers. */
static bool find_to_undo(cli *c, vd_past *past)
{
    char **words = c->options.words;
    if (words != NULL && words[0] != NULL) {
        /* Whose a visit was is judged once it is known; a day is looked up among those of the unit that is meant. */
        bool numbered = g_ascii_isdigit(words[0][0]) && strchr(words[0], '-') == NULL;
        return past_named(c, words[0], c->model_key, numbered ? NULL : c->options.serial, past);
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
            met = *vd_visit_identity(v.engine);
        }
        visit_free(&v);
    }
    const char *serial = c->options.serial != NULL ? c->options.serial : met.serial;
    const vd_past_query query = {
        .model = model != NULL ? model->key : c->model_key, .serial = serial, .writes = true, .acts = true};
    bool found = c->worst == VD_CLASS_FINE && find_last(c, &query, past);
    if (!found && c->worst == VD_CLASS_FINE) {
        report_new(c, vd_fault_of_NO_SUCH_VISIT("A change of this unit", "All visits: verdite history"));
    }
    return found;
}

static bool is_empty(const vd_set *set)
{
    bool any = false;
    for (uint16_t i = 0; i < set->model->setting_count; i++) {
        any = any || vd_set_heard(set, i);
    }
    return !any;
}

/* Nothing is left that could be put back; `cannot`: what could not, NULL: that visit changed nothing. */
static void tell_nothing(cli *c, const char *cannot)
{
    json_object_set_new(c->result, "outcome", json_string(cannot != NULL ? "not-undone" : "nothing-changed"));
    if (cannot == NULL) {
        message(c, "That visit changed nothing. There is nothing to undo.");
        return;
    }
    char *rest = g_strdup_printf("%s. Nothing was sent.", cannot);
    if (!c->options.json) {
        lead_print(c, TONE_BAD, "NOT UNDONE:", "", rest);
    }
    g_free(rest);
    c->worst = MAX(c->worst, VD_CLASS_NOT_VERIFIED);
}

/* A state goes back to the unit that it is of. Where that has no number a person must say that it is here; and onto
 * another one only where that is named. */
static bool is_the_one(cli *c, const vd_past *past)
{
    bool said = c->options.onto != NULL ||
                (c->options.agree != NULL && g_strv_contains((const char *const *)c->options.agree, "same-unit"));
    const char *serial = c->options.serial, *of = past->unit.serial;
    if (of[0] == '\0' && !said) {
        report_wrong_words(
            c, "That visit was to a unit without a serial number. This may be another one. Nothing was sent.",
            "If it is the same unit, add --agree same-unit. For another unit, add --onto SERIAL.");
        return false;
    }
    if (of[0] != '\0' && serial != NULL && c->options.onto == NULL && strcmp(serial, of) != 0) {
        char *what = g_strdup_printf("That visit was to %s, not to %s.", of, serial);
        report_wrong_words(c, what, "Nothing was sent. To put its state into another unit: --onto SERIAL.");
        g_free(what);
        return false;
    }
    return true;
}

vd_class command_undo(cli *c)
{
    kept k = {.memory = NULL};
    if (!remembers(c) || !find_to_undo(c, &k.past) || !is_the_one(c, &k.past)) {
        return c->worst;
    }
    tell_which(c, &k, "Undoing");
    if (k.past.other[0] != '\0') {
        return swap_go_on(c, &k.past, true);
    }
    if (strcmp(k.past.task, "raw") == 0) {
        return report_wrong_words(c, "What raw sent cannot be undone: the state before is not recorded.",
                                  "Visits that can: verdite history");
    }
    if (load(c, &k)) {
        bool all = c->options.all || k.past.changes < 0 || c->options.onto != NULL;
        char *cannot = choose(c, &k, all);
        if (is_empty(&k.before)) {
            tell_nothing(c, cannot);
        } else {
            write_back(c, &k, true, cannot);
        }
        g_free(cannot);
    }
    drop(&k);
    return c->worst;
}
