/* SPDX-License-Identifier: MIT
 * Who was where nobody answers now: a unit that was given another address since, or whose change was cut off. */
#include <string.h>

#include "meet.h"
#include "../print/print.h"
#include "verdite/history.h"

#define LOOK_BACK 300u /* visits */

/* Whether a visit was on this line: behind the same adapter, or by the same port where it says nothing of itself. */
static bool was_here(const vd_past *past, const place *p)
{
    bool known = p->adapter != NULL && p->adapter[0] != '\0' && past->adapter[0] != '\0';
    return known ? strcmp(past->adapter, p->adapter) == 0 : strcmp(past->port, p->name) == 0;
}

static size_t first_of(const vd_past *all, size_t at)
{
    size_t first = 0;
    while (strcmp(all[first].unit.serial, all[at].unit.serial) != 0) {
        first++;
    }
    return first;
}

/* Whether the unit of the visit was at this address then and is not any more, as the latest visit to it tells. */
static bool tell(const cli *c, const vd_past *past, const vd_past *latest, uint8_t address)
{
    uint8_t now = latest->at != 0 ? latest->at : latest->from.address;
    char *when = time_words(latest->began);
    bool cut = latest->open && latest->to.address != 0 && latest->to.address != latest->from.address &&
               (latest->from.address == address || latest->to.address == address);
    bool moved = !latest->open && past->from.address == address && now != address && now != 0;
    if (cut) {
        message(c,
                "A change of %s was interrupted here, %s. It may be at address %u or %u. To finish it: verdite finish",
                latest->unit.serial, when, latest->from.address, latest->to.address);
    } else if (moved) {
        message(c, "%s was last seen here at address %u, %s. Try --address %u.", latest->unit.serial, now, when, now);
    }
    g_free(when);
    return cut || moved;
}

void moved_tell(cli *c, const vd_model *model, const place *p, uint8_t address)
{
    vd_past *all = g_new(vd_past, LOOK_BACK);
    const vd_past_query query = {.model = model->key};
    size_t count = address != 0 ? vd_history_find(remembered(c), &query, all, LOOK_BACK) : 0, told = 0;
    for (size_t i = 0; i < count && told < 3; i++) {
        size_t first = first_of(all, i);
        bool said = false;
        for (size_t k = first; k < i; k++) { /* once for each unit */
            said = said || (strcmp(all[k].unit.serial, all[i].unit.serial) == 0 && all[k].from.address == address);
        }
        told += !said && was_here(&all[i], p) && tell(c, &all[i], &all[first], address);
    }
    g_free(all);
}
