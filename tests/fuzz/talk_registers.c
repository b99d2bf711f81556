/* SPDX-License-Identifier: MIT
 * Jobs on units with registers, against whatever comes back. */
#include "talk.h"

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    static const char *const models[] = {"dowel", "wren"};
    input f = {bytes, count};
    talk_play(input_model(models[input_number(&f, G_N_ELEMENTS(models))]), &f);
    return 0;
}
