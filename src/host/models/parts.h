/* SPDX-License-Identifier: MIT
 * What the files that load a model share. */
#ifndef VD_HOST_MODEL_PARTS_H
#define VD_HOST_MODEL_PARTS_H

#include "model_keys.h"
#include "../files/yaml_file.h"

#define MODEL_MOST_SETTINGS (VD_NONE - 1u)

/* Where a setting stands in the file. */
typedef struct model_source {
    const yaml_node_t *map;  /* NULL: it is wrong, which has been said, and only there so that others may name it */
    const yaml_node_t *item; /* what its item has otherwise than the others of its block, or NULL */
} model_source;

struct vd_model_file {
    vd_model model;
    yaml_file yaml;        /* while it is loaded */
    GPtrArray *memory;     /* every array of the model */
    GStringChunk *texts;   /* every text of the model, each once */
    GArray *settings;      /* of vd_setting, while they are collected */
    GArray *blocks;        /* of vd_block, likewise */
    GPtrArray *broken;     /* keys of blocks whose head is wrong, while the file is loaded */
    GArray *sources;       /* of model_source, for each setting, while the file is loaded */
    GArray *rules;         /* of vd_rule, while they are collected */
    GPtrArray *rule_nodes; /* where each stands, while the file is loaded */
    GHashTable *keys;      /* index of each setting by key, while the file is loaded */
    GHashTable *channels;  /* each vd_channel by its key, likewise */
    GArray *formulas;      /* of vd_formula, vd_test, vd_condition, vd_alarm, while they are collected */
    GArray *tests, *conditions, *alarms;
    GPtrArray *formula_nodes, *condition_nodes; /* where each stands, while the file is loaded */
    GPtrArray *interval_nodes;                  /* likewise of each item */
    GArray *day_numbers;                        /* what of days is worked out behind preparing, likewise */
    GHashTable *choice_lists;                   /* named lists of choices, likewise */
};

/* A list of choices, shared by all settings that name it. */
typedef struct choice_list {
    const vd_choice *choices;
    uint16_t count;
} choice_list;

/* Adds a setting to those of the model. */
/* The words of a setting that is being loaded. */
vd_setting_words *model_words(const vd_setting *setting);
/* Its motion, made when it is asked for first. */
vd_motion *model_motion(vd_model_file *file, vd_setting *setting);
void model_add_setting(vd_model_file *file, const vd_setting *setting, const model_source *source);
/* Zeroed memory and texts that live as long as the model. */
void *model_memory(vd_model_file *file, gsize size);
const char *model_text(vd_model_file *file, const char *text);
bool model_take_key(vd_model_file *file, const yaml_node_t *map, const char *key, const char **out);
bool model_take_text(vd_model_file *file, const yaml_node_t *map, const char *key, bool needed, const char **out);
/* Index of a setting that the file names, or VD_NONE with a finding at `node`. Likewise for a name in a block:
 * "this.key" and "outer.key" are of its item with this number, from 0; VD_NONE: in no block. */
uint16_t model_find_in_item(vd_model_file *file, const yaml_node_t *node, const char *key, uint16_t block,
                            uint16_t item);
uint16_t model_find_named(vd_model_file *file, const yaml_node_t *node, const char *key);
/* Reads a list of the file, entry by entry, into an array of `size` bytes each, which lives as long as the model. */
void *model_take_items(vd_model_file *file, const yaml_node_t *root, const char *key, const char *const *keys,
                       gsize size, uint8_t *count, bool *fine,
                       bool (*take)(vd_model_file *file, const yaml_node_t *map, void *item));
/* Refuses a key that stands twice in such an array; `keys` is where that of its first entry stands. */
bool model_refuse_twice(vd_model_file *file, const yaml_node_t *root, const char *list, const char *const *keys,
                        gsize size, gsize count);
/* Adds the settings that a name stands for to a list of uint16_t: one, or those of a block or of an item of one. */
bool model_add_named(vd_model_file *file, const yaml_node_t *node, const char *name, GArray *found);
/* Indexes of the settings that a list member names; a block, or an item of one, stands for all of its settings. */
bool model_take_settings_named(vd_model_file *file, const yaml_node_t *map, const char *key, const uint16_t **out,
                               uint16_t *count);
/* What is probably meant by a name that is none, as words. */
char *model_suggest(vd_model_file *file, const char *key);

/* place.c: where a value lives on the wire, e.g. {register: 22, words: 2}. `place` holds the form and words that
 * its type has.
 */
bool model_take_place(vd_model_file *file, const yaml_node_t *map, vd_place *place);
/* Where a value lives in a unit that talks in lines, e.g. {word: ALRM, field: 2}. */
bool model_take_field(vd_model_file *file, const yaml_node_t *map, vd_field *field);
/* A word that a unit is told, and what follows it, under the keys word and argument; `needed`: the word must be there.
 */
bool model_take_order(vd_model_file *file, const yaml_node_t *map, vd_order *order);
/* measures.c: units of measure of the model's own; how one of them is typed too, NULL: in no other way; what one
 * count of a decimal is. */
bool model_take_measures(vd_model_file *file, const yaml_node_t *root);
const char *model_spellings(const vd_model_file *file, const char *sign);
bool model_take_scale(vd_model_file *file, const yaml_node_t *map, vd_setting *setting);
/* takes.c: what a setting of a type takes; whether no key stands there that belongs to other types; a value as
 * typed, and [lowest, highest], as counts; registers that values of its type usually take. */
bool model_take_limits(vd_model_file *file, const yaml_node_t *map, vd_setting *setting);
bool model_check_belonging(vd_model_file *file, const yaml_node_t *map, const vd_setting *setting);
bool model_take_count(vd_model_file *file, const yaml_node_t *node, const vd_setting *setting, int64_t *count);
bool model_take_ends(vd_model_file *file, const yaml_node_t *node, const vd_setting *about, int64_t *low,
                     int64_t *high);
/* By what name a place in each table of registers goes, in the order of vd_table; NULL behind the last. */
extern const char *const model_tables[];
uint8_t model_usual_words(const vd_setting *setting);
/* channels.c: what a unit may watch. alarms.c: what it watches for. */
bool model_take_channels(vd_model_file *file, const yaml_node_t *root);
bool model_take_alarms(vd_model_file *file, const yaml_node_t *root);
/* All formulas that were collected become the model's. */
void model_settle_formulas(vd_model_file *file);
/* intervals.c: when it measures, reports and listens; then all formulas are there. days.c: the usual days, worked out
 * once the model is prepared. */
bool model_take_intervals(vd_model_file *file, const yaml_node_t *root);
GArray *model_day_numbers(void);
bool model_settle_days(vd_model_file *file);
/* An expression under a key, VD_NONE where it is not there. */
bool model_take_formula(vd_model_file *file, const yaml_node_t *map, const char *key, uint16_t block, vd_gives gives,
                        vd_ref *formula);
/* presets.c: values of several settings under one name. */
bool model_take_presets(vd_model_file *file, const yaml_node_t *root);
/* causes.c: what a setting, or an action, causes. */
bool model_take_causes(vd_model_file *file, const yaml_node_t *map, vd_causes *causes);
/* slots.c: copies of settings, one of which is in force. */
bool model_take_slots(vd_model_file *file, const yaml_node_t *root);
/* choices.c: a list of choices; the named lists of the whole model. */
bool model_take_choices(vd_model_file *file, const yaml_node_t *list, choice_list *out);
bool model_take_choice_lists(vd_model_file *file, const yaml_node_t *root);

/* setting.c: one setting in three passes: itself; the setting that decides its decimals; its factory default.
 * `of_block`: the group that the members of its block have where they say nothing, NULL: as the key says. */
bool model_take_setting(vd_model_file *file, const yaml_node_t *map, const char *of_block, vd_setting *setting);
/* By which other settings a reading is shifted. */
bool model_take_shifts(vd_model_file *file, const yaml_node_t *map, vd_setting *setting);
bool model_take_dependence(vd_model_file *file, const yaml_node_t *map, vd_setting *setting);
bool model_take_sets(vd_model_file *file, const yaml_node_t *map, vd_setting *setting);
bool model_take_default(vd_model_file *file, const yaml_node_t *map, vd_setting *setting);
/* editions.c: what it has otherwise in some units. */
bool model_take_editions(vd_model_file *file, const yaml_node_t *map, vd_setting *setting);

/* list.c: all settings; block.c: those of a block. */
bool model_take_block(vd_model_file *file, const yaml_node_t *map);
bool model_take_settings(vd_model_file *file, const yaml_node_t *root);
/* talk.c: line, identification, storing, times and what else the talk needs. */
bool model_take_talk(vd_model_file *file, const yaml_node_t *root);
/* about.c: what people are to know of the unit. */
bool model_take_about(vd_model_file *file, const yaml_node_t *root);
/* rules.c; complaints.c: preparing the model, and where what is wrong stands. */
bool model_take_rules(vd_model_file *file, const yaml_node_t *root);
bool model_prepare(vd_model_file *file);

#endif
