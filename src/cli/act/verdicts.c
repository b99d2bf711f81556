/* SPDX-License-Identifier: MIT
 * The verdict on each setting and on the whole, and what to do next. */
#include "act.h"
#include "../print/print.h"

#include <string.h>

static const struct {
    const char *words, *name;
    tone t;
} verdicts[] = {
    [VD_NOT_ASKED] = {"as before", "as-before", TONE_PLAIN},
    [VD_CONFIRMED] = {"confirmed", "confirmed", TONE_GOOD},
    [VD_LIVE_ONLY] = {"live, storage not proved", "live-only", TONE_DOUBT},
    [VD_DIFFERS] = {"differs", "differs", TONE_BAD},
    [VD_CANNOT_READ_BACK] = {"cannot be read back", "cannot-be-read-back", TONE_DOUBT},
    [VD_NOT_SENT] = {"not sent", "not-sent", TONE_BAD},
    [VD_UNKNOWN] = {"unknown", "unknown", TONE_BAD},
};

static const struct {
    const char *words;
    vd_class class;
    tone t;
} wholes[] = {
    [VD_WHOLE_VERIFIED] = {"VERIFIED", VD_CLASS_FINE, TONE_GOOD},
    [VD_WHOLE_EXCEPT] = {"VERIFIED EXCEPT", VD_CLASS_PARTLY, TONE_DOUBT},
    [VD_WHOLE_LIVE_ONLY] = {"LIVE, STORAGE NOT PROVED", VD_CLASS_PARTLY, TONE_DOUBT},
    [VD_WHOLE_NOT] = {"NOT VERIFIED", VD_CLASS_NOT_VERIFIED, TONE_BAD},
};

const char *verdict_words(vd_verdict verdict)
{
    return (size_t)verdict < G_N_ELEMENTS(verdicts) ? verdicts[verdict].words : "";
}

/* What the unit was read to hold, "" where it was not. Free it. */
static char *held_words(const visit *v, uint16_t i)
{
    const vd_entry *entry = vd_visit_entry(v->engine, i);
    const vd_set *live = vd_visit_live(v->engine), *stored = vd_visit_stored(v->engine);
    if (entry->live == VD_UNREAD || !vd_set_heard(live, i)) {
        return g_strdup("");
    }
    if (vd_set_compare(live, stored, i) == VD_DIFFERENT && !vd_slots_hold(v->model, i)) {
        return g_strdup_printf("the unit has %s live, %s stored", held_text(live, i), held_text(stored, i));
    }
    /* It is otherwise than before, since something else that was written has set it. */
    bool unsent = entry->live == VD_OTHERWISE && entry->sending == VD_UNSENT && (entry->part & VD_PART_ASKED) != 0 &&
                  vd_visit_standing(v->engine)->writes;
    bool since =
        !vd_visit_standing(v->engine)->writes || !vd_visit_has_sent(v->engine) || vd_visit_was_read_back(v->engine);
    return g_strdup_printf(since ? "the unit has %s%s" : "the unit had %s before anything was sent%s",
                           held_text(live, i), unsent && since ? "; it was not sent" : "");
}

/* Why no more is known of it, "" where the word says it all. */
static const char *reason_words(const visit *v, uint16_t i, vd_verdict verdict)
{
    const vd_entry *entry = vd_visit_entry(v->engine, i);
    const vd_standing *standing = vd_visit_standing(v->engine);
    if (verdict != VD_UNKNOWN) {
        bool tried = i == vd_index(v->model->login.setting) && vd_visit_took_new_password(v->engine);
        return verdict == VD_CANNOT_READ_BACK && tried ? "the unit accepts a login with it" : "";
    }
    bool no_login = i == vd_index(v->model->login.setting) && v->status == VD_PASSWORD_NOT_TAKEN;
    bool company =
        (entry->part & (VD_PART_ALONG | VD_PART_RESCALED | VD_PART_SWAYED)) != 0 && entry->sending == VD_UNSENT;
    return !standing->writes                                         ? "it was not read"
           : company                                                 ? "not sent, but what was sent may have changed it"
           : entry->sending == VD_UNSENT                             ? "not sent and not read back"
           : no_login                                                ? "the unit refused a login with it"
           : entry->sending == VD_TURNED_DOWN                        ? "the unit refused it and does not show it"
           : entry->sending == VD_SENT_IN_VAIN                       ? "sent, but no reply came"
           : !standing->same_unit                                    ? "sent, but another unit may have answered since"
           : (entry->part & VD_PART_SHOWN) == 0 && !standing->stored ? "accepted, but not stored"
           : (entry->part & VD_PART_SHOWN) == 0 ? "accepted, but the unit may have restarted before it was stored"
                                                : "sent, but not read back";
}

static bool is_unchanged(const visit *v, uint16_t i, vd_verdict verdict)
{
    return v->unchanged != NULL && v->unchanged[i] && verdict == VD_LIVE_ONLY;
}

/* What an earlier visit says of what is unchanged since, NULL: there is none. Free it. */
static char *unchanged_words(const visit *v)
{
    char *when = v->unchanged != NULL ? time_words(v->unchanged_when) : NULL;
    char *words = when == NULL   ? NULL
                  : v->outlasted ? g_strdup_printf("outlasted a restart at %s", when)
                                 : g_strdup_printf("storage was last proved %s", when);
    g_free(when);
    return words;
}

/* How many of those whose storage was not shown now are as an earlier visit left them. */
static unsigned count_unchanged(const visit *v)
{
    unsigned count = 0;
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        count += is_unchanged(v, i, vd_visit_verdict(v->engine, i));
    }
    return count;
}

/* Whether nothing but its storage is open, and an earlier visit proved that of all of it. */
static bool is_equal(const visit *v, const vd_summary *summary)
{
    return summary->whole == VD_WHOLE_LIVE_ONLY && count_unchanged(v) == summary->live_only;
}

static void add_verdict(sheet *rows, const visit *v, uint16_t i)
{
    const vd_setting *setting = &v->model->settings[i];
    vd_verdict verdict = vd_visit_verdict(v->engine, i);
    vd_value wanted = vd_set_get(vd_visit_desired(v->engine), i);
    bool moved = verdict == VD_DIFFERS && !vd_visit_changes(v->engine, i) &&
                 (vd_visit_entry(v->engine, i)->part & VD_PART_ASKED) == 0;
    char *held = verdict == VD_DIFFERS || verdict == VD_NOT_SENT ? held_words(v, i) : g_strdup("");
    const char *reason = held[0] != '\0' ? held : reason_words(v, i, verdict);
    char *since = is_unchanged(v, i, verdict) ? unchanged_words(v) : NULL;
    char *words = since != NULL ? g_strdup_printf("equal; %s", since)
                                : g_strdup_printf("%s%s%s", moved ? "changed by itself" : verdicts[verdict].words,
                                                  reason[0] != '\0' ? ": " : "", reason);
    g_free(since);
    const char *value = value_text(setting, &wanted);
    sheet_row(rows, setting->words->key, value[0] != '\0' ? value : "-", words, NULL);
    sheet_tone(rows, 2, verdicts[verdict].t);
    g_free(words);
    g_free(held);
}

static void show_whole(const cli *c, const visit *v, const vd_summary *summary)
{
    unsigned unchanged = count_unchanged(v);
    bool all = is_equal(v, summary);
    char *since = unchanged > 0 ? unchanged_words(v) : NULL;
    GString *rest = g_string_new("");
    char *count = summary->whole == VD_WHOLE_EXCEPT ? g_strdup_printf(" %u that cannot be read", summary->unreadable)
                                                    : g_strdup("");
    tone t = v->task->cannot != NULL ? TONE_BAD : wholes[summary->whole].t;
    unsigned equal = (unsigned)summary->confirmed + summary->live_only, total = summary->total;
    bool partly = v->task->cannot != NULL && summary->whole != VD_WHOLE_NOT;
    char *lead = partly ? g_strdup("PARTLY UNDONE:")
                 : all  ? g_strdup("EQUAL:")
                        : g_strdup_printf("%s%s:", wholes[summary->whole].words, count);
    if (total == 0) {
        g_string_assign(rest, "nothing of it is in use in this unit");
    } else {
        g_string_printf(rest, "%u of %u setting%s read back %s%s", equal, total, total == 1 ? "" : "s",
                        summary->live_only > 0 ? "live" : "from storage", all ? "" : ", equal");
    }
    const struct {
        unsigned number;
        const char *words;
    } others[] = {{summary->differing, "different"},
                  {summary->not_sent, "not sent"},
                  {summary->unknown, "unknown"},
                  {summary->moved, "changed by itself"},
                  {summary->whole == VD_WHOLE_NOT ? summary->unreadable : 0, "not readable"}};
    for (size_t i = 0; i < G_N_ELEMENTS(others); i++) {
        if (others[i].number > 0) {
            g_string_append_printf(rest, "; %u %s", others[i].number, others[i].words);
        }
    }
    if (all) {
        g_string_append_printf(rest, "; %s", since);
    } else if (unchanged > 0) {
        g_string_append_printf(rest, "; %u of them: %s", unchanged, since);
    }
    if (v->task->cannot != NULL) {
        g_string_append_printf(rest, "; not undone: %s", v->task->cannot);
    }
    g_string_append_c(rest, '.');
    g_free(since);
    if (screen_is_whole(c)) {
        screen_put(stdout, "\n");
    }
    lead_print(c, t, lead, "", rest->str);
    g_free(lead);
    g_string_free(rest, TRUE);
    g_free(count);
}

/* Of those whose storage was not shown, how many hang on a slot. */
static unsigned count_in_slots(const visit *v)
{
    unsigned count = 0;
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        count += vd_visit_verdict(v->engine, i) == VD_LIVE_ONLY &&
                 (vd_visit_entry(v->engine, i)->part & VD_PART_IN_SLOT) != 0;
    }
    return count;
}

/* What the unit turned down at first, and took behind others: a rule in the model spares that. */
static void show_put_off(const cli *c, const visit *v)
{
    GString *names = g_string_new("");
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        const vd_entry *entry = vd_visit_entry(v->engine, i);
        if (entry->put_off > 0 && entry->sending == VD_ACKNOWLEDGED) {
            g_string_append_printf(names, "%s%s", names->len > 0 ? ", " : "", v->model->settings[i].words->key);
        }
    }
    if (names->len > 0) {
        message(c,
                "The unit accepted %s only after others. To give the order, add a rule with enforced: writing to the "
                "model %s.",
                names->str, v->model->key);
    }
    g_string_free(names, TRUE);
}

/* What would prove that what is live is stored, and what else is to be done: one line, the last that a fitter reads. */
static void show_next(const cli *c, const visit *v, const vd_summary *summary, const char *file)
{
    const vd_store *store = &v->model->store;
    bool writes = vd_visit_standing(v->engine)->writes, sent = vd_visit_has_sent(v->engine);
    if (summary->whole == VD_WHOLE_LIVE_ONLY) {
        bool looks = !writes && !c->options.restart, in_slots = count_in_slots(v) == summary->live_only;
        bool proves = store->proof == VD_PROOF_RESTART;
        uint8_t after = vd_set_slot_after(vd_visit_live(v->engine));
        bool falls = after > 0 && after != vd_set_slot(vd_visit_live(v->engine));
        const char *proof =
            in_slots && looks ? "Only loading the slot again shows what is stored: verify with --restart. What is only "
                                "live is lost then."
            : in_slots && falls ? "After a power cycle another slot is in force."
            : v->spared ? "A restart proved this before, and the unit has run on since. It is not restarted again."
            : vd_visit_standing(v->engine)->seen != 0 || c->options.by_hand ? "No restart was seen for certain."
            : proves && looks && vd_model_restart(v->model) != NULL
                ? "Only a restart shows what is stored: verify with --restart, or with --by-hand. What is only live is "
                  "lost then."
                : "Only switching the unit off and on shows what is stored: verify with --by-hand.";
        message(c, "%s", proof);
    } else if (summary->whole == VD_WHOLE_NOT && writes && sent && v->record != 0) {
        message(c, "Next: verdite finish (goes on), or verdite undo (undoes it).");
    } else if (summary->whole == VD_WHOLE_NOT && writes && sent && summary->unknown > 0) {
        message(c, "Next: read the unit before it leaves, then write %s again.", file);
    } else if (summary->whole == VD_WHOLE_NOT && writes && sent) {
        message(c, "Next: look at what differs, then write %s again%s%s.", file,
                v->before != NULL ? ", or to undo it write " : "", v->before != NULL ? v->before : "");
    } else if (summary->whole == VD_WHOLE_NOT && !writes && summary->differing > 0) {
        message(c, "Next: verdite write %s", file);
    }
}

static json_t *verdict_json(const visit *v, uint16_t i)
{
    const vd_setting *setting = &v->model->settings[i];
    vd_verdict verdict = vd_visit_verdict(v->engine, i);
    const vd_visit *unit = v->engine;
    json_t *object = json_pack(
        "{s:s, s:s, s:o, s:o, s:o, s:o, s:b, s:b}", "key", setting->words->key, "verdict", verdicts[verdict].name,
        "wanted", held_json(vd_visit_desired(unit), i), "before", held_json(vd_visit_before(unit), i), "live",
        held_json(vd_visit_live(unit), i), "stored", held_json(vd_visit_stored(unit), i), "asked",
        (vd_visit_entry(unit, i)->part & VD_PART_ASKED) != 0, "written", vd_visit_changes(v->engine, i));
    const char *reason = reason_words(v, i, verdict);
    if (is_unchanged(v, i, verdict)) {
        json_object_set_new(object, v->outlasted ? "outlasted-at" : "proved-at", json_integer(v->unchanged_when));
    }
    if (reason[0] != '\0') {
        json_object_set_new(object, "reason", json_string(reason));
    }
    return object;
}

/* What the unit shows otherwise since it was told to act; how long it has been running is no news. */
static unsigned show_readings(cli *c, const visit *v)
{
    static const char *const titles[] = {"", "", "", "", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    json_t *list = json_array();
    const vd_set *before = vd_visit_before(v->engine), *live = vd_visit_live(v->engine);
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        const vd_setting *about = &v->model->settings[i];
        if (about->access == VD_READ_ONLY && i != vd_model_running_time(v->model) &&
            vd_set_compare(before, live, i) == VD_DIFFERENT) {
            char *was = g_strdup(held_text(before, i));
            sheet_row(&rows, about->words->key, was, "->", held_text(live, i), NULL);
            json_array_append_new(list, json_pack("{s:s, s:o, s:o}", "key", about->words->key, "before",
                                                  held_json(before, i), "after", held_json(live, i)));
            g_free(was);
        }
    }
    unsigned count = (unsigned)json_array_size(list);
    json_object_set_new(c->result, "readings", list);
    if (c->options.json || count == 0) {
        sheet_drop(&rows);
    } else {
        screen_put(stdout, "Changed since then:\n");
        sheet_print(&rows);
    }
    return count;
}

/* An action that has to do with no setting: all there is to say is what the unit said to it, and what moved. */
static void show_acted(cli *c, const visit *v, const vd_summary *summary, unsigned shown)
{
    vd_sending acted = vd_visit_acted(v->engine);
    bool taken = acted == VD_ACKNOWLEDGED,
         back = vd_visit_standing(v->engine)->same_unit && vd_visit_was_read_back(v->engine);
    const char *lead = taken ? "ACCEPTED:" : acted == VD_TURNED_DOWN ? "REFUSED:" : "UNKNOWN:";
    char *moved = !back                ? g_strdup("The unit was not read since.")
                  : summary->moved > 0 ? g_strdup_printf("%u of its settings changed.", summary->moved)
                                       : g_strdup("Its settings are unchanged.");
    char *rest = g_strdup_printf("%s %s",
                                 taken && shown > 0        ? "the changes above may come from it: judge yourself."
                                 : taken                   ? "nothing that can be read shows that it was done."
                                 : acted == VD_TURNED_DOWN ? "nothing was done."
                                                           : "no reply told whether it was done. It is not sent twice.",
                                 moved);
    json_object_set_new(c->result, "outcome", json_string(taken ? "taken" : "not-known"));
    if (!c->options.json) {
        lead_print(c, taken ? TONE_DOUBT : TONE_BAD, lead, "", rest);
    }
    c->worst = MAX(c->worst, taken && back && summary->moved == 0 ? VD_CLASS_PARTLY : VD_CLASS_NOT_VERIFIED);
    g_free(rest);
    g_free(moved);
}

/* The word alone. */
static const char *short_verdict(const vd_visit *unit, uint16_t i)
{
    return verdicts[vd_visit_verdict(unit, i)].words;
}

const char *whole_words(const visit *v)
{
    vd_summary summary = vd_visit_summary(v->engine);
    return is_equal(v, &summary) ? "EQUAL" : wholes[summary.whole].words;
}

/* All settings go into the JSON, and those that are news into the table. */
static void add_verdicts(cli *c, visit *v, sheet *rows, json_t *settings)
{
    bool writes = vd_visit_standing(v->engine)->writes;
    /* The table of the changes has them by now; of several units, only what is not as wanted is told. */
    bool judged = v->among_others || (!c->options.json && changes_judge(c, v->engine, &v->shown, short_verdict));
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        vd_verdict verdict = vd_visit_verdict(v->engine, i);
        const vd_entry *entry = vd_visit_entry(v->engine, i);
        bool asked = (entry->part & (VD_PART_ASKED | VD_PART_CHANGES)) != 0;
        bool known = v->model->settings[i].access != VD_READ_ONLY && (entry->part & VD_PART_ABSENT) == 0;
        if (writes ? asked || known : verdict != VD_NOT_ASKED) {
            json_array_append_new(settings, verdict_json(v, i));
        }
        /* The whole says it of those that are as wanted; what nobody asked for is news only where it moved. */
        bool news = verdict == VD_DIFFERS || verdict == VD_UNKNOWN ||
                    (asked && verdict != VD_CONFIRMED && verdict != VD_NOT_ASKED &&
                     (verdict != VD_LIVE_ONLY || (writes && !v->spared)));
        bool in_table = judged && !v->among_others && vd_visit_changes(v->engine, i);
        if (in_table && verdict == VD_CANNOT_READ_BACK && reason_words(v, i, verdict)[0] == '\0') {
            continue; /* the table says it all */
        }
        if (!c->options.json && (news || (writes && !judged && vd_visit_changes(v->engine, i)))) {
            add_verdict(rows, v, i);
        }
    }
}

void verdicts_show(cli *c, visit *v, const char *file)
{
    vd_summary summary = vd_visit_summary(v->engine);
    json_t *settings = json_array();
    static const char *const titles[] = {"", "", "", NULL};
    sheet rows = sheet_start(c, stdout, titles);
    add_verdicts(c, v, &rows, settings);
    json_object_set_new(c->result, "settings", settings);
    bool partly = v->task->cannot != NULL && summary.whole != VD_WHOLE_NOT;
    json_object_set_new(c->result, "outcome", json_string(partly ? "partly-undone" : vd_whole_name(summary.whole)));
    if (v->spared) {
        json_object_set_new(c->result, "restart-spared", json_true());
    }
    if (v->before != NULL) {
        json_object_set_new(c->result, "before", json_string(v->before));
    }
    if (v->among_others && (summary.whole == VD_WHOLE_VERIFIED || v->spared)) { /* its line says it all */
        sheet_drop(&rows);
        c->worst = MAX(c->worst, wholes[summary.whole].class);
        return;
    }
    if (!c->options.json) {
        if (!v->among_others) {
            show_title(c, v);
        }
        bool brief = v->task->goes_on && visit_was_cut_off(v);
        brief ? sheet_drop(&rows) : sheet_print(&rows);
    } else {
        sheet_drop(&rows);
    }
    unsigned shown = vd_visit_task(v->engine) == VD_TASK_ACT ? show_readings(c, v) : 0;
    if (vd_visit_task(v->engine) == VD_TASK_ACT && summary.total == 0) {
        show_acted(c, v, &summary, shown);
        return;
    }
    if (!c->options.json) {
        show_whole(c, v, &summary);
    }
    show_put_off(c, v);
    if (!v->task->goes_on) {
        show_next(c, v, &summary, file);
    }
    c->worst = MAX(c->worst, partly ? VD_CLASS_NOT_VERIFIED : wholes[summary.whole].class);
}

void verdicts_show_told(cli *c, const visit *v)
{
    unsigned told = 0;
    for (uint16_t i = 0; i < v->model->setting_count; i++) {
        told += vd_visit_entry(v->engine, i)->sending != VD_UNSENT;
    }
    char *rest = g_strdup_printf("%u setting%s, to every unit at address %u. Nothing was read back.", told,
                                 told == 1 ? "" : "s", v->place.address);
    json_object_set_new(c->result, "outcome", json_string("told"));
    json_object_set_new(c->result, "told", json_integer(told));
    if (!c->options.json) {
        lead_print(c, TONE_DOUBT, "TOLD, NOT VERIFIED:", "", rest);
    }
    message(c, "Next: connect one of them alone, and verify it.");
    c->worst = MAX(c->worst, VD_CLASS_NOT_VERIFIED);
    g_free(rest);
}
