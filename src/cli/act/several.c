/* SPDX-License-Identifier: MIT
 * One unit, or several on one line, with a line of result each. */
#include "crew.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

/* The addresses of a list such as "1-10,12", ascending; returns how many, 0: reported. */
static size_t parse_addresses(cli *c, const vd_model *model, uint8_t addresses[MOST_ADDRESS])
{
    bool chosen[MOST_ADDRESS + 1] = {false};
    char **parts = g_strsplit(c->options.addresses, ",", -1);
    guint64 low = model != NULL ? model->address_low : 1, high = model != NULL ? model->address_high : MOST_ADDRESS;
    bool fine = parts[0] != NULL;
    size_t count = 0;
    for (char **part = parts; *part != NULL && fine; part++) {
        char **ends = g_strsplit(g_strstrip(*part), "-", 2);
        guint64 from = 0, to = 0;
        fine = ends[0] != NULL && g_ascii_string_to_unsigned(ends[0], 10, low, high, &from, NULL) &&
               g_ascii_string_to_unsigned(ends[1] != NULL ? ends[1] : ends[0], 10, from, high, &to, NULL);
        for (guint64 address = from; fine && address <= to; address++) {
            chosen[address] = true;
        }
        g_strfreev(ends);
    }
    g_strfreev(parts);
    for (uint32_t address = 1; fine && address <= MOST_ADDRESS; address++) {
        if (chosen[address]) {
            addresses[count++] = (uint8_t)address;
        }
    }
    if (count == 0) {
        char *said = g_strdup_printf("--addresses: \"%s\" is not a list of addresses.", c->options.addresses);
        char *allowed = g_strdup_printf(
            "Give numbers from %" G_GUINT64_FORMAT " to %" G_GUINT64_FORMAT ", such as 1-10,12.", low, high);
        report_wrong_words(c, said, allowed);
        g_free(allowed);
        g_free(said);
    }
    return count;
}

bool several_meet_first(cli *c)
{
    uint8_t addresses[MOST_ADDRESS];
    if (c->options.addresses == NULL) {
        return true;
    }
    if (parse_addresses(c, NULL, addresses) == 0) {
        return false;
    }
    c->options.address = (cli_number){.given = true, .value = addresses[0]};
    return true;
}

/* Whether all of them would get one address; reported. A profile of one of them leaves it out. */
static bool moves_all(cli *c, const vd_model *model, const visit_task *task)
{
    uint16_t setting = vd_model_find_role(model, VD_ROLE_ADDRESS);
    bool left_out = task->read_from != NULL && task->read_from->serial[0] != '\0' && !c->options.own;
    bool moves = task->task == VD_TASK_WRITE && setting != VD_NONE && !left_out && vd_set_knows(task->target, setting);
    if (moves) {
        char *said = g_strdup_printf("%s would give all units the same address.", model->settings[setting].words->key);
        report_wrong_words(c, said, "Nothing was sent. Leave it out, or give each its own: verdite assign");
        g_free(said);
    }
    return moves;
}

static void tell(cli *c, crew *all)
{
    json_t *units = json_array();
    bool stopped = false;
    for (size_t i = 0; i < all->count; i++) {
        crew_member *member = &all->members[i];
        if (!member->begun) {
            crew_show_line(all, member);
        }
        json_object_set_new(member->voice.result, "asked-address", json_integer(member->v.place.address));
        json_object_set_new(member->voice.result, "status", json_integer(member->voice.worst));
        json_array_append(units, member->voice.result);
        stopped = stopped || !member->begun || member->voice.worst == VD_CLASS_INTERRUPTED;
        c->worst = MAX(c->worst, member->voice.worst);
    }
    json_object_set_new(c->result, "units", units);
    if (stopped) {
        message(c, "Stopped by hand: not all of them were asked.");
    }
}

/* Whoever has the address is told; nothing can be verified. */
static vd_class tell_all(cli *c, const vd_model *model, const visit_task *task)
{
    visit_task telling = *task;
    if (!model->address_shared) {
        char *said = g_strdup_printf("No two units of the model %s share an address.", model->key);
        report_wrong_words(c, said, "Nothing was sent. Leave --shared out.");
        g_free(said);
        return c->worst;
    }
    telling.task = VD_TASK_TELL;
    telling.show_changes = changes_show_told;
    return visit_judged(c, model, &telling);
}

vd_class visit_several(cli *c, const vd_model *model, const visit_task *task)
{
    uint8_t addresses[MOST_ADDRESS];
    if (c->options.shared) {
        return tell_all(c, model, task);
    }
    if (c->options.addresses == NULL) {
        return visit_judged(c, model, task);
    }
    if (!vd_model_has_address(model)) {
        place_refuse_address(c, model);
        return c->worst;
    }
    size_t count = parse_addresses(c, model, addresses);
    crew all = {0};
    if (count > 1 && moves_all(c, model, task)) {
        count = 0;
    }
    if (count > 0 && crew_do(&all, c, model, task, addresses, count, c->options.at_once)) {
        tell(c, &all);
    }
    crew_free(&all);
    return c->worst;
}

vd_class visit_with_profile(cli *c, vd_task kind)
{
    char **words = c->options.words;
    uint8_t *which = NULL;
    vd_profile *profile = choose_profile(c, words[0]);
    bool fine = profile != NULL && choose_group(c, vd_profile_model(profile), &which) &&
                (kind != VD_TASK_WRITE || secrets_of_profile(c, profile));
    if (fine) {
        const visit_task task = {.task = kind,
                                 .target = vd_profile_values(profile),
                                 .which = which,
                                 .read_from = vd_profile_unit(profile),
                                 .name = words[0],
                                 .firmware = vd_profile_firmware(profile),
                                 .show_changes = changes_show};
        visit_several(c, vd_profile_model(profile), &task);
    }
    g_free(which);
    vd_profile_free(profile);
    return c->worst;
}
