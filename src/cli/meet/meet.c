/* SPDX-License-Identifier: MIT
 * Which model a command is about where nobody said: whoever answers, what served last, or what comes from the box. */
#include "meet.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

/* Asks who is at an address of a port, or, at address 0, whether a unit that talks in lines is there, at the lines that
 * units of known models come with; whether it is one of these `models`, NULL: of all. Remembers line and address as if
 * they had been typed. NULL: nobody of a known model answered; reported is only what kept it from asking. */
static const vd_model *who_is_at(cli *c, const char *port, uint8_t address, const vd_model *const *models)
{
    hunt h = {0};
    const trace no_trace = {NULL, NULL};
    const vd_model *model = NULL;
    cli_options typed = c->options;
    c->options.port = (char *)port;
    c->options.json = true; /* who is there is told by the command itself */
    if (hunt_ready(c, &h, models)) {
        const quarry what = {.from = address, .to = address};
        const site *s = &h.sites[0];
        bool finished = hunt_search(c, &h, &what, &no_trace);
        const vd_found *found = s->port != NULL && vd_search_count(s->search) > 0 ? &s->found[0] : NULL;
        if (s->fault.status != VD_OK) {
            report(c, &s->fault);
        } else if (!finished) {
            report_new(c, vd_fault_of_STOPPED("The unit was only asked who it is."));
        } else if (found != NULL && found->model != NULL && (found->status == VD_OK || vd_found_is_shared(found))) {
            model = found->model; /* of two that share the address that of one: the command itself meets both */
            typed.address = (cli_number){.given = address != 0, .value = address};
            typed.baud = (cli_number){.given = true, .value = found->line.baud};
            typed.framing = (cli_framing){.given = true, .line = found->line};
        }
    }
    hunt_close(c, &h);
    c->options = typed;
    return model;
}

/* What served last behind the port that was named, or anywhere. */
static const vd_model *choose_served(cli *c, vd_served *served)
{
    bool known = vd_served_recall(remembered(c), NULL, c->options.port, served);
    return known && g_strv_contains(vd_catalogue_keys(c->catalogue), served->model)
               ? choose_model_named(c, served->model)
               : NULL;
}

/* Nobody answers: what served last is meant, or any kind that can have the address that was typed. */
static const vd_model *choose_silent(cli *c, const char *port, const vd_model *last)
{
    const vd_model *const *models = choose_models(c);
    bool addressed = c->options.address.given;
    const vd_model *met = last != NULL && addressed && !vd_model_has_address(last) ? NULL : last;
    for (size_t i = 0; models[i] != NULL && met == NULL && (addressed || port == NULL); i++) {
        met = vd_model_has_address(models[i]) ? models[i] : NULL;
    }
    if (met == NULL) {
        char *listeners = choose_listeners(c);
        report_new(c, vd_fault_of_NOBODY_KNOWN(port, listeners[0] != '\0' ? listeners : "none"));
        g_free(listeners);
    } else if (port != NULL) {
        message(c, "Nobody answers yet. Trying as a %s%s (--model to change).", met->key,
                met == last ? ", the last model seen here" : "");
    }
    return met;
}

static void tell_as_last_time(cli *c, uint8_t address)
{
    char line[32];
    vd_writer writer = vd_writer_start(line, sizeof line);
    vd_serial_print(&c->options.framing.line, &writer);
    message(c, "Using address %u at %s, as last time.", address, line);
}

/* Whether a unit of the kind that served last is where it was, or at the address that was typed: then no other model
 * need be looked at, if none has changed since all were. */
static const vd_model *meet_again(cli *c)
{
    vd_served served;
    const vd_model *last = choose_knows_models(c) ? choose_served(c, &served) : NULL, *met = NULL;
    const vd_model *const only[] = {last, NULL};
    bool typed = c->options.address.given;
    char *port = last != NULL ? place_likely_port(c, &served) : NULL;
    if (port != NULL) {
        met = who_is_at(c, port, typed ? (uint8_t)c->options.address.value : served.address, only);
    }
    if (met != NULL && !typed && served.address != 0) {
        tell_as_last_time(c, served.address);
    }
    g_free(port);
    return met;
}

const vd_model *meet_model(cli *c)
{
    vd_served served;
    if (c->options.model != NULL) {
        return choose_model(c);
    }
    const vd_model *again = meet_again(c);
    if (again != NULL || c->worst != VD_CLASS_FINE) {
        return again;
    }
    const vd_model *const *models = choose_models(c);
    if (models[0] == NULL || models[1] == NULL) {
        return models[0];
    }
    const vd_model *last = choose_served(c, &served), *met = NULL;
    char *port = place_likely_port(c, last != NULL ? &served : NULL);
    bool tried[256] = {false};
    if (port != NULL && c->options.address.given) {
        met = who_is_at(c, port, (uint8_t)c->options.address.value, NULL);
    } else if (port != NULL && last != NULL) {
        tried[served.address] = true;
        met = who_is_at(c, port, served.address, NULL);
        if (met != NULL && served.address != 0) {
            tell_as_last_time(c, served.address);
        }
    }
    if (port != NULL && !c->options.address.given && met == NULL && !tried[0] && c->worst == VD_CLASS_FINE) {
        tried[0] = true; /* a unit that talks in lines */
        met = who_is_at(c, port, 0, NULL);
    }
    /* Nothing was said at all: perhaps a unit from the box, at its factory address. */
    bool box = port != NULL && !c->options.address.given;
    for (size_t i = 0; models[i] != NULL && met == NULL && box && c->worst == VD_CLASS_FINE; i++) {
        uint8_t address = models[i]->address_factory;
        if (!tried[address]) {
            tried[address] = true;
            met = who_is_at(c, port, address, NULL);
        }
    }
    if (met == NULL && c->worst <= VD_CLASS_NO) { /* else it could not ask, and has said why */
        met = choose_silent(c, port, last);
    }
    g_free(port);
    return met;
}
