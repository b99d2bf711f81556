/* SPDX-License-Identifier: MIT
 * What is remembered of units from one run to the next. */
#include "meet.h"
#include "../print/print.h"

vd_store_file *remembered(cli *c)
{
    if (!c->store_tried) {
        char *aside = NULL;
        vd_fault fault = {0};
        c->store_tried = true;
        c->store = vd_store_open(NULL, &aside, &fault);
        if (fault.status != VD_OK) {
            c->store_shut = true;
            report(c, &fault);
        }
        if (aside != NULL) {
            message(c, "What was remembered of earlier units is damaged; it was set aside as %s.", aside);
        }
        g_free(aside);
    }
    return c->store;
}

bool remembers(cli *c)
{
    if (remembered(c) == NULL) {
        report_new(c, vd_fault_of_NO_STORE());
    }
    return c->store != NULL;
}
