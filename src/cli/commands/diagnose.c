/* SPDX-License-Identifier: MIT
 * verdite diagnose: why a unit does not answer. */
#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

#define NEIGHBOURS 10u /* addresses that are asked where one is silent: the lowest are given first */

/* Whether a search met nobody, not even a damaged reply. */
static bool met_nobody(const hunt *h)
{
    for (size_t i = 0; i < h->count; i++) {
        vd_fault fault = {0};
        const site *s = &h->sites[i];
        vd_status ended = VD_OK;
        bool silent =
            s->port != NULL && vd_search_count(s->search) == 0 && vd_search_ended(s->search, &ended) && ended == VD_OK;
        vd_status status = silent ? vd_search_judge_line(s->search, &fault) : VD_OK;
        if (status != VD_NO_REPLY && status != VD_SILENT_LINE && status != VD_NO_ANSWER) {
            return false;
        }
    }
    return h->count > 0;
}

/* Before it is called silent, it is asked quickly at all usual speeds and framings, in every language that is known. */
static bool answers_elsewhere(cli *c, hunt *h, uint8_t address, const vd_serial *asked, const trace *t)
{
    const quarry what = {.from = address, .to = address, .manner = ASK_ELSEWHERE};
    char at[32];
    vd_writer writer = vd_writer_start(at, sizeof at);
    vd_serial_print(asked, &writer);
    h->line_count = vd_search_lines(h->models, h->model_count, true, 0, NULL, h->lines);
    if (c->live_messages) {
        message(c, "Silent at %s. Trying other speeds and framings.", at);
    }
    hunt_search(c, h, &what, t);
    for (size_t i = 0; i < h->count; i++) {
        const site *s = &h->sites[i];
        const vd_found *found = s->port != NULL && vd_search_count(s->search) > 0 ? &s->found[0] : NULL;
        if (found == NULL || found->identity.product[0] == '\0') {
            continue;
        }
        char line[32];
        vd_writer to_line = vd_writer_start(line, sizeof line);
        vd_serial_print(&found->line, &to_line);
        char *said = g_strdup_printf("%s %s, at %s", found->identity.product, found->identity.serial, line);
        report_new(c, vd_fault_of_ANSWERS_ELSEWHERE(said, at));
        g_free(said);
        return true;
    }
    return false;
}

/* Addresses as people read them: "1 to 10, 12". */
static void add_address(GString *words, unsigned from, unsigned to)
{
    g_string_append_printf(words,
                           to > from + 1 ? "%s%u to %u"
                           : to > from   ? "%s%u, %u"
                                         : "%s%u",
                           words->len > 0 ? ", " : "", from, to);
}

/* Who is silent among others has no swapped wires: they are asked before other speeds and languages are, and before
 * patience is spent on a line on which nobody is. Adds those that answer. */
static bool any_other(cli *c, hunt *h, GString *answering, const trace *t)
{
    const quarry what = {.from = 1, .to = NEIGHBOURS, .manner = ASK_NEIGHBOURS};
    unsigned first = 0, last = 0;
    bool finished = hunt_search(c, h, &what, t);
    const site *s = &h->sites[0];
    for (size_t i = 0; finished && i < vd_search_count(s->search); i++) {
        unsigned at = s->found[i].address;
        if (first != 0 && at != last + 1) {
            add_address(answering, first, last);
        }
        first = first == 0 || at != last + 1 ? at : first;
        last = at;
    }
    if (first != 0) {
        add_address(answering, first, last);
    }
    return first != 0;
}

/* Asks the unit; where it does not answer at once, its neighbours. `answering`: those of them that answer while it is
 * silent. False: stopped. */
static bool ask(cli *c, hunt *h, quarry what, GString *answering, const trace *t)
{
    if (what.from != 0 && h->count == 1 && h->sites[0].port != NULL) {
        what.manner = ASK_HASTILY;
        if (!hunt_search(c, h, &what, t)) {
            return false;
        }
        what.manner = met_nobody(h) && any_other(c, h, answering, t) ? ASK_ONCE : ASK_ALL;
    }
    return hunt_search(c, h, &what, t);
}

static void report_others(cli *c, uint8_t address, const char *answering)
{
    char *who = g_strdup_printf("Address %u", address),
         *said = g_strdup_printf("%s (asked: 1 to %u)", answering, NEIGHBOURS);
    report_new(c, vd_fault_of_OTHERS_ANSWER(said, who));
    g_free(who);
    g_free(said);
}

vd_class command_diagnose(cli *c)
{
    hunt h = {0};
    trace t;
    const vd_model *model = meet_model(c);
    if (model == NULL) {
        return c->worst;
    }
    if (c->options.address.given && !vd_model_has_address(model)) {
        return report_wrong_words(c, "Such a unit has no address.", "Leave --address out.");
    }
    uint8_t address = c->options.address.given ? (uint8_t)c->options.address.value : model->address_factory;
    json_t *units = json_array();
    json_object_set_new(c->result, "units", units);
    h.lines[0] = model->line;
    h.line_count = 1;
    if (!trace_start(c, &t)) {
        return c->worst;
    }
    options_line(&c->options, &h.lines[0]);
    if (hunt_load_models(c, &h, NULL) && hunt_open(c, &h)) {
        const quarry what = {.from = address, .to = address, .wanted = model};
        const vd_serial asked = h.lines[0];
        GString *answering = g_string_new("");
        bool finished = ask(c, &h, what, answering, &t);
        vd_fault silence = {0};
        bool silent = finished && h.count == 1 && met_nobody(&h);
        if (silent) {
            vd_search_judge_line(h.sites[0].search, &silence);
        }
        bool others = silent && answering->len > 0;
        if (others) {
            report_others(c, address, answering->str);
        }
        bool elsewhere = silent && !others && answers_elsewhere(c, &h, address, &asked, &t);
        if (silent && !others && !elsewhere) {
            report(c, &silence);
        }
        if (silent && h.sites[0].name != NULL) {
            moved_tell(c, model, &(place){.name = h.sites[0].name}, address);
        }
        size_t good = silent ? 0 : hunt_conclude(c, &h, finished, units);
        if (!finished) {
            report_new(c, vd_fault_of_STOPPED("The unit was only asked who it is."));
        } else if (good > 0) {
            char *call = address != 0 ? g_strdup_printf(" --address %u", address) : g_strdup("");
            message(c, "The unit answers. To test the line: verdite link%s", call);
            g_free(call);
        }
        g_string_free(answering, TRUE);
    }
    trace_end(c, &t);
    hunt_close(c, &h);
    return c->worst;
}
