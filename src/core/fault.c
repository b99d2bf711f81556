/* SPDX-License-Identifier: MIT
 * The fault record: the first fault sticks. Its words are made in words.c, which a small device may leave out. */
#include "verdite/set.h"

#include <string.h>

#define CLASS_OF(name, class, code, takes, what, next) VD_CLASS_##class,
static const uint8_t classes[VD_STATUS_COUNT] = {VD_FAULT_LIST(CLASS_OF)};
#undef CLASS_OF

vd_class vd_status_class(vd_status status)
{
    return (unsigned)status < VD_STATUS_COUNT ? (vd_class)classes[status] : VD_CLASS_USAGE;
}

void vd_fault_clear(vd_fault *fault)
{
    memset(fault, 0, sizeof *fault);
}

/* Length of the well-formed UTF-8 character (RFC 3629) at `at`, 0 if there is none. */
static size_t character_length(const unsigned char *at)
{
    static const struct {
        unsigned char low, high, second_low, second_high, length;
    } forms[] = {{0xC2, 0xDF, 0x80, 0xBF, 2}, {0xE0, 0xE0, 0xA0, 0xBF, 3}, {0xE1, 0xEC, 0x80, 0xBF, 3},
                 {0xED, 0xED, 0x80, 0x9F, 3}, {0xEE, 0xEF, 0x80, 0xBF, 3}, {0xF0, 0xF0, 0x90, 0xBF, 4},
                 {0xF1, 0xF3, 0x80, 0xBF, 4}, {0xF4, 0xF4, 0x80, 0x8F, 4}};
    if (at[0] < 0x80) {
        return at[0] >= 0x20 && at[0] != 0x7F;
    }
    for (size_t i = 0; i < sizeof forms / sizeof forms[0]; i++) {
        if (at[0] < forms[i].low || at[0] > forms[i].high) {
            continue;
        }
        if (at[1] < forms[i].second_low || at[1] > forms[i].second_high) {
            return 0;
        }
        for (size_t k = 2; k < forms[i].length; k++) {
            if ((at[k] & 0xC0) != 0x80) {
                return 0;
            }
        }
        /* The C1 controls, U+0080 to U+009F, steer terminals too. */
        return at[0] == 0xC2 && at[1] < 0xA0 ? 0 : forms[i].length;
    }
    return 0;
}

/* Copies what is printable; each other byte becomes '?'. */
static void copy_printable(char *to, size_t size, const char *from)
{
    size_t used = 0;
    while (*from != '\0') {
        size_t length = character_length((const unsigned char *)from);
        size_t step = length > 0 ? length : 1;
        if (used + step + 4 > size && strlen(from) + used + 1 > size) {
            memcpy(to + used, "...", 3);
            used += 3;
            break;
        }
        if (length > 0) {
            memcpy(to + used, from, length);
        } else {
            to[used] = '?';
        }
        used += step;
        from += step;
    }
    to[used] = '\0';
}

vd_status vd_fault_note(vd_fault *fault, vd_status status, const vd_setting *setting, const char *said,
                        const char *allowed)
{
    return vd_fault_note_numbers(fault, status, setting, said, allowed, 0, 0, 0);
}

vd_status vd_fault_note_numbers(vd_fault *fault, vd_status status, const vd_setting *setting, const char *said,
                                const char *allowed, int32_t first, int32_t second, int32_t third)
{
    if (fault != NULL && fault->status == VD_OK) {
        const int32_t numbers[] = {first, second, third};
        memcpy(fault->number, numbers, sizeof numbers);
        fault->status = status;
        fault->setting = setting;
        copy_printable(fault->said, sizeof fault->said, said != NULL ? said : "");
        copy_printable(fault->allowed, sizeof fault->allowed, allowed != NULL ? allowed : "");
    }
    return status;
}
