/* SPDX-License-Identifier: MIT
 *
 * Fields: values as a unit that talks in lines says and takes them.
 */
#ifndef VERDITE_FIELDS_H
#define VERDITE_FIELDS_H

#include "verdite/lines.h"
#include "verdite/set.h"

VD_C_BEGIN

/* Orders two fields by word, item and number: below 0, 0 or above 0, as strcmp() does. */
int vd_field_order(const vd_field *a, const vd_field *b);
/* Whether a word can be said to a unit that talks in lines: capitals, digits, : and _; `numbered`: with # once, where
 * the number of an item stands. */
bool vd_field_is_word(const char *word, bool numbered);
/* Whether two fields are of one record. */
bool vd_field_same_record(const vd_field *a, const vd_field *b);
/* Whether a word that was heard is this one, with `item` in place of #; case does not matter. */
bool vd_lines_is_word(const char *word, uint16_t item, const char *heard, size_t length);

/* Adds the value of a setting as a unit of this manner says and takes it. VD_OK, or a value fault when there is none.
 */
vd_status vd_field_print(const vd_manner *manner, const vd_set *set, uint16_t setting, vd_writer *writer,
                         vd_fault *fault);
/* Takes such a value into a set; false, with the set as it was, when the text is none. */
bool vd_field_take(const vd_manner *manner, vd_set *set, uint16_t setting, const char *text, size_t length);
/* Cuts the piece in front of `separator` off, one inside quotation marks apart where the manner has such marks. False
 * when nothing is left; a text that ends with the separator has an empty last piece. `*rest` NULL: nothing is left. */
bool vd_lines_cut(const vd_manner *manner, const char **rest, size_t *left, char separator, const char **piece,
                  size_t *length);
/* Puts the text that a field says, without quotation marks and escapes, into `to`; returns its length, or -1 when it
 * is longer than `size` or broken. */
int vd_lines_plain(const vd_manner *manner, const char *text, size_t length, char *to, size_t size);

VD_C_END

#endif
