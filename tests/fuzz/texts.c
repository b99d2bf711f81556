/* SPDX-License-Identifier: MIT
 * The gate for text, held against another one that knows UTF-8; and the words of faults that quote whatever was said.
 */
#include "input.h"

/* Faults that quote what was said, of every shape. */
static const vd_status statuses[] = {VD_NOT_A_NUMBER,    VD_TEXT_TOO_LONG, VD_NO_SUCH_KEY, VD_NOT_YAML,
                                     VD_FILE_UNREADABLE, VD_WRONG_SHAPE,   VD_NO_REPLY,    VD_RULE_BROKEN,
                                     VD_FILE_THERE,      VD_REFUSED_RIGHT};

static void gate(const char *text, size_t count)
{
    const char *end = NULL;
    bool valid = g_utf8_validate(text, (gssize)count, &end) != FALSE;
    size_t line = vd_text_line(text, count);
    char name[64];
    vd_writer writer = vd_writer_start(name, sizeof name);
    PROMISE(line <= count && line <= (size_t)(end - text), "it took what is no UTF-8");
    vd_text_print_unseen(text, count, &writer);
    PROMISE((line == count) == (name[0] == '\0'), "nothing is said of what is refused");
    if (line < count && valid) {
        gunichar c = g_utf8_get_char(text + line);
        GUnicodeType type = g_unichar_type(c);
        PROMISE(type == G_UNICODE_CONTROL || type == G_UNICODE_FORMAT || type == G_UNICODE_LINE_SEPARATOR ||
                    type == G_UNICODE_PARAGRAPH_SEPARATOR || type == G_UNICODE_UNASSIGNED ||
                    type == G_UNICODE_NON_SPACING_MARK,
                "U+%04X is refused, though it can be seen", (unsigned)c);
    }
    for (const char *at = text; at < text + line; at = g_utf8_next_char(at)) {
        GUnicodeType type = g_unichar_type(g_utf8_get_char(at));
        PROMISE(type != G_UNICODE_CONTROL && type != G_UNICODE_LINE_SEPARATOR &&
                    type != G_UNICODE_PARAGRAPH_SEPARATOR && type != G_UNICODE_SURROGATE,
                "U+%04X is taken", (unsigned)g_utf8_get_char(at));
    }
}

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    input f = {bytes, count};
    vd_status status = statuses[input_number(&f, G_N_ELEMENTS(statuses))];
    gate((const char *)f.at, f.left);
    char *said = g_strndup((const char *)f.at, f.left), words[512];
    vd_fault fault = {0};
    bool key = vd_text_is_key(said), measure = vd_text_is_measure(said);
    PROMISE(!key || (input_is_plain(said) && strpbrk(said, "/\\ :#\"'") == NULL), "a key is %s", said);
    PROMISE(!measure || input_is_plain(said), "a unit of measure is %s", said);
    vd_fault_note_numbers(&fault, status, NULL, said, said, (int32_t)f.left, 2, 3);
    vd_fault_words(&fault, true, words, sizeof words);
    PROMISE(input_is_plain(words) && input_is_plain(fault.said), "words");
    g_free(said);
    return 0;
}
