/* SPDX-License-Identifier: MIT
 * Typed text, piece by piece. */
#ifndef VD_CORE_SPAN_H
#define VD_CORE_SPAN_H

#include "verdite/text.h"
#include "verdite/value.h"

bool vd_is_blank(char c);
bool vd_is_letter(char c);
char vd_small(char c);
/* The character at a place in a piece of text, '\0' behind its end. */
char vd_char_at(vd_span text, size_t at);
/* Without blanks, no-break spaces among them, at both ends. */
vd_span vd_trimmed(vd_span text);
/* Whether it is this word, whatever the case; a blank or underline will do for a hyphen. */
bool vd_same_word(vd_span typed, const char *word);
bool vd_begins_with(const char *text, const char *start);
/* Whether a character stands anywhere in a text. */
bool vd_has_char(vd_span text, char c);
/* Pairs of hexadecimal digits; blanks, hyphens, colons and points between pairs are dropped. How many bytes they are,
 * -1 when it is none, or more than `most`. */
int vd_take_bytes(vd_span typed, char *bytes, size_t most);
/* Takes a whole number of at most `most` off the front; false, with nothing taken, where there is none or it is more.
 * `digits` may be NULL; it is told how many there were. */
bool vd_take_whole(vd_span *rest, uint32_t most, uint32_t *number, unsigned *digits);
/* Takes this character off the front. */
bool vd_take_char(vd_span *rest, char c);
/* The code point of the well-formed UTF-8 character (RFC 3629) that begins a text, and its length; 0: there is none. */
size_t vd_take_character(const char *text, size_t length, uint32_t *point);
/* Takes a sign off the front, if there is one; whether it is a minus. */
bool vd_take_sign(vd_span *rest);
/* Takes a number off the front: sign, digits, at most one decimal mark. Returns how many bytes it took, 0 when there is
 * no number; `digits` counts all significant ones, so that too many can be told from none. */
size_t vd_take_number(vd_span typed, vd_value *value, size_t *digits);
#define VD_MOST_DIGITS 17u /* so that a number, scaled up by one more place, still fits 64 bits */

#endif
