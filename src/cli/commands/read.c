/* SPDX-License-Identifier: MIT
 * verdite read: a unit's settings, to the screen by groups or to a file. */
#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

/* Whether a power cycle decides it by the slot that it loads, whatever the bank of stored values shows. */
static bool hangs_on_slot(const visit *v, uint16_t i)
{
    return vd_slots_hold(v->model, i) ||
           (i == vd_index(v->model->slots.chosen_by) && vd_set_slot_after(vd_visit_live(v->engine)) > 0);
}

static bool is_unstored(const visit *v, uint16_t i)
{
    const vd_set *live = vd_visit_live(v->engine);
    if (i == vd_index(v->model->slots.chosen_by) && hangs_on_slot(v, i)) {
        return vd_set_slot(live) > 0 && vd_set_slot(live) != vd_set_slot_after(live);
    }
    return vd_set_compare(vd_visit_live(v->engine), vd_visit_stored(v->engine), i) == VD_DIFFERENT;
}

/* What this variant, firmware or mode does not have is not shown. */
static bool is_here(const visit *v, uint16_t i)
{
    return vd_set_exists(vd_visit_live(v->engine), i) != VD_FAILS;
}

static const char *shown_text(const visit *v, uint16_t i)
{
    const vd_setting *setting = &v->model->settings[i];
    return !vd_setting_is_shown(setting)        ? "cannot be read"
           : vd_visit_needs_login(v->engine, i) ? "needs the login"
                                                : held_text(vd_visit_live(v->engine), i);
}

/* What the bank of stored values shows of what slots hold need not be what a power cycle loads. */
static char *unstored_words(const visit *v, uint16_t i)
{
    uint8_t after = vd_set_slot_after(vd_visit_live(v->engine));
    return !hangs_on_slot(v, i) ? g_strdup_printf("live only; stored: %s", held_text(vd_visit_stored(v->engine), i))
           : after > 0          ? g_strdup_printf("live only; a power cycle loads %s %u", slot_label(v->model), after)
                                : g_strdup("live only; its slot holds another value");
}

static void add_setting(sheet *rows, const visit *v, uint16_t i)
{
    const vd_setting *setting = &v->model->settings[i];
    const char *text = shown_text(v, i);
    sheet_row(rows, setting->words->key, text[0] != '\0' ? text : "-", setting->words->label, NULL);
    sheet_tone(rows, 2, TONE_FAINT);
    if (!vd_set_is_sound(vd_visit_live(v->engine), i)) {
        sheet_note(rows, TONE_DOUBT, "not a value that the model allows");
    }
    if (is_unstored(v, i)) {
        char *note = unstored_words(v, i);
        sheet_note(rows, TONE_DOUBT, note);
        g_free(note);
    }
}

/* Whether a setting belongs to a slot of alarms that is not in use. */
static bool is_in_free_slot(const visit *v, uint16_t i)
{
    const vd_setting *setting = &v->model->settings[i];
    for (uint16_t n = 0; n < vd_model_alarm_count(v->model) && vd_index(setting->block) != VD_NONE; n++) {
        uint16_t alarm = 0, item = 0;
        vd_model_alarm_at(v->model, n, &alarm, &item);
        if (vd_index(v->model->alarms[alarm].block) == vd_index(setting->block) && item == setting->item) {
            return vd_alarm_is_used(vd_visit_live(v->engine), n) == VD_FAILS;
        }
    }
    return false;
}

/* What a fitter looks for first: the essential ones, what is otherwise than from the factory, and what is strange. */
static bool is_worth(const visit *v, uint16_t i)
{
    const vd_setting *setting = &v->model->settings[i];
    const vd_set *live = vd_visit_live(v->engine);
    vd_value value = vd_set_get(live, i), initial = vd_set_initial(live, i);
    bool empty = value.type == VD_NOTHING || (vd_type_is_bytes((vd_type)value.type) && value.length == 0);
    bool differs = setting->access != VD_READ_ONLY && !empty && !vd_value_equal(&value, &initial);
    return setting->essential || !vd_set_is_sound(live, i) || is_unstored(v, i) || (differs && !is_in_free_slot(v, i));
}

/* What is shown unless it was said what: all of a model that calls none essential. Owned by the caller. */
static uint8_t *choose_worth(const visit *v)
{
    uint8_t *which = g_malloc0(v->model->setting_count);
    bool any = false;
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        any = any || v->model->settings[i].essential;
    }
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        which[i] = !any || is_worth(v, i);
    }
    return which;
}

static void show_groups(const cli *c, visit *v, const uint8_t *which)
{
    static const char *const titles[] = {"", "", "", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    unsigned hidden = 0;
    show_title(c, v);
    for (uint8_t group = 0; group < v->model->group_count; group++) {
        bool headed = false;
        for (uint16_t i = 0; i < v->model->setting_count; i++) {
            bool shown = which == NULL || which[i] != 0;
            hidden += !shown && v->model->settings[i].group == group && is_here(v, i);
            if (v->model->settings[i].group != group || !shown || !is_here(v, i)) {
                continue;
            }
            if (!headed) {
                sheet_heading(&rows, v->model->groups[group].label);
            }
            headed = true;
            add_setting(&rows, v, i);
        }
    }
    sheet_print(&rows);
    if (hidden > 0 && c->options.group == NULL) {
        message(c, "%u more setting%s: --all", hidden, hidden == 1 ? "" : "s");
    }
}

/* Which alarms are in use, by name; what they mean tells `alarms`. */
static void name_alarms(const cli *c, const visit *v)
{
    GPtrArray *names = g_ptr_array_new_with_free_func(g_free);
    for (uint16_t n = 0; n < vd_model_alarm_count(v->model); n++) {
        if (vd_alarm_is_used(vd_visit_live(v->engine), n) == VD_HOLDS) {
            g_ptr_array_add(names, alarm_called(vd_visit_live(v->engine), n));
        }
    }
    char *words = names_words(c, names);
    if (vd_model_alarm_count(v->model) > 0) {
        message(c, "Alarms in use: %s. What they mean: verdite alarms unit", names->len > 0 ? words : "none");
    }
    g_free(words);
    g_ptr_array_free(names, TRUE);
}

static void settings_json(cli *c, const visit *v, const uint8_t *which)
{
    json_t *settings = json_array();
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        const vd_setting *setting = &v->model->settings[i];
        if ((which != NULL && which[i] == 0) || !is_here(v, i)) {
            continue;
        }
        json_array_append_new(settings, json_pack("{s:s, s:s, s:o, s:o}", "key", setting->words->key, "group",
                                                  v->model->groups[setting->group].key, "live",
                                                  held_json(vd_visit_live(v->engine), i), "stored",
                                                  held_json(vd_visit_stored(v->engine), i)));
    }
    json_object_set_new(c->result, "settings", settings);
}

static vd_class save(cli *c, const visit *v)
{
    GDateTime *now = g_date_time_new_now_utc();
    char *when = g_date_time_format(now, "%Y-%m-%dT%H:%M:%SZ");
    char *text = vd_profile_compose(v->model, vd_visit_live(v->engine), vd_visit_identity(v->engine), when);
    vd_fault fault = {0};
    vd_class class = VD_CLASS_FINE;
    const vd_file_text content = {text, strlen(text), false};
    vd_status status = c->options.replace ? vd_file_save(c->options.save, &content, &fault)
                                          : vd_file_create(c->options.save, &content, &fault);
    if (status == VD_OK) {
        message(c, "Saved as %s", c->options.save);
        unsent_remember(c, c->options.save, v->model, vd_visit_identity(v->engine));
    } else {
        class = report(c, &fault);
    }
    g_free(text);
    g_free(when);
    g_date_time_unref(now);
    return class;
}

/* What the rules say of what the unit holds and measures. That some values cannot be written is no news here. */
static void judge(cli *c, const visit *v, const uint8_t *which)
{
    vd_survey survey;
    vd_fault fault = {0};
    vd_class worst = c->worst;
    vd_survey_start(&survey, vd_visit_live(v->engine), NULL);
    while (vd_survey_next(&survey, &fault)) {
        bool of_rules = fault.status == VD_RULE_BROKEN || fault.status == VD_RULE_WARNING ||
                        fault.status == VD_RULE_REMARK || fault.status == VD_PLACEHOLDER ||
                        fault.status == VD_CLOCK_OFF || fault.status == VD_ALARM_DOUBT;
        bool wanted = which == NULL || fault.setting == NULL || which[fault.setting - v->model->settings] != 0;
        if (of_rules && wanted) {
            report(c, &fault);
        }
    }
    c->worst = worst; /* the reading itself went well */
}

/* Which settings this unit has not, or are unused in it, where all of them were asked for. */
static void tell_unused(const cli *c, const visit *v, const uint8_t *which)
{
    char *reasons = reasons_not_here(c, vd_visit_live(v->engine), which);
    if (reasons[0] != '\0' && (c->options.all || c->options.group != NULL)) {
        message(c, "%s", reasons);
    }
    g_free(reasons);
}

static void remark_unsound(const cli *c, const visit *v, const uint8_t *which)
{
    unsigned count = 0;
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        count += (which == NULL || which[i] != 0) && !vd_set_is_sound(vd_visit_live(v->engine), i);
    }
    if (count > 0) {
        message(c, "%u value%s that the model allows. A profile leaves %s out.", count,
                count == 1 ? " is not one" : "s are not ones", count == 1 ? "it" : "them");
    }
}

static void remark_unstored(const cli *c, const visit *v)
{
    unsigned count = 0;
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        count += is_unstored(v, i) && !hangs_on_slot(v, i);
    }
    if (count > 0) {
        message(c,
                "%u setting%s live only, and lost with the supply. To keep %s: read with --save, then write the file.",
                count, count == 1 ? " is" : "s are", count == 1 ? "it" : "them");
    }
}

vd_class command_read(cli *c)
{
    uint8_t *which = NULL;
    visit v = {0};
    if (c->options.save != NULL && !c->options.replace && g_file_test(c->options.save, G_FILE_TEST_EXISTS)) {
        return report_new(c, vd_fault_of_FILE_THERE(c->options.save));
    }
    const vd_model *model = meet_model(c);
    if (model == NULL || !choose_group(c, model, &which)) {
        return c->worst;
    }
    const visit_task task = {.task = VD_TASK_READ, .which = which};
    if (visit_do(c, &v, model, &task)) {
        judge(c, &v, which);
        settings_json(c, &v, which);
        if (!c->options.json && c->options.save == NULL) {
            uint8_t *worth = which == NULL && !c->options.all ? choose_worth(&v) : NULL;
            show_groups(c, &v, worth != NULL ? worth : which);
            tell_unused(c, &v, which);
            g_free(worth);
        }
        if (c->options.json && which == NULL) {
            json_object_set_new(c->result, "alarms", alarms_json(vd_visit_live(v.engine)));
        } else if (c->options.save == NULL && which == NULL) {
            name_alarms(c, &v);
        }
        remark_unsound(c, &v, which);
        remark_unstored(c, &v);
        if (c->options.save != NULL) {
            save(c, &v);
        }
    }
    visit_json(c, &v);
    journal_tell_open(c, &v);
    visit_free(&v);
    g_free(which);
    return c->worst;
}
