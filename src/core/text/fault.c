/* SPDX-License-Identifier: MIT
 * The fault record: the first fault sticks. Its words are made in words.c, which a small device may leave out. */
#include "verdite/set.h"
#include "verdite/text.h"

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

/* As many bytes as a character has at most, if there are so many: a text may be far longer than what is quoted of it.
 */
static size_t ahead(const char *text)
{
    size_t length = 0;
    while (length < 4 && text[length] != '\0') {
        length++;
    }
    return length;
}

/* Copies what is printable; each other byte becomes '?'. */
static void copy_printable(char *to, size_t size, const char *from)
{
    size_t used = 0;
    while (*from != '\0') {
        size_t length = vd_text_shown(from, ahead(from));
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
