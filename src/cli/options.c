/* SPDX-License-Identifier: MIT
 * The words that follow a command. Texts are taken as they are typed, whatever the locale, and must be UTF-8. */
#include "cli.h"

#include <string.h>

typedef struct option {
    GOptionEntry entry;
    unsigned belongs; /* to which group of options; 0: to every command */
} option;

static void set_defaults(cli_options *options)
{
    options->address = options->baud = -1;
    options->from = 1;
    options->to = 247;
    options->count = 50;
}

static void print_help(const cli_command *command, GOptionContext *context)
{
    /* Everything after GLib's own usage line is its list of options. */
    char *list = g_option_context_get_help(context, TRUE, NULL), *from = strchr(list, '\n');
    printf("verdite %s %s\n%s\n\n%s\nOptions%s", command->name, command->arguments, command->summary, command->help,
           from != NULL && strchr(from, ':') != NULL ? strchr(from, ':') + 1 : list);
    g_free(list);
}

static void note_wrong(const cli_command *command, GError *error, vd_fault *fault)
{
    char *said = g_strdup_printf("%s.", error->message),
         *allowed = g_strdup_printf("See: verdite %s --help", command->name);
    vd_note_WRONG_WORDS(fault, said, allowed);
    g_free(said);
    g_free(allowed);
    g_error_free(error);
}

/* Words that are each right, but not together or not with nothing in them. */
static void judge(const cli_options *options, vd_fault *fault)
{
    if (options->serial != NULL && options->serial[0] == '\0') {
        vd_note_WRONG_WORDS(fault, "An empty serial number is no unit's.", "Give --serial as find or read shows it.");
    } else if (options->slow && options->quick) {
        vd_note_WRONG_WORDS(fault, "--slow and --quick exclude each other.", "Give one of them.");
    }
}

/* Parses by the entries that belong to the command. */
static void parse(const cli_command *command, const GOptionEntry *entries, char **argv, const gboolean *help,
                  cli_options *options, vd_fault *fault, bool *helped)
{
    GOptionContext *context = g_option_context_new(NULL);
    GError *error = NULL;
    char **copy = g_strdupv(argv), **left = copy;
    g_option_context_add_main_entries(context, entries, NULL);
    g_option_context_set_help_enabled(context, FALSE);
    gboolean parsed = g_option_context_parse_strv(context, &left, &error);
    if (parsed && *help) {
        print_help(command, context);
        *helped = true;
    }
    if (!parsed) {
        note_wrong(command, error, fault);
    } else {
        judge(options, fault);
    }
    g_strfreev(left);
    g_option_context_free(context);
}

vd_status options_parse(const cli_command *command, int argc, char **argv, cli_options *options, bool *helped,
                        vd_fault *fault)
{
    gboolean help = FALSE;
    const option all[] = {
        {{"bench", 'b', 0, G_OPTION_ARG_FILENAME, &options->bench, "Use the ports of this bench instead of real ones",
          "FOLDER"},
         TAKES_PLACE},
        {{"port", 'p', 0, G_OPTION_ARG_FILENAME, &options->port, "The port; not needed where there is just one",
          "NAME"},
         TAKES_PLACE},
        {{"address", 'a', 0, G_OPTION_ARG_INT, &options->address,
          "The unit's address; else the model's from the factory", "N"},
         TAKES_LINE},
        {{"baud", 0, 0, G_OPTION_ARG_INT, &options->baud, "Speed in bit/s; else the model's usual one", "N"},
         TAKES_LINE | TAKES_SEARCH},
        {{"framing", 0, 0, G_OPTION_ARG_FILENAME, &options->framing,
          "Data bits, parity, stop bits; else the model's usual ones", "8E1"},
         TAKES_LINE | TAKES_SEARCH},
        {{"trace", 't', 0, G_OPTION_ARG_NONE, &options->trace, "Show the talk on the wire on standard error", NULL},
         TAKES_LINE | TAKES_SEARCH},
        {{"trace-to", 0, 0, G_OPTION_ARG_FILENAME, &options->trace_to, "Write the talk on the wire into a file",
          "FILE"},
         TAKES_LINE | TAKES_SEARCH},
        {{"model", 'm', 0, G_OPTION_ARG_FILENAME, &options->model, "The kind of unit; else whoever answers there",
          "MODEL"},
         TAKES_MODEL},
        {{"group", 'g', 0, G_OPTION_ARG_FILENAME, &options->group, "Only the settings of this group", "GROUP"},
         TAKES_GROUP},
        {{"save", 's', 0, G_OPTION_ARG_FILENAME, &options->save, "Save what was read as a profile", "FILE"},
         TAKES_SAVE},
        {{"replace", 0, 0, G_OPTION_ARG_NONE, &options->replace, "Let --save replace a file that is there", NULL},
         TAKES_SAVE},
        {{"all", 0, 0, G_OPTION_ARG_NONE, &options->all, "Also places for built-in ports that are not there", NULL},
         TAKES_LISTING},
        {{"all", 0, 0, G_OPTION_ARG_NONE, &options->all, "All settings, not only the essential ones", NULL}, TAKES_ALL},
        {{"search", 0, 0, G_OPTION_ARG_FILENAME, &options->search, "Settings that have to do with this word", "WORD"},
         TAKES_CHOICE},
        {{"with", 0, 0, G_OPTION_ARG_FILENAME_ARRAY, &options->with,
          "Only models that have this: KEY, KEY=WORD or KEY>=NUMBER; may stand several times", "WHAT"},
         TAKES_CHOICE},
        {{"variant", 0, 0, G_OPTION_ARG_FILENAME, &options->variant, "What is offered in this variant", "KEY"},
         TAKES_CHOICE},
        {{"firmware", 0, 0, G_OPTION_ARG_FILENAME, &options->firmware, "What is offered by this firmware", "VERSION"},
         TAKES_CHOICE},
        {{"as", 0, 0, G_OPTION_ARG_FILENAME, &options->as, "What is offered with the values of this profile", "FILE"},
         TAKES_CHOICE},
        {{"watch", 'w', 0, G_OPTION_ARG_NONE, &options->watch, "Go on and tell of adapters that come and go", NULL},
         TAKES_LISTING},
        {{"from", 0, 0, G_OPTION_ARG_INT, &options->from, "First address to ask; else 1", "N"}, TAKES_SEARCH},
        {{"to", 0, 0, G_OPTION_ARG_INT, &options->to, "Last address to ask; else 247", "N"}, TAKES_SEARCH},
        {{"wide", 'w', 0, G_OPTION_ARG_NONE, &options->wide,
          "All addresses at all speeds and framings, also after units were found", NULL},
         TAKES_SEARCH},
        {{"slow", 0, 0, G_OPTION_ARG_NONE, &options->slow,
          "A slow pass over all addresses, also after units were found", NULL},
         TAKES_SEARCH},
        {{"quick", 'q', 0, G_OPTION_ARG_NONE, &options->quick, "Only the quick pass", NULL}, TAKES_SEARCH},
        {{"count", 'n', 0, G_OPTION_ARG_INT, &options->count, "How many questions; else 50", "N"}, TAKES_COUNT},
        {{"password-from", 0, 0, G_OPTION_ARG_FILENAME, &options->password_from,
          "Take the password from the first line of this file; else VERDITE_PASSWORD, else it is asked for", "FILE"},
         TAKES_PASSWORD},
        {{"serial", 0, 0, G_OPTION_ARG_FILENAME, &options->serial,
          "The serial number of the unit that is meant; else stop", "TEXT"},
         TAKES_PASSWORD},
        {{"login", 0, 0, G_OPTION_ARG_NONE, &options->login, "Log in, and also read what needs that", NULL},
         TAKES_LOGIN},
        {{"restart", 0, 0, G_OPTION_ARG_NONE, &options->restart,
          "Restart the unit where that shows what it has stored; what is only live is lost then", NULL},
         TAKES_RESTART},
        {{"yes", 'y', 0, G_OPTION_ARG_NONE, &options->yes,
          "Write without asking; wants --address, --serial, or a file that names its unit", NULL},
         TAKES_YES},
        {{"json", 'j', 0, G_OPTION_ARG_NONE, &options->json, "Print the result for programs, as JSON", NULL}, 0},
        {{"help", 'h', 0, G_OPTION_ARG_NONE, &help, "Show this", NULL}, 0},
        {{G_OPTION_REMAINING, 0, 0, G_OPTION_ARG_FILENAME_ARRAY, &options->words, "", NULL}, 0},
    };
    GOptionEntry entries[G_N_ELEMENTS(all) + 1] = {{0}};
    size_t count = 0;
    for (size_t i = 0; i < G_N_ELEMENTS(all); i++) {
        if (all[i].belongs == 0 || (command->takes & all[i].belongs) != 0) {
            entries[count++] = all[i].entry;
        }
    }
    set_defaults(options);
    (void)argc;
    parse(command, entries, argv, &help, options, fault, helped);
    options->address_typed = options->address != -1;
    return fault->status;
}

void options_clear(cli_options *options)
{
    char *texts[] = {options->bench, options->port,          options->framing, options->model,   options->group,
                     options->save,  options->trace_to,      options->search,  options->variant, options->firmware,
                     options->as,    options->password_from, options->serial};
    for (size_t i = 0; i < G_N_ELEMENTS(texts); i++) {
        g_free(texts[i]);
    }
    g_strfreev(options->words);
    g_strfreev(options->with);
}

bool options_line(cli *c, vd_line *line)
{
    if (c->options.baud != -1) {
        if (c->options.baud < 50 || c->options.baud > 4000000) {
            report_wrong_words(c, "That is no baud.", "Give --baud 50 to 4000000, for example 9600.");
            return false;
        }
        line->baud = (uint32_t)c->options.baud;
    }
    if (c->options.framing != NULL && !vd_framing_parse(c->options.framing, line)) {
        char *said = g_strdup_printf("\"%s\" is no framing.", c->options.framing);
        report_wrong_words(c, said, "Give data bits, parity (N, E, O) and stop bits, for example 8E1.");
        g_free(said);
        return false;
    }
    return true;
}
