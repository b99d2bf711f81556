/* SPDX-License-Identifier: MIT
 * The words of model files stand in the schema in the order of the constants that they become. */
#include "fixtures.h"
#include "model_keys.h"

#include <string.h>

static const struct {
    const char *const *words;
    const char *word;
    int constant;
} meanings[] = {
    {words_new_from, "restart", VD_LINK_FROM_RESTART},
    {words_new_from, "storing", VD_LINK_FROM_STORING},
    {words_new_from, "writing", VD_LINK_FROM_WRITING},
    {words_identify_by, "objects", VD_IDENTIFY_OBJECTS},
    {words_identify_by, "registers", VD_IDENTIFY_REGISTERS},
    {words_proof, "none", VD_PROOF_NONE},
    {words_proof, "bank", VD_PROOF_BANK},
    {words_proof, "restart", VD_PROOF_RESTART},
    {words_proof, "supply", VD_PROOF_SUPPLY},
    {words_proof, "shown", VD_PROOF_SHOWN},
    {words_does, "its-own", VD_DEED_OWN},
    {words_does, "restart", VD_DEED_RESTART},
    {words_does, "factory-defaults", VD_DEED_DEFAULTS},
    {words_does, "clear-memory", VD_DEED_CLEAR},
    {words_severity, "error", VD_ERROR},
    {words_severity, "warning", VD_WARNING},
    {words_severity, "remark", VD_REMARK},
    {words_enforced, "no", VD_NOT_ENFORCED},
    {words_enforced, "writing", VD_ENFORCED_WRITING},
    {words_enforced, "storing", VD_ENFORCED_STORING},
    {words_form, "unsigned", VD_UNSIGNED},
    {words_form, "signed", VD_SIGNED},
    {words_as, "usual", VD_SAID_USUALLY},
    {words_as, "name", VD_SAID_BY_NAME},
    {words_as, "count", VD_SAID_IN_COUNTS},
    {words_access, "read-write", VD_READ_WRITE},
    {words_access, "read-only", VD_READ_ONLY},
    {words_access, "write-only", VD_WRITE_ONLY},
    {words_right, "anyone", VD_ANYONE},
    {words_right, "fitter", VD_FITTER},
    {words_right, "maker", VD_MAKER},
    {words_role, "none", VD_ROLE_NONE},
    {words_role, "address", VD_ROLE_ADDRESS},
    {words_role, "baud", VD_ROLE_BAUD},
    {words_role, "framing", VD_ROLE_FRAMING},
    {words_role, "name", VD_ROLE_NAME},
    {words_keeps, "capitals", VD_KEEPS_CAPITALS},
    {words_keeps, "nearest-step", VD_KEEPS_NEAREST},
    {words_check, "none", VD_CHECK_NONE},
    {words_check, "luhn", VD_CHECK_LUHN},
    {words_check, "mod-10", VD_CHECK_MOD_10},
    {words_check, "mod-97", VD_CHECK_MOD_97},
    {words_signals, "leave", VD_SIGNAL_LEAVE},
    {words_signals, "on", VD_SIGNAL_ON},
    {words_signals, "off", VD_SIGNAL_OFF},
    {words_among, "any", VD_AMONG_ANY},
    {words_among, "unique", VD_AMONG_UNIQUE},
    {words_among, "shared", VD_AMONG_SHARED},
    {words_effect, "restart", VD_EFFECT_RESTART},
    {words_effect, "link", VD_EFFECT_LINK},
    {words_effect, "outage", VD_EFFECT_OUTAGE},
    {words_effect, "tell", VD_EFFECT_TELL},
    {words_effect, "for-good", VD_EFFECT_FOR_GOOD},
    {words_effect, "asked-apart", VD_EFFECT_APART},
};

static void test_words_in_the_order_of_constants(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(meanings); i++) {
        int at = 0;
        while (meanings[i].words[at] != NULL && strcmp(meanings[i].words[at], meanings[i].word) != 0) {
            at++;
        }
        assert_non_null(meanings[i].words[at]);
        if (at != meanings[i].constant) {
            fail_msg("\"%s\" is number %d in the schema, and %d in the library", meanings[i].word, at,
                     meanings[i].constant);
        }
    }
    /* of those that become bits or yes and no the places count as well */
    assert_string_equal(words_cleared_by[0], "button");
    assert_string_equal(words_cleared_by[1], "command");
    assert_string_equal(words_cleared_by[2], "supply");
    assert_int_equal(VD_CLEARED_BY_BUTTON | VD_CLEARED_BY_COMMAND << 1, 1 | 2 << 1);
    assert_string_equal(words_lost[1], "holds");
    assert_string_equal(words_again[1], "restart");
    assert_string_equal(words_guards[1], "writing");
    assert_string_equal(words_order[1], "low-first");
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(test_words_in_the_order_of_constants)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
