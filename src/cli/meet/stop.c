/* SPDX-License-Identifier: MIT
 * Ctrl-C and its kin, counted: the first asks to stop in order, the second to stop at once. */
#include "meet.h"

#include <signal.h>

static volatile sig_atomic_t stops;
static const int caught[] = {SIGINT, SIGTERM, SIGHUP, SIGQUIT};
static struct sigaction prior[G_N_ELEMENTS(caught)];

static void note_stop(int signal)
{
    (void)signal;
    stops++;
}

void stops_catch(void)
{
    struct sigaction action = {.sa_handler = note_stop}; /* without SA_RESTART, so that waiting ends */
    sigemptyset(&action.sa_mask);
    stops = 0;
    for (size_t i = 0; i < G_N_ELEMENTS(caught); i++) {
        sigaction(caught[i], &action, &prior[i]);
    }
}

void stops_release(void)
{
    for (size_t i = 0; i < G_N_ELEMENTS(caught); i++) {
        sigaction(caught[i], &prior[i], NULL);
    }
}

int stops_so_far(void)
{
    return stops;
}

volatile sig_atomic_t *stops_flag(void)
{
    return &stops;
}
