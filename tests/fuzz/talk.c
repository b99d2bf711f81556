/* SPDX-License-Identifier: MIT
 * A talk, and replies of all kinds. */
#include "talk.h"

#define MOST_STEPS 3000u
#define MOST_MESSAGE 8192u

static void reply(vd_talk *talk, uint64_t *now, input *f, const uint8_t *asked, size_t count)
{
    static uint8_t bytes[MOST_MESSAGE], errors[MOST_MESSAGE];
    size_t length = 0;
    uint8_t way = input_byte(f);
    if ((way & 1) != 0) { /* what was asked comes back: an echo, or the start of a good reply */
        length = MIN(count, (size_t)input_byte(f));
        memcpy(bytes, asked, length);
    }
    length += input_bytes(f, bytes + length, sizeof bytes - 300 - length);
    memset(errors, 0, length + 1);
    errors[(way & 2) != 0 && length > 0 ? input_number(f, (uint32_t)length) : length] = VD_ERROR_PARITY;
    if ((way & 4) != 0 && length > 0 && length < 254) { /* well-formed, whatever it says */
        uint16_t check = vd_modbus_crc(bytes, length);
        bytes[length++] = (uint8_t)check;
        bytes[length++] = (uint8_t)(check >> 8);
        errors[length - 1] = 0;
    }
    *now += (way & 8) != 0 ? 1000 * (uint64_t)input_number(f, 2000) : 2000;
    vd_talk_engine.feed(talk,
                        &(vd_event){.kind = VD_HEARD, .now = *now, .bytes = bytes, .errors = errors, .count = length});
}

static bool step(vd_talk *talk, uint64_t *now, input *f)
{
    static uint8_t asked[MOST_MESSAGE];
    vd_wants wants;
    vd_talk_engine.wants(talk, &wants);
    if (wants.done) {
        return false;
    }
    if (wants.count > 0) {
        size_t count = MIN(wants.count, sizeof asked);
        memcpy(asked, wants.send, count);
        vd_talk_engine.feed(talk, &(vd_event){.kind = VD_SENT, .now = *now, .until = *now});
        if (f->left > 0) {
            reply(talk, now, f, asked, count);
        }
        return true;
    }
    *now = wants.wake == VD_NEVER ? *now + 1000000 : MAX(wants.wake, *now + 1);
    vd_talk_engine.feed(talk, &(vd_event){.kind = VD_TIME, .now = *now});
    return true;
}

void talk_play(const vd_model *model, input *f)
{
    static vd_talk_storage talk;
    vd_fault fault = {0};
    char words[512];
    void *memory = g_malloc0(vd_talk_size(model));
    vd_set values = input_set(model), held = input_set(model);
    uint8_t *which = g_malloc0(model->setting_count);
    uint64_t now = 20000000;
    vd_set_put_initial(&held);
    vd_talk_start(vd_talk_in(&talk), model, memory, &model->line, model->address_factory, 1000, &fault);
    for (unsigned jobs = 1 + input_number(f, 3); jobs > 0; jobs--) {
        static const vd_job_kind kinds[] = {VD_JOB_IDENTIFY, VD_JOB_READ_LIVE, VD_JOB_READ_STORED, VD_JOB_WRITE};
        vd_job_kind job = kinds[input_number(f, G_N_ELEMENTS(kinds))];
        for (uint16_t i = 0; i < model->setting_count; i++) {
            which[i] = input_byte(f) % 3 == 1;
        }
        if (job == VD_JOB_WRITE) {
            vd_set_put_initial(&values);
        }
        vd_talk_begin(vd_talk_in(&talk), now, job, which, &values, &held);
        unsigned steps = 0;
        while (steps < MOST_STEPS && step(vd_talk_in(&talk), &now, f)) {
            steps++;
        }
        vd_status status = VD_OK;
        PROMISE(vd_talk_ended(vd_talk_in(&talk), &status), "a job does not end");
        vd_fault_words(&fault, true, words, sizeof words);
        PROMISE(input_is_plain(words), "%s", words);
        vd_fault_clear(&fault);
    }
    for (uint16_t i = 0; i < model->setting_count; i++) {
        char text[600];
        size_t length = 0;
        vd_writer writer = vd_writer_start(text, sizeof text);
        vd_value value = vd_set_get(&values, i);
        vd_value_show(&model->settings[i], &value, &writer);
        PROMISE(input_is_plain(text), "%s: %s", model->settings[i].words->key, text);
        const char *odd = vd_set_odd(&values, i, &length);
        PROMISE(odd == NULL || vd_text_line(odd, length) == length, "%s is odd", model->settings[i].words->key);
    }
    g_free(which);
    g_free(values.memory);
    g_free(held.memory);
    g_free(memory);
}
