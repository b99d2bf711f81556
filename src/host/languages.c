/* SPDX-License-Identifier: MIT
 * The table of all languages: a row makes one known to files, searches, traces and benches. */
#include "verdite/all_languages.h"

#include "verdite/lines_unit.h"
#include "verdite/modbus_ascii.h"
#include "verdite/modbus_unit.h"

#include <string.h>

#define LANGUAGES(X)                                                                                                   \
    X(modbus_rtu)                                                                                                      \
    X(modbus_ascii)                                                                                                    \
    X(commands)                                                                                                        \
    X(queries)                                                                                                         \
    X(sentences)

#define DESK(name) &vd_##name##_desk,
#define UNIT(name) &vd_##name##_unit,

const vd_desk *const vd_desks[] = {LANGUAGES(DESK) NULL};
static const vd_unit_language *const units[] = {LANGUAGES(UNIT) NULL};

const vd_desk *vd_desk_named(const char *name)
{
    for (const vd_desk *const *desk = vd_desks; *desk != NULL; desk++) {
        if (strcmp((*desk)->language->name, name) == 0) {
            return *desk;
        }
    }
    return NULL;
}

const vd_desk *vd_desk_of(const vd_model *model)
{
    return vd_desk_in(vd_desks, model->language);
}

const vd_unit_language *vd_unit_language_of(const vd_model *model)
{
    for (size_t i = 0; vd_desks[i] != NULL; i++) {
        if (vd_desks[i]->language == model->language) {
            return units[i];
        }
    }
    return NULL;
}
