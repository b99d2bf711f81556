/* SPDX-License-Identifier: MIT
 * What is said to the person and to programs: faults, findings, values, colours. */
#include "print.h"

#include <stdarg.h>
#include <string.h>

#define MOST_FINDINGS 20u /* a screenful */

/* A sentence on standard error behind a heading. */
static void print_sentence(const cli *c, tone t, const char *heading, const char *sentence)
{
    char *lead = c->speaker != NULL ? g_strdup_printf("%s: %s", c->speaker, heading) : g_strdup(heading);
    prose_print_behind(stderr, c->colour_messages, t, lead, "    ", sentence);
    g_free(lead);
}

/* What is wrong, behind the name of the program. */
static void print_fault(const cli *c, const char *sentence)
{
    char *heading = g_strconcat(c->program->name, ":", NULL);
    print_sentence(c, TONE_BAD, heading, sentence);
    g_free(heading);
}

/* What the library says of a fault, and what to type next. */
static char *words_of(const cli *c, const vd_fault *fault)
{
    char words[512];
    vd_fault_words(fault, true, words, sizeof words);
    char *hint = hint_of(c, fault), *all = g_strconcat(words, hint[0] != '\0' ? " " : "", hint, NULL);
    g_free(hint);
    return all;
}

static json_t *fault_json(const cli *c, const vd_fault *fault)
{
    char name[64], *what = words_of(c, fault);
    vd_writer writer = vd_writer_start(name, sizeof name);
    vd_writer_add_status(&writer, fault->status);
    json_t *object = json_pack("{s:s, s:s}", "fault", name, "words", what);
    g_free(what);
    if (vd_status_code(fault->status)[0] != '\0') {
        json_object_set_new(object, "code", json_string(vd_status_code(fault->status)));
    }
    if (fault->setting != NULL) {
        json_object_set_new(object, "setting", json_string(fault->setting->words->key));
    }
    return object;
}

static json_t *faults_of(cli *c)
{
    json_t *faults = json_object_get(c->result, "faults");
    if (faults == NULL) {
        faults = json_array();
        json_object_set_new(c->result, "faults", faults);
    }
    return faults;
}

static vd_class remember(cli *c, const vd_fault *fault)
{
    vd_class class = vd_status_class(fault->status);
    c->worst = MAX(c->worst, class);
    return class;
}

/* What is told and left to the person: that something will go wrong, or that something is good to know. */
static const char *advice_of(vd_status status)
{
    return status == VD_RULE_WARNING || status == VD_ALARM_DOUBT || status == VD_PLACEHOLDER || status == VD_CLOCK_OFF
               ? "warning:"
               : "note:";
}

vd_class report(cli *c, const vd_fault *fault)
{
    char *words = words_of(c, fault);
    const char *code = vd_status_code(fault->status);
    bool advice = vd_status_class(fault->status) == VD_CLASS_FINE;
    if (code[0] != '\0') { /* so that it can be told over the telephone */
        char *with_code = g_strdup_printf("%s (%s)", words, code);
        print_fault(c, with_code);
        g_free(with_code);
    } else if (advice) {
        print_sentence(c, TONE_DOUBT, advice_of(fault->status), words);
    } else {
        print_fault(c, words);
    }
    g_free(words);
    json_array_append_new(faults_of(c), fault_json(c, fault));
    return remember(c, fault);
}

vd_class report_wrong_words(cli *c, const char *said, const char *allowed)
{
    /* Sentences are longer than what a fault quotes, so they are put together here, not in the record. */
    char *words = allowed[0] != '\0' ? g_strconcat(said, " ", allowed, NULL) : g_strdup(said);
    print_fault(c, words);
    json_array_append_new(faults_of(c), json_pack("{s:s, s:s}", "fault", "wrong-words", "words", words));
    g_free(words);
    c->worst = MAX(c->worst, VD_CLASS_USAGE);
    return VD_CLASS_USAGE;
}

vd_class report_new(cli *c, vd_fault fault)
{
    return report(c, &fault);
}

vd_class report_findings(cli *c, const vd_findings *findings)
{
    vd_class worst = VD_CLASS_FINE;
    for (guint i = 0; i < findings->list->len; i++) {
        const vd_finding *finding = &g_array_index(findings->list, vd_finding, i);
        vd_class class = remember(c, &finding->fault);
        tone t = class == VD_CLASS_PARTLY || class == VD_CLASS_FINE ? TONE_DOUBT : TONE_BAD;
        json_t *object = fault_json(c, &finding->fault);
        json_object_set_new(object, "file", json_string(findings->path));
        if (finding->line > 0) {
            json_object_set_new(object, "line", json_integer(finding->line));
            json_object_set_new(object, "column", json_integer(finding->column));
        }
        json_array_append_new(faults_of(c), object);
        worst = MAX(worst, class);
        if (i >= MOST_FINDINGS) {
            continue;
        }
        char words[512];
        vd_fault_words(&finding->fault, true, words, sizeof words);
        char *heading = finding->line > 0
                            ? g_strdup_printf("%s, line %u, column %u:", findings->path, finding->line, finding->column)
                            : g_strdup_printf("%s:", findings->path);
        print_sentence(c, t, heading, words);
        g_free(heading);
    }
    if (findings->list->len > MOST_FINDINGS) {
        message(c, "... and %u findings more.", findings->list->len - MOST_FINDINGS);
    }
    return worst;
}

void report_set_aside(cli *c, const vd_findings *findings)
{
    const vd_finding *finding = &g_array_index(findings->list, vd_finding, 0);
    char words[512];
    vd_fault_words(&finding->fault, true, words, sizeof words);
    char *where = finding->line > 0 ? g_strdup_printf(", line %u", finding->line) : g_strdup("");
    char *all = g_strdup_printf("%s%s is not used: %s", findings->path, where, words);
    json_t *list = json_object_get(c->result, "left-out");
    print_sentence(c, TONE_DOUBT, "note:", all);
    if (list == NULL) {
        list = json_array();
        json_object_set_new(c->result, "left-out", list);
    }
    json_array_append_new(list, json_pack("{s:s, s:s}", "file", findings->path, "words", words));
    g_free(all);
    g_free(where);
}

void warn(const cli *c, const char *line)
{
    print_sentence(c, TONE_DOUBT, "warning:", line);
}

void message(const cli *c, const char *format, ...)
{
    va_list arguments;
    va_start(arguments, format);
    char *text = g_strdup_vprintf(format, arguments);
    va_end(arguments);
    if (c->speaker != NULL) {
        char *named = g_strdup_printf("%s: %s", c->speaker, text + strspn(text, " "));
        g_free(text);
        text = named;
    }
    if (width_of(stderr) > 0) {
        prose_print(stderr, 0, "", text);
    } else {
        char *line = g_strconcat(text, "\n", NULL);
        screen_put(stderr, line);
        g_free(line);
    }
    g_free(text);
}

char *time_words(int64_t milliseconds)
{
    GDateTime *when = g_date_time_new_from_unix_local(milliseconds / 1000);
    char *words = when != NULL ? g_date_time_format(when, "%Y-%m-%d %H:%M") : g_strdup("?");
    g_clear_pointer(&when, g_date_time_unref);
    return words;
}

const char *value_text(const vd_setting *setting, const vd_value *value)
{
    static char texts[8][320];
    static unsigned turn;
    char *text = texts[turn++ % 8];
    vd_writer writer = vd_writer_start(text, sizeof texts[0]);
    vd_value_show(setting, value, &writer);
    return text;
}

const char *duration_text(int64_t milliseconds)
{
    static char text[64];
    static const vd_setting about = {.words = &vd_no_words, .measure = "", .traits = &vd_type_duration, .tick = 1};
    vd_value value = {.type = VD_DURATION, .number = milliseconds};
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_value_print(&about, &value, &writer);
    return text;
}

static char *hexadecimal(const vd_value *value)
{
    GString *text = g_string_new("");
    for (uint16_t i = 0; i < value->length; i++) {
        g_string_append_printf(text, "%s%02X", i > 0 ? " " : "", (unsigned)(uint8_t)value->text[i]);
    }
    return g_string_free(text, FALSE);
}

static bool is_printable(const vd_value *value)
{
    bool printable = true;
    for (uint16_t i = 0; i < value->length; i++) {
        printable = printable && value->text[i] >= 0x20 && value->text[i] <= 0x7E;
    }
    return printable;
}

const char *held_text(const vd_set *set, uint16_t setting)
{
    static char texts[8][3 * VD_MOST_BYTES + 4];
    static unsigned turn;
    const vd_setting *about = &set->model->settings[setting];
    vd_value value = vd_set_get(set, setting);
    size_t length = 0;
    const char *odd = vd_set_odd(set, setting, &length);
    char *text = texts[turn++ % 8];
    if (odd != NULL && !about->secret) {
        g_snprintf(text, sizeof texts[0], "\"%.*s\"", (int)length, odd);
        return text;
    }
    if (vd_setting_is(about, VD_TYPE_TEXT) && value.type != VD_NOTHING && !is_printable(&value) && !about->secret) {
        char *bytes = hexadecimal(&value);
        g_snprintf(text, sizeof texts[0], "bytes %s", bytes);
        g_free(bytes);
        return text;
    }
    return value_text(about, &value);
}

json_t *value_json(const vd_setting *setting, const vd_value *value)
{
    if (value->type == VD_NOTHING) {
        return json_null();
    }
    json_t *object = json_pack("{s:s}", "value", value_text(setting, value));
    if ((value->type == VD_INTEGER || value->type == VD_COUNTER || value->type == VD_DECIMAL) && !setting->secret) {
        char number[48];
        vd_writer writer = vd_writer_start(number, sizeof number);
        vd_writer_add_decimal(&writer, value->number, value->places);
        json_object_set_new(object, "number", json_string(number));
        json_object_set_new(object, "unit", json_string(setting->measure));
    }
    return object;
}

json_t *held_json(const vd_set *set, uint16_t setting)
{
    const vd_setting *about = &set->model->settings[setting];
    vd_value value = vd_set_get(set, setting);
    size_t length = 0;
    const char *odd = vd_set_odd(set, setting, &length);
    if (odd != NULL) {
        return json_pack("{s:b, s:s%}", "allowed", 0, "heard", about->secret ? "" : odd, about->secret ? 0 : length);
    }
    json_t *object = value_json(about, &value);
    if (!vd_set_is_sound(set, setting)) {
        json_object_set_new(object, "allowed", json_false());
        json_object_set_new(object, "value", json_string(held_text(set, setting)));
    }
    return object;
}

json_t *identity_json(const vd_identity *identity)
{
    return json_pack("{s:s, s:s, s:s, s:s}", "maker", identity->maker, "product", identity->product, "firmware",
                     identity->firmware, "serial", identity->serial);
}

void report_no_witness(const cli *c, const vd_model *model)
{
    if (model->store.needed && model->store.proof == VD_PROOF_RESTART && !vd_model_shows_restart(model)) {
        message(c,
                "note: The model %s has nothing that shows a restart, so storage is never proved. Add to its file: "
                "restart: {running-time: KEY} or {undoes: KEY}, or listening: {says: LINE}.",
                model->key);
    }
}
