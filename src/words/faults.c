/* SPDX-License-Identifier: MIT
 * The one place that words a fault. Linked only where words are wanted. */
#include "verdite/set.h"
#include "verdite/text.h"

typedef struct wording {
    const char *name, *what, *next;
} wording;

#define WORDING_OF(name, class, code, takes, what, next) {#name, what, next},
static const wording wordings[VD_STATUS_COUNT] = {VD_FAULT_LIST(WORDING_OF)};
#undef WORDING_OF

#define CODE_OF(name, class, code, takes, what, next) code,
static const char codes[VD_STATUS_COUNT][3] = {VD_FAULT_LIST(CODE_OF)};
#undef CODE_OF

void vd_writer_add_status(vd_writer *writer, vd_status status)
{
    const char *name = (unsigned)status < VD_STATUS_COUNT ? wordings[status].name : "UNKNOWN";
    for (; *name != '\0'; name++) {
        char c = (char)(*name == '_' ? '-' : *name >= 'A' && *name <= 'Z' ? *name - 'A' + 'a' : *name);
        vd_writer_add_bytes(writer, &c, 1);
    }
}

const char *vd_status_code(vd_status status)
{
    return (unsigned)status < VD_STATUS_COUNT ? codes[status] : "";
}

static bool fill(void *about, const char *name, size_t length, vd_writer *writer)
{
    const vd_fault *fault = *(const vd_fault **)about;
    const struct {
        const char *name, *text;
    } places[] = {{"setting", fault->setting != NULL ? fault->setting->words->key : "The value"},
                  {"said", fault->said},
                  {"allowed", fault->allowed}};
    if (length == 1 && name[0] >= '1' && name[0] <= '3') {
        vd_writer_add_number(writer, fault->number[name[0] - '1']);
        return true;
    }
    for (size_t i = 0; i < sizeof places / sizeof places[0]; i++) {
        if (vd_text_is(name, length, places[i].name)) {
            vd_writer_add(writer, places[i].text);
            return true;
        }
    }
    return false;
}

size_t vd_fault_words(const vd_fault *fault, bool with_next, char *text, size_t size)
{
    vd_writer writer = vd_writer_start(text, size);
    const wording *words = &wordings[(unsigned)fault->status < VD_STATUS_COUNT ? fault->status : VD_OK];
    vd_writer_add_filled(&writer, words->what, fill, &fault);
    if (with_next && words->next[0] != '\0') {
        vd_writer_add(&writer, " ");
        vd_writer_add_filled(&writer, words->next, fill, &fault);
    }
    return writer.length;
}
