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

/* One of two nouns with a bar between: the first for a single thing. */
static void add_noun(const char *nouns, size_t length, bool single, vd_writer *writer)
{
    size_t first = 0;
    while (first < length && nouns[first] != '|') {
        first++;
    }
    size_t from = single ? 0 : first + 1, to = single ? first : length;
    vd_writer_add(writer, " ");
    vd_writer_add_bytes(writer, nouns + from, to > from ? to - from : 0);
}

static bool fill(void *about, const char *name, size_t length, vd_writer *writer)
{
    const vd_fault *fault = *(const vd_fault **)about;
    const struct {
        const char *name, *text;
    } places[] = {{"setting", fault->setting != NULL ? fault->setting->words->key : "The value"},
                  {"said", fault->said},
                  {"allowed", fault->allowed}};
    if (length > 0 && name[0] >= '1' && name[0] <= '3' && (length == 1 || name[1] == '|')) {
        int32_t number = fault->number[name[0] - '1'];
        vd_writer_add_number(writer, number);
        if (length > 1) {
            add_noun(name + 2, length - 2, number == 1, writer);
        }
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
        size_t end = writer.length;
        vd_writer_add(&writer, " ");
        size_t from = writer.length;
        vd_writer_add_filled(&writer, words->next, fill, &fault);
        if (writer.length == from && size > end) { /* there is nothing to do: nor a blank before it */
            writer.length = end;
            text[end] = '\0';
        }
    }
    return writer.length;
}
