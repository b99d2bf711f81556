/* SPDX-License-Identifier: MIT
 * Which profile a command is about: a file, or a visit of before. */
#include "act.h"
#include "../print/print.h"

#include <string.h>
#include <sys/stat.h>

vd_profile *choose_profile(cli *c, const char *path)
{
    vd_past past;
    if (g_str_has_prefix(path, "visit:")) {
        return past_named(c, path, NULL, NULL, &past) ? past_profile(c, &past, false) : NULL;
    }
    vd_findings *findings = vd_findings_new(path);
    vd_profile *profile = vd_profile_load(path, c->catalogue, findings);
    bool wrong = profile == NULL || vd_findings_any_wrong(findings);
    if (wrong) {
        report_findings(c, findings);
        vd_profile_free(profile);
    }
    vd_findings_free(findings);
    struct stat about;
    if (!wrong && holds_secret(profile) && stat(path, &about) == 0 && (about.st_mode & 077) != 0) {
        message(c, "note: others can read the secret in %s. To prevent that: chmod 600", path);
    }
    return wrong ? NULL : profile;
}

bool holds_secret(const vd_profile *profile)
{
    const vd_model *model = vd_profile_model(profile);
    bool holds = false;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        holds = holds || (model->settings[i].secret && vd_set_knows(vd_profile_values(profile), i));
    }
    if (holds) {
        secrets_guard();
    }
    return holds;
}

vd_roster *choose_roster(cli *c, const char *path, const char *profile_path, vd_profile **profile,
                         vd_findings *findings)
{
    *profile = profile_path != NULL ? choose_profile(c, profile_path) : NULL;
    if (profile_path != NULL && *profile == NULL) {
        return NULL;
    }
    vd_roster *roster = vd_roster_load(path, c->catalogue, *profile, findings);
    if (roster == NULL) {
        report_findings(c, findings);
    }
    return roster;
}
