/* SPDX-License-Identifier: MIT
 * An alarm as it is wished, put into the settings that make it up. What settings a formula hangs on is known; which of
 * their values makes it true is found by trying, and what changes least besides is taken. */
#include "phrases.h"
#include "edit.h"
#include "verdite/alarm_edit.h"

#include <string.h>

static bool refuse(vd_editing *e, const char *what, const char *said, const char *allowed)
{
    char text[VD_SAID_SIZE], name[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(text, sizeof text), called = vd_writer_start(name, 40);
    vd_alarm_call(e->set, e->n, &called);
    vd_writer_add(&writer, name);
    vd_writer_add(&writer, what);
    vd_writer_add(&writer, said);
    vd_writer_add(&writer, ".");
    vd_note_WRONG_WORDS(e->fault, text, allowed);
    return false;
}

static bool make(vd_editing *e, uint16_t formula, vd_ruling wanted)
{
    const vd_goal g = {.formula = formula, .wanted = wanted};
    return formula != VD_NONE ? vd_alarm_attain(e, &g) : wanted == VD_HOLDS;
}

/* ---- Values ---- */

/* The one setting that a formula is, VD_NONE where it is none. */
static uint16_t setting_of(const vd_editing *e, uint16_t formula)
{
    const vd_kind *kind = formula != VD_NONE ? &e->model->book->formulas[formula].kind : NULL;
    return kind != NULL ? vd_spot_in(kind->spot, e->item) : (uint16_t)VD_NONE;
}

static bool put_text(vd_editing *e, uint16_t setting, const char *text)
{
    vd_meaning meaning;
    vd_typed typed;
    vd_fault fault = {0};
    bool known = vd_set_meaning(e->set, setting, &meaning);
    const vd_setting *lasting = &e->model->settings[setting];
    if (known && lasting->access != VD_READ_ONLY && lasting->written_by != VD_MAKER &&
        vd_value_parse(&meaning, text, strlen(text), &typed, &fault) == VD_OK &&
        vd_set_check_value(e->set, setting, &typed.value, &fault) == VD_OK) {
        vd_set_put(e->set, setting, &typed.value);
        return true;
    }
    if (fault.status == VD_OK) {
        vd_note_PLACES_NOT_KNOWN(&fault, lasting,
                                 vd_index(lasting->places_from) != VD_NONE
                                     ? e->model->settings[vd_index(lasting->places_from)].words->key
                                     : lasting->words->key);
    }
    if (e->fault != NULL && e->fault->status == VD_OK) {
        *e->fault = fault;
        e->fault->setting = lasting;
    }
    return false;
}

/* Puts a value where a formula is one setting; where it is fixed, it must be that already. */
static bool put_formula(vd_editing *e, uint16_t formula, const char *text, const char *what)
{
    uint16_t setting = setting_of(e, formula);
    if (setting != VD_NONE) {
        return put_text(e, setting, text);
    }
    if (formula == VD_NONE) {
        return refuse(e, " has no ", what, "Leave it out: its model does not allow it.");
    }
    const char *fixed = e->model->formulas[formula].text;
    return vd_same_text(fixed, text) || refuse(e, " has a fixed ", what, fixed);
}

static bool put_chooser(vd_editing *e, uint16_t chooser, const char *channel)
{
    const vd_setting *about = &e->model->settings[chooser];
    char allowed[VD_ALLOWED_SIZE];
    vd_writer writer = vd_writer_start(allowed, sizeof allowed);
    vd_writer_add(&writer, "It can watch:");
    for (uint16_t i = 0; i < about->choice_count; i++) {
        const char *name = about->choices[i].name;
        vd_value value = {.type = VD_CHOICE, .number = about->choices[i].number};
        bool is_channel = vd_model_channel(e->model, name, strlen(name)) != VD_NONE &&
                          vd_set_check_value(e->set, chooser, &value, NULL) == VD_OK;
        if (is_channel && vd_same_text(name, channel)) {
            vd_set_put(e->set, chooser, &value);
            return true;
        }
        vd_writer_add(&writer, is_channel ? " " : "");
        vd_writer_add(&writer, is_channel ? name : "");
    }
    return refuse(e, " cannot watch ", channel, allowed);
}

/* A choice that names no channel. */
static bool put_no_channel(vd_editing *e, uint16_t chooser)
{
    const vd_setting *about = &e->model->settings[chooser];
    for (uint16_t i = 0; i < about->choice_count; i++) {
        const char *name = about->choices[i].name;
        if (vd_model_channel(e->model, name, strlen(name)) == VD_NONE) {
            vd_value value = {.type = VD_CHOICE, .number = about->choices[i].number};
            vd_set_put(e->set, chooser, &value);
            return true;
        }
    }
    return false;
}

/* A release is how far a value must come back. */
static bool put_release(vd_editing *e, uint16_t formula, uint16_t channel, const char *text)
{
    return put_formula(e, formula, text, "release") &&
           (!vd_formula_below_zero(e->set, formula, e->item, channel) ||
            refuse(e, " cannot have a release of ", text, "It is 0 or more: how far the value must come back."));
}

/* ---- Comparisons ---- */

/* Brings it about that the comparison with this way is the one that counts. */
static bool choose_way(vd_editing *e, uint16_t first, uint8_t count, uint8_t way, uint16_t *test)
{
    for (uint16_t i = 0; i < count; i++) {
        uint16_t one = (uint16_t)(first + i);
        const vd_goal g = {.formula = VD_NONE, .first = first, .test = one, .count = count};
        if (e->model->tests[one].way == way && vd_alarm_attain(e, &g)) {
            *test = one;
            return true;
        }
    }
    char allowed[VD_ALLOWED_SIZE];
    vd_writer writer = vd_writer_start(allowed, sizeof allowed);
    bool any = vd_tests_pick(e->set, first, count, e->item, test) == VD_HOLDS;
    vd_writer_add(&writer, any ? "Here it can be: " : "It cannot be set with what it watches.");
    vd_writer_add(&writer, any ? vd_way_word(e->model->tests[*test].way) : "");
    return refuse(e, " cannot be ", vd_way_word(way), allowed);
}

static bool put_limits(vd_editing *e, const vd_test *about, uint16_t channel, const vd_wished_test *wish)
{
    if (about->way == VD_IS) {
        int64_t wanted = 0, fixed = 0;
        if (!vd_channel_state(e->model, channel, wish->limit, strlen(wish->limit), &wanted)) {
            return refuse(e, " has no state ", wish->limit, "Use the names that its channel has.");
        }
        bool same = vd_formula_state(e->set, vd_index(about->limit), e->item, channel, &fixed) && fixed == wanted;
        return same || put_formula(e, vd_index(about->limit), wish->limit, "state");
    }
    return put_formula(e, vd_index(about->limit), wish->limit, "limit") &&
           (wish->upper == NULL || put_formula(e, vd_index(about->upper), wish->upper, "limit"));
}

/* What is like a channel that is another one now: a number that is 0 is so in every unit. */
static void fit_zeros(vd_editing *e, uint16_t chooser)
{
    vd_meaning meaning;
    for (uint16_t i = 0; i < e->model->setting_count && chooser != VD_NONE; i++) {
        const vd_setting *one = &e->model->settings[i];
        vd_value value = vd_set_get(e->set, i);
        if (one->like_count > 0 && vd_index(one->places_from) == chooser && value.type != VD_NOTHING &&
            value.number == 0 && vd_set_meaning(e->set, i, &meaning)) {
            value.measure = meaning.measure;
            vd_set_put(e->set, i, &value);
        }
    }
}

static bool put_test(vd_editing *e, const vd_source *source, uint16_t first, uint8_t count, const vd_wished_test *wish)
{
    uint16_t channel = VD_NONE, test = VD_NONE, chooser = vd_spot_in(source->chooser, e->item);
    uint16_t wanted =
        wish->channel != NULL ? vd_model_channel(e->model, wish->channel, strlen(wish->channel)) : VD_NONE;
    if (wish->channel != NULL && vd_index(source->channel) == VD_NONE && !put_chooser(e, chooser, wish->channel)) {
        return false;
    }
    if (vd_source_channel(e->set, source, e->item, &channel) != VD_HOLDS) {
        return refuse(e, " does not watch ", "anything", "Say what: CHANNEL above LIMIT.");
    }
    if (wish->channel != NULL && channel != wanted) {
        char allowed[VD_ALLOWED_SIZE];
        vd_writer writer = vd_writer_start(allowed, sizeof allowed);
        vd_writer_add(&writer, "It always watches ");
        vd_writer_add(&writer, e->model->channels[channel].key);
        vd_writer_add(&writer, ".");
        return refuse(e, " cannot watch ", wish->channel, allowed);
    }
    e->kept = chooser;
    bool fine = choose_way(e, first, count, wish->way, &test);
    e->kept = VD_NONE;
    fit_zeros(e, wish->channel != NULL ? chooser : (uint16_t)VD_NONE);
    return fine && put_limits(e, &e->model->tests[test], channel, wish);
}

static bool put_conditions(vd_editing *e, const vd_wished_alarm *wish)
{
    uint16_t item = e->item;
    bool fine = true;
    for (uint8_t i = 0; i < e->alarm->condition_count && fine; i++) {
        const vd_condition *one = &e->model->conditions[e->alarm->conditions[i]];
        uint16_t chooser = vd_spot_in(one->watches.chooser, vd_index(one->block) != VD_NONE ? item : 0);
        if (i < wish->condition_count) {
            fine = put_test(e, &one->watches, one->test, one->test_count, &wish->conditions[i]);
        } else if (wish->no_conditions || wish->condition_count > 0) { /* those that are not wished go */
            fine = chooser != VD_NONE && put_no_channel(e, chooser);
            fine = fine || refuse(e, " cannot be without ", "its condition", "In its model it is always on.");
        }
    }
    return fine && (wish->condition_count <= e->alarm->condition_count ||
                    refuse(e, " has no room for ", "so many conditions", "Leave some out."));
}

/* ---- What it does ---- */

/* Whether a name stands in a list parted by these; the rest of the list moves on. */
static bool next_name(const char **list, const char *parts, vd_span *name)
{
    const vd_span among = {parts, strlen(parts)};
    while (*list != NULL && **list != '\0' && vd_has_char(among, **list)) {
        (*list)++;
    }
    if (*list == NULL || **list == '\0') {
        return false;
    }
    size_t length = 0;
    while ((*list)[length] != '\0' && !vd_has_char(among, (*list)[length])) {
        length++;
    }
    *name = vd_trimmed((vd_span){*list, length});
    *list += length;
    return true;
}

static bool put_reactions(vd_editing *e, const char *wished)
{
    uint64_t wanted = 0;
    vd_span name;
    char allowed[VD_ALLOWED_SIZE], said[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(allowed, sizeof allowed);
    vd_writer_add(&writer, "It can do:");
    for (uint8_t i = 0; i < e->alarm->reaction_count; i++) {
        vd_writer_add(&writer, " ");
        vd_writer_add(&writer, e->alarm->reactions[i].key);
    }
    for (const char *rest = wished; next_name(&rest, ",+ ", &name);) {
        bool found = vd_same_word(name, "nothing") || vd_same_word(name, "none");
        for (uint8_t i = 0; i < e->alarm->reaction_count && i < 64; i++) {
            bool is = vd_same_word(name, e->alarm->reactions[i].key);
            wanted |= (uint64_t)is << i;
            found = found || is;
        }
        if (!found) {
            vd_writer quoted = vd_writer_start(said, 30);
            vd_writer_add_bytes(&quoted, name.at, name.length);
            return refuse(e, " cannot do ", said, allowed);
        }
    }
    for (uint8_t i = 0; i < e->alarm->reaction_count && i < 64; i++) {
        const vd_reaction *one = &e->alarm->reactions[i];
        vd_ruling as = (wanted >> i & 1) != 0 ? VD_HOLDS : VD_FAILS;
        bool always = vd_index(one->does) == VD_NONE; /* it cannot but do that */
        if (!always && !make(e, vd_index(one->does), as)) {
            return refuse(e, as == VD_HOLDS ? " cannot be made to do " : " always does ", one->key, allowed);
        }
    }
    return true;
}

/* Whether a person goes by this name: the choice, the person's name or number. */
static bool is_called(const vd_editing *e, const vd_choice *choice, vd_span name)
{
    const vd_block *people =
        vd_index(e->alarm->people) != VD_NONE ? &e->model->blocks[vd_index(e->alarm->people)] : NULL;
    const uint16_t members[] = {vd_index(e->alarm->person), vd_index(e->alarm->number)};
    bool is = vd_same_word(name, choice->name);
    for (size_t i = 0; i < 2 && people != NULL && choice->number < people->count; i++) {
        if (members[i] != VD_NONE) {
            vd_value value = vd_set_get(e->set, (uint16_t)(members[i] + (uint16_t)choice->number * people->members));
            is = is || (value.type != VD_NOTHING && value.length == name.length && name.length > 0 &&
                        memcmp(value.text, name.at, name.length) == 0);
        }
    }
    return is;
}

static bool put_people(vd_editing *e, const char *wished)
{
    uint16_t tells = vd_spot_in(e->alarm->tells, e->item);
    const vd_setting *about = tells != VD_NONE ? &e->model->settings[tells] : NULL;
    vd_value value = {.type = VD_FLAGS};
    vd_span name;
    char allowed[VD_ALLOWED_SIZE], said[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(allowed, sizeof allowed);
    if (about == NULL) {
        return refuse(e, " tells ", "nobody in particular", "Leave it out.");
    }
    vd_writer_add(&writer, "By name or number, or:");
    for (uint16_t i = 0; i < about->choice_count; i++) {
        vd_writer_add(&writer, " ");
        vd_writer_add(&writer, about->choices[i].name);
    }
    for (const char *rest = wished; next_name(&rest, ",", &name);) { /* people have blanks in them, numbers a + */
        bool found = vd_same_word(name, "nobody") || vd_same_word(name, "none");
        for (uint16_t i = 0; i < about->choice_count; i++) {
            bool is = is_called(e, &about->choices[i], name);
            value.number |= is ? (int64_t)1 << about->choices[i].number : 0;
            found = found || is;
        }
        if (!found) {
            vd_writer quoted = vd_writer_start(said, 30);
            vd_writer_add_bytes(&quoted, name.at, name.length);
            return refuse(e, " knows nobody called ", said, allowed);
        }
    }
    vd_set_put(e->set, tells, &value);
    return true;
}

/* ---- The whole ---- */

static bool put_latching(vd_editing *e, const char *text)
{
    bool on = vd_same_text(text, "on") || vd_same_text(text, "yes");
    if (!on && !vd_same_text(text, "off") && !vd_same_text(text, "no")) {
        return refuse(e, " latches ", text, "Give latches on, or latches off.");
    }
    return (vd_index(e->alarm->latches) != VD_NONE && make(e, vd_index(e->alarm->latches), on ? VD_HOLDS : VD_FAILS)) ||
           (vd_index(e->alarm->latches) == VD_NONE && !on) ||
           refuse(e, " cannot ", on ? "latch" : "be kept from latching", "Leave it out.");
}

static bool put_text_told(vd_editing *e, const char *text)
{
    uint16_t setting = vd_spot_in(e->alarm->text, e->item);
    return setting != VD_NONE ? put_text(e, setting, text) : refuse(e, " tells ", "no text", "Leave it out.");
}

static bool put_all(vd_editing *e, const vd_wished_alarm *wish)
{
    if (e->alarm->joint != VD_SINGLE) {
        return refuse(e, " is ", "a combination", "Change the alarms that it combines.");
    }
    /* What it watches comes first: units and directions follow from it, and so may whether it is used. */
    bool fine = !wish->test.given || put_test(e, &e->alarm->watches, e->alarm->test, e->alarm->test_count, &wish->test);
    e->kept = vd_spot_in(e->alarm->watches.chooser, e->item); /* what is watched nobody but the person chooses */
    fine =
        fine && (make(e, vd_index(e->alarm->used), VD_HOLDS) || refuse(e, " is not ", "used", "Say what it watches."));
    e->kept = VD_NONE;
    uint16_t channel = VD_NONE, test = VD_NONE;
    fine = fine && ((vd_source_channel(e->set, &e->alarm->watches, e->item, &channel) == VD_HOLDS &&
                     vd_tests_pick(e->set, e->alarm->test, e->alarm->test_count, e->item, &test) == VD_HOLDS) ||
                    refuse(e, " does not watch ", "anything", "Say what: CHANNEL above LIMIT."));
    fine = fine && ((wish->condition_count == 0 && !wish->no_conditions) || put_conditions(e, wish));
    fine = fine &&
           (wish->release == NULL || put_release(e, vd_index(e->model->tests[test].release), channel, wish->release));
    fine = fine && (wish->delay == NULL || put_formula(e, vd_index(e->alarm->delay_in), wish->delay, "delay"));
    fine = fine && (wish->delay_out == NULL ||
                    put_formula(e, vd_index(e->alarm->delay_out), wish->delay_out, "delay at its end"));
    fine = fine && (wish->latches == NULL || put_latching(e, wish->latches));
    fine = fine && (wish->does == NULL || put_reactions(e, wish->does));
    fine = fine && (wish->tells == NULL || put_people(e, wish->tells));
    return fine && (wish->text == NULL || put_text_told(e, wish->text));
}

static vd_status finished(vd_editing *e, bool fine)
{
    if (fine) {
        return VD_OK;
    }
    vd_set_copy(e->set, e->start);
    return e->fault != NULL && e->fault->status != VD_OK ? e->fault->status : VD_WRONG_WORDS;
}

static vd_editing begin(vd_set *set, vd_set *before, uint16_t n, vd_fault *fault)
{
    vd_editing e = {.set = set, .start = before, .model = set->model, .n = n, .kept = VD_NONE, .fault = fault};
    uint16_t alarm = 0;
    vd_model_alarm_at(set->model, n, &alarm, &e.item);
    e.alarm = &set->model->alarms[alarm];
    vd_set_copy(before, set);
    return e;
}

vd_status vd_alarm_apply(vd_set *set, vd_set *before, uint16_t n, const vd_wished_alarm *wish, vd_fault *fault)
{
    vd_editing e = begin(set, before, n, fault);
    return finished(&e, put_all(&e, wish));
}

vd_status vd_alarm_add(vd_set *set, vd_set *before, uint16_t *n, const vd_wished_alarm *wish, vd_fault *fault)
{
    uint16_t count = vd_model_alarm_count(set->model), free_ones = 0;
    vd_fault first = {0};
    for (*n = 0; *n < count; (*n)++) {
        vd_fault own = {0};
        if (vd_alarm_is_used(set, *n) != VD_FAILS) {
            continue;
        }
        free_ones++;
        if (vd_alarm_apply(set, before, *n, wish, &own) == VD_OK) {
            return VD_OK;
        }
        /* A slot that could be so but for a value tells more than one that cannot be so at all. */
        first = first.status == VD_OK || (first.status == VD_WRONG_WORDS && own.status != VD_WRONG_WORDS) ? own : first;
    }
    if (free_ones == 0) {
        return vd_note_WRONG_WORDS(fault, "No alarm is free.", "Clear one, or change one that is in use.");
    }
    if (fault != NULL && fault->status == VD_OK) {
        *fault = first;
    }
    return first.status;
}

vd_status vd_alarm_clear(vd_set *set, vd_set *before, uint16_t n, vd_fault *fault)
{
    vd_editing e = begin(set, before, n, fault);
    uint16_t chooser = vd_spot_in(e.alarm->watches.chooser, e.item);
    bool fine = chooser != VD_NONE && put_no_channel(&e, chooser);
    fine = fine || (vd_index(e.alarm->used) != VD_NONE && make(&e, vd_index(e.alarm->used), VD_FAILS));
    return finished(
        &e, (fine && vd_alarm_is_used(set, n) == VD_FAILS) ||
                refuse(&e, " cannot ", "be cleared", "This unit always watches it. Only its limits can be changed."));
}

static bool mentions(const vd_model *model, uint16_t formula, uint16_t item, uint16_t setting)
{
    vd_naming naming = vd_formula_names(model, formula);
    uint16_t named = VD_NONE;
    while ((named = vd_spot_in(vd_names_next(&naming), item)) != VD_NONE && named != setting) {
    }
    return named != VD_NONE;
}

bool vd_alarm_compares_by(const vd_set *set, uint16_t n, uint16_t setting)
{
    const vd_model *model = set->model;
    vd_alarm_found at = vd_alarm_find(set, n);
    for (uint8_t i = 0; i < at.alarm->test_count; i++) {
        const vd_test *one = &model->tests[at.alarm->test + i];
        if (mentions(model, vd_index(one->counts), at.item, setting) ||
            (at.alarm->test + i == at.test && (mentions(model, vd_index(one->limit), at.item, setting) ||
                                               mentions(model, vd_index(one->upper), at.item, setting)))) {
            return model->settings[setting].access != VD_READ_ONLY;
        }
    }
    return false;
}
