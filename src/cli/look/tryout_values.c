/* SPDX-License-Identifier: MIT
 * Alarms tried out on values that are given, or that a unit measures now; other limits, as a person types them. */
#include "look.h"
#include "../meet/meet.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

static const char *channel_at(const void *about, size_t i)
{
    return ((const vd_model *)about)->channels[i].key;
}

static bool refuse_channel(cli *c, const vd_model *model, const char *key)
{
    char *shown = cli_quotable(key), *near = vd_suggest(shown, model->channel_count, channel_at, model);
    report_new(c, vd_fault_of_NO_SUCH_CHANNEL(shown, near));
    g_free(near);
    g_free(shown);
    return false;
}

/* A typed value of a channel, times 10^places. */
static bool take_value(cli *c, const vd_set *set, uint16_t channel, const char *text, int64_t *number)
{
    const vd_model *model = set->model;
    uint16_t reads = vd_index(model->channels[channel].reads);
    vd_typed typed;
    vd_fault fault = {0};
    if (vd_channel_has_states(model, channel)) {
        if (vd_channel_state(model, channel, text, strlen(text), number)) {
            return true;
        }
        char *said = g_strdup_printf("%s cannot be \"%s\".", model->channels[channel].label, text);
        GString *states = g_string_new("It is ");
        const vd_setting *about = reads != VD_NONE ? &model->settings[reads] : NULL;
        for (uint16_t i = 0; about != NULL && about->traits->id == VD_CHOICE && i < about->choice_count; i++) {
            g_string_append_printf(states, "%s%s", i > 0 ? ", " : "", about->choices[i].name);
        }
        g_string_append(states, about == NULL || about->traits->id != VD_CHOICE ? "on or off." : ".");
        report_wrong_words(c, said, states->str);
        g_string_free(states, TRUE);
        g_free(said);
        return false;
    }
    vd_meaning meaning;
    vd_set_meaning(set, reads, &meaning);
    if (vd_value_parse(&meaning, text, strlen(text), &typed, &fault) != VD_OK) {
        report(c, &fault);
        c->worst = VD_CLASS_USAGE;
        return false;
    }
    unsigned places = vd_channel_places(model, channel);
    int64_t scaled = typed.value.number;
    for (unsigned i = typed.value.places; i < places; i++) {
        if (scaled > INT64_MAX / 100 || scaled < INT64_MIN / 100) {
            return report_wrong_words(c, "The number is too large.", "Give a smaller number.") == VD_CLASS_FINE;
        }
        scaled *= 10;
    }
    for (unsigned i = places; i < typed.value.places; i++) {
        scaled /= 10;
    }
    *number = scaled;
    return true;
}

/* ---- Values ---- */

static char *verdict_of(const tryout *t, uint16_t n, int64_t start, tone *tone_of)
{
    const vd_watched *alarm = vd_watch_alarm(t->watch, n);
    int64_t number = 0;
    bool known = alarm->channel != VD_NONE && vd_watch_value(t->watch, alarm->channel, &number);
    char *value =
        known ? tryout_value(t, alarm->channel, number)
              : g_strdup_printf("no value for %s", alarm->channel != VD_NONE
                                                       ? vd_watch_model(t->watch)->channels[alarm->channel].label
                                                       : "it");
    char *words = NULL;
    *tone_of = TONE_GOOD;
    if (alarm->used == VD_NOT_KNOWN) {
        *tone_of = TONE_DOUBT;
        words = g_strdup("not known, since not all of its settings are");
    } else if (alarm->sounded > 0) {
        int64_t after = vd_watch_begin(t->watch) == VD_NO_TIME ? 0 : t->first_sound[n] - start;
        *tone_of = TONE_BAD;
        char *with = alarm->channel != VD_NONE ? g_strdup_printf(" (%s)", value) : g_strdup("");
        words = after > 0 ? g_strdup_printf("would sound after %s%s", duration_text((uint32_t)after), with)
                          : g_strdup_printf("would sound at once%s", with);
        g_free(with);
    } else if (alarm->never != VD_DOUBT_NONE) {
        char *never = tryout_never(t, n);
        never[strlen(never) - (g_str_has_suffix(never, ".") ? 1 : 0)] = '\0';
        words = g_strdup(never);
        g_free(never);
    } else if (alarm->channel == VD_NONE) {
        words = g_strdup("would not sound");
    } else if (vd_watch_cause(t->watch, n) == VD_NOT_KNOWN) {
        bool counts = vd_watch_condition(t->watch, n) == VD_HOLDS;
        *tone_of = TONE_DOUBT;
        words = g_strdup_printf("not known: %s", !known   ? value
                                                 : counts ? "one value does not tell how fast it changes"
                                                          : "a value for its condition is missing");
    } else if (vd_watch_condition(t->watch, n) == VD_FAILS) {
        words = g_strdup_printf("would not sound, since its condition does not hold (%s)", value);
    } else if (alarm->near_at != VD_NO_TIME && alarm->near > 0) {
        char *near = tryout_value(t, alarm->channel, alarm->near);
        words = g_strdup_printf("would not sound, %s short (%s)", near, value);
        g_free(near);
    } else {
        words = g_strdup_printf("would not sound (%s)", value);
    }
    g_free(value);
    return words;
}

/* Takes CHANNEL=VALUE, each. False: reported. */
static bool take_values(tryout *t, char *const *words, int64_t *numbers, uint64_t *known)
{
    const vd_model *model = vd_watch_model(t->watch);
    for (; words != NULL && *words != NULL; words++) {
        const char *equals = strchr(*words, '=');
        size_t length = equals != NULL ? (size_t)(equals - *words) : strlen(*words);
        uint16_t channel = vd_model_channel(model, *words, length);
        char *called = g_strndup(*words, length);
        channel = channel != VD_NONE ? channel : meant_channel(model, called);
        g_free(called);
        if (equals == NULL || length == 0) {
            char *said = g_strdup_printf("\"%s\" has no value.", *words);
            report_wrong_words(t->c, said, "Give CHANNEL=VALUE.");
            g_free(said);
            return false;
        }
        if (channel == VD_NONE) {
            char *key = g_strndup(*words, length);
            refuse_channel(t->c, model, key);
            g_free(key);
            return false;
        }
        if (!take_value(t->c, t->set, channel, equals + 1, &numbers[channel])) {
            return false;
        }
        *known |= (uint64_t)1 << channel;
    }
    return true;
}

/* Tells what one alarm does, and adds it to the list. */
static void tell_verdict(tryout *t, uint16_t n, int64_t start, json_t *list)
{
    tone tone_of = TONE_PLAIN;
    char *called = alarm_called(t->set, n), *verdict = verdict_of(t, n, start, &tone_of);
    char *lead = g_strdup_printf("%s:", called), *key = alarm_key(vd_watch_model(t->watch), n),
         *what = g_strconcat(verdict, ".", NULL);
    bool sounds = vd_watch_alarm(t->watch, n)->sounded > 0;
    json_t *one = json_pack("{s:s, s:b, s:s}", "alarm", key, "sounds", sounds, "says", verdict);
    if (sounds) {
        json_object_set_new(one, "after", json_integer(t->first_sound[n] - start));
    }
    json_array_append_new(list, one);
    if (!t->c->options.json) {
        lead_print(t->c, tone_of, lead, "  ", what);
    }
    for (char **text = (char *[]){called, verdict, lead, key, what, NULL}; *text != NULL; text++) {
        g_free(*text);
    }
}

bool tryout_on_values(tryout *t, char *const *words)
{
    const vd_model *model = vd_watch_model(t->watch);
    const int64_t start = 0;
    int64_t numbers[VD_MOST_CHANNELS];
    uint64_t known = t->live_known;
    memcpy(numbers, t->live, sizeof numbers);
    if (!take_values(t, words, numbers, &known)) {
        return false;
    }
    for (uint16_t i = 0; i < model->channel_count; i++) {
        vd_watch_hold(t->watch, i, UINT32_MAX);
    }
    vd_watch_row(t->watch, start);
    for (uint16_t i = 0; i < model->channel_count; i++) {
        if ((known >> i & 1) != 0) {
            vd_watch_cell(t->watch, i, true, numbers[i]);
        }
    }
    vd_watch_until(t->watch, (int64_t)UINT32_MAX - 1);
    json_t *list = json_array();
    for (uint16_t n = 0; n < vd_model_alarm_count(model); n++) {
        if (vd_watch_alarm(t->watch, n)->used != VD_FAILS) {
            tell_verdict(t, n, start, list);
        }
    }
    if (json_array_size(list) == 0) {
        message(t->c, "No alarm is in use, so nothing would sound.");
    }
    json_object_set_new(t->c->result, "alarms", list);
    return true;
}

void tryout_take_live(tryout *t, const vd_set *set)
{
    for (uint16_t i = 0; i < set->model->channel_count; i++) {
        bool known = vd_channel_value(set, i, &t->live[i]);
        t->live_known |= (uint64_t)known << i;
    }
}

/* ---- Other limits ---- */

static bool add_limit(tryout *t, uint16_t n, bool upper, const vd_setting *about, const vd_value *value)
{
    if (t->limit_count >= TRYOUT_MOST_LIMITS) {
        report_wrong_words(t->c, "At most 64 other limits are tried at once.", "Give fewer.");
        return false;
    }
    if (!vd_watch_add_trial(t->watch, n, upper, value)) {
        report_wrong_words(t->c, "This alarm has no such limit.", "\"low ALARM=\" and \"high ALARM=\" are for pairs.");
        return false;
    }
    uint16_t last = (uint16_t)(vd_watch_count(t->watch) - 1);
    t->limits[t->limit_count++] = (other_limit){.alarm = n,
                                                .upper = upper,
                                                .pair = vd_watch_has_pair(t->watch, n),
                                                .crossed = vd_watch_is_crossed(t->watch, last),
                                                .value = *value,
                                                .about = about,
                                                .place = last};
    return true;
}

/* "8 °C", or "8 °C to 10 °C by 0.5 °C". */
static bool take_limits(tryout *t, uint16_t n, bool upper, const char *text)
{
    uint16_t like = vd_watch_limit_like(t->watch, n);
    vd_typed ends[3];
    vd_fault fault = {0};
    if (like == VD_NONE) {
        report_wrong_words(t->c, "This alarm watches no number: it has no limit to try.", "Choose another one.");
        return false;
    }
    const vd_setting *about = &vd_watch_model(t->watch)->settings[like];
    char **parts = g_regex_split_simple(" +(?:to|by) +", text, 0, 0);
    guint count = g_strv_length(parts);
    bool fine = count == 1 || count == 3;
    for (guint i = 0; i < count && fine; i++) {
        fine = vd_setting_parse(about, parts[i], strlen(parts[i]), &ends[i], &fault) == VD_OK;
    }
    g_strfreev(parts);
    if (!fine) {
        if (fault.status != VD_OK) {
            report(t->c, &fault);
            t->c->worst = VD_CLASS_USAGE;
        } else {
            report_wrong_words(t->c, "A limit is one value, or a range with a step.",
                               "For example: --limit \"load=8 °C to 10 °C by 0.5 °C\"");
        }
        return false;
    }
    if (count == 1) {
        return add_limit(t, n, upper, about, &ends[0].value);
    }
    uint8_t places = MAX(ends[0].value.places, MAX(ends[1].value.places, ends[2].value.places));
    for (int i = 0; i < 3; i++) {
        for (; ends[i].value.places < places && fine; ends[i].value.places++) {
            fine = ends[i].value.number < INT64_MAX / 10 && ends[i].value.number > INT64_MIN / 10;
            ends[i].value.number *= fine ? 10 : 1;
        }
    }
    fine = fine && ends[2].value.number > 0;
    if (!fine) {
        report_wrong_words(t->c, "The step must be above 0.", "Give another one.");
    } else if (ends[0].value.number > ends[1].value.number) {
        fine = report_wrong_words(t->c, "The first limit is above the last one.", "Give the lower one first.") ==
               VD_CLASS_FINE;
    }
    for (vd_value value = ends[0].value; fine && value.number <= ends[1].value.number;
         value.number += ends[2].value.number) {
        fine = add_limit(t, n, upper, about, &value);
    }
    return fine;
}

bool tryout_take_limits(tryout *t)
{
    bool fine = true;
    for (char **text = t->c->options.limits; text != NULL && *text != NULL && fine; text++) {
        const char *equals = strchr(*text, '=');
        bool upper = g_str_has_prefix(*text, "high "), lower = g_str_has_prefix(*text, "low ");
        const char *from = *text + (upper ? 5 : lower ? 4 : 0);
        uint16_t n = VD_NONE;
        if (equals == NULL || equals <= from) {
            report_wrong_words(t->c, "A limit is given as ALARM=VALUE.", "For example: --limit \"load=8 °C\"");
            return false;
        }
        char *name = g_strndup(from, (size_t)(equals - from));
        fine = alarm_named(t->c, t->set, name, &n) && take_limits(t, n, upper, equals + 1);
        g_free(name);
    }
    return fine;
}
