/* SPDX-License-Identifier: MIT
 * The tool: finds the command, runs it, prints what it has for programs, and exits with the worst that was met. */
#include "cli.h"

#include <locale.h>
#include <signal.h>
#include <string.h>
#include <unistd.h>

/* The one table of exit statuses. */
static const struct {
    vd_class class;
    const char *meaning;
} statuses[] = {
    {VD_CLASS_FINE, "all is as it should be"},
    {VD_CLASS_NO, "the answer is no: it differs, it is not right, nothing was sent"},
    {VD_CLASS_PARTLY, "right as far as can be known, but something cannot be read back or judged"},
    {VD_CLASS_NOT_VERIFIED, "not verified"},
    {VD_CLASS_USAGE, "called with wrong words"},
    {VD_CLASS_FILE, "a file, or a value in it, is wrong"},
    {VD_CLASS_CONTACT, "no contact with the unit"},
    {VD_CLASS_REFUSED, "the unit refused"},
    {VD_CLASS_INTERRUPTED, "stopped by hand"},
};

static void print_help(void)
{
    printf("Verdite sets up units on a serial line: read, edit, check, write, and verify by reading back.\n\n"
           "  verdite COMMAND [OPTIONS] ...\n\nCommands\n");
    for (size_t i = 0; i < cli_command_count; i++) {
        printf("  %-8s %-22s %s\n", cli_commands[i].name, cli_commands[i].arguments, cli_commands[i].summary);
    }
    printf("\n  verdite COMMAND --help   tells more, with an example\n"
           "  verdite --version        tells the version\n\nExit statuses, the worst that was met\n");
    for (size_t i = 0; i < G_N_ELEMENTS(statuses); i++) {
        printf("  %d  %s\n", (int)statuses[i].class, statuses[i].meaning);
    }
}

static const char *command_name_at(const void *about, size_t i)
{
    return ((const cli_command *)about)[i].name;
}

static const cli_command *find_command(cli *c, const char *name)
{
    for (size_t i = 0; i < cli_command_count; i++) {
        if (strcmp(cli_commands[i].name, name) == 0) {
            return &cli_commands[i];
        }
    }
    char *suggestion = vd_suggest(name, cli_command_count, command_name_at, cli_commands);
    char *said = g_strdup_printf("There is no command \"%s\".", name);
    report_wrong_words(c, said, suggestion);
    g_free(said);
    g_free(suggestion);
    return NULL;
}

static void set_up(cli *c)
{
    bool colours = g_getenv("NO_COLOR") == NULL || g_getenv("NO_COLOR")[0] == '\0';
    const char *terminal = g_getenv("TERM");
    colours = colours && (terminal == NULL || strcmp(terminal, "dumb") != 0);
    c->colour = colours && isatty(STDOUT_FILENO) != 0;
    c->colour_messages = colours && isatty(STDERR_FILENO) != 0;
    c->live_messages = isatty(STDERR_FILENO) != 0;
    c->result = json_object();
}

static void run(cli *c, const cli_command *command, int argc, char **argv)
{
    vd_fault fault = {0};
    bool helped = false;
    /* JSON is wanted even where the rest of the words is wrong. */
    for (int i = 0; i < argc; i++) {
        c->options.json = c->options.json || strcmp(argv[i], "--json") == 0;
    }
    if (options_parse(command, argc, argv, &c->options, &helped, &fault) != VD_OK) {
        report(c, &fault);
    } else if (!helped) {
        c->catalogue = vd_catalogue_open();
        vd_class class = command->run(c);
        c->worst = MAX(c->worst, class);
        vd_catalogue_free(c->catalogue);
    }
    if (c->options.json && !helped) {
        json_object_set_new(c->result, "command", json_string(command->name));
        json_object_set_new(c->result, "exit", json_integer(c->worst));
        json_dumpf(c->result, stdout, JSON_INDENT(2));
        printf("\n");
    }
}

int main(int argc, char **argv)
{
    cli c = {0};
    setlocale(LC_CTYPE, "");
    signal(SIGPIPE, SIG_IGN); /* whoever stops listening must not stop a write half-way */
    set_up(&c);
    const char *first = argc > 1 ? argv[1] : "--help";
    if (strcmp(first, "--help") == 0 || strcmp(first, "-h") == 0 || strcmp(first, "help") == 0) {
        print_help();
    } else if (strcmp(first, "--version") == 0) {
        printf("verdite %s\n", VD_VERSION);
    } else {
        const cli_command *command = find_command(&c, first);
        if (command != NULL) {
            run(&c, command, argc - 1, argv + 1);
        }
    }
    options_clear(&c.options);
    json_decref(c.result);
    if (fflush(stdout) != 0 || ferror(stdout) != 0) {
        fprintf(stderr, "verdite: The output could not be written in full.\n");
        c.worst = MAX(c.worst, VD_CLASS_FILE);
    }
    return (int)c.worst;
}
