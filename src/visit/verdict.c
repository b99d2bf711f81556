/* SPDX-License-Identifier: MIT
 * The verdict on each setting and on the whole: a pure function of what is known. Nothing else is asked here. */
#include "visit_parts.h"

/* It was not read back. Where it was not sent either, and nothing that was sent can have moved it, it is as before. */
static vd_verdict without_reading(const vd_entry *entry, const vd_standing *standing)
{
    bool may_have_moved = (entry->part & (VD_PART_ALONG | VD_PART_RESCALED | VD_PART_SWAYED)) != 0;
    return standing->writes && entry->sending == VD_UNSENT && !may_have_moved ? VD_NOT_SENT : VD_UNKNOWN;
}

/* The unit never shows it, so only its own word is left, and that only while it has not restarted since. */
static vd_verdict without_showing(const vd_entry *entry, const vd_standing *standing)
{
    if (!standing->writes) {
        return VD_CANNOT_READ_BACK;
    }
    bool kept = entry->sending == VD_ACKNOWLEDGED && standing->stored && standing->unbroken;
    return kept ? VD_CANNOT_READ_BACK : without_reading(entry, standing);
}

static vd_verdict of_equal(const vd_entry *entry, const vd_standing *standing)
{
    if ((entry->part & VD_PART_IN_SLOT) != 0) {
        return entry->stored == VD_AS_WANTED ? VD_CONFIRMED : VD_LIVE_ONLY;
    }
    switch ((vd_lasting)standing->lasting) {
    case VD_LASTS_AT_ONCE:
    case VD_LASTS_RESTART: return VD_CONFIRMED;
    case VD_LASTS_IN_BANK:
        return entry->stored == VD_AS_WANTED ? VD_CONFIRMED : entry->stored == VD_UNREAD ? VD_LIVE_ONLY : VD_DIFFERS;
    default: return VD_LIVE_ONLY;
    }
}

vd_verdict vd_entry_verdict(const vd_entry *entry, const vd_standing *standing)
{
    bool asked = (entry->part & (VD_PART_ASKED | VD_TOUCHED)) != 0,
         read = entry->live != VD_UNREAD && standing->same_unit;
    if ((entry->part & VD_PART_ABSENT) != 0) {
        bool wanted = (entry->part & VD_PART_ASKED) != 0;
        return !wanted ? VD_NOT_ASKED : standing->writes ? VD_NOT_SENT : VD_UNKNOWN;
    }
    if (!asked) { /* nobody touched it: all there is to say is whether it moved */
        return read && entry->live != VD_AS_WANTED ? VD_DIFFERS : VD_NOT_ASKED;
    }
    if ((entry->part & VD_PART_SHOWN) == 0) {
        return standing->same_unit ? without_showing(entry, standing) : without_reading(entry, standing);
    }
    if (!read) {
        return without_reading(entry, standing);
    }
    if (entry->live == VD_AS_WANTED && (entry->part & VD_PART_OFF_LINK) != 0) {
        return VD_UNKNOWN; /* it says so, and does not do it */
    }
    if (entry->live == VD_AS_WANTED) {
        return of_equal(entry, standing);
    }
    bool left = standing->writes && entry->sending == VD_UNSENT && entry->live == VD_AS_BEFORE;
    return left ? VD_NOT_SENT : VD_DIFFERS;
}

vd_verdict vd_visit_verdict(const vd_visit *visit, uint16_t setting)
{
    return visit->step == VD_STEP_DONE ? vd_entry_verdict(&visit->ledger[setting], &visit->standing) : VD_NOT_ASKED;
}

static void count(vd_summary *summary, vd_verdict verdict)
{
    uint16_t *const counts[] = {[VD_NOT_ASKED] = NULL,
                                [VD_CONFIRMED] = &summary->confirmed,
                                [VD_LIVE_ONLY] = &summary->live_only,
                                [VD_DIFFERS] = &summary->differing,
                                [VD_CANNOT_READ_BACK] = &summary->unreadable,
                                [VD_NOT_SENT] = &summary->not_sent,
                                [VD_UNKNOWN] = &summary->unknown};
    if (counts[verdict] != NULL) {
        ++*counts[verdict];
        summary->total++;
    }
}

vd_summary vd_visit_summary(const vd_visit *visit)
{
    vd_summary summary = {.whole = VD_WHOLE_NOT};
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        vd_verdict verdict = vd_visit_verdict(visit, i);
        if ((visit->ledger[i].part & (VD_PART_ASKED | VD_PART_CHANGES)) != 0 || verdict == VD_UNKNOWN) {
            count(&summary, verdict);
        } else { /* what only came along: news only where it moved */
            summary.moved = (uint16_t)(summary.moved + (verdict == VD_DIFFERS));
        }
    }
    if (summary.total == 0 || summary.differing + summary.not_sent + summary.unknown + summary.moved > 0) {
        summary.whole = VD_WHOLE_NOT;
    } else if (summary.live_only > 0) {
        summary.whole = VD_WHOLE_LIVE_ONLY;
    } else if (summary.unreadable > 0) {
        summary.whole = VD_WHOLE_EXCEPT;
    } else {
        summary.whole = VD_WHOLE_VERIFIED;
    }
    return summary;
}
