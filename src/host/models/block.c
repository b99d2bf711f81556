/* SPDX-License-Identifier: MIT
 * Loading blocks: settings that are written once and become as many as the block says, item behind item; a block may
 * stand in a block. What single items have otherwise than the others stands under `items`.
 */
#include "parts.h"

#include <string.h>

#define MOST_ITEMS 1000

/* One member of a block as the file has it: a setting, or a block again. */
typedef struct member {
    vd_setting setting;
    const yaml_node_t *map; /* NULL: it is wrong, and only there so that others may name it */
    struct written *block;  /* NULL: it is a setting */
    bool numbered;          /* the number of its item stands in one of its texts */
} member;

/* A block as the file has it. */
typedef struct written {
    vd_block head;
    int64_t stride;
    const char *group;
    GArray *members;          /* of member */
    const yaml_node_t *items; /* list of what single items have otherwise, or NULL */
    uint32_t size;            /* settings in one item, those of inner blocks among them */
    bool broken;              /* its head is wrong: its settings are nowhere, and only there to be named */
    uint32_t reach;           /* registers from the first place of an item to where those of inner blocks end */
} written;

static void free_written(written *block)
{
    for (guint i = 0; i < block->members->len; i++) {
        member *one = &g_array_index(block->members, member, i);
        if (one->block != NULL) {
            free_written(one->block);
        }
    }
    g_array_free(block->members, TRUE);
    g_free(block);
}

/* ---- The numbers of items in texts ---- */

static bool has_number(const char *text)
{
    return strchr(text, '{') != NULL;
}

/* A text with "{item}" and "{outer}" replaced; whether there was any "{item}". */
static const char *numbered(vd_model_file *file, const char *text, unsigned item, unsigned outer, bool *any)
{
    *any = strstr(text, "{item}") != NULL;
    if (!*any && strstr(text, "{outer}") == NULL) {
        return text;
    }
    GString *all = g_string_new(text);
    char number[12];
    g_snprintf(number, sizeof number, "%u", item);
    g_string_replace(all, "{item}", number, 0);
    if (outer > 0) {
        g_snprintf(number, sizeof number, "%u", outer);
        g_string_replace(all, "{outer}", number, 0);
    }
    text = model_text(file, all->str);
    g_string_free(all, TRUE);
    return text;
}

/* The label of an item: the number is put behind where the block's does not say where it belongs. */
static char *item_label(vd_model_file *file, const written *block, unsigned item, unsigned outer)
{
    bool said = false;
    const char *label = numbered(file, block->head.label, item, outer, &said);
    return said ? g_strdup(label) : g_strdup_printf("%s %u", label, item);
}

/* ---- Written out ---- */

/* Where an item stands: what its keys and labels begin with, and how far its places lie from the first one's. */
typedef struct spot {
    const char *key, *label;
    uint16_t block, item, outer; /* item and outer: numbers, from 1; outer 0: none */
    int64_t away;
} spot;

/* Two texts and what stands between them, kept with the model; each is there once, so none is looked for. */
static const char *joined(vd_model_file *file, const char *first, const char *between, const char *second)
{
    size_t sizes[] = {strlen(first), strlen(between), strlen(second)};
    char *all = g_malloc(sizes[0] + sizes[1] + sizes[2]);
    memcpy(all, first, sizes[0]);
    memcpy(all + sizes[0], between, sizes[1]);
    memcpy(all + sizes[0] + sizes[1], second, sizes[2]);
    const char *kept = g_string_chunk_insert_len(file->texts, all, (gssize)(sizes[0] + sizes[1] + sizes[2]));
    g_free(all);
    return kept;
}

static vd_setting in_item(vd_model_file *file, const member *one, const spot *at)
{
    vd_setting setting = one->setting;
    vd_setting_words *words = model_memory(file, sizeof *words);
    bool said = false;
    *words = *setting.words;
    setting.words = words;
    if (setting.motion != NULL) { /* what shifts it is the item's own */
        vd_motion *motion = model_memory(file, sizeof *motion);
        *motion = *setting.motion;
        setting.motion = motion;
    }
    if (one->numbered) {
        words->label = numbered(file, words->label, at->item, at->outer, &said);
        words->help = numbered(file, words->help, at->item, at->outer, &said);
        words->because = numbered(file, words->because, at->item, at->outer, &said);
        setting.field.word = numbered(file, setting.field.word, at->item, at->outer, &said);
    }
    words->key = joined(file, at->key, ".", words->key);
    words->label = joined(file, at->label, ": ", words->label);
    setting.block = vd_ref_to(at->block);
    setting.item = (uint16_t)(at->item - 1u);
    setting.place.address = (uint16_t)(setting.place.address + at->away);
    setting.field.item = said ? 0 : at->item;
    return setting;
}

/* How many of the numbers in a value, one or a list of them, are this item's (0: of any item, up to `most`). */
static gsize count_items(vd_model_file *file, const yaml_node_t *node, unsigned item, unsigned most)
{
    bool list = node != NULL && node->type == YAML_SEQUENCE_NODE;
    gsize count = list ? (gsize)(node->data.sequence.items.top - node->data.sequence.items.start) : node != NULL;
    gsize found = 0;
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *one = list ? yaml_node(&file->yaml, node->data.sequence.items.start[i]) : node;
        guint64 number = 0;
        bool good = one->type == YAML_SCALAR_NODE &&
                    g_ascii_string_to_unsigned((const char *)one->data.scalar.value, 10, 1, most, &number, NULL);
        found += good && (item == 0 || number == item);
    }
    return found;
}

static bool are_items(vd_model_file *file, const yaml_node_t *node, unsigned most)
{
    bool list = node != NULL && node->type == YAML_SEQUENCE_NODE;
    gsize count = list ? (gsize)(node->data.sequence.items.top - node->data.sequence.items.start) : 1;
    return count > 0 && count_items(file, node, 0, most) == count;
}

/* What an item has otherwise than the others; the entry goes into `source`, for the default that is read later. */
static bool take_otherwise(vd_model_file *file, const written *block, const char *key, const spot *at,
                           vd_setting *setting, model_source *source)
{
    gsize count = 0;
    const yaml_node_item_t *entries = NULL;
    bool fine = true, said = false;
    if (block->items != NULL) {
        entries = block->items->data.sequence.items.start;
        count = (gsize)(block->items->data.sequence.items.top - entries);
    }
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *entry = yaml_node(&file->yaml, entries[i]), *range = NULL;
        const yaml_node_t *named = yaml_member(&file->yaml, entry, "key");
        if (named == NULL || named->type != YAML_SCALAR_NODE ||
            strcmp((const char *)named->data.scalar.value, key) != 0 ||
            count_items(file, yaml_member(&file->yaml, entry, "item"), at->item, MOST_ITEMS) == 0) {
            continue;
        }
        const char *label = "", *help = setting->words->help;
        fine = model_take_text(file, entry, "label", false, &label) && fine;
        fine = yaml_take_text(&file->yaml, entry, "help", false, &help) && fine;
        vd_setting_words *words = model_words(setting);
        words->label = label[0] != '\0' ? numbered(file, label, at->item, at->outer, &said) : words->label;
        words->help = model_text(file, numbered(file, help, at->item, at->outer, &said));
        range = yaml_member(&file->yaml, entry, "range");
        fine = (range == NULL || model_take_ends(file, range, setting, &setting->min, &setting->max)) && fine;
        source->item = yaml_member(&file->yaml, entry, "default") != NULL ? entry : source->item;
    }
    return fine;
}

static bool write_out(vd_model_file *file, const written *block, const spot *from, uint16_t outer, bool nowhere)
{
    vd_block head = block->head;
    nowhere = nowhere || block->broken;
    bool fine = true;
    head.key = from != NULL ? model_text(file, from->key) : head.key;
    head.first = (uint16_t)file->settings->len;
    head.members = (uint16_t)block->size;
    head.outer = vd_ref_to(outer);
    head.outer_item = from != NULL ? (uint16_t)(from->outer - 1u) : 0;
    uint16_t index = (uint16_t)file->blocks->len;
    g_array_append_val(file->blocks, head);
    for (uint16_t item = 1; item <= head.count; item++) {
        char *key = g_strdup_printf("%s.%u", head.key, item);
        char *own = item_label(file, block, item, from != NULL ? from->outer : 0);
        char *label = from != NULL ? g_strdup_printf("%s: %s", from->label, own) : g_strdup(own);
        spot at = {key,
                   label,
                   index,
                   item,
                   from != NULL ? from->outer : 0,
                   (from != NULL ? from->away : 0) + (item - 1) * block->stride};
        for (guint m = 0; m < block->members->len; m++) {
            const member *one = &g_array_index(block->members, member, m);
            if (one->block != NULL) {
                char *inner = g_strdup_printf("%s.%s", key, one->block->head.key);
                spot inside = {inner, label, index, 0, item, at.away};
                fine = write_out(file, one->block, &inside, index, nowhere) && fine;
                g_free(inner);
                continue;
            }
            vd_setting setting = in_item(file, one, &at);
            model_source source = {.map = one->map};
            bool good =
                one->map != NULL && take_otherwise(file, block, one->setting.words->key, &at, &setting, &source);
            source.map = good && !nowhere ? one->map : NULL;
            model_add_setting(file, &setting, &source);
            fine = good && fine;
        }
        g_free(key);
        g_free(own);
        g_free(label);
    }
    return fine;
}

/* ---- As the file has it ---- */

static written *take_written(vd_model_file *file, const yaml_node_t *map, const char *group, unsigned depth,
                             bool *fine);

/* The head of a block: its key, label, how often, and how far apart. */
static bool take_head(vd_model_file *file, const yaml_node_t *map, written *block)
{
    int64_t repeat = 0;
    bool fine = yaml_check_keys(&file->yaml, map, keys_block);
    fine = model_take_key(file, map, "block", &block->head.key) && fine;
    fine = model_take_text(file, map, "label", true, &block->head.label) && fine;
    fine = yaml_take_integer(&file->yaml, map, "repeat", true, 1, MOST_ITEMS, &repeat) && fine;
    bool registers = !file->model.language->has_words;
    fine = yaml_take_integer(&file->yaml, map, "stride", registers, 1, 0xFFFF, &block->stride) && fine;
    block->head.count = (uint16_t)MAX(repeat, 1);
    block->broken = !fine;
    return fine;
}

static bool take_members(vd_model_file *file, const yaml_node_t *map, written *block, unsigned depth)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&file->yaml, map, "settings", 1000, &count, &items);
    if (!fine || count == 0) {
        return fine && yaml_note_missing(&file->yaml, map, "settings", "the settings that are repeated");
    }
    for (gsize m = 0; m < count; m++) {
        const yaml_node_t *node = yaml_node(&file->yaml, items[m]);
        member one = {.map = node};
        bool good = true;
        uint32_t words = 0;
        if (yaml_member(&file->yaml, node, "block") != NULL) {
            one.block = take_written(file, node, block->group, depth + 1, &good);
            block->size += one.block->size * one.block->head.count;
            words = one.block->reach + (uint32_t)one.block->stride * (one.block->head.count - 1u);
        } else {
            good = model_take_setting(file, node, block->group, &one.setting);
            one.map = good ? node : NULL;
            one.numbered = has_number(one.setting.words->label) || has_number(one.setting.words->help) ||
                           has_number(one.setting.words->because) || has_number(one.setting.field.word);
            block->size++;
            words = good ? one.setting.place.address + (uint32_t)one.setting.place.words : 0;
        }
        block->reach = MAX(block->reach, words);
        g_array_append_val(block->members, one);
        fine = good && fine;
    }
    return fine;
}

/* Entries under `items` that are about a member and an item that there are. */
static bool check_items(vd_model_file *file, const yaml_node_t *map, written *block)
{
    gsize count = 0;
    const yaml_node_item_t *entries = NULL;
    bool fine = yaml_take_list(&file->yaml, map, "items", 1000, &count, &entries);
    block->items = fine && count > 0 ? yaml_member(&file->yaml, map, "items") : NULL;
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *entry = yaml_node(&file->yaml, entries[i]);
        const char *key = NULL;
        bool known = false;
        if (!yaml_check_keys(&file->yaml, entry, keys_item) || !yaml_take_text(&file->yaml, entry, "key", true, &key)) {
            fine = false;
            continue;
        }
        for (guint m = 0; m < block->members->len; m++) {
            const member *one = &g_array_index(block->members, member, m);
            known = known || (one->block == NULL && strcmp(one->setting.words->key, key) == 0);
        }
        if (!known || !are_items(file, yaml_member(&file->yaml, entry, "item"), block->head.count)) {
            char *allowed = g_strdup_printf("the key of a setting of this block, and an item from 1 to %u or a list of "
                                            "them",
                                            block->head.count);
            fine = yaml_note(&file->yaml, entry, vd_fault_of_WRONG_SHAPE("this entry", allowed));
            g_free(allowed);
        }
    }
    return fine;
}

static written *take_written(vd_model_file *file, const yaml_node_t *map, const char *group, unsigned depth, bool *fine)
{
    written *block = g_new0(written, 1);
    block->head = (vd_block){.key = "", .label = "", .count = 1};
    block->members = g_array_new(FALSE, TRUE, sizeof(member));
    *fine = take_head(file, map, block) && *fine;
    block->group = group != NULL ? group : block->head.key; /* of members that do not say, unless the block does */
    *fine = yaml_take_text(&file->yaml, map, "group", false, &block->group) && *fine;
    if (depth > 1) {
        *fine = yaml_note(&file->yaml, map,
                          vd_fault_of_WRONG_SHAPE("a block in a block in a block", "one block in another at most"));
        return block;
    }
    *fine = take_members(file, map, block, depth) && *fine;
    *fine = (block->broken || check_items(file, map, block)) && *fine;
    return block;
}

/* Whether the items of a block find room: among the settings that a model may have, and among the registers. */
static bool has_room(vd_model_file *file, const yaml_node_t *map, const written *block)
{
    uint64_t all = (uint64_t)block->size * block->head.count;
    uint64_t last = block->reach + (uint64_t)block->stride * (block->head.count - 1u);
    if (file->settings->len + all > MODEL_MOST_SETTINGS) {
        return yaml_note(&file->yaml, map, vd_fault_of_WRONG_SHAPE(block->head.key, "at most 65534 settings in all"));
    }
    return file->model.language->has_words || last <= 0x10000u ||
           yaml_note(
               &file->yaml, yaml_member(&file->yaml, map, "stride"),
               vd_fault_of_WRONG_SHAPE(block->head.key, "places from which all items reach no further than 65535"));
}

bool model_take_block(vd_model_file *file, const yaml_node_t *map)
{
    bool fine = true;
    written *block = take_written(file, map, NULL, 0, &fine);
    for (guint i = 0; i < file->blocks->len && fine; i++) {
        if (strcmp(g_array_index(file->blocks, vd_block, i).key, block->head.key) == 0) {
            fine = yaml_note(&file->yaml, map, vd_fault_of_KEY_TWICE(block->head.key));
        }
    }
    if (!block->broken && !has_room(file, map, block)) {
        fine = false;
        block->broken = true;
    }
    if (block->broken) {
        block->head.count = 1; /* enough to be named */
        g_ptr_array_add(file->broken, (gpointer)block->head.key);
    }
    if (block->head.key[0] != '\0' && block->size > 0 && file->settings->len + block->size <= MODEL_MOST_SETTINGS) {
        fine = write_out(file, block, NULL, VD_NONE, false) && fine;
    }
    free_written(block);
    return fine;
}
