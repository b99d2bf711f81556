/* SPDX-License-Identifier: MIT
 * Talk in lines, byte by byte: values as each manner says them, what the client makes of good, broken and strange lines
 * at every split point, and what the unit's end answers. Lines that the standards themselves print are marked so. */
#include "fixtures.h"

#include <stdlib.h>
#include <string.h>

#include "verdite/unit.h"
#include "verdite/fields.h"
#include "verdite/talk.h"
#include "verdite/lines.h"

/* A unit in each manner with one setting of each kind. */
static const char settings_text[] =
    "verdite-model: 1\nmodel: x\ntitle: X\n%s\nline: {baud: 9600, framing: 8N1}\n"
    "identify: {maker: Quillmere, product: x}\ntimes: {usual-reply: 10 ms, longest-reply: 200 ms, gap: 10 ms, tries: "
    "3}\n"
    "groups: [{key: a, label: A}]\nsettings:\n"
    "  - {key: a.cmd1, label: A, type: integer, range: [0, 9], default: 3, at: {word: CMD2}}\n"
    "  - {key: a.cmd2, label: A, type: truth, default: \"off\", at: {word: CMD2, field: 2}}\n"
    "  - {key: a.cmd3, label: A, type: integer, range: [0, 15], default: 15, at: {word: CMD2, field: 3}}\n"
    "  - {key: a.cmd4, label: A, type: text, length: 8, default: GSM, at: {word: CMD2, field: 4}}\n"
    "  - {key: a.level, label: A, type: decimal, decimals: 2, range: [-99, 99], default: 1.5, at: {word: LEVEL}}\n"
    "  - {key: a.count, label: A, type: decimal, decimals: 1, range: [0, 99], default: 2.5, at: {word: COUNT, as: "
    "count}}\n"
    "  - {key: a.wait, label: A, type: duration, tick: 1 s, range: [0 s, 1 h], default: 90 s, at: {word: WAIT}}\n"
    "  - {key: a.mode, label: A, type: choice, choices: [{name: long-range}, {name: short, number: 7}], default: "
    "short, "
    "at: {word: MODE, as: name}}\n"
    "  - {key: a.on, label: A, type: truth, default: \"on\", at: {word: STATE, as: name}}\n"
    "  - {key: a.net, label: A, type: ipv4, default: 192.0.2.7, at: {word: NET}}\n"
    "  - {key: a.eui, label: A, type: eui-64, default: 02-00-5E-10-00-00-00-01, at: {word: EUI}}\n"
    "  - {key: a.text, label: A, type: text, length: 20, default: plain, at: {word: TEXT}}\n";

static const struct {
    const char *name, *speaks;
} manners[] = {{"commands", "speaks: {manner: commands, longest-line: 120, several: yes, echo: yes}"},
               {"queries", "speaks: {manner: queries, longest-line: 120, several: yes}"},
               {"sentences", "speaks: {manner: sentences, talker: PQLX, longest-line: 82, several: yes}"}};
enum { COMMANDS, QUERIES, SENTENCES, MANNERS };

static const vd_model *model_in(int manner)
{
    static vd_model_file *files[MANNERS];
    if (files[manner] == NULL) {
        char *text = g_strdup_printf(settings_text, manners[manner].speaks);
        vd_findings *findings = vd_findings_new("x");
        files[manner] = model_of_text(text, findings);
        assert_non_null(files[manner]);
        vd_findings_free(findings);
        g_free(text);
    }
    return vd_model_file_model(files[manner]);
}

/* ---- Values ---- */

static void test_values_are_said_and_taken(void **state)
{
    (void)state;
    static const struct {
        const char *key, *typed, *said[MANNERS];
    } cases[] = {
        {"a.level", "-12.5", {"-12.50", "-12.50", "-12.50"}},
        {"a.level", "0", {"0.00", "0.00", "0.00"}},
        {"a.count", "12.3", {"123", "123", "123"}},
        {"a.wait", "10 min", {"600", "600", "600"}},
        {"a.mode", "long-range", {"LONG_RANGE", "LONG_RANGE", "LONG_RANGE"}},
        {"a.on", "off", {"OFF", "OFF", "OFF"}},
        {"a.net", "198.51.100.3", {"\"198.51.100.3\"", "\"198.51.100.3\"", "198.51.100.3"}},
        {"a.eui", "0200.5E10.0000.00FF", {"\"02005E10000000FF\"", "\"02005E10000000FF\"", "02005E10000000FF"}},
        {"a.text", "say \"hi\"", {"\"say \\22hi\\22\"", "\"say \"\"hi\"\"\"", "say \"hi\""}},
        {"a.text", "a,b;c*d", {"\"a,b;c*d\"", "\"a,b;c*d\"", "a^2Cb;c^2Ad"}},
        {"a.text", "27\" wheels", {"\"27\\22 wheels\"", "\"27\"\" wheels\"", "27\" wheels"}},
        {"a.text", "back\\slash^", {"\"back\\5Cslash^\"", "\"back\\slash^\"", "back^5Cslash^5E"}},
        {"a.text", "", {"\"\"", "\"\"", ""}},
    };
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        for (int m = 0; m < MANNERS; m++) {
            const vd_model *model = model_in(m);
            vd_set set = new_set(model), back = new_set(model);
            uint16_t setting = vd_model_find(model, cases[i].key);
            char text[128];
            vd_writer writer = vd_writer_start(text, sizeof text);
            if (strcmp(cases[i].key, "a.eui") == 0) {
                put(&set, "a.eui", "02-00-5E-10-00-00-00-FF");
            } else {
                put(&set, cases[i].key, cases[i].typed);
            }
            assert_int_equal(vd_field_print(vd_manner_of(set.model), &set, setting, &writer, NULL), VD_OK);
            assert_string_equal(text, cases[i].said[m]);
            assert_true(vd_field_take(vd_manner_of(back.model), &back, setting, text, strlen(text)));
            assert_int_equal(vd_set_compare(&set, &back, setting), VD_SAME);
            free(set.memory);
            free(back.memory);
        }
    }
}

static void test_numbers_of_every_form(void **state)
{
    (void)state;
    static const struct {         /* IEEE 488.2 8.7.2 to 8.7.4: NR1, NR2, NR3 */
        const char *text, *means; /* NULL: refused */
    } cases[] = {{"12", "12.00"},     {"+12", "12.00"},   {"-0.5", "-0.50"},  {"+1.250E+01", "12.50"},
                 {"125E-1", "12.50"}, {" 7.25 ", "7.25"}, {"7.255", "7.255"}, {"1.2e1", "12.00"},
                 {"", NULL},          {"abc", NULL},      {"1.2.3", NULL},    {"12 kg", NULL},
                 {"1E", NULL},        {"E5", NULL},       {"--1", NULL},      {"99999999999999999999", NULL},
                 {"1E99", NULL},      {"1E-40", NULL},    {"\"12\"", NULL}};
    vd_set set = new_set(model_in(QUERIES));
    uint16_t level = vd_model_find(set.model, "a.level"), wait = vd_model_find(set.model, "a.wait");
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        vd_set_forget(&set, level);
        bool taken = vd_field_take(vd_manner_of(set.model), &set, level, cases[i].text, strlen(cases[i].text));
        assert_int_equal(taken, cases[i].means != NULL);
        if (taken) {
            assert_string_equal(said(&set, "a.level"), cases[i].means);
        }
        assert_int_equal(vd_set_knows(&set, level), taken);
    }
    assert_false(vd_field_take(vd_manner_of(set.model), &set, wait, "1.5", 3)); /* ticks are whole */
    free(set.memory);
}

static void test_checks_of_sentences(void **state)
{
    (void)state;
    static const char *const sentences[] = {/* as they are printed wherever NMEA 0183 is explained */
                                            "GPGGA,123519,4807.038,N,01131.000,E,1,08,0.9,545.4,M,46.9,M,,*47",
                                            "GPRMC,123519,A,4807.038,N,01131.000,E,022.4,084.4,230394,003.1,W*6A",
                                            "GPGLL,4916.45,N,12311.12,W,225444,A*31"};
    for (size_t i = 0; i < G_N_ELEMENTS(sentences); i++) {
        const char *star = strchr(sentences[i], '*');
        char hex[3];
        g_snprintf(hex, sizeof hex, "%02X", vd_lines_check(sentences[i], (size_t)(star - sentences[i])));
        assert_string_equal(hex, star + 1);
    }
}

/* ---- The fitter's end ---- */

/* A talk whose exchanges are fed by hand. */
typedef struct bench {
    vd_talk_storage talk;
    vd_set values, held;
    void *memory;
    vd_fault fault;
    uint64_t now;
    uint8_t *which;
} hand;

static void hand_start(hand *h, const vd_model *model, vd_job_kind job, const char *key)
{
    memset(h, 0, sizeof *h);
    h->memory = calloc(1, vd_talk_size(model));
    h->values = new_set(model);
    h->held = new_set(model);
    h->which = calloc(1, model->setting_count);
    vd_set_put_initial(&h->values);
    vd_set_put_initial(&h->held);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        h->which[i] = key == NULL || g_str_has_prefix(model->settings[i].words->key, key);
        if (job == VD_JOB_READ_LIVE) {
            vd_set_forget(&h->values, i);
        }
    }
    vd_talk_start(vd_talk_in(&h->talk), model, h->memory, &model->line, 0, 0, &h->fault);
    vd_talk_begin(vd_talk_in(&h->talk), 0, job, h->which, &h->values, &h->held);
}

static void hand_end(hand *h)
{
    free(h->memory);
    free(h->values.memory);
    free(h->held.memory);
    free(h->which);
}

/* The line that is wanted to be sent, without its end; NULL when there is none. Counts as sent. */
static const char *sent(hand *h)
{
    static char line[VD_LONGEST_LINE + 1];
    vd_wants wants;
    vd_talk_engine.wants(vd_talk_in(&h->talk), &wants);
    if (wants.count == 0) {
        return NULL;
    }
    memcpy(line, wants.send, wants.count);
    line[wants.count] = '\0';
    g_strchomp(line);
    h->now += 1000;
    vd_talk_engine.feed(vd_talk_in(&h->talk), &(vd_event){.kind = VD_SENT, .now = h->now, .until = h->now});
    return line;
}

static void hear(hand *h, const char *bytes, size_t count, const uint8_t *errors)
{
    h->now += 1000;
    vd_talk_engine.feed(
        vd_talk_in(&h->talk),
        &(vd_event){
            .kind = VD_HEARD, .now = h->now, .bytes = (const uint8_t *)bytes, .errors = errors, .count = count});
}

static void hear_text(hand *h, const char *text)
{
    hear(h, text, strlen(text), NULL);
}

static void pass(hand *h, uint64_t microseconds)
{
    vd_wants wants;
    h->now += microseconds;
    vd_talk_engine.wants(vd_talk_in(&h->talk), &wants);
    if (wants.wake <= h->now) {
        vd_talk_engine.feed(vd_talk_in(&h->talk), &(vd_event){.kind = VD_TIME, .now = h->now});
    }
}

static vd_status ended(hand *h)
{
    vd_status status = VD_OK;
    assert_true(vd_talk_ended(vd_talk_in(&h->talk), &status));
    return status;
}

/* What 3GPP TS 27.007 prints as the response to +CMD2? (clause 4.3, figure 2), and what else may come around it. */
#define FIGURE_2 "\r\n+CMD2: 3,0,15,\"GSM\"\r\n\r\nOK\r\n"

static void test_answers_in_every_guise(void **state)
{
    (void)state;
    static const struct {
        int manner;
        const char *key, *line, *answer;
        vd_status status; /* of the first try; VD_OK: the values are as they should be */
    } cases[] = {
        {COMMANDS, "a.cmd", "AT+CMD2?", FIGURE_2, VD_OK},
        {COMMANDS, "a.cmd", "AT+CMD2?", "AT+CMD2?\r" FIGURE_2, VD_OK},
        {COMMANDS, "a.cmd", "AT+CMD2?", "+CMD2:3,0,15,\"GSM\"\nOK\n", VD_OK},
        {COMMANDS, "a.cmd", "AT+CMD2?", "\r\nRING\r\n\r\n+CREG: 5\r\n" FIGURE_2, VD_OK},
        {COMMANDS, "a.cmd", "AT+CMD2?", "\r\n+CMD2: 3,0,15,\"GSM\"\r\n\r\n+EVENT: \"OK\"\r\nRING\r\n\r\nOK\r\n", VD_OK},
        {COMMANDS, "a.cmd", "AT+CMD2?", "\r\n+CMD2: 3,0\r\n" FIGURE_2, VD_OK}, /* of itself, with fewer fields */
        {COMMANDS, "a.cmd", "AT+CMD2?", "\r\n+CMD2: 3,0,15,\"GSM\",9\r\n\r\nOK\r\n", VD_OK}, /* a newer unit has more */
        {COMMANDS, "a.cmd", "AT+CMD2?", "\r\nERROR\r\n", VD_REFUSED_OTHER},
        {COMMANDS, "a.cmd", "AT+CMD2?", "\r\n+CME ERROR: 3\r\n", VD_REFUSED_RIGHT},
        {COMMANDS, "a.cmd", "AT+CMD2?", "\r\n+CME ERROR: 4\r\n", VD_REFUSED_WORD},
        {COMMANDS, "a.cmd", "AT+CMD2?", "\r\n+CME ERROR: operation not allowed\r\n", VD_REFUSED_OTHER},
        {COMMANDS, "a.cmd", "AT+CMD2?", "\r\n+CMD2: 3,0,x,\"GSM\"\r\n\r\nOK\r\n", VD_ANSWER_STRANGE},
        {COMMANDS, "a.cmd", "AT+CMD2?", "\r\nOK\r\n", VD_ANSWER_STRANGE},
        {COMMANDS, "a.cmd", "AT+CMD2?", "\r\n+CMD2: 3,0,15,\"GSM\"\r\n", VD_LINE_CUT_SHORT},
        {COMMANDS, "a.cmd", "AT+CMD2?", "\r\n+CMD2: 3,0,15,\"GS", VD_NO_SENSE},
        {COMMANDS, "a.cmd", "AT+CMD2?", "", VD_NO_ANSWER},
        {QUERIES, "a.cmd", ":CMD2?", "3,0,15,\"GSM\"\n", VD_OK},
        {QUERIES, "a.cmd", ":CMD2?", "+3,+0,1.5E+01,\"GSM\"\r\n", VD_OK},
        {QUERIES, "a.cmd", ":CMD2?", ":CMD2?\n3,0,15,\"GSM\"\n", VD_OK},
        {QUERIES, "a.cmd", ":CMD2?", "low battery\n3,0,15,\"GSM\"\n", VD_OK},
        {QUERIES, "a.cmd", ":CMD2?", "3,0,15\n", VD_ANSWER_STRANGE},
        {QUERIES, "a.cmd", ":CMD2?", "3,0,15,\"GSM\";4\n", VD_ANSWER_STRANGE},
        {SENTENCES, "a.cmd", "$PQLX,R,CMD2*3F", "$PQLX,V,1,1,CMD2,3,0,15,GSM*65\r\n", VD_OK},
        {SENTENCES, "a.cmd", "$PQLX,R,CMD2*3F",
         "$GPGLL,4916.45,N,12311.12,W,225444,A*31\r\n$PQLX,V,1,1,CMD2,3,0,15,GSM*65\r\n", VD_OK},
        {SENTENCES, "a.cmd", "$PQLX,R,CMD2*3F", "$PQLX,V,1,1,CMD2,3,0,15,GSN*65\r\n", VD_LINE_DAMAGED},
        {SENTENCES, "a.cmd", "$PQLX,R,CMD2*3F", "$PQLX,N,CMD2,1*3E\r\n", VD_REFUSED_WORD},
        {SENTENCES, "a.cmd", "$PQLX,R,CMD2*3F", "$PQLX,N,OTHER,1*02\r\n", VD_NO_SENSE}, /* about something else */
    };
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        size_t length = strlen(cases[i].answer);
        for (size_t cut = 0; cut <= length; cut++) { /* in two pieces, at each place */
            hand h;
            hand_start(&h, model_in(cases[i].manner), VD_JOB_READ_LIVE, cases[i].key);
            vd_talk_limit_tries(vd_talk_in(&h.talk), 1);
            assert_string_equal(sent(&h), cases[i].line);
            hear(&h, cases[i].answer, cut, NULL);
            hear(&h, cases[i].answer + cut, length - cut, NULL);
            vd_status status = VD_OK;
            for (int step = 0; step < 400 && !vd_talk_ended(vd_talk_in(&h.talk), &status); step++) {
                pass(&h, 50000);
                sent(&h); /* it may ask for each record by itself after that */
            }
            assert_int_equal(ended(&h), cases[i].status);
            if (cases[i].status == VD_OK) {
                assert_string_equal(said(&h.values, "a.cmd3"), "15");
                assert_string_equal(said(&h.values, "a.cmd4"), "GSM");
            }
            hand_end(&h);
        }
    }
}

/* One pause of nearly the gap that its model declares, at each place of the answer. */
static void test_an_answer_with_a_pause(void **state)
{
    (void)state;
    static const char answer[] = "$PQLX,V,1,1,CMD2,3,0,15,GSM*65\r\n";
    vd_model slow = *model_in(SENTENCES);
    slow.reply.gap = 1000;
    for (size_t cut = 1; cut + 2 < sizeof answer; cut++) {
        hand h;
        hand_start(&h, &slow, VD_JOB_READ_LIVE, "a.cmd");
        vd_talk_limit_tries(vd_talk_in(&h.talk), 1);
        sent(&h);
        hear(&h, answer, cut, NULL);
        pass(&h, 900000);
        hear_text(&h, answer + cut);
        assert_int_equal(ended(&h), VD_OK);
        assert_string_equal(said(&h.values, "a.cmd4"), "GSM");
        hand_end(&h);
    }
}

static void test_hostile_bytes(void **state)
{
    (void)state;
    static const char *const junk[] = {"\xff\xfe\x80\x81", "\0\0\0",
                                       "\x1b[2J",          "\xd0\x9f\xd1\x80\xd0\xb8\xd0\xb2\xd0\xb5\xd1\x82\r\n",
                                       "\r\n\r\n\n\r\r\n", "+CMD2: \"unclosed\r\n",
                                       "+: 1\r\n",         ":\r\n",
                                       "$*\r\n",           "\"\"\"\"\"\r\n"};
    for (int m = 0; m < MANNERS; m++) {
        static const char *const answers[] = {FIGURE_2, "3,0,15,\"GSM\"\n", "$PQLX,V,1,1,CMD2,3,0,15,GSM*65\r\n"};
        for (size_t i = 0; i < G_N_ELEMENTS(junk); i++) {
            hand h;
            hand_start(&h, model_in(m), VD_JOB_READ_LIVE, "a.cmd");
            assert_non_null(sent(&h));
            hear(&h, junk[i], junk[i][0] == '\0' ? 3 : strlen(junk[i]), NULL);
            hear_text(&h, "\r\n");
            hear_text(&h, answers[m]);
            assert_int_equal(ended(&h), VD_OK);
            assert_string_equal(said(&h.values, "a.cmd4"), "GSM");
            hand_end(&h);
        }
        /* a megabyte without an end, then the answer */
        hand h;
        char *long_line = g_malloc(1u << 20);
        memset(long_line, 'x', 1u << 20);
        hand_start(&h, model_in(m), VD_JOB_READ_LIVE, "a.cmd");
        assert_non_null(sent(&h));
        hear(&h, long_line, 1u << 20, NULL);
        hear_text(&h, "\r\n");
        hear_text(&h, answers[m]);
        assert_int_equal(ended(&h), VD_OK);
        assert_int_equal(vd_talk_tally(vd_talk_in(&h.talk))->surplus, 1); /* one line, however long */
        hand_end(&h);
        /* for ever: it ends by time all the same */
        hand_start(&h, model_in(m), VD_JOB_READ_LIVE, "a.cmd");
        assert_non_null(sent(&h));
        vd_status status = VD_OK;
        for (int i = 0; i < 100000 && !vd_talk_ended(vd_talk_in(&h.talk), &status); i++) {
            hear(&h, long_line, 64, NULL);
            pass(&h, 2000);
            sent(&h);
        }
        assert_int_equal(ended(&h), VD_NO_SENSE);
        hand_end(&h);
        g_free(long_line);
    }
}

static void test_line_errors_and_repeats(void **state)
{
    (void)state;
    uint8_t errors[64] = {0};
    hand h;
    errors[10] = VD_ERROR_FRAMING;
    hand_start(&h, model_in(COMMANDS), VD_JOB_READ_LIVE, "a.cmd");
    for (int try = 0; try < 3; try++) {
        assert_string_equal(sent(&h), "AT+CMD2?");
        hear(&h, FIGURE_2, strlen(FIGURE_2), errors); /* the line is left out, so OK comes too early */
        assert_null(try < 2 ? NULL : sent(&h));
    }
    assert_int_equal(ended(&h), VD_ANSWER_STRANGE);
    hand_end(&h);
    /* a byte that has begun long ago is not the beginning of what comes now */
    hand_start(&h, model_in(COMMANDS), VD_JOB_READ_LIVE, "a.cmd");
    assert_non_null(sent(&h));
    hear_text(&h, "+");
    pass(&h, 60000);
    hear_text(&h, &FIGURE_2[2]); /* without the empty line before it */
    assert_int_equal(ended(&h), VD_OK);
    hand_end(&h);
    /* whoever began to answer may still go on: the line is kept quiet before it is asked again */
    hand_start(&h, model_in(COMMANDS), VD_JOB_READ_LIVE, "a.cmd");
    assert_non_null(sent(&h));
    hear_text(&h, "\r\n+CMD2: 3,0,15,\"GSM\"\r\n");
    pass(&h, 210000);
    assert_null(sent(&h));
    hear_text(&h, "\r\nOK\r\n"); /* late: it pays for nothing */
    pass(&h, 210000);
    assert_string_equal(sent(&h), "AT+CMD2?");
    hear_text(&h, FIGURE_2);
    assert_int_equal(ended(&h), VD_OK);
    hand_end(&h);
}

/* Sentences that come in the wrong order, twice, or not all, are no answer. */
static void test_sentences_count_themselves(void **state)
{
    (void)state;
    static const char one[] = "$PQLX,V,2,1,LEVEL,1.50*20\r\n", two[] = "$PQLX,V,2,2,MODE,SHORT*3E\r\n";
    static const struct {
        const char *first, *second;
        bool whole;
    } cases[] = {{one, two, true}, {two, one, false}, {one, one, false}, {two, two, false}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        hand h;
        hand_start(&h, model_in(SENTENCES), VD_JOB_READ_LIVE, "a.level");
        h.which[vd_model_find(model_in(SENTENCES), "a.mode")] = 1;
        vd_talk_begin(vd_talk_in(&h.talk), 0, VD_JOB_READ_LIVE, h.which, &h.values, &h.held);
        assert_string_equal(sent(&h), "$PQLX,R,LEVEL,MODE*3E");
        hear_text(&h, cases[i].first);
        hear_text(&h, cases[i].second);
        vd_status status = VD_OK;
        assert_int_equal(vd_talk_ended(vd_talk_in(&h.talk), &status), cases[i].whole);
        for (int step = 0; step < 20 && !cases[i].whole && sent(&h) == NULL; step++) {
            pass(&h, 50000);
        }
        if (!cases[i].whole) { /* once more, and now in order */
            hear_text(&h, one);
            hear_text(&h, two);
        }
        assert_int_equal(ended(&h), VD_OK);
        hand_end(&h);
    }
}

static void test_writes_say_whole_records(void **state)
{
    (void)state;
    static const struct {
        int manner;
        const char *lines[2], *answers[2];
    } cases[] = {
        {COMMANDS, {"AT+CMD2=3,1,15,\"GSM\";+LEVEL=-2.00", NULL}, {"\r\nOK\r\n", NULL}},
        {QUERIES, {"*CLS;:CMD2 3,1,15,\"GSM\";:LEVEL -2.00;:SYST:ERR?", NULL}, {"0,\"No error\"\n", NULL}},
        {SENTENCES,
         {"$PQLX,W,CMD2,3,1,15,GSM*65", "$PQLX,W,LEVEL,-2.00*09"},
         {"$PQLX,A,CMD2*2C\r\n", "$PQLX,A,LEVEL*02\r\n"}},
    };
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        hand h;
        hand_start(&h, model_in(cases[i].manner), VD_JOB_WRITE, "none");
        put(&h.values, "a.cmd2", "on");
        put(&h.values, "a.level", "-2");
        h.which[vd_model_find(h.values.model, "a.cmd2")] = 1;
        h.which[vd_model_find(h.values.model, "a.level")] = 1;
        vd_talk_begin(vd_talk_in(&h.talk), 0, VD_JOB_WRITE, h.which, &h.values, &h.held);
        for (int k = 0; k < 2 && cases[i].lines[k] != NULL; k++) {
            assert_string_equal(sent(&h), cases[i].lines[k]);
            hear_text(&h, cases[i].answers[k]);
        }
        assert_int_equal(ended(&h), VD_OK);
        hand_end(&h);
    }
}

static void test_refused_writes(void **state)
{
    (void)state;
    static const struct {
        int manner;
        const char *answer;
        vd_status status;
    } cases[] = {{COMMANDS, "\r\n+CME ERROR: 50\r\n", VD_REFUSED_VALUE},
                 /* SCPI-99 volume 2, 21.8, prints such an error with what it is about behind a semicolon */
                 {QUERIES, "-131,\"Invalid suffix;FREQuency:CENT 2.0E+5 dbuV\"\n", VD_REFUSED_OTHER},
                 {QUERIES, "-222,\"Data out of range\"\n", VD_REFUSED_VALUE},
                 {QUERIES, "-113,\"Undefined header\"\n", VD_REFUSED_WORD},
                 {QUERIES, "-203,\"Command protected\"\n", VD_REFUSED_RIGHT},
                 {SENTENCES, "$PQLX,N,LEVEL,2*13\r\n", VD_REFUSED_VALUE}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        hand h;
        hand_start(&h, model_in(cases[i].manner), VD_JOB_WRITE, "a.level");
        assert_non_null(sent(&h));
        hear_text(&h, "\r\nno answer to anything\r\n");
        hear_text(&h, cases[i].answer);
        assert_int_equal(ended(&h), cases[i].status);
        assert_int_equal(vd_talk_outcome(vd_talk_in(&h.talk), vd_model_find(h.values.model, "a.level")), VD_REFUSED);
        assert_null(sent(&h));
        hand_end(&h);
    }
}

/* A unit that says it is busy is left alone and asked again, until it takes it or the limit is over. */
static void test_busy_units_are_asked_again(void **state)
{
    (void)state;
    static const struct {
        int manner;
        const char *busy, *done;
    } cases[] = {{COMMANDS, "\r\n+CME ERROR: 14\r\n", "\r\nOK\r\n"},
                 {SENTENCES, "$PQLX,N,LEVEL,5*14\r\n", "$PQLX,A,LEVEL*02\r\n"}};
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        for (int times = 1; times < 100; times += 98) { /* once, and for good */
            hand h;
            vd_status status = VD_OK;
            hand_start(&h, model_in(cases[i].manner), VD_JOB_WRITE, "a.level");
            for (int n = 0; n < times && !vd_talk_ended(vd_talk_in(&h.talk), &status); n++) {
                assert_non_null(sent(&h));
                hear_text(&h, cases[i].busy);
                assert_null(sent(&h)); /* not at once */
                pass(&h, 60000);
            }
            if (times == 1) {
                assert_non_null(sent(&h));
                hear_text(&h, cases[i].done);
            }
            assert_int_equal(ended(&h), times == 1 ? VD_OK : VD_REFUSED_BUSY);
            assert_true(h.now < 4000000);
            hand_end(&h);
        }
    }
}

/* ---- The unit's end ---- */

static size_t ask_unit(vd_unit *unit, uint64_t *now, const char *line, char *answer, size_t size)
{
    vd_wants wants;
    size_t length = 0;
    *now += 1000000;
    vd_unit_engine.feed(unit, &(vd_event){.kind = VD_TIME, .now = *now});
    vd_unit_engine.feed(
        unit, &(vd_event){.kind = VD_HEARD, .now = *now, .bytes = (const uint8_t *)line, .count = strlen(line)});
    for (int i = 0; i < 100; i++) {
        vd_unit_engine.wants(unit, &wants);
        if (wants.keep) {
            vd_unit_engine.feed(unit, &(vd_event){.kind = VD_KEPT, .now = *now});
        } else if (wants.count > 0) {
            assert_true(wants.count < size);
            memcpy(answer, wants.send, wants.count);
            length = wants.count;
            vd_unit_engine.feed(unit, &(vd_event){.kind = VD_SENT, .now = *now, .until = *now});
            break;
        }
        *now += 5000;
        vd_unit_engine.feed(unit, &(vd_event){.kind = VD_TIME, .now = *now});
    }
    answer[length] = '\0';
    return length;
}

static void test_what_a_unit_answers(void **state)
{
    (void)state;
    static const struct {
        int manner;
        const char *line, *answer;
    } cases[] = {
        {COMMANDS, "AT\r", "AT\r\r\nOK\r\n"},
        {COMMANDS, "ATE0\r", "ATE0\r\r\nOK\r\n"},
        {COMMANDS, "AT+CMD2?\r", FIGURE_2},
        {COMMANDS, "at+cmd2?\r", FIGURE_2},
        {COMMANDS,
         "\x01\x03\xff"
         "AT+CMD2?\r",
         FIGURE_2}, /* what noise left in front */
        {COMMANDS, "AT+GMI;+GMM\r", "\r\nQuillmere\r\n\r\nx\r\n\r\nOK\r\n"},
        {COMMANDS, "AT+LEVEL=5;+LEVEL?\r", "\r\n+LEVEL: 5.00\r\n\r\nOK\r\n"},
        {COMMANDS, "AT+CMD2=,1;+CMD2?\r",
         "\r\n+CMD2: 3,1,15,\"GSM\"\r\n\r\nOK\r\n"},                    /* V.250 5.4.2.1: left out, stays */
        {COMMANDS, "AT+LEVEL=500;+LEVEL?\r", "\r\n+CME ERROR: 50\r\n"}, /* the rest of the line is dropped */
        {COMMANDS, "AT+NONE?\r", "\r\n+CME ERROR: 4\r\n"},
        {COMMANDS, "hello\r", ""},
        {QUERIES, "*IDN?\n", "Quillmere,x,S-1,1.0\n"},
        {QUERIES, ":LEVEL?;:MODE?\n", "1.50;SHORT\n"},
        {QUERIES, "level 2.5;:level?\n", "2.50\n"},
        {QUERIES, ":NONE?;:LEVEL?\n", "2.50\n"},
        {QUERIES, ":SYST:ERR?\n", "-113,\"Undefined header\"\n"},
        {QUERIES, ":SYST:ERR?\n", "0,\"No error\"\n"},
        {QUERIES, ":LEVEL 500;:SYST:ERR?\n", "-222,\"Data out of range\"\n"},
        {QUERIES, ":LEVEL 500;*CLS;:SYST:ERR?\n", "0,\"No error\"\n"},
        {QUERIES, ":LEVEL 1\n", ""},
        {SENTENCES, "$PQLX,R,ID*4A\r\n", "$PQLX,V,1,1,ID,Quillmere,x,S-1,1.0*04\r\n"},
        {SENTENCES, "xx$PQLX,R,LEVEL*11\r\n", "$PQLX,V,1,1,LEVEL,1.50*23\r\n"},
        {SENTENCES, "$PQLX,R,LEVEL*10\r\n", ""},
        {SENTENCES, "$PQLY,R,LEVEL*09\r\n", ""},
        {SENTENCES, "$PQLX,W,TEXT,27\" wheels*74\r\n", "$PQLX,A,TEXT*49\r\n"},
        {SENTENCES, "$PQLX,R,TEXT,LEVEL*20\r\n", "$PQLX,V,2,1,TEXT,27\" wheels*76\r\n$PQLX,V,2,2,LEVEL,1.50*23\r\n"},
        {SENTENCES, "$PQLX,R,NONE*4D\r\n", "$PQLX,N,NONE,1*4C\r\n"},
        {SENTENCES, "$PQLX,W,LEVEL,500*0D\r\n", "$PQLX,N,LEVEL,2*13\r\n"},
    };
    vd_unit_storage units[MANNERS];
    void *memories[MANNERS];
    uint64_t now = 0;
    const vd_identity identity = {"Quillmere", "x", "1.0", "S-1"};
    for (int m = 0; m < MANNERS; m++) {
        size_t size = vd_unit_size(model_in(m), vd_unit_language_of(model_in(m)));
        memories[m] = calloc(1, size);
        vd_unit_start(vd_unit_in(&units[m]), model_in(m), vd_unit_language_of(model_in(m)), &identity, memories[m],
                      size);
        vd_unit_power_up(vd_unit_in(&units[m]), 0);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(cases); i++) {
        char answer[1024];
        ask_unit(vd_unit_in(&units[cases[i].manner]), &now, cases[i].line, answer, sizeof answer);
        assert_string_equal(answer, cases[i].answer);
    }
    for (int m = 0; m < MANNERS; m++) {
        free(memories[m]);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_values_are_said_and_taken),  cmocka_unit_test(test_numbers_of_every_form),
        cmocka_unit_test(test_checks_of_sentences),        cmocka_unit_test(test_answers_in_every_guise),
        cmocka_unit_test(test_an_answer_with_a_pause),     cmocka_unit_test(test_hostile_bytes),
        cmocka_unit_test(test_line_errors_and_repeats),    cmocka_unit_test(test_sentences_count_themselves),
        cmocka_unit_test(test_writes_say_whole_records),   cmocka_unit_test(test_refused_writes),
        cmocka_unit_test(test_busy_units_are_asked_again), cmocka_unit_test(test_what_a_unit_answers),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
