/* SPDX-License-Identifier: MIT
 * What writing a setting, or an action, brings about besides. */
#include "verdite/causes.h"

#include <stddef.h>

const vd_cause *vd_causes_find(const vd_causes *causes, vd_effect effect)
{
    for (uint8_t i = 0; i < causes->count; i++) {
        if (causes->list[i].effect == effect) {
            return &causes->list[i];
        }
    }
    return NULL;
}

bool vd_cause_wants_yes(const vd_cause *cause)
{
    return cause->effect == VD_EFFECT_TELL || cause->effect == VD_EFFECT_FOR_GOOD || cause->effect == VD_EFFECT_APART;
}
