/* SPDX-License-Identifier: MIT
 * verdite find: who is on the line, or on all lines. */
#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

/* What was not asked, and how long it would take. */
static void tell_rest(const cli *c, const hunt *h)
{
    unsigned most = 0, seconds = 0;
    bool narrowed = c->options.baud.given || c->options.framing.given;
    for (size_t i = 0; i < h->count; i++) {
        const site *s = &h->sites[i];
        vd_serial at[VD_SEARCH_LINES];
        unsigned lines = 0;
        for (size_t k = 0; s->port != NULL && k < vd_search_count(s->search); k++) {
            bool again = false;
            for (unsigned n = 0; n < lines; n++) {
                again = again || vd_serial_equal(&at[n], &s->found[k].line);
            }
            if (!again && lines < VD_SEARCH_LINES && s->found[k].address != 0) {
                at[lines++] = s->found[k].line;
            }
        }
        if (lines > 0) {
            most = MAX(most, (unsigned)h->line_count - MIN(lines, (unsigned)h->line_count));
            unsigned each = s->plan.quick_limit + (unsigned)vd_serial_time(&s->found[0].line, 8);
            seconds = (unsigned)((uint64_t)each * (unsigned)(s->plan.to - s->plan.from + 1) / 1000000u) + 1u;
        }
    }
    if (hunt_leaves_out(c)) {
        message(c, "Not asked: addresses above %u where no unit was met before (without --quick).", HUNT_QUICK_TO);
    }
    if (most > 0 && !c->options.wide && !narrowed) {
        message(c, "Not asked: other addresses at %u more line settings, about %u s each (--wide)%s.", most, seconds,
                c->options.slow ? "" : "; slow units (--slow)");
    }
}

static bool any_silent(const hunt *h)
{
    bool any = false;
    for (size_t i = 0; i < h->count; i++) {
        any = any || (h->sites[i].port != NULL && vd_search_count(h->sites[i].search) == 0);
    }
    return any;
}

vd_class command_find(cli *c)
{
    hunt h = {0};
    trace t;
    json_t *units = json_array();
    json_object_set_new(c->result, "units", units);
    if (!trace_start(c, &t)) {
        return c->worst;
    }
    if (hunt_ready(c, &h, NULL)) {
        const quarry what = {.from = (uint8_t)c->options.from.value, .to = (uint8_t)c->options.to.value};
        bool finished = hunt_search(c, &h, &what, &t);
        size_t good = hunt_conclude(c, &h, finished, units);
        if (!finished) {
            report_new(c, vd_fault_of_STOPPED("What was found is above."));
        }
        message(c, "%zu unit%s found.", good, good == 1 ? "" : "s");
        tell_rest(c, &h);
        char *listeners = choose_listeners(c);
        if (finished && listeners[0] != '\0' && any_silent(&h)) {
            message(c, "Some units must be made to listen first: %s. How: verdite startup MODEL", listeners);
        }
        g_free(listeners);
    }
    trace_end(c, &t);
    hunt_close(c, &h);
    return c->worst;
}
