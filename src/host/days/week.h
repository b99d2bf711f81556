/* SPDX-License-Identifier: MIT
 * Days that are on some weekdays only. */
#ifndef VD_HOST_DAYS_WEEK_H
#define VD_HOST_DAYS_WEEK_H

#include "../files/yaml_file.h"
#include "verdite/day.h"

/* A list of weekdays under a key, bit 0 is Monday; 0: the key is missing. False with a finding. */
bool week_take_days(yaml_file *file, const yaml_node_t *map, const char *key, uint8_t *on);
/* Puts days on their weekdays into a week of seven. Where none of them names a weekday `*count` stays, and the days
 * are one behind the other. False, with a finding at `node`: a weekday has no day, or two. */
bool week_make(yaml_file *file, const yaml_node_t *node, const vd_day *days, const uint8_t *on, vd_day week[7],
               gsize *count);

#endif
