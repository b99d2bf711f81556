/* SPDX-License-Identifier: MIT
 * How each kind of word, and each option, is judged. What passes here needs no second look. */
#include "words.h"
#include "../print/print.h"
#include "verdite/text.h"

#include <stddef.h>
#include <string.h>

#define SLOT(member) offsetof(cli_options, member)
#define MOST_WORD 4000u /* bytes; no path may be longer either */

/* Options that say two things at once. */
static const struct {
    size_t one, other;
    const char *said;
} exclusions[] = {{SLOT(slow), SLOT(quick), "--slow and --quick exclude each other."},
                  {SLOT(watch), SLOT(json), "--watch and --json exclude each other."}};

/* One run of the parser. */
typedef struct parsing {
    cli *c;
    const cli_command *command;
    bool given[CLI_MOST_OPTIONS];
    bool wrong; /* reported */
} parsing;

static bool complain(parsing *p, char *said, const char *allowed)
{
    char *see = p->command->examples[0] != NULL
                    ? g_strdup_printf("For example: %s", p->command->examples[0])
                    : g_strdup_printf("See: %s %s --help", p->c->program->name, p->command->name);
    report_wrong_words(p->c, said, allowed != NULL ? allowed : see);
    g_free(see);
    g_free(said);
    p->wrong = true;
    return false;
}

/* ---- What each kind takes ---- */

static bool judge_number(parsing *p, const char *name, const cli_option *option, const char *text, void *slot)
{
    guint64 number = 0;
    bool digits = strspn(text, "0123456789") == strlen(text);
    if (!digits || !g_ascii_string_to_unsigned(text, 10, option->low, option->high, &number, NULL)) {
        char *allowed = g_strdup_printf("Give a whole number from %u to %u.", option->low, option->high);
        complain(p, g_strdup_printf("%s: \"%s\" is not a valid number.", name, text), allowed);
        g_free(allowed);
        return false;
    }
    *(cli_number *)slot = (cli_number){.given = true, .value = (uint32_t)number};
    return true;
}

static bool judge_framing(parsing *p, const char *name, const cli_option *option, const char *text, void *slot)
{
    cli_framing *framing = slot;
    (void)option;
    framing->given = vd_framing_parse(text, &framing->line);
    return framing->given || complain(p, g_strdup_printf("%s: \"%s\" is not a framing.", name, text),
                                      "Give data bits, parity (N, E, O) and stop bits, for example 8E1.");
}

static bool judge_time(parsing *p, const char *name, const cli_option *option, const char *text, void *slot)
{
    static const vd_setting_words words = {.key = "time"};
    static const vd_setting about = {.words = &words,
                                     .measure = "",
                                     .traits = &vd_type_duration,
                                     .tick = 1,
                                     .step = 1,
                                     .max = 366 * (int64_t)86400000};
    vd_typed typed;
    (void)option;
    (void)slot;
    if (vd_setting_parse(&about, text, strlen(text), &typed, NULL) != VD_OK ||
        vd_setting_check(&about, &typed.value, NULL) != VD_OK || typed.value.number > UINT32_MAX) {
        return complain(p, g_strdup_printf("%s: \"%s\" is not a time.", name, text),
                        "Give a time with its unit, at most 49 days, such as \"5 s\".");
    }
    p->c->options.time = (uint32_t)typed.value.number;
    return true;
}

static bool judge_text(parsing *p, const char *name, const cli_option *option, const char *text, void *slot)
{
    (void)p;
    (void)name;
    if (slot != NULL && option->many) {
        char ***all = slot;
        guint count = *all != NULL ? g_strv_length(*all) : 0;
        *all = g_renew(char *, *all, count + 2u);
        (*all)[count] = g_strdup(text);
        (*all)[count + 1] = NULL;
    } else if (slot != NULL) {
        *(char **)slot = g_strdup(text);
    }
    return true;
}

/* The same gate for every word, whatever it is: it will be shown, and stand in files. */
static bool judge(parsing *p, const char *name, cli_kind kind, const cli_option *option, const char *text, void *slot)
{
    size_t length = strlen(text), line = vd_text_line(text, length);
    /* What is behind the sign = may have been meant as a secret. */
    int shown = (int)MIN(vd_text_line(text, MIN(length, 40)), strcspn(text, "="));
    if (length == 0) {
        return complain(p, g_strdup_printf("%s: the text is empty.", name), NULL);
    }
    if (length > MOST_WORD) {
        return complain(p, g_strdup_printf("%s: \"%.*s...\" is too long.", name, shown, text), "At most 4000 bytes.");
    }
    if (kind == KIND_TEXT && option != NULL && option->high > 0 && length > option->high) {
        char *allowed = g_strdup_printf("At most %u bytes.", option->high);
        complain(p, g_strdup_printf("%s: \"%.*s...\" is too long.", name, shown, text), allowed);
        g_free(allowed);
        return false;
    }
    if (line < length) {
        char what[64];
        vd_writer writer = vd_writer_start(what, sizeof what);
        vd_text_print_unseen(text, length, &writer);
        return complain(p, g_strdup_printf("%s: \"%.*s...\" contains %s.", name, shown, text, what),
                        "Give one line of visible UTF-8 text.");
    }
    switch (kind) {
    case KIND_NUMBER: return judge_number(p, name, option, text, slot);
    case KIND_FRAMING: return judge_framing(p, name, option, text, slot);
    case KIND_TIME: return judge_time(p, name, option, text, slot);
    default: return judge_text(p, name, option, text, slot);
    }
}

/* ---- Options ---- */

static const cli_option *find_option(const parsing *p, const char *typed)
{
    for (size_t i = 0; i < cli_option_count; i++) {
        const cli_option *option = &cli_option_table[i];
        bool named = g_str_has_prefix(typed, "--") ? strcmp(typed + 2, option->name) == 0
                                                   : typed[1] == option->letter && typed[2] == '\0';
        if (named && cli_command_has(p->command, option)) {
            return option;
        }
    }
    return NULL;
}

/* Called by GLib for each option that was typed. */
/* A number below zero is a word, not an option: it wears a mask while options are looked for. */
#define MASK '\001'

static void mask_below_zero(char **words)
{
    for (; *words != NULL; words++) {
        const char *mark = *words;
        bool below =
            mark[0] == '-' && (g_ascii_isdigit(mark[1]) ||
                               (strchr(".,", mark[1]) != NULL && g_ascii_isdigit(mark[1] != '\0' ? mark[2] : '\0')));
        if (below) {
            (*words)[0] = MASK;
        }
    }
}

static void unmask(char **words)
{
    for (; words != NULL && *words != NULL; words++) {
        if ((*words)[0] == MASK) {
            (*words)[0] = '-';
        }
    }
}

static gboolean take(const char *typed, const char *given_text, gpointer about, GError **error)
{
    char *text = g_strdup(given_text);
    char *texts[] = {text, NULL};
    unmask(texts);
    parsing *p = about;
    const cli_option *option = find_option(p, typed);
    void *slot = (char *)&p->c->options + option->slot;
    char *name = g_strdup_printf("--%s", option->name);
    bool *given = &p->given[option - cli_option_table];
    bool fine = true;
    if (*given && option->kind != KIND_FLAG && !option->many) {
        fine = complain(p, g_strdup_printf("%s is here twice.", name), "Keep one of the two.");
    } else if (option->kind == KIND_FLAG) {
        *(bool *)slot = true;
    } else {
        fine = judge(p, name, option->kind, option, text, slot);
    }
    *given = true;
    g_free(name);
    g_free(text);
    if (!fine) {
        g_set_error_literal(error, G_OPTION_ERROR, G_OPTION_ERROR_FAILED, "");
    }
    return fine;
}

/* The options of a command as they are typed. */
typedef struct own_options {
    char names[CLI_MOST_OPTIONS][24];
    size_t count;
} own_options;

static const char *option_name_at(const void *about, size_t i)
{
    return ((const own_options *)about)->names[i];
}

static void complain_unknown(parsing *p, const char *typed)
{
    own_options own = {.count = 0};
    for (size_t i = 0; i < cli_option_count; i++) {
        if (cli_command_has(p->command, &cli_option_table[i])) {
            g_snprintf(own.names[own.count++], sizeof own.names[0], "--%s", cli_option_table[i].name);
        }
    }
    char *name = g_strndup(typed, strcspn(typed, "=")), *shown = cli_quotable(name);
    char *near = vd_suggest(shown, own.count, option_name_at, &own);
    complain(p, g_strdup_printf("%s has no option %s.", p->command->name, shown), near);
    g_free(near);
    g_free(shown);
    g_free(name);
}

/* GLib lets a flag have a value and does not tell of it. */
static bool judge_flags(parsing *p, char **words)
{
    for (char **word = words; *word != NULL && strcmp(*word, "--") != 0; word++) {
        char *name = g_strndup(*word, strcspn(*word, "="));
        const cli_option *option = g_str_has_prefix(name, "--") ? find_option(p, name) : NULL;
        bool valued = option != NULL && option->kind == KIND_FLAG && (*word)[strlen(name)] == '=';
        g_free(name);
        if (valued) {
            return complain(p, g_strdup_printf("--%s takes no value.", option->name), "Remove = and what follows.");
        }
    }
    return true;
}

/* GLib says of an option without its value only that in words. */
static void complain_missing(parsing *p, const GError *error)
{
    const char *dash = strchr(error->message, '-');
    const cli_option *option = dash != NULL ? find_option(p, dash) : NULL;
    if (option == NULL) {
        complain(p, g_strdup_printf("%s.", error->message), NULL);
        return;
    }
    char *allowed = g_strdup_printf("Give --%s %s.", option->name, option->value);
    complain(p, g_strdup_printf("--%s has no value.", option->name), allowed);
    g_free(allowed);
}

static GOptionEntry entry_of(const cli_option *option)
{
    const union {
        GOptionArgFunc function;
        gpointer data;
    } callback = {take};
    GOptionEntry entry = {option->name, option->letter, 0, G_OPTION_ARG_CALLBACK, callback.data,
                          option->help, option->value};
    entry.flags = option->kind == KIND_FLAG ? G_OPTION_FLAG_NO_ARG : G_OPTION_FLAG_FILENAME;
    return entry;
}

/* ---- Words ---- */

static bool judge_words(parsing *p, char **words)
{
    const cli_command *command = p->command;
    char *takes = cli_command_words(command), *said = NULL;
    size_t i = 0;
    bool fine = true;
    for (char **word = words; words != NULL && *word != NULL && fine && said == NULL; word++) {
        const cli_word *about = &command->words[i];
        if (i == CLI_MOST_WORDS || about->name == NULL) {
            said = takes[0] == '\0' ? g_strdup_printf("%s takes no words.", command->name)
                                    : g_strdup_printf("%s takes %s and no more.", command->name, takes);
        } else {
            fine = judge(p, about->name, about->kind, NULL, *word, NULL);
            i += !about->many || word[1] == NULL;
        }
    }
    if (fine && said == NULL && i < CLI_MOST_WORDS && command->words[i].name != NULL && !command->words[i].optional) {
        said = g_strdup_printf("%s takes %s: %s is missing.", command->name, takes, command->words[i].name);
    }
    g_free(takes);
    return said != NULL ? complain(p, said, NULL) : fine;
}

static bool judge_together(parsing *p)
{
    cli_options *options = &p->c->options;
    for (size_t i = 0; i < G_N_ELEMENTS(exclusions); i++) {
        if (*(bool *)((char *)options + exclusions[i].one) && *(bool *)((char *)options + exclusions[i].other)) {
            return complain(p, g_strdup(exclusions[i].said), "Give one of them.");
        }
    }
    if (options->address.given && options->addresses != NULL) {
        return complain(p, g_strdup("--address and --addresses exclude each other."), "Give one of them.");
    }
    if (options->day != NULL && options->log != NULL) {
        return complain(p, g_strdup("--day and --log exclude each other."), "Give one of them.");
    }
    int plans = (options->goal != NULL) + (options->against != NULL) + (options->beside != NULL || options->presets);
    if ((p->command->takes & TAKES_PLAN) != 0 && plans != 1) {
        return complain(p, g_strdup(plans == 0 ? "What to plan is missing." : "One plan at a time."),
                        "Give --goal, --against, or --beside and --presets.");
    }
    if (options->shared && !options->address.given) {
        return complain(p, g_strdup("--shared needs one address."), "For example: --address 5");
    }
    if (options->at_once && options->addresses == NULL) {
        return complain(p, g_strdup("--at-once needs several units."), "For example: --addresses 1-10,12");
    }
    return options->from.value <= options->to.value ||
           complain(p, g_strdup_printf("--from %u --to %u is not a range.", options->from.value, options->to.value),
                    "Give the lower one first.");
}

static void set_defaults(cli_options *options)
{
    options->from.value = 1;
    options->to.value = 247;
    options->count.value = 50;
}

bool options_parse(cli *c, const cli_command *command, char **words)
{
    parsing p = {.c = c, .command = command};
    GOptionEntry entries[CLI_MOST_OPTIONS + 2] = {{0}};
    size_t count = 0;
    for (size_t i = 0; i < cli_option_count; i++) {
        if (cli_command_has(command, &cli_option_table[i])) {
            entries[count++] = entry_of(&cli_option_table[i]);
        }
    }
    entries[count] =
        (GOptionEntry){G_OPTION_REMAINING, '\0', 0, G_OPTION_ARG_FILENAME_ARRAY, &c->options.words, "", ""};
    GOptionContext *context = g_option_context_new(NULL);
    GOptionGroup *group = g_option_group_new("", "", "", &p, NULL);
    GError *error = NULL;
    char **left = g_strdupv(words);
    g_option_group_add_entries(group, entries);
    g_option_context_set_main_group(context, group);
    g_option_context_set_help_enabled(context, FALSE);
    g_option_context_set_ignore_unknown_options(context, TRUE);
    set_defaults(&c->options);
    mask_below_zero(left);
    if (!judge_flags(&p, left)) {
        p.wrong = true;
    } else if (!g_option_context_parse_strv(context, &left, &error)) {
        if (!p.wrong) {
            complain_missing(&p, error);
        }
        g_error_free(error);
    } else if (left[0] != NULL && left[1] != NULL && left[1][0] == '-' && strcmp(left[1], "--") != 0) {
        complain_unknown(&p, left[1]);
    }
    unmask(c->options.words);
    c->address_typed = c->options.address.given;
    bool fine = !p.wrong && (c->options.help || (judge_words(&p, c->options.words) && judge_together(&p)));
    g_strfreev(left);
    g_option_context_free(context);
    return fine;
}

void options_clear(cli_options *options)
{
    for (size_t i = 0; i < cli_option_count; i++) {
        const cli_option *option = &cli_option_table[i];
        void *slot = (char *)options + option->slot;
        bool own = option->kind != KIND_FLAG && option->kind != KIND_NUMBER && option->kind != KIND_FRAMING &&
                   option->kind != KIND_TIME;
        if (own && option->many) {
            g_clear_pointer((char ***)slot, g_strfreev);
        } else if (own) {
            g_clear_pointer((char **)slot, g_free);
        }
    }
    g_clear_pointer(&options->words, g_strfreev);
}

void options_line(const cli_options *options, vd_serial *line)
{
    if (options->framing.given) {
        uint32_t baud = line->baud;
        *line = options->framing.line;
        line->baud = baud;
    }
    line->baud = options->baud.given ? options->baud.value : line->baud;
}
