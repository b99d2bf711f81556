/* SPDX-License-Identifier: MIT
 * One day in words: stretches with commas between, each a time, what is done in it, and what else is so. */
#include "parts.h"
#include "verdite/course.h"

#include <string.h>

#define MOST_STRETCHES 96u   /* of a day */
#define MOST_NUMBER_WORDS 3u /* "40 % RH" */

/* A day being read. */
typedef struct reading {
    vd_days *days;
    const vd_intervals *intervals;
    char **word; /* the next of this stretch */
    vd_stretch *stretch;
    bool *given, *unknown; /* of the stretch */
    vd_ratio *quantities;
    uint32_t *happens;
    vd_fault *fault;
} reading;

static bool wrong(const reading *r, const char *said, const char *allowed)
{
    vd_note_DAY_WRONG(r->fault, said, allowed);
    return false;
}

/* What has no place here, and what may be instead of it. */
static bool unknown_word(const reading *r, const char *allowed)
{
    char *said =
        *r->word != NULL ? g_strdup_printf("\"%s\" is not understood", *r->word) : g_strdup("it ends too early");
    wrong(r, said, allowed);
    g_free(said);
    return false;
}

static bool is_word(const reading *r, const char *word)
{
    return *r->word != NULL && g_ascii_strcasecmp(*r->word, word) == 0;
}

/* ---- Names ---- */

typedef struct names {
    const char *const *lists[4];
    uint16_t counts[4];
} names;

static const char *name_at(const void *about, size_t i)
{
    const names *n = about;
    unsigned list = 0;
    for (; i >= n->counts[list]; list++) {
        i -= n->counts[list];
    }
    return n->lists[list][i];
}

static bool unknown_name(const reading *r)
{
    static const char *const turns[] = {"turns"};
    const vd_intervals *of = r->intervals;
    names all = {{of->given, of->quantities, of->happenings, turns},
                 {of->given_count, of->quantity_count, of->happening_count, 1}};
    size_t count = (size_t)of->given_count + of->quantity_count + of->happening_count + 1u;
    char *near = vd_suggest(*r->word != NULL ? *r->word : "", count, name_at, &all);
    unknown_word(r, near);
    g_free(near);
    return false;
}

/* Which of some names the next word is; VD_NONE: none. */
static uint16_t find_name(const reading *r, const char *const *list, uint16_t count)
{
    for (uint16_t i = 0; i < count; i++) {
        if (is_word(r, list[i])) {
            return i;
        }
    }
    return VD_NONE;
}

/* ---- Numbers ---- */

static bool take_number(reading *r, vd_gives gives, uint16_t quantity, vd_ratio *to)
{
    GString *text = g_string_new("");
    bool fine = false;
    unsigned k = 0;
    for (; k < MOST_NUMBER_WORDS && !fine && r->word[k] != NULL; k++) {
        g_string_append_printf(text, "%s%s", k > 0 ? " " : "", r->word[k]);
        fine = vd_intervals_read(r->days->model, gives, quantity, text->str, text->len, to);
    }
    g_string_free(text, TRUE);
    r->word += fine ? k : 0;
    return fine || unknown_word(r, gives == VD_GIVES_SPEED   ? "Give a speed, such as 70 km/h."
                                   : gives == VD_GIVES_ANGLE ? "Give an angle, such as 45°."
                                                             : "Give a number with its unit.");
}

static bool read_seconds(const char *text, uint32_t *seconds)
{
    static const vd_setting_words words = {.key = "time"};
    static const vd_setting about = {.words = &words,
                                     .measure = "",
                                     .traits = &vd_type_duration,
                                     .tick = 1000,
                                     .step = 1,
                                     .min = 1,
                                     .max = VD_DAY_SECONDS};
    vd_typed typed;
    bool fine = vd_setting_parse(&about, text, strlen(text), &typed, NULL) == VD_OK &&
                vd_setting_check(&about, &typed.value, NULL) == VD_OK;
    *seconds = fine ? (uint32_t)(typed.value.number / 1000) : 0;
    return fine;
}

/* A time of one or several pairs of number and unit: as many words as make one. */
static bool take_time(reading *r)
{
    GString *text = g_string_new("");
    unsigned words = 0;
    for (unsigned k = 0; r->word[k] != NULL; k++) {
        uint32_t seconds = 0;
        g_string_append_printf(text, "%s%s", k > 0 ? " " : "", r->word[k]);
        if (read_seconds(text->str, &seconds)) {
            r->stretch->lasts = seconds;
            words = k + 1;
        }
    }
    g_string_free(text, TRUE);
    r->word += words;
    return words > 0 || unknown_word(r, "Begin each stretch with a time of whole seconds, such as \"2 h\", or with "
                                        "\"rest\".");
}

/* ---- What a stretch is like ---- */

static const char *activity_at(const void *about, size_t i)
{
    return ((const vd_intervals *)about)->activities[i].key;
}

static bool take_activity(reading *r)
{
    const vd_intervals *of = r->intervals;
    for (uint16_t i = 0; i < of->activity_count; i++) {
        const vd_stretch *meets = &of->activities[i].meets;
        if (is_word(r, of->activities[i].key)) {
            r->word++;
            r->stretch->speed = meets->speed;
            r->stretch->angle = meets->angle;
            r->stretch->turns = meets->turns;
            memcpy(r->given, meets->given, of->given_count * sizeof *r->given);
            memcpy(r->quantities, meets->quantities, of->quantity_count * sizeof *r->quantities);
            memcpy(r->happens, meets->happens, of->happening_count * sizeof *r->happens);
            return true;
        }
    }
    char *near = vd_suggest(*r->word != NULL ? *r->word : "", of->activity_count, activity_at, of);
    unknown_word(r, near);
    g_free(near);
    return false;
}

/* "40 turns of 45°", "6 weight-changes" */
static bool take_times(reading *r)
{
    guint64 times = 0;
    if (!g_ascii_string_to_unsigned(*r->word, 10, 0, VD_DAY_SECONDS, &times, NULL)) {
        return unknown_word(r, "Give how often, 0 to 86400.");
    }
    r->word++;
    uint16_t event = find_name(r, r->intervals->happenings, r->intervals->happening_count);
    if (event != VD_NONE) {
        r->happens[event] = (uint32_t)times;
        r->word++;
        return true;
    }
    if (!is_word(r, "turns") && !is_word(r, "turn")) {
        return unknown_name(r);
    }
    r->word++;
    r->stretch->turns = (uint32_t)times;
    if (is_word(r, "of")) {
        r->word++;
        return take_number(r, VD_GIVES_ANGLE, VD_NONE, &r->stretch->angle);
    }
    return r->stretch->angle.number > 0 || times == 0 ||
           unknown_word(r, "Say of how many degrees: \"40 turns of 45°\".");
}

static bool note_unknown(reading *r, uint16_t fact)
{
    r->days->unknown += !r->unknown[fact];
    r->unknown[fact] = true;
    return r->days->unknown <= VD_MOST_UNKNOWN || wrong(r, "too much of it is unknown", "At most 6 times \"perhaps\".");
}

/* What follows "with", "without" or "perhaps". */
static bool take_state(reading *r, const char *how)
{
    bool with = g_ascii_strcasecmp(how, "with") == 0, perhaps = g_ascii_strcasecmp(how, "perhaps") == 0;
    if (with && *r->word != NULL && g_ascii_isdigit((*r->word)[0])) {
        return take_times(r);
    }
    uint16_t fact = find_name(r, r->intervals->given, r->intervals->given_count);
    uint16_t quantity = find_name(r, r->intervals->quantities, r->intervals->quantity_count);
    if (fact == VD_NONE && (quantity == VD_NONE || !with)) {
        return unknown_name(r);
    }
    r->word++;
    if (fact == VD_NONE) {
        return take_number(r, VD_GIVES_NUMBER, quantity, &r->quantities[quantity]);
    }
    r->given[fact] = with;
    return !perhaps || note_unknown(r, fact);
}

static bool take_details(reading *r)
{
    const char *how = NULL;
    while (*r->word != NULL) {
        bool state = is_word(r, "with") || is_word(r, "without") || is_word(r, "perhaps");
        bool speed = is_word(r, "at");
        if (!state && !speed && !(is_word(r, "and") && how != NULL)) {
            return unknown_word(r, "Use: at SPEED, with NAME, without NAME, perhaps NAME, with 40 turns of 45°.");
        }
        how = state ? *r->word : how;
        r->word++;
        if (!(speed ? take_number(r, VD_GIVES_SPEED, VD_NONE, &r->stretch->speed) : take_state(r, how))) {
            return false;
        }
    }
    return true;
}

static bool take_stretch(reading *r, char *part, vd_stretch *stretch, bool *rest)
{
    const vd_intervals *of = r->intervals;
    char **all = g_strsplit_set(part, " \t", -1), **words = g_new0(char *, g_strv_length(all) + 1);
    gsize count = 0;
    for (char **one = all; *one != NULL; one++) {
        if ((*one)[0] != '\0') {
            words[count++] = *one;
        }
    }
    r->word = words;
    r->stretch = stretch;
    r->given = days_memory(r->days, of->given_count * sizeof *r->given);
    r->unknown = days_memory(r->days, of->given_count * sizeof *r->unknown);
    r->quantities = days_memory(r->days, of->quantity_count * sizeof *r->quantities);
    r->happens = days_memory(r->days, of->happening_count * sizeof *r->happens);
    *stretch = (vd_stretch){.given = r->given,
                            .unknown = r->unknown,
                            .quantities = r->quantities,
                            .happens = r->happens,
                            .speed = {0, 1},
                            .angle = {0, 1}};
    *rest = is_word(r, "rest");
    r->word += *rest;
    bool fine = (*rest || take_time(r)) && take_activity(r) && take_details(r);
    g_free(words);
    g_strfreev(all);
    return fine;
}

/* What is left of 24 h goes to the rest. */
static bool settle_times(const reading *r, vd_stretch *stretches, uint16_t count, uint16_t rest)
{
    uint64_t sum = 0;
    for (uint16_t i = 0; i < count; i++) {
        sum += stretches[i].lasts;
    }
    if (sum > VD_DAY_SECONDS || (sum == VD_DAY_SECONDS && rest != VD_NONE)) {
        return wrong(r, sum > VD_DAY_SECONDS ? "its stretches are longer than 24 h" : "no time is left for the rest",
                     "Give 24 h at most in all.");
    }
    if (sum < VD_DAY_SECONDS && rest == VD_NONE) {
        char *allowed = g_strdup_printf("Say it: \"rest %s\".", r->intervals->activities[0].key);
        wrong(r, "the rest of the 24 h is missing", allowed);
        g_free(allowed);
        return false;
    }
    if (rest != VD_NONE) {
        stretches[rest].lasts = (uint32_t)(VD_DAY_SECONDS - sum);
    }
    return true;
}

bool days_add(vd_days *days, const char *label, const char *text, vd_fault *fault)
{
    reading r = {.days = days, .intervals = days->model->intervals, .fault = fault};
    char **parts = g_strsplit(text, ",", -1);
    guint count = g_strv_length(parts);
    vd_stretch *stretches = days_memory(days, count * sizeof *stretches);
    uint16_t rest = VD_NONE;
    char *name = days_memory(days, strlen(label) + 1);
    memcpy(name, label, strlen(label) + 1);
    bool fine = days->model->intervals != NULL && days->model->intervals->activity_count > 0
                    ? true
                    : wrong(&r, "the model names no activities", "It can be played over its usual days only.");
    fine = fine && (count <= MOST_STRETCHES || wrong(&r, "it has too many stretches", "Give 96 at most."));
    for (guint i = 0; i < count && fine; i++) {
        bool rests = false;
        fine = take_stretch(&r, parts[i], &stretches[i], &rests) &&
               (!rests || rest == VD_NONE || wrong(&r, "\"rest\" is there twice", "Keep one of the two."));
        rest = rests ? (uint16_t)i : rest;
    }
    fine = fine && settle_times(&r, stretches, (uint16_t)count, rest);
    if (fine) {
        vd_day day = {name, stretches, (uint16_t)count, 0};
        g_array_append_val(days->list, day);
    }
    g_strfreev(parts);
    return fine;
}

vd_days *vd_days_parse(const vd_model *model, const char *text, vd_fault *fault)
{
    vd_days *days = days_new(model);
    if (!days_add(days, "the day described", text, fault)) {
        vd_days_free(days);
        return NULL;
    }
    return days;
}
