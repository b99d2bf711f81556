/* SPDX-License-Identifier: MIT
 * verdite round, verdite status: the units of a roster, one after another or many at once; and how far they are. */
#include "commands.h"
#include "../round/round.h"

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
        go(c, roster);
    }
    vd_roster_free(roster);
    vd_findings_free(findings);
    vd_profile_free(profile);
    return c->worst;
}

vd_class command_round(cli *c)
{
    return with_roster(c, round_do);
}

vd_class command_status(cli *c)
{
    return remembers(c) ? with_roster(c, round_status) : c->worst;
}
