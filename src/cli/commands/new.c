/* SPDX-License-Identifier: MIT
 * verdite new, verdite unset: a profile from factory defaults, a visit or another one; and a setting taken out of one.
 */
#include <string.h>

#include "commands.h"
#include "../print/print.h"
#include "../words/words.h"

/* The text of a profile of factory defaults. */
static char *text_of_defaults(cli *c, const vd_model *model)
{
    size_t size = vd_set_size(model);
    void *memory = g_malloc0(size);
    vd_set set;
    vd_set_start(&set, model, memory, size);
    if (!choose_kind(c, model, &set.variant, &set.firmware)) {
        g_free(memory);
        return NULL;
    }
    vd_set_put_initial(&set);
    vd_identity kind = {.maker = ""}; /* what is to be known of the unit that it is for */
    bool named = set.variant != VD_NONE || set.firmware != 0;
    const char *product = set.variant != VD_NONE ? model->variants[set.variant].product : model->identify.product;
    g_strlcpy(kind.maker, model->identify.maker, sizeof kind.maker);
    g_strlcpy(kind.product, product, sizeof kind.product);
    g_strlcpy(kind.firmware, set.firmware != 0 ? c->options.firmware : "", sizeof kind.firmware);
    char *text = vd_profile_compose(model, &set, named ? &kind : NULL, NULL);
    g_free(memory);
    return text;
}

static char *text_of(cli *c, const char *path, const char *from, bool *is_secret)
{
    if (g_strv_contains(vd_catalogue_keys(c->catalogue), from)) {
        const vd_model *model = choose_model_named(c, from);
        return model != NULL ? text_of_defaults(c, model) : NULL;
    }
    vd_profile *profile = choose_profile(c, from);
    const cli_options *o = &c->options;
    bool other = o->model != NULL || o->variant != NULL || o->firmware != NULL || o->group != NULL || o->for_all;
    char *text = profile == NULL ? NULL
                 : other         ? profile_adapted(c, profile, path)
                                 : vd_profile_text_for(profile, path);
    *is_secret = profile != NULL && holds_secret(profile);
    vd_profile_free(profile);
    return text;
}

vd_class command_new(cli *c)
{
    const char *path = c->options.words[0], *from = c->options.words[1];
    bool is_secret = false;
    vd_fault fault = {0};
    char *text = text_of(c, path, from, &is_secret);
    if (text != NULL && vd_file_create(path, &(vd_file_text){text, strlen(text), is_secret}, &fault) != VD_OK) {
        report(c, &fault);
    } else if (text != NULL) {
        message(c, "Saved as %s. Nothing was sent to a unit.", path);
        json_object_set_new(c->result, "saved", json_string(path));
    }
    if (text != NULL) {
        vd_wipe(text, strlen(text));
    }
    g_free(text);
    return c->worst;
}

/* Takes the keys out and saves the file where it is as it was read. */
static vd_status take_out(const vd_profile *before, vd_profile *profile, char **words, vd_fault *fault)
{
    vd_status status = VD_OK;
    for (char **key = words + 1; status == VD_OK && *key != NULL; key++) {
        uint16_t setting = meant_setting(vd_profile_model(profile), *key);
        const char *meant = setting != VD_NONE ? vd_profile_model(profile)->settings[setting].words->key : *key;
        status = vd_profile_take_out(profile, meant, fault);
    }
    if (status != VD_OK) {
        return status;
    }
    size_t was_length = 0, length = 0;
    const char *was = vd_profile_text(before, &was_length), *text = vd_profile_text(profile, &length);
    return vd_file_change(words[0], &(vd_file_text){was, was_length, false},
                          &(vd_file_text){text, length, holds_secret(before)}, fault);
}

vd_class command_unset(cli *c)
{
    char **words = c->options.words;
    vd_profile *before = choose_profile(c, words[0]);
    vd_fault fault = {0};
    if (before == NULL) {
        return c->worst;
    }
    vd_profile *profile = vd_profile_copy(before);
    if (take_out(before, profile, words, &fault) == VD_OK) {
        message(c, "Saved in %s. Nothing was sent to a unit.", words[0]);
    } else {
        report(c, &fault);
        c->worst = MAX(c->worst, VD_CLASS_USAGE);
        message(c, "%s is unchanged.", words[0]);
    }
    vd_profile_free(before);
    vd_profile_free(profile);
    return c->worst;
}
