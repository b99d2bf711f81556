/* SPDX-License-Identifier: MIT
 * Searching a line for units: what is made of what was heard. In which order is asked stands in search_order.c;
 * everybody who was found is asked once more at the end, since two units on one address may take turns. */
#include "search_parts.h"

#include <string.h>

#define ASKS 4u       /* questions to an address whose reply is not clean */
#define BUSY_ASKS 20u /* questions to a unit that says it is busy, half a second apart */
#define BUSY_PAUSE 500000u
#define NOBODY 250u /* 248 to 255 are reserved: no unit can have this address (SL 2.2) */
#define SAME_EVERYWHERE 3u

#define NAMING 6u /* further questions to an address that two share, until both have been understood */

enum state { ASKING, CONTROLLING, PAUSING, ASKING_BOTH, ENDED };

static void ask(vd_search *search);

static const vd_serial *line_of(const vd_search *search)
{
    return search->pass == CONFIRM ? &search->found[search->confirming].line : &search->plan->lines[search->line];
}

/* Where something strange was heard there is no hurry: whatever still talks is let finish. */
static uint32_t limit_of(const vd_search *search)
{
    const vd_search_plan *plan = search->plan;
    bool strange = search->clues.damaged + search->clues.clashing > 0;
    uint32_t patient = plan->slow_limit > 0 ? plan->slow_limit : 4 * plan->quick_limit;
    bool quick = search->pass <= ALL || plan->slow_limit == 0;
    return strange ? patient : quick ? plan->quick_limit : plan->slow_limit;
}

static void end(vd_search *search, vd_status status)
{
    search->state = ENDED;
    search->status = status;
    search->wake = VD_NEVER;
    search->news++;
}

/* `first`: the question with which it begins, see vd_search_next_question(). */
static void begin_address(vd_search *search, uint8_t address, size_t first)
{
    search->address = address;
    search->model = search->first = first;
    search->naming = 0;
    memset(&search->clues, 0, sizeof search->clues);
    ask(search);
}

static bool in_lines(const vd_search *search)
{
    return search->pass == LINES || search->pass == SLOW_LINES;
}

static void begin_confirming(vd_search *search)
{
    search->pass = CONFIRM;
    if (search->plan->asks_once) {
        end(search, VD_OK);
        return;
    }
    /* Whoever talks in lines is alone, so nobody takes turns with him. */
    while (search->confirming < search->found_count &&
           (search->found[search->confirming].status != VD_OK || search->found[search->confirming].address == 0)) {
        search->confirming++;
    }
    if (search->confirming == search->found_count) {
        end(search, VD_OK);
        return;
    }
    const vd_found *found = &search->found[search->confirming];
    begin_address(search, found->address, vd_search_question_of(search, found->model));
    vd_probe_listen_on(&search->probe, search->plan->quick_limit);
    search->clues.asked = search->clues.identified = 1; /* what it said before counts */
    search->clues.identity = found->identity;
}

/* On to the next question, or to everybody who was found once more. */
static void proceed(vd_search *search)
{
    uint8_t address = 0;
    if (search->pass == CONFIRM) {
        search->confirming++;
        begin_confirming(search);
    } else if (vd_search_next(search, &address)) {
        search->model = 0;
        memset(&search->clues, 0, sizeof search->clues);
        begin_address(search, address, in_lines(search) ? 0 : vd_search_first_question(search, line_of(search)));
    } else {
        begin_confirming(search);
    }
}

/* The desk in whose language is asked. */
static const vd_desk *desk_of(const vd_search *search, const vd_model *model)
{
    return model != NULL ? vd_desk_in(search->plan->desks, model->language) : vd_desk_general(search->plan->desks);
}

static const vd_model *model_asked(const vd_search *search)
{
    return in_lines(search)    ? search->plan->models[search->step - 1]
           : search->model > 0 ? search->plan->models[search->model - 1]
                               : NULL;
}

static void begin_probe(vd_search *search, const vd_model *model, const vd_desk *desk, uint8_t address)
{
    search->asked++;
    vd_probe_begin(&search->probe, search->now, desk, model, line_of(search), address, limit_of(search),
                   search->plan->gap);
}

static void ask(vd_search *search)
{
    const vd_model *model = model_asked(search);
    search->state = ASKING;
    search->news++;
    begin_probe(search, model, desk_of(search, model), search->address);
}

/* Nobody can have this address: whatever is heard now was no reply. */
static void ask_nobody(vd_search *search)
{
    const vd_desk *desk = desk_of(search, in_lines(search) ? NULL : model_asked(search));
    search->state = CONTROLLING;
    begin_probe(search, NULL, desk, NOBODY);
}

/* Where a port cannot tell parity, one unit is heard at two line settings: it stands in the list once. */
static bool is_known_already(const vd_search *search)
{
    const vd_identity *now = &search->clues.identity;
    for (size_t i = 0; i < search->found_count; i++) {
        const vd_found *found = &search->found[i];
        if (search->clues.identified > 0 && now->serial[0] != '\0' && found->address == search->address &&
            found->status == VD_OK && memcmp(&found->identity, now, sizeof *now) == 0 &&
            !vd_serial_equal(&found->line, line_of(search))) {
            return true;
        }
    }
    return false;
}

/* How long each question was given in the end, milliseconds. */
static int32_t waited_of(const vd_search_plan *plan)
{
    return (int32_t)((plan->slow_limit > 0 ? plan->slow_limit : plan->quick_limit) / 1000u);
}

static vd_status judge(const vd_search *search, vd_fault *fault)
{
    const vd_search_plan *plan = search->plan;
    return vd_clues_judge(&search->clues, search->address, line_of(search), plan->models, plan->model_count,
                          plan->wanted, waited_of(plan), fault);
}

static void keep(vd_search *search)
{
    const vd_search_plan *plan = search->plan;
    vd_fault fault = {0};
    vd_status status = judge(search, &fault);
    vd_found *found = &search->found[search->confirming];
    if (search->pass != CONFIRM) {
        if (search->found_count == search->found_size || is_known_already(search)) {
            return;
        }
        found = &search->found[search->found_count++];
    } else if (search->clues.identified == 0 || status == VD_OK) {
        return; /* once more it is as it was, or is silent just now: what was found stays found */
    }
    *found = (vd_found){.line = *line_of(search),
                        .address = search->address,
                        .status = status,
                        .identity = search->clues.identity,
                        .other = search->clues.other,
                        .fault = fault};
    found->model = vd_model_of_identity(plan->models, plan->model_count, &found->identity);
    search->news++;
}

/* The same serial number at several addresses is one unit that answers to all. */
static bool answers_everywhere(vd_search *search)
{
    const vd_found *last = &search->found[search->found_count - 1];
    bool again = search->pass != CONFIRM && search->found_count > 1 && last->identity.serial[0] != '\0' &&
                 last->address != last[-1].address &&
                 memcmp(last->identity.serial, last[-1].identity.serial, sizeof last->identity.serial) == 0;
    search->same = again ? (uint16_t)(search->same + 1) : 0;
    if (search->same + 1u < SAME_EVERYWHERE) {
        return false;
    }
    vd_found *first = &search->found[search->found_count - SAME_EVERYWHERE];
    vd_fault_clear(&first->fault);
    first->status = vd_note_ANSWERS_EVERYWHERE(&first->fault, first->identity.serial);
    search->found_count -= SAME_EVERYWHERE - 1u;
    return true;
}

/* What one address brought belongs to what is known of the line. */
static void add_to_line(vd_clues *line, const vd_clues *clues)
{
    line->asked = (uint16_t)(line->asked + clues->asked);
    line->damaged = (uint16_t)(line->damaged + clues->damaged);
    line->echoed = (uint16_t)(line->echoed + clues->echoed);
    line->strays = (uint16_t)(line->strays + clues->strays);
    line->bytes += clues->bytes;
    line->error_bytes += clues->error_bytes;
    line->control_bytes += clues->control_bytes;
    line->stray_address = clues->strays > 0 ? clues->stray_address : line->stray_address;
    line->damage = clues->damaged > 0 ? clues->damage : line->damage;
    if (clues->shortest_run > 0 && (line->shortest_run == 0 || clues->shortest_run < line->shortest_run)) {
        line->shortest_run = clues->shortest_run;
    }
}

/* Two that share an address may not always talk at once: each that is understood once is named. */
static bool asks_both(vd_search *search)
{
    vd_fault fault = {0};
    if (in_lines(search) || search->naming >= NAMING || judge(search, &fault) != VD_ADDRESS_SHARED) {
        return false;
    }
    search->naming++;
    bool general = search->clues.by_objects > 0 || search->clues.identified == 0;
    search->model = general ? search->first : search->model;
    ask(search);
    search->state = ASKING_BOTH;
    vd_probe_listen_on(&search->probe, limit_of(search));
    return true;
}

static void decide(vd_search *search)
{
    const vd_clues *clues = &search->clues;
    if (asks_both(search)) {
        return;
    }
    bool somebody = clues->identified + clues->refused + clues->busy > 0 ||
                    (clues->damaged > 0 && clues->headed > 0 && clues->control_bytes == 0);
    add_to_line(&search->line_clues, clues);
    if (somebody) {
        keep(search);
        if (search->found_count > 0 && answers_everywhere(search)) {
            end(search, VD_OK);
            return;
        }
    } else if (!in_lines(search)) {
        search->babble = (uint16_t)(clues->bytes > 0 && clues->strays == 0 ? search->babble + 1 : 0);
    }
    proceed(search);
}

static void pause_before_asking(vd_search *search)
{
    search->state = PAUSING;
    search->wake = search->now + BUSY_PAUSE;
}

/* A question in lines was answered, or not. What is heard at the wrong speed or in another language is told by asking
 * again, and, where one unit is meant, by asking nobody. */
static void take_line_evidence(vd_search *search)
{
    const vd_evidence *evidence = &search->probe.evidence;
    vd_clues *clues = &search->clues;
    bool silent = evidence->bytes == 0, known = evidence->status == VD_OK;
    uint8_t asks = search->plan->asks > 0 ? search->plan->asks : 1;
    vd_clues_add(clues, evidence);
    /* What was said before, at another speed or in another language, may still stand in the unit's line: so twice. */
    if (clues->asked < (known ? asks : silent ? (asks > 1 ? asks : 2) : ASKS)) {
        ask(search);
    } else if (!silent && !known && search->plan->no_addresses && clues->identified == 0) {
        ask_nobody(search);
    } else {
        decide(search);
    }
}

/* Who has said by objects who it is holds something else where another model has an identity in registers. */
static bool is_no_identity(const vd_search *search)
{
    const vd_evidence *evidence = &search->probe.evidence;
    return evidence->status == VD_OK && search->probe.model != NULL && search->clues.by_objects > 0 &&
           !vd_model_fits(search->probe.model, &evidence->identity);
}

/* Asks the next question to this address, where there is one. */
static bool asks_next(vd_search *search)
{
    size_t next = vd_search_next_question(search, line_of(search));
    if (next > 0) {
        search->model = next;
        ask(search);
    }
    return next > 0;
}

static void take_evidence(vd_search *search)
{
    vd_evidence *evidence = &search->probe.evidence;
    vd_clues *clues = &search->clues;
    if (in_lines(search)) {
        take_line_evidence(search);
        return;
    }
    evidence->status = is_no_identity(search) ? VD_EXCEPTION_ADDRESS : evidence->status;
    vd_clues_add(clues, evidence);
    clues->by_objects = (uint16_t)(clues->by_objects + (evidence->status == VD_OK && search->probe.model == NULL));
    if (evidence->bytes == 0 && search->model == 0 && clues->asked < search->plan->silent_asks) {
        ask(search); /* one question may be lost */
        return;
    }
    bool clean =
        (evidence->status == VD_OK && !evidence->clash) || evidence->bytes == 0 || evidence->status == VD_WRONG_ADDRESS;
    if (evidence->status == VD_EXCEPTION_BUSY || evidence->status == VD_EXCEPTION_ACKNOWLEDGE) {
        if (clues->busy < BUSY_ASKS) {
            pause_before_asking(search);
            return;
        }
        decide(search);
    } else if (vd_status_class(evidence->status) == VD_CLASS_REFUSED || (evidence->bytes == 0 && search->model > 0)) {
        if (asks_next(search)) {
            return;
        }
        if (clues->asked < (clues->damaged + clues->identified > 0 ? ASKS : search->plan->asks)) {
            ask(search);
            return;
        }
        decide(search);
    } else if (clean && evidence->bytes > 0 && clues->asked < search->plan->asks) {
        ask(search);
    } else if (clean && clues->damaged == 0 && clues->clashing == 0) {
        if (evidence->bytes == 0 && asks_next(search)) {
            return;
        }
        decide(search);
    } else if (clues->asked < ASKS) {
        ask(search);
    } else {
        ask_nobody(search);
    }
}

static void search_feed(void *engine, const vd_event *event)
{
    vd_search *search = engine;
    search->now = event->now;
    if (search->state == ENDED) {
        return;
    }
    bool line_only = event->kind == VD_LOST && event->status == VD_LINE_NOT_TAKEN;
    if (event->kind == VD_STOP || (event->kind == VD_LOST && !line_only)) {
        end(search, event->kind == VD_STOP ? VD_STOPPED : event->status);
        return;
    }
    if (line_only) { /* this port cannot do that line setting: on to the next one */
        search->step = SIZE_MAX / 2;
        proceed(search);
        return;
    }
    if (search->state == PAUSING) {
        if (event->now >= search->wake) {
            ask(search);
        }
        return;
    }
    vd_probe_engine.feed(&search->probe, event);
    if (!vd_probe_ended(&search->probe)) {
        return;
    }
    if (search->state == CONTROLLING) {
        vd_clues_add_control(&search->clues, &search->probe.evidence);
        decide(search);
    } else if (search->state == ASKING_BOTH) {
        vd_clues_name(&search->clues, &search->probe.evidence);
        decide(search);
    } else {
        take_evidence(search);
    }
}

static void search_wants(const void *engine, vd_wants *wants)
{
    const vd_search *search = engine;
    if (search->state == ENDED || search->state == PAUSING) {
        *wants = (vd_wants){.wake = search->wake, .done = search->state == ENDED};
    } else {
        vd_probe_engine.wants(&search->probe, wants);
        wants->done = false;
    }
    wants->news = search->news;
}

const vd_engine vd_search_engine = {search_wants, search_feed};

void vd_search_begin(vd_search *search, uint64_t now, const vd_search_plan *plan, vd_found *found, size_t size)
{
    memset(search, 0, sizeof *search);
    search->plan = plan;
    search->found = found;
    search->found_size = size;
    search->now = now;
    search->wake = VD_NEVER;
    search->pass = LINES;
    search->status = VD_OK;
    proceed(search);
}

bool vd_search_ended(const vd_search *search, vd_status *status)
{
    *status = search->status;
    return search->state == ENDED;
}

size_t vd_search_count(const vd_search *search)
{
    return search->found_count;
}

vd_search_progress vd_search_progress_of(const vd_search *search)
{
    vd_search_progress progress = {.pass = search->pass, .address = search->address, .asked = search->asked};
    if (search->state != ENDED) {
        progress.left = vd_search_time_left(search);
        progress.line = *line_of(search);
    }
    return progress;
}

vd_status vd_search_judge_line(const vd_search *search, vd_fault *fault)
{
    const vd_search_plan *plan = search->plan;
    vd_fault own = {0};
    vd_status status = vd_clues_judge(&search->line_clues, plan->from, &plan->lines[0], plan->models, plan->model_count,
                                      plan->wanted, waited_of(plan), &own);
    if (status == VD_NO_REPLY && (plan->from != plan->to || plan->line_count > 1)) {
        vd_fault_clear(&own);
        status = vd_note_SILENT_LINE(&own, (int32_t)search->asked, plan->from, plan->to);
    }
    if (fault != NULL && fault->status == VD_OK) {
        *fault = own;
    }
    return status;
}
