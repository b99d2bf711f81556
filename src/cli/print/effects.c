/* SPDX-License-Identifier: MIT
 * What a change brings about besides, a line each: restarts, moves, slots, hands, what is lost. */
#include "print.h"

#include <stdarg.h>
#include <string.h>

/* A line, once for all of several units. */
static void tell(const cli *c, changes_shown *shown, const char *format, ...) G_GNUC_PRINTF(3, 4);

static void tell(const cli *c, changes_shown *shown, const char *format, ...)
{
    va_list arguments;
    va_start(arguments, format);
    char *line = g_strdup_vprintf(format, arguments);
    va_end(arguments);
    if (changes_are_news(shown, line)) {
        message(c, "  %s", line);
    }
    g_free(line);
}

/* Whether something is written that sets others. */
bool changes_sway(const vd_visit *unit)
{
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        if (vd_visit_changes(unit, i) && vd_setting_sets_any(vd_visit_model(unit), i)) {
            return true;
        }
    }
    return false;
}

/* Keys of the settings that one of these questions is true of. Free it; "": of none. */
static char *keys_of(const cli *c, const vd_visit *unit, bool (*is)(const vd_visit *, uint16_t))
{
    GPtrArray *names = g_ptr_array_new();
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        if (is(unit, i)) {
            g_ptr_array_add(names, (char *)vd_visit_model(unit)->settings[i].words->key);
        }
    }
    char *words = names_words(c, names);
    g_ptr_array_free(names, TRUE);
    return words;
}

/* ---- Restart and move ---- */

static void show_restart(const cli *c, const vd_visit *unit, changes_shown *shown)
{
    const vd_action *action = vd_visit_task(unit) == VD_TASK_ACT ? vd_visit_action(unit) : NULL;
    bool by_itself = is_planned(unit, VD_STEP_COMING_BACK), told = is_planned(unit, VD_STEP_RESTART);
    uint32_t takes = action != NULL && action->takes > 0 ? action->takes : vd_visit_model(unit)->restart_time;
    if (by_itself || told) {
        tell(c, shown, "Restarts the unit (%s).", duration_text((takes + 999u) / 1000u * 1000u));
    }
}

/* Where it will be reached, and what must not stand in the way. */
static void show_move(const cli *c, const vd_visit *unit, changes_shown *shown)
{
    const vd_link *to = vd_visit_new_link(unit), *from = vd_visit_link(unit);
    if (to == NULL) {
        return;
    }
    char words[64];
    vd_writer writer = vd_writer_start(words, sizeof words);
    if (from->address == to->address) { /* what is the same for several units is told once */
        vd_serial_print(&to->line, &writer);
    } else {
        vd_link_print(to, &writer);
    }
    bool now = is_planned(unit, VD_STEP_COMING_BACK) || vd_visit_model(unit)->link_from == VD_LINK_FROM_WRITING;
    tell(c, shown,
         now ? "Moves the unit to %s, and reads it back there."
             : "Moves the unit to %s once its supply was off and on: it cannot be read back there now.",
         words);
    if (from->address != to->address && from->address == vd_visit_model(unit)->address_factory) {
        tell(c, shown, "Have one new unit alone on the line: a second one at address %u would move too.",
             from->address);
    }
}

/* ---- Slots ---- */

const char *slot_label(const vd_model *model)
{
    const char *label = model->slots.label;
    return label != NULL && label[0] != '\0' ? label : "Slot";
}

static bool writes_into_slot(const vd_visit *unit, uint16_t i)
{
    return (vd_visit_changes(unit, i) && vd_slots_hold(vd_visit_model(unit), i)) || vd_visit_may_change(unit, i);
}

/* A slot that is loaded, saved, or not in force after a power cycle. */
static void show_slots(const cli *c, const vd_visit *unit, changes_shown *shown)
{
    const vd_slots *slots = &vd_visit_model(unit)->slots;
    const char *label = slot_label(vd_visit_model(unit));
    uint8_t slot = vd_set_slot(vd_visit_desired(unit)), after = vd_set_slot_after(vd_visit_desired(unit));
    bool loads = slots->count > 0 && vd_visit_changes(unit, vd_index(slots->chosen_by));
    bool saves = is_planned(unit, VD_STEP_SAVE);
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count && loads && !slots->saved; i++) {
        saves = saves || writes_into_slot(unit, i);
    }
    if (loads) {
        tell(c, shown, "Loads %s %u first. Then only what differs there is written.", label, slot);
    } else if (changes_sway(unit) && c->options.explain) {
        tell(c, shown,
             "Settings that set others are written first. The others are read then, and written where they "
             "differ.");
    }
    char *perhaps = keys_of(c, unit, vd_visit_may_change);
    if (perhaps[0] != '\0') {
        tell(c, shown, "These may be written too, though they are as wanted now: %s.", perhaps);
    }
    g_free(perhaps);
    if (saves) {
        tell(c, shown, "Saves it as %s %u.%s", label, slot,
             loads ? " What that held before is lost: undo does not bring it back." : "");
    }
    if (slot > 0 && after > 0 && after != slot && (loads || saves)) {
        tell(c, shown, "After a power cycle %s %u is in force again.", label, after);
    }
}

/* ---- What a person should know before saying yes ---- */

static bool is_lost(const vd_visit *unit, uint16_t i)
{
    const vd_setting *setting = &vd_visit_model(unit)->settings[i];
    return vd_visit_changes(unit, i) && (setting->secret || !vd_setting_is_shown(setting));
}

static bool rescales(const vd_visit *unit, uint16_t i)
{
    const vd_model *model = vd_visit_model(unit);
    uint8_t *which = g_malloc0(model->setting_count);
    for (uint16_t k = 0; k < model->setting_count; k++) {
        which[k] = vd_visit_changes(unit, k);
    }
    bool is = which[i] != 0 && model->settings[i].gives_places && !vd_talk_rescales_at_once(model, which, i);
    g_free(which);
    return is;
}

static void show_password(const cli *c, const vd_visit *unit, changes_shown *shown)
{
    const vd_login *login = &vd_visit_model(unit)->login;
    uint16_t left = vd_index(login->left);
    if (vd_index(login->setting) != VD_NONE && vd_visit_changes(unit, vd_index(login->setting))) {
        tell(c, shown, "Changes the password.%s",
             login->recoverable ? "" : " A forgotten one cannot be recovered: write it down first.");
    }
    if (is_planned(unit, VD_STEP_TRY_PASSWORD) && left != VD_NONE) {
        tell(c, shown, "One login tests the new password. Where it fails, one of the %s tries left is gone.",
             held_text(vd_visit_live(unit), left));
    }
}

static void show_perils(const cli *c, const vd_visit *unit, changes_shown *shown)
{
    char *lost = keys_of(c, unit, is_lost), *scales = keys_of(c, unit, rescales);
    if (scales[0] != '\0') {
        tell(c, shown, "%s changes first. Until the other values follow, they count ten times too much or too little.",
             scales);
    }
    if (lost[0] != '\0') {
        tell(c, shown, "Cannot be undone, since the unit does not show it: %s.", lost);
    }
    g_free(lost);
    g_free(scales);
    const vd_by_hand *hand = &vd_visit_model(unit)->listening.writing;
    if (hand->hold > 0) {
        tell(c, shown, "Needs a hand at the unit: %s", hand->help);
    }
}

void effects_show(const cli *c, const vd_visit *unit, changes_shown *shown)
{
    show_slots(c, unit, shown);
    causes_show(c, unit, shown);
    show_restart(c, unit, shown);
    show_move(c, unit, shown);
    show_password(c, unit, shown);
    show_perils(c, unit, shown);
}
