/* SPDX-License-Identifier: MIT
 * What a write will change and what follows from it, shown before anybody is asked. */
#include "print.h"

#include <string.h>

/* What a setting holds before the change, as words. */
static const char *before_text(const vd_visit *unit, uint16_t i)
{
    const vd_setting *setting = &vd_visit_model(unit)->settings[i];
    return vd_setting_is_shown(setting) ? held_text(vd_visit_live(unit), i) : "cannot be read";
}

static void add_change(sheet *rows, const vd_visit *unit, uint16_t i)
{
    const vd_setting *setting = &vd_visit_model(unit)->settings[i];
    vd_value before = vd_set_get(vd_visit_live(unit), i), after = vd_set_get(vd_visit_desired(unit), i);
    const char *remark = vd_value_equal(&before, &after) ? "  (the same, with other decimals)" : "";
    const char *words = value_text(setting, &after);
    char *to = g_strdup_printf("%s%s", words[0] != '\0' ? words : "-", remark);
    const char *from = before_text(unit, i);
    sheet_row(rows, setting->words->key, from[0] != '\0' ? from : "-", "->", to, NULL);
    g_free(to);
}

/* What else becomes lasting when the unit stores everything that is live. */
static void show_riders(const cli *c, const vd_visit *unit)
{
    unsigned count = 0;
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count && vd_visit_model(unit)->store.needed; i++) {
        const vd_setting *setting = &vd_visit_model(unit)->settings[i];
        bool differs = vd_set_compare(vd_visit_live(unit), vd_visit_stored(unit), i) == VD_DIFFERENT;
        if (differs && !vd_visit_changes(unit, i)) {
            message(c, "%s  %s: %s (stored so far: %s)", count == 0 ? "Live already, and now stored too:\n" : "",
                    setting->words->key, held_text(vd_visit_live(unit), i), held_text(vd_visit_stored(unit), i));
            count++;
        }
    }
}

/* Whether something is written that sets others. */
static bool sways_any(const vd_visit *unit)
{
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        if (vd_visit_changes(unit, i) && vd_setting_sets_any(vd_visit_model(unit), i)) {
            return true;
        }
    }
    return false;
}

/* What the rules say of the result: advice, and what could not be judged though the change has a part in it. */
static void show_advice(cli *c, const vd_visit *unit)
{
    const vd_model *model = vd_visit_model(unit);
    vd_survey survey;
    vd_fault fault = {0};
    uint8_t *typed = g_malloc0(model->setting_count);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        typed[i] = (vd_visit_entry(unit, i)->part & VD_PART_ASKED) != 0;
    }
    vd_survey_start(&survey, vd_visit_desired(unit), vd_visit_live(unit));
    survey.typed = typed;
    while (vd_survey_next(&survey, &fault)) {
        bool concerned = fault.setting != NULL && vd_visit_changes(unit, (uint16_t)(fault.setting - model->settings));
        bool warns = fault.status == VD_RULE_WARNING;
        for (uint16_t i = 0; i < model->setting_count && survey.rule != VD_NONE && !concerned; i++) {
            /* What it measures, such as its supply, matters whatever is changed. */
            bool matters = vd_visit_changes(unit, i) || (warns && model->settings[i].access == VD_READ_ONLY);
            concerned = matters && vd_rule_hangs_on(model, survey.rule, i);
        }
        concerned = concerned || alarms_concern(&survey, &fault);
        concerned = concerned && fault.status != VD_IDLE_HERE; /* it is written all the same, or not asked for */
        concerned = concerned || fault.status == VD_PLACEHOLDER || fault.status == VD_CLOCK_OFF;
        /* What is set by something else is judged once it was read. */
        concerned = concerned && !(fault.status == VD_RULE_NOT_KNOWN && sways_any(unit));
        if (concerned && vd_status_class(fault.status) <= VD_CLASS_PARTLY) {
            report(c, &fault);
        }
    }
    g_free(typed);
}

static bool is_planned(const vd_visit *unit, vd_step step)
{
    size_t count = 0;
    const uint8_t *steps = vd_visit_steps(unit, &count);
    return memchr(steps, (int)step, count) != NULL;
}

void changes_tell_lacking(cli *c, const vd_visit *unit, const char *file)
{
    GString *keys = g_string_new("");
    json_t *list = json_array();
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        const vd_setting *setting = &vd_visit_model(unit)->settings[i];
        if (vd_visit_lacks(unit, i)) {
            message(c, "%s%s: %s", keys->len == 0 ? "This unit does not have:\n  " : "  ", setting->words->key,
                    setting->words->because != NULL ? setting->words->because : "");
            g_string_append_printf(keys, " %s", setting->words->key);
            json_array_append_new(list, json_string(setting->words->key));
        }
    }
    bool any = keys->len > 0;
    if (any && c->options.fitting) {
        message(c, "Left out, as was wished.");
    } else if (any) {
        message(c, "Next: --fitting leaves them out; to take them out for good: verdite unset %s%s",
                file != NULL ? file : "FILE", keys->str);
    }
    if (any) {
        json_object_set(c->result, "not-in-this-unit", list);
    }
    json_decref(list);
    g_string_free(keys, TRUE);
}

void changes_tell_idle(cli *c, const vd_visit *unit)
{
    json_t *list = json_array();
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        const vd_setting *setting = &vd_visit_model(unit)->settings[i];
        if (vd_visit_leaves_idle(unit, i)) {
            const char *lead =
                json_array_size(list) == 0 ? "Left alone, since it does not count in this unit now:\n" : "";
            message(c, "%s  %s: %s", lead, setting->words->key,
                    setting->words->because != NULL ? setting->words->because : "");
            json_array_append_new(list, json_string(setting->words->key));
        }
    }
    if (json_array_size(list) > 0) {
        json_object_set(c->result, "left-alone", list);
        c->worst = MAX(c->worst, VD_CLASS_PARTLY);
    }
    json_decref(list);
}

void changes_tell_left_out(cli *c, const vd_visit *unit, const char *serial)
{
    GString *keys = g_string_new("");
    json_t *list = json_array();
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        if (vd_visit_left_to_its_unit(unit, i)) {
            g_string_append_printf(keys, "%s%s", keys->len > 0 ? ", " : "",
                                   vd_visit_model(unit)->settings[i].words->key);
            json_array_append_new(list, json_string(vd_visit_model(unit)->settings[i].words->key));
        }
    }
    if (keys->len > 0) {
        message(c, "Left out, since it belongs to %s alone: %s. --own means it too.", serial, keys->str);
        json_object_set(c->result, "left-to-its-unit", list);
    }
    json_decref(list);
    g_string_free(keys, TRUE);
}

/* Where it will be reached, and what must not stand in the way. */
static void show_move(const cli *c, const vd_visit *unit)
{
    const vd_link *to = vd_visit_new_link(unit), *from = vd_visit_link(unit);
    if (to == NULL) {
        return;
    }
    char words[64];
    vd_writer writer = vd_writer_start(words, sizeof words);
    vd_link_print(to, &writer);
    if (is_planned(unit, VD_STEP_COMING_BACK) || vd_visit_model(unit)->link_from == VD_LINK_FROM_WRITING) {
        message(c, "  It is followed to %s, and read back there.", words);
    } else {
        message(c, "  It takes up %s only once its supply was off and on: it cannot be read back there now.", words);
    }
    if (is_planned(unit, VD_STEP_RESTART)) {
        message(c, "  It is restarted for that.");
    }
    if (from->address != to->address && from->address == vd_visit_model(unit)->address_factory) {
        message(c, "  Have one new unit alone on the line: a second one at address %u would take the change too.",
                from->address);
    }
}

const char *slot_label(const vd_model *model)
{
    const char *label = model->slots.label;
    return label != NULL && label[0] != '\0' ? label : "Slot";
}

/* A slot that is loaded, saved, or not in force after a power cycle. */
static void show_slots(const cli *c, const vd_visit *unit)
{
    const vd_slots *slots = &vd_visit_model(unit)->slots;
    const char *label = slot_label(vd_visit_model(unit));
    uint8_t slot = vd_set_slot(vd_visit_desired(unit)), after = vd_set_slot_after(vd_visit_desired(unit));
    bool loads = slots->count > 0 && vd_visit_changes(unit, vd_index(slots->chosen_by)),
         saves = is_planned(unit, VD_STEP_SAVE);
    GString *perhaps = g_string_new("");
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        bool held = vd_visit_changes(unit, i) && vd_slots_hold(vd_visit_model(unit), i);
        saves = saves || (loads && !slots->saved && (held || vd_visit_may_change(unit, i)));
        if (vd_visit_may_change(unit, i)) {
            g_string_append_printf(perhaps, "%s%s", perhaps->len > 0 ? ", " : "",
                                   vd_visit_model(unit)->settings[i].words->key);
        }
    }
    if (loads) {
        message(c, "  %s %u is loaded first and read; then what is asked for and differs there is written.", label,
                slot);
    } else if (sways_any(unit)) {
        message(c, "  What sets others is written first; they are read then, and what is asked for is written.");
    }
    if (perhaps->len > 0) {
        message(c, "  So it may be with what now is as asked for: %s.", perhaps->str);
    }
    if (saves) {
        message(c, "  Then it is saved as %s %u.%s", label, slot,
                loads ? " What that held before is not kept, so undo does not bring it back." : "");
    }
    if (slot > 0 && after > 0 && after != slot && (loads || saves)) {
        message(c, "  After a power cycle %s %u is in force again.", label, after);
    }
    g_string_free(perhaps, TRUE);
}

/* What a hand has to do before it takes any of that. */
static void show_hand(const cli *c, const vd_visit *unit)
{
    const vd_by_hand *hand = &vd_visit_model(unit)->listening.writing;
    if (hand->hold > 0) {
        message(c, "  It takes that only behind this: %s", hand->help);
    }
}

/* What is done in which order once the answer is yes. */
static void show_steps(const cli *c, const vd_visit *unit)
{
    static const char *const words[VD_STEP_COUNT] = {
        [VD_STEP_KEEP] = "keep the state before",
        [VD_STEP_KNOW_AGAIN] = "make sure of the unit",
        [VD_STEP_WRITE] = "write",
        [VD_STEP_CHECK] = "look at what is live",
        [VD_STEP_ACT] = "tell it",
        [VD_STEP_SAVE] = "save the slot",
        [VD_STEP_LOAD] = "load the slot again",
        [VD_STEP_STORE] = "store",
        [VD_STEP_RESTART] = "restart",
        [VD_STEP_COMING_BACK] = "wait for it",
        [VD_STEP_READ_BACK] = "read back",
        [VD_STEP_READ_BACK_STORED] = "read what is stored",
        [VD_STEP_SEE_LEFT] = "ask at the old address",
        [VD_STEP_TRY_PASSWORD] = "log in with the new password",
        [VD_STEP_KNOW_LAST] = "make sure of the unit again",
    };
    GString *line = g_string_new("");
    size_t count = 0;
    const uint8_t *steps = vd_visit_steps(unit, &count);
    const uint8_t *ask = memchr(steps, VD_STEP_ASK, count);
    for (const uint8_t *step = ask; step != NULL && step < steps + count; step++) {
        if (words[*step] != NULL) {
            g_string_append_printf(line, "%s%s", line->len > 0 ? ", " : "", words[*step]);
        }
    }
    if (line->len > 0) {
        message(c, "  In this order: %s.", line->str);
    }
    g_string_free(line, TRUE);
}

/* What the person should know of some of those that change, once for each kind of it. */
static void show_perils(const cli *c, const vd_visit *unit)
{
    GString *lost = g_string_new(""), *scales = g_string_new("");
    uint8_t *which = g_malloc0(vd_visit_model(unit)->setting_count);
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        which[i] = vd_visit_changes(unit, i);
    }
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        const vd_setting *setting = &vd_visit_model(unit)->settings[i];
        bool hidden = setting->secret || !vd_setting_is_shown(setting);
        if (vd_visit_changes(unit, i) && hidden) {
            g_string_append_printf(lost, "%s%s", lost->len > 0 ? ", " : "", setting->words->key);
        }
        if (which[i] && setting->gives_places && !vd_talk_rescales_at_once(vd_visit_model(unit), which, i)) {
            g_string_append_printf(scales, "%s%s", scales->len > 0 ? ", " : "", setting->words->key);
        }
    }
    if (scales->len > 0) {
        message(c,
                "  Written first: %s. For a moment, until what has those decimals follows, the unit takes that for ten "
                "times as much or as little.",
                scales->str);
    }
    if (is_planned(unit, VD_STEP_TRY_PASSWORD) && vd_index(vd_visit_model(unit)->login.left) != VD_NONE) {
        message(c,
                "  One login shows whether it takes the new password. Where it does not, that costs one of the %s "
                "tries left.",
                held_text(vd_visit_live(unit), vd_index(vd_visit_model(unit)->login.left)));
    }
    if (lost->len > 0) {
        message(c, "  Cannot be undone, since it is not shown: %s.", lost->str);
    }
    g_free(which);
    g_string_free(lost, TRUE);
    g_string_free(scales, TRUE);
}

/* From what to what. Returns whether anything changes. */
static bool show_table(cli *c, const vd_visit *unit)
{
    bool any = false;
    static const char *const titles[] = {"", "", "", "", NULL};
    sheet rows = sheet_start(c, stderr, titles);
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        if (vd_visit_changes(unit, i)) {
            any = true;
            add_change(&rows, unit, i);
        }
    }
    if (any) {
        message(c, "Will change:");
    }
    sheet_print(&rows);
    return any;
}

void changes_show_action(cli *c, const vd_visit *unit)
{
    const vd_action *action = vd_visit_action(unit);
    uint32_t takes = action->takes > 0 ? action->takes : vd_visit_model(unit)->restart_time;
    message(c, "%s.%s%s", action->label, action->help[0] != '\0' ? " " : "", action->help);
    bool any = show_table(c, unit);
    if (!any && action->deed == VD_DEED_RESTART) {
        message(c, "  Nothing is live that is not stored: it loses nothing.");
    }
    if (is_planned(unit, VD_STEP_COMING_BACK)) {
        message(c, "  It is away for about %u s; it is waited for and read.", (takes + 999u) / 1000u);
    }
    causes_show(c, unit);
    show_move(c, unit);
    show_perils(c, unit);
    show_hand(c, unit);
    show_steps(c, unit);
    message(c, "  It is told once, and judged by what is read afterwards.");
}

void changes_show(cli *c, const vd_visit *unit)
{
    vd_class worst = c->worst;
    bool any = show_table(c, unit);
    if (!any && vd_visit_model(unit)->store.needed) {
        message(
            c,
            vd_visit_model(unit)->store.proof == VD_PROOF_RESTART
                ? "Nothing changes. What is live already is stored once more, since only a restart shows that it was."
                : "Nothing changes. What is live already is stored.");
    }
    show_riders(c, unit);
    alarms_tell_changed(c, vd_visit_live(unit), vd_visit_desired(unit));
    show_slots(c, unit);
    causes_show(c, unit);
    show_move(c, unit);
    if (vd_visit_model(unit)->store.proof == VD_PROOF_RESTART) {
        message(c, is_planned(unit, VD_STEP_RESTART) ? "  Then restarts it, to see what it stored."
                                                     : "  That restart shows what it stored.");
    }
    if (any && vd_visit_model(unit)->store.needed && vd_visit_model(unit)->store.proof == VD_PROOF_SHOWN) {
        message(c, "  It shows what was written only once it is stored: it is looked at then.");
    }
    const vd_login *login = &vd_visit_model(unit)->login;
    if (vd_index(login->setting) != VD_NONE && vd_visit_changes(unit, vd_index(login->setting))) {
        message(c, "  The password changes.%s",
                login->recoverable ? "" : " A forgotten one cannot be recovered: write it down before you go on.");
    }
    show_perils(c, unit);
    show_hand(c, unit);
    show_steps(c, unit);
    show_advice(c, unit);
    c->worst = worst; /* advice is no outcome */
}

void changes_show_told(cli *c, const vd_visit *unit)
{
    static const char *const titles[] = {"", "", NULL};
    sheet rows = sheet_start(c, stderr, titles);
    GString *left = g_string_new("");
    for (uint16_t i = 0; i < vd_visit_model(unit)->setting_count; i++) {
        const vd_setting *setting = &vd_visit_model(unit)->settings[i];
        vd_value value = vd_set_get(vd_visit_desired(unit), i);
        if (vd_visit_changes(unit, i)) {
            sheet_row(&rows, setting->words->key, value_text(setting, &value), NULL);
        }
        if (vd_visit_left_to_its_unit(unit, i)) {
            g_string_append_printf(left, "%s%s", left->len > 0 ? ", " : "", setting->words->key);
        }
    }
    message(c, "Will tell everybody at address %u:", vd_visit_link(unit)->address);
    sheet_print(&rows);
    if (left->len > 0) {
        message(c, "  Left out, since it cannot be equal in all of them, or be told without reading: %s.", left->str);
    }
    message(c, "  Nobody is asked who is there, nothing is read or kept, and nothing can be undone.");
    show_steps(c, unit);
    g_string_free(left, TRUE);
}
