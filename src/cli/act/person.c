/* SPDX-License-Identifier: MIT
 * Questions to the person. While one stands the line is listened to, so that a unit that goes, or another that speaks,
 * is noticed; on a bench the clock stands meanwhile. */
#include "act.h"
#include "../print/print.h"

#include <poll.h>
#include <string.h>
#include <termios.h>
#include <unistd.h>

#define EACH 100000u /* microseconds for which the line is listened to between two looks at the terminal */

typedef struct waiting {
    const visit *v;
    vd_loop *loop;
} waiting;

/* Waits until there is an answer to read. False: stopped by hand, or the question stands no longer. */
static bool is_ready(void *about)
{
    const waiting *w = about;
    for (;;) {
        struct pollfd in = {.fd = STDIN_FILENO, .events = POLLIN};
        int ready = poll(&in, 1, w->v->place.bench != NULL ? -1 : 0);
        vd_wants wants;
        vd_loop_wants(w->loop, w->v->seat, &wants);
        if (ready != 0 || stops_so_far() > 0 || wants.question == VD_ASK_NOTHING) {
            return ready > 0;
        }
        if (vd_loop_step(w->loop, w->loop->kind->now(w->loop->ground) + EACH) != VD_OK) {
            return false;
        }
    }
}

/* A line that was typed behind a question, without blanks around it; "" where there was none. */
static void ask(const cli *c, const visit *v, vd_loop *loop, const char *question, const char *form, char *answer,
                size_t size)
{
    waiting w = {v, loop};
    if (isatty(STDIN_FILENO) != 0) {
        tcflush(STDIN_FILENO, TCIFLUSH); /* what was typed before the question is no answer to it */
    }
    question_print(c, question, form);
    bool answered = is_ready(&w) && line_read(STDIN_FILENO, answer, size) >= 0;
    screen_answered(answered && isatty(STDIN_FILENO) != 0);
    if (!answered) {
        answer[0] = '\0';
    }
    g_strstrip(answer);
}

/* Anything but a plain yes is no. */
bool person_agrees(const cli *c, const visit *v, vd_loop *loop, const char *question)
{
    char answer[16];
    ask(c, v, loop, question, "[y/N]", answer, sizeof answer);
    return g_ascii_strcasecmp(answer, "y") == 0 || g_ascii_strcasecmp(answer, "yes") == 0;
}

bool person_types(const cli *c, const visit *v, vd_loop *loop, const char *question, const char *word)
{
    char answer[32];
    ask(c, v, loop, question, "", answer, sizeof answer);
    return strcmp(answer, word) == 0;
}

void person_says_password(cli *c, const visit *v, vd_loop *loop)
{
    const vd_identity *identity = vd_visit_identity(v->engine);
    char *question = g_strdup_printf("Password of %s %s, not shown:", identity->product, identity->serial);
    waiting w = {v, loop};
    secret *password = secret_of_unit(c, question, is_ready, &w);
    vd_event answer = {.kind = VD_ANSWERED, .yes = password != NULL};
    answer.bytes = password != NULL ? (const uint8_t *)secret_text(password) : NULL;
    answer.count = password != NULL ? strlen(secret_text(password)) : 0;
    if (stops_so_far() == 0) {
        vd_loop_feed(loop, v->seat, answer);
    }
    secret_free(password);
    secrets_forget();
    g_free(question);
}

void person_agrees_to_old(cli *c, const visit *v, vd_loop *loop)
{
    vd_value left = vd_set_get(vd_visit_live(v->engine), vd_index(v->model->login.left));
    message(c, "The unit accepted the new password and now refuses it. Tries left: %d.", (int)left.number);
    bool yes = person_agrees(c, v, loop, "Try the old one, once?");
    if (stops_so_far() == 0) {
        vd_loop_feed(loop, v->seat, (vd_event){.kind = VD_ANSWERED, .yes = yes});
    }
}
