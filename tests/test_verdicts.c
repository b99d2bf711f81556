/* SPDX-License-Identifier: MIT
 * The verdict on a setting, over every combination of what can be known of it: stated here anew, from the words that a
 * report prints, and held against the function. Likewise what proves a restart. */
#include "fixtures.h"

/* What each word promises, as the person who reads it takes it. */
static const char *broken_promise(vd_verdict verdict, const vd_entry *e, const vd_standing *s)
{
    bool shown = (e->part & VD_PART_SHOWN) != 0, absent = (e->part & VD_PART_ABSENT) != 0;
    bool moved_by_others = (e->part & (VD_PART_ALONG | VD_PART_RESCALED | VD_PART_SWAYED)) != 0;
    bool elsewhere = (e->part & VD_PART_OFF_LINK) != 0; /* it says where it is reached, and is reached elsewhere */
    bool read = s->same_unit && shown && e->live != VD_UNREAD && !absent;
    /* What is in a slot lasts where loading the slot again has shown it, whatever else has been seen. */
    bool lasts = (e->part & VD_PART_IN_SLOT) != 0 ? e->stored == VD_AS_WANTED
                                                  : s->lasting == VD_LASTS_AT_ONCE || s->lasting == VD_LASTS_RESTART ||
                                                        (s->lasting == VD_LASTS_IN_BANK && e->stored == VD_AS_WANTED);
    bool otherwise = s->lasting == VD_LASTS_IN_BANK && e->stored != VD_AS_WANTED && e->stored != VD_UNREAD;
    switch (verdict) {
    case VD_CONFIRMED:
        return read && e->live == VD_AS_WANTED && lasts && !elsewhere ? NULL : "confirmed without having read it so";
    case VD_LIVE_ONLY:
        return read && e->live == VD_AS_WANTED && !lasts && !elsewhere ? NULL : "live only, but more or less is known";
    case VD_DIFFERS: return read && (e->live != VD_AS_WANTED || otherwise) ? NULL : "differs without having read it so";
    case VD_CANNOT_READ_BACK:
        return !shown && !absent && (!s->writes || (e->sending == VD_ACKNOWLEDGED && s->stored && s->unbroken))
                   ? NULL
                   : "acknowledged without being sure";
    case VD_NOT_SENT:
        return s->writes && (absent || (e->sending == VD_UNSENT && (read ? e->live == VD_AS_BEFORE : !moved_by_others)))
                   ? NULL
                   : "not sent, but it may have moved";
    case VD_UNKNOWN: return !read || (elsewhere && e->live == VD_AS_WANTED) ? NULL : "unknown though it was read";
    case VD_NOT_ASKED: return NULL;
    }
    return "no such verdict";
}

static bool is_possible(const vd_entry *e)
{
    bool told = (e->part & VD_PART_SHOWN) != 0 && (e->part & VD_PART_ABSENT) == 0;
    return told || (e->live == VD_UNREAD && e->stored == VD_UNREAD);
}

/* The parts that a word hangs on; the rest must change nothing, each by itself and all together. */
static const uint16_t telling[] = {VD_PART_ASKED,  VD_PART_CHANGES,  VD_PART_ALONG,  VD_PART_RESCALED, VD_PART_SHOWN,
                                   VD_PART_ABSENT, VD_PART_OFF_LINK, VD_PART_SWAYED, VD_PART_IN_SLOT};
enum { TELLING = sizeof telling / sizeof telling[0] };

static bool met[VD_UNKNOWN + 1];
static unsigned combinations;

static void judge(uint16_t part, uint16_t rest, unsigned fields, unsigned whole)
{
    const vd_entry entry = {.part = (uint16_t)(part | rest),
                            .sending = (uint8_t)(fields % VD_SENDING_COUNT),
                            .live = (uint8_t)(fields / VD_SENDING_COUNT % VD_READING_COUNT),
                            .stored = (uint8_t)(fields / VD_SENDING_COUNT / VD_READING_COUNT)};
    const vd_standing standing = {.lasting = (uint8_t)(whole / 16),
                                  .writes = whole & 1,
                                  .same_unit = whole >> 1 & 1,
                                  .stored = whole >> 2 & 1,
                                  .unbroken = whole >> 3 & 1};
    if (!is_possible(&entry)) {
        return;
    }
    vd_verdict verdict = vd_entry_verdict(&entry, &standing);
    bool asked = (part & VD_PART_ASKED) != 0, other = (part & ~(unsigned)VD_PART_ASKED) != 0;
    const char *broken = broken_promise(verdict, &entry, &standing);
    broken = broken == NULL && asked && verdict == VD_NOT_ASKED ? "no verdict" : broken;
    broken = broken == NULL && !asked && !other && entry.live == VD_UNREAD && verdict != VD_NOT_ASKED
                 ? "nobody asked, and nothing moved"
                 : broken;
    if (broken != NULL) {
        fail_msg("part %x, sending %u, live %u, stored %u, whole %x: verdict %d: %s", entry.part, entry.sending,
                 entry.live, entry.stored, whole, verdict, broken);
    }
    met[verdict] = true;
    combinations++;
}

static void test_every_combination(void **state)
{
    (void)state;
    uint16_t rests[18] = {0};
    size_t rest_count = 1;
    unsigned told = 0;
    for (size_t i = 0; i < TELLING; i++) {
        told |= telling[i];
    }
    for (unsigned bit = 1; bit <= 0xFFFF; bit <<= 1) {
        if ((told & bit) == 0) {
            rests[rest_count++] = (uint16_t)bit;
        }
    }
    rests[rest_count++] = (uint16_t)~told;
    assert_int_equal(rest_count, 2 + 16 - TELLING);
    for (unsigned parts = 0; parts < 1u << TELLING; parts++) {
        uint16_t part = 0;
        for (size_t i = 0; i < TELLING; i++) {
            part = (uint16_t)(part | ((parts >> i & 1u) != 0 ? telling[i] : 0));
        }
        for (size_t rest = 0; rest < rest_count; rest++) {
            for (unsigned fields = 0; fields < VD_SENDING_COUNT * VD_READING_COUNT * VD_READING_COUNT; fields++) {
                for (unsigned whole = 0; whole < VD_LASTING_COUNT * 16u; whole++) {
                    judge(part, rests[rest], fields, whole);
                }
            }
        }
    }
    for (int verdict = VD_NOT_ASKED; verdict <= VD_UNKNOWN; verdict++) {
        assert_true(met[verdict]);
    }
    assert_true(combinations > 1000000);
}

/* A plug that was out brings silence, a port that went, and what the unit says when it is plugged in; only what that
 * cannot bring about is a proof, and a running time that went on shows that there was no restart. */
static void test_what_proves_a_restart(void **state)
{
    (void)state;
    for (unsigned seen = 0; seen < 128; seen++) {
        bool ran_on = seen & 1, ran_anew = seen >> 1 & 1, undone = seen >> 2 & 1, started_after = seen >> 5 & 1;
        if (vd_seen_proves_restart(seen) != (!ran_on && (ran_anew || undone || started_after))) {
            fail_msg("seen %x", seen);
        }
    }
    assert_int_equal(VD_SEEN_RAN_ON | VD_SEEN_RAN_ANEW | VD_SEEN_UNDONE | VD_SEEN_START_AFTER, 1 + 2 + 4 + 32);
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(test_every_combination),
                                       cmocka_unit_test(test_what_proves_a_restart)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
