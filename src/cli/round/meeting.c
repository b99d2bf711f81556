/* SPDX-License-Identifier: MIT
 * A unit that was found: which row it is for, and what is done with it. */
#include "round.h"

#include <string.h>

#define GIVE_UP 3u /* visits to a unit that is cut off each time */

/* "2 minutes", in whole ones. Free it. */
static char *since_words(int64_t when)
{
    int64_t minutes = (now_of_day() - when) / 60000;
    return minutes < 1    ? g_strdup("just now") /* also where a clock was put back */
           : minutes < 60 ? g_strdup_printf("%d minute%s ago", (int)minutes, minutes == 1 ? "" : "s")
                          : g_strdup_printf("%d hour%s ago", (int)(minutes / 60), minutes < 120 ? "" : "s");
}

/* Where it was set to, it was read back. Where it answers at another address, it has lost what it was given. */
static void meet_again(round *r, round_row *row, const vd_found *found)
{
    const char *who = found->identity.serial[0] != '\0' ? found->identity.serial : "The unit";
    if (found->address != row->address) {
        row->before = row->when;
        row->state = ROW_WAITING;
        g_free(row->words);
        row->words = g_strdup("answers at another address");
        round_tell(r, true, "%s was set to address %u and answers at %u. It is read again.", who, row->address,
                   found->address);
        return;
    }
    char *since = since_words(row->when);
    char *at = found->address != 0 ? g_strdup_printf(" to address %u", found->address) : g_strdup("");
    round_tell(r, false, "%s was set%s %s: fine.", who, at, since);
    g_free(at);
    g_free(since);
}

static void tell_shared(round *r, const vd_found *found)
{
    bool both = found->other.serial[0] != '\0';
    round_tell(r, true, "Two units answer at address %u%s%s%s%s. Nothing was written to them. Unplug one.",
               found->address, both ? ": " : "", both ? found->other.serial : "", both ? ", " : "",
               both ? found->identity.serial : "");
}

/* Whose code was scanned before he was met. */
static round_row *row_by_code(const round *r, const vd_found *found)
{
    round_row *row = r->held != NULL ? rows_of_code(r, r->held) : NULL;
    bool fits = row != NULL && row->about.serial[0] == '\0' && row->about.model == found->model &&
                (row->serial == NULL || strcmp(row->serial, found->identity.serial) == 0);
    return fits ? row : NULL;
}

/* Who has no row of his own. */
static round_row *row_by_order(round *r, const vd_found *found)
{
    round_row *row = r->c->options.by_order || r->numbers ? rows_in_order(r, found->model, found->address) : NULL;
    if (row != NULL && r->numbers) {
        row->serial = g_strdup(found->identity.serial);
    } else if (row != NULL) {
        char *words = row_words(row);
        message(r->c, "By order: %s becomes %s.", found->identity.serial, words);
        row->serial = g_strdup(found->identity.serial);
        g_free(words);
    }
    return row;
}

/* The code that was scanned is used up; the unit may be another one. */
static void tell_if_other(round *r, const round_row *row)
{
    if (rows_of_code(r, r->held) != row) {
        char *words = row_words(row);
        message(r->c, "note: %s answers, not %s, which was scanned.", words, r->held);
        g_free(words);
    }
    g_clear_pointer(&r->held, g_free);
}

static void tell_unlisted(round *r, const vd_found *found)
{
    const char *serial = found->identity.serial;
    const round_row *almost = rows_but_zeros(r, serial);
    bool open = rows_in_order(r, found->model, found->address) != NULL;
    char *more = almost != NULL ? g_strdup_printf(" The list says %s in line %u: a spreadsheet drops zeros.",
                                                  almost->about.serial, almost->about.number)
                                : g_strdup(open ? " To give it the next free row: --by-order" : "");
    round_tell(r, true, "%s %s is not on the list. Nothing was written to it.%s", found->identity.product, serial,
               more);
    g_free(more);
}

static void meet_unit(round *r, station *s, const vd_found *found, standing *one, bool fresh)
{
    bool nameless = found->identity.serial[0] == '\0';
    round_row *row = nameless ? rows_at(r, found->address) : rows_of_serial(r, found->identity.serial);
    row = row == NULL ? row_by_code(r, found) : row;
    row = row == NULL && (fresh || (r->numbers && !one->settled)) ? row_by_order(r, found) : row;
    if (row == NULL && rows_want_code(r, found->model)) {
        if (fresh) {
            round_tell(r, true, "Scan or type the code of the unit %s.",
                       nameless ? "that was plugged in" : found->identity.serial);
        }
        r->awaits = true;
        return; /* until that is done it stands there */
    }
    if (row == NULL && fresh) {
        tell_unlisted(r, found);
    } else if (row != NULL && row->about.model != found->model && fresh) {
        round_tell(r, true, "%s is a %s, and the list says %s. Nothing was written to it.", found->identity.serial,
                   found->model->key, row->about.model->key);
    } else if (row != NULL && row->state == ROW_DONE && fresh) {
        meet_again(r, row, found);
    }
    bool open = row != NULL && row->about.model == found->model && row->state != ROW_DONE &&
                row->state != ROW_AT_WORK && (row->state != ROW_CUT_OFF || row->tries < GIVE_UP || fresh);
    bool freed = row != NULL && row->blocked && row->moved != r->moved; /* perhaps its address is free by now */
    bool due = open && (fresh || freed || !one->settled);
    one->settled = true; /* a unit that is cut off is met again */
    if (due && r->held != NULL) {
        tell_if_other(r, row);
    }
    if (due) {
        job_add(r, s, row, found);
    }
}

/* What is wrong with someone, told once it was so for a while: a unit that starts is soon well. */
static void meet_trouble(round *r, const vd_found *found, standing *one)
{
    if (!one->settled) {
        one->settled = true;
        report(r->c, &found->fault);
        round_tell(r, true, "Nothing was written to it.");
    }
}

void meeting_decide(round *r, station *s, const vd_found *found)
{
    bool fresh = false, shared = vd_found_is_shared(found);
    char *name =
        shared ? g_strdup_printf("shared %u", found->address) : standing_name(&found->identity, found->address);
    standing *one = station_meets(s, name, &fresh);
    one->address = found->address;
    g_free(name);
    if (shared) {
        if (fresh) {
            tell_shared(r, found);
        }
    } else if (found->status != VD_OK) {
        meet_trouble(r, found, one);
    } else {
        meet_unit(r, s, found, one, fresh);
    }
}
