/* SPDX-License-Identifier: MIT
 * Sentences, broken between words; a number stays with its unit. */
#include "print.h"

#include <string.h>

#define MOST_PROSE 100u /* columns: longer lines are hard to read */
#define MOST_UNIT 5u    /* characters of what may be a unit behind a number */

const char *tone_on(bool colour, tone t)
{
    static const char *const codes[] = {"", "\033[1m", "\033[32m", "\033[1;31m", "\033[35m", "\033[2m"};
    return colour ? codes[t] : "";
}

const char *tone_off(bool colour, tone t)
{
    return colour && t != TONE_PLAIN ? "\033[0m" : "";
}

static bool is_number(const char *word)
{
    size_t digits = strcspn(word, "0123456789"), length = strlen(word);
    return digits < length && digits <= 2 && g_ascii_isdigit(word[length - 1]);
}

/* Whether a word may be the unit of the number before it: short, and none of the small words of a sentence. */
static bool is_unit(const char *word)
{
    static const char *const others[] = {"a",  "an", "and", "are", "as", "at", "be", "by",  "for", "from", "has", "in",
                                         "is", "it", "no",  "not", "of", "on", "or", "out", "to",  "was",  NULL};
    char *bare = g_strndup(word, strcspn(word, ".,;:)\""));
    bool small = g_strv_contains(others, bare);
    bool fits = bare[0] != '\0' && g_utf8_strlen(bare, -1) <= MOST_UNIT && !is_number(bare) && !small;
    g_free(bare);
    return fits;
}

/* Durations go on behind a unit: "4 min 50 s". */
static bool is_time(const char *word)
{
    static const char *const units[] = {"d", "h", "min", "s", NULL};
    return g_strv_contains(units, word);
}

char **prose_words(const char *text)
{
    char **words = g_strsplit(text, " ", -1);
    GStrvBuilder *all = g_strv_builder_new();
    for (size_t i = 0; words[i] != NULL;) {
        GString *whole = g_string_new(words[i]);
        const char *last = words[i++];
        while (words[i] != NULL) {
            const char *next = words[i];
            bool framing = is_number(last) && next[0] != '\0' && g_ascii_isdigit(next[0]) && strlen(next) == 3 &&
                           g_ascii_isalpha(next[1]);
            bool joins = (is_number(last) && is_unit(next)) || framing || (is_time(last) && is_number(next)) ||
                         (strcmp(last, "deg") == 0 && strlen(next) <= 2);
            if (!joins) {
                break;
            }
            g_string_append_printf(whole, " %s", next);
            last = next;
            i++;
        }
        g_strv_builder_add(all, whole->str);
        g_string_free(whole, TRUE);
    }
    g_strfreev(words);
    char **whole = g_strv_builder_end(all);
    g_strv_builder_unref(all);
    return whole;
}

/* One line of prose; `indent` stands before its first word where that begins a line, `hanging` where it is broken. */
static void add_line(GString *out, size_t column, size_t width, const char *indent, const char *hanging,
                     const char *text)
{
    char **words = prose_words(text);
    for (char **word = words; *word != NULL; word++) {
        size_t length = columns_of(*word);
        bool first = column == 0 && word == words, breaks = width > 0 && !first && column + 1 + length > width;
        const char *before = first ? indent : breaks ? hanging : "";
        g_string_append_printf(out, "%s%s%s", first ? "" : breaks ? "\n" : " ", before, *word);
        column = (first || breaks ? columns_of(before) : column + 1) + length;
    }
    g_string_append_c(out, '\n');
    g_strfreev(words);
}

static void add_prose(GString *whole, FILE *out, size_t column, const char *indent, const char *text)
{
    size_t width = width_of(out);
    char *seen = screen_text(out, text), **lines = g_strsplit(seen, "\n", -1);
    for (char **line = lines; *line != NULL; line++) {
        /* What is set in keeps its own beginning, and goes on a little further in. */
        size_t set_in = strspn(*line, " ");
        char *hanging = set_in > 0 ? g_strnfill(set_in + 2, ' ') : g_strdup(indent);
        add_line(whole, line == lines ? column : 0, width > 0 ? MIN(width, MOST_PROSE) : MOST_PROSE,
                 set_in > 0 ? "" : indent, hanging, *line);
        g_free(hanging);
    }
    g_strfreev(lines);
    g_free(seen);
}

void prose_print(FILE *out, size_t column, const char *indent, const char *text)
{
    GString *whole = g_string_new("");
    add_prose(whole, out, column, indent, text);
    screen_put(out, whole->str);
    g_string_free(whole, TRUE);
}

void prose_print_behind(FILE *out, bool colour, tone t, const char *lead, const char *indent, const char *text)
{
    char *seen = screen_text(out, lead);
    GString *whole = g_string_new("");
    g_string_append_printf(whole, "%s%s%s", tone_on(colour, t), seen, tone_off(colour, t));
    if (width_of(out) > 0 || out == stdout) {
        add_prose(whole, out, columns_of(seen), indent, text);
    } else { /* a message in a pipe is one line, for whoever looks for it there */
        g_string_append_printf(whole, " %s\n", text);
    }
    screen_put(out, whole->str);
    g_string_free(whole, TRUE);
    g_free(seen);
}

void question_print(const cli *c, const char *question, const char *form)
{
    GString *whole = g_string_new(tone_on(c->colour_messages, TONE_STRONG));
    char *text = g_strdup_printf("%s%s%s", question, form[0] != '\0' ? " " : "", form);
    add_prose(whole, stderr, 0, "", text);
    g_string_truncate(whole, whole->len - 1); /* the answer stands behind it */
    g_string_append_printf(whole, "%s ", tone_off(c->colour_messages, TONE_STRONG));
    screen_put(stderr, whole->str);
    fflush(stderr);
    g_string_free(whole, TRUE);
    g_free(text);
}

void title_print(const cli *c, const char *text)
{
    GString *whole = g_string_new(tone_on(c->colour, TONE_STRONG));
    add_prose(whole, stdout, 0, "", text);
    g_string_truncate(whole, whole->len - 1);
    g_string_append_printf(whole, "%s\n", tone_off(c->colour, TONE_STRONG));
    screen_put(stdout, whole->str);
    g_string_free(whole, TRUE);
}

void lead_print(const cli *c, tone t, const char *lead, const char *indent, const char *text)
{
    prose_print_behind(stdout, c->colour, t, lead, indent, text);
}
