/* SPDX-License-Identifier: MIT
 * The verdict on a setting, over every combination of what can be known of it: stated here anew, from the words that a
 * report prints, and held against the function. */
#include "fixtures.h"

/* What each word promises, as the person who reads it takes it. */
static const char *broken_promise(vd_verdict verdict, const vd_entry *e, const vd_standing *s)
{
    bool shown = (e->part & VD_PART_SHOWN) != 0, moved_by_others = (e->part & (VD_PART_ALONG | VD_PART_RESCALED)) != 0;
    bool elsewhere = (e->part & VD_PART_OFF_LINK) != 0; /* it says where it is reached, and is reached elsewhere */
    bool read = s->same_unit && shown && e->live != VD_UNREAD;
    bool outlasted = (e->part & VD_PART_OUTLASTED) != 0 && e->sending == VD_UNSENT; /* a restart, by an earlier visit */
    bool lasts = (s->lasting == VD_LASTS_UNPROVED && outlasted) || s->lasting == VD_LASTS_AT_ONCE ||
                 s->lasting == VD_LASTS_RESTART || (s->lasting == VD_LASTS_IN_BANK && e->stored == VD_AS_WANTED);
    switch (verdict) {
    case VD_CONFIRMED:
        return read && e->live == VD_AS_WANTED && lasts && !elsewhere ? NULL : "confirmed without having read it so";
    case VD_LIVE_ONLY:
        return read && e->live == VD_AS_WANTED && !lasts && !elsewhere ? NULL : "live only, but more or less is known";
    case VD_DIFFERS:
        return read && (e->live != VD_AS_WANTED || (e->stored != VD_AS_WANTED && e->stored != VD_UNREAD))
                   ? NULL
                   : "differs without having read it so";
    case VD_CANNOT_READ_BACK:
        return !shown && (!s->writes || (e->sending == VD_ACKNOWLEDGED && s->stored && s->unbroken))
                   ? NULL
                   : "acknowledged without being sure";
    case VD_NOT_SENT:
        return s->writes && e->sending == VD_UNSENT && (read ? e->live == VD_AS_BEFORE : !moved_by_others)
                   ? NULL
                   : "not sent, but it may have moved";
    case VD_UNKNOWN: return !read || (elsewhere && e->live == VD_AS_WANTED) ? NULL : "unknown though it was read";
    case VD_NOT_ASKED: return NULL;
    }
    return "no such verdict";
}

static bool is_possible(const vd_entry *e)
{
    bool shown = (e->part & VD_PART_SHOWN) != 0;
    return (shown || (e->live == VD_UNREAD && e->stored == VD_UNREAD)) && (e->part & VD_PART_ABSENT) == 0;
}

static void test_every_combination(void **state)
{
    (void)state;
    unsigned combinations = 0;
    bool met[VD_UNKNOWN + 1] = {false};
    for (unsigned parts = 0; parts < 1024; parts++) {
        unsigned part =
            parts % 256 | ((parts & 256) == 0 ? 0 : VD_PART_OFF_LINK) | ((parts & 512) == 0 ? 0 : VD_PART_OUTLASTED);
        for (unsigned fields = 0; fields < VD_SENDING_COUNT * VD_READING_COUNT * VD_READING_COUNT; fields++) {
            for (unsigned whole = 0; whole < VD_LASTING_COUNT * 16u; whole++) {
                const vd_entry entry = {.part = (uint16_t)part,
                                        .sending = (uint8_t)(fields % VD_SENDING_COUNT),
                                        .live = (uint8_t)(fields / VD_SENDING_COUNT % VD_READING_COUNT),
                                        .stored = (uint8_t)(fields / VD_SENDING_COUNT / VD_READING_COUNT)};
                const vd_standing standing = {.lasting = (uint8_t)(whole / 16),
                                              .writes = whole & 1,
                                              .same_unit = whole >> 1 & 1,
                                              .stored = whole >> 2 & 1,
                                              .unbroken = whole >> 3 & 1};
                vd_verdict verdict = vd_entry_verdict(&entry, &standing);
                bool asked = (part & VD_PART_ASKED) != 0;
                const char *broken = is_possible(&entry) ? broken_promise(verdict, &entry, &standing) : NULL;
                if (broken != NULL || (asked && verdict == VD_NOT_ASKED)) {
                    fail_msg("part %x, sending %u, live %u, stored %u, whole %x: verdict %d: %s", part, entry.sending,
                             entry.live, entry.stored, whole, verdict, broken != NULL ? broken : "no verdict");
                }
                met[verdict] = true;
                combinations++;
            }
        }
    }
    for (int verdict = VD_NOT_ASKED; verdict <= VD_UNKNOWN; verdict++) {
        assert_true(met[verdict]);
    }
    assert_true(combinations > 1000000);
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(test_every_combination)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
