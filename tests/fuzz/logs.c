/* SPDX-License-Identifier: MIT
 * Logs: whatever a file holds is refused with words, or watched, and what is told of it goes up in time. */
#include "input.h"
#include "verdite/alarm_words.h"
#include "verdite/log.h"

static int64_t last;

static void listen(void *about, const vd_alarm_event *event)
{
    const vd_watch *watch = about;
    PROMISE(event->time >= last, "%lld after %lld", (long long)event->time, (long long)last);
    PROMISE(event->alarm < vd_watch_count(watch), "alarm %u", event->alarm);
    last = event->time;
}

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    static char *const columns[] = {(char *)"sound=2", NULL};
    const vd_model *model = input_model("skep");
    const char *path = input_file(bytes, count);
    vd_fault fault = {0};
    char words[512];
    vd_log *log = vd_log_open(path, model, count % 2 == 0 ? columns : NULL, count % 3 == 0 ? VD_NO_ZONE : 60, &fault);
    last = INT64_MIN;
    if (log != NULL) {
        vd_set set = input_set(model);
        size_t size = vd_watch_size(model, 0, 8);
        void *memory = g_malloc(size);
        vd_watch_storage watch;
        vd_set_put_initial(&set);
        vd_watch_start(vd_watch_in(&watch), &set, 0, 8, memory, size, listen, vd_watch_in(&watch), NULL);
        if (vd_log_measure(log, vd_watch_in(&watch), 0, NULL, NULL, &fault) == VD_OK) {
            vd_log_feed(log, vd_watch_in(&watch), NULL, NULL, NULL, &fault);
        }
        vd_watch_end(vd_watch_in(&watch));
        for (uint16_t i = 0; i < model->channel_count; i++) {
            PROMISE(input_is_plain(vd_log_count(log)->cells[i].odd_text), "%s", vd_log_count(log)->cells[i].odd_text);
        }
        PROMISE(input_is_plain(vd_log_count(log)->no_time_text), "%s", vd_log_count(log)->no_time_text);
        vd_log_free(log);
        g_free(memory);
        g_free(set.memory);
    }
    vd_fault_words(&fault, true, words, sizeof words);
    PROMISE(input_is_plain(words), "%s", words);
    return 0;
}
