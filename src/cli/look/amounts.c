/* SPDX-License-Identifier: MIT
 * Amounts of which a least and a most are known, as people read them: rounded outward, so that the truth lies between.
 */
#include "intervals.h"

static char *tenths_text(int64_t number)
{
    return number % 10 == 0 || number >= 1000
               ? g_strdup_printf("%" G_GINT64_FORMAT, number / 10)
               : g_strdup_printf("%" G_GINT64_FORMAT ".%d", number / 10, (int)(number % 10));
}

static char *range_text(int64_t least, int64_t most, const char *unit)
{
    if (least == most && least % 10 != 0) { /* it is exact */
        return g_strdup_printf("%" G_GINT64_FORMAT ".%d %s", least / 10, (int)(least % 10), unit);
    }
    char *from = tenths_text(least), *to = tenths_text(most + (most >= 1000 && most % 10 > 0 ? 10 - most % 10 : 0));
    char *text =
        g_str_equal(from, to) ? g_strdup_printf("%s %s", from, unit) : g_strdup_printf("%s to %s %s", from, to, unit);
    g_free(from);
    g_free(to);
    return text;
}

/* A unit, and from how many of the smallest on it is taken. */
typedef struct unit {
    const char *sign;
    int64_t number, below; /* of the smallest */
    int64_t from;
} unit;

static char *in_units(const vd_range *range, const unit *units, gsize count)
{
    int64_t least = 0, most = 0;
    gsize k = 0;
    while (k + 1 < count && range->most.number / range->most.below >= units[k + 1].from) {
        k++;
    }
    return vd_range_outward(range, (vd_ratio){10 * units[k].below, units[k].number}, &least, &most)
               ? range_text(least, most, units[k].sign)
               : g_strdup("not known");
}

char *played_bytes(const vd_range *range)
{
    static const unit units[] = {{"B", 1, 1, 0}, {"kB", 1000, 1, 10000}, {"MB", 1000000, 1, 1000000}};
    return range->known ? in_units(range, units, G_N_ELEMENTS(units)) : g_strdup("not known");
}

char *played_days(const vd_range *range)
{
    static const unit units[] = {{"days", 1, 1, 0}, {"months", 365, 12, 90}, {"years", 365, 1, 1095}};
    return range->known ? in_units(range, units, G_N_ELEMENTS(units)) : g_strdup("not known");
}

char *played_money(const vd_range *range, const char *currency)
{
    int64_t least = 0, most = 0;
    if (!vd_range_outward(range, (vd_ratio){100, 1}, &least, &most)) {
        return g_strdup("not known");
    }
    char *from = g_strdup_printf("%" G_GINT64_FORMAT ".%02d", least / 100, (int)(least % 100));
    char *to = g_strdup_printf("%" G_GINT64_FORMAT ".%02d", most / 100, (int)(most % 100));
    char *text =
        least == most ? g_strdup_printf("%s %s", from, currency) : g_strdup_printf("%s to %s %s", from, to, currency);
    g_free(from);
    g_free(to);
    return text;
}
