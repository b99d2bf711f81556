/* SPDX-License-Identifier: MIT
 * A visit to a unit: turns the loop, shows progress, passes on what the person says (also Ctrl-C), keeps the state
 * before a write. */
#include "act.h"
#include "../print/print.h"

#include <errno.h>
#include <string.h>

static void show_progress(const cli *c, const visit *v, bool last)
{
    char *words = last ? g_strdup("") : stage_words(v);
    words[0] = (char)g_ascii_toupper(words[0]);
    progress_show(c, words);
    g_free(words);
}

/* What the person is to do so that the unit listens; on a bench, the hands that wait for that begin to do it. */
static void ask_hand(const cli *c, const visit *v)
{
    const vd_listening *listening = &v->model->listening;
    const vd_by_hand *hand = vd_visit_wants_hand(v->engine);
    if (hand == NULL && vd_visit_progress(v->engine).step == VD_STEP_BY_HAND) {
        message(c, "Switch the unit off and on now. Leave its cable connected.\nWaiting up to %u s. Ctrl-C stops.",
                VD_HAND_LIMIT / 1000000u);
    } else if (hand != NULL) {
        message(c, "%s\n  %s\nWaiting up to %u s. Ctrl-C stops.",
                hand == &listening->writing ? "The unit accepts no changes yet." : "The unit does not listen yet.",
                hand->help, hand->limit / 1000u);
    } else {
        message(c, "No reply yet. The unit may be starting: waiting %u s.", listening->after / 1000u + 2u);
    }
    if (v->place.bench != NULL && vd_sim_ask_hands(vd_bench_sim(v->place.bench), v->place.name)) {
        message(c, "(On this bench a hand does it.)");
    }
}

/* A unit's own port went with it: it is tried every now and then. */
static void look_for_port(const cli *c, visit *v, vd_loop *loop)
{
    vd_loop_step(loop, loop->kind->now(loop->ground) + 200000);
    char *before = g_strdup(v->place.name);
    bool back = place_reopen(v->model, &v->place);
    if (back && strcmp(before, v->place.name) != 0) {
        message(c, "Its port is now %s (was %s).", v->place.name, before);
    }
    g_free(before);
    if (back) {
        vd_loop_regain(loop, loop->seats[v->seat].lane, v->place.port);
    }
}

/* What a visit has news of: who it met, and whether a hand is needed. False: it must not go on. */
static bool take_news(cli *c, visit *v, vd_loop *loop, const vd_wants *wants)
{
    vd_step stage = vd_visit_progress(v->engine).step;
    v->news = wants->news;
    if (stage > VD_STEP_IDENTIFY && v->held_up.status == VD_OK && !journal_claim(c, v)) {
        vd_loop_feed(loop, v->seat, (vd_event){.kind = VD_STOP});
        return false;
    }
    const vd_by_hand *hand = vd_visit_wants_hand(v->engine);
    const void *asks = hand != NULL                 ? (const void *)hand
                       : stage == VD_STEP_BY_HAND   ? (const void *)v->model
                       : stage == VD_STEP_LISTENING ? (const void *)&v->model->listening
                                                    : NULL;
    if (asks != NULL && v->told_hand != asks) {
        ask_hand(c, v);
    }
    v->told_hand = asks;
    if (!v->among_others) { /* those are shown together */
        show_progress(c, v, wants->done);
    }
    return true;
}

visit_wish visit_wishes(cli *c, visit *v, vd_loop *loop)
{
    vd_wants wants;
    vd_loop_wants(loop, v->seat, &wants);
    if (wants.news != v->news && !take_news(c, v, loop, &wants)) {
        return visit_wishes(c, v, loop);
    }
    return wants.done                              ? WISH_DONE
           : wants.question == VD_ASK_WRITE        ? WISH_ASK
           : wants.question == VD_ASK_PASSWORD     ? WISH_PASSWORD
           : wants.question == VD_ASK_OLD_PASSWORD ? WISH_OLD_PASSWORD
           : wants.reopen                          ? WISH_REOPEN
           : wants.keep                            ? WISH_KEEP
                                                   : WISH_NOTHING;
}

bool visit_was_cut_off(const visit *v)
{
    return vd_status_class(v->status) == VD_CLASS_CONTACT || v->status == VD_STOPPED;
}

bool visit_only_waits(const visit *v, const vd_loop *loop)
{
    vd_step step = vd_visit_progress(v->engine).step;
    vd_wants wants = {.done = false};
    if (step == VD_STEP_STORE) { /* until it is asked whether it is done */
        vd_loop_wants(loop, v->seat, &wants);
    }
    bool stores = step == VD_STEP_STORE && !wants.holds_line && wants.count == 0;
    return stores || step == VD_STEP_COMING_BACK || step == VD_STEP_LISTENING;
}

void visit_fulfil(cli *c, visit *v, vd_loop *loop, visit_wish wish)
{
    switch (wish) {
    case WISH_ASK: asked_to_go_on(c, v, loop); break;
    case WISH_PASSWORD: person_says_password(c, v, loop); break;
    case WISH_OLD_PASSWORD: person_agrees_to_old(c, v, loop); break;
    case WISH_REOPEN: look_for_port(c, v, loop); break;
    case WISH_KEEP: journal_keep(c, v, loop); break;
    case WISH_NOTHING:
    case WISH_DONE: break;
    }
}

int stops_tell(const cli *c, vd_loop *loop, int told)
{
    for (; told < stops_so_far(); told++) {
        if (told == 0) {
            message(c, "Stopping in order. Press Ctrl-C again to stop at once.");
        }
        for (size_t i = 0; i < loop->seat_count; i++) {
            vd_loop_feed(loop, i, (vd_event){.kind = VD_STOP});
        }
    }
    return told;
}

static void run(cli *c, visit *v, vd_loop *loop)
{
    int told = 0;
    for (;;) {
        told = stops_tell(c, loop, told);
        visit_wish wish = visit_wishes(c, v, loop);
        if (wish == WISH_DONE) {
            return;
        }
        if (wish != WISH_NOTHING) {
            visit_fulfil(c, v, loop, wish);
        } else if (vd_loop_step(loop, VD_NEVER) != VD_OK) {
            vd_loop_feed(loop, v->seat, (vd_event){.kind = VD_LOST, .status = VD_PORT_FAILED});
        }
    }
}

/* What time it is: on a bench by its own clock, which begins on a day of its own. */
static void tell_time(visit *v, uint64_t now)
{
    vd_moment moment = vd_moment_now();
    if (v->place.bench != NULL) {
        moment = vd_bench_moment(v->place.bench);
    }
    vd_visit_tell_time(v->engine, &moment, now);
}

void visit_begin(visit *v, uint64_t now)
{
    const visit_task *task = v->task;
    v->began = now;
    tell_time(v, now);
    switch (task->task) {
    case VD_TASK_IDENTIFY: vd_visit_identify(v->engine, now); break;
    case VD_TASK_READ: vd_visit_read(v->engine, now, task->which); break;
    case VD_TASK_WRITE: vd_visit_write(v->engine, now, task->target, task->which); break;
    case VD_TASK_ACT: vd_visit_act(v->engine, now, task->action); break;
    case VD_TASK_TELL: vd_visit_tell(v->engine, now, task->target, task->which); break;
    case VD_TASK_VERIFY: vd_visit_verify(v->engine, now, task->target, task->which); break;
    }
}

static void talk(cli *c, visit *v, const trace *t)
{
    vd_lane lane = {.port = v->place.port};
    vd_seat seat = {.engine = &vd_visit_engine, .self = v->engine};
    vd_loop loop = {.kind = v->place.kind,
                    .ground = v->place.ground,
                    .lanes = &lane,
                    .seats = &seat,
                    .lane_count = 1,
                    .seat_count = 1};
    trace_join(t, &loop);
    stops_catch();
    visit_begin(v, loop.kind->now(loop.ground));
    run(c, v, &loop);
    stops_release();
}

/* What a visit meets where two units answer at once; which they are may still be told. */
static bool may_be_shared(const visit *v)
{
    vd_status status = vd_visit_fault(v->engine)->status;
    bool strange =
        status == VD_ADDRESS_SHARED || status == VD_LINE_ERRORS || status == VD_CHECK_FAILED || status == VD_NOISE_ONLY;
    return strange && v->held_up.status == VD_OK && v->status == status && v->place.port != NULL && !v->among_others &&
           vd_model_has_address(v->model);
}

/* "Stopped by hand" says what that means for the unit. */
static void report_end(cli *c, visit *v)
{
    vd_fault fault = v->held_up.status != VD_OK ? v->held_up : *vd_visit_fault(v->engine);
    if (v->status == VD_STOPPED || fault.status == VD_OK) {
        const char *meaning = !vd_visit_standing(v->engine)->writes ? "The unit was only read. Nothing changed."
                              : vd_visit_has_sent(v->engine)
                                  ? "The write was interrupted: read the unit before it leaves."
                                  : "Nothing was sent. The unit is unchanged.";
        fault = (vd_fault){0};
        vd_fault_note(&fault, v->status, NULL, "", v->status == VD_STOPPED ? meaning : "");
    }
    if (may_be_shared(v)) {
        hunt_who_shares(c, &v->place, v->model, &fault);
    }
    if (report(c, &fault) == VD_CLASS_CONTACT) {
        char *where = place_words(&v->place, v->model);
        const char *wire = v->place.port != NULL ? wire_words(v->place.port->wire) : "";
        message(c, "Tried %s.%s%s", where, wire[0] != '\0' ? " " : "", wire);
        g_free(where);
        if (v->place.port != NULL && vd_visit_identity(v->engine)->product[0] == '\0') {
            moved_tell(c, v->model, &v->place, v->place.address);
        }
    }
    if (v->before != NULL && v->status != VD_OK && vd_visit_has_sent(v->engine)) {
        message(c, "The state before is in %s", v->before);
    }
}

/* A unit that is older than what its model describes. */
static void tell_firmware(cli *c, const visit *v)
{
    const vd_identity *identity = vd_visit_identity(v->engine);
    uint32_t firmware = vd_firmware_parse(identity->firmware);
    if (firmware != 0 && firmware < v->model->firmware) {
        char from[24];
        vd_writer writer = vd_writer_start(from, sizeof from);
        vd_firmware_print(v->model->firmware, &writer);
        report_new(c, vd_fault_of_FIRMWARE_OLD(identity->firmware, from));
    }
}

/* It let us in by a password that everybody can know. */
static void tell_password(cli *c, const visit *v)
{
    const vd_login *login = &v->model->login;
    if (vd_visit_has_factory_password(v->engine)) {
        report_new(c, vd_fault_of_PASSWORD_OF_FACTORY(vd_index(login->setting) != VD_NONE
                                                          ? v->model->settings[vd_index(login->setting)].words->key
                                                          : "see its manual"));
    }
}

/* Where it is reached from now on, and who was heard where it was before. */
static void tell_link(cli *c, visit *v)
{
    const vd_link *link = vd_visit_link(v->engine);
    const vd_identity *other = NULL;
    vd_left left = vd_visit_left(v->engine, &other);
    bool moved = link->address != v->place.address || !vd_serial_equal(&link->line, &v->place.line);
    uint8_t before = v->place.address;
    v->place.address = link->address;
    v->place.line = link->line;
    if (moved) {
        char *where = place_words(&v->place, v->model);
        if (v->titled) {
            message(c, "It is now %s.", where);
        }
        json_object_set_new(c->result, "moved", json_true());
        g_free(where);
    }
    if (left == VD_LEFT_ITSELF) {
        message(c, "It still answers at address %u too. Switch it off and on, then look again.", before);
    } else if (left == VD_LEFT_ANOTHER) {
        message(c, "Another unit answers at address %u%s%s. It may have accepted the change too: read it.", before,
                other->serial[0] != '\0' ? ", " : "", other->serial);
    }
}

void visit_prepare(visit *v, const vd_model *model, const visit_task *task)
{
    memset(v, 0, sizeof *v);
    v->engine = vd_visit_in(&v->room);
    v->model = model;
    v->task = task;
    v->status = VD_NO_PORT;
}

void visit_enter(const cli *c, visit *v)
{
    const vd_identity *from = v->task->read_from;
    size_t size = vd_visit_size(v->model);
    v->opened = true;
    v->memory = g_malloc0(size);
    vd_visit_start(v->engine, v->model, v->memory, size, &v->place.line, v->place.address,
                   v->place.port->kind->latency(v->place.port));
    vd_visit_leave_room(v->engine, v->among_others);
    vd_visit_want_login(v->engine, c->options.login != FALSE);
    vd_visit_allow_restart(v->engine, c->options.restart != FALSE);
    vd_visit_prove_by_hand(v->engine, c->options.by_hand != FALSE);
    vd_visit_write_idle(v->engine, v->task->puts_back);
    vd_visit_leave_lacking(v->engine, c->options.fitting != FALSE);
    vd_visit_expect(v->engine, c->options.serial);
    vd_visit_need_firmware(v->engine, v->task->firmware);
    vd_visit_take_from(v->engine, from != NULL && !c->options.own ? from->serial : NULL);
}

void visit_leave(cli *c, visit *v)
{
    vd_visit_ended(v->engine, &v->status);
    v->status = v->held_up.status != VD_OK ? v->held_up.status : v->status;
    if (v->spared && v->status == VD_DECLINED) { /* it was not the person who said no */
        v->status = VD_OK;
    }
    if (v->held_up.status == VD_OK) {
        journal_look_back(c, v);
        proof_remember(c, v);
        journal_end(c, v);
    }
    tell_link(c, v);
    if (vd_visit_identity(v->engine)->product[0] != '\0' && v->status != VD_OTHER_MODEL) {
        place_remember(c, &v->place, v->model);
        tell_firmware(c, v);
        tell_password(c, v);
    }
    bool told = v->told_why && v->status == VD_DECLINED;
    if (v->status != VD_OK && !told && !(v->task->look && vd_status_class(v->status) == VD_CLASS_CONTACT)) {
        report_end(c, v);
    }
    vd_claim_release(v->claim);
    v->claim = NULL;
}

bool visit_do(cli *c, visit *v, const vd_model *model, const visit_task *task)
{
    trace t;
    visit_prepare(v, model, task);
    if (!trace_start(c, &t)) {
        return false;
    }
    if (place_open(c, model, &v->place)) {
        visit_enter(c, v);
        talk(c, v, &t);
        visit_leave(c, v);
    }
    place_close(c, &v->place);
    trace_end(c, &t);
    return v->opened && v->status == VD_OK;
}

bool visit_finds(cli *c, const vd_model *model, vd_identity *met)
{
    visit v = {0};
    const visit_task task = {.task = VD_TASK_IDENTIFY, .look = true};
    bool there = visit_do(c, &v, model, &task);
    if (met != NULL) {
        *met = *vd_visit_identity(v.engine);
    }
    visit_free(&v);
    return there;
}

void visit_free(visit *v)
{
    if (v->memory != NULL) { /* passwords, and secrets that were written, are among what it holds */
        vd_wipe(v->memory, vd_visit_size(v->model));
        vd_wipe(&v->room, sizeof v->room);
    }
    g_free(v->memory);
    g_free(v->unchanged);
    g_free(v->place.name);
    g_free(v->place.adapter);
    g_free(v->before);
    g_free(v->remark);
    changes_forget(&v->shown);
}
