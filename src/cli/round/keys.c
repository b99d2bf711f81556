/* SPDX-License-Identifier: MIT
 * The keyboard of a round. A scanner is one, too: bytes that come closer together than a person types are a scan, and
 * never an answer. */
#include "round.h"
#include "verdite/text.h"

#include <poll.h>
#include <string.h>
#include <unistd.h>

#define TOGETHER 30000 /* microseconds: bytes closer than this are one burst */
#define SCAN_FROM 4u   /* bytes of a burst that no person types */
#define LONGEST 63u    /* bytes of a code */

static void go_raw(keys *k)
{
    struct termios now = k->before;
    now.c_lflag &= (tcflag_t) ~(ICANON | ECHO);
    now.c_cc[VMIN] = 0;
    now.c_cc[VTIME] = 0;
    k->raw = tcsetattr(STDIN_FILENO, TCSANOW, &now) == 0;
}

void keys_begin(round *r)
{
    keys *k = &r->keys;
    k->terminal = isatty(STDIN_FILENO) != 0 && isatty(STDERR_FILENO) != 0;
    k->burst = g_string_new("");
    k->typed = g_string_new("");
    if (k->terminal && tcgetattr(STDIN_FILENO, &k->before) == 0) {
        go_raw(k);
    }
}

void keys_pause(round *r)
{
    if (r->keys.raw) {
        tcsetattr(STDIN_FILENO, TCSANOW, &r->keys.before);
    }
}

void keys_resume(round *r)
{
    if (r->keys.raw) {
        go_raw(&r->keys);
    }
}

void keys_end(round *r)
{
    keys *k = &r->keys;
    if (k->raw) {
        tcsetattr(STDIN_FILENO, TCSANOW, &k->before);
    }
    k->raw = false;
    if (k->burst != NULL) {
        g_string_free(k->burst, TRUE);
        g_string_free(k->typed, TRUE);
    }
    g_free(k->answer);
    g_free(r->held);
    *k = (keys){.terminal = false};
    r->held = NULL;
}

bool keys_can_ask(const round *r)
{
    return r->keys.terminal;
}

/* A code that came by a scan, or was typed where nothing was asked. */
static void hold(round *r, const char *code)
{
    round_row *row = rows_of_code(r, code);
    char *words = row != NULL ? row_words(row) : g_strdup(code);
    bool same = r->held != NULL && strcmp(r->held, code) == 0;
    if (row == NULL) {
        round_tell(r, true, "%s was scanned. It is not on the list.", code);
    } else if (row->state == ROW_DONE) {
        round_tell(r, false, "%s was scanned. It is done: %s.", words, row->words);
    } else if (row->state == ROW_AT_WORK) {
        message(r->c, "%s was scanned. It is under way.", words);
    } else if (r->awaits && r->held == NULL) {
        message(r->c, "%s scanned.", words);
        r->held = g_strdup(code);
    } else {
        message(r->c, r->held != NULL && !same ? "%s scanned instead of %s: plug it in." : "%s scanned: plug it in.",
                words, r->held);
        g_free(r->held);
        r->held = g_strdup(code);
    }
    g_free(words);
}

static void take_text(round *r, const char *text, bool scanned)
{
    keys *k = &r->keys;
    char *line = g_strstrip(g_strdup(text));
    bool fit = line[0] != '\0' && strlen(line) <= LONGEST && g_str_is_ascii(line) &&
               vd_text_line(line, strlen(line)) == strlen(line);
    if (k->asking && !scanned) {
        g_free(k->answer);
        k->answer = g_strdup(line);
        k->ended = true;
        g_free(line);
        return;
    }
    if (k->asking) {
        fputs("\n", stderr);
    }
    if (fit) {
        hold(r, line);
    } else if (line[0] != '\0') {
        message(r->c, "What was %s is no code.", scanned ? "scanned" : "typed");
    }
    if (k->asking) { /* it still stands */
        question_print(r->c, k->question, "");
    }
    g_free(line);
}

static void echo(const round *r, const char *text)
{
    if (r->keys.asking) {
        fputs(text, stderr);
        fflush(stderr);
    }
}

static void take_key(round *r, char key)
{
    GString *typed = r->keys.typed;
    if (key == '\n' || key == '\r') {
        char *line = g_strdup(typed->str);
        g_string_truncate(typed, 0);
        take_text(r, line, false);
        g_free(line);
    } else if ((key == '\177' || key == '\b') && typed->len > 0) {
        g_string_truncate(typed, typed->len - 1);
        echo(r, "\b \b");
    } else if (g_ascii_isprint(key) && typed->len < LONGEST) {
        const char shown[] = {key, '\0'};
        g_string_append_c(typed, key);
        echo(r, shown);
    }
}

/* No byte has come for a while: what came together is one thing. */
static void end_burst(round *r)
{
    GString *burst = r->keys.burst;
    char *bytes = g_strdup(burst->str);
    size_t count = burst->len;
    g_string_truncate(burst, 0);
    if (count >= SCAN_FROM) {
        take_text(r, bytes, true);
    }
    for (size_t i = 0; i < count && count < SCAN_FROM; i++) {
        take_key(r, bytes[i]);
    }
    g_free(bytes);
}

void keys_listen(round *r)
{
    keys *k = &r->keys;
    char bytes[64];
    if (!k->raw) {
        return;
    }
    for (;;) {
        struct pollfd in = {.fd = STDIN_FILENO, .events = POLLIN};
        ssize_t got = poll(&in, 1, 0) > 0 ? read(STDIN_FILENO, bytes, sizeof bytes) : 0;
        gint64 now = g_get_monotonic_time();
        if (k->burst->len > 0 && now - k->last >= TOGETHER) {
            end_burst(r);
        }
        if (got <= 0) {
            return;
        }
        for (ssize_t i = 0; i < got; i++) {
            g_string_append_c(k->burst, bytes[i] != '\0' ? bytes[i] : ' ');
        }
        k->last = now;
    }
}

/* From a pipe there is no scanner: a line is an answer. */
static char *answer_of_pipe(void)
{
    char line[32];
    return g_strstrip(g_strdup(line_read(STDIN_FILENO, line, sizeof line) >= 0 ? line : ""));
}

bool keys_ask(round *r, const char *question, const char *word)
{
    keys *k = &r->keys;
    round_ring(r, false);
    if (k->raw) {
        tcflush(STDIN_FILENO, TCIFLUSH); /* what was typed before the question is no answer to it */
        g_string_truncate(k->typed, 0);
        g_string_truncate(k->burst, 0);
    }
    k->asking = true;
    k->ended = false;
    k->question = question;
    question_print(r->c, question, "");
    while (k->raw && !k->ended && stops_so_far() == 0) {
        struct pollfd in = {.fd = STDIN_FILENO, .events = POLLIN};
        bool bench = r->h.bench != NULL || r->loop.seat_count == 0;
        poll(&in, 1, bench ? TOGETHER / 1000 : 0);
        if (!bench) { /* the lines are listened to meanwhile; on a bench the clock stands */
            vd_loop_step(&r->loop, r->loop.kind->now(r->loop.ground) + TOGETHER);
        }
        keys_listen(r);
    }
    char *answer = k->raw ? g_strdup(k->ended ? k->answer : "") : answer_of_pipe();
    bool yes = strcmp(answer, word) == 0;
    k->asking = false;
    screen_answered(k->raw);
    if (k->raw) {
        fputs("\n", stderr);
    }
    g_free(answer);
    return yes;
}
