/* SPDX-License-Identifier: MIT
 * A visit in the store: the claim on its unit, the state before, each step, the end; and what an earlier one left open.
 */
#include "act.h"
#include "../print/print.h"

#include <string.h>

#define LOOK_BACK 1000u /* visits */

int64_t now_of_day(void)
{
    return g_get_real_time() / 1000;
}

bool journal_claim(cli *c, visit *v)
{
    const vd_identity *met = vd_visit_identity(v->engine);
    char *holder = NULL;
    if (v->claim != NULL || v->place.bench != NULL || met->serial[0] == '\0') {
        return true; /* a bench is locked as a whole; who has no number is known by his port */
    }
    char *unit = g_strdup_printf("%s %s", v->model->key, met->serial);
    char *who = g_strdup_printf("%s %s", c->program->name, c->command->name);
    v->claim = vd_claim_take(unit, who, &holder);
    if (holder != NULL) {
        v->held_up = vd_fault_of_UNIT_BUSY(unit, holder);
    }
    g_free(holder);
    g_free(who);
    g_free(unit);
    return v->held_up.status == VD_OK;
}

static bool is_same_unit(const vd_past *a, const vd_past *b)
{
    return strcmp(a->unit.serial, b->unit.serial) == 0 && strcmp(a->model, b->model) == 0;
}

/* Whether no later visit has read the unit back, at whatever address. */
static bool is_last_of_unit(const vd_past *all, size_t at)
{
    for (size_t i = 0; i < at; i++) {
        if (is_same_unit(&all[i], &all[at]) && all[i].at != 0) {
            return false;
        }
    }
    return true;
}

/* What its line was called last, "" where it never was. */
static const char *line_of(const vd_past *all, size_t count, size_t at)
{
    for (size_t i = at; i < count; i++) {
        if (is_same_unit(&all[i], &all[at]) && all[i].line[0] != '\0') {
            return all[i].line;
        }
    }
    return "";
}

/* What the fitter calls the line of a visit, NULL: nothing. */
static const char *line_called(const cli *c, const visit *v)
{
    return v->task->line != NULL && v->task->line[0] != '\0' ? v->task->line : c->options.line;
}

/* Another unit had the new address. Where its line is known to be this one, that is refused; where both are known to be
 * different, it is no matter; else it is told, if it was behind this adapter, which may serve many lines. */
static bool judge_other(cli *c, const visit *v, const vd_past *other, const char *line)
{
    const char *ours = line_called(c, v) != NULL ? line_called(c, v) : "";
    uint8_t address = other->at;
    if (ours[0] != '\0' && strcmp(ours, line) == 0) {
        char *who = g_strdup_printf("%s %s", other->model, other->unit.serial);
        report_new(c, vd_fault_of_ADDRESS_LISTED(who, address));
        g_free(who);
        return false;
    }
    if ((ours[0] == '\0' || line[0] == '\0') && strcmp(other->adapter, v->place.adapter) == 0) {
        char *when = time_words(other->began);
        message(c, "note: %s %s had address %u behind this adapter on %s. It may only be unplugged.", other->model,
                other->unit.serial, address, when);
        g_free(when);
    }
    return true;
}

static bool judge_address(cli *c, const visit *v)
{
    const vd_link *to = vd_visit_new_link(v->engine);
    if (to == NULL || to->address == vd_visit_link(v->engine)->address) {
        return true;
    }
    vd_past *all = g_new(vd_past, LOOK_BACK);
    const vd_past_query any = {.id = 0};
    size_t count = vd_history_find(remembered(c), &any, all, LOOK_BACK);
    bool fine = true;
    for (size_t i = 0; i < count && fine; i++) {
        bool other = strcmp(all[i].unit.serial, vd_visit_identity(v->engine)->serial) != 0;
        if (other && all[i].at == to->address && is_last_of_unit(all, i)) {
            fine = judge_other(c, v, &all[i], line_of(all, count, i));
        }
    }
    g_free(all);
    return fine;
}

bool journal_judge_others(cli *c, const visit *v)
{
    vd_past other;
    bool fine = judge_address(c, v);
    for (uint16_t i = 0; i < v->model->setting_count && fine; i++) {
        if (vd_history_alike(remembered(c), v->engine, i, &other)) {
            vd_value wanted = vd_set_get(vd_visit_desired(v->engine), i);
            char *who = g_strdup_printf("%s %s", other.model, other.unit.serial);
            report_new(
                c, vd_fault_of_UNIT_ALIKE(&v->model->settings[i], value_text(&v->model->settings[i], &wanted), who));
            g_free(who);
            fine = false;
        }
    }
    return fine;
}

static vd_occasion occasion_of(const cli *c, const visit *v)
{
    return (vd_occasion){.task = v->task->called,
                         .port = v->place.name,
                         .adapter = v->place.adapter,
                         .who = g_get_user_name(),
                         .remark = v->remark != NULL ? v->remark : c->options.remark,
                         .line = line_called(c, v),
                         .code = v->task->code,
                         .now = now_of_day(),
                         .of = v->task->of,
                         .leg = v->task->leg};
}

/* The first record is the state before; without a store it becomes a file. */
static vd_status keep_first(cli *c, visit *v, vd_fault *fault)
{
    vd_store_file *store = remembered(c);
    vd_occasion occasion = occasion_of(c, v);
    if (store == NULL) {
        vd_status status = vd_before_keep(v->engine, &v->before, fault);
        if (status == VD_OK) {
            message(c, "The state before is kept in %s", v->before);
        }
        return status;
    }
    vd_status status = vd_history_begin(store, v->engine, &occasion, &v->record, fault);
    if (status == VD_OK && c->options.explain) {
        message(c, "The state before is kept as visit %" G_GINT64_FORMAT ".", v->record);
    }
    return status;
}

vd_status journal_write(cli *c, visit *v, vd_fault *fault)
{
    vd_status status = VD_OK;
    if (vd_visit_progress(v->engine).step == VD_STEP_KEEP) {
        status = keep_first(c, v, fault);
    } else if (v->record != 0) {
        status = vd_history_step(remembered(c), v->record, v->engine, fault);
    }
    if (status != VD_OK && v->record != 0) {
        message(c, "note: Not kept from here on: %s.", fault->said);
    }
    return status;
}

void journal_keep(cli *c, visit *v, vd_loop *loop)
{
    vd_fault fault = {0};
    vd_status status = journal_write(c, v, &fault);
    vd_loop_feed(loop, v->seat, (vd_event){.kind = VD_KEPT, .status = status, .said = fault.said});
}

void journal_end(cli *c, visit *v)
{
    vd_store_file *store = remembered(c);
    vd_fault fault = {0};
    vd_occasion occasion = occasion_of(c, v);
    bool looked = vd_visit_task(v->engine) == VD_TASK_READ || vd_visit_task(v->engine) == VD_TASK_VERIFY;
    /* What finishes or undoes another visit settles that one, also where there was nothing left to do. */
    bool told = (looked || v->task->of != 0 || v->task->keeps) && v->status == VD_OK;
    if (store == NULL) {
        return;
    }
    if (v->record == 0 && told && vd_history_begin(store, v->engine, &occasion, &v->record, &fault) != VD_OK) {
        v->record = 0;
    }
    if (v->record != 0 && fault.status == VD_OK) {
        vd_history_end(store, v->record, v->engine, now_of_day(), &fault);
    }
    if (fault.status != VD_OK) {
        message(c, "note: This visit is not recorded: %s.", fault.said);
    }
}

static bool find_open(cli *c, const visit *v, vd_past *past)
{
    const vd_identity *met = vd_visit_identity(v->engine);
    const vd_past_query query = {.model = v->model->key, .serial = met->serial, .open = true, .acts = true};
    vd_past found[8];
    size_t count = met->serial[0] != '\0' ? vd_history_find(remembered(c), &query, found, G_N_ELEMENTS(found)) : 0;
    for (size_t i = 0; i < count; i++) {
        if (found[i].id != v->record) {
            *past = found[i];
            return true;
        }
    }
    return false;
}

/* What the words of a step mean for the unit. */
static const char *step_words(const vd_past *past)
{
    static const struct {
        const char *step, *words;
    } steps[] = {{"keep", "before anything was sent"},
                 {"write", "while it was being written"},
                 {"store", "before it was stored"},
                 {"act", "when the unit was told to act"},
                 {"restart", "before it restarted"}};
    for (size_t i = 0; i < G_N_ELEMENTS(steps); i++) {
        if (strcmp(steps[i].step, past->step) == 0) {
            return past->ended != 0 ? "without being verified" : steps[i].words;
        }
    }
    return "in the middle";
}

/* How many settings are confirmed, were not sent, and are unknown, as it is kept. */
static void count_known(cli *c, const vd_past *past, const vd_model *model, unsigned counts[3])
{
    uint16_t *about = g_new0(uint16_t, model->setting_count);
    void *memory = g_malloc0(vd_set_size(model));
    vd_set before;
    vd_set_start(&before, model, memory, vd_set_size(model));
    vd_history_values(remembered(c), past->id, &before, NULL, NULL, about);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        vd_verdict verdict = (vd_verdict)((about[i] & VD_PAST_VERDICT) >> VD_PAST_VERDICT_SHIFT);
        bool begun = past->ended == 0 && strcmp(past->step, "keep") != 0;
        if ((about[i] & VD_PAST_CHANGES) == 0) {
            continue;
        }
        bool confirmed = verdict == VD_CONFIRMED;
        bool unsent = past->ended != 0 ? verdict == VD_NOT_SENT : !begun;
        counts[confirmed ? 0 : unsent ? 1 : 2]++;
    }
    g_free(memory);
    g_free(about);
}

static void tell(cli *c, const vd_past *past, const vd_model *model)
{
    unsigned counts[3] = {0, 0, 0};
    char *when = time_words(past->began);
    count_known(c, past, model, counts);
    message(c,
            "Visit %" G_GINT64_FORMAT " to %s %s ended %s, %s. Of %d change%s: %u confirmed, %u not sent, %u unknown.",
            past->id, past->model, past->unit.serial, step_words(past), when, past->changes,
            past->changes == 1 ? "" : "s", counts[0], counts[1], counts[2]);
    message(c, "Next: verdite finish (goes on), or verdite undo (undoes it).");
    json_object_set_new(c->result, "left-open", json_integer(past->id));
    g_free(when);
}

void journal_tell_open(cli *c, const visit *v)
{
    vd_past past;
    if (v->opened && v->held_up.status == VD_OK && find_open(c, v, &past)) {
        tell(c, &past, v->model);
    }
    const vd_identity *met = vd_visit_identity(v->engine);
    if (v->opened && v->status == VD_OK && !v->among_others && met->serial[0] != '\0') {
        const vd_identity *from = v->task->read_from;
        bool whole = v->task->task == VD_TASK_WRITE && v->task->which == NULL &&
                     vd_visit_summary(v->engine).whole != VD_WHOLE_NOT;
        if (whole && v->task->name != NULL && from != NULL && strcmp(from->serial, met->serial) == 0) {
            unsent_remember(c, v->task->name, v->model, met); /* all of it was sent to its unit by now */
        }
        unsent_tell(c, v->model->key, met->serial, v->task->name);
    }
}
