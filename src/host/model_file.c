/* SPDX-License-Identifier: MIT
 * Loading a model from its file (docs/model.md). The parts of a setting are read in model_setting.c; whether the whole
 * is sound is judged by vd_model_check(), as it is for a model compiled into firmware. */
#include "model_parts.h"

#include <string.h>

#define MODEL_MOST (16u << 20) /* bytes of a model file: ten thousand settings take about 5 MB */
#define MODEL_FORMAT 1

void *model_memory(vd_model_file *file, gsize size)
{
    void *memory = g_malloc0(size > 0 ? size : 1);
    g_ptr_array_add(file->memory, memory);
    return memory;
}

const char *model_text(vd_model_file *file, const char *text)
{
    return g_string_chunk_insert_const(file->texts, text);
}

bool model_take_text(vd_model_file *file, const yaml_node_t *map, const char *key, bool needed, const char **out)
{
    const char *text = NULL;
    bool fine = yaml_take_text(&file->yaml, map, key, needed, &text);
    *out = model_text(file, text != NULL ? text : "");
    return fine;
}

static bool take_line(vd_model_file *file, const yaml_node_t *root)
{
    static const char *const keys[] = {"baud", "framing", "dtr", "rts", NULL};
    static const char *const signals[] = {"leave", "on", "off", NULL};
    yaml_file *yaml = &file->yaml;
    yaml_node_t *map = yaml_member(yaml, root, "line");
    const char *framing = "";
    int64_t baud = 0;
    bool fine = yaml_check_keys(yaml, map, keys) && yaml_take_integer(yaml, map, "baud", true, 50, 4000000, &baud) &&
                yaml_take_text(yaml, map, "framing", true, &framing) &&
                yaml_take_word(yaml, map, "dtr", false, signals, &file->model.dtr) &&
                yaml_take_word(yaml, map, "rts", false, signals, &file->model.rts);
    file->model.line.baud = (uint32_t)baud;
    if (fine && !vd_framing_parse(framing, &file->model.line)) {
        return yaml_note(yaml, yaml_member(yaml, map, "framing"), VD_WRONG_SHAPE, framing,
                         "data bits, parity and stop bits such as 8E1 or 8N2");
    }
    return fine;
}

static bool take_address(vd_model_file *file, const yaml_node_t *root)
{
    static const char *const keys[] = {"from", "to", "factory", NULL};
    yaml_file *yaml = &file->yaml;
    yaml_node_t *map = yaml_member(yaml, root, "address");
    int64_t from = 1, to = 247, factory = 1;
    bool fine = yaml_check_keys(yaml, map, keys) && yaml_take_integer(yaml, map, "from", true, 1, 247, &from) &&
                yaml_take_integer(yaml, map, "to", true, from, 247, &to) &&
                yaml_take_integer(yaml, map, "factory", true, from, to, &factory);
    file->model.address_low = (uint8_t)from;
    file->model.address_high = (uint8_t)to;
    file->model.address_factory = (uint8_t)factory;
    return fine;
}

static bool take_identity_place(vd_model_file *file, const yaml_node_t *map, const char *key, bool needed,
                                vd_place *place)
{
    yaml_node_t *node = yaml_member(&file->yaml, map, key);
    if (node == NULL) {
        return !needed || yaml_note(&file->yaml, map, VD_KEY_MISSING, key, "{register: 0, words: 8}");
    }
    place->form = VD_CHARACTERS;
    return model_take_place(file, node, place);
}

static bool take_identify(vd_model_file *file, const yaml_node_t *root)
{
    static const char *const keys[] = {"by",          "maker",     "product", "serial-object", "maker-at", "product-at",
                                       "firmware-at", "serial-at", NULL};
    static const char *const ways[] = {"objects", "registers", NULL};
    yaml_file *yaml = &file->yaml;
    vd_identify *identify = &file->model.identify;
    yaml_node_t *map = yaml_member(yaml, root, "identify");
    int64_t object = 0;
    bool fine = yaml_check_keys(yaml, map, keys) && yaml_take_word(yaml, map, "by", true, ways, &identify->way) &&
                model_take_text(file, map, "maker", true, &identify->maker) &&
                model_take_text(file, map, "product", true, &identify->product) &&
                yaml_take_integer(yaml, map, "serial-object", false, 0x80, 0xFF, &object);
    identify->serial_object = (uint8_t)object;
    if (fine && identify->way == VD_IDENTIFY_REGISTERS) {
        fine = take_identity_place(file, map, "maker-at", true, &identify->maker_place) &&
               take_identity_place(file, map, "product-at", true, &identify->product_place) &&
               take_identity_place(file, map, "firmware-at", false, &identify->firmware_place) &&
               take_identity_place(file, map, "serial-at", false, &identify->serial_place);
    }
    return fine;
}

static bool take_store(vd_model_file *file, const yaml_node_t *root)
{
    static const char *const keys[] = {"register", "value", "proof", "bank-offset", NULL};
    static const char *const proofs[] = {"none", "bank", NULL};
    yaml_file *yaml = &file->yaml;
    vd_store *store = &file->model.store;
    yaml_node_t *map = yaml_member(yaml, root, "store");
    int64_t where = 0, value = 0, offset = 0;
    if (map == NULL) {
        return true; /* what is written is stored at once */
    }
    bool fine = yaml_check_keys(yaml, map, keys) && yaml_take_word(yaml, map, "proof", true, proofs, &store->proof) &&
                yaml_take_integer(yaml, map, "register", true, 0, 0xFFFF, &where) &&
                yaml_take_integer(yaml, map, "value", true, 0, 0xFFFF, &value) &&
                yaml_take_integer(yaml, map, "bank-offset", store->proof == VD_PROOF_BANK, 1, 0xFFFF, &offset);
    store->needed = true;
    store->address = (uint16_t)where;
    store->value = (uint16_t)value;
    store->bank_offset = (uint16_t)offset;
    return fine;
}

static bool take_times(vd_model_file *file, const yaml_node_t *root)
{
    static const char *const keys[] = {"usual-reply", "longest-reply", "storing", "busy-wait", "busy-limit",
                                       "gap",         "broadcast",     "tries",   NULL};
    yaml_file *yaml = &file->yaml;
    vd_reply *reply = &file->model.reply;
    yaml_node_t *map = yaml_member(yaml, root, "times");
    /* The last column is what holds when the file is silent: gap, from bursts of USB adapters 16 ms apart; broadcast,
     * from the standard's 100 to 200 ms; three tries, since two show chance from habit only poorly. */
    struct {
        const char *key;
        bool needed;
        uint16_t *out;
        int64_t value;
    } times[] = {{"usual-reply", true, &reply->usual, 0},
                 {"longest-reply", true, &reply->longest, 0},
                 {"storing", false, &reply->store, 0},
                 {"busy-wait", false, &reply->busy_wait, 50},
                 {"busy-limit", false, &reply->busy_limit, 3000},
                 {"gap", false, &reply->gap, 20},
                 {"broadcast", false, &reply->broadcast, 100}};
    int64_t tries = 3;
    bool fine = yaml_check_keys(yaml, map, keys) && yaml_take_integer(yaml, map, "tries", false, 1, 20, &tries);
    for (size_t i = 0; i < G_N_ELEMENTS(times) && fine; i++) {
        fine = yaml_take_duration(yaml, map, times[i].key, times[i].needed, 60000, &times[i].value);
        *times[i].out = (uint16_t)times[i].value;
    }
    reply->tries = (uint8_t)tries;
    return fine;
}

/* The items of a list member; 0 when it is missing. False when it is no list. */
static bool take_list(vd_model_file *file, const yaml_node_t *root, const char *key, gsize most, gsize *count,
                      const yaml_node_item_t **items)
{
    yaml_node_t *list = yaml_member(&file->yaml, root, key);
    *count = 0;
    if (list == NULL) {
        return true;
    }
    if (list->type != YAML_SEQUENCE_NODE) {
        return yaml_note(&file->yaml, list, VD_WRONG_SHAPE, key, "a list, each item after a dash");
    }
    *items = list->data.sequence.items.start;
    *count = (gsize)(list->data.sequence.items.top - list->data.sequence.items.start);
    if (*count > most) {
        char *allowed = g_strdup_printf("at most %zu items", most);
        yaml_note(&file->yaml, list, VD_WRONG_SHAPE, key, allowed);
        g_free(allowed);
        return false;
    }
    return true;
}

static bool take_groups(vd_model_file *file, const yaml_node_t *root)
{
    static const char *const keys[] = {"key", "label", NULL};
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    if (!take_list(file, root, "groups", 255, &count, &items)) {
        return false;
    }
    vd_group *groups = model_memory(file, count * sizeof *groups);
    bool fine = true;
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *map = yaml_node(&file->yaml, items[i]);
        fine = yaml_check_keys(&file->yaml, map, keys) && model_take_text(file, map, "key", true, &groups[i].key) &&
               model_take_text(file, map, "label", true, &groups[i].label) && fine;
    }
    file->model.groups = groups;
    file->model.group_count = (uint8_t)count;
    return fine;
}

static bool take_holes(vd_model_file *file, const yaml_node_t *root)
{
    static const char *const keys[] = {"table", "from", "to", NULL};
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    if (!take_list(file, root, "holes", 0xFFFF, &count, &items)) {
        return false;
    }
    vd_hole *holes = model_memory(file, count * sizeof *holes);
    bool fine = true;
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *map = yaml_node(&file->yaml, items[i]);
        int64_t from = 0, to = 0;
        fine = yaml_check_keys(&file->yaml, map, keys) &&
               yaml_take_word(&file->yaml, map, "table", false, model_tables, &holes[i].table) &&
               yaml_take_integer(&file->yaml, map, "from", true, 0, 0xFFFF, &from) &&
               yaml_take_integer(&file->yaml, map, "to", true, from, 0xFFFF, &to) && fine;
        holes[i].first = (uint16_t)from;
        holes[i].last = (uint16_t)to;
    }
    file->model.holes = holes;
    file->model.hole_count = (uint16_t)count;
    return fine;
}

static const char *setting_key_at(const void *about, size_t i)
{
    return ((const vd_model *)about)->settings[i].key;
}

uint16_t model_find_named(vd_model_file *file, const yaml_node_t *node, const char *key)
{
    uint16_t found = vd_model_find(&file->model, key);
    if (found == VD_NONE) {
        char *suggestion = vd_suggest(key, file->model.setting_count, setting_key_at, &file->model);
        yaml_note(&file->yaml, node, VD_NO_SUCH_SETTING, key, suggestion);
        g_free(suggestion);
    }
    return found;
}

static bool take_pairs(vd_model_file *file, const yaml_node_t *root)
{
    static const char *const keys[] = {"low", "high", NULL};
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    if (!take_list(file, root, "pairs", 0xFFFF, &count, &items)) {
        return false;
    }
    vd_pair *pairs = model_memory(file, count * sizeof *pairs);
    bool fine = true;
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *map = yaml_node(&file->yaml, items[i]);
        const char *low = "", *high = "";
        bool good = yaml_check_keys(&file->yaml, map, keys) && yaml_take_text(&file->yaml, map, "low", true, &low) &&
                    yaml_take_text(&file->yaml, map, "high", true, &high);
        if (good) {
            pairs[i].low = model_find_named(file, yaml_member(&file->yaml, map, "low"), low);
            pairs[i].high = model_find_named(file, yaml_member(&file->yaml, map, "high"), high);
            good = pairs[i].low != VD_NONE && pairs[i].high != VD_NONE;
        }
        fine = good && fine;
    }
    file->model.pairs = pairs;
    file->model.pair_count = (uint16_t)count;
    return fine;
}

static bool take_settings(vd_model_file *file, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    if (!take_list(file, root, "settings", VD_NONE - 1, &count, &items)) {
        return false;
    }
    vd_setting *settings = model_memory(file, count * sizeof *settings);
    file->model.settings = settings;
    bool fine = true;
    for (gsize i = 0; i < count; i++) {
        settings[i].key = "";
        fine = model_take_setting(file, yaml_node(&file->yaml, items[i]), &settings[i]) && fine;
    }
    file->model.setting_count = (uint16_t)count;
    for (gsize i = 0; i < count && fine; i++) {
        fine = model_take_dependence(file, yaml_node(&file->yaml, items[i]), &settings[i]);
    }
    for (gsize i = 0; i < count && fine; i++) {
        fine = model_take_default(file, yaml_node(&file->yaml, items[i]), &settings[i]);
    }
    return fine;
}

/* Points at the setting that the library's own judgement blames. */
static bool check_whole(vd_model_file *file, const yaml_node_t *root)
{
    vd_fault fault = {0};
    if (vd_model_check(&file->model, &fault) == VD_OK) {
        return true;
    }
    yaml_node_t *list = yaml_member(&file->yaml, root, "settings"), *blamed = NULL;
    if (fault.setting != NULL) {
        blamed = yaml_node(&file->yaml, list->data.sequence.items.start[fault.setting - file->model.settings]);
    }
    return yaml_note_fault(&file->yaml, blamed, &fault);
}

static bool take_all(vd_model_file *file)
{
    static const char *const keys[] = {"verdite-model", "model", "title", "summary", "line",     "address", "identify",
                                       "store",         "times", "holes", "groups",  "settings", "pairs",   NULL};
    yaml_node_t *root = yaml_root(&file->yaml);
    if (root == NULL) {
        return yaml_note(&file->yaml, NULL, VD_WRONG_SHAPE, "an empty file", "a model");
    }
    if (!yaml_check_keys(&file->yaml, root, keys) ||
        !yaml_take_format(&file->yaml, root, "verdite-model", MODEL_FORMAT)) {
        return false;
    }
    return model_take_text(file, root, "model", true, &file->model.key) &&
           model_take_text(file, root, "title", true, &file->model.title) &&
           model_take_text(file, root, "summary", false, &file->model.summary) && take_line(file, root) &&
           take_address(file, root) && take_identify(file, root) && take_store(file, root) && take_times(file, root) &&
           take_holes(file, root) && take_groups(file, root) && take_settings(file, root) && take_pairs(file, root) &&
           check_whole(file, root);
}

vd_model_file *vd_model_file_load(const char *path, vd_findings *findings)
{
    vd_model_file *file = g_new0(vd_model_file, 1);
    file->memory = g_ptr_array_new_with_free_func(g_free);
    file->texts = g_string_chunk_new(4096);
    bool fine = yaml_file_load(&file->yaml, path, MODEL_MOST, findings) && take_all(file);
    yaml_file_free(&file->yaml);
    if (!fine || findings->list->len > 0) {
        vd_model_file_free(file);
        return NULL;
    }
    return file;
}

void vd_model_file_free(vd_model_file *file)
{
    if (file != NULL) {
        g_ptr_array_free(file->memory, TRUE);
        g_string_chunk_free(file->texts);
        g_free(file);
    }
}

const vd_model *vd_model_file_model(const vd_model_file *file)
{
    return &file->model;
}
