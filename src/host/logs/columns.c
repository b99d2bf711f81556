/* SPDX-License-Identifier: MIT
 * Which column of a log is for which channel: by key, by label, or as it was said. */
#include "parts.h"

#include <string.h>

static const char *column_at(const void *about, size_t i)
{
    return g_array_index(((const vd_log *)about)->columns, record_column, i).name;
}

static const char *channel_at(const void *about, size_t i)
{
    return ((const vd_model *)about)->channels[i].key;
}

/* "Brood (°C)", "Brood [°C]": the length of the name, and what stands in the brackets. */
static size_t cut_unit(const char *name, char **unit)
{
    size_t length = strlen(name);
    const char *open = length > 2 && name[length - 1] == ')' ? strrchr(name, '(') : NULL;
    open = open == NULL && length > 2 && name[length - 1] == ']' ? strrchr(name, '[') : open;
    *unit = open != NULL ? g_strndup(open + 1, length - (size_t)(open - name) - 2) : NULL;
    length = open != NULL ? (size_t)(open - name) : length;
    while (length > 0 && name[length - 1] == ' ') {
        length--;
    }
    return length;
}

static bool is_same(const char *word, const char *name, size_t length)
{
    return strlen(word) == length && g_ascii_strncasecmp(word, name, length) == 0;
}

static bool is_time(const char *name, size_t length)
{
    return is_same("time", name, length) || is_same("timestamp", name, length) || is_same("date", name, length);
}

/* Whether a column's unit is that of its channel. */
static bool check_unit(const vd_log *log, const record_column *column, const char *unit, vd_fault *fault)
{
    uint16_t reads = vd_index(log->model->channels[column->channel].reads);
    const vd_setting *about = reads != VD_NONE ? &log->model->settings[reads] : NULL;
    vd_typed typed;
    char *text = g_strdup_printf("0 %s", unit);
    bool fine = about != NULL && about->measure[0] != '\0' &&
                vd_setting_parse(about, text, strlen(text), &typed, NULL) == VD_OK;
    if (!fine) {
        char *said = g_strdup_printf("column \"%s\" has another unit than %s", column->name,
                                     log->model->channels[column->channel].label);
        char *allowed = g_strdup_printf("It needs %s. Nothing is converted.",
                                        about != NULL && about->measure[0] != '\0' ? about->measure : "none");
        vd_note_LOG_WRONG(fault, said, allowed);
        g_free(said);
        g_free(allowed);
    }
    g_free(text);
    return fine;
}

/* Which channel a column is for by its own name. */
static bool guess(const vd_log *log, record_column *column, vd_fault *fault)
{
    char *unit = NULL;
    size_t length = cut_unit(column->name, &unit);
    for (uint16_t i = 0; i < log->model->channel_count && column->channel == VD_NONE; i++) {
        const vd_channel *one = &log->model->channels[i];
        column->channel =
            is_same(one->key, column->name, length) || is_same(one->label, column->name, length) ? i : column->channel;
    }
    bool fine = unit == NULL || column->channel == VD_NONE || check_unit(log, column, unit, fault);
    g_free(unit);
    return fine;
}

/* The only channel with this label; VD_NONE: none has it, or several do. */
static uint16_t channel_labelled(const vd_model *model, const char *label)
{
    uint16_t found = VD_NONE, count = 0;
    for (uint16_t i = 0; i < model->channel_count; i++) {
        if (is_same(model->channels[i].label, label, strlen(label))) {
            found = i;
            count++;
        }
    }
    return count == 1 ? found : (uint16_t)VD_NONE;
}

/* CHANNEL=COLUMN, or time=COLUMN; the column by its name, or by its number from 1. */
static bool take_said(vd_log *log, const char *said, vd_fault *fault)
{
    const char *equals = strchr(said, '=');
    char *key = g_strndup(said, equals != NULL ? (size_t)(equals - said) : strlen(said));
    const char *name = equals != NULL ? equals + 1 : "";
    bool time = strcmp(key, "time") == 0;
    uint16_t channel = time ? VD_TIME_COLUMN : vd_model_channel(log->model, key, strlen(key));
    record_column *found = NULL;
    guint64 number = 0;
    channel = channel != VD_NONE ? channel : channel_labelled(log->model, key);
    if (channel == VD_NONE) {
        char *near = vd_suggest(key, log->model->channel_count, channel_at, log->model);
        vd_note_NO_SUCH_CHANNEL(fault, key, near);
        g_free(near);
        g_free(key);
        return false;
    }
    for (guint i = 0; i < log->columns->len && found == NULL; i++) {
        record_column *one = &g_array_index(log->columns, record_column, i);
        found = strcmp(one->name, name) == 0 ? one : NULL;
    }
    if (found == NULL && g_ascii_string_to_unsigned(name, 10, 1, log->columns->len, &number, NULL)) {
        found = &g_array_index(log->columns, record_column, number - 1);
    }
    if (found == NULL) {
        char *near = vd_suggest(name, log->columns->len, column_at, log);
        vd_note_NO_SUCH_COLUMN(fault, name, near);
        g_free(near);
    } else {
        found->channel = channel;
    }
    g_free(key);
    return found != NULL;
}

static bool is_taken(const vd_log *log, uint16_t channel, guint before)
{
    bool taken = false;
    for (guint i = 0; i < before; i++) {
        taken = taken || g_array_index(log->columns, record_column, i).channel == channel;
    }
    return taken;
}

bool record_map(vd_log *log, char *const *said, vd_fault *fault)
{
    bool fine = true, time = false, any = false;
    for (; said != NULL && *said != NULL && fine; said++) {
        fine = take_said(log, *said, fault);
    }
    time = is_taken(log, VD_TIME_COLUMN, log->columns->len);
    for (guint i = 0; i < log->columns->len && fine; i++) {
        record_column *one = &g_array_index(log->columns, record_column, i);
        if (one->channel != VD_NONE) {
            continue;
        }
        if (!time && is_time(one->name, strlen(one->name))) {
            one->channel = VD_TIME_COLUMN;
            time = true;
            continue;
        }
        fine = guess(log, one, fault);
        if (one->channel != VD_NONE && is_taken(log, one->channel, i)) { /* the first is the one, and what was said */
            one->channel = VD_NONE;
        }
    }
    for (guint i = 0; i < log->columns->len; i++) {
        any = any || g_array_index(log->columns, record_column, i).channel < VD_TIME_COLUMN;
    }
    if (fine && (!time || !any)) {
        GString *names = g_string_new("Its columns are: ");
        for (guint i = 0; i < log->columns->len; i++) {
            g_string_append_printf(names, "%s%s", i > 0 ? ", " : "", column_at(log, i));
        }
        g_string_append(names, time ? ". Say which is which: CHANNEL=COLUMN." : ". Say which it is: time=COLUMN.");
        vd_note_LOG_WRONG(fault, time ? "no column has the name of a channel" : "no column is named time", names->str);
        g_string_free(names, TRUE);
        fine = false;
    }
    return fine;
}
