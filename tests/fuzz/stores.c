/* SPDX-License-Identifier: MIT
 * Stores: whatever a file holds, it is opened, set aside or refused, and what comes out of it can be shown. */
#include "input.h"

#include <glib/gstdio.h>

#include "verdite/history.h"

static char *path_here(const char *behind)
{
    return g_strdup_printf("%s/store.db%s", input_folder(), behind);
}

static void clear_away(void)
{
    static const char *const parts[] = {"", "-wal", "-shm", ".damaged", ".damaged-wal", ".damaged-shm"};
    for (size_t i = 0; i < G_N_ELEMENTS(parts); i++) {
        char *path = path_here(parts[i]);
        g_unlink(path);
        g_free(path);
    }
}

static void look_around(vd_store_file *store)
{
    static vd_past past[20];
    const vd_past_query query = {.id = 0}, open = {.open = true};
    vd_set before = input_set(input_model("dowel"));
    vd_served served;
    size_t count = vd_history_find(store, &query, past, G_N_ELEMENTS(past));
    for (size_t i = 0; i < count; i++) {
        PROMISE(input_is_plain(past[i].port) && input_is_plain(past[i].remark) && input_is_plain(past[i].unit.serial),
                "a text that cannot be shown");
        vd_history_values(store, past[i].id, &before, NULL, NULL, NULL);
    }
    vd_history_find(store, &open, past, G_N_ELEMENTS(past));
    if (vd_served_recall(store, NULL, NULL, &served)) {
        PROMISE(input_is_plain(served.port) && input_is_plain(served.adapter), "a port that cannot be shown");
    }
    g_free(before.memory);
}

int LLVMFuzzerTestOneInput(const uint8_t *bytes, size_t count)
{
    char *path = path_here(""), *aside = NULL, words[512];
    vd_fault fault = {0};
    clear_away();
    PROMISE(g_file_set_contents(path, (const char *)bytes, (gssize)count, NULL), "no room");
    vd_store_file *store = vd_store_open(path, &aside, &fault);
    if (store == NULL) {
        PROMISE(fault.status != VD_OK, "refused without a word");
        vd_fault_words(&fault, true, words, sizeof words);
        PROMISE(input_is_plain(words), "%s", words);
    } else {
        look_around(store);
        vd_store_close(store);
    }
    g_free(aside);
    g_free(path);
    return 0;
}
