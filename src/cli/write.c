/* SPDX-License-Identifier: MIT
 * verdite write and verdite verify: what will change, and the verdict on each setting. */
#include "cli.h"

#include <string.h>

static const struct {
    const char *words, *name;
    tone t;
} verdicts[] = {
    [VD_NOT_ASKED] = {"", "", TONE_PLAIN},
    [VD_CONFIRMED] = {"confirmed", "confirmed", TONE_GOOD},
    [VD_LIVE_ONLY] = {"live, storage not proved", "live-only", TONE_DOUBT},
    [VD_DIFFERS] = {"differs", "differs", TONE_BAD},
    [VD_CANNOT_READ_BACK] = {"cannot be read back", "cannot-be-read-back", TONE_DOUBT},
    [VD_NOT_SENT] = {"not sent", "not-sent", TONE_BAD},
    [VD_UNKNOWN] = {"unknown", "unknown", TONE_BAD},
};

static const struct {
    const char *words, *name;
    vd_class class;
    tone t;
} wholes[] = {
    [VD_WHOLE_VERIFIED] = {"VERIFIED", "verified", VD_CLASS_FINE, TONE_GOOD},
    [VD_WHOLE_EXCEPT] = {"VERIFIED EXCEPT", "verified-except", VD_CLASS_PARTLY, TONE_DOUBT},
    [VD_WHOLE_LIVE_ONLY] = {"LIVE, STORAGE NOT PROVED", "live-only", VD_CLASS_NOT_VERIFIED, TONE_DOUBT},
    [VD_WHOLE_NOT] = {"NOT VERIFIED", "not-verified", VD_CLASS_NOT_VERIFIED, TONE_BAD},
};

/* What a setting holds before the change, as words. */
static const char *before_text(const vd_visit *unit, uint16_t i)
{
    const vd_setting *setting = &unit->model->settings[i];
    vd_value before = vd_set_get(vd_visit_live(unit), i);
    return vd_setting_is_shown(setting) ? value_text(setting, &before) : "cannot be read";
}

/* As wide as what stands in the column, within reason. */
static size_t before_width(const vd_visit *unit)
{
    size_t width = 16;
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        size_t own = vd_visit_changes(unit, i) ? (size_t)g_utf8_strlen(before_text(unit, i), -1) : 0;
        width = MAX(width, MIN(own, 26));
    }
    return width;
}

static void show_change(const vd_visit *unit, uint16_t i, size_t width)
{
    const vd_setting *setting = &unit->model->settings[i];
    vd_value before = vd_set_get(vd_visit_live(unit), i), after = vd_set_get(vd_visit_desired(unit), i);
    char *key = padded(setting->key, 24);
    char *from = padded(before_text(unit, i), width);
    const char *remark = vd_value_equal(&before, &after) ? "  (the same, with other decimals)" : "";
    fprintf(stderr, "  %s  %s  ->  %s%s\n", key, from, value_text(setting, &after), remark);
    g_free(key);
    g_free(from);
}

/* What else becomes lasting when the unit stores everything that is live. */
static void show_riders(const vd_visit *unit)
{
    unsigned count = 0;
    for (uint16_t i = 0; i < unit->model->setting_count && unit->model->store.needed; i++) {
        const vd_setting *setting = &unit->model->settings[i];
        vd_value live = vd_set_get(vd_visit_live(unit), i), stored = vd_set_get(vd_visit_stored(unit), i);
        bool differs = vd_set_compare(vd_visit_live(unit), vd_visit_stored(unit), i) == VD_DIFFERENT;
        if (differs && !vd_visit_changes(unit, i)) {
            fprintf(stderr, "%s  %s: %s (stored so far: %s)\n", count == 0 ? "Live already, and now stored too:\n" : "",
                    setting->key, value_text(setting, &live), value_text(setting, &stored));
            count++;
        }
    }
}

/* What writing will cause, once for each kind of it. */
static void show_effects(const vd_visit *unit)
{
    const char *told[4] = {NULL};
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        const vd_setting *setting = &unit->model->settings[i];
        if (vd_visit_changes(unit, i) && setting->effect != VD_NO_EFFECT && told[setting->effect] == NULL) {
            told[setting->effect] = setting->key;
            fprintf(stderr, "  Writing %s: %s.\n", setting->key, effect_words(setting));
        }
    }
}

/* What the rules say of the result: advice, and what could not be judged though the change has a part in it. */
static void show_advice(cli *c, const vd_visit *unit)
{
    const vd_model *model = unit->model;
    vd_survey survey;
    vd_fault fault = {0};
    vd_survey_start(&survey, vd_visit_desired(unit), vd_visit_live(unit));
    while (vd_survey_next(&survey, &fault)) {
        bool concerned = fault.setting != NULL && vd_visit_changes(unit, (uint16_t)(fault.setting - model->settings));
        for (uint16_t i = 0; i < model->setting_count && survey.rule != VD_NONE && !concerned; i++) {
            concerned = vd_visit_changes(unit, i) && vd_rule_mentions(model, survey.rule, i);
        }
        concerned = concerned || fault.status == VD_PLACEHOLDER;
        if (concerned && vd_status_class(fault.status) <= VD_CLASS_PARTLY) {
            report(c, &fault);
        }
    }
}

static bool restarts_by_itself(const vd_visit *unit)
{
    bool restarts = unit->model->store.restarts;
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        restarts = restarts || (vd_visit_changes(unit, i) && unit->model->settings[i].effect == VD_EFFECT_RESTART);
    }
    return restarts;
}

static void show_changes(cli *c, const vd_visit *unit)
{
    vd_class worst = c->worst;
    bool any = false;
    const vd_identity *identity = vd_visit_identity(unit);
    if (!c->options.yes) { /* whoever is asked must know which unit it is about */
        message(c, "%s %s, serial number %s, firmware %s", identity->maker, identity->product, identity->serial,
                identity->firmware);
    }
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        if (vd_visit_changes(unit, i)) {
            if (!any) {
                message(c, "Will change:");
            }
            any = true;
            show_change(unit, i, before_width(unit));
        }
    }
    show_riders(unit);
    show_effects(unit);
    if (unit->model->store.proof == VD_PROOF_RESTART) {
        message(c, restarts_by_itself(unit) ? "  That restart shows what it stored."
                                            : "  Then restarts it, to see what it stored.");
    }
    const vd_login *login = &unit->model->login;
    if (login->setting != VD_NONE && vd_visit_changes(unit, login->setting)) {
        message(c, "  The password changes.%s",
                login->recoverable ? "" : " A forgotten one cannot be recovered: write it down before you go on.");
    }
    show_advice(c, unit);
    c->worst = worst; /* advice is no outcome */
}

static void show_verdict(const cli *c, const visit *v, uint16_t i)
{
    const vd_setting *setting = &v->model->settings[i];
    vd_verdict verdict = vd_visit_verdict(&v->engine, i);
    vd_value wanted = vd_set_get(vd_visit_desired(&v->engine), i);
    char *key = padded(setting->key, 24), *value = padded(value_text(setting, &wanted), 18);
    printf("  %s  %s  %s%s%s", key, value, tone_on(c->colour, verdicts[verdict].t), verdicts[verdict].words,
           tone_off(c->colour, verdicts[verdict].t));
    if (verdict == VD_DIFFERS) {
        vd_value live = vd_set_get(vd_visit_live(&v->engine), i), stored = vd_set_get(vd_visit_stored(&v->engine), i);
        printf(": the unit holds %s", value_text(setting, &live));
        if (stored.type != VD_NOTHING && !vd_value_equal(&live, &stored)) {
            printf(" live, %s stored", value_text(setting, &stored));
        }
    }
    printf("\n");
    g_free(key);
    g_free(value);
}

static void show_whole(const cli *c, const vd_summary *summary)
{
    char *count = summary->whole == VD_WHOLE_EXCEPT ? g_strdup_printf(" %u that cannot be read", summary->unreadable)
                                                    : g_strdup("");
    tone t = wholes[summary->whole].t;
    unsigned equal = (unsigned)summary->confirmed + summary->live_only, total = summary->total;
    printf("%s%s%s%s: %u of %u settings read back %s, equal", tone_on(c->colour, t), wholes[summary->whole].words,
           count, tone_off(c->colour, t), equal, total, summary->live_only > 0 ? "live" : "from storage");
    const struct {
        unsigned number;
        const char *words;
    } rest[] = {{summary->differing, "different"},
                {summary->not_sent, "not sent"},
                {summary->unknown, "unknown"},
                {summary->whole == VD_WHOLE_NOT ? summary->unreadable : 0, "not readable"}};
    for (size_t i = 0; i < G_N_ELEMENTS(rest); i++) {
        if (rest[i].number > 0) {
            printf("; %u %s", rest[i].number, rest[i].words);
        }
    }
    printf(".\n");
    g_free(count);
}

/* Shows the settings that were changed, and those that are not confirmed; the rest is counted. */
static void show_verdicts(cli *c, const visit *v)
{
    vd_summary summary = vd_visit_summary(&v->engine);
    json_t *settings = json_array();
    bool all = v->engine.task == VD_TASK_WRITE;
    if (!c->options.json) {
        char *title = visit_title(v);
        printf("%s%s%s\n", tone_on(c->colour, TONE_STRONG), title, tone_off(c->colour, TONE_STRONG));
        g_free(title);
    }
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        const vd_setting *setting = &v->model->settings[i];
        vd_verdict verdict = vd_visit_verdict(&v->engine, i);
        if (verdict == VD_NOT_ASKED) {
            continue;
        }
        vd_value wanted = vd_set_get(vd_visit_desired(&v->engine), i);
        vd_value live = vd_set_get(vd_visit_live(&v->engine), i);
        vd_value stored = vd_set_get(vd_visit_stored(&v->engine), i);
        json_array_append_new(settings,
                              json_pack("{s:s, s:s, s:o, s:o, s:o, s:b}", "key", setting->key, "verdict",
                                        verdicts[verdict].name, "wanted", value_json(setting, &wanted), "live",
                                        value_json(setting, &live), "stored", value_json(setting, &stored), "written",
                                        vd_visit_changes(&v->engine, i)));
        bool as_wanted = verdict == VD_CONFIRMED || (verdict == VD_LIVE_ONLY && !all); /* the whole says it of all */
        if (!c->options.json && (!as_wanted || (all && vd_visit_changes(&v->engine, i)))) {
            show_verdict(c, v, i);
        }
    }
    json_object_set_new(c->result, "settings", settings);
    json_object_set_new(c->result, "outcome", json_string(wholes[summary.whole].name));
    if (v->before != NULL) {
        json_object_set_new(c->result, "before", json_string(v->before));
    }
    if (!c->options.json) {
        show_whole(c, &summary);
    }
    c->worst = MAX(c->worst, wholes[summary.whole].class);
}

static vd_class visit_with_profile(cli *c, vd_task kind, const char *usage)
{
    char **words = c->options.words;
    uint8_t *which = NULL;
    visit v = {0};
    if (words == NULL || words[1] != NULL) {
        return report_words(c, VD_WRONG_WORDS, "One file is needed: the profile.", usage);
    }
    vd_profile *profile = choose_profile(c, words[0]);
    if (profile != NULL && choose_group(c, vd_profile_model(profile), &which)) {
        const visit_task task = {
            .task = kind, .target = vd_profile_values(profile), .which = which, .show_changes = show_changes};
        visit_do(c, &v, vd_profile_model(profile), &task);
        visit_json(c, &v);
        /* Nothing to judge where the unit was never reached, or was left as it is. */
        bool untouched = v.status == VD_OTHER_MODEL || v.status == VD_DECLINED || v.status == VD_LINK_SETTING ||
                         v.status == VD_NOT_KEPT || v.status == VD_LOGIN_NEEDED || v.status == VD_LOGIN_REFUSED ||
                         v.status == VD_LOGIN_NOT_TAKEN || v.status == VD_LOGIN_LOCKED;
        if (v.opened && !untouched && vd_visit_identity(&v.engine)->product[0] != '\0') {
            show_verdicts(c, &v);
        }
        visit_free(&v);
    }
    g_free(which);
    vd_profile_free(profile);
    return c->worst;
}

vd_class command_write(cli *c)
{
    return visit_with_profile(c, VD_TASK_WRITE, "For example: verdite write hive-03.yaml --address 3");
}

vd_class command_verify(cli *c)
{
    return visit_with_profile(c, VD_TASK_VERIFY, "For example: verdite verify hive-03.yaml --address 3");
}
