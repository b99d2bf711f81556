/* SPDX-License-Identifier: MIT
 * Reading expressions, word by word: what comes next, steps appended, and where something is wrong. */
#include "parts.h"

#include <string.h>

/* Records where and why, once; the rest of the text is then passed over. */
vd_kind vd_expr_fail_at(vd_compiler *c, size_t from, size_t to, const char *why)
{
    char said[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(said, sizeof said);
    if (!c->failed) {
        vd_writer_add_bytes(&writer, c->text + from, to > from ? to - from : 0);
        vd_note_EXPRESSION_WRONG(c->fault, to > from ? said : "the end", why, (int32_t)from + 1);
    }
    c->failed = true;
    c->at = c->length;
    return (vd_kind){.is = VD_IS_OTHER};
}

static void add_kind(vd_writer *writer, const vd_kind *kind)
{
    if (kind->sign != NULL && kind->sign[0] != '\0') {
        vd_writer_add(writer, kind->sign);
    } else {
        vd_dimension_print(&kind->dimension, writer);
    }
}

vd_kind vd_expr_fail_mixed(vd_compiler *c, size_t from, const vd_kind *a, const vd_kind *b)
{
    char why[VD_ALLOWED_SIZE];
    vd_writer writer = vd_writer_start(why, sizeof why);
    bool numbers = vd_expr_is_number(a) && vd_expr_is_number(b);
    vd_writer_add(&writer, numbers ? "these do not fit together: " : "these are not numbers of one unit of measure");
    if (numbers) {
        add_kind(&writer, a);
        vd_writer_add(&writer, " and ");
        add_kind(&writer, b);
    }
    return vd_expr_fail_at(c, from, c->at, why);
}

void vd_expr_emit(vd_compiler *c, vd_op op, int64_t number, uint32_t a, uint16_t b, int pushes)
{
    c->stack = (unsigned)((int)c->stack + pushes);
    if (c->failed) {
        return;
    }
    if (c->stack > MOST_DEPTH || c->draft->step_count - c->first >= MOST_STEPS ||
        c->draft->step_count == c->draft->step_size) {
        vd_expr_fail_at(c, 0, c->length, "it is too long or too deep: split it in two");
        return;
    }
    c->draft->steps[c->draft->step_count++] = (vd_instruction){.number = number, .a = a, .b = b, .op = (uint8_t)op};
}

/* ---- Words ---- */

char vd_expr_char_at(const vd_compiler *c, size_t at)
{
    return vd_char_at((vd_span){c->text, c->length}, at);
}

void vd_expr_skip_blanks(vd_compiler *c)
{
    while (c->at < c->length && vd_is_blank(c->text[c->at])) {
        c->at++;
    }
}

/* Letters, digits, points and stars; a hyphen only inside, so that "a - b" is a difference and "a-b" a name. */
size_t vd_expr_word_length(const vd_compiler *c, size_t from)
{
    size_t at = from;
    if (at >= c->length || !vd_is_letter(c->text[at])) {
        return 0;
    }
    while (at < c->length) {
        char ch = c->text[at], next = vd_expr_char_at(c, at + 1);
        bool inside = vd_is_letter(ch) || vd_is_digit(ch) ||
                      ((ch == '.' || ch == '-' || ch == '_') && (vd_is_letter(next) || vd_is_digit(next))) ||
                      (ch == '.' && next == '*') || (ch == '*' && c->text[at - 1] == '.' && next == '.');
        if (!inside) {
            break;
        }
        at++;
    }
    return at - from;
}

bool vd_expr_word_is(const vd_compiler *c, size_t from, size_t length, const char *word)
{
    return vd_text_is(c->text + from, length, word);
}

/* Takes this word or sign if it is what comes next. */
bool vd_expr_take(vd_compiler *c, const char *what)
{
    vd_expr_skip_blanks(c);
    size_t length = strlen(what);
    if (vd_is_letter(what[0]) ? !vd_expr_word_is(c, c->at, vd_expr_word_length(c, c->at), what)
                              : c->length - c->at < length || memcmp(c->text + c->at, what, length) != 0) {
        return false;
    }
    c->at += length;
    return true;
}

bool vd_expr_expect(vd_compiler *c, const char *what)
{
    if (vd_expr_take(c, what)) {
        return true;
    }
    char why[48];
    vd_writer writer = vd_writer_start(why, sizeof why);
    vd_writer_add(&writer, "\"");
    vd_writer_add(&writer, what);
    vd_writer_add(&writer, "\" belongs here");
    vd_expr_fail_at(c, c->at, c->at < c->length ? c->at + 1 : c->at, why);
    return false;
}

/* ---- Kinds ---- */

vd_kind vd_expr_plain(vd_kind_class class)
{
    return (vd_kind){.is = (uint8_t) class};
}

bool vd_expr_is_number(const vd_kind *kind)
{
    return kind->is == VD_IS_NUMBER;
}
