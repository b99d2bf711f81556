/* SPDX-License-Identifier: MIT
 * Requests as they are typed, to a unit of any language; and requirements that models are to meet. */
#include "input.h"
#include "verdite/raw.h"

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    static const char *const models[] = {"dowel", "skep", "lantern", "brock"};
    static vd_raw_storage raw;
    input f = {bytes, count};
    const vd_model *model = input_model(models[input_number(&f, G_N_ELEMENTS(models))]);
    char *typed = g_strndup((const char *)f.at, f.left), words[512];
    vd_fault fault = {0};
    bool meets = false;
    uint64_t now = 20000000;
    if (vd_raw_begin(vd_raw_in(&raw), now, vd_desk_of(model), model, &model->line, model->address_factory, 1000, typed,
                     &fault) == VD_OK) {
        size_t length = 0;
        vd_status status = VD_OK;
        PROMISE(vd_raw_sent(vd_raw_in(&raw), &length) != NULL && length > 0, "nothing is sent");
        for (unsigned steps = 0; steps < 1000 && !vd_raw_ended(vd_raw_in(&raw), &status); steps++) {
            vd_wants wants;
            vd_raw_engine.wants(vd_raw_in(&raw), &wants);
            if (wants.count > 0) {
                vd_raw_engine.feed(vd_raw_in(&raw), &(vd_event){.kind = VD_SENT, .now = now, .until = now});
                now += 3000;
                vd_raw_engine.feed(vd_raw_in(&raw),
                                   &(vd_event){.kind = VD_HEARD, .now = now, .bytes = f.at, .count = f.left});
            } else {
                now = wants.wake == VD_NEVER ? now + 1000000 : MAX(wants.wake, now + 1);
                vd_raw_engine.feed(vd_raw_in(&raw), &(vd_event){.kind = VD_TIME, .now = now});
            }
        }
        PROMISE(vd_raw_ended(vd_raw_in(&raw), &status), "it does not end");
    }
    vd_model_meets(model, 0, typed, &meets, &fault);
    vd_fault_words(&fault, true, words, sizeof words);
    PROMISE(input_is_plain(words), "%s", words);
    g_free(typed);
    return 0;
}
