/* SPDX-License-Identifier: MIT
 * A run of a program: finds the command, runs it, prints what it has for other programs, and ends with the worst that
 * was met. */
#include "act/act.h"
#include "print/print.h"
#include "words/words.h"
#include "verdite/text.h"

#include <fcntl.h>
#include <locale.h>
#include <malloc.h>
#include <signal.h>
#include <string.h>
#include <unistd.h>

/* The next file that is opened takes the lowest number that is free. Were that one of the three that everybody writes
 * to and reads from without asking, what we say would go to a unit. So each is taken, in a way that makes its use
 * fail. */
static void close_ranks(void)
{
    static const int ways[] = {[STDIN_FILENO] = O_WRONLY, [STDOUT_FILENO] = O_RDONLY, [STDERR_FILENO] = O_RDONLY};
    for (int i = 0; i < (int)G_N_ELEMENTS(ways); i++) {
        if (fcntl(i, F_GETFD) == -1 && open("/dev/null", ways[i]) != i) {
            _exit((int)VD_CLASS_FILE);
        }
    }
}

static void set_up(cli *c, const cli_program *program, char **words)
{
    bool colours = g_getenv("NO_COLOR") == NULL || g_getenv("NO_COLOR")[0] == '\0';
    const char *terminal = g_getenv("TERM");
    colours = colours && (terminal == NULL || strcmp(terminal, "dumb") != 0);
    c->program = program;
    c->colour = colours && isatty(STDOUT_FILENO) != 0;
    c->colour_messages = colours && isatty(STDERR_FILENO) != 0;
    c->live_messages = isatty(STDERR_FILENO) != 0 && (terminal == NULL || strcmp(terminal, "dumb") != 0);
    c->result = json_object();
    /* JSON is wanted even where the rest of the words is wrong. */
    for (char **word = words; *word != NULL && strcmp(*word, "--") != 0; word++) {
        c->options.json = c->options.json || strcmp(*word, "--json") == 0 || strcmp(*word, "-j") == 0;
    }
}

static bool judge_environment(cli *c)
{
    const cli_program *program = c->program;
    for (size_t i = 0; i < program->variable_count; i++) {
        const char *text = g_getenv(program->variables[i].name);
        if (text != NULL && vd_text_line(text, strlen(text)) < strlen(text)) {
            char *said = g_strdup_printf("%s contains what cannot be shown.", program->variables[i].name);
            report_wrong_words(c, said, "Set it to one line of visible UTF-8 text, or unset it.");
            g_free(said);
            return false;
        }
    }
    return true;
}

/* ---- Running ---- */

/* A model that is named by its file is known by its key from here on. False: there is none in it, which is reported;
 * without it a command could take another one for what was meant. */
static bool take_model(cli *c)
{
    c->model_key = c->options.model;
    if (c->options.model == NULL || !g_str_has_suffix(c->options.model, ".yaml")) {
        return true;
    }
    vd_findings *findings = vd_findings_new(c->options.model);
    const vd_model *model = vd_catalogue_prefer(c->catalogue, c->options.model, &findings);
    c->model_key = model != NULL ? model->key : NULL;
    if (model == NULL) {
        report_findings(c, findings);
    }
    vd_findings_free(findings);
    return model != NULL;
}

/* Beside the store. */
static void keep_index(vd_catalogue *catalogue)
{
    char *store = vd_store_usual_path(), *folder = g_path_get_dirname(store);
    char *path = g_build_filename(folder, "models.index", NULL);
    vd_catalogue_keep_index(catalogue, strcmp(store, "off") != 0 ? path : NULL);
    g_free(path);
    g_free(folder);
    g_free(store);
}

static void open_catalogue(cli *c)
{
    c->catalogue = vd_catalogue_open();
    keep_index(c->catalogue);
}

static void run(cli *c, char **words)
{
    /* What is asked of the program as a whole is asked of its command for that. */
    static const struct {
        const char *typed, *command;
    } wholes[] = {{"--help", "help"}, {"-h", "help"}, {"--version", "version"}};
    const char *first = words[0] != NULL && words[1] != NULL ? words[1] : "help";
    for (size_t i = 0; i < G_N_ELEMENTS(wholes); i++) {
        first = strcmp(first, wholes[i].typed) == 0 ? wholes[i].command : first;
    }
    const cli_command *command = program_command(c, first);
    if (command == NULL || !judge_environment(c)) {
        return;
    }
    c->command = command;
    json_object_set_new(c->result, "command", json_string(command->name));
    if (!options_parse(c, command, words[0] != NULL && words[1] != NULL ? words + 1 : words)) {
        return;
    }
    if (c->options.help) {
        help_command(c, command);
        return;
    }
    open_catalogue(c);
    if (take_model(c)) {
        vd_class class = command->run(c);
        secrets_forget();
        c->worst = MAX(c->worst, class);
    }
    vd_catalogue_free(c->catalogue);
    vd_store_close(c->store);
}

static vd_class run_line(const cli_program *program, char **words, json_t **result)
{
    cli c = {0};
    set_up(&c, program, words);
    run(&c, words);
    if (c.options.json) {
        json_object_set_new(c.result, "exit", json_integer(c.worst));
        json_dumpf(c.result, stdout, c.lines ? JSON_COMPACT : JSON_INDENT(2));
        printf("\n");
    }
    options_clear(&c.options);
    if (result != NULL) {
        *result = json_incref(c.result);
    }
    json_decref(c.result);
    return c.worst;
}

static void offer(const cli_program *program, char **words)
{
    cli c = {.program = program, .catalogue = vd_catalogue_open()};
    offers_print(&c, words);
    vd_catalogue_free(c.catalogue);
}

static bool is_guided(const cli_program *program, char **words)
{
    bool wordless = words[0] == NULL || words[1] == NULL;
    return wordless && program->guide != NULL && isatty(STDIN_FILENO) != 0 && isatty(STDOUT_FILENO) != 0 &&
           isatty(STDERR_FILENO) != 0;
}

static vd_class guide(const cli_program *program, char **words)
{
    cli c = {0};
    set_up(&c, program, words);
    if (judge_environment(&c)) {
        open_catalogue(&c);
        c.worst = program->guide(&c, run_line);
        vd_catalogue_free(c.catalogue);
        vd_store_close(c.store);
    }
    json_decref(c.result);
    return c.worst;
}

int program_run(const cli_program *program, char **words)
{
    vd_class worst = VD_CLASS_FINE;
    close_ranks();
    mallopt(M_PERTURB, 0xA5); /* memory is overwritten as it is freed: it may have held a secret */
    setlocale(LC_CTYPE, "");
    signal(SIGXFSZ, SIG_IGN); /* a file that may not grow is a fault as any other */
    signal(SIGPIPE, SIG_IGN); /* whoever stops listening must not stop a write half-way */
    if (words[0] != NULL && words[1] != NULL && strcmp(words[1], "--offers") == 0) {
        offer(program, words + 2);
    } else {
        worst = is_guided(program, words) ? guide(program, words) : run_line(program, words, NULL);
    }
    if (fflush(stdout) != 0 || ferror(stdout) != 0) {
        fprintf(stderr, "%s: The output could not be written completely.\n", program->name);
        worst = MAX(worst, VD_CLASS_FILE);
    }
    if (fflush(stderr) != 0 || ferror(stderr) != 0) {
        worst = MAX(worst, VD_CLASS_FILE);
    }
    return (int)worst;
}
