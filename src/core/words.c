/* SPDX-License-Identifier: MIT
 * The one place that words a fault. Linked only where words are wanted. */
#include "verdite/set.h"

#include <string.h>

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

static void add_filled(vd_writer *writer, const char *template, const vd_fault *fault)
{
    const struct {
        const char *name, *text;
    } places[] = {{"{setting}", fault->setting != NULL ? fault->setting->words->key : "The value"},
                  {"{said}", fault->said},
                  {"{allowed}", fault->allowed}};
    while (*template != '\0') {
        if (template[0] == '{' && template[1] >= '1' && template[1] <= '3' && template[2] == '}') {
            vd_writer_add_number(writer, fault->number[template[1] - '1']);
            template += 3;
            continue;
        }
        size_t skipped = 0;
        for (size_t i = 0; i < sizeof places / sizeof places[0] && skipped == 0; i++) {
            size_t length = strlen(places[i].name);
            /* The template is terminated, so a shorter rest differs before memcmp could leave it. */
            size_t rest = strlen(template);
            if (rest >= length && memcmp(template, places[i].name, length) == 0) {
                vd_writer_add(writer, places[i].text);
                skipped = length;
            }
        }
        if (skipped == 0) {
            vd_writer_add_bytes(writer, template, 1);
            skipped = 1;
        }
        template += skipped;
    }
}

size_t vd_fault_words(const vd_fault *fault, bool with_next, char *text, size_t size)
{
    vd_writer writer = vd_writer_start(text, size);
    const wording *words = &wordings[(unsigned)fault->status < VD_STATUS_COUNT ? fault->status : VD_OK];
    add_filled(&writer, words->what, fault);
    if (with_next && words->next[0] != '\0') {
        vd_writer_add(&writer, " ");
        add_filled(&writer, words->next, fault);
    }
    return writer.length;
}
