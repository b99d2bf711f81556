/* SPDX-License-Identifier: MIT
 * What a line to or from a unit says, in words, for a trace. Which manner it is in shows by how it begins. */
#include "parts.h"

#include "verdite/text.h"

#include <string.h>

static void add_list(const char *text, size_t length, char separator, const char *name, vd_writer *writer)
{
    const char *rest = text, *piece = NULL;
    size_t left = length, size = 0;
    bool any = false;
    vd_writer_add(writer, name);
    while (vd_lines_cut(&vd_sentences_manner, &rest, &left, separator, &piece, &size)) {
        vd_writer_add(writer, any ? ", " : " ");
        vd_writer_add_bytes(writer, piece, size);
        any = true;
    }
}

/* What a part of a line does: where its word ends shows it. A verb that stays is said once. */
static void explain_parts(const char *line, size_t length, char sets, vd_writer *writer)
{
    const char *rest = line, *piece = NULL, *before = "";
    size_t left = length, size = 0;
    while (vd_lines_cut(&vd_commands_manner, &rest, &left, ';', &piece, &size)) {
        size_t name = 0;
        while (name < size && piece[name] != sets && piece[name] != '?') {
            name++;
        }
        const char *verb = name == size ? "do " : piece[name] == '?' ? "read " : "set ";
        vd_writer_add(writer, before[0] == '\0' ? "" : before == verb ? ", " : "; ");
        vd_writer_add(writer, before == verb ? "" : verb);
        vd_writer_add_bytes(writer, piece, name);
        before = verb;
    }
}

static void explain_sentence(const char *line, size_t length, vd_writer *writer)
{
    size_t head = 1;
    while (head < length && line[head] != ',') {
        head++;
    }
    bool checked = length > 4 && line[length - 3] == '*';
    char hex[3] = {0};
    vd_writer check = vd_writer_start(hex, sizeof hex);
    vd_writer_add_hex(&check, checked ? vd_lines_check(line + 1, length - 4) : 0, 2);
    if (!checked || memcmp(hex, line + length - 2, 2) != 0) {
        vd_writer_add(writer, "sentence whose check does not fit");
        return;
    }
    const char *data = line + head + 3;
    bool ours = length >= head + 6 && line[head + 2] == ',';
    size_t size = ours ? length - 3 - (head + 3) : 0;
    switch (ours ? line[head + 1] : '\0') {
    case 'R': add_list(data, size, ',', "read", writer); break;
    case 'W': add_list(data, size, ',', "set", writer); break;
    case 'V': add_list(data, size, ',', "values, sentence and how many:", writer); break;
    case 'A': add_list(data, size, ',', "done:", writer); break;
    case 'N': add_list(data, size, ',', "refused, and why:", writer); break;
    default: vd_writer_add(writer, "a sentence that it sends of itself"); break;
    }
}

static void explain_answer(const char *line, size_t length, vd_writer *writer)
{
    vd_reply_line reply = vd_reply_parse(&vd_commands_manner, "", line, length);
    switch (reply.kind) {
    case VD_REPLY_FINE: vd_writer_add(writer, "done"); break;
    case VD_REPLY_NO: vd_writer_add(writer, "refused"); break;
    default: break; /* what it says, it says plainly */
    }
}

void vd_lines_explain(const char *line, size_t length, bool from_unit, vd_writer *writer)
{
    if (vd_text_line(line, length) < length) { /* what steers a terminal is not quoted */
        vd_writer_add(writer, "no plain line");
    } else if (length > 1 && line[0] == '$') {
        explain_sentence(line, length, writer);
    } else if (vd_lines_starts(line, length, "AT")) {
        from_unit ? vd_writer_add(writer, "our own line, echoed") : explain_parts(line + 2, length - 2, '=', writer);
    } else if (!from_unit) {
        explain_parts(line, length, ' ', writer);
    } else {
        explain_answer(line, length, writer);
    }
}

void vd_lines_tell_place(const vd_model *model, const vd_setting *setting, vd_writer *writer)
{
    const vd_field *at = &setting->field;
    const vd_manner *manner = vd_manner_of(model);
    unsigned fields = 0;
    vd_writer_add(writer, manner->record_name);
    for (const char *c = at->word; *c != '\0'; c++) {
        *c == '#' ? vd_writer_add_number(writer, at->item) : vd_writer_add_bytes(writer, c, 1);
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        fields += vd_field_same_record(&model->settings[i].field, at);
    }
    if (at->item > 0 && !manner->queue) {
        vd_writer_add(writer, ", item ");
        vd_writer_add_number(writer, at->item);
    }
    if (fields > 1) {
        vd_writer_add(writer, ", field ");
        vd_writer_add_number(writer, at->number + 1);
    }
}
