/* SPDX-License-Identifier: MIT
 * Expressions and rules: exact values, three outcomes, units of measure, sentences, and what is refused with the place
 * where it is wrong. */
#include "fixtures.h"

#include "verdite/survey.h"

#include <stdlib.h>
#include <string.h>

#define HEAD                                                                                                           \
    "verdite-model: 1\nmodel: peg\ntitle: Peg\nline: {baud: 9600, framing: 8E1}\n"                                     \
    "address: {from: 1, to: 247, factory: 1}\nidentify: {by: objects, maker: Quillmere, product: peg}\n"               \
    "times: {usual-reply: 6 ms, longest-reply: 250 ms}\n"                                                              \
    "variants:\n  - {key: short, label: S, product: peg-S}\n  - {key: long, label: L, product: peg-L}\n"               \
    "groups:\n  - {key: a, label: A}\n  - {key: share, label: Shares}\n"                                               \
    "measures: [{sign: kn, is: 1.852 km/h, spellings: [knots]}, {sign: KiB, is: 1024 B}, {sign: dB}]\n"
#define SETTINGS                                                                                                       \
    "settings:\n"                                                                                                      \
    "  - {key: a.weight, label: W, type: decimal, unit: kg, decimals: 1, range: [0, 100], at: {register: 0}}\n"        \
    "  - {key: a.grams, label: G, type: integer, unit: g, range: [0, 60000], at: {register: 1}}\n"                     \
    "  - {key: a.every, label: E, type: duration, tick: 1 s, range: [0 s, 18 h], at: {register: 2}}\n"                 \
    "  - {key: a.count, label: C, type: integer, range: [-100, 100], at: {register: 3, form: signed}}\n"               \
    "  - {key: a.mode, label: M, type: choice, choices: [{name: rest}, {name: fast-run}, {name: 50-hz}], at: "         \
    "{register: 4}}\n"                                                                                                 \
    "  - {key: a.tells, label: T, type: flags, choices: [{name: lamp}, {name: horn}], at: {register: 5}}\n"            \
    "  - {key: a.name, label: N, type: text, length: 8, default: hive, at: {register: 6}}\n"                           \
    "  - {key: a.on-duty, label: D, type: truth, at: {register: 10}}\n"                                                \
    "  - {key: a.address, label: I, type: ipv4, at: {register: 12}}\n"                                                 \
    "  - {key: a.mask, label: K, type: mask, at: {register: 14}}\n"                                                    \
    "  - {key: a.gateway, label: Y, type: gateway, at: {register: 16}}\n"                                              \
    "  - {key: a.phone, label: P, type: phone, length: 16, at: {register: 18}}\n"                                      \
    "  - {key: a.opens, label: O, type: time-of-day, at: {register: 26, words: 2}}\n"                                  \
    "  - {key: a.begins, label: B, type: date-time, at: {register: 28}}\n"                                             \
    "  - {key: a.speed, label: S, type: integer, unit: km/h, range: [0, 200], at: {register: 30}}\n"                   \
    "  - {key: a.only-long, label: L, type: integer, range: [0, 9], when: variant = long, because: Only long pegs.,"   \
    " at: {register: 31}}\n"                                                                                           \
    "  - {key: a.turns, label: U, type: integer, unit: rev/min, range: [0, 9000], default: 33, at: {register: 33}}\n"  \
    "  - {key: a.wind, label: W, type: decimal, unit: kn, scale: 0.5, range: [0 knots, 100], at: {register: 34}}\n"    \
    "  - {key: a.hysteresis, label: Y, type: decimal, unit: K, decimals: 1, range: [0, 9], at: {register: 35}}\n"      \
    "  - {key: a.warm, label: Z, type: decimal, unit: °C, scale: 0.25, offset: -40, range: [-40, 120], at: "          \
    "{register: 36}}\n"                                                                                                \
    "  - {key: a.room, label: J, type: integer, unit: KiB, range: [0, 64], at: {register: 37}}\n"                      \
    "  - {key: a.loud, label: Q, type: integer, unit: dB, range: [0, 90], at: {register: 38}}\n"                       \
    "  - {key: a.mac, label: K, type: eui-48, at: {register: 70}}\n"                                                   \
    "  - {key: a.raw, label: X, type: bytes, length: 20, least-length: 1, at: {register: 74}}\n"                       \
    "  - {key: a.v6, label: V, type: ipv6, at: {register: 84}}\n"                                                      \
    "  - {key: a.place, label: P, type: position, at: {register: 92}}\n"                                               \
    "  - {key: a.only-running, label: R, type: integer, range: [0, 9], when: a.mode = fast-run, because: It rests.,"   \
    " at: {register: 32}}\n"                                                                                           \
    "  - block: share\n    label: Share\n    repeat: 4\n    stride: 5\n    settings:\n"                                \
    "      - {key: part, label: P, type: decimal, unit: \"%\", decimals: 1, range: [0, 100], at: {register: 40}}\n"    \
    "      - {key: in-use, label: U, type: truth, at: {register: 41}}\n"                                               \
    "      - {key: low, label: L, type: integer, range: [0, 9], at: {register: 42}}\n"                                 \
    "      - {key: high, label: H, type: integer, range: [0, 9], at: {register: 43}}\n"                                \
    "      - {key: extra, label: X, type: integer, range: [0, 90], when: this.in-use, because: Not in use., at: "      \
    "{register: 44}}\n"

static const char *const values[] = {"a.weight=36.5 kg",
                                     "a.grams=36500",
                                     "a.every=1 h 30 min",
                                     "a.count=-7",
                                     "a.mode=fast-run",
                                     "a.tells=horn",
                                     "a.name=hive",
                                     "a.on-duty=on",
                                     "a.address=192.0.2.7",
                                     "a.mask=/24",
                                     "a.gateway=192.0.2.1",
                                     "a.phone=07700 900123",
                                     "a.opens=06:30",
                                     "a.begins=2026-05-02 08:00",
                                     "a.speed=90",
                                     "share.1.part=33.3 %",
                                     "share.2.part=33.3 %",
                                     "share.3.part=33.4 %",
                                     "share.4.part=0 %",
                                     "share.1.in-use=on",
                                     "share.2.in-use=on",
                                     "share.3.in-use=off",
                                     "share.1.low=3",
                                     "share.1.high=5",
                                     "share.2.low=6",
                                     "share.2.high=6",
                                     "share.3.low=1",
                                     "share.3.high=2",
                                     "a.turns=33 rev/min",
                                     "a.wind=7.5 knots",
                                     "a.hysteresis=0.5 °C",
                                     "a.warm=36.75 °C",
                                     "a.room=3 KiB",
                                     "a.loud=20 dB",
                                     "a.mac=02-00-5E-10-00-01",
                                     "a.raw=000102030405060708090A0B0C0D0E0F10111213",
                                     "a.v6=2001:db8::7",
                                     "a.place=52.5163, 13.3777"};

static vd_model_file *with_rules(const char *rules, vd_findings *findings)
{
    char *text = g_strconcat(HEAD, SETTINGS, "rules:\n", rules, NULL);
    vd_model_file *file = model_of_text(text, findings);
    g_free(text);
    return file;
}

/* What is not put: a.only-long, share.4.in-use, share.4.low, share.4.high. */
static vd_set filled(const vd_model *model)
{
    vd_set set = new_set(model);
    for (size_t i = 0; i < G_N_ELEMENTS(values); i++) {
        char **parts = g_strsplit(values[i], "=", 2);
        put(&set, parts[0], parts[1]);
        g_strfreev(parts);
    }
    return set;
}

static const struct {
    const char *must;
    vd_ruling ruling;
} rulings[] = {
    {"a.weight = 36.5 kg", VD_HOLDS},
    {"a.weight = a.grams", VD_HOLDS}, /* of one dimension */
    {"a.weight < 36501 g", VD_HOLDS},
    {"a.weight * 3 = 109.5 kg", VD_HOLDS},
    {"a.weight / a.grams = 1", VD_HOLDS},
    {"a.grams / 3 * 3 = a.grams", VD_HOLDS}, /* exact: no third is lost */
    {"a.every = 90 min and a.every > 1 h", VD_HOLDS},
    {"a.speed * a.every = 135 km", VD_HOLDS},
    {"a.speed > 24.9 m/s", VD_HOLDS},
    {"a.speed = 25 m/s", VD_HOLDS},
    {"a.wind = 13.89 km/h and a.wind < 8 kn and a.wind * 2 h = 27.78 km", VD_HOLDS},
    {"a.room = 3072 B and a.room + 1 KiB = 4096 B", VD_HOLDS},
    {"a.turns = 33 rev/min and a.turns<34 rev/min", VD_HOLDS},
    {"a.loud - 3 dB = 17 dB", VD_HOLDS},
    {"a.warm + a.hysteresis = 37.25 °C and a.hysteresis < 1 K and a.warm - 36 °C < 1 K", VD_HOLDS},
    {"a.address = \"192.0.2.7\" and a.address != '192.0.2.8' and a.mask = '/24'", VD_HOLDS},
    {"a.address in (\"192.0.2.9\", \"192.0.2.7\")", VD_HOLDS},
    {"a.mac = '02:00:5e:10:00:01' and a.mac != '02:00:5e:10:00:02'", VD_HOLDS},
    {"a.raw = '000102030405060708090a0b0c0d0e0f10111213' and a.raw != '00'", VD_HOLDS},
    {"(a.raw = '000102030405060708090a0b0c0d0e0f10111213') in (off, on)", VD_HOLDS},
    {"a.v6 in ('2001:db8::8', '2001:0DB8:0::7')", VD_HOLDS},
    {"a.place = '52.5163 13.3777' and a.begins > '2026-05-01' and a.begins < '2026-05-02 08:00:01'", VD_HOLDS},
    {"usable-host(a.address, a.gateway, a.mask)", VD_HOLDS},
    {"usable-host(a.gateway, a.gateway, a.mask)", VD_FAILS}, /* it is the gateway's own */
    {"distinct(share.*.low)", VD_NOT_KNOWN},
    {"distinct(share.*.part)", VD_FAILS}, /* two are, whatever the others are */
    {"ascending(share.*.low)", VD_FAILS},
    {"ascending(share.*.high) or distinct(share.*.high)", VD_NOT_KNOWN},
    {"count(share.*.part > 0 % and item > 1) = 2 and sum(share.*.part * item) = 200.1 %", VD_HOLDS},
    {"any(share.*.low > 5 or distinct(share.*.part))", VD_HOLDS}, /* one repetition beside another */
    {"-a.count = 7 and a.count + 7 = 0", VD_HOLDS},
    {"2 + 3 * 4 = 14 and a.count < 0", VD_HOLDS},
    {"a.count * a.count * a.count - 1 = -344", VD_HOLDS},
    {"max(a.count, 3, -20) = 3 and min(a.count, 3) = a.count", VD_HOLDS},
    {"a.mode = fast-run", VD_HOLDS},
    {"a.mode = Fast_Run", VD_HOLDS},
    {"a.mode != 50-hz", VD_HOLDS},
    {"a.mode in (rest, fast-run)", VD_HOLDS},
    {"a.mode in (rest, 50-hz)", VD_FAILS},
    {"not (a.mode in (rest, 50-hz)) and a.on-duty", VD_HOLDS},
    {"a.count in (1, -7)", VD_HOLDS},
    {"a.tells has horn and not a.tells has lamp", VD_HOLDS},
    {"a.name = \"hive\" and length(a.name) = 4", VD_HOLDS},
    {"whole(a.count / 2) = -4 and whole(-a.count / 2) = 3 and whole(a.count) = -7", VD_HOLDS},
    {"whole(a.count / -3) > 2", VD_FAILS},
    {"a.name != 'Hive'", VD_HOLDS},
    {"starts(a.phone, \"+\")", VD_FAILS},
    {"factory(a.name)", VD_HOLDS},
    {"a.on-duty = on and a.on-duty != off", VD_HOLDS},
    {"same-network(a.address, a.gateway, a.mask)", VD_HOLDS},
    {"a.opens < 22:00 and a.opens + 30 min = 07:00", VD_HOLDS},
    {"a.opens - 06:00 = 30 min", VD_HOLDS},
    {"a.begins - a.begins = 0 s", VD_HOLDS},
    {"sum(share.*.part) = 100 %", VD_HOLDS},
    {"sum(share.*.part) <= 99.9 %", VD_FAILS},
    {"count(share.*.part > 33.3 %) = 1", VD_HOLDS},
    {"any(share.*.part = 0 %) and not all(share.*.part > 0 %)", VD_HOLDS},
    /* what is not known stays open, unless the rest decides */
    {"a.only-long > 3", VD_NOT_KNOWN},
    {"not a.only-long > 3", VD_NOT_KNOWN},
    {"a.only-long > 3 or a.on-duty", VD_HOLDS},
    {"a.only-long > 3 and not a.on-duty", VD_FAILS},
    {"a.only-long > 3 and a.on-duty", VD_NOT_KNOWN},
    {"count(share.*.in-use) = 2", VD_NOT_KNOWN},
    {"any(share.*.in-use)", VD_HOLDS},
    {"all(share.*.in-use)", VD_FAILS},
    {"variant = long or a.count > 0", VD_NOT_KNOWN},
    {"firmware >= v1.10 or a.count > 0", VD_NOT_KNOWN},
    {"changed(a.count)", VD_NOT_KNOWN},
    /* what does not fit or has no value is not known rather than wrong */
    {"1 / (a.count + 7) = 1", VD_NOT_KNOWN},
    {"a.grams * 999999999999999 * 999999999999999 > 1 g", VD_NOT_KNOWN},
    {"a.count * 999999999999999 * 9999 < 0", VD_NOT_KNOWN},
    {"a.count * 100000000000000 * 10000 - 900000000000000 * 10000 < 0", VD_NOT_KNOWN},
    {"900000000000000 * 10000 - a.count * 100000000000000 * 10000 > 0", VD_NOT_KNOWN},
    {"1 / (a.count * 999999999999999) + 1 / 999999999999998 < 0", VD_NOT_KNOWN},
    {"a.count / 999999999999999 / 999999999999998 < 0", VD_NOT_KNOWN},
    /* what does fit is compared exactly, however long the products are */
    {"a.count * 100000000000000 * 10000 / 3 < a.count * 100000000000000 * 10000 / 11", VD_HOLDS},
    {"1 / 3 / (0 - 999999999999999) < a.count / 3 / 999999999999998", VD_FAILS},
    {"a.count / (0 - 7) = 1", VD_HOLDS},
    {"(a.count + 8) / 3 + (a.count + 8) / 6 = 0.5", VD_HOLDS},
};

static void test_outcomes(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(rulings); i++) {
        char *rule = g_strdup_printf("  - must: >-\n      %s\n    severity: warning\n", rulings[i].must);
        vd_findings *findings = vd_findings_new("");
        vd_model_file *file = with_rules(rule, findings);
        if (file == NULL) {
            char words[512];
            vd_fault_words(&g_array_index(findings->list, vd_finding, 0).fault, true, words, sizeof words);
            fail_msg("%s: %s", rulings[i].must, words);
        }
        vd_set set = filled(vd_model_file_model(file));
        vd_ruling got = vd_rule_judge(&set, NULL, 0, 0, NULL);
        if (got != rulings[i].ruling) {
            fail_msg("%s: outcome %d", rulings[i].must, (int)got);
        }
        free(set.memory);
        vd_model_file_free(file);
        vd_findings_free(findings);
        g_free(rule);
    }
}

/* A short peg at rest: a.only-long is absent, a.only-running idle, and so are the extras of shares 3 and 4. What is
 * none, and not true or false, shows beside "and on" and "or off". */
static const struct {
    const char *must;
    vd_ruling ruling;
} rulings_of_none[] = {
    {"absent(a.only-long) and not idle(a.only-long)", VD_HOLDS},
    {"idle(a.only-running) and not absent(a.only-running)", VD_HOLDS},
    {"absent(a.count) or idle(a.count)", VD_FAILS},
    {"a.only-long + a.count = -7 and a.count + a.only-running = -7", VD_HOLDS},
    {"a.count - a.only-long = -7 and a.only-long - a.count = 7", VD_HOLDS},
    {"min(a.only-running, a.count) = -7 and max(a.count, a.only-long) = -7", VD_HOLDS},
    {"sum(share.*.extra) = 30", VD_HOLDS},
    {"share.1.extra + share.2.extra + share.3.extra + share.4.extra = 30", VD_HOLDS},
    {"count(share.*.extra > 9) = 2 and all(share.*.extra > 9)", VD_HOLDS},
    {"any(share.*.extra > 29)", VD_FAILS},
    {"(a.only-long > 3 or a.on-duty) and (a.only-long > 3 and a.on-duty)", VD_HOLDS},
    {"a.only-long > 3", VD_HOLDS}, /* there is nothing here that could break it */
    {"a.only-running * a.count > 0 and on", VD_HOLDS},
    {"a.only-running * a.count > 0 or off", VD_FAILS},
    {"a.count / a.only-long < 0 or off", VD_FAILS},
    {"not (a.only-running = 5) and on", VD_HOLDS},
    {"not (a.only-running = 5) or off", VD_FAILS},
    {"a.only-running in (1, 2) and on", VD_HOLDS},
    {"a.only-running in (5) or off", VD_FAILS},
    {"changed(a.only-long) or off", VD_FAILS},
    {"factory(a.only-long) and on", VD_HOLDS},
    {"distinct(share.*.extra) and ascending(share.*.extra)", VD_HOLDS},
    {"a.only-long + share.4.low > 3", VD_NOT_KNOWN}, /* not known beats none where none leaves the other */
    {"a.only-long > 3 and share.4.low > 3", VD_NOT_KNOWN},
    {"a.only-long > share.4.low", VD_HOLDS}, /* and is none where it makes none of it, whatever the other is */
    {"(a.only-long > share.4.low) or off", VD_FAILS},
    {"(a.only-long > 3) or off", VD_FAILS},
    {"(a.only-long * share.4.low > 3) or off", VD_FAILS},
};

static void test_what_does_not_count(void **state)
{
    (void)state;
    const vd_identity unit = {"Quillmere", "peg-S", "1.9", ""};
    for (size_t i = 0; i < G_N_ELEMENTS(rulings_of_none); i++) {
        char *rule = g_strdup_printf("  - must: >-\n      %s\n    severity: warning\n    say: \"{a.only-long}, "
                                     "{a.only-running}, {a.only-long * 2}\"\n",
                                     rulings_of_none[i].must);
        vd_findings *findings = vd_findings_new("");
        vd_model_file *file = with_rules(rule, findings);
        vd_fault fault = {0};
        assert_non_null(file);
        vd_set set = filled(vd_model_file_model(file));
        vd_set_tell_unit(&set, &unit);
        const char *const more[][2] = {{"a.mode", "rest"},      {"a.only-running", "5"}, {"share.4.in-use", "off"},
                                       {"share.1.extra", "10"}, {"share.2.extra", "20"}, {"share.3.extra", "30"}};
        for (size_t k = 0; k < G_N_ELEMENTS(more); k++) {
            put(&set, more[k][0], more[k][1]);
        }
        vd_ruling got = vd_rule_judge(&set, NULL, 0, 0, &fault);
        if (got != rulings_of_none[i].ruling) {
            fail_msg("%s: outcome %d", rulings_of_none[i].must, (int)got);
        }
        if (got == VD_FAILS) {
            assert_string_equal(fault.allowed, "absent, idle, none");
            assert_non_null(fault.setting); /* something is to blame, even where none of it counts */
        }
        free(set.memory);
        vd_model_file_free(file);
        vd_findings_free(findings);
        g_free(rule);
    }
}

/* What a rule hangs on: what it mentions, and what says whether that exists. */
static void test_what_a_rule_hangs_on(void **state)
{
    static const struct {
        const char *must, *key;
        bool hangs;
    } table[] = {{"a.only-running < 5", "a.only-running", true},   {"a.only-running < 5", "a.mode", true},
                 {"a.only-running < 5", "a.count", false},         {"a.only-running < 5", "a.only-long", false},
                 {"a.mode = rest", "a.only-running", false},       {"a.mode = rest", "a.mode", true},
                 {"share.2.extra < 5", "share.2.in-use", true},    {"share.2.extra < 5", "share.3.in-use", false},
                 {"distinct(share.*.part)", "share.3.part", true}, {"ascending(share.*.low)", "share.4.high", false}};
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(table); i++) {
        char *rule = g_strdup_printf("  - {must: %s, severity: warning}\n", table[i].must);
        vd_findings *findings = vd_findings_new("");
        vd_model_file *file = with_rules(rule, findings);
        assert_non_null(file);
        const vd_model *model = vd_model_file_model(file);
        if (vd_rule_hangs_on(model, 0, vd_model_find(model, table[i].key)) != table[i].hangs) {
            fail_msg("%s on %s", table[i].must, table[i].key);
        }
        vd_model_file_free(file);
        vd_findings_free(findings);
        g_free(rule);
    }
}

/* Hosts of their own: neither a network's number nor its broadcast address; networks of two have neither (RFC 3021). */
static void test_usable_hosts(void **state)
{
    static const struct {
        const char *address, *gateway, *mask;
        vd_ruling ruling;
    } hosts[] = {{"192.0.2.7", "0.0.0.0", "/24", VD_HOLDS},      {"192.0.2.0", "0.0.0.0", "/24", VD_FAILS},
                 {"192.0.2.255", "0.0.0.0", "/24", VD_FAILS},    {"192.0.2.255", "192.0.3.1", "/23", VD_HOLDS},
                 {"192.0.2.7", "192.0.3.1", "/24", VD_FAILS},    {"192.0.2.4", "192.0.2.5", "/31", VD_HOLDS},
                 {"192.0.2.64", "192.0.2.65", "/26", VD_FAILS},  {"0.0.0.0", "0.0.0.0", "/0", VD_FAILS},
                 {"255.255.255.255", "0.0.0.0", "/0", VD_FAILS}, {"192.0.2.9", "0.0.0.0", "/32", VD_HOLDS},
                 {"192.0.2.1", "0.0.0.0", "/24", VD_HOLDS},      {"192.0.2.254", "0.0.0.0", "/24", VD_HOLDS},
                 {"192.0.2.1", "192.0.2.2", "/30", VD_HOLDS},    {"192.0.2.2", "192.0.2.1", "/30", VD_HOLDS},
                 {"192.0.2.3", "0.0.0.0", "/30", VD_FAILS},      {"192.0.2.4", "0.0.0.0", "/30", VD_FAILS},
                 {"192.0.2.4", "192.0.2.3", "/30", VD_FAILS}};
    (void)state;
    vd_findings *findings = vd_findings_new("");
    vd_model_file *file =
        with_rules("  - {must: \"usable-host(a.address, a.gateway, a.mask)\", severity: warning}\n", findings);
    assert_non_null(file);
    vd_set set = filled(vd_model_file_model(file));
    for (size_t i = 0; i < G_N_ELEMENTS(hosts); i++) {
        put(&set, "a.address", hosts[i].address);
        put(&set, "a.gateway", hosts[i].gateway);
        put(&set, "a.mask", hosts[i].mask);
        if (vd_rule_judge(&set, NULL, 0, 0, NULL) != hosts[i].ruling) {
            fail_msg("%s %s by way of %s", hosts[i].address, hosts[i].mask, hosts[i].gateway);
        }
    }
    free(set.memory);
    vd_model_file_free(file);
    vd_findings_free(findings);
}

/* Variant, firmware, and what held before. */
static void test_what_a_rule_is_told(void **state)
{
    (void)state;
    vd_findings *findings = vd_findings_new("");
    vd_model_file *file =
        with_rules("  - {must: variant = long, severity: warning, blame: a.count, when: a.count < 0}\n"
                   "  - {must: firmware >= v1.10 and a.count < 0, severity: warning}\n"
                   "  - {must: changed(a.count) and not changed(a.grams), severity: warning}\n"
                   "  - {must: a.count < 0, severity: warning, when: variant = long}\n"
                   "  - {must: a.count >= 0 or a.count < 0, severity: warning, when: variant = long}\n",
                   findings);
    assert_non_null(file);
    const vd_model *model = vd_model_file_model(file);
    vd_set set = filled(model), before = filled(model);
    const vd_identity old = {"Quillmere", "peg-S", "1.9", ""}, new = {"Quillmere", "peg-L", "1.10.2", ""};
    uint16_t only_long = vd_model_find(model, "a.only-long");
    assert_int_equal(vd_set_exists(&set, only_long), VD_NOT_KNOWN);
    /* Whether it counts is not known, so neither is it broken, nor kept. */
    assert_int_equal(vd_rule_judge(&set, NULL, 3, 0, NULL), VD_NOT_KNOWN);
    assert_int_equal(vd_rule_judge(&set, NULL, 4, 0, NULL), VD_NOT_KNOWN);
    vd_set_tell_unit(&set, &old);
    assert_int_equal(vd_rule_judge(&set, NULL, 0, 0, NULL), VD_FAILS);
    assert_int_equal(vd_rule_judge(&set, NULL, 1, 0, NULL), VD_FAILS); /* 1.9 is older than 1.10 */
    assert_true(vd_set_lacks(&set, only_long));
    put(&set, "a.only-long", "3");
    assert_int_equal(vd_set_check(&set, only_long, NULL), VD_NOT_HERE);
    vd_set_tell_unit(&set, &new);
    assert_int_equal(vd_rule_judge(&set, NULL, 0, 0, NULL), VD_HOLDS);
    assert_int_equal(vd_rule_judge(&set, NULL, 1, 0, NULL), VD_HOLDS);
    assert_int_equal(vd_set_check(&set, only_long, NULL), VD_OK);
    assert_int_equal(vd_rule_judge(&set, &before, 2, 0, NULL), VD_FAILS);
    put(&set, "a.count", "-6");
    assert_int_equal(vd_rule_judge(&set, &before, 2, 0, NULL), VD_HOLDS);
    free(set.memory);
    free(before.memory);
    vd_model_file_free(file);
    vd_findings_free(findings);
}

static const struct {
    const char *rule, *sentence, *blamed;
} sentences[] = {
    {"  - must: sum(share.*.part) <= 90 %\n    say: \"{sum(share.*.part)} are given away, {100 % - sum(share.*.part)} "
     "are left.\"\n"
     "    blame: [share.1.part]\n    severity: warning\n",
     "100 % are given away, 0 % are left.", "share.1.part"},
    {"  - {must: a.count > 0, say: \"It is {a.count}; a third is {a.count / 3}, a half {a.count / 2}.\", severity: "
     "warning}\n",
     "It is -7; a third is -2.333, a half -3.5.", "a.count"},
    {"  - {must: a.every < 1 h, say: \"{a.every}, so {a.every * 10} for ten, {a.every / 7} for a seventh.\", severity: "
     "warning}\n",
     "1 h 30 min, so 15 h for ten, 12 min 51 s for a seventh.", "a.every"},
    {"  - {must: a.weight < 1 kg, say: \"{a.weight * 2} or {2 * a.grams}, {a.mode}, {a.tells}, {a.name}, "
     "{a.on-duty}\", severity: warning}\n",
     "73 kg or 73000 g, fast-run, horn, hive, on", "a.weight"},
    {"  - {must: a.opens > 12:00, say: \"{a.opens}, an hour later {a.opens + 1 h}, {a.begins + 1 d}\", severity: "
     "warning}\n",
     "06:30, an hour later 07:30, 2026-05-03 08:00:00", "a.opens"},
    {"  - {must: a.opens > 12:00, say: \"{a.opens + 20 h}, {a.opens - 7 h}\", severity: warning}\n",
     "02:30 of a later day, 23:30 of an earlier day", "a.opens"},
    {"  - {must: a.count > 5, say: no, blame: [a.only-long, share.4.extra], severity: warning}\n", "no", "a.only-long"},
    {"  - {must: a.wind > 9 kn, say: \"{a.wind}, {a.wind * 2}, {a.room * 2}, {a.hysteresis}\", severity: warning}\n",
     "7.5 kn, 15 kn, 6 KiB, 0.5 K", "a.wind"},
    {"  - {must: a.count > 5, say: \"above: {a.count > 0}, below: {a.count < 0}\", severity: warning}\n",
     "above: off, below: on", "a.count"},
    {"  - {must: a.count > 5, severity: warning}\n", "this must hold: a.count > 5", "a.count"},
    {"  - {must: a.count > 5, say: \"{a.only-long} is open\", severity: warning}\n", "not known is open", "a.count"},
};

static void test_sentences(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(sentences); i++) {
        vd_findings *findings = vd_findings_new("");
        vd_fault fault = {0};
        vd_model_file *file = with_rules(sentences[i].rule, findings);
        assert_non_null(file);
        vd_set set = filled(vd_model_file_model(file));
        assert_int_equal(vd_rule_judge(&set, NULL, 0, 0, &fault), VD_FAILS);
        assert_int_equal(fault.status, VD_RULE_WARNING);
        assert_string_equal(fault.allowed, sentences[i].sentence);
        assert_string_equal(fault.setting->words->key, sentences[i].blamed);
        free(set.memory);
        vd_model_file_free(file);
        vd_findings_free(findings);
    }
}

/* A rule for each item of a block, the blame on the one that breaks it. */
static void test_items(void **state)
{
    (void)state;
    vd_findings *findings = vd_findings_new("");
    vd_fault fault = {0};
    vd_survey survey;
    vd_model_file *file = with_rules("  - {order: [this.low, this.high], each: share, when: this.in-use}\n", findings);
    assert_non_null(file);
    const vd_model *model = vd_model_file_model(file);
    vd_set set = filled(model);
    assert_int_equal(vd_rule_judge(&set, NULL, 0, 0, NULL), VD_HOLDS);
    assert_int_equal(vd_rule_judge(&set, NULL, 0, 2, NULL), VD_HOLDS); /* not in use */
    assert_int_equal(vd_rule_judge(&set, NULL, 0, 3, NULL), VD_NOT_KNOWN);
    vd_survey_start(&survey, &set, NULL);
    assert_true(vd_survey_next(&survey, &fault));
    assert_string_equal(fault.setting->words->key, "share.2.low");
    assert_non_null(strstr(fault.allowed, "6 is not below high, which is 6"));
    assert_true(vd_rule_mentions(model, 0, vd_model_find(model, "share.4.high")));
    assert_false(vd_rule_mentions(model, 0, vd_model_find(model, "share.4.part")));
    assert_false(vd_survey_next(&survey, &fault)); /* share.4 is not in the set at all */
    free(set.memory);
    vd_model_file_free(file);
    vd_findings_free(findings);
}

static const struct {
    const char *must, *words;
    unsigned column; /* in the expression, from 1 */
} wrong[] = {
    {"a.weight < 5 m", "kg and m.", 1},
    {"a.weight < a.every", "kg and s.", 1},
    {"a.weight < 5", "kg and a bare number.", 1},
    {"a.weight + a.every > 5 kg", "kg and s.", 1},
    {"sum(share.*.part) < 5 kg", "% and kg.", 1},
    {"a.weight * a.speed * a.speed / a.every / a.every < 5 W", "together: m²·kg/s^4 and W.", 1},
    {"a.count > 5 dB", "a bare number and dB.", 1},
    {"a.count > 5 dBx", "nothing more belongs", 13},
    {"sum(share.*.part) * a.weight > 1 kg", "do not fit together: % and kg", 1},
    {"a.count < \"5\"", "cannot be compared", 11},
    {"a.name < \"a\"", "only be equal", 1},
    {"a.mode = slow", "not a choice: rest, fast-run, 50-hz", 10},
    {"a.mode in (rest, slow)", "not a choice", 18},
    {"a.count == 1", "one = is enough", 9},
    {"a.count <> 1", "the sign for it is !=", 9},
    {"a.count > 1 && a.on-duty", "the word for it is and", 13},
    {"a.count > 1 || a.on-duty", "the word for it is or", 13},
    {"!a.on-duty", "the word for it is not", 1},
    {"a.count / 0 > 1", "divided by 0", 1},
    {"a.weight / 0 kg > 1", "divided by 0", 1},
    {"a.mode > rest", "only be equal", 1},
    {"a.count", "a condition belongs here", 1},
    {"a.count + 1", "a condition belongs here", 1},
    {"a.nothing > 1", "name is unknown", 1},
    {"a.count > 1 and", "a value belongs here", 16},
    {"a.count > ", "a value belongs here", 10},
    {"(a.count > 1", "\")\" belongs here", 13},
    {"a.count > 1)", "nothing more belongs here", 12},
    {"a.count >> 1", "a value belongs here", 10},
    {"a.count = 1 = 1", "nothing more belongs here", 13},
    {"root(a.count) > 1", "no such function", 1},
    {"sum(a.count) > 1", "not a repeated setting", 5},
    {"sum(share.*.lot) > 1", "name is unknown", 5},
    {"share.*.low > 1", "name is unknown", 1},
    {"this.low > 1", "no item here: this. belongs", 1},
    {"sum(sum(share.*.low)) > 1", "inside another", 9},
    {"a.name = \"hive", "not closed", 10},
    {"a.count > 12345678901234567890", "not a number", 11},
    {"a.tells has drum", "not a choice: lamp, horn", 13},
    {"a.mode has rest", "only flags", 1},
    {"a.tells = lamp", "one by one, with has", 1},
    {"a.tells in (lamp)", "one by one, with has", 1},
    {"min(a.mode) = a.mode", "a number belongs here", 5},
    {"max(a.begins) = a.begins", "a number belongs here", 5},
    {"length(a.count) > 1", "a text belongs here", 8},
    {"whole(90 s) > 1", "a number without a unit belongs here", 7},
    {"whole(a.name) > 1", "a number without a unit belongs here", 7},
    {"same-network(a.count, a.gateway, a.mask)", "two addresses and a mask", 14},
    {"item > 1", "no item here", 1},
    {"outer > 1", "no block around", 1},
    {"distinct(a.count)", "a repeated setting such as", 10},
    {"ascending(share.*.in-use)", "only be equal", 11},
    {"usable-host(a.address, a.mask)", "\",\" belongs here", 30},
    {"a.address = '192.0.2'", "no value of a.address, which takes", 14},
    {"a.mac = '02'", "no value of a.mac", 10},
    {"a.mac = '02-00-5E-10-00-01", "not closed", 9},
    {"a.opens > 25:00", "HH:MM", 11},
    {"a.opens > 5 min", "cannot be compared", 11},
    {"not a.count", "a condition belongs here", 4},
    {"1 < 2", "always the same", 1},
    {"variant = medium", "not a variant: short, long", 11},
    {"a.count > 1 or a.weight", "a condition belongs here", 15},
    {"@", "a value belongs here", 1},
};

static void test_what_is_refused(void **state)
{
    (void)state;
    for (size_t i = 0; i < G_N_ELEMENTS(wrong); i++) {
        char words[512], *quoted = g_strescape(wrong[i].must, NULL);
        char *rule = g_strdup_printf("  - must: \"%s\"\n", quoted);
        vd_findings *findings = vd_findings_new("");
        assert_null(with_rules(rule, findings));
        const vd_finding *found = &g_array_index(findings->list, vd_finding, 0);
        vd_fault_words(&found->fault, true, words, sizeof words);
        if (strstr(words, wrong[i].words) == NULL || found->column < 12 + wrong[i].column - 1 ||
            found->column > 12 + wrong[i].column) {
            fail_msg("%s: column %u: %s", wrong[i].must, found->column, words);
        }
        vd_findings_free(findings);
        g_free(rule);
        g_free(quoted);
    }
}

/* An expression cut off anywhere, or with a character exchanged, is refused or compiles; nothing worse. */
static void test_rubbish(void **state)
{
    static const char *const texts[] = {
        "sum(share.*.part) / 3 <= max(33.3 %, 5 %) and (a.mode in (rest, 50-hz) or not a.on-duty)",
        "a.opens + 30 min < 07:00 and a.tells has horn and starts(a.phone, '+4')"};
    static const char letters[] = "().*,<>=!-+/\"' 0a{}";
    (void)state;
    for (size_t t = 0; t < G_N_ELEMENTS(texts); t++) {
        for (size_t at = 0; at < strlen(texts[t]); at++) {
            char *cut = g_strndup(texts[t], at), *changed = g_strdup(texts[t]);
            changed[at] = letters[(at + t) % (sizeof letters - 1)];
            const char *both[] = {cut, changed};
            for (size_t k = 0; k < 2; k++) {
                char *quoted = g_strescape(both[k], NULL), *rule = g_strdup_printf("  - {must: \"%s\"}\n", quoted);
                vd_findings *findings = vd_findings_new("");
                vd_model_file *file = with_rules(rule, findings);
                assert_true(file != NULL || findings->list->len > 0);
                vd_model_file_free(file);
                vd_findings_free(findings);
                g_free(quoted);
                g_free(rule);
            }
            g_free(cut);
            g_free(changed);
        }
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_outcomes),
        cmocka_unit_test(test_what_does_not_count),
        cmocka_unit_test(test_what_a_rule_hangs_on),
        cmocka_unit_test(test_usable_hosts),
        cmocka_unit_test(test_what_a_rule_is_told),
        cmocka_unit_test(test_sentences),
        cmocka_unit_test(test_items),
        cmocka_unit_test(test_what_is_refused),
        cmocka_unit_test(test_rubbish),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
