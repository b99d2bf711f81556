/* SPDX-License-Identifier: MIT
 * Traces of anything that passes: what is written can be shown, and nothing of a hidden exchange is. */
#include "input.h"

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    char *text = NULL;
    size_t length = 0;
    input f = {bytes, count};
    FILE *out = open_memstream(&text, &length);
    vd_tracer *tracer = vd_tracer_new(out);
    uint64_t now = 1000;
    while (f.left > 0) {
        uint8_t message[300], errors[300] = {0}, way = input_byte(&f);
        size_t size = input_bytes(&f, message, sizeof message);
        now += (uint64_t)input_byte(&f) * 700;
        errors[size] = 0;
        errors[0] = (way & 4) != 0 ? VD_ERROR_PARITY : 0;
        if (size > 0) {
            bool hidden = (way & 2) != 0;
            vd_tracer_note(tracer, now, 0, (way & 1) != 0, hidden ? NULL : message, errors, size);
        }
    }
    vd_tracer_free(tracer);
    fclose(out);
    char **lines = g_strsplit(text, "\n", -1);
    for (char **line = lines; *line != NULL; line++) {
        PROMISE(input_is_plain(*line), "a line of a trace: %s", *line);
    }
    g_strfreev(lines);
    free(text);
    return 0;
}
