/* SPDX-License-Identifier: MIT
 * What no two units may have: whether the store knows another one that has it.
 */
#include "verdite/history.h"

#include <string.h>

#define LOOK_BACK 1000u /* visits */

static bool met_since(const vd_past *all, size_t at)
{
    bool since = false;
    for (size_t i = 0; i < at && !since; i++) {
        since = strcmp(all[i].unit.serial, all[at].unit.serial) == 0;
    }
    return since;
}

bool vd_history_alike(vd_store_file *store, const vd_visit *visit, uint16_t setting, vd_past *other)
{
    const vd_model *model = vd_visit_live(visit)->model;
    const vd_setting *about = &model->settings[setting];
    const char *serial = vd_visit_identity(visit)->serial;
    vd_value wanted = vd_set_get(vd_visit_desired(visit), setting);
    vd_value initial = vd_set_initial(vd_visit_live(visit), setting);
    char said[256];
    vd_writer writer = vd_writer_start(said, sizeof said);
    if (about->among != VD_AMONG_UNIQUE || !vd_visit_changes(visit, setting) || wanted.type == VD_NOTHING ||
        about->secret || vd_value_equal(&wanted, &initial)) {
        return false;
    }
    vd_value_print(about, &wanted, &writer);
    vd_past *all = g_new(vd_past, LOOK_BACK);
    const vd_past_query of_model = {.model = model->key};
    size_t count = vd_history_find(store, &of_model, all, LOOK_BACK);
    bool found = false;
    for (size_t i = 0; i < count && !found; i++) {
        vd_past_value had;
        found = strcmp(all[i].unit.serial, serial) != 0 && !met_since(all, i) &&
                vd_history_of_setting(store, model->key, all[i].unit.serial, about->words->key, &had, 1) > 0 &&
                strcmp(had.value, said) == 0 && !had.idle;
        *other = found ? all[i] : *other;
    }
    g_free(all);
    return found;
}
