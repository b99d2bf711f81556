/* SPDX-License-Identifier: MIT
 *
 * Text from outside: what may be shown, and what may be a key. Whatever takes text in asks here, so that nothing behind
 * it has to.
 */
#ifndef VERDITE_TEXT_H
#define VERDITE_TEXT_H

#include "verdite/writer.h"

VD_C_BEGIN

bool vd_is_digit(char c); /* 0 to 9 */
/* The value of a hexadecimal digit, -1 when it is none. */
int vd_hex_digit(char c);

/* Length in bytes of the character that begins a text of `length` bytes, if it is well-formed UTF-8 (RFC 3629) and may
 * be shown: no control character (U+0000 to U+001F, U+007F to U+009F), no separator of lines or paragraphs, nothing
 * that turns the direction of reading, and nothing that is never seen. 0: it may not, or there is none. */
size_t vd_text_shown(const char *text, size_t length);
/* Where the first character stands that may not be shown; `length` where all may. Such a text is one line. */
size_t vd_text_line(const char *text, size_t length);
/* Adds what the first character that may not be shown is, for people: "a line end", "the character U+001B". Nothing
 * where all may. */
void vd_text_print_unseen(const char *text, size_t length, vd_writer *writer);
/* The longest key of a model, a setting, a group, a variant, an action, an adapter. */
#define VD_MOST_KEY 63u
/* Whether a text is a key: 1 to VD_MOST_KEY small letters a to z, digits, hyphens and points, none of the latter two
 * at the beginning or the end or twice in a row. It is safe in a file name, in an expression and in every format. */
bool vd_text_is_key(const char *text);
/* Whether a text may be a unit of measure: "", or characters that may be shown, beginning with no digit or sign, and
 * none of those that would make a value with it ambiguous in a file: # : , ; quotation marks, brackets, and their
 * kin. */
bool vd_text_is_measure(const char *text);
/* Whether two texts are the same, byte for byte. */
bool vd_same_text(const char *a, const char *b);
/* Whether `length` bytes at `text` are this text, byte for byte. */
bool vd_text_is(const char *text, size_t length, const char *whole);

VD_C_END

#endif
