/* SPDX-License-Identifier: MIT
 * Taking an input apart. */
#include "input.h"

#include <sys/mman.h>
#include <glib/gstdio.h>
#include <unistd.h>

uint8_t input_byte(input *f)
{
    if (f->left == 0) {
        return 0;
    }
    f->left--;
    return *f->at++;
}

uint32_t input_number(input *f, uint32_t below)
{
    uint32_t number = input_byte(f);
    return (below > 256 ? number << 8 | input_byte(f) : number) % below;
}

int64_t input_long(input *f)
{
    uint64_t number = 0;
    for (uint32_t bytes = input_number(f, 9); bytes > 0; bytes--) {
        number = number << 8 | input_byte(f);
    }
    return (input_byte(f) & 1) != 0 ? (int64_t)(0 - number) : (int64_t)number;
}

size_t input_bytes(input *f, uint8_t *to, size_t most)
{
    size_t count = input_byte(f);
    count = count < most ? count : most;
    count = count < f->left ? count : f->left;
    memcpy(to, f->at, count);
    f->at += count;
    f->left -= count;
    return count;
}

const vd_model *input_model(const char *key)
{
    static vd_catalogue *catalogue;
    if (catalogue == NULL) {
        g_setenv("VERDITE_MODELS", FUZZ_SOURCE "/models", TRUE);
        catalogue = vd_catalogue_open();
    }
    vd_findings *findings = vd_findings_new("");
    const vd_model *model = vd_catalogue_model(catalogue, key, &findings);
    PROMISE(model != NULL, "no model %s", key);
    vd_findings_free(findings);
    return model;
}

const char *input_file(const uint8_t *bytes, size_t count)
{
    static int file = -1;
    static char path[64];
    if (file < 0) {
        file = memfd_create("input", MFD_CLOEXEC);
        snprintf(path, sizeof path, "/proc/self/fd/%d", file);
    }
    PROMISE(ftruncate(file, 0) == 0 && pwrite(file, bytes, count, 0) == (ssize_t)count, "the input is no file");
    return path;
}

vd_set input_set(const vd_model *model)
{
    vd_set set;
    size_t size = vd_set_size(model);
    vd_set_start(&set, model, g_malloc0(size), size);
    return set;
}

bool input_is_plain(const char *text)
{
    return vd_text_line(text, strlen(text)) == strlen(text);
}

void input_judge_findings(const vd_findings *findings)
{
    for (guint i = 0; i < findings->list->len; i++) {
        char words[512];
        vd_fault_words(&g_array_index(findings->list, vd_finding, i).fault, true, words, sizeof words);
        PROMISE(input_is_plain(words), "%s", words);
    }
}

static char *folder;

static void remove_folder(void)
{
    char *command = g_strdup_printf("rm -rf '%s'", folder);
    int status = system(command);
    (void)status;
    g_free(command);
}

const char *input_folder(void)
{
    if (folder == NULL) {
        folder = g_strdup_printf("/dev/shm/verdite-fuzz-%ld", (long)getpid());
        g_mkdir(folder, 0700);
        g_setenv("XDG_STATE_HOME", folder, TRUE);
        g_setenv("XDG_DATA_HOME", folder, TRUE);
        atexit(remove_folder);
    }
    return folder;
}
