/* SPDX-License-Identifier: MIT
 * Records: what one word reads or sets, and the fields in it. */
#include "parts.h"

#include "verdite/text.h"

#include <string.h>

static int compare(const char *a, const char *b)
{
    while (*a != '\0' && *a == *b) {
        a++, b++;
    }
    return (unsigned char)*a - (unsigned char)*b;
}

static int compare_words(const vd_field *a, const vd_field *b)
{
    return compare(a->word != NULL ? a->word : "", b->word != NULL ? b->word : "");
}

bool vd_field_same_record(const vd_field *a, const vd_field *b)
{
    return a->item == b->item && compare_words(a, b) == 0;
}

int vd_field_order(const vd_field *a, const vd_field *b)
{
    int order = compare_words(a, b);
    order = order != 0 ? order : (int)a->item - (int)b->item;
    return order != 0 ? order : (int)a->number - (int)b->number;
}

bool vd_field_is_word(const char *word, bool numbered)
{
    size_t length = 0, numbers = 0;
    if (word != NULL && word[0] == ':') { /* the colon before the first part is said anyway */
        return false;
    }
    for (; word != NULL && word[length] != '\0'; length++) {
        char c = word[length];
        bool fits = vd_is_digit(c) || (c >= 'A' && c <= 'Z') || c == ':' || c == '_' || c == '*' || c == '#';
        numbers += c == '#';
        if (!fits) {
            return false;
        }
    }
    return length > 0 && length <= 40 && numbers == (numbered ? 1 : 0);
}

bool vd_lines_write_together(const vd_model *model, uint16_t a, uint16_t b)
{
    return vd_field_same_record(&model->settings[a].field, &model->settings[b].field);
}
