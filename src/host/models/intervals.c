/* SPDX-License-Identifier: MIT
 * Loading intervals: one list of items. A fact or event that is written where its name is expected becomes an item of
 * its own, right before the one that names it. */
#include "intervals.h"
#include "../days/week.h"
#include "comparisons.h"

#include <string.h>

/* By which key an item says what it is. */
typedef struct kind_word {
    const char *key;
    uint8_t kind;
    uint8_t adds; /* of a counter */
} kind_word;

static const kind_word mains[] = {{"fact", VD_ITEM_KINDS, 0},
                                  {"event", VD_ITEM_KINDS, 0},
                                  {"timer", VD_ITEM_COUNTER, VD_ADDS_SECONDS},
                                  {"way", VD_ITEM_COUNTER, VD_ADDS_WAY},
                                  {"turning", VD_ITEM_COUNTER, VD_ADDS_TURNING},
                                  {"count", VD_ITEM_COUNTER, VD_ADDS_EVENTS},
                                  {"store", VD_ITEM_STORE, 0}};
static const kind_word facts[] = {{"given", VD_ITEM_GIVEN, 0},     {"clock", VD_ITEM_CLOCK, 0},
                                  {"compare", VD_ITEM_COMPARE, 0}, {"all", VD_ITEM_ALL, 0},
                                  {"any", VD_ITEM_ANY, 0},         {"not", VD_ITEM_NOT, 0},
                                  {"lasted", VD_ITEM_LASTED, 0},   {"within", VD_ITEM_WITHIN, 0},
                                  {"set-by", VD_ITEM_SET_BY, 0},   {"fixed", VD_ITEM_FIXED, 0}};
static const kind_word events[] = {{"begins", VD_ITEM_BEGINS, 0},   {"ends", VD_ITEM_ENDS, 0},
                                   {"happens", VD_ITEM_HAPPENS, 0}, {"any-of", VD_ITEM_ANY_OF, 0},
                                   {"in-turn", VD_ITEM_IN_TURN, 0}, {"by-clock", VD_ITEM_BY_CLOCK, 0}};

/* The one of these keys that a map has; NULL: none, or several. */
static const kind_word *only_of(loading *l, const yaml_node_t *map, const kind_word *words, gsize count)
{
    const kind_word *found = NULL;
    for (gsize i = 0; i < count; i++) {
        if (yaml_member(&l->file->yaml, map, words[i].key) != NULL) {
            if (found != NULL) {
                return NULL;
            }
            found = &words[i];
        }
    }
    return found;
}

/* ---- Which items there are ---- */

static void collect(loading *l, const yaml_node_t *map);

static void collect_named(loading *l, const yaml_node_t *node)
{
    if (node == NULL || node->type == YAML_SCALAR_NODE) {
        return;
    }
    if (node->type == YAML_MAPPING_NODE) {
        collect(l, node);
        return;
    }
    for (const yaml_node_item_t *item = node->data.sequence.items.start; item < node->data.sequence.items.top; item++) {
        collect_named(l, yaml_node(&l->file->yaml, *item));
    }
}

/* Those that it names come before it. */
static void collect(loading *l, const yaml_node_t *map)
{
    static const char *const names[] = {"all",    "any",     "not",    "set-by", "cleared-by", "while", "of",
                                        "any-of", "in-turn", "begins", "ends",   "in",         "out",   "zeroed-by"};
    yaml_file *yaml = &l->file->yaml;
    const yaml_node_t *lasted = yaml_member(yaml, map, "lasted"), *within = yaml_member(yaml, map, "within"),
                      *cases = yaml_member(yaml, map, "cases");
    if (map->type != YAML_MAPPING_NODE || g_hash_table_contains(l->places, map)) {
        return;
    }
    for (gsize i = 0; i < G_N_ELEMENTS(names); i++) {
        collect_named(l, yaml_member(yaml, map, names[i]));
    }
    collect_named(l, lasted != NULL && lasted->type == YAML_MAPPING_NODE ? yaml_member(yaml, lasted, "fact") : NULL);
    collect_named(l, within != NULL && within->type == YAML_MAPPING_NODE ? yaml_member(yaml, within, "of") : NULL);
    bool listed = cases != NULL && cases->type == YAML_SEQUENCE_NODE;
    for (const yaml_node_item_t *item = listed ? cases->data.sequence.items.start : NULL;
         listed && item < cases->data.sequence.items.top; item++) {
        const yaml_node_t *one = yaml_node(yaml, *item);
        collect_named(l, one->type == YAML_MAPPING_NODE ? yaml_member(yaml, one, "while") : NULL);
    }
    g_hash_table_insert(l->places, (gpointer)map, GUINT_TO_POINTER(l->nodes->len + 1));
    g_ptr_array_add(l->nodes, (gpointer)map);
}

/* What a day gives has a name; it is there once something is about it. */
static bool take_input(loading *l, const yaml_node_t *map, const char *key, GPtrArray *names, uint16_t *input)
{
    const char *name = NULL;
    if (!yaml_take_key(&l->file->yaml, map, key, &name)) {
        return false;
    }
    *input = interval_input(names, name);
    if (*input == VD_NONE) {
        *input = (uint16_t)names->len;
        g_ptr_array_add(names, (gpointer)model_text(l->file, name));
    }
    return true;
}

/* ---- Facts ---- */

static bool take_clock(loading *l, const yaml_node_t *map, vd_item *item)
{
    const yaml_node_t *node = yaml_member(&l->file->yaml, map, "clock");
    return yaml_check_keys(&l->file->yaml, node, keys_clock) &&
           interval_take_amount(l, node, "from", VD_GIVES_TIME, &item->amount) &&
           interval_take_amount(l, node, "to", VD_GIVES_TIME, &item->other) &&
           week_take_days(&l->file->yaml, node, "on", &item->weekdays);
}

/* The store that is called so, VD_NONE: none is. */
static uint16_t store_called(const loading *l, const char *name)
{
    for (guint i = 0; i < l->keys->len; i++) {
        if (strcmp(interval_key_at(l, i), name) == 0 &&
            yaml_member(&l->file->yaml, g_ptr_array_index(l->nodes, i), "store") != NULL) {
            return (uint16_t)i;
        }
    }
    return VD_NONE;
}

static bool take_comparison(loading *l, const yaml_node_t *map, vd_item *item)
{
    static const char *const sides[] = {"above", "below", "at-least", "at-most"};
    static const uint8_t given[] = {[VD_COMPARED_QUANTITY] = VD_GIVES_NUMBER,
                                    [VD_COMPARED_SPEED] = VD_GIVES_SPEED,
                                    [VD_COMPARED_STORE] = VD_GIVES_PLAIN};
    const char *what = NULL;
    unsigned found = 0;
    if (!yaml_take_text(&l->file->yaml, map, "compare", true, &what)) {
        return false;
    }
    uint16_t store = store_called(l, what);
    item->compared = store != VD_NONE             ? VD_COMPARED_STORE
                     : strcmp(what, "speed") == 0 ? VD_COMPARED_SPEED
                                                  : VD_COMPARED_QUANTITY;
    bool fine = true;
    for (gsize side = 0; side < G_N_ELEMENTS(sides); side++) {
        if (yaml_member(&l->file->yaml, map, sides[side]) != NULL) {
            found++;
            item->side = (uint8_t)side;
            fine = interval_take_amount(l, map, sides[side], (vd_gives)given[item->compared], &item->amount) && fine;
        }
    }
    if (fine && found != 1) {
        return yaml_note(&l->file->yaml, map,
                         vd_fault_of_WRONG_SHAPE("this", "one of above, below, at-least or at-most"));
    }
    if (store != VD_NONE) {
        uint16_t *of = model_memory(l->file, sizeof *of);
        *of = store;
        item->of = of;
        item->of_count = 1;
    }
    return fine &&
           (item->compared != VD_COMPARED_QUANTITY || take_input(l, map, "compare", l->quantities, &item->input));
}

static bool take_fact(loading *l, const yaml_node_t *map, vd_item *item)
{
    yaml_file *yaml = &l->file->yaml;
    const yaml_node_t *lasted = yaml_member(yaml, map, "lasted"), *within = yaml_member(yaml, map, "within");
    switch (item->kind) {
    case VD_ITEM_GIVEN:
        return take_input(l, map, "given", l->given, &item->input) &&
               interval_take_amount(l, map, "wired", VD_GIVES_TRUTH, &item->wired) &&
               yaml_take_truth(yaml, map, "reads", &item->reads);
    case VD_ITEM_CLOCK: return take_clock(l, map, item);
    case VD_ITEM_COMPARE: return take_comparison(l, map, item);
    case VD_ITEM_ALL: return interval_take_items(l, map, "all", &item->of, &item->of_count);
    case VD_ITEM_ANY: return interval_take_items(l, map, "any", &item->of, &item->of_count);
    case VD_ITEM_NOT: return interval_take_items(l, map, "not", &item->of, &item->of_count);
    case VD_ITEM_LASTED:
        return yaml_check_keys(yaml, lasted, keys_lasted) &&
               interval_take_items(l, lasted, "fact", &item->of, &item->of_count) &&
               interval_take_amount(l, lasted, "for", VD_GIVES_TIME, &item->amount);
    case VD_ITEM_WITHIN:
        return yaml_check_keys(yaml, within, keys_within) &&
               interval_take_items(l, within, "of", &item->of, &item->of_count) &&
               interval_take_amount(l, within, "for", VD_GIVES_TIME, &item->amount);
    case VD_ITEM_SET_BY:
        return interval_take_items(l, map, "set-by", &item->of, &item->of_count) &&
               interval_take_items(l, map, "cleared-by", &item->clears, &item->clear_count);
    default: return interval_take_amount(l, map, "fixed", VD_GIVES_TRUTH, &item->amount);
    }
}

/* ---- Events and stores ---- */

static bool take_event(loading *l, const yaml_node_t *map, const char *key, vd_item *item)
{
    yaml_file *yaml = &l->file->yaml;
    const yaml_node_t *clock = yaml_member(yaml, map, "by-clock");
    item->closed = VD_CLOSED_LOST;
    bool fine = interval_take_one(l, map, "while", &item->gate) &&
                yaml_take_word(yaml, map, "closed", false, words_closed, &item->closed);
    if (item->kind == VD_ITEM_HAPPENS) {
        return take_input(l, map, key, l->happenings, &item->input) && fine;
    }
    if (item->kind == VD_ITEM_BY_CLOCK) {
        return yaml_check_keys(yaml, clock, keys_by_clock) &&
               interval_take_amount(l, clock, "every", VD_GIVES_TIME, &item->amount) &&
               interval_take_amount(l, clock, "at", VD_GIVES_TIME, &item->other) &&
               interval_take_between(l, clock, "between", VD_GIVES_TIME, item) && fine;
    }
    return interval_take_items(l, map, key, &item->of, &item->of_count) && fine;
}

static bool take_store(loading *l, const yaml_node_t *map, vd_item *item)
{
    uint16_t *of = model_memory(l->file, 2 * sizeof *of);
    vd_ref in, out;
    bool fine = interval_take_one(l, map, "in", &in) && interval_take_one(l, map, "out", &out) &&
                interval_take_amount(l, map, "holds", VD_GIVES_PLAIN, &item->amount) &&
                interval_take_amount(l, map, "takes-out", VD_GIVES_PLAIN, &item->other) &&
                interval_take_amount(l, map, "packet", VD_GIVES_PLAIN, &item->packet) &&
                interval_take_amount(l, map, "wraps", VD_GIVES_TRUTH, &item->wraps);
    if (fine && (vd_index(in) == VD_NONE || vd_index(item->amount) == VD_NONE)) {
        return yaml_note(&l->file->yaml, map, vd_fault_of_WRONG_SHAPE("this store", "in and holds"));
    }
    of[0] = fine ? vd_index(in) : 0;
    of[1] = fine ? vd_index(out) : 0;
    item->of = of;
    item->of_count = !fine ? 0 : vd_index(out) != VD_NONE ? 2 : 1;
    return fine;
}

/* ---- The list ---- */

static const kind_word *main_of(loading *l, const yaml_node_t *map)
{
    return only_of(l, map, mains, G_N_ELEMENTS(mains));
}

#define OF(kind) (1u << VD_ITEM_##kind)

/* To which kinds of items each other key belongs. */
static const struct {
    const char *key;
    uint32_t kinds;
} belongings[] = {{"wired", OF(GIVEN)},
                  {"reads", OF(GIVEN)},
                  {"above", OF(COMPARE)},
                  {"below", OF(COMPARE)},
                  {"at-least", OF(COMPARE)},
                  {"at-most", OF(COMPARE)},
                  {"cleared-by", OF(SET_BY)},
                  {"of", OF(COUNTER)},
                  {"cases", OF(COUNTER)},
                  {"every", OF(COUNTER)},
                  {"zero", OF(COUNTER)},
                  {"change", OF(COUNTER)},
                  {"edge", OF(COUNTER)},
                  {"carried", OF(COUNTER)},
                  {"at-once", OF(COUNTER)},
                  {"series", OF(COUNTER)},
                  {"then", OF(COUNTER)},
                  {"jitter", OF(COUNTER)},
                  {"zeroed-by", OF(COUNTER)},
                  {"in", OF(STORE)},
                  {"out", OF(STORE)},
                  {"holds", OF(STORE)},
                  {"takes-out", OF(STORE)},
                  {"packet", OF(STORE)},
                  {"wraps", OF(STORE)},
                  {"says", OF(COUNTER) | OF(BEGINS) | OF(ENDS) | OF(HAPPENS) | OF(ANY_OF) | OF(IN_TURN) | OF(BY_CLOCK)},
                  {"now", OF(COUNTER) - 1u}, /* of every fact */
                  {"while", OF(COUNTER) | OF(ANY_OF) | OF(BY_CLOCK)},
                  {"closed", OF(COUNTER) | OF(ANY_OF) | OF(BY_CLOCK)}};

static bool belongs(const char *key, const kind_word *main, const kind_word *is)
{
    for (gsize i = 0; i < G_N_ELEMENTS(belongings); i++) {
        if (strcmp(belongings[i].key, key) == 0) {
            return (belongings[i].kinds >> is->kind & 1u) != 0;
        }
    }
    return strcmp(key, "label") == 0 || strcmp(key, is->key) == 0 || (main != NULL && strcmp(key, main->key) == 0);
}

/* Every key that it has is one of its kind. */
static bool check_belonging(loading *l, const yaml_node_t *map, const kind_word *main, const kind_word *is)
{
    bool fine = true;
    for (const yaml_node_pair_t *pair = map->data.mapping.pairs.start; pair < map->data.mapping.pairs.top; pair++) {
        const yaml_node_t *key = yaml_node(&l->file->yaml, pair->key);
        const char *word = (const char *)key->data.scalar.value;
        if (!belongs(word, main, is)) {
            char *allowed = g_strdup_printf("only what belongs to %s", is->key);
            fine = yaml_note(&l->file->yaml, key, vd_fault_of_WRONG_SHAPE(word, allowed));
            g_free(allowed);
        }
    }
    return fine;
}

static bool take_interval(loading *l, guint index, vd_item *item)
{
    const yaml_node_t *map = g_ptr_array_index(l->nodes, index);
    const kind_word *main = main_of(l, map), *fact = only_of(l, map, facts, G_N_ELEMENTS(facts)),
                    *event = only_of(l, map, events, G_N_ELEMENTS(events));
    bool inline_one = main == NULL, wants_fact = main == &mains[0] || (inline_one && fact != NULL);
    const kind_word *is = main != NULL && main->kind != VD_ITEM_KINDS ? main : wants_fact ? fact : event;
    item->key = g_ptr_array_index(l->keys, index);
    item->label = "";
    bool fine = yaml_check_keys(&l->file->yaml, map, keys_interval) &&
                model_take_text(l->file, map, "label", false, &item->label) &&
                model_take_text(l->file, map, "says", false, &item->says) &&
                interval_take_amount(l, map, "now", VD_GIVES_TRUTH, &item->now);
    if (fine && is == NULL) {
        return yaml_note(&l->file->yaml, map,
                         vd_fault_of_WRONG_SHAPE("this", wants_fact || inline_one
                                                             ? "one of given, clock, compare, all, any, not, lasted, "
                                                               "within, set-by or fixed"
                                                             : "one of begins, ends, happens, any-of, in-turn or "
                                                               "by-clock"));
    }
    if (!fine) {
        return false;
    }
    item->kind = is->kind;
    if (!check_belonging(l, map, main, is)) {
        return false;
    }
    return is->kind == VD_ITEM_COUNTER ? interval_take_counter(l, map, is->adds, item)
           : is->kind == VD_ITEM_STORE ? take_store(l, map, item)
           : vd_item_is_fact(item)     ? take_fact(l, map, item)
                                       : take_event(l, map, is->key, item);
}

/* The key of each item; one that is written inside of another has none that anybody could name. */
static bool name_items(loading *l)
{
    bool fine = true;
    for (guint i = 0; i < l->nodes->len; i++) {
        const yaml_node_t *map = g_ptr_array_index(l->nodes, i);
        const kind_word *main = main_of(l, map);
        const char *key = "";
        if (main != NULL) {
            fine = model_take_key(l->file, map, main->key, &key) && fine;
        }
        for (guint k = 0; key[0] != '\0' && k < i; k++) {
            fine = (strcmp(interval_key_at(l, k), key) != 0 ||
                    yaml_note(&l->file->yaml, map, vd_fault_of_KEY_TWICE(key))) &&
                   fine;
        }
        g_ptr_array_add(l->keys, (gpointer)key);
    }
    return fine;
}

static const char *const *names_of(vd_model_file *file, const GPtrArray *names)
{
    const char **kept = model_memory(file, (names->len + 1) * sizeof *kept);
    for (guint i = 0; i < names->len; i++) {
        kept[i] = g_ptr_array_index(names, i);
    }
    return kept;
}

static bool take_list(loading *l, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&l->file->yaml, root, "intervals", VD_MOST_ITEMS, &count, &items);
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *map = yaml_node(&l->file->yaml, items[i]);
        if (map->type != YAML_MAPPING_NODE || main_of(l, map) == NULL) {
            fine = yaml_note(&l->file->yaml, map,
                             vd_fault_of_WRONG_SHAPE(
                                 "this", "an item: fact, timer, way, turning, count, event or store, with its key"));
            continue;
        }
        collect(l, map);
    }
    if (l->nodes->len > VD_MOST_ITEMS) {
        return yaml_note(&l->file->yaml, yaml_member(&l->file->yaml, root, "intervals"),
                         vd_fault_of_WRONG_SHAPE("intervals", "at most 256 items, those inside of others counted"));
    }
    fine = name_items(l) && fine;
    vd_item *all = model_memory(l->file, (l->nodes->len + 1) * sizeof *all);
    for (guint i = 0; i < l->nodes->len && fine; i++) {
        fine = take_interval(l, i, &all[i]) && fine;
    }
    l->made->items = all;
    l->made->item_count = (uint16_t)l->nodes->len;
    return fine;
}

/* What a unit is awake for is what that fact is made of. */
static bool take_awake(loading *l, const yaml_node_t *root)
{
    const yaml_node_t *node = yaml_member(&l->file->yaml, root, "awake");
    uint16_t fact = VD_NONE;
    if (node == NULL) {
        return true;
    }
    if (!interval_take_item(l, node, &fact)) {
        return false;
    }
    l->made->awake = vd_ref_to(fact);
    return l->made->items[fact].kind == VD_ITEM_ANY ||
           yaml_note(&l->file->yaml, node,
                     vd_fault_of_WRONG_SHAPE("awake", "a fact that is any of others: what wakes it"));
}

bool model_take_intervals(vd_model_file *file, const yaml_node_t *root)
{
    if (yaml_member(&file->yaml, root, "intervals") == NULL) {
        static const char *const others[] = {"days", "activities", "shown", "costs", "battery", "tariff", "awake"};
        bool fine = true;
        for (gsize i = 0; i < G_N_ELEMENTS(others); i++) {
            const yaml_node_t *node = yaml_member(&file->yaml, root, others[i]);
            fine = (node == NULL ||
                    yaml_note(&file->yaml, node, vd_fault_of_WRONG_SHAPE(others[i], "intervals as well"))) &&
                   fine;
        }
        return fine;
    }
    loading l = {.file = file,
                 .nodes = g_ptr_array_new(),
                 .keys = g_ptr_array_new(),
                 .given = g_ptr_array_new(),
                 .quantities = g_ptr_array_new(),
                 .happenings = g_ptr_array_new(),
                 .places = g_hash_table_new(NULL, NULL),
                 .made = model_memory(file, sizeof *l.made),
                 .first = (uint16_t)file->formulas->len};
    bool fine = take_list(&l, root);
    l.made->formula = l.first;
    l.made->formula_count = (uint16_t)(file->formulas->len - l.first);
    if (fine) {
        l.made->given = names_of(file, l.given);
        l.made->quantities = names_of(file, l.quantities);
        l.made->happenings = names_of(file, l.happenings);
        l.made->given_count = (uint16_t)l.given->len;
        l.made->quantity_count = (uint16_t)l.quantities->len;
        l.made->happening_count = (uint16_t)l.happenings->len;
        fine = interval_take_days(&l, root);
        fine = interval_take_costs(&l, root) && fine;
        fine = take_awake(&l, root) && fine;
        file->model.intervals = l.made;
    }
    for (guint i = 0; fine && i < l.nodes->len; i++) {
        g_ptr_array_add(file->interval_nodes, g_ptr_array_index(l.nodes, i));
    }
    g_ptr_array_free(l.nodes, TRUE);
    g_ptr_array_free(l.keys, TRUE);
    g_ptr_array_free(l.given, TRUE);
    g_ptr_array_free(l.quantities, TRUE);
    g_ptr_array_free(l.happenings, TRUE);
    g_hash_table_destroy(l.places);
    return fine;
}
