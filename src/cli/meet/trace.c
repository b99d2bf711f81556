/* SPDX-License-Identifier: MIT
 * Where the talk on the wire is shown: on standard error, in a file, or nowhere. */
#include "meet.h"
#include "../print/print.h"

#include <errno.h>

bool trace_start(cli *c, trace *t)
{
    *t = (trace){.file = c->options.trace ? stderr : NULL};
    if (c->options.trace_to != NULL) {
        vd_fault fault = {0};
        t->file = vd_file_stream(c->options.trace_to, &fault);
        if (t->file == NULL) {
            report(c, &fault);
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
    bool own = t->file != NULL && t->file != stderr, failed = own && ferror(t->file) != 0;
    if (own && (fclose(t->file) != 0 || failed)) {
        report_new(c, vd_fault_of_FILE_UNWRITABLE(failed ? "the trace is not all there" : g_strerror(errno)));
    }
    *t = (trace){.file = NULL};
}
