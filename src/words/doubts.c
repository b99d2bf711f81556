/* SPDX-License-Identifier: MIT
 * What is doubtful about an alarm: that it can never sound, or always does, or tells nobody. */
#include "phrases.h"

static const char *const sentences[VD_DOUBT_COUNT] = {
    [VD_DOUBT_IDLE] = "{more}",
    [VD_DOUBT_NOT_HERE] = "This unit has no {channel}, so it never sounds.",
    [VD_DOUBT_NOT_WIRED] = "Nothing is connected to {channel}, so it never sounds.",
    [VD_DOUBT_NEVER] = "{channel} measures {more}, so it never sounds.",
    [VD_DOUBT_ALWAYS] = "{channel} measures {more}, so it always sounds.",
    [VD_DOUBT_NEVER_OVER] = "{channel} measures {more}, so it never ends: its release is beyond that.",
    [VD_DOUBT_RELEASE] = "Its release is below zero, so nobody can say when it sounds. A release is 0 or more.",
    [VD_DOUBT_CONDITION_NOT_HERE] = "Its condition needs {channel}, which this unit does not have, so it never sounds.",
    [VD_DOUBT_CONDITION_NOT_WIRED] =
        "Its condition needs {channel}, but nothing is connected to it, so it never sounds.",
    [VD_DOUBT_CONDITION_NEVER] = "Its condition is never true: {channel} measures {more}.",
    [VD_DOUBT_CONDITION_ALWAYS] = "Its condition is always true: {channel} measures {more}.",
    [VD_DOUBT_NOTHING] = "It does nothing when it sounds.",
    [VD_DOUBT_NOBODY] = "It tells nobody: no recipient is chosen.",
    [VD_DOUBT_NO_NUMBER] = "It tells somebody whose number is unknown.",
    [VD_DOUBT_LIMIT_KEPT] = "It watches {channel} now, but its limit was not changed.",
    [VD_DOUBT_WAY_KEPT] = "It watches {channel} now, but \"{more}\" was not changed.",
    [VD_DOUBT_TWICE] = "{more} is the same alarm.",
    [VD_DOUBT_CONTRADICTS] = "Together with {more} it always sounds: they cover everything that {channel} measures.",
    [VD_DOUBT_AT_ONCE] = "It would sound at once: {channel} is at {more}.",
};

typedef struct doubting {
    vd_alarm_doubts *doubts;
    const vd_set *set;
    const vd_model *model;
    vd_alarm_found at;
    uint16_t channel; /* what the sentence is about */
    vd_writer *more;
} doubting;

/* ---- Each doubt ---- */

static bool is_idle(doubting *d)
{
    if (vd_formula_truth(d->set, vd_index(d->at.alarm->matters), d->at.item, VD_HOLDS) != VD_FAILS) {
        return false;
    }
    vd_writer_add(d->more, d->at.alarm->idle);
    return true;
}

static bool is_not_here(doubting *d)
{
    return vd_channel_doubt(d->set, d->channel) == VD_DOUBT_NOT_HERE;
}

static bool is_not_wired(doubting *d)
{
    return vd_channel_doubt(d->set, d->channel) == VD_DOUBT_NOT_WIRED;
}

static bool in_range(doubting *d, int which)
{
    bool outcomes[3];
    if (!vd_test_covers(d->set, d->at.test, d->at.item, d->channel, &outcomes[0], &outcomes[1], &outcomes[2]) ||
        !outcomes[which] || vd_index(d->at.alarm->longest) != VD_NONE) {
        return false;
    }
    vd_range_print(d->set, d->channel, d->more);
    return true;
}

static bool is_never(doubting *d)
{
    return in_range(d, 0);
}

static bool is_always(doubting *d)
{
    return in_range(d, 1);
}

static bool is_never_over(doubting *d)
{
    return in_range(d, 2);
}

static bool is_release_below_zero(doubting *d)
{
    return vd_formula_below_zero(d->set, vd_index(d->model->tests[d->at.test].release), d->at.item, d->channel);
}

/* Whether something is so of a condition; `channel` becomes that one's. */
static bool any_condition(doubting *d, bool (*is)(doubting *d, uint16_t item, uint16_t channel, uint16_t test))
{
    for (uint8_t i = 0; i < d->at.alarm->condition_count; i++) {
        uint16_t item = 0, channel = VD_NONE, test = VD_NONE;
        if (vd_condition_find(d->set, &d->at, i, &item, &channel, &test) == VD_HOLDS && is(d, item, channel, test)) {
            d->channel = channel;
            return true;
        }
    }
    return false;
}

static bool condition_lacks(doubting *d, uint16_t item, uint16_t channel, uint16_t test)
{
    (void)item, (void)test;
    return vd_channel_doubt(d->set, channel) == VD_DOUBT_NOT_HERE;
}

static bool condition_unwired(doubting *d, uint16_t item, uint16_t channel, uint16_t test)
{
    (void)item, (void)test;
    return vd_channel_doubt(d->set, channel) == VD_DOUBT_NOT_WIRED;
}

static bool condition_covers(doubting *d, uint16_t item, uint16_t channel, uint16_t test, bool all)
{
    bool outcomes[3];
    if (!vd_test_covers(d->set, test, item, channel, &outcomes[0], &outcomes[1], &outcomes[2]) || !outcomes[all]) {
        return false;
    }
    vd_range_print(d->set, channel, d->more);
    return true;
}

static bool condition_nothing(doubting *d, uint16_t item, uint16_t channel, uint16_t test)
{
    return condition_covers(d, item, channel, test, false);
}

static bool condition_all(doubting *d, uint16_t item, uint16_t channel, uint16_t test)
{
    return condition_covers(d, item, channel, test, true);
}

static bool is_condition_not_here(doubting *d)
{
    return any_condition(d, condition_lacks);
}

static bool is_condition_not_wired(doubting *d)
{
    return any_condition(d, condition_unwired);
}

static bool is_condition_never(doubting *d)
{
    return any_condition(d, condition_nothing);
}

static bool is_condition_always(doubting *d)
{
    return any_condition(d, condition_all);
}

static bool does_nothing(doubting *d)
{
    bool any = d->at.alarm->reaction_count == 0;
    for (uint8_t i = 0; i < d->at.alarm->reaction_count; i++) {
        any =
            any || vd_formula_truth(d->set, vd_index(d->at.alarm->reactions[i].does), d->at.item, VD_HOLDS) != VD_FAILS;
    }
    return !any;
}

static bool is_to_tell(const doubting *d)
{
    for (uint8_t i = 0; i < d->at.alarm->reaction_count; i++) {
        const vd_reaction *one = &d->at.alarm->reactions[i];
        if (one->tells && vd_formula_truth(d->set, vd_index(one->does), d->at.item, VD_HOLDS) == VD_HOLDS) {
            return true;
        }
    }
    return false;
}

static vd_value told(const doubting *d)
{
    uint16_t tells = vd_spot_in(d->at.alarm->tells, d->at.item);
    return tells != VD_NONE ? vd_set_get(d->set, tells) : (vd_value){.type = VD_NOTHING};
}

static bool tells_nobody(doubting *d)
{
    vd_value who = told(d);
    return is_to_tell(d) && who.type != VD_NOTHING && who.number == 0;
}

static bool tells_no_number(doubting *d)
{
    vd_value who = told(d);
    const vd_alarm *alarm = d->at.alarm;
    const vd_block *people = vd_index(alarm->people) != VD_NONE ? &d->model->blocks[vd_index(alarm->people)] : NULL;
    for (uint16_t i = 0; is_to_tell(d) && who.type != VD_NOTHING && people != NULL && i < people->count && i < 63;
         i++) {
        vd_value number = vd_index(alarm->number) != VD_NONE
                              ? vd_set_get(d->set, (uint16_t)(vd_index(alarm->number) + i * people->members))
                              : (vd_value){.type = VD_NOTHING};
        if ((who.number >> i & 1) != 0 && number.type != VD_NOTHING && number.length == 0) {
            return true;
        }
    }
    return false;
}

/* Whether it watched another channel before, and how. */
static bool watched_other(const doubting *d, vd_alarm_found *was)
{
    if (d->doubts->before == NULL) {
        return false;
    }
    *was = vd_alarm_find(d->doubts->before, d->doubts->n);
    return was->used == VD_HOLDS && was->channel != d->channel;
}

/* What somebody typed did not just stay as it was. */
static bool is_typed(const doubting *d, uint16_t setting)
{
    return d->doubts->typed != NULL && d->doubts->typed[setting] != 0;
}

/* Whether the limit is what it was for another channel. */
static bool kept_limit(doubting *d)
{
    const vd_test *test = &d->model->tests[d->at.test];
    const vd_kind *kind = &d->model->book->formulas[vd_index(test->limit)].kind;
    vd_alarm_found was;
    uint16_t setting = vd_spot_in(kind->spot, d->at.item);
    if (!watched_other(d, &was) || setting == VD_NONE || test->way == VD_IS) {
        return false;
    }
    return !is_typed(d, setting) && vd_set_compare(d->doubts->before, d->set, setting) == VD_SAME;
}

/* Whether a setting says which comparison counts, and says what it said for another channel. */
static bool kept_way(doubting *d)
{
    const vd_alarm *alarm = d->at.alarm;
    uint16_t chooser = vd_spot_in(alarm->watches.chooser, d->at.item);
    vd_alarm_found was;
    bool kept = watched_other(d, &was) && was.test == d->at.test, any = false;
    for (uint8_t i = 0; i < alarm->test_count && kept; i++) {
        uint16_t counts = vd_index(d->model->tests[alarm->test + i].counts);
        vd_naming naming = vd_formula_names(d->model, counts);
        for (uint16_t setting; (setting = vd_spot_in(vd_names_next(&naming), d->at.item)) != VD_NONE;) {
            bool says = setting != chooser && d->model->settings[setting].access != VD_READ_ONLY;
            any = any || says;
            kept = kept &&
                   (!says || (!is_typed(d, setting) && vd_set_compare(d->doubts->before, d->set, setting) == VD_SAME));
        }
    }
    if (kept && any) {
        vd_writer_add(d->more, vd_way_word(d->model->tests[d->at.test].way));
    }
    return kept && any;
}

/* ---- Against the others ---- */

/* Calls `is` for each other alarm that is in use; names the first of which it is so. */
static bool any_other(doubting *d, bool (*is)(const doubting *d, uint16_t n, const vd_alarm_found *other))
{
    uint16_t count = vd_model_alarm_count(d->model);
    for (uint16_t n = 0; n < count; n++) {
        vd_alarm_found other = vd_alarm_find(d->set, n);
        if (n != d->doubts->n && other.used == VD_HOLDS && other.alarm->joint == VD_SINGLE && is(d, n, &other)) {
            vd_alarm_call(d->set, n, d->more);
            return true;
        }
    }
    return false;
}

/* Two that sound and end together, and do the same, are one. */
static bool is_same(const doubting *d, uint16_t n, const vd_alarm_found *other)
{
    char texts[2][VD_SENTENCE_SIZE];
    vd_writer own = vd_writer_start(texts[0], VD_SENTENCE_SIZE), its = vd_writer_start(texts[1], VD_SENTENCE_SIZE);
    if (d->at.channel != other->channel) {
        return false;
    }
    vd_alarm_say(d->set, d->doubts->n, &own);
    vd_alarm_say(d->set, n, &its);
    return vd_same_text(texts[0], texts[1]);
}

static bool unconditional(const vd_alarm_found *alarm, const vd_set *set)
{
    bool none = vd_index(alarm->alarm->longest) == VD_NONE;
    for (uint8_t i = 0; i < alarm->alarm->condition_count; i++) {
        uint16_t item = 0, channel = VD_NONE, test = VD_NONE;
        none = none && vd_condition_find(set, alarm, i, &item, &channel, &test) == VD_FAILS;
    }
    return none;
}

/* Whether two cover all that their channel measures between them: an above and a below that overlap. */
static bool covers_all(const doubting *d, uint16_t n, const vd_alarm_found *other)
{
    vd_level a, b;
    (void)n;
    if (other->channel != d->at.channel || !unconditional(&d->at, d->set) || !unconditional(other, d->set) ||
        !vd_level_is_fixed(d->set, d->at.test, d->at.item, d->at.channel, &a) ||
        !vd_level_is_fixed(d->set, other->test, other->item, other->channel, &b) || a.inside || b.inside) {
        return false;
    }
    /* Each is at rest in one stretch; where these have nothing in common, one always stands. */
    return (a.low > b.high || b.low > a.high) && a.low <= a.high && b.low <= b.high;
}

static bool is_twice(doubting *d)
{
    return any_other(d, is_same);
}

static bool contradicts(doubting *d)
{
    return any_other(d, covers_all);
}

/* ---- At present values ---- */

static vd_ruling met_now(const vd_set *set, uint16_t test, uint16_t item, uint16_t channel)
{
    vd_level level = vd_level_start(set, test, item, channel);
    int64_t number = 0;
    if (!level.known || vd_level_is_rate(&level) || !vd_channel_value(set, channel, &number)) {
        return VD_NOT_KNOWN;
    }
    return vd_level_met(&level, number, false) ? VD_HOLDS : VD_FAILS;
}

static bool sounds_now(doubting *d)
{
    bool any = false, all = true, there = false;
    bool counts = vd_formula_truth(d->set, vd_index(d->at.alarm->matters), d->at.item, VD_HOLDS) != VD_FAILS &&
                  vd_channel_doubt(d->set, d->channel) == VD_DOUBT_NONE;
    uint16_t reads = vd_index(d->model->channels[d->channel].reads);
    for (uint8_t i = 0; i < d->at.alarm->condition_count; i++) {
        uint16_t item = 0, channel = VD_NONE, test = VD_NONE;
        if (vd_condition_find(d->set, &d->at, i, &item, &channel, &test) != VD_FAILS) {
            bool so = channel != VD_NONE && test != VD_NONE && vd_channel_doubt(d->set, channel) == VD_DOUBT_NONE &&
                      met_now(d->set, test, item, channel) == VD_HOLDS;
            there = true;
            any = any || so;
            all = all && so;
        }
    }
    if (!counts || met_now(d->set, d->at.test, d->at.item, d->channel) != VD_HOLDS ||
        vd_index(d->at.alarm->longest) != VD_NONE || (there && !(d->at.alarm->any_condition ? any : all))) {
        return false;
    }
    vd_value value = vd_set_get(d->set, reads);
    if (d->model->channels[d->channel].flag != VD_NO_FLAG) {
        vd_writer_add(d->more, (value.number >> d->model->channels[d->channel].flag & 1) != 0 ? "on" : "off");
    } else {
        vd_meaning meaning;
        vd_set_meaning(d->set, reads, &meaning);
        vd_value_show(meaning.of, &value, d->more);
    }
    return true;
}

/* In the order of vd_alarm_doubt. */
static bool (*const checks[VD_DOUBT_COUNT])(doubting *) = {NULL,
                                                           is_idle,
                                                           is_not_here,
                                                           is_not_wired,
                                                           is_never,
                                                           is_always,
                                                           is_never_over,
                                                           is_release_below_zero,
                                                           is_condition_not_here,
                                                           is_condition_not_wired,
                                                           is_condition_never,
                                                           is_condition_always,
                                                           does_nothing,
                                                           tells_nobody,
                                                           tells_no_number,
                                                           kept_limit,
                                                           kept_way,
                                                           is_twice,
                                                           contradicts,
                                                           sounds_now};

static bool fill(void *about, const char *name, size_t length, vd_writer *writer)
{
    const doubting *d = *(const doubting **)about;
    bool is_channel = vd_text_is(name, length, "channel");
    vd_writer_add(writer, is_channel ? d->model->channels[d->channel].label : d->more->text);
    return true;
}

static void add_sentence(const doubting *d, vd_alarm_doubt doubt, vd_writer *writer)
{
    vd_writer_add_filled(writer, sentences[doubt], fill, &d);
}

uint16_t vd_alarm_blame(const vd_set *set, uint16_t n, vd_alarm_doubt doubt)
{
    vd_alarm_found at = vd_alarm_find(set, n);
    uint16_t chooser = vd_spot_in(at.alarm->watches.chooser, at.item), blamed = VD_NONE;
    uint16_t formula = at.test != VD_NONE && doubt != VD_DOUBT_NOT_WIRED && doubt != VD_DOUBT_NOT_HERE
                           ? vd_index(set->model->tests[at.test].limit)
                           : vd_index(at.alarm->used);
    if (doubt == VD_DOUBT_NOBODY || doubt == VD_DOUBT_NO_NUMBER) {
        return vd_spot_in(at.alarm->tells, at.item);
    }
    for (uint8_t i = 0; doubt >= VD_DOUBT_CONDITION_NOT_HERE && doubt <= VD_DOUBT_CONDITION_ALWAYS &&
                        i < at.alarm->condition_count && blamed == VD_NONE;
         i++) {
        const vd_condition *one = &set->model->conditions[at.alarm->conditions[i]];
        blamed = vd_spot_in(one->watches.chooser, vd_index(one->block) != VD_NONE ? at.item : 0);
    }
    if (blamed != VD_NONE) {
        return blamed;
    }
    if (doubt == VD_DOUBT_RELEASE) {
        formula = vd_index(set->model->tests[at.test].release);
    }
    if (doubt == VD_DOUBT_NOTHING && at.alarm->reaction_count > 0) {
        formula = vd_index(at.alarm->reactions[0].does);
    }
    vd_naming naming = vd_formula_names(set->model, formula);
    blamed = vd_spot_in(vd_names_next(&naming), at.item);
    return blamed != VD_NONE ? blamed : chooser;
}

vd_alarm_doubts vd_alarm_doubts_start(const vd_set *set, const vd_set *before, uint16_t n)
{
    return (vd_alarm_doubts){.set = set, .before = before, .n = n, .next = VD_DOUBT_NONE + 1};
}

vd_alarm_doubt vd_alarm_doubts_next(vd_alarm_doubts *doubts, vd_writer *writer)
{
    vd_alarm_found at = vd_alarm_find(doubts->set, doubts->n);
    bool single = at.alarm->joint == VD_SINGLE;
    while (at.used == VD_HOLDS && doubts->next < VD_DOUBT_COUNT) {
        char text[VD_ALLOWED_SIZE];
        vd_writer more = vd_writer_start(text, sizeof text);
        doubting d = {doubts, doubts->set, doubts->set->model, at, at.channel, &more};
        vd_alarm_doubt doubt = (vd_alarm_doubt)doubts->next++;
        bool whole = doubt == VD_DOUBT_IDLE || (doubt >= VD_DOUBT_NOTHING && doubt <= VD_DOUBT_NO_NUMBER);
        if ((single || whole) && checks[doubt](&d)) {
            add_sentence(&d, doubt, writer);
            /* What never sounds needs no more said of how it would. */
            doubts->next = doubt >= VD_DOUBT_IDLE && doubt <= VD_DOUBT_NEVER ? VD_DOUBT_NOTHING : doubts->next;
            return doubt;
        }
    }
    return VD_DOUBT_NONE;
}
