/* SPDX-License-Identifier: MIT
 * An alarm in words as a person types it. */
#include "verdite/alarm_edit.h"
#include "phrases.h"

#include <string.h>

/* What a word begins. */
typedef enum begins {
    B_ABOVE,
    B_BELOW,
    B_OUTSIDE,
    B_INSIDE,
    B_IS,
    B_RISES,
    B_FALLS,
    B_CHANGES, /* so far in the order of vd_way */
    B_TO,
    B_RELEASE,
    B_FOR,
    B_ENDS_AFTER,
    B_ONLY,
    B_WHILE,
    B_AND,
    B_DOES,
    B_TELLS,
    B_TEXT,
    B_LATCHES,
    B_NOTHING_NEW
} begins;

static const char *keyword(unsigned n)
{
    static const char *const others[B_NOTHING_NEW - VD_WAYS] = {
        "to", "release", "for", "ends-after", "only", "while", "and", "does", "tells", "text", "latches"};
    return n < VD_WAYS ? vd_way_word((uint8_t)n) : others[n - VD_WAYS];
}

typedef struct reading {
    const char *const *words;
    size_t count, word, at; /* the word, and where in it */
    char *room;
    size_t size, used;
    vd_fault *fault;
} reading;

/* The next word, cut at blanks; false: there are no more. */
static bool peek(reading *r, const char **word, size_t *length)
{
    while (r->word < r->count) {
        const char *text = r->words[r->word] + r->at;
        while (vd_is_blank(*text)) {
            text++;
        }
        *length = 0;
        while (text[*length] != '\0' && !vd_is_blank(text[*length])) {
            (*length)++;
        }
        if (*length > 0) {
            r->at = (size_t)(text - r->words[r->word]);
            *word = text;
            return true;
        }
        r->word++;
        r->at = 0;
    }
    return false;
}

static begins kind_of(const char *word, size_t length)
{
    for (unsigned i = 0; i < B_NOTHING_NEW; i++) {
        if (vd_same_word((vd_span){word, length}, keyword(i))) {
            return (begins)i;
        }
    }
    return B_NOTHING_NEW;
}

static bool keep(reading *r, const char *text, size_t length)
{
    if (r->used + length + 1 > r->size) {
        return false;
    }
    memcpy(r->room + r->used, text, length);
    r->used += length;
    r->room[r->used] = '\0';
    return true;
}

/* All words up to the next that begins something, with blanks between; NULL: there are none. */
static const char *value(reading *r)
{
    const char *word = NULL, *from = r->room + r->used;
    size_t length = 0, words = 0;
    while (peek(r, &word, &length) && kind_of(word, length) == B_NOTHING_NEW) {
        if ((words > 0 && !keep(r, " ", 1)) || !keep(r, word, length)) {
            vd_note_MEMORY_TOO_SMALL(r->fault);
            return NULL;
        }
        words++;
        r->at += length;
    }
    r->used += words > 0; /* its end */
    return words > 0 ? from : NULL;
}

/* What is watched: the word before a comparison, though it be one of those that begin something. */
static const char *channel_word(reading *r)
{
    const char *word = NULL, *next = NULL, *from = r->room + r->used;
    size_t length = 0, behind = 0;
    reading ahead = *r;
    if (!peek(&ahead, &word, &length)) {
        return NULL;
    }
    ahead.at += length;
    if (!peek(&ahead, &next, &behind) || kind_of(next, behind) > B_CHANGES) {
        return value(r);
    }
    if (!peek(r, &word, &length) || !keep(r, word, length)) {
        vd_note_MEMORY_TOO_SMALL(r->fault);
        return NULL;
    }
    r->at += length;
    r->used++;
    return from;
}

/* A text: the whole of the next word as it was given. */
static const char *whole_word(reading *r)
{
    const char *from = r->room + r->used;
    if (r->at > 0 && r->word < r->count && r->words[r->word][r->at] == '\0') {
        r->word++;
        r->at = 0;
    }
    if (r->word >= r->count) {
        return NULL;
    }
    const char *text = r->words[r->word++] + r->at;
    r->at = 0;
    text += *text == ' ';
    if (!keep(r, text, strlen(text))) {
        vd_note_MEMORY_TOO_SMALL(r->fault);
        return NULL;
    }
    r->used++;
    return from;
}

static bool refuse(reading *r, const char *what, size_t length, const char *allowed)
{
    char said[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(said, sizeof said);
    vd_writer_add(&writer, "\"");
    vd_writer_add_bytes(&writer, what, length < 30 ? length : 30);
    vd_writer_add(&writer, "\" does not belong here.");
    vd_note_WRONG_WORDS(r->fault, said, allowed);
    return false;
}

static bool take_value(reading *r, const char *keyword, const char **into)
{
    *into = value(r);
    return *into != NULL || refuse(r, keyword, strlen(keyword), "A value is missing after this word.");
}

/* A comparison whose first word was met; the channel before it, or NULL. */
static bool take_test(reading *r, const char *channel, begins way, vd_wished_test *test)
{
    const char *word = NULL;
    size_t length = 0;
    *test = (vd_wished_test){.channel = channel, .way = (uint8_t)way, .given = true};
    if (!take_value(r, keyword(way), &test->limit) || (way != B_OUTSIDE && way != B_INSIDE)) {
        return test->limit != NULL;
    }
    if (!peek(r, &word, &length) || kind_of(word, length) != B_TO) {
        return refuse(r, keyword(way), strlen(keyword(way)), "Give two limits: outside 18 kg to 65 kg.");
    }
    r->at += length;
    return take_value(r, "to", &test->upper);
}

/* only while CHANNEL above LIMIT and CHANNEL ... */
static bool take_conditions(reading *r, vd_wished_alarm *wish)
{
    static const char form[] = "For example: only while speed above 5 km/h and input-2 is on. Or: only while nothing.";
    const char *word = NULL;
    size_t length = 0;
    if (!peek(r, &word, &length) || kind_of(word, length) != B_WHILE) {
        return refuse(r, "only", 4, form);
    }
    do {
        r->at += length;
        const char *channel = channel_word(r);
        if (channel == NULL || wish->condition_count >= VD_MOST_CONDITIONS) {
            return refuse(r, "while", 5, form);
        }
        bool more = peek(r, &word, &length);
        if (wish->condition_count == 0 && vd_same_text(channel, "nothing") &&
            (!more || kind_of(word, length) > B_CHANGES)) {
            wish->no_conditions = true;
            return true;
        }
        if (!more || kind_of(word, length) > B_CHANGES) {
            return refuse(r, channel, strlen(channel), form);
        }
        begins way = kind_of(word, length);
        r->at += length;
        if (!take_test(r, channel, way, &wish->conditions[wish->condition_count++])) {
            return false;
        }
    } while (peek(r, &word, &length) && kind_of(word, length) == B_AND);
    return true;
}

static bool take_part(reading *r, begins part, vd_wished_alarm *wish)
{
    switch (part) {
    case B_ONLY: return take_conditions(r, wish);
    case B_RELEASE: return take_value(r, "release", &wish->release);
    case B_FOR: return take_value(r, "for", &wish->delay);
    case B_ENDS_AFTER: return take_value(r, "ends-after", &wish->delay_out);
    case B_DOES: return take_value(r, "does", &wish->does);
    case B_TELLS: return take_value(r, "tells", &wish->tells);
    case B_LATCHES: return take_value(r, "latches", &wish->latches);
    case B_TEXT:
        wish->text = whole_word(r);
        return wish->text != NULL || refuse(r, "text", 4, "A text is missing after this word.");
    default:
        return refuse(r, keyword(part), strlen(keyword(part)),
                      "Begin with what it watches: speed above 90 km/h. Then release, for, ends-after, only while, "
                      "does, tells, text, latches.");
    }
}

vd_status vd_alarm_wish(const char *const *words, size_t count, char *room, size_t size, vd_wished_alarm *wish,
                        vd_fault *fault)
{
    reading r = {words, count, 0, 0, room, size, 0, fault};
    const char *word = NULL;
    size_t length = 0;
    bool fine = true;
    *wish = (vd_wished_alarm){.test = {.channel = NULL}};
    const char *channel = channel_word(&r);
    while (fine && peek(&r, &word, &length)) {
        begins part = kind_of(word, length);
        r.at += part != B_NOTHING_NEW ? length : 0;
        if (part <= B_CHANGES && !wish->test.given) {
            fine = take_test(&r, channel, part, &wish->test);
            channel = NULL;
        } else {
            fine = part != B_NOTHING_NEW ? take_part(&r, part, wish) : refuse(&r, word, length, "A word is too much.");
        }
    }
    if (fine && channel != NULL) {
        fine = refuse(&r, channel, strlen(channel),
                      "After a channel give above, below, outside, inside, is, rises, falls or changes.");
    }
    return fine ? VD_OK : fault != NULL && fault->status != VD_OK ? fault->status : VD_WRONG_WORDS;
}
