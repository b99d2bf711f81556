/* SPDX-License-Identifier: MIT
 * How far something has come: one line on a terminal, which leaves nothing behind. */
#include "print.h"

void progress_show(const cli *c, const char *text)
{
    static bool stands;
    if (!c->live_messages || c->options.trace) { /* a trace shows it better */
        return;
    }
    /* The last column stays free: some terminals go on to the next line as soon as it is used. */
    char *cut = cut_to(text, width_of(stderr) - 1);
    if (stands || cut[0] != '\0') {
        fprintf(stderr, "\r\033[K%s", cut);
        fflush(stderr);
    }
    stands = cut[0] != '\0';
    g_free(cut);
}
