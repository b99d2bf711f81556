/* SPDX-License-Identifier: MIT
 * What an alarm means, as sentences that a colleague could set it again from. */
#include "phrases.h"

vd_alarm_found vd_alarm_find(const vd_set *set, uint16_t n)
{
    vd_alarm_found at = {.channel = VD_NONE, .test = VD_NONE};
    uint16_t alarm = 0;
    vd_model_alarm_at(set->model, n, &alarm, &at.item);
    at.alarm = &set->model->alarms[alarm];
    at.used = vd_formula_truth(set, vd_index(at.alarm->used), at.item, VD_HOLDS);
    if (at.used == VD_HOLDS && at.alarm->joint == VD_SINGLE) {
        at.used = vd_source_channel(set, &at.alarm->watches, at.item, &at.channel);
    }
    if (at.used == VD_HOLDS && at.alarm->joint == VD_SINGLE) {
        at.used = vd_tests_pick(set, at.alarm->test, at.alarm->test_count, at.item, &at.test);
    }
    return at;
}

vd_ruling vd_condition_find(const vd_set *set, const vd_alarm_found *of, uint8_t i, uint16_t *item, uint16_t *channel,
                            uint16_t *test)
{
    const vd_condition *one = &set->model->conditions[of->alarm->conditions[i]];
    *item = vd_index(one->block) != VD_NONE ? of->item : 0;
    vd_ruling there = vd_source_channel(set, &one->watches, *item, channel);
    return there == VD_HOLDS ? vd_tests_pick(set, one->test, one->test_count, *item, test) : there;
}

vd_ruling vd_alarm_is_used(const vd_set *set, uint16_t n)
{
    return vd_alarm_find(set, n).used;
}

/* ---- Pieces ---- */

static void add_label(const vd_alarm_words *w, const vd_alarm_found *at)
{
    const vd_block *block =
        vd_index(at->alarm->block) != VD_NONE ? &w->model->blocks[vd_index(at->alarm->block)] : NULL;
    const char *label = at->alarm->label[0] != '\0' ? at->alarm->label : block != NULL ? block->label : "";
    if (block == NULL) {
        vd_writer_add(w->writer, label);
    } else if (!vd_writer_add_item(w->writer, label, at->item)) {
        vd_writer_add(w->writer, " ");
        vd_writer_add_number(w->writer, at->item + 1);
    }
}

static void add_text(const vd_alarm_words *w, vd_spot spot, uint16_t item)
{
    uint16_t setting = vd_spot_in(spot, item);
    vd_value value = setting != VD_NONE ? vd_set_get(w->set, setting) : (vd_value){.type = VD_NOTHING};
    if (value.type != VD_NOTHING && value.length > 0 && vd_set_exists(w->set, setting) != VD_FAILS) {
        vd_value_show(&w->model->settings[setting], &value, w->writer);
    }
}

static void add_conditions(const vd_alarm_words *w, const vd_alarm_found *at)
{
    uint16_t channels[VD_MOST_CONDITIONS], tests[VD_MOST_CONDITIONS], items[VD_MOST_CONDITIONS];
    vd_alarm_list list = {.writer = w->writer};
    bool unknown = false;
    for (uint8_t i = 0; i < at->alarm->condition_count; i++) {
        uint16_t item = 0, channel = VD_NONE, test = VD_NONE;
        vd_ruling there = vd_condition_find(w->set, at, i, &item, &channel, &test);
        unknown = unknown || there == VD_NOT_KNOWN;
        if (there == VD_HOLDS) {
            channels[list.count] = channel;
            tests[list.count] = test;
            items[list.count++] = item;
        }
    }
    for (; list.at < list.count; list.at++) {
        vd_words_comma(&list, at->alarm->any_condition ? " or " : " and ");
        vd_words_called(w, channels[list.at]);
        vd_writer_add(w->writer, " ");
        vd_words_met(w, &w->model->tests[tests[list.at]], items[list.at], channels[list.at]);
        vd_words_until(w, &w->model->tests[tests[list.at]], items[list.at], channels[list.at]);
    }
    if (unknown) {
        vd_writer_add(w->writer, list.count > 0 ? " and something unknown" : "something unknown");
    }
}

static void add_clearing(const vd_alarm_words *w, const vd_alarm_found *at)
{
    static const char *const clearers[] = {"button", "command", "supply"};
    vd_alarm_list list = {.writer = w->writer};
    if (vd_formula_truth(w->set, vd_index(at->alarm->latches), at->item, VD_FAILS) != VD_HOLDS) {
        return;
    }
    for (unsigned i = 0; i < 3; i++) {
        list.count += at->alarm->cleared_by >> i & 1u;
    }
    for (unsigned i = 0; i < 3; i++) {
        if ((at->alarm->cleared_by >> i & 1u) != 0) {
            vd_words_comma(&list, " or ");
            vd_writer_add(w->writer, clearers[i]);
            list.at++;
        }
    }
}

static void add_time(const vd_alarm_words *w, uint16_t formula, uint16_t item)
{
    int64_t milliseconds = 0;
    if (formula != VD_NONE && (!vd_formula_time(w->set, formula, item, &milliseconds) || milliseconds > 0)) {
        vd_words_time(w, formula, item);
    }
}

/* The alarms that a combination combines. */
static void add_members(const vd_alarm_words *w, const vd_alarm_found *at)
{
    bool all = at->alarm->joint == VD_ALL_OF;
    vd_alarm_list list = {.writer = w->writer, .count = at->alarm->member_count};
    vd_writer_add(w->writer, all ? "all of these stand: " : "any of these stands: ");
    for (; list.at < list.count; list.at++) {
        vd_words_comma(&list, all ? " and " : " or ");
        vd_alarm_call(w->set, at->alarm->members[list.at], w->writer);
    }
}

/* Whether nobody can say when it ends. */
static bool has_no_end(const vd_alarm_words *w, const vd_alarm_found *at)
{
    return vd_formula_below_zero(w->set, vd_index(w->model->tests[at->test].release), at->item, at->channel);
}

static void add_met(const vd_alarm_words *w, const vd_alarm_found *at)
{
    const vd_test *test = &w->model->tests[at->test];
    vd_words_called(w, at->channel);
    vd_writer_add(w->writer, " ");
    vd_words_met(w, test, at->item, at->channel);
    if (vd_index(at->alarm->longest) != VD_NONE) {
        vd_words_until(w, test, at->item, at->channel);
        vd_writer_add(w->writer, " for ");
        vd_words_time(w, vd_index(at->alarm->longest), at->item);
        vd_writer_add(w->writer, " in all without a rest of ");
        vd_words_time(w, vd_index(at->alarm->rest), at->item);
    }
}

void vd_words_tell(const vd_alarm_words *w, const vd_alarm_found *at, vd_alarm_part part)
{
    bool watches = at->channel != VD_NONE && at->test != VD_NONE;
    switch (part) {
    case VD_ALARM_LABEL: add_label(w, at); return;
    case VD_ALARM_NAME: add_text(w, at->alarm->name, at->item); return;
    case VD_ALARM_TEXT: add_text(w, at->alarm->text, at->item); return;
    case VD_ALARM_DOES: vd_words_reactions(w, at->alarm, at->item); return;
    case VD_ALARM_CHANNEL: vd_writer_add(w->writer, watches ? w->model->channels[at->channel].key : ""); return;
    default: break;
    }
    if (at->alarm->joint != VD_SINGLE && part == VD_ALARM_MET && at->used == VD_HOLDS) {
        add_members(w, at);
    }
    if (!watches) {
        return;
    }
    switch (part) {
    case VD_ALARM_MET: add_met(w, at); break;
    case VD_ALARM_OVER:
        if (has_no_end(w, at)) {
            vd_writer_add(w->writer, "not known");
            break;
        }
        vd_words_called(w, at->channel);
        vd_writer_add(w->writer, " ");
        if (vd_index(at->alarm->longest) != VD_NONE) {
            vd_writer_add(w->writer, "has rested for so long");
            break;
        }
        vd_words_over(w, &w->model->tests[at->test], at->item, at->channel);
        break;
    case VD_ALARM_DELAY: add_time(w, vd_index(at->alarm->delay_in), at->item); break;
    case VD_ALARM_DELAY_OUT: add_time(w, vd_index(at->alarm->delay_out), at->item); break;
    case VD_ALARM_HUSH: add_time(w, vd_index(at->alarm->hush), at->item); break;
    case VD_ALARM_ONLY_WHILE: add_conditions(w, at); break;
    default: add_clearing(w, at); break;
    }
}

void vd_alarm_tell(const vd_set *set, uint16_t n, vd_alarm_part part, vd_writer *writer)
{
    vd_alarm_words w = {set, set->model, writer};
    vd_alarm_found at = vd_alarm_find(set, n);
    vd_words_tell(&w, &at, part);
}

/* ---- The whole ---- */

/* A piece with words around it, where there is one. */
static bool with(const vd_alarm_words *w, const vd_alarm_found *at, const char *before, vd_alarm_part part,
                 const char *after)
{
    size_t start = w->writer->length;
    vd_writer_add(w->writer, before);
    size_t from = w->writer->length;
    vd_words_tell(w, at, part);
    if (w->writer->length == from) { /* nothing to tell: nor what stands before it */
        w->writer->length = start;
        w->writer->text[start] = '\0';
        return false;
    }
    vd_writer_add(w->writer, after);
    return true;
}

void vd_alarm_call(const vd_set *set, uint16_t n, vd_writer *writer)
{
    vd_alarm_words w = {set, set->model, writer};
    vd_alarm_found at = vd_alarm_find(set, n);
    vd_words_tell(&w, &at, VD_ALARM_LABEL);
    with(&w, &at, ", \"", VD_ALARM_NAME, "\"");
}

/* A limit that was set though the alarm is not used. */
static void say_unused(const vd_alarm_words *w, const vd_alarm_found *at)
{
    vd_writer_add(w->writer, "not used");
    for (uint8_t i = 0; i < at->alarm->test_count; i++) {
        uint16_t limit = vd_index(w->model->tests[at->alarm->test + i].limit);
        const vd_kind *kind = limit != VD_NONE ? &w->model->book->formulas[limit].kind : NULL;
        uint16_t setting = kind != NULL ? vd_spot_in(kind->spot, at->item) : (uint16_t)VD_NONE;
        if (setting == VD_NONE) {
            continue;
        }
        vd_value value = vd_set_get(w->set, setting), initial = vd_set_initial(w->set, setting);
        if (value.type != VD_NOTHING && vd_set_exists(w->set, setting) != VD_FAILS &&
            !vd_value_equal(&value, &initial)) {
            vd_meaning meaning;
            vd_set_meaning(w->set, setting, &meaning);
            vd_writer_add(w->writer, ", though its limit is set to ");
            vd_value_show(meaning.of, &value, w->writer);
            break;
        }
    }
    vd_writer_add(w->writer, ".");
}

static void say_joint(const vd_alarm_words *w, const vd_alarm_found *at)
{
    vd_writer_add(w->writer, "sounds while ");
    vd_words_tell(w, at, VD_ALARM_MET);
    vd_writer_add(w->writer, ".");
}

static void say_when(const vd_alarm_words *w, const vd_alarm_found *at)
{
    vd_writer_add(w->writer, "sounds when ");
    vd_words_tell(w, at, VD_ALARM_MET);
    with(w, at, vd_index(at->alarm->longest) != VD_NONE ? ", and that for " : " for ", VD_ALARM_DELAY, "");
    with(w, at, ", but only while ", VD_ALARM_ONLY_WHILE, "");
    vd_writer_add(w->writer, ".");
}

static void say_end(const vd_alarm_words *w, const vd_alarm_found *at)
{
    char probe[8];
    vd_writer short_one = vd_writer_start(probe, sizeof probe);
    vd_alarm_words trying = {w->set, w->model, &short_one};
    vd_words_tell(&trying, at, VD_ALARM_ONLY_WHILE);
    bool conditions = short_one.length > 0;
    if (has_no_end(w, at)) {
        vd_writer_add(w->writer, " Its end is unknown: its release is below zero.");
        return;
    }
    vd_writer_add(w->writer, " It ends once ");
    vd_words_tell(w, at, VD_ALARM_OVER);
    if (conditions && !at->alarm->holds) {
        vd_writer_add(w->writer, ", or the condition is lost");
    }
    with(w, at, conditions && !at->alarm->holds ? ", for " : " for ", VD_ALARM_DELAY_OUT, "");
    vd_writer_add(w->writer, conditions && at->alarm->holds ? ", and waits while the condition is lost." : ".");
    if (with(w, at, " It stays on until the ", VD_ALARM_LATCHED, " clears it.")) {
        vd_writer_add(w->writer, at->alarm->clears_always ? " That works earlier too." : "");
    }
}

void vd_alarm_say(const vd_set *set, uint16_t n, vd_writer *writer)
{
    vd_alarm_words w = {set, set->model, writer};
    vd_alarm_found at = vd_alarm_find(set, n);
    if (at.used == VD_NOT_KNOWN) {
        vd_writer_add(writer, "its meaning is unknown, since some of its settings are.");
        return;
    }
    if (at.used == VD_FAILS) {
        say_unused(&w, &at);
        return;
    }
    if (at.alarm->joint != VD_SINGLE) {
        say_joint(&w, &at);
    } else {
        say_when(&w, &at);
        say_end(&w, &at);
        with(&w, &at, " Nothing begins within ", VD_ALARM_HUSH, " of a start.");
    }
    if (!with(&w, &at, " It ", VD_ALARM_DOES, "")) {
        vd_writer_add(writer, at.alarm->reaction_count > 0 ? " It does nothing." : "");
        return;
    }
    with(&w, &at, ", with the text \"", VD_ALARM_TEXT, "\"");
    vd_writer_add(writer, ".");
}

bool vd_alarm_differs(const vd_set *a, const vd_set *b, uint16_t n)
{
    char texts[2][VD_SENTENCE_SIZE];
    const vd_set *sets[] = {a, b};
    for (int i = 0; i < 2; i++) {
        vd_writer writer = vd_writer_start(texts[i], VD_SENTENCE_SIZE);
        vd_alarm_call(sets[i], n, &writer);
        vd_alarm_say(sets[i], n, &writer);
    }
    return !vd_same_text(texts[0], texts[1]);
}

bool vd_alarm_tells(const vd_set *set, uint16_t n, uint16_t setting)
{
    vd_alarm_found at = vd_alarm_find(set, n);
    const vd_setting *about = &set->model->settings[setting];
    uint16_t tells = vd_spot_in(at.alarm->tells, at.item);
    if (tells == VD_NONE || vd_index(about->block) == VD_NONE || vd_index(about->block) != vd_index(at.alarm->people) ||
        about->item > 62) {
        return false;
    }
    vd_value who = vd_set_get(set, tells);
    return at.used == VD_HOLDS && who.type != VD_NOTHING && (who.number >> about->item & 1) != 0;
}
