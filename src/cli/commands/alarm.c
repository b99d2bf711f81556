/* SPDX-License-Identifier: MIT
 * verdite alarm: adds, changes or clears an alarm by what it means. */
#include "commands.h"
#include "../print/print.h"
#include "verdite/alarm_edit.h"

#include <string.h>

#define ROOM 4096u /* bytes of all words */

/* KEY=VALUE for all that differs; where anything does, also for what the alarm is compared with, if that was said. */
static char **words_of(const vd_set *before, const vd_set *after, uint16_t compared)
{
    GPtrArray *words = g_ptr_array_new_with_free_func(g_free);
    const vd_model *model = after->model;
    bool any = false;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        vd_comparison comparison = vd_set_compare(before, after, i);
        vd_value was = vd_set_get(before, i), value = vd_set_get(after, i);
        bool same_unit =
            g_strcmp0(was.measure, value.measure) == 0; /* 0 is 0, but not in the unit of another channel */
        bool same =
            comparison != VD_DIFFERENT && comparison != VD_ONLY_SECOND && (same_unit || value.type == VD_NOTHING);
        bool said = compared != VD_NONE && value.type != VD_NOTHING && vd_set_exists(after, i) != VD_FAILS &&
                    vd_alarm_compares_by(after, compared, i);
        any = any || !same;
        if (same && !said) {
            continue;
        }
        char text[VD_MOST_BYTES * 2];
        vd_writer writer = vd_writer_start(text, sizeof text);
        vd_meaning meaning;
        vd_set_meaning(after, i, &meaning);
        vd_value_print(meaning.of, &value, &writer);
        g_ptr_array_add(words, g_strdup_printf("%s=%s", model->settings[i].words->key, text));
    }
    g_ptr_array_set_size(words, any ? (gint)words->len : 0);
    g_ptr_array_add(words, NULL);
    return (char **)g_ptr_array_free(words, FALSE);
}

/* Does what the words say to a set, and whether they name a comparison; false: reported. */
static bool edit(cli *c, vd_set *set, vd_set *room, uint16_t *n, bool *compares)
{
    char **words = c->options.words + 1;
    bool add = strcmp(words[0], "add") == 0, clear = strcmp(words[0], "clear") == 0;
    vd_fault fault = {0};
    char *texts = g_malloc(ROOM);
    vd_wished_alarm wish = {0};
    bool fine = true;
    *n = VD_NONE;
    if (words[1] == NULL || (clear && words[2] != NULL)) {
        char *said = g_strdup_printf(
            words[1] == NULL ? "Something is missing after \"%s\"." : "After \"%s\" give only an alarm.", words[0]);
        report_wrong_words(c, said,
                           clear ? "For example: verdite alarm box.yaml clear 2"
                                 : "For example: verdite alarm box.yaml add speed above 90 km/h");
        g_free(said);
        fine = false;
    } else if (clear) {
        fine = alarm_named(c, set, words[1], n) && vd_alarm_clear(set, room, *n, &fault) == VD_OK;
    } else {
        fine = add || alarm_named(c, set, words[0], n);
        fine = fine && vd_alarm_wish((const char *const *)(words + 1), g_strv_length(words + 1), texts, ROOM, &wish,
                                     &fault) == VD_OK;
        fine = fine && (add ? vd_alarm_add(set, room, n, &wish, &fault)
                            : vd_alarm_apply(set, room, *n, &wish, &fault)) == VD_OK;
    }
    if (fault.status != VD_OK) {
        report(c, &fault);
        c->worst = VD_CLASS_USAGE; /* the words were wrong, whatever they name */
    }
    *compares = wish.test.given;
    g_free(texts);
    return fine;
}

vd_class command_alarm(cli *c)
{
    const vd_model *model = NULL;
    visit v = {0};
    side s = {.name = c->options.words[0]};
    if (side_open_to_edit(c, &s, &model, &v)) {
        uint16_t n = VD_NONE;
        void *memory[2] = {g_malloc0(vd_set_size(model)), g_malloc0(vd_set_size(model))};
        vd_set after = s.set, room = s.set;
        vd_set_start(&after, model, memory[0], vd_set_size(model));
        vd_set_start(&room, model, memory[1], vd_set_size(model));
        after.variant = s.set.variant;
        after.firmware = s.set.firmware;
        vd_set_copy(&after, &s.set);
        bool compares = false;
        if (edit(c, &after, &room, &n, &compares)) {
            char **words = words_of(&s.set, &after, compares ? n : (uint16_t)VD_NONE);
            char *key = alarm_key(model, n);
            json_object_set_new(c->result, "alarm", json_string(key));
            if (words[0] == NULL) {
                char *called = alarm_called(&after, n);
                message(c, "%s is so already. Nothing changed.", called);
                g_free(called);
            } else if (s.profile != NULL) {
                changes_save(c, s.name, words);
            } else {
                visit_free(&v);
                v = (visit){0};
                changes_write(c, model, words, &(visit_task){.called = "alarm"});
            }
            g_strfreev(words);
            g_free(key);
        } else if (s.profile != NULL) {
            message(c, "%s is unchanged.", s.name);
        }
        g_free(memory[0]);
        g_free(memory[1]);
    }
    side_free(&s);
    visit_free(&v);
    return c->worst;
}
