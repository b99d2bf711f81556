/* SPDX-License-Identifier: MIT
 * Two units that change their addresses: one act of several visits. */
#ifndef VD_CLI_SWAP_H
#define VD_CLI_SWAP_H

#include "cli.h"

/* Goes on with a swap that was cut off, or puts both units back to where they were before it. */
vd_class swap_go_on(cli *c, const vd_past *past, bool back);

#endif
