/* SPDX-License-Identifier: MIT
 * Plans of addresses, as somebody types them. */
#include <setjmp.h>
#include <stdarg.h>
#include <stddef.h>
#include <stdint.h>
#include <cmocka.h>

#include <string.h>

#include "verdite/roster.h"

/* The first addresses of each plan; "-": it is none. */
static const struct {
    const char *plan, *gives;
} plans[] = {
    {"2-5", "2 3 4 5"},
    {"7", "7"},
    {"2-9 step 3", "2 5 8"},
    {"from 245", "245 246 247"},
    {"from 2 step 100 but 102", "2 202"},
    {"2-6 but 3, 5", "2 4 6"},
    {"10.8.3.16/28 but .17 .19", "10.8.3.18 10.8.3.20 10.8.3.21 10.8.3.22"},
    {"10.8.3.20/30", "10.8.3.21 10.8.3.22"},
    {"10.8.3.21/30", "10.8.3.21 10.8.3.22"},
    {"192.0.2.0/24 step 100", "192.0.2.1 192.0.2.101 192.0.2.201"},
    {"192.0.2.4/31", "192.0.2.5"},
    {"2001:db8::/64 but 2001:db8::2", "2001:db8::1 2001:db8::3 2001:db8::4 2001:db8::5"},
    {"2001:db8::10/126", "2001:db8::11 2001:db8::12 2001:db8::13"},
    {"", "-"},
    {"from", "-"},
    {"0-5", "-"},
    {"5-2", "-"},
    {"2-248", "-"},
    {"2-x", "-"},
    {"2-40 step", "-"},
    {"2-40 step 0", "-"},
    {"2-40 but", "-"},
    {"2-40 but .1", "-"},
    {"2-40 7", "-"},
    {"10.8.3.16", "-"},
    {"10.8.3.16/33", "-"},
    {"10.8.3.256/24", "-"},
    {"10.8.3.16/28 but .256", "-"},
    {"from 10.8.3.0/24", "-"},
};

static void test_plans(void **state)
{
    (void)state;
    for (size_t i = 0; i < sizeof plans / sizeof plans[0]; i++) {
        vd_fault fault = {0};
        vd_address_plan *plan = vd_address_plan_parse(plans[i].plan, &fault);
        char address[64];
        GString *all = g_string_new(plan == NULL ? "-" : "");
        for (int n = 0; plan != NULL && n < 4 && vd_address_plan_next(plan, address, sizeof address); n++) {
            g_string_append_printf(all, "%s%s", n > 0 ? " " : "", address);
        }
        if (strcmp(all->str, plans[i].gives) != 0) {
            fail_msg("\"%s\" gives %s, not %s", plans[i].plan, all->str, plans[i].gives);
        }
        assert_int_equal(fault.status, plan == NULL ? VD_PLAN_WRONG : VD_OK);
        g_string_free(all, TRUE);
        vd_address_plan_free(plan);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(test_plans)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
