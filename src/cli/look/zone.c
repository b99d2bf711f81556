/* SPDX-License-Identifier: MIT
 * The zone of times without one. */
#include "look.h"
#include "../print/print.h"

#include <string.h>

bool zone_take(cli *c, int16_t *zone)
{
    static const vd_setting_words words = {.key = "zone"};
    static const vd_setting about = {
        .words = &words, .measure = "", .traits = &vd_type_zone, .tick = 1, .step = 1, .min = -720, .max = 840};
    vd_typed typed;
    vd_fault fault = {0};
    *zone = VD_NO_ZONE;
    if (c->options.zone == NULL) {
        return true;
    }
    if (g_ascii_strcasecmp(c->options.zone, "Z") == 0 || g_ascii_strcasecmp(c->options.zone, "UTC") == 0) {
        *zone = 0;
        return true;
    }
    if (vd_setting_parse(&about, c->options.zone, strlen(c->options.zone), &typed, &fault) != VD_OK ||
        vd_setting_check(&about, &typed.value, &fault) != VD_OK) {
        report(c, &fault);
        c->worst = VD_CLASS_USAGE;
        return false;
    }
    *zone = (int16_t)typed.value.number;
    return true;
}
