/* SPDX-License-Identifier: MIT
 * Where everything for the eye goes out: how wide a stream is, which characters it can show, lines that are drawn anew,
 * and how many lines stand below one that may be printed over. */
#include "print.h"

#include <langinfo.h>
#include <string.h>
#include <sys/ioctl.h>
#include <unistd.h>

/* ---- Width ---- */

static size_t columns_of_character(gunichar c)
{
    return g_unichar_iszerowidth(c) ? 0 : g_unichar_iswide(c) ? 2 : 1;
}

size_t columns_of(const char *text)
{
    size_t columns = 0;
    for (const char *at = text; *at != '\0'; at = g_utf8_next_char(at)) {
        columns += columns_of_character(g_utf8_get_char(at));
    }
    return columns;
}

char *cut_to(const char *text, size_t columns)
{
    size_t used = 0;
    const char *at = text, *last = text;
    if (columns_of(text) <= columns) {
        return g_strdup(text);
    }
    for (; *at != '\0'; at = g_utf8_next_char(at)) {
        used += columns_of_character(g_utf8_get_char(at));
        last = used + 1 <= columns ? g_utf8_next_char(at) : last;
    }
    return g_strdup_printf("%.*s%s", (int)(last - text), text, columns > 0 ? "…" : "");
}

size_t width_of(FILE *out)
{
    struct winsize window = {0};
    guint64 said = 0;
    if (isatty(fileno(out)) != 0) {
        return ioctl(fileno(out), TIOCGWINSZ, &window) == 0 && window.ws_col > 0 ? window.ws_col : 80;
    }
    const char *columns = g_getenv("COLUMNS");
    return columns != NULL && g_ascii_string_to_unsigned(columns, 10, 20, 1000, &said, NULL) ? (size_t)said : 0;
}

static size_t height_of(FILE *out)
{
    struct winsize window = {0};
    return ioctl(fileno(out), TIOCGWINSZ, &window) == 0 && window.ws_row > 0 ? window.ws_row : 24;
}

/* ---- Characters ---- */

static bool shows_all(void)
{
    return strcmp(nl_langinfo(CODESET), "UTF-8") == 0;
}

static char *in_ascii(const char *text)
{
    static const struct {
        const char *seen, *typed;
    } plain[] = {{"°", "deg "}, {"→", "->"},  {"…", "..."}, {"²", "2"}, {"³", "3"}, {"µ", "u"}, {"μ", "u"},
                 {"Ω", "Ohm"},  {"±", "+/-"}, {"·", "."},   {"×", "x"}, {"–", "-"}, {"−", "-"}};
    GString *out = g_string_new(text);
    for (size_t i = 0; i < G_N_ELEMENTS(plain); i++) {
        g_string_replace(out, plain[i].seen, plain[i].typed, 0);
    }
    char *whole = g_str_to_ascii(out->str, "C");
    g_string_free(out, TRUE);
    return whole;
}

static bool turns_direction(const char *text)
{
    for (const char *at = text; *at != '\0'; at = g_utf8_next_char(at)) {
        gunichar c = g_utf8_get_char(at);
        if ((c >= 0x590 && c <= 0x8FF) || (c >= 0xFB1D && c <= 0xFDFF) || (c >= 0xFE70 && c <= 0xFEFE)) {
            return true;
        }
    }
    return false;
}

char *screen_text(FILE *out, const char *text)
{
    if (isatty(fileno(out)) == 0 || g_str_is_ascii(text)) {
        return g_strdup(text);
    }
    if (!shows_all()) {
        return in_ascii(text);
    }
    /* A name that is written from right to left must not draw along what stands beside it. */
    return turns_direction(text) ? g_strdup_printf("\u2068%s\u2069", text) : g_strdup(text);
}

/* ---- Out it goes ---- */

static unsigned long rows_put; /* on the terminal */
static unsigned live_rows;     /* that are drawn anew; the cursor stands at the end of the last one */
static size_t live_width;      /* of the terminal that they were drawn for */
static const char *const up_and_clear = "\033[%uA\r\033[J";

bool progress_is_shown(const cli *c)
{
    return c->live_messages && !c->options.trace; /* a trace shows it better */
}

/* How many rows of a terminal a text takes: its line ends, and lines that are longer than it is wide. */
static unsigned rows_of(const char *text, size_t width)
{
    unsigned rows = 0;
    size_t column = 0;
    for (const char *at = text; *at != '\0'; at = g_utf8_next_char(at)) {
        if (at[0] == '\033') {
            at = strchr(at, 'm') != NULL ? strchr(at, 'm') : at;
        } else if (at[0] == '\n') {
            rows += 1 + (unsigned)((column > 0 ? column - 1 : 0) / MAX(width, 1));
            column = 0;
        } else {
            column += columns_of_character(g_utf8_get_char(at));
        }
    }
    return rows;
}

static void live_hide(void)
{
    if (live_rows > 0 && width_of(stderr) != live_width) {
        fputs("\n", stderr); /* nobody knows how the terminal broke them: what stands above must not be lost */
    } else if (live_rows > 1) {
        fprintf(stderr, up_and_clear, live_rows - 1);
    } else if (live_rows == 1) {
        fputs("\r\033[K", stderr);
    }
    live_rows = 0;
}

void screen_put(FILE *out, const char *text)
{
    live_hide();
    if (out == stderr) {
        fflush(stdout); /* so that both stand in order where they go to one place */
    }
    fputs(text, out);
    if (isatty(fileno(out)) != 0) {
        rows_put += rows_of(text, width_of(out));
    }
    if (out == stdout && isatty(fileno(stderr)) != 0) {
        fflush(stdout);
    }
}

void screen_answered(bool typed)
{
    if (typed) {
        rows_put++;
    } else {
        screen_put(stderr, "\n");
    }
}

void progress_show(const cli *c, const char *text)
{
    static char *shown; /* what stands there, so that nothing is drawn twice */
    if (!progress_is_shown(c) || (live_rows > 0 && g_strcmp0(shown, text) == 0)) {
        return;
    }
    g_free(shown);
    shown = g_strdup(text);
    live_hide();
    char **lines = g_strsplit(text, "\n", -1);
    size_t most = height_of(stderr) - 1, width = width_of(stderr);
    live_width = width;
    for (char **line = lines; *line != NULL && text[0] != '\0' && live_rows < most; line++) {
        /* The last column stays free: some terminals go on to the next line as soon as it is used. */
        char *cut = cut_to(*line, width - (shows_all() ? 1 : 3)), *seen = screen_text(stderr, cut);
        fprintf(stderr, "%s%s", live_rows > 0 ? "\n" : "", seen);
        live_rows++;
        g_free(seen);
        g_free(cut);
    }
    fflush(stderr);
    g_strfreev(lines);
}

/* ---- What may be printed over ---- */

bool screen_is_whole(const cli *c)
{
    return progress_is_shown(c) && isatty(STDOUT_FILENO) != 0 && !c->options.json;
}

screen_mark screen_mark_here(const cli *c)
{
    return (screen_mark){.rows = rows_put, .width = screen_is_whole(c) ? width_of(stderr) : 0};
}

void screen_mark_end(screen_mark *mark)
{
    mark->lines = rows_put - mark->rows;
}

bool screen_print_over(const cli *c, const screen_mark *mark, const char *text)
{
    unsigned long below = rows_put - mark->rows;
    unsigned long rows = rows_of(text, mark->width);
    if (!screen_is_whole(c) || mark->width == 0 || width_of(stderr) != mark->width || below >= height_of(stderr) ||
        rows != mark->lines) {
        return false;
    }
    live_hide();
    char **lines = g_strsplit(text, "\n", -1);
    fprintf(stderr, "\033[%luA\r", below);
    for (char **line = lines; *line != NULL && (*line)[0] != '\0'; line++) {
        fprintf(stderr, "\033[K%s\n", *line);
    }
    if (below > rows) {
        fprintf(stderr, "\033[%luB", below - rows);
    }
    fflush(stderr);
    g_strfreev(lines);
    return true;
}
