/* SPDX-License-Identifier: MIT
 * Patterns of texts: characters and [classes] one after the other, each followed by ?, *, +, {m} or {m,n} where it does
 * not stand once, as extended regular expressions have it (POSIX, XBD 9.4). Each step goes on from all the places where
 * the one before may have ended, so none takes longer than the text is long. */
#include "value_parts.h"

#include <string.h>

#define MOST_STEPS 32u
#define SIGNS                                                                                                          \
    ((vd_span){"()|.^$*+?{}\\]", 13}) /* signs that mean something else in regular expressions, or nothing             \
                                       */

typedef struct step {
    vd_span class; /* what one character may be */
    uint32_t least, most;
    bool except; /* none of them */
} step;

bool vd_in_class(vd_span class, char c)
{
    for (size_t i = 0; i < class.length; i++) {
        bool range = i + 2 < class.length && class.at[i + 1] == '-';
        if (range ? c >= class.at[i] && c <= class.at[i + 2] : c == class.at[i]) {
            return true;
        }
        i += range ? 2 : 0;
    }
    return false;
}

/* How often: at the front of `rest`. */
static bool take_times(vd_span *rest, step *s)
{
    s->least = s->most = 1;
    if (vd_take_char(rest, '?')) {
        s->least = 0;
    } else if (vd_take_char(rest, '*')) {
        s->least = 0;
        s->most = VD_MOST_BYTES;
    } else if (vd_take_char(rest, '+')) {
        s->most = VD_MOST_BYTES;
    } else if (vd_take_char(rest, '{')) {
        if (!vd_take_whole(rest, VD_MOST_BYTES, &s->least, NULL)) {
            return false;
        }
        s->most = s->least;
        if (vd_take_char(rest, ',')) {
            s->most = VD_MOST_BYTES;
            vd_take_whole(rest, VD_MOST_BYTES, &s->most, NULL);
        }
        return vd_take_char(rest, '}') && s->least <= s->most;
    }
    return true;
}

static bool take_step(vd_span *rest, step *s)
{
    s->except = false;
    if (!vd_take_char(rest, '[')) {
        s->class = (vd_span){rest->at, 1};
        bool plain = *rest->at >= 0x20 && *rest->at <= 0x7E && !vd_has_char(SIGNS, *rest->at);
        rest->at++, rest->length--;
        return plain && take_times(rest, s);
    }
    s->except = vd_take_char(rest, '^');
    s->class = (vd_span){rest->at, 0};
    while (s->class.length < rest->length && rest->at[s->class.length] != ']') {
        s->class.length++;
    }
    rest->at += s->class.length, rest->length -= s->class.length;
    return s->class.length > 0 && vd_take_char(rest, ']') && take_times(rest, s);
}

bool vd_pattern_is_sound(const char *pattern)
{
    vd_span rest = {pattern, strlen(pattern)};
    step s;
    unsigned steps = 0;
    while (rest.length > 0) {
        if (++steps > MOST_STEPS || !take_step(&rest, &s)) {
            return false;
        }
    }
    return steps > 0;
}

bool vd_pattern_matches(const char *pattern, vd_span text)
{
    vd_span rest = {pattern, strlen(pattern)};
    bool here[VD_MOST_BYTES + 1] = {true}, next[VD_MOST_BYTES + 1];
    step s;
    while (rest.length > 0 && text.length <= VD_MOST_BYTES && take_step(&rest, &s)) {
        memset(next, 0, sizeof next);
        for (size_t from = 0; from <= text.length; from++) {
            size_t times = 0;
            while (here[from] && times <= s.most) {
                next[from + times] = next[from + times] || times >= s.least;
                if (from + times == text.length || vd_in_class(s.class, text.at[from + times]) == s.except) {
                    break;
                }
                times++;
            }
        }
        memcpy(here, next, sizeof here);
    }
    return rest.length == 0 && text.length <= VD_MOST_BYTES && here[text.length];
}

/* ---- Check digits ---- */

/* Digits and letters count 0 to 35; -1: it is none. */
static int worth(char c)
{
    return vd_is_digit(c) ? c - '0' : vd_is_letter(c) ? vd_small(c) - 'a' + 10 : -1;
}

/* The digit behind these digits, where each second from it counts `heavy`: the sum of its digits (Luhn), or as it is.
 */
static int weighted(vd_span digits, unsigned heavy, bool cast)
{
    unsigned sum = 0;
    for (size_t i = 0; i < digits.length; i++) {
        unsigned digit = (unsigned)(digits.at[i] - '0') * ((digits.length - i) % 2 == 1 ? heavy : 1u);
        sum += cast ? digit / 10 + digit % 10 : digit;
    }
    return (int)((10 - sum % 10) % 10);
}

/* ISO/IEC 7064, MOD 97-10. */
static int modulo_97(vd_span text)
{
    unsigned rest = 0;
    for (size_t i = 0; i < text.length; i++) {
        unsigned one = (unsigned)worth(text.at[i]);
        rest = (rest * (one > 9 ? 100 : 10) + one) % 97;
    }
    return 98 - (int)(rest * 100 % 97);
}

bool vd_check_fits(vd_check check, vd_span text, int *fitting)
{
    size_t digits = check == VD_CHECK_MOD_97 ? 2 : 1;
    *fitting = -1;
    if (check == VD_CHECK_NONE) {
        return true;
    }
    for (size_t i = 0; i < text.length; i++) {
        int one = worth(text.at[i]);
        if (one < 0 || (one > 9 && (digits == 1 || i + digits >= text.length))) {
            return false;
        }
    }
    if (text.length <= digits) {
        return false;
    }
    vd_span front = {text.at, text.length - digits};
    *fitting = check == VD_CHECK_LUHN     ? weighted(front, 2, true)
               : check == VD_CHECK_MOD_10 ? weighted(front, 3, false)
                                          : modulo_97(front);
    int last = worth(text.at[text.length - 1]);
    return (digits == 2 ? worth(text.at[text.length - 2]) * 10 + last : last) == *fitting;
}
