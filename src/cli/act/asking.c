/* SPDX-License-Identifier: MIT
 * What the person is asked before the first byte of a change, and what --yes answers. */
#include "act.h"
#include "../print/print.h"

#include <string.h>

/* Who is being written, where the place was told already: "dowel QD-24003". */
static char *name_words(const visit *v)
{
    const vd_identity *met = vd_visit_identity(v->engine);
    return g_strdup_printf("%s%s%s", met->product, met->serial[0] != '\0' ? " " : "", met->serial);
}

/* Whether it is beyond doubt which unit --yes is about. What was remembered of an earlier unit is not. */
static bool is_meant(const cli *c, const visit *v, const visit_task *task)
{
    const vd_identity *met = vd_visit_identity(v->engine);
    bool from_it = task->read_from != NULL && task->read_from->serial[0] != '\0' &&
                   strcmp(task->read_from->serial, met->serial) == 0;
    return !vd_model_has_address(v->model) || v->model->address_low == v->model->address_high || c->address_typed ||
           c->options.serial != NULL || from_it;
}

/* What an action destroys, as the word that agrees to it; NULL: nothing. */
static const char *destroyed_by(const vd_action *action)
{
    return action == NULL                     ? NULL
           : action->deed == VD_DEED_DEFAULTS ? "settings"
           : action->deed == VD_DEED_CLEAR    ? "memory"
                                              : NULL;
}

/* What cannot be undone is agreed to by a word that names it; --yes does not. */
static bool agrees_to_destroy(cli *c, visit *v, vd_loop *loop, const char *unit, const char *what)
{
    if (c->options.destroy != NULL) {
        bool right = strcmp(c->options.destroy, what) == 0;
        if (!right) {
            char *said = g_strdup_printf("--destroy %s does not name what this destroys.", c->options.destroy);
            char *allowed = g_strdup_printf("Nothing was sent. It would be --destroy %s.", what);
            report_wrong_words(c, said, allowed);
            g_free(allowed);
            g_free(said);
        }
        return right;
    }
    if (c->options.yes) {
        char *said = g_strdup_printf("--yes is not enough: this destroys the %s of %s.", what, unit);
        char *allowed = g_strdup_printf("Nothing was sent. To mean it, add --destroy %s.", what);
        report_wrong_words(c, said, allowed);
        g_free(allowed);
        g_free(said);
        return false;
    }
    char *question = g_strdup_printf("This destroys the %s of %s. To agree, type %s:", what, unit, what);
    bool typed = person_types(c, v, loop, question, what);
    g_free(question);
    return typed;
}

static char *question_words(const visit *v, const visit_task *task)
{
    unsigned count = 0;
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        count += vd_visit_changes(v->engine, i);
    }
    char *unit = name_words(v);
    const char *plural = count == 1 ? "" : "s", *them = count == 1 ? "it" : "them";
    const char *store = v->model->store.needed ? " and store " : "";
    char *words = task->task == VD_TASK_TELL ? g_strdup_printf("Send %u setting%s to every unit at address %u?", count,
                                                               plural, v->place.address)
                  : task->action != NULL     ? g_strdup_printf("%s: %s?", task->action->label, unit)
                  : count > 0 ? g_strdup_printf("Write %u setting%s to %s%s%s?", count, plural, unit, store,
                                                v->model->store.needed ? them : "")
                              : g_strdup_printf("Store what is live in %s?", unit);
    g_free(unit);
    return words;
}

static bool agrees(cli *c, visit *v, vd_loop *loop)
{
    const visit_task *task = v->task;
    const char *what = destroyed_by(task->action);
    char *unit = unit_words(v);
    bool yes = c->options.yes || (what != NULL && c->options.destroy != NULL);
    if (yes && !is_meant(c, v, task)) {
        char *said = g_strdup_printf(
            "--yes needs to know which unit: the address of %s was remembered or is the factory's.", unit);
        report_wrong_words(c, said, "Nothing was sent. Add --address or --serial.");
        g_free(said);
        yes = false;
    } else if (what != NULL) {
        yes = agrees_to_destroy(c, v, loop, unit, what);
    } else if (!yes) {
        char *question = question_words(v, task);
        yes = person_agrees(c, v, loop, question);
        g_free(question);
    }
    g_free(unit);
    return yes;
}

/* Of what the target says, what differs and is not asked for, since only a group is. */
static void show_unsent(const cli *c, visit *v)
{
    const visit_task *task = v->task;
    GPtrArray *names = g_ptr_array_new();
    for (uint16_t i = 0; task->which != NULL && i < v->model->setting_count; i++) {
        if (task->which[i] == 0 && v->model->settings[i].access != VD_READ_ONLY &&
            vd_set_compare(vd_visit_live(v->engine), task->target, i) == VD_DIFFERENT) {
            g_ptr_array_add(names, (char *)v->model->settings[i].words->key);
        }
    }
    char *words = names_words(c, names), *line = g_strdup_printf("Skipped, of other groups: %s.", words);
    if (names->len > 0 && changes_are_news(&v->shown, line)) {
        message(c, "%s", line);
    }
    g_free(line);
    g_free(words);
    g_ptr_array_free(names, TRUE);
}

/* What a profile of another unit means for this one. */
static void show_origin(cli *c, visit *v)
{
    const vd_identity *met = vd_visit_identity(v->engine), *from = v->task->read_from;
    bool other =
        from != NULL && from->serial[0] != '\0' && met->serial[0] != '\0' && strcmp(from->serial, met->serial) != 0;
    if (other && !changes_tell_left_out(c, v->engine, from->serial, &v->shown) &&
        changes_are_news(&v->shown, from->serial)) {
        message(c, "note: This file was read from another unit, %s.", from->serial);
    }
}

/* Where the person looks, who was met stands above what will change; elsewhere above what came of it. */
static void show_unit(const cli *c, visit *v)
{
    if (v->among_others || !c->live_messages) {
        return;
    }
    if (screen_is_whole(c)) {
        show_title(c, v);
    } else {
        char *words = unit_words(v);
        message(c, "%s", words);
        g_free(words);
    }
}

bool asked_shows(cli *c, visit *v)
{
    v->spared = c->options.yes && v->task->action == NULL && proof_stands(c, v);
    const char *speaker = c->speaker;
    v->shown.first = v->shown.told != NULL && changes_are_news(&v->shown, "");
    if (!v->spared) {
        show_unit(c, v);
        c->speaker = v->shown.first ? NULL : speaker;
        show_unsent(c, v);
        show_origin(c, v);
        changes_tell_idle(c, v->engine, &v->shown);
        c->speaker = speaker;
        v->task->show_changes(c, v->engine, &v->shown);
    }
    return !v->spared && journal_judge_others(c, v);
}

/* Whether the port can follow the unit to the line setting that it is to have. Who has an address is looked for there
 * before; who has none has the line alone. */
static bool can_follow(cli *c, const visit *v, vd_loop *loop)
{
    const vd_link *to = vd_visit_new_link(v->engine);
    vd_status status = to != NULL && !vd_model_has_address(v->model) ? vd_loop_try_line(loop, 0, &to->line) : VD_OK;
    if (status != VD_OK) {
        vd_fault fault = {0};
        vd_serial_refuse(&to->line, "Nothing was sent: the unit could not be reached there.", &fault);
        report(c, &fault);
    }
    return status == VD_OK;
}

void asked_to_go_on(cli *c, visit *v, vd_loop *loop)
{
    vd_class before = c->worst;
    bool yes = asked_shows(c, v) && can_follow(c, v, loop) && agrees(c, v, loop) && causes_agreed(c, v, loop);
    v->told_why = !yes && c->worst > before;
    if (stops_so_far() == 0) {
        vd_loop_feed(loop, v->seat, (vd_event){.kind = VD_ANSWERED, .yes = yes});
    }
}
