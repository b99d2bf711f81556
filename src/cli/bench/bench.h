/* SPDX-License-Identifier: MIT
 * Benches: what verdite-bench does, also to one that is being served. */
#ifndef VD_CLI_BENCH_H
#define VD_CLI_BENCH_H

#include "../cli.h"

/* ---- commands.c ---- */

vd_class bench_show(cli *c);
vd_class bench_afresh(cli *c);
vd_class bench_hand(cli *c);
vd_class bench_wait(cli *c);
vd_class bench_serve(cli *c);
vd_class bench_play(cli *c);

/* ---- served.c ---- */

/* Whether somebody serves the bench. Tells whoever does what is done to a unit; false: nobody does. */
bool served_anywhere(const char *folder);
bool served_tell(const char *folder, const char *does, const char *unit, uint32_t milliseconds);
/* Begins to listen to such programs; what to wait for, -1: it cannot. Then what one said, and the end. */
int served_open(const char *folder);
void served_hear(int pipe, void (*does)(void *about, const char *what, const char *unit, uint32_t milliseconds),
                 void *about);
void served_close(const char *folder, int pipe);

#endif
