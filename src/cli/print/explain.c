/* SPDX-License-Identifier: MIT
 * What --explain tells besides: the order of steps, and how what is stored is proved. */
#include "print.h"

#include <string.h>

static const char *const step_words[VD_STEP_COUNT] = {
    [VD_STEP_KEEP] = "keep the state before",
    [VD_STEP_KNOW_AGAIN] = "check that it is still the same unit",
    [VD_STEP_WRITE] = "write",
    [VD_STEP_CHECK] = "check what is live",
    [VD_STEP_ACT] = "tell it to act",
    [VD_STEP_SAVE] = "save the slot",
    [VD_STEP_LOAD] = "load the slot again",
    [VD_STEP_STORE] = "store",
    [VD_STEP_RESTART] = "restart",
    [VD_STEP_COMING_BACK] = "wait until it is back",
    [VD_STEP_READ_BACK] = "read back what is live",
    [VD_STEP_READ_BACK_STORED] = "read back what is stored",
    [VD_STEP_SEE_LEFT] = "ask at the old address",
    [VD_STEP_TRY_PASSWORD] = "log in with the new password",
    [VD_STEP_KNOW_LAST] = "check that it was the same unit",
};

static const char *const proofs[] = {
    [VD_PROOF_NONE] = "Nothing shows what this kind of unit stored.",
    [VD_PROOF_BANK] = "The unit shows what it stored beside what is live: both are read back.",
    [VD_PROOF_RESTART] = "Only a restart shows what the unit stored.",
    [VD_PROOF_SUPPLY] = "Only switching it off and on shows what the unit stored: verify with --by-hand.",
    [VD_PROOF_SHOWN] = "The unit shows only what it stored: that is read back.",
};

bool is_planned(const vd_visit *unit, vd_step step)
{
    size_t count = 0;
    const uint8_t *steps = vd_visit_steps(unit, &count);
    return memchr(steps, (int)step, count) != NULL;
}

void explain_steps(const cli *c, const vd_visit *unit)
{
    size_t count = 0;
    const uint8_t *steps = vd_visit_steps(unit, &count);
    const uint8_t *step = memchr(steps, VD_STEP_ASK, count);
    unsigned number = 0;
    if (!c->options.explain || step == NULL) {
        return;
    }
    message(c, "In this order:");
    for (; step < steps + count; step++) {
        if (step_words[*step] != NULL) {
            message(c, "  %u. %s", ++number, step_words[*step]);
        }
    }
    if (vd_visit_model(unit)->store.needed) {
        message(c, "  %s", proofs[vd_visit_model(unit)->store.proof]);
    }
}
