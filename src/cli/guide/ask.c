/* SPDX-License-Identifier: MIT
 * A question, and a command that is shown and run. */
#include "guide.h"

#include <poll.h>
#include <string.h>
#include <termios.h>
#include <unistd.h>

#define LONGEST 512u /* bytes of an answer */

char *guide_asks(guide *g, const char *hint, const char *question)
{
    char answer[LONGEST] = "";
    struct pollfd in = {.fd = STDIN_FILENO, .events = POLLIN};
    screen_put(stdout, "\n");
    if (hint[0] != '\0') {
        message(g->c, "%s", hint);
    }
    tcflush(STDIN_FILENO, TCIFLUSH); /* what was typed before the question is no answer to it */
    stops_catch();
    question_print(g->c, question, "");
    bool answered = poll(&in, 1, -1) > 0 && line_read(STDIN_FILENO, answer, sizeof answer) >= 0 && stops_so_far() == 0;
    screen_answered(answered);
    stops_release();
    g->left = g->left || !answered;
    return answered ? g_strdup(g_strstrip(answer)) : NULL;
}

bool guide_agrees(guide *g, const char *question)
{
    static const char *const yes[] = {"", "y", "yes", NULL}, *const no[] = {"n", "no", NULL};
    char *whole = g_strdup_printf("%s [Y/n]", question);
    bool agrees = false, understood = false;
    while (!understood) {
        char *typed = guide_asks(g, "", whole), *answer = typed != NULL ? g_ascii_strdown(typed, -1) : g_strdup("n");
        agrees = g_strv_contains(yes, answer);
        understood = agrees || g_strv_contains(no, answer);
        if (!understood) {
            message(g->c, "Type y or n, then press Enter.");
        }
        g_free(answer);
        g_free(typed);
    }
    g_free(whole);
    return agrees;
}

/* A word as a shell takes it. */
static char *shell_word(const char *word)
{
    static const char plain[] = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_./:,=+@%";
    return strspn(word, plain) == strlen(word) ? g_strdup(word)
           : strpbrk(word, "\"$`\\!") == NULL  ? g_strdup_printf("\"%s\"", word)
                                               : g_shell_quote(word);
}

/* How the unit that is meant is reached: as little as makes it certain. */
static void add_place(const guide *g, GPtrArray *words)
{
    const guide_unit *unit = g->unit;
    char usual[32];
    vd_writer writer = vd_writer_start(usual, sizeof usual);
    vd_serial_print(&unit->model->line, &writer);
    if (g->ports->len > 1) {
        g_ptr_array_add(words, g_strdup("--port"));
        g_ptr_array_add(words, g_strdup(unit->port));
    }
    if (unit->address != 0) {
        g_ptr_array_add(words, g_strdup("--address"));
        g_ptr_array_add(words, g_strdup_printf("%u", unit->address));
    }
    if (strcmp(usual, unit->line) != 0) {
        char **parts = g_strsplit(unit->line, " ", 2);
        g_ptr_array_add(words, g_strdup("--baud"));
        g_ptr_array_add(words, g_strdup(parts[0]));
        g_ptr_array_add(words, g_strdup("--framing"));
        g_ptr_array_add(words, g_strdup(parts[1]));
        g_strfreev(parts);
    }
}

vd_class guide_does(guide *g, bool at_unit, json_t **result, const char *const *words)
{
    GPtrArray *all = g_ptr_array_new_with_free_func(g_free);
    GString *shown = g_string_new(tone_on(g->c->colour, TONE_FAINT));
    g_string_append_c(shown, '$');
    g_ptr_array_add(all, g_strdup(g->c->program->name));
    for (const char *const *word = words; *word != NULL; word++) {
        g_ptr_array_add(all, g_strdup(*word));
    }
    if (at_unit) {
        add_place(g, all);
    }
    for (guint i = 0; i < all->len; i++) {
        char *word = shell_word(all->pdata[i]);
        g_string_append_printf(shown, " %s", word);
        g_free(word);
    }
    g_string_append_printf(shown, "%s\n", tone_off(g->c->colour, TONE_FAINT));
    char *text = screen_text(stdout, shown->str);
    screen_put(stdout, text);
    g_ptr_array_add(all, NULL);
    vd_class class = g->run(g->c->program, (char **)all->pdata, result);
    g->left = g->left || class == VD_CLASS_INTERRUPTED;
    g->worst = class == VD_CLASS_INTERRUPTED ? class : g->worst;
    g_free(text);
    g_string_free(shown, TRUE);
    g_ptr_array_free(all, TRUE);
    return class;
}
