/* SPDX-License-Identifier: MIT
 * What a shell may offer for the word that is being typed: made from the tables of commands and options, and from the
 * ports, models, benches and profiles that are there. Nothing is ever sent to a unit for it. */
#include "words.h"
#include "verdite/posix.h"

#include <string.h>

/* The word that is being typed, and what stands before it. */
typedef struct typing {
    cli *c;
    const cli_command *command;
    const char *start;  /* what has been typed of the word */
    const char *before; /* what of it stays, such as "--model=" */
    const char *bench, *model, *profile;
} typing;

static void offer(const typing *t, const char *word, const char *what)
{
    if (g_str_has_prefix(word, t->start)) {
        printf("%s%s\t%s\n", t->before, word, what);
    }
}

/* The model that the words so far are about, NULL: none, or not known yet. */
static const vd_model *model_of(const typing *t)
{
    vd_findings *findings = vd_findings_new("");
    const vd_model *model = t->model != NULL ? vd_catalogue_model(t->c->catalogue, t->model, &findings) : NULL;
    vd_profile *profile =
        model == NULL && t->profile != NULL ? vd_profile_load(t->profile, t->c->catalogue, findings) : NULL;
    model = profile != NULL ? vd_profile_model(profile) : model;
    vd_profile_free(profile);
    vd_findings_free(findings);
    return model;
}

static void offer_files(const typing *t)
{
    (void)t;
    printf("/\n");
}

static void offer_source(const typing *t)
{
    const vd_model *const *models = vd_catalogue_models(t->c->catalogue);
    for (size_t i = 0; models[i] != NULL; i++) {
        offer(t, models[i]->key, models[i]->title);
    }
    offer_files(t);
}

static void offer_side(const typing *t)
{
    offer(t, "unit", "what the unit holds live");
    offer(t, "factory", "the model's defaults");
    offer_files(t);
}

/* The world of the bench that was named, NULL: there is none, or another program works with it. */
static vd_bench_folder *bench_of(const typing *t)
{
    vd_findings *findings = vd_findings_new("");
    vd_bench_folder *bench = t->bench != NULL ? vd_bench_open(t->bench, t->c->catalogue, findings) : NULL;
    vd_findings_free(findings);
    return bench;
}

static void offer_ports(const typing *t)
{
    static vd_posix_found found[VD_LOOP_LANES];
    vd_bench_folder *bench = bench_of(t);
    const vd_bench *world = bench != NULL ? vd_bench_world(bench) : NULL;
    for (uint16_t i = 0; world != NULL && i < world->adapter_count; i++) {
        offer(t, world->adapters[i].name, world->adapters[i].label);
    }
    size_t count = t->bench == NULL ? MIN(vd_posix_list(found, VD_LOOP_LANES, false), VD_LOOP_LANES) : 0;
    for (size_t i = 0; i < count; i++) {
        offer(t, found[i].path, found[i].label);
    }
    vd_bench_free(bench);
}

static void offer_units(const typing *t)
{
    vd_bench_folder *bench = bench_of(t);
    const vd_bench *world = bench != NULL ? vd_bench_world(bench) : NULL;
    for (uint16_t i = 0; world != NULL && i < world->unit_count; i++) {
        offer(t, world->units[i].name, world->units[i].model->key);
    }
    vd_bench_free(bench);
}

static void offer_groups(const typing *t)
{
    const vd_model *model = model_of(t);
    for (uint8_t i = 0; model != NULL && i < model->group_count; i++) {
        offer(t, model->groups[i].key, model->groups[i].label);
    }
}

static void offer_variants(const typing *t)
{
    const vd_model *model = model_of(t);
    for (uint8_t i = 0; model != NULL && i < model->variant_count; i++) {
        offer(t, model->variants[i].key, model->variants[i].label);
    }
}

static void offer_settings(const typing *t)
{
    const vd_model *model = model_of(t);
    for (uint16_t i = 0; model != NULL && i < model->setting_count; i++) {
        offer(t, model->settings[i].words->key, model->settings[i].words->label);
    }
}

static void offer_actions(const typing *t)
{
    const vd_model *const *models = vd_catalogue_models(t->c->catalogue);
    const vd_model *model = model_of(t);
    for (size_t i = 0; models[i] != NULL; i++) {
        for (uint8_t k = 0; k < models[i]->action_count && (model == NULL || model == models[i]); k++) {
            offer(t, models[i]->actions[k].key, models[i]->actions[k].label);
        }
    }
}

/* Behind the sign =, the choices; before it, what can be written. A secret's key stands alone. */
static void offer_changes(const typing *t)
{
    const vd_model *model = model_of(t);
    for (uint8_t i = 0; model != NULL && i < model->preset_count; i++) {
        char *word = g_strconcat("preset:", model->presets[i].key, NULL);
        offer(t, word, model->presets[i].label);
        g_free(word);
    }
    for (uint16_t i = 0; model != NULL && i < model->setting_count; i++) {
        const vd_setting *setting = &model->settings[i];
        char *key = setting->secret ? g_strdup(setting->words->key) : g_strconcat(setting->words->key, "=", NULL);
        bool chosen = !setting->secret && g_str_has_prefix(t->start, key);
        for (uint16_t k = 0; chosen && k < setting->choice_count; k++) {
            char *word = g_strconcat(key, setting->choices[k].name, NULL);
            offer(t, word, setting->choices[k].label);
            g_free(word);
        }
        if (!chosen && setting->access != VD_READ_ONLY && setting->written_by != VD_MAKER) {
            offer(t, key, setting->words->label);
        }
        g_free(key);
    }
}

static void offer_requirements(const typing *t)
{
    const vd_model *const *models = vd_catalogue_models(t->c->catalogue);
    for (size_t i = 0; models[i] != NULL; i++) {
        for (uint8_t k = 0; k < models[i]->ability_count; k++) {
            offer(t, models[i]->abilities[k].key, models[i]->abilities[k].label);
        }
    }
}

static void offer_commands(const typing *t)
{
    for (size_t i = 0; i < t->c->program->command_count; i++) {
        offer(t, t->c->program->commands[i].name, t->c->program->commands[i].summary);
    }
}

/* What help knows a page about. */
static void offer_topics(const typing *t)
{
    offer_commands(t);
    for (size_t i = 0; t->c->program->tasks && task_name(i) != NULL; i++) {
        offer(t, task_name(i), "");
    }
}

static void offer_framings(const typing *t)
{
    static const char *const usual[] = {"8N1", "8E1", "8O1", "8N2", "7E1", "7O1"};
    for (size_t i = 0; i < G_N_ELEMENTS(usual); i++) {
        offer(t, usual[i], "");
    }
}

/* What can be offered for each kind; nothing for the others. */
static void (*const offers[])(const typing *t) = {
    [KIND_FRAMING] = offer_framings, [KIND_FILE] = offer_files,
    [KIND_PROFILE] = offer_files,    [KIND_SOURCE] = offer_source,
    [KIND_SIDE] = offer_side,        [KIND_FOLDER] = offer_files,
    [KIND_PORT] = offer_ports,       [KIND_MODEL] = offer_source,
    [KIND_GROUP] = offer_groups,     [KIND_VARIANT] = offer_variants,
    [KIND_SETTING] = offer_settings, [KIND_CHANGE] = offer_changes,
    [KIND_ACTION] = offer_actions,   [KIND_UNIT] = offer_units,
    [KIND_COMMAND] = offer_topics,   [KIND_REQUIREMENT] = offer_requirements,
};

static void offer_kind(const typing *t, cli_kind kind)
{
    if ((size_t)kind < G_N_ELEMENTS(offers) && offers[kind] != NULL) {
        offers[kind](t);
    }
}

static void offer_options(const typing *t)
{
    for (size_t i = 0; i < cli_option_count; i++) {
        if (cli_command_has(t->command, &cli_option_table[i])) {
            char *name = g_strdup_printf("--%s", cli_option_table[i].name);
            offer(t, name, cli_option_table[i].help);
            g_free(name);
        }
    }
}

/* Notes what a word that stands already says of bench, model and profile. */
static void learn(typing *t, cli_kind kind, const char *text)
{
    t->bench = kind == KIND_FOLDER ? text : t->bench;
    t->model = kind == KIND_MODEL ? text : t->model;
    t->profile = kind == KIND_PROFILE || (kind == KIND_SIDE && g_str_has_suffix(text, ".yaml")) ? text : t->profile;
}

static const cli_option *option_named(const typing *t, const char *word)
{
    size_t length = strcspn(word, "=");
    for (size_t i = 0; i < cli_option_count; i++) {
        const cli_option *option = &cli_option_table[i];
        bool named = g_str_has_prefix(word, "--")
                         ? strlen(option->name) == length - 2 && strncmp(word + 2, option->name, length - 2) == 0
                         : word[0] == '-' && word[1] == option->letter && word[1] != '\0' && word[2] == '\0';
        if (named && cli_command_has(t->command, option)) {
            return option;
        }
    }
    return NULL;
}

static void offer_word(typing *t, char **words)
{
    size_t at = 0;
    const cli_option *open = NULL;
    for (char **word = words; word[0] != NULL; word++) {
        const cli_option *option = open == NULL ? option_named(t, *word) : NULL;
        const char *equals = option != NULL ? strchr(*word, '=') : NULL;
        const cli_word *own = &t->command->words[MIN(at, CLI_MOST_WORDS - 1)];
        if (word[1] == NULL && (open != NULL || (option != NULL && equals != NULL))) {
            char *before = open != NULL ? g_strdup("") : g_strndup(*word, (gsize)(equals - *word) + 1);
            t->start = open != NULL ? *word : equals + 1;
            t->before = before;
            offer_kind(t, open != NULL ? open->kind : option->kind);
            g_free(before);
        } else if (word[1] == NULL && (*word)[0] == '-') {
            offer_options(t);
        } else if (word[1] == NULL && at < CLI_MOST_WORDS && own->name != NULL) {
            offer_kind(t, own->kind);
        } else if (open != NULL) {
            learn(t, open->kind, *word);
            open = NULL;
        } else if (option != NULL) {
            open = option->kind != KIND_FLAG && equals == NULL ? option : NULL;
            learn(t, option->kind, equals != NULL ? equals + 1 : "");
        } else if (at < CLI_MOST_WORDS && own->name != NULL) {
            learn(t, own->kind, *word);
            at += !own->many;
        }
    }
}

void offers_print(cli *c, char **words)
{
    size_t count = g_strv_length(words);
    typing t = {.c = c, .start = count > 0 ? words[count - 1] : "", .before = "", .bench = g_getenv("VERDITE_BENCH")};
    if (count <= 1) {
        offer_commands(&t);
        return;
    }
    for (size_t i = 0; i < c->program->command_count; i++) {
        if (strcmp(c->program->commands[i].name, words[0]) == 0) {
            t.command = &c->program->commands[i];
            offer_word(&t, words + 1);
        }
    }
}
