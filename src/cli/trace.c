/* SPDX-License-Identifier: MIT
 * Where the talk on the wire is shown: on standard error, in a file, or nowhere. */
#include "cli.h"

#include <errno.h>

bool trace_start(cli *c, trace *t)
{
    *t = (trace){.file = c->options.trace ? stderr : NULL};
    if (c->options.trace_to != NULL) {
        t->file = fopen(c->options.trace_to, "we");
        if (t->file == NULL) {
            report_new(c, vd_fault_of_FILE_UNWRITABLE(g_strerror(errno)));
            return false;
        }
        setvbuf(t->file, NULL, _IOLBF, 0); /* so that it can be followed while it grows */
    }
    t->tracer = t->file != NULL ? vd_tracer_new(t->file) : NULL;
    return true;
}

void trace_join(const trace *t, vd_loop *loop)
{
    loop->trace = t->tracer != NULL ? vd_tracer_note : NULL;
    loop->trace_about = t->tracer;
}

void trace_end(cli *c, trace *t)
{
    vd_tracer_free(t->tracer);
    if (t->file != NULL && t->file != stderr && fclose(t->file) != 0) {
        report_new(c, vd_fault_of_FILE_UNWRITABLE(g_strerror(errno)));
    }
    *t = (trace){.file = NULL};
}
