/* SPDX-License-Identifier: MIT
 * The one place that words a fault. Linked only where words are wanted. */
#include "verdite/set.h"

#include <string.h>

typedef struct wording {
    const char *name, *what, *next;
} wording;

#define WORDING_OF(name, class, what, next) {#name, what, next},
static const wording wordings[VD_STATUS_COUNT] = {VD_FAULT_LIST(WORDING_OF)};
#undef WORDING_OF

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
    static const struct {
        vd_status status;
        char code[3];
    } codes[] = {{VD_NO_PORT_AT_ALL, "A1"},
                 {VD_NO_PORT, "A2"},
                 {VD_PORT_NOT_ALLOWED, "A3"},
                 {VD_PORT_BUSY, "A4"},
                 {VD_PORT_LOST, "A5"},
                 {VD_PORT_FAILED, "A6"},
                 {VD_LINE_NOT_TAKEN, "A7"},
                 {VD_NO_REPLY, "B1"},
                 {VD_SILENT_LINE, "B1"},
                 {VD_NO_ANSWER, "B1"},
                 {VD_ANSWERS_ELSEWHERE, "B0"},
                 {VD_NOBODY_KNOWN, "B1"},
                 {VD_NO_SENSE, "B9"},
                 {VD_LINE_CUT_SHORT, "B7"},
                 {VD_LINE_DAMAGED, "B6"},
                 {VD_ANSWER_STRANGE, "C8"},
                 {VD_NOT_LISTENING, "C9"},
                 {VD_SPEED_LOWER, "B2"},
                 {VD_GARBLED, "B3"},
                 {VD_NOT_IN_STEP, "B4"},
                 {VD_ECHO_ONLY, "B5"},
                 {VD_CHECK_FAILED, "B6"},
                 {VD_CUT_SHORT, "B7"},
                 {VD_LINE_ERRORS, "B8"},
                 {VD_NOISE_ONLY, "B9"},
                 {VD_WRONG_ADDRESS, "C1"},
                 {VD_OTHER_MODEL, "C2"},
                 {VD_MODEL_NOT_KNOWN, "C3"},
                 {VD_STILL_STARTING, "C4"},
                 {VD_ADDRESS_SHARED, "C5"},
                 {VD_ANSWERS_EVERYWHERE, "C6"},
                 {VD_WRONG_FUNCTION, "C7"},
                 {VD_WRONG_LENGTH, "C8"}};
    for (size_t i = 0; i < sizeof codes / sizeof codes[0]; i++) {
        if (codes[i].status == status) {
            return codes[i].code;
        }
    }
    return "";
}

static void add_filled(vd_writer *writer, const char *template, const vd_fault *fault)
{
    const struct {
        const char *name, *text;
    } places[] = {{"{setting}", fault->setting != NULL ? fault->setting->key : "The value"},
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
