/* SPDX-License-Identifier: MIT
 * Who stands at the ports of a round, and whether anything is done there. */
#include "round.h"

char *standing_name(const vd_identity *who, uint8_t address)
{
    return who->serial[0] == '\0' ? g_strdup_printf("address %u", address)
                                  : g_strdup_printf("%s %s", who->product, who->serial);
}

standing *station_meets(station *s, const char *name, bool *fresh)
{
    standing *one = g_hash_table_lookup(s->standing, name);
    *fresh = one == NULL;
    if (one == NULL) {
        one = g_new0(standing, 1);
        g_hash_table_insert(s->standing, g_strdup(name), one);
    }
    one->missed = 0;
    return one;
}

bool round_is_at_work(const round *r)
{
    bool busy = false;
    for (size_t i = 0; i < r->station_count; i++) {
        busy = busy || r->stations[i].jobs->len > 0;
    }
    return busy;
}
