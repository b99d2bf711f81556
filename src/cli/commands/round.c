/* SPDX-License-Identifier: MIT
 * verdite round, verdite status: the units of a roster, one after another or many at once; and how far they are. */
#include "commands.h"
#include "../round/round.h"

#include <string.h>

/* A roster that is wrong somewhere is not begun with: the mistake would be found in the field. */
static vd_class with_roster(cli *c, vd_class (*go)(cli *c, vd_roster *roster))
{
    const char *path = c->options.words[0];
    vd_profile *profile = NULL;
    vd_findings *findings = vd_findings_new(path);
    vd_roster *roster = choose_roster(c, path, c->options.words[1], &profile, findings);
    if (roster != NULL && vd_findings_any_wrong(findings)) {
        report_findings(c, findings);
        message(c, "Nothing was sent. Correct the roster first: verdite check %s", path);
        c->worst = MAX(c->worst, VD_CLASS_FILE);
    } else if (roster != NULL) {
        char *was = file_print(path);
        go(c, roster);
        char *now = file_print(path);
        if (strcmp(was, now) != 0) {
            message(c, "note: %s was edited while the round ran. Run it again to take that.", path);
        }
        g_free(was);
        g_free(now);
    }
    vd_roster_free(roster);
    vd_findings_free(findings);
    vd_profile_free(profile);
    return c->worst;
}

/* A row for each address of a plan. NULL: reported. */
static char *rows_of_plan(cli *c, const vd_model *model)
{
    uint16_t setting = vd_model_find_role(model, VD_ROLE_ADDRESS);
    char address[64];
    vd_fault fault = {0};
    vd_address_plan *plan = vd_address_plan_parse(c->options.number, &fault);
    GString *text = g_string_new("");
    if (plan == NULL) {
        report(c, &fault);
    } else if (setting == VD_NONE) {
        place_refuse_address(c, model);
    } else {
        g_string_append_printf(text, "%s\n", model->settings[setting].words->key);
        while (vd_address_plan_next(plan, address, sizeof address)) {
            if (g_ascii_strtoull(address, NULL, 10) != model->address_factory) { /* those are to come from it */
                g_string_append_printf(text, "%s\n", address);
            }
        }
    }
    vd_address_plan_free(plan);
    return g_string_free(text, text->len == 0);
}

static vd_class number(cli *c)
{
    vd_profile *profile = choose_profile(c, c->options.words[0]);
    char *text = profile != NULL ? rows_of_plan(c, vd_profile_model(profile)) : NULL;
    vd_findings *findings = vd_findings_new(c->options.number);
    vd_roster *roster = text != NULL ? vd_roster_parse(text, strlen(text), c->catalogue, profile, findings) : NULL;
    report_findings(c, findings);
    if (roster != NULL && !vd_findings_any_wrong(findings)) {
        round_number(c, roster);
    }
    vd_roster_free(roster);
    vd_findings_free(findings);
    g_free(text);
    vd_profile_free(profile);
    return c->worst;
}

vd_class command_round(cli *c)
{
    bool of_roster = c->options.words[1] != NULL || g_str_has_suffix(c->options.words[0], ".csv");
    if (c->options.number != NULL && of_roster) {
        report_wrong_words(c, "--number numbers units without a roster.", "Name only a profile with it.");
        return c->worst;
    }
    if (c->options.save != NULL && !c->options.replace && g_file_test(c->options.save, G_FILE_TEST_EXISTS)) {
        return report_new(c, vd_fault_of_FILE_THERE(c->options.save));
    }
    return c->options.number != NULL ? number(c) : with_roster(c, round_do);
}

vd_class command_status(cli *c)
{
    return remembers(c) ? with_roster(c, round_status) : c->worst;
}
