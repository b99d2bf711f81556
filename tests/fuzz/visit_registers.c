/* SPDX-License-Identifier: MIT
 * Visits to units with registers, over a cable that does its worst. */
#include "cable.h"

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    static const char *const models[] = {"dowel", "wren"};
    input f = {bytes, count};
    cable_play(input_model(models[input_number(&f, G_N_ELEMENTS(models))]), &f);
    return 0;
}
