/* SPDX-License-Identifier: MIT
 * Which question a search asks next. First those to units in lines; then at every likely line setting the addresses
 * that units come with or were met at; then all addresses, where somebody answered, or at the first setting. Only where
 * nobody did, the same once more with patience, and nobody else is called silent. */
#include "search_parts.h"

#include <string.h>

#define FEW 8u    /* so many addresses are asked at every line setting, as if each were likely */
#define BABBLE 8u /* addresses that gave bytes but no frame, after which a line setting is left */

static bool is_found(const vd_search *search, size_t line, uint8_t address)
{
    for (size_t i = 0; i < search->found_count; i++) {
        if (search->found[i].address == address &&
            vd_serial_equal(&search->found[i].line, &search->plan->lines[line])) {
            return true;
        }
    }
    return false;
}

/* A row that is no sound unit stops nothing. */
static bool any_sound(const vd_search *search)
{
    for (size_t i = 0; i < search->found_count; i++) {
        if (search->found[i].status == VD_OK) {
            return true;
        }
    }
    return false;
}

static bool sound_on(const vd_search *search, size_t line)
{
    for (size_t i = 0; i < search->found_count; i++) {
        if (search->found[i].status == VD_OK && vd_serial_equal(&search->found[i].line, &search->plan->lines[line])) {
            return true;
        }
    }
    return false;
}

/* Whether an address is asked at every line setting: units come with it, or were met there. */
static bool is_likely(const vd_search *search, uint8_t address)
{
    const vd_search_plan *plan = search->plan;
    bool likely = plan->to - plan->from < (int)FEW;
    for (size_t i = 0; i < plan->model_count && !likely; i++) {
        likely = plan->models[i]->address_factory == address && vd_model_has_address(plan->models[i]);
    }
    for (size_t i = 0; i < plan->remembered_count && !likely; i++) {
        likely = plan->remembered[i] == address;
    }
    return likely;
}

/* Whether an address belongs to a pass over the likely ones, or over all of them. */
static bool belongs(const vd_search *search, uint8_t address, bool all)
{
    const vd_search_plan *plan = search->plan;
    bool met = plan->unlikely_to == 0 || address <= plan->unlikely_to;
    for (size_t i = 0; i < plan->met_count && !met; i++) {
        met = plan->met[i] == address;
    }
    return (all && met) || is_likely(search, address);
}

/* The address of a step in such a pass; 0 behind the last. */
static uint8_t address_of(const vd_search *search, size_t step, bool all)
{
    const vd_search_plan *plan = search->plan;
    for (unsigned address = plan->from; address <= plan->to; address++) {
        if (belongs(search, (uint8_t)address, all) && step-- == 0) {
            return (uint8_t)address;
        }
    }
    return 0;
}

/* ---- Units that talk in lines ---- */

static bool same_question(const vd_model *a, const vd_model *b)
{
    size_t length = strlen(a->lines.talker);
    return a->language == b->language && length == strlen(b->lines.talker) &&
           memcmp(a->lines.talker, b->lines.talker, length) == 0;
}

/* Whether a model's question is asked at a line setting: at its own, or at all where somebody said which to try; and
 * once only for models that share it. */
static bool question_counts(const vd_search *search, size_t line, size_t model)
{
    const vd_search_plan *plan = search->plan;
    const vd_model *one = plan->models[model];
    bool own = plan->any_line || vd_serial_equal(&one->line, &plan->lines[line]);
    bool wanted = plan->wanted == NULL || !plan->no_addresses || one == plan->wanted;
    if (vd_model_has_address(one) || !own || !wanted) {
        return false;
    }
    for (size_t i = 0; i < model; i++) {
        if (!vd_model_has_address(plan->models[i]) && same_question(plan->models[i], one) &&
            question_counts(search, line, i)) {
            return false;
        }
    }
    return true;
}

/* On to the next question in lines; false when there is none left. */
static bool next_question(vd_search *search)
{
    const vd_search_plan *plan = search->plan;
    for (; search->line < plan->line_count; search->line++, search->step = 0) {
        for (; search->step < plan->model_count; search->step++) {
            if (question_counts(search, search->line, search->step)) {
                search->step++;
                return true;
            }
        }
    }
    return false;
}

/* Whoever talks in lines is alone on his line. */
static bool found_alone(const vd_search *search)
{
    return search->found_count > 0 && search->found[0].address == 0 && !search->plan->every_line;
}

/* A line setting that only units in lines come with is not searched for addresses, unless everything is. */
static bool has_addresses(const vd_search *search, size_t line)
{
    const vd_search_plan *plan = search->plan;
    bool lines = false;
    for (size_t i = 0; i < plan->model_count && !plan->any_line; i++) {
        bool own = vd_serial_equal(&plan->models[i]->line, &plan->lines[line]);
        if (own && vd_model_has_address(plan->models[i])) {
            return true;
        }
        lines = lines || own;
    }
    return !lines;
}

static size_t first_with_addresses(const vd_search *search)
{
    size_t line = 0;
    while (line < search->plan->line_count && !has_addresses(search, line)) {
        line++;
    }
    return line;
}

/* Whether all addresses are asked at a line setting, as opposed to the likely ones. */
static bool asks_all(const vd_search *search, size_t line)
{
    return search->plan->every_line ||
           (any_sound(search) ? sound_on(search, line) : line == first_with_addresses(search));
}

static bool is_slow(const vd_search *search)
{
    return search->pass == SLOW_LINES || search->pass == SLOW;
}

static bool line_counts(const vd_search *search, size_t line)
{
    if (!has_addresses(search, line)) {
        return false;
    }
    switch (search->pass) {
    case LIKELY: return search->plan->every_line || !any_sound(search) || line == search->line;
    case ALL: return asks_all(search, line);
    default: return !search->plan->slow_all || search->plan->every_line || asks_all(search, line);
    }
}

static void next_line(vd_search *search)
{
    search->step = 0;
    search->babble = 0;
    do {
        search->line++;
    } while (search->line < search->plan->line_count && !line_counts(search, search->line));
}

static void begin_pass(vd_search *search, enum pass pass)
{
    search->pass = (uint8_t)pass;
    search->line = search->step = 0;
    search->babble = 0;
    bool lines = pass == LINES || pass == SLOW_LINES;
    if (!lines && search->plan->line_count > 0 && !line_counts(search, 0)) {
        next_line(search);
    }
}

/* Behind the last question of a pass. False: there is no further one. */
static bool next_pass(vd_search *search)
{
    const vd_search_plan *plan = search->plan;
    bool slow = plan->slow_limit > plan->quick_limit && (plan->slow_all || !any_sound(search));
    switch (search->pass) {
    case LINES: begin_pass(search, LIKELY); return true;
    case LIKELY: begin_pass(search, ALL); return true;
    case ALL:
        if (slow) {
            begin_pass(search, SLOW_LINES);
        }
        return slow;
    case SLOW_LINES: begin_pass(search, SLOW); return true;
    default: return false;
    }
}

/* The next address in a pass over addresses; 0: none is left in it. */
static uint8_t next_address(vd_search *search)
{
    const vd_search_plan *plan = search->plan;
    while (search->line < plan->line_count && !plan->no_addresses) {
        bool all = search->pass == ALL || (search->pass == SLOW && plan->slow_all);
        uint8_t address = address_of(search, search->step, all);
        if (address == 0 || search->babble >= BABBLE) {
            next_line(search);
            continue;
        }
        search->step++;
        bool asked = search->pass == ALL && is_likely(search, address) && search->line <= search->likely_until;
        if (!is_found(search, search->line, address) && !asked) {
            return address;
        }
    }
    return 0;
}

/* ---- Questions to an address ---- */

/* Whether units of a model are asked with their model: they do not know the question that needs none. */
static bool has_own_question(const vd_search_plan *plan, const vd_model *model)
{
    const vd_desk *desk = vd_desk_in(plan->desks, model->language);
    return vd_model_has_address(model) && desk != NULL && (!desk->asks_anyone || !desk->ways->is_general(model));
}

/* Whether an earlier model has the same question: both say in the general way of their language who they are. */
static bool is_asked_before(const vd_search_plan *plan, size_t index)
{
    const vd_model *model = plan->models[index];
    const vd_desk *desk = vd_desk_in(plan->desks, model->language);
    for (size_t i = 0; i < index && desk->ways->is_general(model); i++) {
        if (plan->models[i]->language == model->language && desk->ways->is_general(plan->models[i])) {
            return true;
        }
    }
    return false;
}

size_t vd_search_next_question(const vd_search *search, const vd_serial *line)
{
    const vd_search_plan *plan = search->plan;
    bool somebody = search->clues.refused > 0 || search->pass == SLOW;
    for (size_t i = search->model; i < plan->model_count; i++) {
        const vd_model *model = plan->models[i];
        if (!has_own_question(plan, model)) {
            continue;
        }
        const vd_desk *desk = vd_desk_in(plan->desks, model->language);
        vd_serial here = {line->baud, model->line.data_bits, model->line.parity, model->line.stop_bits};
        bool own = plan->any_line || vd_serial_equal(&here, line);
        bool due = desk->asks_anyone ? somebody : own && !is_asked_before(plan, i); /* these are silent to others */
        if (due && desk->ways->suits(desk, line)) {
            return i + 1;
        }
    }
    return 0;
}

size_t vd_search_question_of(const vd_search *search, const vd_model *model)
{
    const vd_search_plan *plan = search->plan;
    for (size_t i = 0; i < plan->model_count && model != NULL; i++) {
        const vd_desk *desk = plan->models[i] == model ? vd_desk_in(plan->desks, model->language) : NULL;
        if (desk != NULL) {
            return desk->asks_anyone ? 0 : i + 1;
        }
    }
    return 0;
}

size_t vd_search_first_question(const vd_search *search, const vd_serial *line)
{
    const vd_desk *general = vd_desk_general(search->plan->desks);
    return general != NULL && general->ways->suits(general, line) ? 0 : vd_search_next_question(search, line);
}

bool vd_search_next(vd_search *search, uint8_t *address)
{
    for (;;) {
        if (found_alone(search)) {
            return false;
        }
        if (search->pass == LINES || search->pass == SLOW_LINES) {
            if (!search->plan->no_lines && next_question(search)) {
                *address = 0;
                return true;
            }
        } else {
            *address = next_address(search);
            if (search->pass == LIKELY && search->line < search->plan->line_count) {
                search->likely_until = search->line;
            }
            if (*address != 0) {
                return true;
            }
        }
        if (!next_pass(search)) {
            return false;
        }
    }
}

/* ---- How much is left ---- */

static unsigned count_addresses(const vd_search *search, bool all)
{
    unsigned count = 0;
    for (unsigned address = search->plan->from; address <= search->plan->to; address++) {
        count += belongs(search, (uint8_t)address, all);
    }
    return count;
}

static uint64_t question_time(const vd_search *search, size_t line, bool slow)
{
    const vd_search_plan *plan = search->plan;
    return (slow ? plan->slow_limit : plan->quick_limit) + vd_serial_time(&plan->lines[line], 8);
}

/* A pass over addresses that has not begun, as it looks now. */
static uint64_t pass_time(const vd_search *search, enum pass pass)
{
    vd_search then = *search;
    uint64_t time = 0;
    bool slow = pass == SLOW, all = pass == ALL || (slow && search->plan->slow_all);
    then.pass = (uint8_t)pass;
    then.line = search->plan->line_count;
    unsigned count = count_addresses(search, all);
    for (size_t line = 0; line < search->plan->line_count && !search->plan->no_addresses; line++) {
        time += line_counts(&then, line) ? count * question_time(search, line, slow) : 0;
    }
    return time;
}

uint64_t vd_search_time_left(const vd_search *search)
{
    const vd_search_plan *plan = search->plan;
    bool slow = is_slow(search), all = search->pass == ALL || (search->pass == SLOW && plan->slow_all);
    uint64_t left = 0;
    if (search->pass == CONFIRM || search->line >= plan->line_count) {
        return 0;
    }
    if (search->pass == LIKELY || search->pass == ALL || search->pass == SLOW) {
        unsigned count = count_addresses(search, all);
        unsigned here = count > search->step ? count - (unsigned)search->step : 0;
        left = here * question_time(search, search->line, slow);
        for (size_t line = search->line + 1; line < plan->line_count; line++) {
            left += line_counts(search, line) ? count * question_time(search, line, slow) : 0;
        }
    }
    left += search->pass < LIKELY ? pass_time(search, LIKELY) : 0;
    left += search->pass < ALL ? pass_time(search, ALL) : 0;
    bool slowly = plan->slow_limit > plan->quick_limit && (plan->slow_all || !any_sound(search));
    left += search->pass < SLOW && slowly ? pass_time(search, SLOW) : 0;
    return left;
}
