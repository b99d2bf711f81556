/* SPDX-License-Identifier: MIT
 * The manual page of a program, made from its tables. */
#include "words.h"
#include "../print/print.h"

/* Text for roff: hyphens are those that are typed, and nothing at the start of a line is a request. */
static void put(FILE *out, const char *text)
{
    for (const char *at = text; *at != '\0'; at++) {
        bool starts = at == text || at[-1] == '\n';
        if (starts && (*at == '.' || *at == '\'')) {
            fputs("\\&", out);
        }
        *at == '-' ? fputs("\\-", out) : *at == '\\' ? fputs("\\e", out) : fputc(*at, out);
    }
}

/* Paragraphs, each a line of the text, begun by a request. */
static void paragraph(FILE *out, const char *request, const char *text)
{
    fprintf(out, "%s\n", request);
    char **lines = g_strsplit(text, "\n", -1);
    for (char **line = lines; *line != NULL; line++) {
        if (line != lines) {
            fprintf(out, "%s\n", request);
        }
        put(out, *line);
        fputc('\n', out);
    }
    g_strfreev(lines);
}

static void option(FILE *out, const cli_option *o)
{
    fputs(".TP\n", out);
    if (o->letter != '\0') {
        fprintf(out, "\\fB\\-%c\\fR, ", o->letter);
    }
    fputs("\\fB\\-\\-", out);
    put(out, o->name);
    fputs("\\fR", out);
    if (o->value != NULL) {
        fputs(" \\fI", out);
        put(out, o->value);
        fputs("\\fR", out);
    }
    fputc('\n', out);
    put(out, o->help);
    fputs(".\n", out);
}

static void command(FILE *out, const cli_program *program, const cli_command *about)
{
    char *words = cli_command_words(about);
    fprintf(out, ".SS \"");
    put(out, program->name);
    fputc(' ', out);
    put(out, about->name);
    fputc(' ', out);
    put(out, words);
    fprintf(out, "\"\n");
    g_free(words);
    paragraph(out, ".PP", about->help);
    for (size_t i = 0; i < cli_option_count; i++) {
        if (cli_option_table[i].belongs != 0 && cli_command_has(about, &cli_option_table[i])) {
            option(out, &cli_option_table[i]);
        }
    }
    fputs(".PP\nFor example:\n.PP\n.nf\n.RS\n", out);
    for (size_t i = 0; i < CLI_MOST_EXAMPLES && about->examples[i] != NULL; i++) {
        put(out, about->examples[i]);
        fputc('\n', out);
    }
    fputs(".RE\n.fi\n", out);
}

void manual_print(const cli_program *program, const char *version, FILE *out)
{
    fprintf(out, ".TH \"%s\" 1 \"\" \"Verdite %s\" \"\"\n.SH NAME\n", program->name, version);
    put(out, program->name);
    fputs(" \\- ", out);
    put(out, program->summary);
    fputs("\n.SH SYNOPSIS\n\\fB", out);
    put(out, program->name);
    fputs("\\fR \\fICOMMAND\\fR [\\fIOPTION\\fR ...] [\\fIWORD\\fR ...]\n.SH COMMANDS\n", out);
    for (size_t i = 0; i < program->command_count; i++) {
        command(out, program, &program->commands[i]);
    }
    fputs(".SH \"OPTIONS OF EVERY COMMAND\"\n", out);
    for (size_t i = 0; i < cli_option_count; i++) {
        if (cli_option_table[i].belongs == 0) {
            option(out, &cli_option_table[i]);
        }
    }
    fputs(".SH \"EXIT STATUS\"\nThe worst that was met:\n", out);
    for (size_t i = 0; i < cli_status_count; i++) {
        fprintf(out, ".TP\n\\fB%d\\fR\n", (int)cli_statuses[i].class);
        put(out, cli_statuses[i].meaning);
        fputs(".\n", out);
    }
    fputs(".SH ENVIRONMENT\n", out);
    for (size_t i = 0; i < program->variable_count; i++) {
        fputs(".TP\n\\fB", out);
        put(out, program->variables[i].name);
        fputs("\\fR\n", out);
        put(out, program->variables[i].help);
        fputc('\n', out);
    }
}
