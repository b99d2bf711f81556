/* SPDX-License-Identifier: MIT
 * Alarms tried out on a log: what happens is told as it comes, and summed up at the end. */
#include "look.h"
#include "../meet/meet.h"
#include "../print/print.h"

#include <string.h>

char *tryout_time(const tryout *t, int64_t milliseconds)
{
    int64_t shown = milliseconds + (int64_t)t->zone * 60000, day = shown / 86400000, rest = shown % 86400000;
    GDate date;
    day -= rest < 0;
    rest += rest < 0 ? 86400000 : 0;
    g_date_clear(&date, 1);
    g_date_set_julian(&date, (guint32)(day + 719163)); /* that of 1970-01-01 */
    char *whole = g_strdup_printf("%04d-%02d-%02d %02d:%02d:%02d", g_date_get_year(&date), g_date_get_month(&date),
                                  g_date_get_day(&date), (int)(rest / 3600000), (int)(rest / 60000 % 60),
                                  (int)(rest / 1000 % 60));
    char *fine = rest % 1000 != 0 ? g_strdup_printf("%s.%03d", whole, (int)(rest % 1000)) : NULL;
    if (fine != NULL) {
        g_free(whole);
    }
    return fine != NULL ? fine : whole;
}

char *tryout_value(const tryout *t, uint16_t channel, int64_t number)
{
    char text[128];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_channel_print(vd_watch_model(t->watch), channel, number, &writer);
    return g_strdup(text);
}

char *tryout_never(const tryout *t, uint16_t n)
{
    char text[VD_ALLOWED_SIZE * 2];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_alarm_doubts doubts = vd_alarm_doubts_start(t->set, NULL, n);
    vd_alarm_doubt doubt = vd_alarm_doubts_next(&doubts, &writer), why = vd_watch_alarm(t->watch, n)->never;
    while (doubt != why && doubt != VD_DOUBT_NONE) {
        writer = vd_writer_start(text, sizeof text);
        doubt = vd_alarm_doubts_next(&doubts, &writer);
    }
    return g_strdup(doubt == why ? text : "");
}

static char *length_words(int64_t milliseconds)
{
    static const vd_setting about = {
        .words = &vd_no_words, .measure = "", .traits = &vd_type_duration, .tick = 1, .step = 1};
    char text[64];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_value value = {.type = VD_DURATION, .number = milliseconds};
    vd_value_print(&about, &value, &writer);
    return g_strdup(text);
}

/* ---- As it comes ---- */

/* The time of day alone where it is the same day. */
static char *since_words(const tryout *t, int64_t since, int64_t now)
{
    char *then = tryout_time(t, since), *by_now = tryout_time(t, now);
    char *words = g_strdup(strncmp(then, by_now, 10) == 0 ? then + 11 : then);
    g_free(then);
    g_free(by_now);
    return words;
}

static bool is_rate(const vd_model *model, const vd_watched *alarm)
{
    const vd_alarm *about = &model->alarms[alarm->alarm];
    bool any = false;
    for (uint8_t i = 0; i < about->test_count; i++) {
        any = any || model->tests[about->test + i].way >= VD_RISES;
    }
    return any;
}

static char *event_words(const tryout *t, const vd_alarm_event *event)
{
    const vd_watched *alarm = vd_watch_alarm(t->watch, event->alarm);
    GString *words = g_string_new("");
    char *length = event->since != VD_NO_TIME ? length_words(event->time - event->since) : g_strdup("");
    switch ((vd_happening)event->what) {
    case VD_ALARM_SOUNDS:
        g_string_append(words, "sounds");
        if (event->known) {
            char *value = tryout_value(t, alarm->channel, event->number);
            g_string_append_printf(words, ": %s", value);
            g_free(value);
        }
        if (event->met != VD_NO_TIME && event->met < event->time) {
            char *since = since_words(t, event->met, event->time);
            g_string_append_printf(words, ", so since %s", since);
            g_free(since);
        }
        if (alarm->conditioned && event->counted != VD_NO_TIME) {
            char *since = since_words(t, event->counted, event->time);
            g_string_append_printf(words, "; its condition since %s", since);
            g_free(since);
        }
        break;
    case VD_ALARM_ENDS:
        g_string_append_printf(
            words, alarm->state == VD_GONE ? "stays until it is cleared; its cause ended after %s" : "ends after %s",
            length);
        break;
    case VD_ALARM_RETURNS: g_string_append(words, "stands again, the same alarm"); break;
    case VD_ALARM_CLEARED: g_string_append(words, "is cleared"); break;
    case VD_ALARM_LOST: {
        int64_t number = 0;
        bool own = alarm->channel != VD_NONE && !vd_watch_value(t->watch, alarm->channel, &number);
        const vd_model *model = vd_watch_model(t->watch);
        const char *label = alarm->channel != VD_NONE ? model->channels[alarm->channel].label : "";
        if (own || model->alarms[alarm->alarm].condition_count > 0) {
            g_string_append_printf(words, "not known: no %s", own ? label : "value for its condition");
        } else if (is_rate(model, alarm)) {
            g_string_append_printf(words, "not known: how fast %s changes", label);
        } else {
            g_string_append_printf(words, "not known: no value for its limit of %s", label);
        }
        break;
    }
    case VD_ALARM_KNOWN: g_string_append_printf(words, "known again after %s", length); break;
    default: break;
    }
    g_free(length);
    return g_string_free(words, FALSE);
}

/* Whether a value only did not hold until the next one, or is there again after that: told once, for all of them. */
static bool is_gap(tryout *t, const vd_alarm_event *event)
{
    uint16_t channel = vd_watch_alarm(t->watch, event->alarm)->channel;
    int64_t number = 0;
    if (event->what == VD_ALARM_LOST) {
        t->in_gap[event->alarm] =
            channel != VD_NONE && (t->gaps >> channel & 1) != 0 && !vd_watch_value(t->watch, channel, &number);
    }
    return (event->what == VD_ALARM_LOST || event->what == VD_ALARM_KNOWN) && t->in_gap[event->alarm];
}

static void listen(void *about, const vd_alarm_event *event)
{
    static const char *const names[] = {
        [VD_ALARM_SOUNDS] = "sounds",   [VD_ALARM_ENDS] = "ends",      [VD_ALARM_RETURNS] = "returns",
        [VD_ALARM_CLEARED] = "cleared", [VD_ALARM_LOST] = "not-known", [VD_ALARM_KNOWN] = "known",
        [VD_ALARM_PENDS] = "pends",     [VD_ALARM_DROPS] = "drops"};
    tryout *t = about;
    if (vd_watch_alarm(t->watch, event->alarm)->trial) {
        return;
    }
    if (event->what == VD_ALARM_SOUNDS && t->first_sound[event->alarm] == VD_NO_TIME) {
        t->first_sound[event->alarm] = event->time;
    }
    if (t->chart != NULL) {
        vd_chart_event(t->chart, event);
    }
    if (t->quiet || (is_gap(t, event) && !t->c->options.json)) {
        return;
    }
    char *when = tryout_time(t, event->time);
    if (t->c->options.json) {
        char *key = alarm_key(vd_watch_model(t->watch), event->alarm);
        json_t *one = json_pack("{s:s, s:s, s:I, s:s}", "alarm", key, "what", names[event->what], "time",
                                (json_int_t)event->time, "when", when);
        if (event->since != VD_NO_TIME) {
            json_object_set_new(one, "since", json_integer(event->since));
        }
        json_dumpf(one, stdout, JSON_COMPACT);
        printf("\n");
        fflush(stdout); /* whoever listens has it as it happens */
        json_decref(one);
        g_free(key);
    } else if (event->what != VD_ALARM_PENDS && event->what != VD_ALARM_DROPS) {
        char *words = event_words(t, event);
        tone tones = event->what == VD_ALARM_SOUNDS ? TONE_BAD : event->what == VD_ALARM_LOST ? TONE_DOUBT : TONE_PLAIN;
        const char *called = t->called[event->alarm];
        if (t->plain) {
            printf("%s%s%s %s %s\n", tone_on(t->c->colour, tones), when, tone_off(t->c->colour, tones), called, words);
        } else {
            char *what = g_strdup_printf("%s %s", called, words);
            progress_show(t->c, "");
            lead_print(t->c, tones, when, "    ", what);
            g_free(what);
        }
        t->told++;
        g_free(words);
    }
    g_free(when);
}

void tryout_start(tryout *t, cli *c, vd_set *set)
{
    size_t size = vd_watch_size(set->model, TRYOUT_MOST_LIMITS, TRYOUT_HISTORY);
    t->c = c;
    t->set = set;
    t->memory = g_malloc(size);
    t->quiet = c->options.log == NULL;
    uint16_t count = vd_model_alarm_count(set->model);
    t->first_sound = g_new(int64_t, count + 1u);
    t->called = g_new0(char *, count + 1u);
    t->in_gap = g_new0(bool, count + 1u);
    t->plain = width_of(stdout) == 0;
    for (uint16_t i = 0; i < count; i++) {
        t->first_sound[i] = VD_NO_TIME;
        t->called[i] = alarm_called(set, i);
    }
    c->lines = c->options.log != NULL;
    t->watch = vd_watch_in(&t->room);
    vd_watch_start(t->watch, set, TRYOUT_MOST_LIMITS, TRYOUT_HISTORY, t->memory, size, listen, t, NULL);
}

void tryout_free(tryout *t)
{
    g_free(t->first_sound);
    g_free(t->in_gap);
    g_strfreev(t->called);
    g_free(t->memory);
}

/* ---- Summed up ---- */

/* A rate to three decimals, and the time that it is over: "0.25 °C in 1 min". */
static char *rate_words(const tryout *t, const vd_watched *alarm)
{
    int64_t number = alarm->near_rate.number;
    number = (number + (number < 0 ? -500 : 500)) / 1000;
    for (unsigned places = 3; places < vd_channel_places(vd_watch_model(t->watch), alarm->channel); places++) {
        number *= 10;
    }
    char *value = tryout_value(t, alarm->channel, number), *per = length_words(alarm->near_per);
    char *words = g_strdup_printf("%s in %s", value, per);
    g_free(value);
    g_free(per);
    return words;
}

/* Of how much of the log the cause of an alarm was known, percent; what is not all is not 100. */
static unsigned judged_share(const tryout *t, const vd_watched *alarm)
{
    int64_t whole = vd_watch_now(t->watch) - vd_watch_begin(t->watch);
    if (alarm->never != VD_DOUBT_NONE || (!alarm->lost && alarm->unjudged == 0)) {
        return 100;
    }
    return whole <= 0 ? 0 : (unsigned)((whole - alarm->unjudged) * 100 / whole);
}

/* How close one came that never sounded. */
static char *close_words(const tryout *t, const vd_watched *alarm)
{
    GString *words = g_string_new("");
    if (alarm->near_at == VD_NO_TIME) {
        return g_string_free(words, FALSE);
    }
    char *when = tryout_time(t, alarm->near_at);
    if (alarm->near_rate.type != VD_NOTHING) {
        char *rate = rate_words(t, alarm);
        g_string_append_printf(words, "closest: %s, %s", rate, when);
        g_free(rate);
    } else if (alarm->near > 0) {
        char *value = tryout_value(t, alarm->channel, alarm->near);
        g_string_append_printf(words, "closest: %s short, %s", value, when);
        g_free(value);
    } else {
        g_string_append_printf(words, "closest: past its limit, %s", when);
    }
    if (alarm->pended > 0) {
        char *length = length_words(alarm->pended);
        g_string_append_printf(words, "its cause went on for %s at most", length);
        g_free(length);
    }
    g_free(when);
    return g_string_free(words, FALSE);
}

static json_t *watched_json(const tryout *t, uint16_t n)
{
    static const char *const states[] = {
        [VD_AT_REST] = "rest", [VD_PENDING] = "pending", [VD_STANDING] = "standing", [VD_GONE] = "gone"};
    const vd_watched *alarm = vd_watch_alarm(t->watch, n);
    char *key = alarm_key(vd_watch_model(t->watch), n);
    json_t *one =
        json_pack("{s:s, s:I, s:I, s:I, s:s}", "alarm", key, "sounded", (json_int_t)alarm->sounded, "stood",
                  (json_int_t)alarm->stood, "pended", (json_int_t)alarm->pended, "state", states[alarm->state]);
    json_object_set_new(one, "judged-percent",
                        json_integer(alarm->used == VD_HOLDS ? (json_int_t)judged_share(t, alarm) : 0));
    if (alarm->never != VD_DOUBT_NONE) {
        char *never = tryout_never(t, n);
        json_object_set_new(one, "never", json_string(never));
        g_free(never);
    }
    if (alarm->near_at != VD_NO_TIME && alarm->near_rate.type == VD_NOTHING) {
        char *near = tryout_value(t, alarm->channel, alarm->near);
        json_object_set_new(one, "closest", json_string(near));
        json_object_set_new(one, "closest-at", json_integer(alarm->near_at));
        g_free(near);
    }
    g_free(key);
    return one;
}

/* How often an alarm sounded: "never" is said of what was judged, and well only of what was judged throughout. */
static char *times_words(const vd_watched *alarm, unsigned judged, tone *tones)
{
    *tones = alarm->sounded > 0 ? TONE_BAD : alarm->used == VD_NOT_KNOWN || judged < 100 ? TONE_DOUBT : TONE_GOOD;
    if (alarm->sounded > 0) {
        return g_strdup_printf("%u time%s", alarm->sounded, alarm->sounded == 1 ? "" : "s");
    }
    return g_strdup(alarm->used == VD_NOT_KNOWN ? "not known" : judged == 0 ? "not judged" : "never");
}

static char *rest_words(const tryout *t, uint16_t n, unsigned judged)
{
    static const char *const states[] = {"", "its cause goes on at the end", "stands at the end",
                                         "its cause is over; it stands until it is cleared"};
    const vd_watched *alarm = vd_watch_alarm(t->watch, n);
    char *share =
        alarm->used == VD_HOLDS && judged > 0 && judged < 100 ? g_strdup_printf("%u %% judged", judged) : g_strdup("");
    char *close = alarm->used == VD_NOT_KNOWN         ? g_strdup("not all of its settings are known")
                  : alarm->never != VD_DOUBT_NONE     ? tryout_never(t, n)
                  : alarm->sounded == 0 && judged > 0 ? close_words(t, alarm)
                  : alarm->sounded == 0               ? g_strdup("its values were not known at any time")
                                                      : g_strdup("");
    const char *const parts[] = {share, close, states[alarm->state], NULL};
    GString *rest = g_string_new("");
    for (size_t i = 0; parts[i] != NULL; i++) {
        g_string_append_printf(rest, "%s%s", rest->len > 0 && parts[i][0] != '\0' ? "; " : "", parts[i]);
    }
    g_free(share);
    g_free(close);
    return g_string_free(rest, FALSE);
}

static void add_row(const tryout *t, sheet *rows, uint16_t n)
{
    const vd_watched *alarm = vd_watch_alarm(t->watch, n);
    unsigned judged = judged_share(t, alarm);
    tone tones = TONE_PLAIN;
    char *called = alarm_called(t->set, n), *length = length_words(alarm->stood);
    char *times = times_words(alarm, judged, &tones), *rest = rest_words(t, n, judged);
    sheet_row(rows, called, times, alarm->sounded > 0 ? length : "", rest, NULL);
    sheet_tone(rows, 1, tones);
    for (char **one = (char *[]){called, length, times, rest, NULL}; *one != NULL; one++) {
        g_free(*one);
    }
}

static void show_limits(const tryout *t, json_t *list)
{
    static const char *const titles[] = {"alarm", "limit", "times", "in all", NULL};
    sheet rows = sheet_start(t->c, stdout, titles);
    for (uint16_t i = 0; i < t->limit_count; i++) {
        const other_limit *limit = &t->limits[i];
        const vd_watched *alarm = vd_watch_alarm(t->watch, limit->place);
        char *called = alarm_called(t->set, limit->alarm), *length = length_words(alarm->stood);
        bool blind = alarm->sounded == 0 && judged_share(t, alarm) == 0;
        char *times = blind ? g_strdup("not judged") : g_strdup_printf("%u", alarm->sounded),
             *key = alarm_key(vd_watch_model(t->watch), limit->alarm);
        const char *value = value_text(limit->about, &limit->value);
        char *which = limit->pair ? g_strdup_printf("%s %s", limit->upper ? "high" : "low", value) : g_strdup(value);
        sheet_row(&rows, called, which, limit->crossed ? "beyond the other" : times, alarm->sounded > 0 ? length : "",
                  NULL);
        json_array_append_new(list, json_pack("{s:s, s:s, s:b, s:b, s:I, s:I}", "alarm", key, "limit", value, "upper",
                                              limit->upper, "crosses", limit->crossed, "sounded",
                                              (json_int_t)alarm->sounded, "stood", (json_int_t)alarm->stood));
        for (char **one = (char *[]){called, length, times, key, which, NULL}; *one != NULL; one++) {
            g_free(*one);
        }
    }
    if (t->c->options.json || t->limit_count == 0) {
        sheet_drop(&rows);
        return;
    }
    printf("\n");
    sheet_print(&rows);
    for (uint16_t i = 0; i < t->limit_count; i++) {
        if (t->limits[i].crossed) {
            message(t->c, "note: a limit on the wrong side of the other one of its pair was not counted.");
            break;
        }
    }
}

void tryout_sum_up(tryout *t)
{
    static const char *const titles[] = {"alarm", "sounded", "in all", "", NULL};
    sheet rows = sheet_start(t->c, stdout, titles);
    json_t *alarms = json_array(), *limits = json_array();
    unsigned unused = 0;
    for (uint16_t n = 0; n < vd_model_alarm_count(vd_watch_model(t->watch)); n++) {
        unused += vd_watch_alarm(t->watch, n)->used == VD_FAILS;
        if (vd_watch_alarm(t->watch, n)->used != VD_FAILS) {
            json_array_append_new(alarms, watched_json(t, n));
            add_row(t, &rows, n);
        }
    }
    if (t->c->options.json) {
        sheet_drop(&rows);
    } else {
        printf(t->told > 0 ? "\n" : "");
        sheet_print(&rows);
    }
    show_limits(t, limits);
    json_object_set_new(t->c->result, "alarms", alarms);
    json_object_set_new(t->c->result, "limits", limits);
    if (unused > 0 && unused == vd_model_alarm_count(vd_watch_model(t->watch))) {
        message(t->c, "No alarm is in use, so nothing could sound.");
    } else if (unused > 0) {
        message(t->c, "%u alarm%s not used.", unused, unused == 1 ? " is" : "s are");
    }
}
