/* SPDX-License-Identifier: MIT
 * An alarm in words, piece by piece. */
#include "phrases.h"

#include <string.h>

/* ---- Lists ---- */

void vd_words_comma(const vd_alarm_list *list, const char *before_last)
{
    if (list->at > 0) {
        vd_writer_add(list->writer, list->at + 1 < list->count ? ", " : before_last);
    }
}

const char *vd_way_word(uint8_t way)
{
    static const char *const words[VD_WAYS] = {"above", "below", "outside", "inside",
                                               "is",    "rises", "falls",   "changes"};
    return words[way];
}

/* ---- Numbers ---- */

/* A number of a channel, with as many decimals as another has where it fits them. */
static void add_ratio(vd_writer *writer, vd_ratio number, unsigned places, const char *measure)
{
    int64_t scale = 1;
    vd_ratio scaled;
    bool fits = vd_scale_up(&scale, places) && vd_ratio_multiply(number, (vd_ratio){scale, 1}, &scaled);
    if (fits && scaled.below == 1) {
        vd_writer_add_decimal(writer, scaled.number, places);
    } else {
        vd_ratio_print(number, writer);
    }
    vd_writer_add(writer, measure[0] != '\0' ? " " : "");
    vd_writer_add(writer, measure);
}

static const char *measure_of(const vd_alarm_words *w, uint16_t channel)
{
    uint16_t reads = vd_index(w->model->channels[channel].reads);
    return reads != VD_NONE ? w->model->settings[reads].measure : "";
}

void vd_channel_print(const vd_model *model, uint16_t channel, int64_t number, vd_writer *writer)
{
    uint16_t reads = vd_index(model->channels[channel].reads);
    const vd_setting *about = reads != VD_NONE ? &model->settings[reads] : NULL;
    if (about != NULL && about->traits->id == VD_CHOICE) {
        const char *name = vd_choice_name(about, number);
        vd_writer_add(writer, name != NULL ? name : "");
        return;
    }
    if (about == NULL || vd_channel_has_states(model, channel)) {
        vd_writer_add(writer, number == 1 ? "on" : number == 0 ? "off" : "something else");
        return;
    }
    unsigned places = vd_channel_places(model, channel);
    unsigned least = about->places;
    for (; places > least && number % 10 == 0; places--) {
        number /= 10;
    }
    vd_writer_add_decimal(writer, number, places);
    vd_writer_add(writer, about->measure[0] != '\0' ? " " : "");
    vd_writer_add(writer, about->measure);
}

/* The decimals that a formula's number is told with. */
static unsigned places_of(const vd_alarm_words *w, uint16_t formula, uint16_t item)
{
    uint16_t setting = vd_spot_in(w->model->book->formulas[formula].kind.spot, item);
    vd_value value = setting != VD_NONE ? vd_set_get(w->set, setting) : (vd_value){.type = VD_NOTHING};
    return value.type == VD_NOTHING ? 0 : value.places;
}

static void add_setting(const vd_alarm_words *w, uint16_t setting)
{
    vd_meaning meaning;
    vd_value value = vd_set_get(w->set, setting);
    vd_set_meaning(w->set, setting, &meaning);
    vd_value_show(meaning.of, &value, w->writer);
}

/* The setting that a word of an expression names, in an item; VD_NONE: none. */
static uint16_t named(const vd_alarm_words *w, const char *word, size_t length, uint16_t block, uint16_t item)
{
    char key[96];
    vd_writer writer = vd_writer_start(key, sizeof key);
    bool own = block != VD_NONE && length > 5 && memcmp(word, "this.", 5) == 0;
    if (own) {
        vd_writer_add(&writer, w->model->blocks[block].key);
        vd_writer_add(&writer, ".");
        vd_writer_add_number(&writer, item + 1);
    }
    vd_writer_add_bytes(&writer, word + (own ? 4 : 0), length - (own ? 4 : 0));
    return writer.cut ? (uint16_t)VD_NONE : vd_model_find(w->model, key);
}

static bool is_word(char c)
{
    return vd_is_letter(c) || vd_is_digit(c) || c == '.' || c == '-' || c == '_';
}

/* An expression with what it names: readings as their channels are called, settings by their values. */
static void add_expression(const vd_alarm_words *w, uint16_t formula, uint16_t item)
{
    const vd_formula *about = &w->model->formulas[formula];
    for (const char *at = about->text; *at != '\0';) {
        size_t length = 0;
        while (vd_is_letter(*at) && is_word(at[length])) {
            length++;
        }
        uint16_t setting = length > 0 ? named(w, at, length, vd_index(about->block), item) : (uint16_t)VD_NONE;
        uint16_t channel = VD_NONE;
        for (uint16_t i = 0; setting != VD_NONE && i < w->model->channel_count; i++) {
            channel = vd_index(w->model->channels[i].reads) == setting ? i : channel;
        }
        if (channel != VD_NONE) {
            vd_words_called(w, channel);
        } else if (setting != VD_NONE) {
            add_setting(w, setting);
        } else {
            vd_writer_add_bytes(w->writer, at, length > 0 ? length : 1);
        }
        at += length > 0 ? length : 1;
    }
}

void vd_words_value(const vd_alarm_words *w, uint16_t formula, uint16_t item, uint16_t channel)
{
    uint16_t setting = vd_spot_in(w->model->book->formulas[formula].kind.spot, item);
    vd_naming naming = vd_formula_names(w->model, formula);
    vd_ratio number;
    if (setting != VD_NONE) {
        add_setting(w, setting);
    } else if (vd_formula_channels(w->model, formula, item) != 0) {
        add_expression(w, formula, item);
    } else if (vd_index(vd_names_next(&naming).setting) == VD_NONE) {
        vd_writer_add(w->writer, w->model->formulas[formula].text);
    } else if (vd_formula_number(w->set, formula, item, channel, &number)) {
        add_ratio(w->writer, number, 0, measure_of(w, channel));
    } else {
        vd_writer_add(w->writer, "what is not known");
    }
}

void vd_words_time(const vd_alarm_words *w, uint16_t formula, uint16_t item)
{
    int64_t milliseconds = 0;
    if (!vd_formula_time(w->set, formula, item, &milliseconds)) {
        vd_writer_add(w->writer, "an unknown time");
        return;
    }
    vd_print_duration(milliseconds, w->writer);
}

/* A limit moved by the release; as it stands where there is none. */
static void add_moved(const vd_alarm_words *w, const vd_test *test, uint16_t limit, bool down, uint16_t item,
                      uint16_t channel)
{
    vd_ratio number, release, moved;
    bool hangs = vd_formula_channels(w->model, limit, item) != 0;
    bool known = vd_formula_number(w->set, limit, item, channel, &number) &&
                 vd_formula_number(w->set, vd_index(test->release), item, channel, &release);
    if (vd_index(test->release) == VD_NONE || (known && release.number == 0)) {
        vd_words_value(w, limit, item, channel);
        return;
    }
    if (hangs || !known) {
        vd_words_value(w, limit, item, channel);
        vd_writer_add(w->writer, down ? " less " : " and ");
        vd_words_value(w, vd_index(test->release), item, channel);
        return;
    }
    release.number = down ? -release.number : release.number;
    if (vd_ratio_add(number, release, &moved)) {
        unsigned places = places_of(w, limit, item), finer = places_of(w, vd_index(test->release), item);
        const vd_kind *kind = &w->model->book->formulas[limit].kind;
        /* How fast a temperature rises may have another sign than the temperature. */
        const char *own =
            vd_index(kind->spot.setting) != VD_NONE && kind->sign != NULL ? kind->sign : measure_of(w, channel);
        add_ratio(w->writer, moved, places > finer ? places : finer, own);
    }
}

/* ---- Comparisons ---- */

void vd_words_called(const vd_alarm_words *w, uint16_t channel)
{
    const vd_channel *about = &w->model->channels[channel];
    vd_writer_add(w->writer, about->called != NULL && about->called[0] != '\0' ? about->called : about->label);
}

static const char *comparative(const vd_channel *channel, bool more)
{
    const char *word = more ? channel->more : channel->less;
    return word != NULL && word[0] != '\0' ? word : more ? "above" : "below";
}

/* "warmer" of "warmer than". */
static void add_comparative_alone(const vd_alarm_words *w, uint16_t channel, bool more)
{
    const char *word = comparative(&w->model->channels[channel], more);
    size_t length = strlen(word);
    bool than = length > 5 && memcmp(word + length - 5, " than", 5) == 0;
    vd_writer_add_bytes(w->writer, word, than ? length - 5 : length);
}

static void add_pair(const vd_alarm_words *w, const vd_test *test, uint16_t item, uint16_t channel)
{
    vd_words_value(w, vd_index(test->limit), item, channel);
    vd_writer_add(w->writer, " to ");
    vd_words_value(w, vd_index(test->upper), item, channel);
}

static const char *const paces[] = {
    [VD_RISES] = "rises by more than ", [VD_FALLS] = "falls by more than ", [VD_CHANGES] = "changes by more than "};

static void add_pace(const vd_alarm_words *w, const vd_test *test, uint16_t item)
{
    vd_writer_add(w->writer, " in ");
    vd_print_duration(test->per, w->writer);
    vd_writer_add(w->writer, ", seen over ");
    vd_words_time(w, vd_index(test->window), item);
}

void vd_words_met(const vd_alarm_words *w, const vd_test *test, uint16_t item, uint16_t channel)
{
    const vd_channel *about = &w->model->channels[channel];
    switch ((vd_way)test->way) {
    case VD_ABOVE:
    case VD_BELOW:
        vd_writer_add(w->writer, "is ");
        vd_writer_add(w->writer, comparative(about, test->way == VD_ABOVE));
        vd_writer_add(w->writer, " ");
        vd_words_value(w, vd_index(test->limit), item, channel);
        break;
    case VD_OUTSIDE:
    case VD_INSIDE:
        vd_writer_add(w->writer, test->way == VD_OUTSIDE ? "is outside " : "is inside ");
        add_pair(w, test, item, channel);
        break;
    case VD_IS:
        vd_writer_add(w->writer, "is ");
        vd_words_value(w, vd_index(test->limit), item, channel);
        break;
    default:
        vd_writer_add(w->writer, paces[test->way]);
        vd_words_value(w, vd_index(test->limit), item, channel);
        add_pace(w, test, item);
        break;
    }
}

void vd_words_over(const vd_alarm_words *w, const vd_test *test, uint16_t item, uint16_t channel)
{
    bool inside = test->way == VD_INSIDE;
    switch ((vd_way)test->way) {
    case VD_ABOVE:
    case VD_BELOW:
        vd_writer_add(w->writer, "is at ");
        add_moved(w, test, vd_index(test->limit), test->way == VD_ABOVE, item, channel);
        vd_writer_add(w->writer, " or ");
        add_comparative_alone(w, channel, test->way == VD_BELOW);
        break;
    case VD_OUTSIDE:
    case VD_INSIDE:
        vd_writer_add(w->writer, inside ? "is outside " : "is back inside ");
        add_moved(w, test, vd_index(test->limit), inside, item, channel);
        vd_writer_add(w->writer, " to ");
        add_moved(w, test, vd_index(test->upper), !inside, item, channel);
        break;
    case VD_IS:
        vd_writer_add(w->writer, "is no longer ");
        vd_words_value(w, vd_index(test->limit), item, channel);
        break;
    default:
        vd_writer_add(w->writer, "no longer ");
        vd_writer_add(w->writer, paces[test->way]);
        add_moved(w, test, vd_index(test->limit), true, item, channel);
        vd_writer_add(w->writer, " in ");
        vd_print_duration(test->per, w->writer);
        break;
    }
}

void vd_words_until(const vd_alarm_words *w, const vd_test *test, uint16_t item, uint16_t channel)
{
    vd_ratio release;
    bool none = vd_index(test->release) == VD_NONE || test->way == VD_IS ||
                (vd_formula_number(w->set, vd_index(test->release), item, channel, &release) && release.number == 0);
    if (!none) {
        vd_writer_add(w->writer, " (until it ");
        vd_words_over(w, test, item, channel);
        vd_writer_add(w->writer, ")");
    }
}

/* ---- Who is told, and what is done ---- */

/* A person as people know one: the name, else the number, else the choice itself. */
static void add_person(const vd_alarm_words *w, const vd_alarm *alarm, const vd_choice *choice)
{
    const vd_block *people = vd_index(alarm->people) != VD_NONE ? &w->model->blocks[vd_index(alarm->people)] : NULL;
    const uint16_t members[] = {vd_index(alarm->person), vd_index(alarm->number)};
    for (size_t i = 0; i < 2 && people != NULL && choice->number < people->count; i++) {
        uint16_t setting = members[i];
        if (setting == VD_NONE) {
            continue;
        }
        setting = (uint16_t)(setting + (uint16_t)choice->number * people->members);
        vd_value value = vd_set_get(w->set, setting);
        if (value.type != VD_NOTHING && value.length > 0 && vd_set_exists(w->set, setting) != VD_FAILS) {
            vd_value_show(&w->model->settings[setting], &value, w->writer);
            return;
        }
    }
    vd_writer_add(w->writer, people != NULL ? people->label : choice->name);
    if (people != NULL) {
        vd_writer_add(w->writer, " ");
        vd_writer_add_number(w->writer, choice->number + 1);
    }
}

static void add_people(const vd_alarm_words *w, const vd_alarm *alarm, uint16_t item)
{
    uint16_t tells = vd_spot_in(alarm->tells, item);
    vd_value value = tells != VD_NONE ? vd_set_get(w->set, tells) : (vd_value){.type = VD_NOTHING};
    const vd_setting *about = tells != VD_NONE ? &w->model->settings[tells] : NULL;
    vd_alarm_list list = {.writer = w->writer};
    for (uint16_t i = 0; value.type != VD_NOTHING && i < about->choice_count; i++) {
        list.count += (unsigned)(value.number >> about->choices[i].number & 1);
    }
    if (list.count == 0) {
        vd_writer_add(w->writer, value.type == VD_NOTHING && about != NULL ? "whom it is not known" : "nobody");
        return;
    }
    for (uint16_t i = 0; i < about->choice_count; i++) {
        if ((value.number >> about->choices[i].number & 1) != 0) {
            vd_words_comma(&list, " and ");
            add_person(w, alarm, &about->choices[i]);
            list.at++;
        }
    }
}

typedef struct those_told {
    const vd_alarm_words *words;
    const vd_alarm *alarm;
    uint16_t item;
} those_told;

static bool fill_people(void *about, const char *name, size_t length, vd_writer *writer)
{
    const those_told *t = about;
    bool is = vd_text_is(name, length, "who");
    (void)writer; /* the words have it */
    if (is) {
        add_people(t->words, t->alarm, t->item);
    }
    return is;
}

void vd_words_reactions(const vd_alarm_words *w, const vd_alarm *alarm, uint16_t item)
{
    those_told told = {w, alarm, item};
    vd_alarm_list list = {.writer = w->writer};
    for (uint8_t i = 0; i < alarm->reaction_count; i++) {
        list.count += vd_formula_truth(w->set, vd_index(alarm->reactions[i].does), item, VD_HOLDS) == VD_HOLDS;
    }
    for (uint8_t i = 0; i < alarm->reaction_count; i++) {
        if (vd_formula_truth(w->set, vd_index(alarm->reactions[i].does), item, VD_HOLDS) != VD_HOLDS) {
            continue;
        }
        vd_words_comma(&list, " and ");
        vd_writer_add_filled(w->writer, alarm->reactions[i].says, fill_people, &told);
        list.at++;
    }
}
