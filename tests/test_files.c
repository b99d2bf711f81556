/* SPDX-License-Identifier: MIT
 * Files that people edit: profiles that keep their bytes, faults with line and column, models and benches. */
#include "fixtures.h"

#include <glib/gstdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>

static char folder[64];

static char *path_of(const char *name)
{
    return g_build_filename(folder, name, NULL);
}

static char *written(const char *name, const char *text)
{
    char *path = path_of(name);
    assert_true(g_file_set_contents(path, text, -1, NULL));
    return path;
}

static const vd_finding *first(const vd_findings *findings)
{
    assert_true(findings->list->len > 0);
    return &g_array_index(findings->list, vd_finding, 0);
}

static vd_profile *load(const char *path, vd_findings **findings)
{
    static vd_catalogue *catalogue;
    if (catalogue == NULL) {
        g_setenv("VERDITE_MODELS", source_path("models"), TRUE);
        catalogue = vd_catalogue_open();
    }
    *findings = vd_findings_new(path);
    return vd_profile_load(path, catalogue, *findings);
}

#define HEAD "verdite-profile: 1\nmodel: dowel\n"

static const struct {
    const char *before, *key, *typed, *after;
} edits[] = {
    {HEAD "settings:\n  unit.light: low # dim\n", "unit.light", "HIGH", HEAD "settings:\n  unit.light: high # dim\n"},
    {HEAD "settings:\n  unit.light:   'low'\n\n# end\n", "unit.light", "off",
     HEAD "settings:\n  unit.light:   \"off\"\n\n# end\n"},
    {HEAD "settings:\r\n  unit.light: low\r\n", "unit.averaging", "1.5 s",
     HEAD "settings:\r\n  unit.light: low\r\n  unit.averaging: 1.5 s\r\n"},
    {"\xEF\xBB\xBF# H\xC3\xB6he \xE2\x82\xAC\n" HEAD "settings: # \xC3\xBC\n  temperature.offset: -0.5 \xC2\xB0"
     "C   # \xC3\xA4\n",
     "temperature.offset", "0,4",
     "\xEF\xBB\xBF# H\xC3\xB6he \xE2\x82\xAC\n" HEAD "settings: # \xC3\xBC\n  temperature.offset: 0.4 \xC2\xB0"
     "C   # \xC3\xA4\n"},
    {HEAD "settings:\n    unit.light: low\n    relay.hold: 1 h # long\n\n", "unit.name", "a \"b\"",
     HEAD "settings:\n    unit.light: low\n    unit.name: \"a \\\"b\\\"\"\n    relay.hold: 1 h # long\n\n"},
    {HEAD "settings: {unit.light: low, relay.hold: 0 s}\n", "relay.hold", "90 s",
     HEAD "settings: {unit.light: low, relay.hold: 1 min 30 s}\n"},
    {HEAD "settings: {}\n", "line.address", "4", HEAD "settings: {line.address: 4}\n"},
    {HEAD "settings:\n", "line.address", "4", HEAD "settings:\n  line.address: 4\n"},
    {HEAD "settings: # none yet", "line.address", "4", HEAD "settings: # none yet\n  line.address: 4"},
    {HEAD, "line.address", "4", HEAD "settings:\n  line.address: 4\n"},
    {HEAD "settings:\n  unit.light: low", "unit.mains", "none",
     HEAD "settings:\n  unit.light: low\n  unit.mains: none"},
    {HEAD "settings:\n  unit.name:\n  unit.light: low\n", "unit.name", "Ling",
     HEAD "settings:\n  unit.name: \"Ling\"\n  unit.light: low\n"},
    {HEAD "settings:\n  unit.name: |\n    Ling\n  unit.light: low\n", "unit.name", "Yarrow",
     HEAD "settings:\n  unit.name: \"Yarrow\"\n  unit.light: low\n"},
    {HEAD "settings:\n  ? unit.light\n  : low\n", "unit.light", "high", HEAD "settings:\n  ? unit.light\n  : high\n"},
    {HEAD "settings:\n  weight.latching: off\n", "weight.latching", "yes",
     HEAD "settings:\n  weight.latching: \"on\"\n"},
    {HEAD "settings:\n  line.framing: 8E1\n", "line.framing", "8n2", HEAD "settings:\n  line.framing: \"8N2\"\n"},
};

static void test_edits_touch_one_value(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(edits); i++) {
        vd_findings *findings = NULL;
        vd_fault fault = {0};
        size_t length = 0;
        char *path = written("edit.yaml", edits[i].before);
        vd_profile *profile = load(path, &findings);
        assert_non_null(profile);
        if (vd_profile_put(profile, edits[i].key, edits[i].typed, &fault) != VD_OK ||
            strcmp(vd_profile_text(profile, &length), edits[i].after) != 0) {
            fail_msg("edit %zu gave <%s> %s", i, vd_profile_text(profile, &length), fault.said);
        }
        /* what was refused changes nothing */
        assert_int_not_equal(vd_profile_put(profile, edits[i].key, "\x01nonsense that nothing takes at all", NULL),
                             VD_OK);
        assert_string_equal(vd_profile_text(profile, &length), edits[i].after);
        vd_profile_free(profile);
        vd_findings_free(findings);
        g_free(path);
    }
}

static const struct {
    const char *text;
    unsigned line, column;
    vd_status status;
    const char *words;
} faults[] = {
    {"", 0, 0, VD_WRONG_SHAPE, "a profile"},
    {"just words\n", 0, 0, VD_WRONG_SHAPE, "a profile"},
    {"- a\n- b\n", 0, 0, VD_WRONG_SHAPE, ""},
    {"model: dowel\n", 1, 1, VD_KEY_MISSING, "verdite-profile"},
    {"verdite-profile: 9\nmodel: dowel\n", 1, 18, VD_FORMAT_TOO_NEW, "knows format 1"},
    {"verdite-profile: x\nmodel: dowel\n", 1, 18, VD_WRONG_SHAPE, "whole number"},
    {"verdite-profile: 1\nmodel: dowl\n", 2, 8, VD_NO_SUCH_MODEL, "Known: brock, dowel"},
    {HEAD "setings: {}\n", 3, 1, VD_NO_SUCH_KEY, "Do you mean settings?"},
    {HEAD "settings:\n  weight.low-limt: 3 kg\n", 4, 3, VD_NO_SUCH_SETTING, "Do you mean weight.low-limit?"},
    {HEAD "settings:\n  low-limit: 3 kg\n", 4, 3, VD_NO_SUCH_SETTING, "Do you mean weight.low-limit?"},
    {HEAD "settings:\n  unit.light: low\n  unit.light: high\n", 5, 3, VD_KEY_TWICE, "here twice"},
    {HEAD "settings:\n  unit.light: [low]\n", 4, 15, VD_WRONG_SHAPE, "one word or value"},
    {HEAD "settings:\n  unit.averaging: 61 s\n", 4, 19, VD_OUT_OF_RANGE, "100 ms to 1 min"},
    {HEAD "settings:\n  unit.averaging: 250 ms\n", 4, 19, VD_OFF_STEP, "200 ms and 300 ms"},
    {HEAD "settings:\n  unit.averaging: 2 kg\n", 4, 19, VD_NOT_A_DURATION, ""},
    {HEAD "settings:\n  unit.averaging:\n", 4, 18, VD_EMPTY, ""},
    {HEAD "settings:\n  temperature.decimals: 1\n  temperature.offset: 1 kg\n", 5, 23, VD_WRONG_MEASURE, ""},
    {HEAD "settings:\n  unit.name: \"H\xC3\xB6he\"\n", 4, 14, VD_TEXT_ALPHABET, ""},
    {HEAD "settings:\n  now.weight: 4 kg\n", 4, 15, VD_READ_ONLY_SETTING, ""},
    {HEAD "settings:\n  weight.decimals: 1\n  weight.low-limit: 9 kg\n  weight.high-limit: 9 kg\n", 5, 21,
     VD_RULE_BROKEN, ""},
    {HEAD "settings:\n  weight.tare: 9 kg\n", 4, 16, VD_PLACES_NOT_KNOWN, "weight.decimals"},
    {HEAD "settings:\n\tunit.light: low\n", 4, 1, VD_NOT_YAML, "not YAML"},
    {HEAD "settings: {unit.light: low\n", 3, 11, VD_NOT_YAML, "it is not closed"},
    {HEAD "note: \"h\xFF\"\n", 3, 9, VD_NOT_UTF8, "UTF-8"},
    {HEAD "settings: 7\n", 3, 11, VD_WRONG_SHAPE, "a line for each setting"},
    {HEAD "unit: {serail: x}\n", 3, 8, VD_NO_SUCH_KEY, "Do you mean serial?"},
};

static void test_faults_say_where(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(faults); i++) {
        char words[512];
        vd_findings *findings = NULL;
        char *path = written("fault.yaml", faults[i].text);
        vd_profile *profile = load(path, &findings);
        const vd_finding *found = first(findings);
        vd_fault_words(&found->fault, true, words, sizeof words);
        if (found->fault.status != faults[i].status || found->line != faults[i].line ||
            found->column != faults[i].column || strstr(words, faults[i].words) == NULL) {
            fail_msg("fault %zu: line %u, column %u: %s", i, found->line, found->column, words);
        }
        vd_profile_free(profile);
        vd_findings_free(findings);
        g_free(path);
    }
}

static void test_files_that_are_none(void **state)
{
    (void)state;
    char *big = g_strnfill(10 << 20, 'x'), *value = g_strconcat(HEAD "settings:\n  unit.name: ", big, "\n", NULL);
    char *missing = path_of("missing.yaml"), *huge = written("huge.yaml", value);
    const struct {
        const char *path;
        vd_status status;
    } table[] = {{missing, VD_FILE_UNREADABLE},
                 {folder, VD_FILE_UNREADABLE},
                 {huge, VD_FILE_TOO_LARGE},
                 {"/dev/zero", VD_FILE_UNREADABLE}};
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        vd_findings *findings = NULL;
        assert_null(load(table[i].path, &findings));
        assert_int_equal(first(findings)->fault.status, table[i].status);
        vd_findings_free(findings);
    }
    g_free(big), g_free(value), g_free(missing), g_free(huge);
}

/* What a unit holds, saved and loaded, is the same; a file saved again is the same to the byte. */
static void test_profile_and_unit_are_inverses(void **state)
{
    (void)state;
    vd_set set = new_set(dowel());
    vd_identity unit = {"Quillmere", "dowel", "1.4", "QD-24003"};
    vd_set_put_initial(&set);
    put(&set, "unit.name", "on: #1 \"\\x");
    put(&set, "weight.low-limit", "-1.5 kg");
    put(&set, "relay.hold", "3 d 4 h 5 min 6 s");
    char *text = vd_profile_compose(dowel(), &set, &unit, "2026-05-02T08:00:00Z"), *path = written("unit.yaml", text);
    vd_findings *findings = NULL;
    vd_profile *profile = load(path, &findings);
    assert_non_null(profile);
    assert_int_equal(findings->list->len, 0);
    assert_string_equal(vd_profile_unit(profile)->serial, "QD-24003");
    for (uint16_t i = 0; i < dowel()->setting_count; i++) {
        bool writable = dowel()->settings[i].access == VD_READ_WRITE;
        vd_comparison left_out = vd_set_knows(&set, i) ? VD_ONLY_FIRST : VD_IN_NEITHER;
        assert_int_equal(vd_set_compare(&set, vd_profile_values(profile), i), writable ? VD_SAME : left_out);
    }
    assert_int_equal(vd_file_save(path, &(vd_file_text){text, strlen(text), false}, NULL), VD_OK);
    g_free(text);
    g_free(path);
    vd_profile_free(profile);
    vd_findings_free(findings);
    free(set.memory);
}

/* A full disk (here: a file system that takes nothing) leaves the old file whole. */
static void test_saving_fails_whole(void **state)
{
    (void)state;
    vd_fault fault = {0};
    assert_int_equal(vd_file_save("/proc/verdite-test", &(vd_file_text){"x", 1, false}, &fault), VD_FILE_UNWRITABLE);
    assert_int_equal(vd_file_save(folder, &(vd_file_text){"x", 1, false}, NULL), VD_FILE_UNWRITABLE);
    char *path = written("mode.yaml", "old");
    assert_int_equal(g_chmod(path, 0640), 0);
    assert_int_equal(vd_file_save(path, &(vd_file_text){"new", 3, false}, NULL), VD_OK);
    struct stat about;
    assert_int_equal(stat(path, &about), 0);
    assert_int_equal(about.st_mode & 0777, 0640);
    g_free(path);
}

/* The dowel's file with one line changed: what is wrong, and where. */
static const struct {
    const char *from, *to;
    vd_status status;
    const char *words;
} model_faults[] = {
    {"type: truth", "type: thruth", VD_NO_SUCH_TYPE, "Do you mean truth?"},
    {"role: address", "roll: address", VD_NO_SUCH_KEY, "Do you mean role?"},
    {"decimals-from: weight.decimals", "decimals-from: weight.decimal", VD_NO_SUCH_SETTING, "weight.decimals"},
    {"default: 2 s", "default: 2 kg", VD_NOT_A_DURATION, ""},
    {"default: 247", "default: 300", VD_MODEL_INCONSISTENT, "factory default"},
    {"at: {register: 13}", "at: {register: 12}", VD_MODEL_INCONSISTENT, "shares a register"},
    {"at: {register: 13}", "at: {register: 12, bits: [0, 9]}", VD_MODEL_INCONSISTENT, "shares a register"},
    {"at: {register: 13}", "at: {register: 13, bits: [3, 16]}", VD_WRONG_SHAPE, "lowest, highest"},
    {"at: {register: 13}", "at: {register: 13, input: 3}", VD_WRONG_SHAPE, "one of register, input"},
    {"at: {register: 13}", "at: {coil: 13}", VD_MODEL_INCONSISTENT, "cannot hold"},
    {"at: {register: 13}", "at: {register: 13}\n    tick: 1 s", VD_KEY_TWICE, ""},
    {"at: {register: 16}", "at: {register: 17}", VD_MODEL_INCONSISTENT, "hole"},
    {"key: unit.mains", "key: unit.light", VD_MODEL_INCONSISTENT, "twice"},
    {"key: unit.mains", "key: Unit Mains", VD_NOT_A_KEY, "small letters"},
    {"key: unit.mains", "key: unit..mains", VD_NOT_A_KEY, "small letters"},
    {"key: unit.mains", "key: not", VD_WRONG_SHAPE, "no word of expressions"},
    {"key: unit.mains", "key: now", VD_WRONG_SHAPE, "no word of expressions"},
    {"model: dowel", "model: ../../../dowel", VD_NOT_A_KEY, "small letters"},
    {"model: dowel", "model: \"dow\\0el\"", VD_NOT_SHOWN, "U+0000"},
    {"key: unit.mains", "key: \"unit.mains\\0x\"", VD_NOT_SHOWN, "U+0000"},
    {"title: ", "title: \"\\e[2J\" #", VD_NOT_SHOWN, "U+001B"},
    {"title: ", "title: \"\\x9b2J\" #", VD_NOT_SHOWN, "U+009B"},
    {"title: ", "title: \"a\\u202eb\" #", VD_NOT_SHOWN, "U+202E"},
    {"title: ", "title: \"a\\u2066b\" #", VD_NOT_SHOWN, "U+2066"},
    {"unit: V\n    decimals: 1", "unit: V\n    decimals: 1\n    scale: 0.1", VD_WRONG_SHAPE, "one of decimals"},
    {"unit: V\n    decimals: 1", "unit: V\n    decimals: 1\n    offset: 1", VD_WRONG_SHAPE, "one of decimals"},
    {"unit: V\n    decimals: 1", "unit: V\n    scale: 0", VD_WRONG_SHAPE, "above 0"},
    {"unit: V\n    decimals: 1", "unit: V\n    scale: -0.1", VD_WRONG_SHAPE, "above 0"},
    {"unit: V\n    decimals: 1", "unit: V\n    scale: 0.1 kg", VD_WRONG_MEASURE, "V"},
    {"unit: V\n    decimals: 1", "unit: V\n    scale: 0.1\n    offset: 0.00000000001", VD_WRONG_SHAPE,
     "nine decimal places"},
    {"unit: V\n    decimals: 1", "unit: V\n    scale: 0.1", VD_OK, ""},
    {"length: 16\n", "length: 16\n    alphabet: \"Ä-Z\"\n", VD_WRONG_SHAPE, "characters of ASCII"},
    {"length: 16\n", "length: 16\n    pattern: \"[A-Z\"\n", VD_WRONG_SHAPE, "[classes] such as [A-Z]"},
    {"length: 16\n", "length: 16\n    pattern: \"A{3,1}\"\n", VD_WRONG_SHAPE, "[classes]"},
    {"length: 16\n", "length: 16\n    pattern: \"(A|B)\"\n", VD_WRONG_SHAPE, "[classes]"},
    {"length: 16\n", "length: 16\n    check-digit: mod-11\n", VD_WRONG_SHAPE, "luhn, mod-10, mod-97"},
    {"length: 16\n", "length: 16\n    least-length: 3\n", VD_MODEL_INCONSISTENT, "may be empty"},
    {"length: 16\n", "length: 16\n    least-length: 3\n    or-empty: yes\n    pattern: \"[A-Z].*\"\n", VD_WRONG_SHAPE,
     ""},
    {"length: 16\n", "length: 16\n    least-length: 3\n    or-empty: yes\n    pattern: \"[A-Z][^!]*\"\n", VD_OK, ""},
    {"type: truth\n", "type: truth\n    or-empty: yes\n", VD_NO_SUCH_KEY, "type truth"},
    {"groups:\n", "measures: [{sign: kn, is: 1.852 km/h}, {sign: dB}]\ngroups:\n", VD_OK, ""},
    {"groups:\n", "measures: [{sign: kg}]\ngroups:\n", VD_WRONG_SHAPE, "every model has this one"},
    {"groups:\n", "measures: [{sign: dB}, {sign: dB}]\ngroups:\n", VD_KEY_TWICE, "dB"},
    {"groups:\n", "measures: [{sign: 2x}]\ngroups:\n", VD_WRONG_SHAPE, "no digit in front"},
    {"groups:\n", "measures: [{sign: kn, is: 1.852 knots}]\ngroups:\n", VD_WRONG_SHAPE, "every model has, such as"},
    {"groups:\n", "measures: [{sign: kn, is: km/h}]\ngroups:\n", VD_WRONG_SHAPE, "a number, a blank"},
    {"groups:\n", "measures: [{sign: kn, is: 0 km/h}]\ngroups:\n", VD_WRONG_SHAPE, "above 0"},
    {"groups:\n", "measures: [{sign: kn, spellings: [sea miles]}]\ngroups:\n", VD_WRONG_SHAPE, "without blanks"},
    {"groups:\n", "measures: [{sing: kn}]\ngroups:\n", VD_NO_SUCH_KEY, "sign"},
    {"title: ", "title: \"a\\nsettings: b\" #", VD_NOT_SHOWN, "a line end"},
    {"title: ", "title: \"a\\rb\" #", VD_NOT_SHOWN, "a line end"},
    {"unit: kg", "unit: \"kg # x\"", VD_WRONG_SHAPE, "unit of measure"},
    {"unit: kg", "unit: \"kg: 1\"", VD_WRONG_SHAPE, "unit of measure"},
    {"key: unit.mains", "key: units.mains", VD_NO_SUCH_GROUP, "units"},
    {"range: [0, 9999]", "range: [9999, 0]", VD_WRONG_SHAPE, "the lower end first"},
    {"range: [0, 9999]", "range: [0, 99999]", VD_MODEL_INCONSISTENT, "cannot hold"},
    {"range: [0, 9999]", "range: 9999", VD_WRONG_SHAPE, "lowest"},
    {"range: [0, 9999]", "range: [0, 9999]\n    choices: alarm-sides", VD_NO_SUCH_KEY, "type integer"},
    {"choices: alarm-sides", "choices: alarm-side", VD_WRONG_SHAPE, "name of one"},
    {"number: 1, label: for the night", "number: 0, label: for the night", VD_KEY_TWICE, ""},
    {"order: [weight.low-limit", "order: [weight.low-limt", VD_NO_SUCH_SETTING, "weight.low-limit"},
    {"order: [weight.low-limit", "order: [unit.averaging", VD_EXPRESSION_WRONG, "do not fit together: s and kg"},
    {"when: weight.latching", "when: weight.latchin", VD_EXPRESSION_WRONG, "do you mean weight.latching?"},
    {"when: weight.latching", "when: weight.tare", VD_EXPRESSION_WRONG, "a condition belongs here"},
    {"when: weight.latching", "when: weight.latching and", VD_EXPRESSION_WRONG, "a value belongs here"},
    {"weight.high-limit + weight.tare", "weight.high-limit + temperature.offset", VD_EXPRESSION_WRONG, "kg and °C"},
    {"must: weight.alarm != none", "must: weight.alarm != nothing", VD_EXPRESSION_WRONG,
     "not a choice: none, low, high, both"},
    {"when: weight.latching", "when: not (weight.latching", VD_EXPRESSION_WRONG, "\")\" belongs here"},
    {"follows {relay.follows}", "follows {relay.follows", VD_EXPRESSION_WRONG, "a brace opens here"},
    {"watches: weight", "watches: wight", VD_WRONG_SHAPE, "the key of a channel"},
    {"{below: weight.low-limit}", "{below: weight.low-limt}", VD_EXPRESSION_WRONG, "do you mean weight.low-limit?"},
    {"{below: weight.low-limit}", "{below: temperature.low-limit}", VD_MODEL_INCONSISTENT, "unit of its channel"},
    {"{below: weight.low-limit}", "{under: weight.low-limit}", VD_NO_SUCH_KEY, "Choose one of"},
    {"{below: weight.low-limit}", "{release: 1 kg}", VD_WRONG_SHAPE, "one of above, below"},
    {"{below: weight.low-limit}", "{is: \"on\"}", VD_MODEL_INCONSISTENT, "compares a number with a state"},
    {"{below: weight.low-limit}", "{outside: [20 kg, 10 kg]}", VD_MODEL_INCONSISTENT, "the wrong way round"},
    {"{below: weight.low-limit}", "{outside: [10 kg, 20 kg], release: 6 kg}", VD_MODEL_INCONSISTENT, "so wide"},
    {"{below: weight.low-limit}", "{outside: 10 kg}", VD_WRONG_SHAPE, "[lower, upper]"},
    {"{below: weight.low-limit}", "{rises: 1 kg}", VD_MODEL_INCONSISTENT, "within what time"},
    {"release: weight.hysteresis", "release: 0.5 °C", VD_MODEL_INCONSISTENT, "unit of its channel"},
    {"release: weight.hysteresis", "release: 0 kg - 1 kg", VD_MODEL_INCONSISTENT, "release below 0"},
    {"delay: {in: weight.alarm-delay}", "delay: {in: weight.hysteresis}", VD_EXPRESSION_WRONG, "a duration belongs"},
    {"used: weight.alarm in (low, both)", "used: weight.alarm", VD_EXPRESSION_WRONG, "a condition belongs here"},
    {"cleared-by: [button]", "cleared-by: [hand]", VD_WRONG_SHAPE, "button, command or supply"},
    {"{while: weight.latching, cleared-by: [button]}", "{while: weight.latching}", VD_MODEL_INCONSISTENT,
     "what clears it"},
    {"key: weight-high", "key: weight-low", VD_KEY_TWICE, ""},
    {"reads: now.weight,", "reads: now.wight,", VD_NO_SUCH_SETTING, "now.weight"},
    {"reads: now.weight,", "reads: unit.name,", VD_MODEL_INCONSISTENT, "neither a number"},
    {"wired: weight.in-use", "wired: weight.tare", VD_EXPRESSION_WRONG, "a condition belongs here"},
    {"{key: light, says: turns its light red}", "{key: light}", VD_KEY_MISSING, "says"},
    {"severity: remark", "severity: hint", VD_WRONG_SHAPE, "error, warning, remark"},
    {"blame: [relay.follows]", "blame: [relay.folows]", VD_NO_SUCH_SETTING, "relay.follows"},
    {"default: 18.0 kg", "default: 70.0 kg", VD_RULE_AGAINST_DEFAULTS, "70.0 kg is not below"},
    {"framing: 8E1, dtr", "framing: 9E1, dtr", VD_WRONG_SHAPE, "8E1"},
    {"longest-reply: 250 ms", "longest-reply: 250", VD_WRONG_SHAPE, ""},
    {"verdite-model: 1", "verdite-model: 2", VD_FORMAT_TOO_NEW, ""},
    {"bank-offset: 2048", "bank-offset: 10", VD_MODEL_INCONSISTENT, "stored value"},
    {"at: {register: 4}", "at: {register: 4, words: 7}", VD_MODEL_INCONSISTENT, "number of registers"},
    {"settings: [unit.name]", "settings: [unit.nam]", VD_NO_SUCH_SETTING, "unit.name"},
    {"does: restart", "does: reboot", VD_WRONG_SHAPE, "restart, factory-defaults"},
    {"words: [12-v, 24-v]", "words: [12 v]", VD_WRONG_SHAPE, "hyphens"},
    {"firmware: \"1.0\"", "firmware: latest", VD_WRONG_SHAPE, "oldest firmware"},
    {"register: [17, 19]", "register: 17", VD_WRONG_SHAPE, "[first, last]"},
    {"times:\n", "login: {help: None., word: LOGIN, password: unit.light}\ntimes:\n", VD_MODEL_INCONSISTENT,
     "only units that talk in lines"},
    {"times:\n", "login: {help: None., register: 900, password: unit.light}\ntimes:\n", VD_MODEL_INCONSISTENT,
     "a text or a whole number"},
    {"times:\n", "login: {help: None., register: 0, password: unit.name}\ntimes:\n", VD_WRONG_SHAPE, "1 to 65535"},
    {"times:\n", "login: {help: None., register: 4, password: unit.name}\ntimes:\n", VD_MODEL_INCONSISTENT,
     "where the password is said"},
    {"times:\n", "login: {help: None., register: 65535, password: unit.name}\ntimes:\n", VD_MODEL_INCONSISTENT,
     "beyond the last register"},
    {"times:\n", "login: {help: None., may-be-none: yes, password: unit.name}\ntimes:\n", VD_MODEL_INCONSISTENT,
     "no login"},
    {"times:\n", "login: {help: None., register: 900, refusal: 5, password: unit.name}\ntimes:\n", VD_WRONG_SHAPE,
     "1 to 4"},
    {"times:\n", "login: {help: None., register: 900, password: unit.name}\ntimes:\n", VD_OK, ""},
    {"takes-off: weight.tare", "takes-off: weight.tara", VD_NO_SUCH_SETTING, "weight.tare"},
    {"takes-off: weight.tare", "takes-off: weight.alarm-delay", VD_WRONG_SHAPE, "the unit of this reading"},
    {"takes-off: weight.tare", "takes-of: weight.tare", VD_NO_SUCH_KEY, "takes-off"},
    {"restart: {takes: 2 s, ", "restart: {takes: 2 s, undoes: relay.folows, ", VD_NO_SUCH_SETTING, "relay.follows"},
    {"restart: {takes: 2 s, ", "restart: {takes: 2 s, undoes: relay.follows, ", VD_WRONG_SHAPE,
     "read-only and has a default"},
    {"restart: {takes: 2 s, ", "restart: {takes: 2 s, undoes: login, ", VD_MODEL_INCONSISTENT,
     "registers have no word for"},
    {"groups:\n", "groups: &g\n", VD_NO_ALIASES, "Anchors"},
    {"title: Dowel", "title: Scales &Co for Dowel", VD_OK, ""},
    {"title: Dowel", "title: \"&both\" #", VD_OK, ""},
    {"key: line, label: Line}", "key: line, label: &a Line}\n  - {key: other, label: *a}", VD_NO_ALIASES, "Anchors"},
    {"model: dowel", "model: [dowel", VD_NOT_YAML, "it is not closed"},
    {"model: dowel", "model: {a: b\nc: d", VD_NOT_YAML, "it is not closed"},
};

/* The same of a unit that talks in lines. */
static const struct {
    const char *from, *to;
    vd_status status;
    const char *words;
} lines_faults[] = {
    {"manner: sentences", "manner: morse", VD_WRONG_SHAPE, "commands, queries, sentences"},
    {"talker: PQLM, ", "", VD_KEY_MISSING, "talker"},
    {"longest-line: 82", "longest-line: 49", VD_MODEL_INCONSISTENT, "longer than the longest line"},
    {"longest-line: 82", "longest-line: 9", VD_WRONG_SHAPE, "40 to 512"},
    {"several: yes}", "serveral: yes}", VD_NO_SUCH_KEY, "several"},
    {"identify: {maker", "identify: {by: objects, maker", VD_NO_SUCH_KEY, "by"},
    {"firmware: \"3.0\"", "address: {from: 1, to: 2, factory: 1}", VD_NO_SUCH_KEY, "no unit address"},
    {"at: {word: NAME}", "at: {register: 3}", VD_NO_SUCH_KEY, "word, field, as"},
    {"at: {word: NAME}", "at: {word: name}", VD_MODEL_INCONSISTENT, "capitals"},
    {"at: {word: NAME}", "at: {word: \":NAME\"}", VD_MODEL_INCONSISTENT, "begins with a colon"},
    {"at: {word: NAME}", "at: {word: NAME, field: 2}", VD_MODEL_INCONSISTENT, "field before it"},
    {"at: {word: NAME}", "at: {word: FORCE}", VD_MODEL_INCONSISTENT, "shares its field"},
    {"at: {word: NAME}", "at: {word: NAME, as: name}", VD_MODEL_INCONSISTENT, "does not go with its type"},
    {"at: {word: NAME}", "at: {word: NAME, as: hex}", VD_WRONG_SHAPE, "usual, name, count"},
    {"keeps: capitals", "keeps: secrets", VD_WRONG_SHAPE, "nearest-step"},
    {"word: SAVE, ", "", VD_KEY_MISSING, "word"},
    {"word: RESTART, ", "", VD_KEY_MISSING, "word"},
    {"hold: 5 s", "hold: 5", VD_WRONG_SHAPE, "5"},
    {"over: 5 min", "over: 0 s", VD_WRONG_SHAPE, "time above 0"},
    {"between: [13.6 V, 14.1 V], ", "", VD_KEY_MISSING, "runs"},
    {"default: 1, essential: yes, at: {word: FORCE}", "default: 1, moves: {runs: 1 s}, at: {word: FORCE}",
     VD_WRONG_SHAPE, "of a reading"},
    {"at: {word: LAMP, field: 3}", "read-by: fitter, at: {word: LAMP, field: 3}", VD_MODEL_INCONSISTENT,
     "as the other fields"},
    {"word: DEFAULTS, ", "word: defaults, ", VD_WRONG_SHAPE, "a word of capitals"},
    {"times:\n", "login: {help: None., word: LOGIN, password: panel.name}\ntimes:\n", VD_OK, ""},
    {"times:\n", "login: {help: None., word: LOGIN}\ntimes:\n", VD_MODEL_INCONSISTENT, "password is no setting"},
    {"times:\n", "login: {help: None., word: LOGIN, password: panel.dims-at-night}\ntimes:\n", VD_MODEL_INCONSISTENT,
     "a text or a whole number"},
    {"times:\n", "login: {help: None., word: log-in, password: panel.name}\ntimes:\n", VD_MODEL_INCONSISTENT,
     "login without a word"},
    {"times:\n", "login: {help: None., word: LOGIN, password: panel.name, left: panel.name}\ntimes:\n",
     VD_MODEL_INCONSISTENT, "no whole number"},
};

/* And of one with blocks in blocks, editions, presets and what single items have otherwise. */
static const struct {
    const char *from, *to;
    vd_status status;
    const char *words;
} block_faults[] = {
    {"stride: 20", "strde: 20", VD_NO_SUCH_KEY, "stride"},
    {"stride: 4", "strid: 4", VD_NO_SUCH_KEY, "stride"},
    {"repeat: 3", "repeat: three", VD_WRONG_SHAPE, "1 to 1000"},
    {"stride: 20", "stride: 33000", VD_WRONG_SHAPE, "no further than 65535"},
    {"label: Bed {item}", "lable: Bed {item}", VD_NO_SUCH_KEY, "label"},
    {"item: [2, 3], key: valve", "item: [2, 4], key: valve", VD_WRONG_SHAPE, "an item from 1 to 3"},
    {"item: 3, key: rate", "item: 3, key: rates", VD_WRONG_SHAPE, "the key of a setting of this block"},
    {"range: [0, 50], help", "range: [0, 50 kg], help", VD_WRONG_MEASURE, "gal"},
    {"key: pump.card", "key: pump.2.card", VD_WRONG_SHAPE, "digits alone"},
    {"key: pump.card", "key: outer.card", VD_WRONG_SHAPE, "no word of expressions"},
    {"outer.valve > 0 %", "outer.valv > 0 %", VD_EXPRESSION_WRONG, "name is unknown"},
    {"outer.valve > 0 %", "outer.valve > 0 kg", VD_EXPRESSION_WRONG, "% and kg"},
    {"each: bed.*.window", "each: bed.window", VD_WRONG_SHAPE, "bed.window"},
    {"distinct(bed.*.line)", "distinct(bed.1.line)", VD_EXPRESSION_WRONG, "a repeated setting"},
    {"settings: [bed]", "settings: [beds]", VD_NO_SUCH_SETTING, "beds"},
    {"blame: [bed.3.rate,", "blame: [bed.4.rate,", VD_NO_SUCH_SETTING, "bed.4.rate"},
    {"range: [0, 600], default: 400", "range: [0, 60000], default: 400", VD_MODEL_INCONSISTENT, "more in one of its"},
    {"range: [0, 600], default: 400", "range: [0, 600], default: 700", VD_MODEL_INCONSISTENT, "would refuse"},
    {"range: [0, 600], default: 400", "range: [0, 600], default: 700", VD_MODEL_INCONSISTENT,
     "it would refuse: 700 gal in variant two"},
    {"range: [0, 200], default: 100,", "range: [0, 200], editions: [{variant: two, range: [10, 90]}], default: 80,",
     VD_OK, ""},
    {"range: [0, 200], default: 100,", "range: [0, 200], editions: [{variant: three, range: [0, 90]}], default: 80,",
     VD_MODEL_INCONSISTENT, "more in one of its editions than elsewhere in variant three"},
    {"range: [0, 200], default: 100,", "range: [0, 200], editions: [{variant: two, range: [0, 90]}], default: 100,",
     VD_MODEL_INCONSISTENT, "it would refuse: 100 gal in variant two"},
    {"{variant: two, range", "{variant: four, range", VD_MODEL_INCONSISTENT, "variant that there is not"},
    {"{below: \"2.0\", range", "{range", VD_KEY_MISSING, "which units it is about"},
    {"{below: \"2.0\", range", "{below: new, range", VD_WRONG_SHAPE, "firmware version"},
    {"choices: [\"off\", timed]}]", "choices: [\"off\", slow]}]", VD_WRONG_SHAPE, "the name of a choice"},
    {"bed.1.rate: 40", "bed.1.rate: 400", VD_OUT_OF_RANGE, "0 to 200 gal"},
    {"bed.1.rate: 40", "bed.4.rate: 40", VD_NO_SUCH_SETTING, "bed.1.rate"},
    {"key: sand", "key: clay", VD_KEY_TWICE, "clay"},
    {"number: 2, variant: two", "number: 2, variant: tow", VD_MODEL_INCONSISTENT, "in a variant that there is not"},
    {"item <= 2 or", "itm <= 2 or", VD_EXPRESSION_WRONG, "name is unknown"},
    {"          - {key: opens",
     "          - {block: x, label: X, repeat: 2, stride: 1, settings: [{key: y, label: Y, "
     "type: truth, at: {register: 33}}]}\n          - {key: opens",
     VD_WRONG_SHAPE, "one block in another"},
};

static unsigned lines_in(const char *text, size_t length)
{
    unsigned lines = 0;
    for (size_t i = 0; i < length; i++) {
        lines += text[i] == '\n';
    }
    return lines;
}

/* Loads a model with one piece of its file changed: the cause is told once, where it stands, with the cure. */
static void try_mistake(const char *good, const char *from, const char *to, vd_status status, const char *wanted)
{
    const char *at = strstr(good, from);
    assert_non_null(at);
    char *text = g_strdup_printf("%.*s%s%s", (int)(at - good), good, to, at + strlen(from));
    char *path = written("model.yaml", text), words[512];
    vd_findings *findings = vd_findings_new(path);
    vd_model_file *loaded = vd_model_file_load(path, findings);
    if ((loaded != NULL) != (status == VD_OK)) {
        fail_msg("%s -> %s: %s", from, to, loaded != NULL ? "taken" : "refused");
    }
    if (loaded == NULL) {
        const vd_finding *found = first(findings);
        vd_fault_words(&found->fault, true, words, sizeof words);
        unsigned line = 1 + lines_in(good, (size_t)(at - good)), last = line + lines_in(to, strlen(to));
        static const char *const of_two[] = {"is not below", "where the password is said", "saves a slot",
                                             "shares its field", "longer than the longest line"};
        bool above = false; /* of two that contradict each other one is told */
        for (size_t i = 0; i < G_N_ELEMENTS(of_two); i++) {
            above = above || strstr(wanted, of_two[i]) != NULL;
        }
        if (found->fault.status != status || strstr(words, wanted) == NULL || findings->list->len != 1 ||
            (!above && (found->line < line || found->line > last))) {
            fail_msg("%s -> %s: %u findings, line %u, not %u to %u: %s", from, to, findings->list->len, found->line,
                     line, last, words);
        }
    }
    vd_model_file_free(loaded);
    vd_findings_free(findings);
    g_free(path);
    g_free(text);
}

/* The fog horn's file: clocks, counters, causes, hands, slots. */
static const struct {
    const char *from, *to;
    vd_status status;
    const char *words;
} horn_faults[] = {
    {"zone: time.zone", "zone: time.zoen", VD_NO_SUCH_SETTING, "time.zone"},
    {"zone: time.zone", "zone: horn.tone", VD_WRONG_SHAPE, "of type zone"},
    {"zone: time.zone", "zone: \"+15:00\"", VD_NO_SUCH_SETTING, ""},
    {"zone: time.zone", "zone: here", VD_OK, ""},
    {"zone: time.zone", "zone: \"+01:00\"", VD_OK, ""},
    {"tolerance: 3 s", "tolerance: 3", VD_WRONG_SHAPE, ""},
    {"tolerance: 3 s", "tolerance: 100 ms", VD_WRONG_SHAPE, "a second at the least"},
    {"tolerance: 5,", "tolerance: five,", VD_NOT_A_NUMBER, ""},
    {"default: 2026-05-01 08:00, moves", "default: now, moves", VD_WRONG_SHAPE,
     "a date, which it shows when it is new"},
    {"moves: {loses: 30 s}", "moves: {runs: 30 s}", VD_NO_SUCH_KEY, ""},
    {"moves: {loses: 30 s}", "moves: {loses: 2 h}", VD_WRONG_SHAPE, ""},
    {"moves: {one-more-every: 10 s}", "moves: {between: [1, 9], over: 10 s}", VD_WRONG_SHAPE, "or of a counter"},
    {"type: counter", "type: conter", VD_NO_SUCH_TYPE, "Do you mean counter?"},
    {"type: date-time, default", "type: date-time, tolerance: 3 s, default", VD_NO_SUCH_KEY, "type date-time"},
    {"what: asked-apart", "what: apart", VD_WRONG_SHAPE, "restart, link, outage, tell, for-good, asked-apart"},
    {"causes: {what: asked-apart,", "causes: {wat: asked-apart,", VD_NO_SUCH_KEY, "Do you mean what?"},
    {"causes: {what: for-good, help: The maker alone can lift the seal.}", "causes: tell", VD_WRONG_SHAPE,
     "{what: tell, who:"},
    {"causes: {what: for-good, help: The maker alone can lift the seal.}", "causes: explosion", VD_WRONG_SHAPE,
     "one of restart, link"},
    {"causes: {what: for-good, help: The maker alone can lift the seal.}", "causes: [outage, outage]", VD_KEY_TWICE,
     "outage"},
    {"causes: {what: for-good, help: The maker alone can lift the seal.}", "causes: [restart, for-good]", VD_OK, ""},
    {"{what: outage, lasts: 5 s}", "{what: restart, lasts: 5 s}", VD_NO_SUCH_KEY, "what: outage"},
    {"{what: outage, lasts: 5 s}", "{what: outage, who: me}", VD_NO_SUCH_KEY, "what: tell"},
    {"{what: outage, lasts: 5 s}", "{what: outage, lasts: 5}", VD_WRONG_SHAPE, ""},
    {"what: tell, who: the harbour master, help: It", "what: tell, help: It", VD_KEY_MISSING, "who"},
    {"hold: 3 s, lasts", "lasts", VD_KEY_MISSING, "hold"},
    {"writing: {help: \"Turn the key under the lid to SET for three seconds.\", ", "writing: {", VD_KEY_MISSING,
     "help"},
    {"after: 300 ms", "after: 300 ms\n  again: power", VD_WRONG_SHAPE, "switching-on, restart"},
    {"after: 300 ms", "after: 300 ms\n  writting: 3 s", VD_NO_SUCH_KEY, "Do you mean writing?"},
    {"enforced: storing", "enforced: yes", VD_WRONG_SHAPE, "no, writing, storing"},
    {"count: 3, holds", "count: 1, holds", VD_WRONG_SHAPE, "2 to 64"},
    {"holds: [horn.period, horn.blast, horn.tone]", "holds: [horn.period, horn.blats]", VD_NO_SUCH_SETTING,
     "horn.blast"},
    {"holds: [horn.period, horn.blast, horn.tone], ", "", VD_KEY_MISSING, "holds"},
    {"holds: [horn.period,", "holds: [horn.programme,", VD_MODEL_INCONSISTENT, "hold what chooses them"},
    {"chosen-by: horn.programme", "chosen-by: horn.seal", VD_WRONG_SHAPE, "of slots from 1"},
    {"chosen-by: horn.programme", "chosen-by: horn.program", VD_NO_SUCH_SETTING, "horn.programme"},
    {"chosen-by: horn.programme, ", "", VD_KEY_MISSING, "chosen-by"},
    {"saved-by: {register: 92}", "saved-by: {word: SAVE}", VD_NO_SUCH_KEY, "register"},
    {"saved-by: {register: 92}", "saved-by: {}", VD_KEY_MISSING, "register"},
    {"saved-by: {register: 92}", "saved-by: {register: 2}", VD_MODEL_INCONSISTENT, "saves a slot"},
    {"writable: [2, 3]", "writable: [2, 4]", VD_WRONG_SHAPE, "slots, by number"},
    {"after-power: 1", "after-power: 4", VD_WRONG_SHAPE, "1 to 3"},
    {"after-power: 1", "after-power: horn.seal", VD_WRONG_SHAPE, "a setting that says one"},
    {"begin-with: [fog, night]", "begin-with: [fog, nigth]", VD_WRONG_SHAPE, "one of the presets"},
    {"begin-with: [fog, night]", "begin-with: [fog, night, fog, night]", VD_WRONG_SHAPE, ""},
    {"range: [1, 3], default: 1,", "range: [1, 3], default: 1, sets: [horn.programme],", VD_MODEL_INCONSISTENT,
     "sets itself"},
    {"range: [1, 3], default: 1,", "range: [1, 3], default: 1, sets: [horn.seel],", VD_NO_SUCH_SETTING, "horn.seal"},
    {"(now + time.zone) - time.clock < 5 min", "now - time.zone - time.clock < 5", VD_EXPRESSION_WRONG,
     "do not fit together"},
    {"(now + time.zone) - time.clock < 5 min", "now > 5 min", VD_EXPRESSION_WRONG, "cannot be compared"},
};

static void test_model_files_with_a_mistake(void **state)
{
    (void)state;
    char *dowel_text = NULL, *lantern_text = NULL, *sluice_text = NULL, *horn_text = NULL;
    assert_true(g_file_get_contents(source_path("models/dowel.yaml"), &dowel_text, NULL, NULL));
    assert_true(g_file_get_contents(source_path("models/lantern.yaml"), &lantern_text, NULL, NULL));
    assert_true(g_file_get_contents(source_path("tests/units/sluice.yaml"), &sluice_text, NULL, NULL));
    assert_true(g_file_get_contents(source_path("tests/units/foghorn.yaml"), &horn_text, NULL, NULL));
    for (size_t i = 0; i < G_N_ELEMENTS(horn_faults); i++) {
        try_mistake(horn_text, horn_faults[i].from, horn_faults[i].to, horn_faults[i].status, horn_faults[i].words);
    }
    g_free(horn_text);
    for (size_t i = 0; i < G_N_ELEMENTS(model_faults); i++) {
        try_mistake(dowel_text, model_faults[i].from, model_faults[i].to, model_faults[i].status,
                    model_faults[i].words);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(lines_faults); i++) {
        try_mistake(lantern_text, lines_faults[i].from, lines_faults[i].to, lines_faults[i].status,
                    lines_faults[i].words);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(block_faults); i++) {
        try_mistake(sluice_text, block_faults[i].from, block_faults[i].to, block_faults[i].status,
                    block_faults[i].words);
    }
    g_free(dowel_text);
    g_free(lantern_text);
    g_free(sluice_text);
}

/* A file cut off anywhere is refused or loads; nothing worse. */
static void test_cut_files(void **state)
{
    (void)state;
    static const char *const names[] = {"models/dowel.yaml", "models/lantern.yaml", "benches/bracken/bench.yaml",
                                        "benches/yard/bench.yaml"};
    for (size_t n = 0; n < G_N_ELEMENTS(names); n++) {
        char *text = NULL;
        gsize length = 0;
        assert_true(g_file_get_contents(source_path(names[n]), &text, &length, NULL));
        for (gsize cut = 0; cut < length; cut += 211) {
            char *path = path_of("bench.yaml");
            vd_findings *findings = vd_findings_new(path), *bench_findings = vd_findings_new(path);
            vd_catalogue *catalogue = vd_catalogue_open();
            assert_true(g_file_set_contents(path, text, (gssize)cut, NULL));
            vd_model_file *model = vd_model_file_load(path, findings);
            vd_bench_folder *bench = vd_bench_open(folder, catalogue, bench_findings);
            assert_true(model != NULL || findings->list->len > 0);
            assert_true(bench != NULL || bench_findings->list->len > 0);
            vd_model_file_free(model);
            vd_bench_free(bench);
            vd_catalogue_free(catalogue);
            vd_findings_free(findings);
            vd_findings_free(bench_findings);
            g_free(path);
        }
        g_free(text);
    }
}

/* What eats time or memory is refused, quickly: the suite's own time limit is the judge. */
static void test_files_that_eat_time(void **state)
{
    (void)state;
    char *head = g_strconcat("verdite-model: 1\nmodel: x\n", NULL), *deep = g_strnfill(200000, '[');
    GString *keys = g_string_new(head), *laughs = g_string_new(head), *many = g_string_new(head);
    g_string_append(laughs, "a: &a [x, x, x, x, x, x, x, x, x]\n");
    g_string_append(many, "rules:\n");
    for (unsigned i = 0; i < 50000; i++) {
        g_string_append_printf(keys, "key-%u: 1\n", i);
        if (i < 9000) {
            g_string_append_printf(many, "  - {must: nothing-%u > 3}\n", i);
        }
        if (i > 0 && i < 20) {
            g_string_append_printf(laughs, "%c: &%c [*%c, *%c, *%c, *%c]\n", 'a' + i, 'a' + i, 'a' + i - 1, 'a' + i - 1,
                                   'a' + i - 1, 'a' + i - 1);
        }
    }
    char *nested = g_strconcat(head, "settings: ", deep, "\n", NULL);
    char *recursive = g_strconcat(head, "settings: &a\n  - *a\n", NULL);
    char *endless =
        g_strconcat(head, "settings:\n  - {block: b, label: B, repeat: 999999999, stride: 1, settings: []}\n", NULL);
    const struct {
        const char *text, *words;
    } table[] = {{nested, "a hundred open brackets"},
                 {keys->str, "these are too many"},
                 {laughs->str, "Anchors"},
                 {recursive, "Anchors"},
                 {endless, "from 1 to 1000"},
                 {many->str, "name is unknown"}};
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        bool found = false;
        vd_findings *findings = vd_findings_new("");
        assert_null(model_of_text(table[i].text, findings));
        for (guint k = 0; k < findings->list->len && !found; k++) {
            char words[512];
            vd_fault_words(&g_array_index(findings->list, vd_finding, k).fault, true, words, sizeof words);
            found = strstr(words, table[i].words) != NULL;
        }
        assert_true(found);
        assert_true(findings->list->len <= 1000);
        vd_findings_free(findings);
    }
    g_free(head), g_free(deep), g_free(nested), g_free(recursive), g_free(endless);
    g_string_free(keys, TRUE), g_string_free(laughs, TRUE), g_string_free(many, TRUE);
}

static void test_bench_remembers(void **state)
{
    (void)state;
    vd_catalogue *catalogue = vd_catalogue_open();
    char *text = NULL;
    assert_true(g_file_get_contents(source_path("benches/bracken/bench.yaml"), &text, NULL, NULL));
    char *path = written("bench.yaml", text), *state_file = path_of("state.json");
    for (int round = 0; round < 3; round++) {
        vd_findings *findings = vd_findings_new(folder), *second = vd_findings_new(folder);
        vd_bench_folder *bench = vd_bench_open(folder, catalogue, findings);
        assert_non_null(bench);
        vd_unit *unit = vd_sim_unit(vd_bench_sim(bench), 4);
        assert_string_equal(said(vd_unit_live(unit), "unit.light"), round == 1 ? "high" : "low");
        assert_string_equal(said(vd_unit_stored(unit), "unit.light"), "low");
        assert_int_equal(vd_unit_address(unit), 5);
        assert_null(vd_bench_open(folder, catalogue, second)); /* one program at a time */
        assert_int_equal(first(second)->fault.status, VD_BENCH_BUSY);
        if (round == 0) {
            put(vd_unit_live_bank(unit), "unit.light", "high");
            assert_int_equal(vd_bench_keep(bench, NULL), VD_OK);
        } else {
            assert_int_equal(vd_bench_start_afresh(folder, NULL), VD_OK);
        }
        vd_bench_free(bench);
        vd_findings_free(findings);
        vd_findings_free(second);
    }
    static const char *const damaged[] = {"",
                                          "{",
                                          "[]",
                                          "{\"verdite-bench-state\": 1}",
                                          "{\"verdite-bench-state\": 1, \"clock\": -5, \"units\": {}}",
                                          "{\"verdite-bench-state\": 1, \"clock\": 1, \"units\": {\"hive-01\": 7}}"};
    for (size_t i = 0; i < G_N_ELEMENTS(damaged); i++) {
        vd_findings *findings = vd_findings_new(folder);
        assert_true(g_file_set_contents(state_file, damaged[i], -1, NULL));
        assert_null(vd_bench_open(folder, catalogue, findings));
        assert_non_null(strstr(first(findings)->fault.allowed, "afresh"));
        vd_findings_free(findings);
    }
    g_free(path), g_free(state_file), g_free(text);
    vd_catalogue_free(catalogue);
}

static int make_folder(void **state)
{
    (void)state;
    g_strlcpy(folder, "/tmp/verdite-files-XXXXXX", sizeof folder);
    bool made = g_mkdtemp(folder) != NULL;
    return !made;
}

static int remove_folder(void **state)
{
    (void)state;
    GDir *dir = g_dir_open(folder, 0, NULL);
    for (const char *name = g_dir_read_name(dir); name != NULL; name = g_dir_read_name(dir)) {
        char *path = path_of(name);
        g_unlink(path);
        g_free(path);
    }
    g_dir_close(dir);
    return g_rmdir(folder);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_edits_touch_one_value),
        cmocka_unit_test(test_faults_say_where),
        cmocka_unit_test(test_files_that_are_none),
        cmocka_unit_test(test_profile_and_unit_are_inverses),
        cmocka_unit_test(test_saving_fails_whole),
        cmocka_unit_test(test_model_files_with_a_mistake),
        cmocka_unit_test(test_cut_files),
        cmocka_unit_test(test_files_that_eat_time),
        cmocka_unit_test(test_bench_remembers),
    };
    return cmocka_run_group_tests(tests, make_folder, remove_folder);
}
