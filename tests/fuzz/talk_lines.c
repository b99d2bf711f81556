/* SPDX-License-Identifier: MIT
 * Jobs on units that talk in lines, against whatever comes back. */
#include "talk.h"

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    static const char *const models[] = {"skep", "lantern", "brock"};
    input f = {bytes, count};
    talk_play(input_model(models[input_number(&f, G_N_ELEMENTS(models))]), &f);
    return 0;
}
