/* SPDX-License-Identifier: MIT
 * The steps of the guide: the first that is due is taken, and so on until the person leaves. */
#include "guide.h"

#include <string.h>

static bool no_port(guide *g)
{
    return g->ports->len == 0;
}

static bool which_port(guide *g)
{
    return g->ports->len > 1 && !g->chose_port;
}

static bool nobody(guide *g)
{
    return g->units->len == 0;
}

static bool which_unit(guide *g)
{
    return g->unit == NULL;
}

static bool is_done(guide *g)
{
    return g->done;
}

static bool not_read(guide *g)
{
    return !g->read;
}

/* The store is looked into for a moment only: the commands write into it. */
static bool was_interrupted(guide *g)
{
    cli *c = g->c;
    vd_past past;
    const vd_past_query query = {.model = g->unit->model->key, .serial = g->unit->serial, .open = true, .acts = true};
    bool any = !g->kept_open && g->unit->serial[0] != '\0' && vd_history_find(remembered(c), &query, &past, 1) > 0;
    vd_store_close(c->store);
    c->store = NULL;
    c->store_tried = false;
    return any;
}

static bool at_factory_address(guide *g)
{
    const vd_model *model = g->unit->model;
    return !g->kept_address && g->unit->address != 0 && g->unit->address == model->address_factory &&
           model->address_low < model->address_high && vd_model_find_role(model, VD_ROLE_ADDRESS) != VD_NONE;
}

static bool file_in_hand(guide *g)
{
    return g->file != NULL && !g->offered;
}

static bool not_said_all(guide *g)
{
    return !g->said_all;
}

static bool is_edited(guide *g)
{
    return g->edited;
}

static bool otherwise(guide *g)
{
    (void)g;
    return true;
}

static void reads(guide *g)
{
    json_decref(g->held);
    g->held = NULL;
    g->read = guide_does(g, true, &g->held, GUIDE_WORDS("read")) <= VD_CLASS_PARTLY;
    if (!g->read) {
        guide_waits(g, "Put that right, then press Enter.");
    }
}

static void strike(GPtrArray *names, const char *name)
{
    guint at = 0;
    if (g_ptr_array_find_with_equal_func(names, name, g_str_equal, &at)) {
        g_ptr_array_remove_index(names, at);
    }
}

/* Keeps what a command made of the unit: the last one counts. */
static void note_outcome(guide *g, vd_class class, json_t *result)
{
    const char *outcome = json_string_value(json_object_get(result, "outcome"));
    guide_unit *unit = g->unit;
    bool proved = g_strcmp0(outcome, "verified") == 0, turned_down = class == VD_CLASS_NO || class == VD_CLASS_USAGE;
    char *name =
        unit->serial[0] != '\0' ? g_strdup_printf("%s %s", unit->product, unit->serial) : guide_unit_words(g, unit);
    if (!turned_down) { /* else nothing was sent */
        g->class = class;
        strike(g->proved, name);
        strike(g->unproved, name);
        g_ptr_array_add(proved ? g->proved : g->unproved, g_strdup(name));
    }
    g_free(name);
    json_decref(result);
}

static void finishes(guide *g)
{
    json_t *result = NULL;
    if (!guide_agrees(g, "An earlier write to it was interrupted. Finish it?")) {
        g->kept_open = true;
        g->done = g->edited; /* what is not finished is not begun once more */
        return;
    }
    vd_class class = guide_does(g, false, &result, GUIDE_WORDS("finish", "--serial", g->unit->serial));
    note_outcome(g, class, result);
    g->kept_open = class != VD_CLASS_FINE; /* it is not asked about again and again */
    g->edited = g->edited && class != VD_CLASS_FINE;
    g->unsent = g->unsent && class != VD_CLASS_FINE;
    g->read = false;
}

static void gives_address(guide *g)
{
    json_t *result = NULL;
    char *hint = g_strdup_printf("It has the factory address %u. Enter: it keeps that.", g->unit->address);
    char *typed = guide_asks(g, hint, "Which address should it get?");
    if (typed != NULL && typed[0] != '\0') {
        vd_class class = guide_does(g, true, &result, GUIDE_WORDS("assign", typed));
        g->unit->address = class == VD_CLASS_FINE ? (unsigned)g_ascii_strtoull(typed, NULL, 10) : g->unit->address;
        note_outcome(g, class, result);
    } else {
        g->kept_address = true;
    }
    g_free(typed);
    g_free(hint);
}

static void offers_file(guide *g)
{
    char *question = g_strdup_printf("Write %s to it as well?", g->file);
    g->offered = true;
    if (guide_agrees(g, question)) {
        g->edited = g->said_all = true;
    } else {
        g_clear_pointer(&g->file, g_free);
    }
    g_free(question);
}

static void writes(guide *g)
{
    json_t *result = NULL;
    vd_class class = guide_does(g, true, &result, GUIDE_WORDS("write", g->file));
    note_outcome(g, class, result);
    g->edited = class != VD_CLASS_FINE && class != VD_CLASS_PARTLY;
    g->unsent = g->unsent && g->edited;
    bool refused = class == VD_CLASS_NO; /* by the person */
    g->done =
        !g->edited || g->left || refused || (!was_interrupted(g) && !guide_agrees(g, "Not verified. Try it again?"));
}

static void ends(guide *g)
{
    g->done = true;
}

static const struct {
    bool (*is_due)(guide *g);
    void (*take)(guide *g);
} steps[] = {
    {no_port, guide_lists_ports}, {which_port, guide_chooses_port},
    {nobody, guide_looks},        {which_unit, guide_chooses},
    {is_done, guide_goes_on},     {not_read, reads},
    {was_interrupted, finishes},  {at_factory_address, gives_address},
    {file_in_hand, offers_file},  {not_said_all, guide_edits},
    {is_edited, writes},          {otherwise, ends},
};

static void tell_end(guide *g)
{
    const struct {
        const char *lead;
        const GPtrArray *names;
    } ends[] = {{"Verified", g->proved}, {"Not verified", g->unproved}};
    for (size_t i = 0; i < G_N_ELEMENTS(ends); i++) {
        char *names = names_words(g->c, ends[i].names), *words = g_strdup_printf("%s: %s.", ends[i].lead, names);
        if (ends[i].names->len > 0) {
            title_print(g->c, words);
        }
        g_free(words);
        g_free(names);
    }
    if (g->proved->len + g->unproved->len == 0) {
        title_print(g->c, "Nothing was written.");
    }
    if (g->unsent) {
        message(g->c, "%s is not written. To send it: verdite write %s", g->file, g->file);
    }
}

vd_class guide_go(cli *c, cli_runner *run)
{
    guide g = {.c = c,
               .run = run,
               .ports = g_ptr_array_new_with_free_func(g_free),
               .units = g_ptr_array_new_with_free_func(guide_unit_free),
               .proved = g_ptr_array_new_with_free_func(g_free),
               .unproved = g_ptr_array_new_with_free_func(g_free)};
    prose_print(stdout, 0, "",
                "One question after another. The command behind each answer is shown: you can type it yourself. "
                "Nothing is written before you agree. Ctrl-C leaves. All commands: verdite help");
    fputs("\n", stdout);
    while (!g.left) {
        size_t i = 0;
        while (!steps[i].is_due(&g)) {
            i++;
        }
        steps[i].take(&g);
    }
    tell_end(&g);
    guide_parts(&g);
    g_ptr_array_free(g.ports, TRUE);
    g_ptr_array_free(g.units, TRUE);
    g_ptr_array_free(g.proved, TRUE);
    g_ptr_array_free(g.unproved, TRUE);
    g_free(g.port);
    g_free(g.file);
    return g.worst;
}
