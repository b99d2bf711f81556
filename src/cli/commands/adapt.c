/* SPDX-License-Identifier: MIT
 * A profile for other units: of another model, variant or firmware, of one group, or without what is one unit's own.
 * What does not fit is told item by item, and nothing is left out by itself. */
#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

#include <string.h>

typedef struct fitting {
    const vd_set *from;
    vd_set to;
    sheet rows;
    json_t *list;
    uint8_t *which; /* by setting of the one that it is made from: whether it belongs into it */
    unsigned taken, odd;
} fitting;

static const char *key_at(const void *about, size_t i)
{
    return ((const vd_model *)about)->settings[i].words->key;
}

static void note(fitting *f, uint16_t setting, const char *why)
{
    const vd_setting *about = &f->from->model->settings[setting];
    vd_value value = vd_set_get(f->from, setting);
    const char *text = about->secret ? "secret" : value_text(about, &value);
    sheet_row(&f->rows, about->words->key, text[0] != '\0' ? text : "-", why, NULL);
    json_array_append_new(f->list, json_pack("{s:s, s:s}", "key", about->words->key, "words", why));
    f->odd++;
}

/* By its key, else by what it is called in which group. VD_NONE: the other model has none. */
static uint16_t same_in(const vd_model *model, const vd_model *from, uint16_t setting)
{
    const vd_setting *about = &from->settings[setting];
    uint16_t same = vd_model_find(model, about->words->key);
    for (uint16_t i = 0; same == VD_NONE && i < model->setting_count; i++) {
        const vd_setting *other = &model->settings[i];
        bool alike = g_ascii_strcasecmp(other->words->label, about->words->label) == 0 &&
                     g_ascii_strcasecmp(model->groups[other->group].label, from->groups[about->group].label) == 0;
        same = alike ? i : same;
    }
    return same;
}

/* Puts one value over. What the other rules make of it is judged when all are there. */
static void take(fitting *f, uint16_t setting)
{
    const vd_model *model = f->to.model, *from = f->from->model;
    uint16_t same = model == from ? setting : same_in(model, from, setting);
    vd_value value = vd_set_get(f->from, setting);
    char printed[512], words[512];
    vd_writer writer = vd_writer_start(printed, sizeof printed);
    vd_typed typed;
    vd_fault fault = {0};
    if (same == VD_NONE) {
        char *near = vd_suggest(from->settings[setting].words->key, model->setting_count, key_at, model);
        bool any = g_str_has_prefix(near, "Do you");
        char *why = g_strdup_printf("A %s has no such setting.%s%s", model->key, any ? " " : "", any ? near : "");
        note(f, setting, why);
        g_free(why);
        g_free(near);
        return;
    }
    vd_value_print(&from->settings[setting], &value, &writer);
    if (vd_setting_parse(&model->settings[same], printed, strlen(printed), &typed, &fault) != VD_OK) {
        vd_fault_words(&fault, false, words, sizeof words);
        note(f, setting, words);
        return;
    }
    vd_set_put(&f->to, same, &typed.value);
    f->taken++;
}

/* What exists neither in this variant nor from this firmware on, or is out of its range there. */
static void judge(fitting *f)
{
    for (uint16_t i = 0; i < f->from->model->setting_count; i++) {
        uint16_t same = vd_set_knows(f->from, i) ? same_in(f->to.model, f->from->model, i) : (uint16_t)VD_NONE;
        vd_fault fault = {0};
        char words[512];
        if (same == VD_NONE || !vd_set_knows(&f->to, same)) {
            continue;
        }
        vd_status status = vd_set_check(&f->to, same, &fault);
        if (status != VD_OK && vd_status_class(status) == VD_CLASS_FILE && status != VD_RULE_BROKEN) {
            vd_fault_words(&fault, false, words, sizeof words);
            note(f, i, words);
            vd_set_forget(&f->to, same);
            f->taken--;
        }
    }
}

static char *compose(cli *c, const fitting *f, const vd_profile *from, const char *path)
{
    vd_identity kind = {.maker = ""};
    const vd_model *model = f->to.model;
    bool named = f->to.variant != VD_NONE || f->to.firmware != 0;
    const char *product = f->to.variant != VD_NONE ? model->variants[f->to.variant].product : model->identify.product;
    g_strlcpy(kind.maker, model->identify.maker, sizeof kind.maker);
    g_strlcpy(kind.product, product, sizeof kind.product);
    g_strlcpy(kind.firmware, c->options.firmware != NULL ? c->options.firmware : "", sizeof kind.firmware);
    return vd_profile_compose_like(from, f->which, &f->to, named ? &kind : NULL, path);
}

char *profile_adapted(cli *c, const vd_profile *profile, const char *path)
{
    static const char *const titles[] = {"setting", "value", "why it does not fit", NULL};
    const vd_model *model = c->options.model != NULL ? choose_model(c) : vd_profile_model(profile);
    fitting f = {.from = vd_profile_values(profile), .list = json_array()};
    uint8_t *which = NULL;
    char *text = NULL;
    void *memory = model != NULL ? g_malloc0(vd_set_size(model)) : NULL;
    bool fine = model != NULL && choose_group(c, vd_profile_model(profile), &which);
    if (fine) {
        vd_set_start(&f.to, model, memory, vd_set_size(model));
        if (model == vd_profile_model(profile)) {
            f.to.variant = f.from->variant;
            f.to.firmware = f.from->firmware;
        }
        fine = choose_kind(c, model, &f.to.variant, &f.to.firmware);
    }
    if (fine) {
        f.rows = sheet_start(c, stdout, titles);
        f.which = g_new0(uint8_t, f.from->model->setting_count);
        for (uint16_t i = 0; i < f.from->model->setting_count; i++) {
            bool own = c->options.for_all && vd_setting_is_own(&f.from->model->settings[i]);
            f.which[i] = !own && (which == NULL || which[i] != 0);
            if (vd_set_knows(f.from, i) && f.which[i] != 0) {
                take(&f, i);
            }
        }
        judge(&f);
        c->options.json ? sheet_drop(&f.rows) : sheet_print(&f.rows);
        json_object_set(c->result, "left-out-of-it", f.list);
        if (f.odd > 0 && !c->options.fitting) {
            message(c, "Nothing was saved: %u of %u settings do not fit. To leave them out: --fitting", f.odd,
                    f.odd + f.taken);
            c->worst = MAX(c->worst, VD_CLASS_NO);
        } else {
            text = compose(c, &f, profile, path);
            c->worst = MAX(c->worst, f.odd > 0 ? VD_CLASS_PARTLY : VD_CLASS_FINE);
        }
    }
    json_decref(f.list);
    g_free(f.which);
    g_free(which);
    if (memory != NULL) {
        vd_wipe(memory, vd_set_size(model));
    }
    g_free(memory);
    return text;
}
