/* SPDX-License-Identifier: MIT
 * What the fuzzed targets share: bytes taken off an input one by one, models, and a way to say that a promise is
 * broken. */
#ifndef VD_FUZZ_INPUT_H
#define VD_FUZZ_INPUT_H

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "verdite/fields.h"
#include "verdite/host.h"
#include "verdite/lines_unit.h"
#include "verdite/modbus_unit.h"
#include "verdite/registers.h"
#include "verdite/text.h"

/* An input that is eaten from the front; when it is empty it gives zeros. */
typedef struct input {
    const uint8_t *at;
    size_t left;
} input;

uint8_t input_byte(input *f);
/* A number below `below`. */
uint32_t input_number(input *f, uint32_t below);
int64_t input_long(input *f);
/* At most `most` bytes, as many as the next byte says; returns how many. */
size_t input_bytes(input *f, uint8_t *to, size_t most);

/* A promise: when it is broken, says so and ends the run. */
#define PROMISE(kept, ...)                                                                                             \
    do {                                                                                                               \
        if (!(kept)) {                                                                                                 \
            fprintf(stderr, "broken, %s:%d: %s: ", __FILE__, __LINE__, #kept);                                         \
            fprintf(stderr, __VA_ARGS__);                                                                              \
            fputc('\n', stderr);                                                                                       \
            abort();                                                                                                   \
        }                                                                                                              \
    } while (0)

/* A model that ships, loaded once. */
const vd_model *input_model(const char *key);
/* A path at which these bytes can be read as a file, until the next call. */
const char *input_file(const uint8_t *bytes, size_t count);
/* A folder in memory, also for what programs remember; it is gone when the run ends. */
const char *input_folder(void);
/* A set of a model, in memory of its own. */
vd_set input_set(const vd_model *model);
/* Every finding is told in words that can be shown. */
void input_judge_findings(const vd_findings *findings);
/* Whether a text is fit to be shown: one line of characters that may be. */
bool input_is_plain(const char *text);

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count);

#endif
