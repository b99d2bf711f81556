/* SPDX-License-Identifier: MIT
 * verdite roster NEW.csv OLD.csv --number PLAN: gives the rows that have no address a free one, and says why it is
 * free. */
#include "commands.h"
#include "../act/act.h"
#include "../print/print.h"

#include <string.h>

#define MOST_VISITS 10000u

typedef struct numbering {
    cli *c;
    vd_roster *roster;
    vd_address_plan *plan; /* as it was typed: which kind of address it gives */
    GHashTable *taken;     /* by line and address: who has it, in words */
    GHashTable *plans;     /* by line: the plan, as far as it was used there */
    sheet rows;
    json_t *given;
    GString *skipped; /* by the row that is being looked at */
    bool no_column;
} numbering;

/* Numbers on a bus count for their line, hosts for the whole list. */
static const char *line_of(const vd_roster_unit *row, uint16_t setting)
{
    return row->model->settings[setting].role == VD_ROLE_ADDRESS ? row->line : "";
}

static char *key_of(const char *line, const char *address)
{
    return g_strdup_printf("%s\n%s", line, address);
}

/* The setting of a unit that the plan is about; VD_NONE: it has none. */
static uint16_t setting_of(const numbering *n, const vd_model *model)
{
    for (uint16_t i = 0; model != NULL && i < model->setting_count; i++) {
        if (vd_address_plan_fits(n->plan, &model->settings[i])) {
            return i;
        }
    }
    return VD_NONE;
}

/* An address as it is printed, however it was typed. Free it. */
static char *printed(const vd_setting *setting, const char *text)
{
    vd_typed typed;
    bool fine = vd_setting_parse(setting, text, strlen(text), &typed, NULL) == VD_OK;
    return g_strdup(fine ? value_text(setting, &typed.value) : text);
}

static void take_rows(numbering *n)
{
    for (size_t i = 0; i < vd_roster_count(n->roster); i++) {
        vd_roster_unit row = vd_roster_at(n->roster, i);
        uint16_t setting = setting_of(n, row.model);
        const char *cell = setting != VD_NONE ? vd_roster_cell(n->roster, i, setting) : "";
        if (cell != NULL && cell[0] != '\0') {
            char *address = printed(&row.model->settings[setting], cell);
            g_hash_table_insert(n->taken, key_of(line_of(&row, setting), address),
                                g_strdup_printf("row %u has it", row.number));
            g_free(address);
        }
    }
}

static bool is_listed(const numbering *n, const char *serial)
{
    for (size_t i = 0; i < vd_roster_count(n->roster); i++) {
        if (strcmp(vd_roster_at(n->roster, i).serial, serial) == 0) {
            return true;
        }
    }
    return false;
}

/* Addresses on a line of this name at which a visit left a unit that is not on the list. */
static void take_visits(numbering *n)
{
    const vd_past_query any = {.acts = true};
    vd_past *past = g_new(vd_past, MOST_VISITS);
    GHashTable *seen = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, NULL);
    size_t count = vd_history_find(remembered(n->c), &any, past, MOST_VISITS);
    for (size_t i = 0; i < count; i++) { /* the last visit to a unit comes first */
        bool first = past[i].unit.serial[0] != '\0' && g_hash_table_add(seen, g_strdup(past[i].unit.serial));
        if (first && past[i].at != 0 && past[i].line[0] != '\0' && !is_listed(n, past[i].unit.serial)) {
            char *address = g_strdup_printf("%u", past[i].at), *when = time_words(past[i].began);
            g_hash_table_insert(n->taken, key_of(past[i].line, address),
                                g_strdup_printf("%s was met there %s", past[i].unit.serial, when));
            g_free(when);
            g_free(address);
        }
    }
    g_hash_table_destroy(seen);
    g_free(past);
}

static vd_address_plan *plan_of(numbering *n, const char *line)
{
    vd_address_plan *plan = g_hash_table_lookup(n->plans, line);
    vd_fault fault = {0};
    if (plan == NULL) {
        plan = vd_address_plan_parse(n->c->options.number, &fault);
        g_hash_table_insert(n->plans, g_strdup(line), plan);
    }
    return plan;
}

/* Why an address cannot be given to a row; NULL: it is free. Free it. */
static char *taken_by(const numbering *n, size_t i, const vd_roster_unit *row, uint16_t setting, const char *address)
{
    char *key = key_of(line_of(row, setting), address), words[512];
    const char *who = g_hash_table_lookup(n->taken, key);
    vd_fault fault = {0};
    g_free(key);
    if (who != NULL) {
        return g_strdup(who);
    }
    bool factory = row->model->settings[setting].role == VD_ROLE_ADDRESS &&
                   g_ascii_strtoull(address, NULL, 10) == row->model->address_factory;
    if (factory) {
        return g_strdup("new units come with it");
    }
    if (vd_roster_takes(n->roster, i, setting, address, &fault)) {
        return NULL;
    }
    vd_fault_words(&fault, false, words, sizeof words);
    return g_strdup(words);
}

/* False: the plan has none left. */
static bool give(numbering *n, size_t i, const vd_roster_unit *row, uint16_t setting)
{
    vd_address_plan *plan = plan_of(n, line_of(row, setting));
    char address[64];
    g_string_truncate(n->skipped, 0);
    while (vd_address_plan_next(plan, address, sizeof address)) {
        char *why = taken_by(n, i, row, setting, address);
        if (why == NULL) {
            char *number = g_strdup_printf("%u", row->number);
            bool bus = row->model->settings[setting].role == VD_ROLE_ADDRESS;
            const char *name = row->serial[0] != '\0' ? row->serial : row->name[0] != '\0' ? row->name : row->code;
            vd_roster_say(n->roster, i, setting, address);
            g_hash_table_insert(n->taken, key_of(line_of(row, setting), address),
                                g_strdup_printf("row %u gets it", row->number));
            sheet_row(&n->rows, number, name[0] != '\0' ? name : "-", address,
                      bus ? "free: no other row and no recorded visit has it"
                          : "free: no other row has it, and the network has room",
                      NULL);
            if (n->skipped->len > 0) {
                sheet_note(&n->rows, TONE_FAINT, n->skipped->str);
            }
            json_array_append_new(n->given, json_pack("{s:i, s:s}", "row", (int)row->number, "address", address));
            g_free(number);
            return true;
        }
        g_string_append_printf(n->skipped, "%s%s: %s", n->skipped->len > 0 ? "; " : "skipped ", address, why);
        g_free(why);
    }
    return false;
}

/* Gives an address to each row that has none. False: reported. */
static bool give_all(numbering *n)
{
    for (size_t i = 0; i < vd_roster_count(n->roster); i++) {
        vd_roster_unit row = vd_roster_at(n->roster, i);
        uint16_t setting = setting_of(n, row.model);
        const char *cell = setting != VD_NONE ? vd_roster_cell(n->roster, i, setting) : NULL;
        n->no_column = n->no_column && cell == NULL;
        if (cell != NULL && cell[0] == '\0' && !give(n, i, &row, setting)) {
            char *said = g_strdup_printf("The plan \"%s\" has no free address left for row %u.", n->c->options.number,
                                         row.number);
            report_wrong_words(n->c, said, "Nothing was saved. Give a longer plan.");
            g_free(said);
            return false;
        }
    }
    if (n->no_column) {
        report_wrong_words(n->c, "The roster has no column for such addresses.",
                           "Add one, such as line.address, and leave its cells empty.");
    }
    return !n->no_column;
}

static void save(numbering *n, const char *path)
{
    char *text = vd_roster_text(n->roster, NULL, true, path);
    vd_fault fault = {0};
    n->c->options.json ? sheet_drop(&n->rows) : sheet_print(&n->rows);
    if (vd_file_create(path, &(vd_file_text){text, strlen(text), false}, &fault) == VD_OK) {
        size_t count = json_array_size(n->given);
        message(n->c, "Saved as %s: %zu new address%s.%s", path, count, count == 1 ? "" : "es",
                g_hash_table_size(n->plans) > 1 ? " Each line was counted by itself." : "");
        json_object_set_new(n->c->result, "saved", json_string(path));
        json_object_set(n->c->result, "given", n->given);
    } else {
        report(n->c, &fault);
    }
    g_free(text);
}

static void plan_free(gpointer plan)
{
    vd_address_plan_free(plan);
}

vd_class roster_number(cli *c, const char *path, const char *source, const char *profile_path)
{
    static const char *const titles[] = {"row", "unit", "address", "", NULL};
    vd_fault fault = {0};
    vd_profile *profile = NULL;
    vd_findings *findings = vd_findings_new(source);
    numbering n = {.c = c, .no_column = true, .plan = vd_address_plan_parse(c->options.number, &fault)};
    if (n.plan == NULL) {
        report(c, &fault);
    } else {
        n.roster = choose_roster(c, source, profile_path, &profile, findings);
    }
    if (n.roster != NULL && vd_findings_any_wrong(findings)) {
        report_findings(c, findings);
        message(c, "Nothing was saved. Correct the roster first: verdite check %s", source);
        c->worst = MAX(c->worst, VD_CLASS_FILE);
    } else if (n.roster != NULL) {
        n.taken = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, g_free);
        n.plans = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, plan_free);
        n.rows = sheet_start(c, stdout, titles);
        n.given = json_array();
        n.skipped = g_string_new("");
        take_rows(&n);
        take_visits(&n);
        if (give_all(&n)) {
            save(&n, path);
        } else {
            sheet_drop(&n.rows);
        }
        g_string_free(n.skipped, TRUE);
        json_decref(n.given);
        g_hash_table_destroy(n.taken);
        g_hash_table_destroy(n.plans);
    }
    vd_address_plan_free(n.plan);
    vd_roster_free(n.roster);
    vd_findings_free(findings);
    vd_profile_free(profile);
    return c->worst;
}
