/* SPDX-License-Identifier: MIT
 * verdite alarms: what each alarm means. */
#include "commands.h"
#include "../print/print.h"

#include <string.h>

vd_class command_alarms(cli *c)
{
    char **words = c->options.words;
    const vd_model *model = NULL;
    visit v = {0};
    side s = {.name = words[0]};
    if (side_choose(c, &s, &model) && side_open(c, &s, &model, &v)) {
        uint16_t only = VD_NONE;
        if (words[1] == NULL || alarm_named(c, &s.set, words[1], &only)) {
            alarms_show(c, &s.set, only);
        }
    }
    side_free(&s);
    visit_free(&v);
    return c->worst;
}
