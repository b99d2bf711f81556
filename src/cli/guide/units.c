/* SPDX-License-Identifier: MIT
 * Who is there, and which of them is meant. */
#include "guide.h"

#include <string.h>

void guide_unit_free(void *unit)
{
    guide_unit *u = unit;
    g_free(u->port);
    g_free(u->line);
    g_free(u->product);
    g_free(u->serial);
    g_free(u);
}

static char *text_of(const json_t *object, const char *key)
{
    const char *text = json_string_value(json_object_get(object, key));
    return g_strdup(text != NULL ? text : "");
}

/* NULL: who was found is nobody that a command could be about. */
static guide_unit *unit_of(guide *g, const json_t *found)
{
    const char *key = json_string_value(json_object_get(found, "model")),
               *fault = json_string_value(json_object_get(found, "fault"));
    const vd_model *model = key != NULL ? vd_catalogue_model(g->c->catalogue, key, NULL) : NULL;
    if (model == NULL || g_strcmp0(fault, "ok") != 0) {
        return NULL;
    }
    guide_unit *unit = g_new0(guide_unit, 1);
    const json_t *identity = json_object_get(found, "unit");
    *unit = (guide_unit){.port = text_of(found, "port"),
                         .line = text_of(found, "line"),
                         .product = text_of(identity, "product"),
                         .serial = text_of(identity, "serial"),
                         .model = model,
                         .address = (unsigned)json_integer_value(json_object_get(found, "address"))};
    return unit;
}

char *guide_unit_words(const guide *g, const guide_unit *unit)
{
    char *address = unit->address != 0 ? g_strdup_printf(" at address %u", unit->address) : g_strdup("");
    char *words = g_strdup_printf("%s%s%s%s%s%s", unit->product, unit->serial[0] != '\0' ? " " : "", unit->serial,
                                  address, g->ports->len > 1 ? " on " : "", g->ports->len > 1 ? unit->port : "");
    g_free(address);
    return words;
}

void guide_parts(guide *g)
{
    json_decref(g->held);
    g->held = NULL;
    g->unit = NULL;
    g->read = g->done = g->kept_address = g->kept_open = g->edited = g->said_all = g->offered = false;
    g->worst = g->class > VD_CLASS_NO ? MAX(g->worst, g->class) : g->worst;
    g->class = VD_CLASS_FINE;
}

static void forget(guide *g)
{
    guide_parts(g);
    g_ptr_array_set_size(g->units, 0);
}

void guide_waits(guide *g, const char *what)
{
    char *typed = g->left ? NULL : guide_asks(g, "", what);
    forget(g);
    g_ptr_array_set_size(g->ports, 0);
    g->effort = EFFORT_NONE;
    g_free(typed);
}

void guide_lists_ports(guide *g)
{
    json_t *result = NULL, *found = NULL;
    bool ready = false;
    size_t i = 0;
    vd_class class = guide_does(g, false, &result, GUIDE_WORDS("ports"));
    json_array_foreach(json_object_get(result, "ports"), i, found)
    {
        g_ptr_array_add(g->ports, text_of(found, "port"));
        ready = ready || g_strcmp0(json_string_value(json_object_get(found, "state")), "ready") == 0;
    }
    json_decref(result);
    if (!ready) {
        guide_waits(g, class == VD_CLASS_CONTACT ? "Plug in the adapter, then press Enter."
                                                 : "Put that right, then press Enter.");
    } else if (g->port != NULL && !g_ptr_array_find_with_equal_func(g->ports, g->port, g_str_equal, NULL)) {
        g_clear_pointer(&g->port, g_free); /* it was unplugged */
        g->chose_port = false;
    }
}

static bool is_port(const void *about, size_t i, const char *word)
{
    const char *name = ((const guide *)about)->ports->pdata[i], *base = strrchr(name, '/');
    return strcmp(name, word) == 0 || (base != NULL && strcmp(base + 1, word) == 0);
}

void guide_chooses_port(guide *g)
{
    char *typed = guide_asks(g, "Give its name. Enter: look at all.", "Which port is the unit on?");
    uint16_t port = typed != NULL ? names_only(g->ports->len, is_port, g, typed) : (uint16_t)VD_NONE;
    g->chose_port = typed != NULL && (typed[0] == '\0' || port != VD_NONE);
    if (port != VD_NONE) {
        g->port = g_strdup(g->ports->pdata[port]);
    } else if (!g->chose_port && !g->left) {
        message(g->c, "No port of the list is called \"%s\".", typed);
    }
    g_free(typed);
}

static void look(guide *g, effort how, const char *const *words)
{
    json_t *result = NULL, *found = NULL;
    size_t i = 0;
    forget(g);
    g->effort = how;
    guide_does(g, false, &result, words);
    json_array_foreach(json_object_get(result, "units"), i, found)
    {
        guide_unit *unit = unit_of(g, found);
        if (unit != NULL) {
            g_ptr_array_add(g->units, unit);
        }
    }
    json_decref(result);
    if (g->units->len == 0 && i > 0) {
        guide_waits(g, "Put that right, then press Enter.");
    }
}

void guide_looks(guide *g)
{
    /* Without a port in mind the list of words ends before it. */
    const char *named = g->port != NULL ? "--port" : NULL;
    if (g->effort == EFFORT_NONE) {
        look(g, EFFORT_QUICK, GUIDE_WORDS("find", "--quick", named, g->port));
    } else if (g->effort == EFFORT_QUICK && guide_agrees(g, "Ask every address at every speed? It takes longer.")) {
        look(g, EFFORT_ALL, GUIDE_WORDS("find", "--wide", "--slow", named, g->port));
    } else if (g->effort == EFFORT_ALL && (named != NULL || g->ports->len == 1) && guide_agrees(g, "Find out why?")) {
        guide_does(g, false, NULL, GUIDE_WORDS("diagnose", named, g->port));
        guide_waits(g, "Do what it says, then press Enter.");
    } else {
        guide_waits(g, "Check supply, cable and unit, then press Enter.");
    }
}

static bool is_unit(const void *about, size_t i, const char *word)
{
    const guide_unit *unit = ((const guide *)about)->units->pdata[i];
    char *address = g_strdup_printf("%u", unit->address);
    bool is = (unit->address != 0 && strcmp(address, word) == 0) ||
              (unit->serial[0] != '\0' && g_ascii_strcasecmp(unit->serial, word) == 0) ||
              (unit->address == 0 && g_ascii_strcasecmp(unit->product, word) == 0);
    g_free(address);
    return is;
}

static void choose_one_of_several(guide *g)
{
    char *typed = guide_asks(g, "Give its address or serial number. Enter: look again.",
                             g->proved->len > 0 ? "Which unit next?" : "Which unit?");
    uint16_t which = typed != NULL ? names_only(g->units->len, is_unit, g, typed) : (uint16_t)VD_NONE;
    if (which != VD_NONE) {
        g->unit = g->units->pdata[which];
    } else if (typed != NULL && typed[0] == '\0') {
        forget(g);
    } else if (typed != NULL) {
        message(g->c, "The list has no single unit \"%s\".", typed);
    }
    g_free(typed);
}

void guide_chooses(guide *g)
{
    if (g->units->len > 1) {
        choose_one_of_several(g);
        return;
    }
    guide_unit *only = g->units->pdata[0];
    char *words = guide_unit_words(g, only), *question = g_strdup_printf("Is it %s?", words);
    if (guide_agrees(g, question)) {
        g->unit = only;
    } else {
        forget(g);
    }
    g_free(question);
    g_free(words);
}

void guide_goes_on(guide *g)
{
    if (g->units->len > 1) {
        guide_parts(g);
    } else {
        guide_waits(g, "Plug in the next unit, then press Enter. Ctrl-C leaves.");
    }
}
