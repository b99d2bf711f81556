/* SPDX-License-Identifier: MIT
 * From what was heard to what it means: the one place that tells the causes of a silent or strange line apart. */
#include "verdite/notes.h"
#include "verdite/search.h"
#include "verdite/text.h"

static void meet(vd_clues *clues, const vd_identity *identity)
{
    if (clues->identified > 0 && !vd_same_text(clues->identity.serial, identity->serial)) {
        clues->differ = true;
        clues->other = clues->identity;
    }
    clues->identity = *identity;
    clues->identified++;
}

void vd_clues_name(vd_clues *clues, const vd_evidence *evidence)
{
    if (evidence->status == VD_OK) {
        meet(clues, &evidence->identity);
    }
    if (evidence->status == VD_OK && evidence->second.serial[0] != '\0') {
        meet(clues, &evidence->second);
    }
}

void vd_clues_add(vd_clues *clues, const vd_evidence *evidence)
{
    clues->asked++;
    clues->bytes += evidence->bytes;
    clues->error_bytes += evidence->error_bytes;
    clues->echoed = (uint16_t)(clues->echoed + evidence->echo);
    clues->clashing = (uint16_t)(clues->clashing + evidence->clash);
    clues->headed = (uint16_t)(clues->headed + evidence->headed);
    if (evidence->bytes >= 4 && (clues->shortest_run == 0 || evidence->shortest_run < clues->shortest_run)) {
        clues->shortest_run = evidence->shortest_run;
    }
    if (evidence->status == VD_OK) {
        vd_clues_name(clues, evidence);
    } else if (evidence->status == VD_EXCEPTION_BUSY || evidence->status == VD_EXCEPTION_ACKNOWLEDGE) {
        clues->busy++;
    } else if (vd_status_class(evidence->status) == VD_CLASS_REFUSED) {
        clues->refused++;
    } else if (evidence->status == VD_WRONG_ADDRESS) {
        clues->strays++;
        clues->stray_address = evidence->stray_address;
    } else if (evidence->bytes == 0) {
        clues->silent++;
    } else {
        clues->damaged++;
        clues->damage = evidence->status;
    }
}

void vd_clues_add_control(vd_clues *clues, const vd_evidence *evidence)
{
    /* Sound frames are talk between units, at our speed; only what is none says that we are not understood. */
    clues->control_bytes += evidence->status != VD_WRONG_ADDRESS ? evidence->bytes : 0u;
    if (evidence->bytes >= 4 && (clues->shortest_run == 0 || evidence->shortest_run < clues->shortest_run)) {
        clues->shortest_run = evidence->shortest_run;
    }
    clues->error_bytes += evidence->error_bytes;
}

const vd_model *vd_model_of_identity(const vd_model *const *models, size_t count, const vd_identity *identity)
{
    for (size_t i = 0; i < count; i++) {
        if (vd_model_fits(models[i], identity)) {
            return models[i];
        }
    }
    return NULL;
}

/* The standard speed nearest below a measured one. */
static uint32_t standard_speed(uint32_t baud)
{
    static const uint32_t speeds[] = {115200, 57600, 38400, 19200, 9600, 4800, 2400, 1200, 600, 300};
    for (size_t i = 0; i < sizeof speeds / sizeof speeds[0]; i++) {
        if (baud + baud / 8 >= speeds[i]) {
            return speeds[i];
        }
    }
    return 300;
}

/* Bytes come whether anybody is asked or not, so nobody understood us: what do they tell of speed? */
static vd_status judge_babble(const vd_clues *clues, const vd_serial *line, vd_fault *fault)
{
    if (clues->shortest_run >= 2) {
        uint32_t baud = standard_speed(line->baud / clues->shortest_run);
        return vd_note_SPEED_LOWER(fault, (int32_t)baud);
    }
    /* Who talks at our speed has some of it spoilt by our own questions. */
    if (4 * clues->error_bytes > clues->bytes + clues->control_bytes) {
        return vd_note_GARBLED(fault, (int32_t)line->baud);
    }
    return vd_note_NOT_IN_STEP(fault);
}

static vd_status judge_model(const vd_clues *clues, const vd_model *const *models, size_t model_count,
                             const vd_model *wanted, vd_fault *fault)
{
    char said[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(said, sizeof said);
    const vd_model *model = vd_model_of_identity(models, model_count, &clues->identity);
    vd_writer_add(&writer, clues->identity.maker);
    vd_writer_add(&writer, " ");
    vd_writer_add(&writer, clues->identity.product);
    if (model == NULL) {
        return vd_note_MODEL_NOT_KNOWN(fault, said);
    }
    return wanted == NULL || wanted == model ? VD_OK : vd_note_OTHER_MODEL(fault, said, wanted->key);
}

bool vd_found_is_shared(const vd_found *found)
{
    return found->status == VD_ADDRESS_SHARED || found->status == VD_ADDRESS_SHARED_BY;
}

static vd_status judge_shared(const vd_clues *clues, uint8_t address, vd_fault *fault)
{
    char both[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(both, sizeof both);
    vd_writer_add(&writer, clues->other.serial);
    vd_writer_add(&writer, " and ");
    vd_writer_add(&writer, clues->identity.serial);
    bool named = clues->differ && clues->other.serial[0] != '\0' && clues->identity.serial[0] != '\0';
    return named && !writer.cut ? vd_note_ADDRESS_SHARED_BY(fault, both, address)
                                : vd_note_ADDRESS_SHARED(fault, address);
}

vd_status vd_clues_judge(const vd_clues *clues, uint8_t address, const vd_serial *line, const vd_model *const *models,
                         size_t model_count, const vd_model *wanted, int32_t waited, vd_fault *fault)
{
    /* Whoever answers to questions only has understood them: speed and framing are right. */
    bool babble = clues->control_bytes > 0;
    /* A unit takes the reply of another one on its address for a request that it does not know, and refuses it. One
     * that says who it is by registers may well refuse to do so by objects. */
    bool quarrel =
        !babble && clues->refused > 0 && (clues->by_objects > 0 || (clues->damaged > 0 && clues->headed > 0));
    bool clash = !babble && clues->clashing > 0 && clues->headed > 0 && clues->damaged + clues->identified > 1;
    if (clues->differ || clash || quarrel) {
        return judge_shared(clues, address, fault);
    }
    if (clues->identified > 0 && vd_identity_is_cut(&clues->identity)) {
        return vd_note_SERIAL_TOO_LONG(fault, clues->identity.serial);
    }
    if (clues->identified > 0) {
        return judge_model(clues, models, model_count, wanted, fault);
    }
    if (clues->busy > 0) {
        return vd_note_STILL_STARTING(fault, clues->busy / 2);
    }
    if (clues->refused > 0) {
        return vd_note_MODEL_NOT_KNOWN(fault, "it does not identify itself");
    }
    if (babble) {
        return judge_babble(clues, line, fault);
    }
    if (clues->strays > 0) {
        return vd_note_WRONG_ADDRESS(fault, "", "", address, clues->stray_address, 0);
    }
    if (clues->damaged > 0) {
        return vd_fault_note_numbers(fault, clues->damage, NULL, "its identity", "", address, waited, clues->asked);
    }
    if (clues->echoed > 0) {
        return vd_note_ECHO_ONLY(fault, "", "", address, waited, clues->asked);
    }
    if (wanted != NULL && !vd_model_has_address(wanted)) {
        const char *help = wanted->listening.hand.help != NULL ? wanted->listening.hand.help : "";
        return vd_note_NO_ANSWER(fault, "", help[0] != '\0' ? help : "Check supply, cable, baud and framing.", address,
                                 waited, clues->asked);
    }
    return vd_note_NO_REPLY(fault, "", "", address, waited, clues->asked);
}
