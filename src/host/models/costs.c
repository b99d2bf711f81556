/* SPDX-License-Identifier: MIT
 * Loading what intervals take: bytes, charge, the battery, the tariff. */
#include "intervals.h"
#include "verdite/cost.h"

#include <string.h>

#define MOST_COSTS 64

/* One value, or [least, most]. */
static bool take_range(loading *l, const yaml_node_t *map, const char *key, vd_gives gives, vd_ref *least, vd_ref *most)
{
    const yaml_node_t *node = yaml_member(&l->file->yaml, map, key);
    if (node != NULL && node->type == YAML_SEQUENCE_NODE) {
        return interval_take_pair(l, node, gives, "one value, or two: [least, most]", least, most);
    }
    bool fine = interval_take_amount(l, map, key, gives, least);
    *most = *least;
    return fine;
}

static bool take_cost(loading *l, const yaml_node_t *map, vd_cost *cost)
{
    yaml_file *yaml = &l->file->yaml;
    const yaml_node_t *of = yaml_member(yaml, map, "of");
    uint8_t per = 0;
    bool bytes = yaml_member(yaml, map, "bytes") != NULL, charge = yaml_member(yaml, map, "charge") != NULL;
    if (!yaml_check_keys(yaml, map, keys_cost)) {
        return false;
    }
    if (of == NULL || bytes == charge) {
        return yaml_note(yaml, map, vd_fault_of_WRONG_SHAPE("this", "of, and either bytes or charge"));
    }
    bool fine = interval_take_item(l, of, &cost->item) && yaml_take_word(yaml, map, "per", false, words_per, &per);
    const vd_item *item = fine ? &l->made->items[cost->item] : NULL;
    cost->charge = charge;
    cost->per = !fine                    ? 0
                : vd_item_is_fact(item)  ? VD_COST_SECOND
                : vd_item_is_event(item) ? VD_COST_EVENT
                : per == 0               ? VD_COST_TAKEN
                                         : VD_COST_PACKET;
    if (fine && yaml_member(yaml, map, "per") != NULL && item->kind != VD_ITEM_STORE) {
        return yaml_note(yaml, yaml_member(yaml, map, "per"),
                         vd_fault_of_WRONG_SHAPE("per", "it only for a store: taken or packet"));
    }
    if (fine && !charge && cost->per == VD_COST_SECOND) {
        return yaml_note(yaml, of,
                         vd_fault_of_WRONG_SHAPE("of", "an event or a store: a fact sends nothing by itself"));
    }
    vd_gives gives = !charge ? VD_GIVES_BYTES : cost->per == VD_COST_SECOND ? VD_GIVES_CURRENT : VD_GIVES_CHARGE;
    return take_range(l, map, charge ? "charge" : "bytes", gives, &cost->least, &cost->most) && fine;
}

static bool take_battery(loading *l, const yaml_node_t *root, vd_battery *battery)
{
    const yaml_node_t *map = yaml_member(&l->file->yaml, root, "battery");
    if (map == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&l->file->yaml, map, keys_battery) &&
                interval_take_amount(l, map, "holds", VD_GIVES_CHARGE, &battery->holds);
    if (fine && vd_index(battery->holds) == VD_NONE) {
        fine = yaml_note_missing(&l->file->yaml, map, "holds", "a charge, such as 19 Ah");
    }
    fine = take_range(l, map, "usable", VD_GIVES_SHARE, &battery->usable_least, &battery->usable_most) && fine;
    return take_range(l, map, "own-loss", VD_GIVES_SHARE, &battery->loss_least, &battery->loss_most) && fine;
}

/* What one tariff says, whenever it counts. */
static bool take_terms(loading *l, const yaml_node_t *map, vd_tariff *tariff)
{
    uint8_t rounds = 0;
    bool fine = interval_take_amount(l, map, "base", VD_GIVES_PLAIN, &tariff->base);
    fine = interval_take_amount(l, map, "included", VD_GIVES_BYTES, &tariff->included) && fine;
    fine = interval_take_amount(l, map, "step", VD_GIVES_BYTES, &tariff->step) && fine;
    fine = interval_take_amount(l, map, "each", VD_GIVES_PLAIN, &tariff->each) && fine;
    fine = yaml_take_word(&l->file->yaml, map, "rounds", false, words_rounds, &rounds) && fine;
    tariff->rounds_each = rounds == 1;
    if (fine && (vd_index(tariff->step) == VD_NONE || vd_index(tariff->each) == VD_NONE)) {
        fine = yaml_note(&l->file->yaml, map,
                         vd_fault_of_WRONG_SHAPE("this tariff", "step and each: such as 10 kB, 0.01"));
    }
    return fine;
}

static bool take_instead(loading *l, const yaml_node_t *map, vd_tariff *tariff)
{
    uint16_t fact = VD_NONE;
    const yaml_node_t *node = yaml_member(&l->file->yaml, map, "while");
    if (!yaml_check_keys(&l->file->yaml, map, keys_instead)) {
        return false;
    }
    if (node == NULL) {
        return yaml_note_missing(&l->file->yaml, map, "while", "a fact while which it counts");
    }
    bool fine = interval_take_item(l, node, &fact);
    if (fine && !vd_item_is_fact(&l->made->items[fact])) {
        fine = yaml_note(&l->file->yaml, node, vd_fault_of_WRONG_SHAPE("while", "a fact"));
    }
    tariff->when = vd_ref_to(fact);
    return take_terms(l, map, tariff) && fine;
}

/* Those that count instead while a fact holds, and behind them the one that always does. */
static bool take_tariff(loading *l, const yaml_node_t *root, vd_costs *costs)
{
    const yaml_node_t *map = yaml_member(&l->file->yaml, root, "tariff");
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    if (map == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&l->file->yaml, map, keys_tariff) &&
                model_take_text(l->file, map, "currency", true, &costs->currency) &&
                yaml_take_list(&l->file->yaml, map, "instead", VD_MOST_TARIFFS - 1, &count, &items);
    vd_tariff *list = model_memory(l->file, (count + 1) * sizeof *list);
    for (gsize i = 0; i < count && fine; i++) {
        fine = take_instead(l, yaml_node(&l->file->yaml, items[i]), &list[i]);
    }
    list[count].when = vd_ref_to(VD_NONE);
    costs->tariffs = list;
    costs->tariff_count = (uint8_t)(count + 1);
    return fine && take_terms(l, map, &list[count]);
}

/* Whether a reading is a number of such: seconds are a duration. */
static bool fits(const vd_model_file *file, const vd_shown *shown)
{
    const vd_setting *setting = &g_array_index(file->settings, vd_setting, shown->setting);
    bool seconds = shown->as == VD_SHOWN_SINCE || shown->as == VD_SHOWN_UNTIL;
    bool number = setting->traits == &vd_type_integer || setting->traits == &vd_type_counter;
    return setting->access == VD_READ_ONLY && vd_setting_moves(setting) == VD_STANDS_STILL &&
           (seconds ? setting->traits == &vd_type_duration && setting->tick == 1000 : number);
}

static bool take_shown_one(loading *l, const yaml_node_t *map, vd_shown *shown)
{
    yaml_file *yaml = &l->file->yaml;
    const yaml_node_t *of = yaml_member(yaml, map, "of"), *reading = yaml_member(yaml, map, "reading");
    const char *key = NULL;
    if (!yaml_check_keys(yaml, map, keys_shown) || !yaml_take_text(yaml, map, "reading", true, &key) ||
        !yaml_take_word(yaml, map, "as", true, words_shown_as, &shown->as)) {
        return false;
    }
    shown->setting = model_find_named(l->file, reading, key);
    shown->item = VD_NONE;
    if (shown->setting == VD_NONE || (of != NULL && !interval_take_item(l, of, &shown->item))) {
        return false;
    }
    bool store = shown->item != VD_NONE && l->made->items[shown->item].kind == VD_ITEM_STORE;
    bool event = shown->item != VD_NONE && vd_item_is_event(&l->made->items[shown->item]);
    bool sound = shown->as == VD_SHOWN_HELD ? store : shown->as == VD_SHOWN_LEFT ? shown->item == VD_NONE : event;
    if (!sound) {
        return yaml_note(yaml, map,
                         vd_fault_of_WRONG_SHAPE("this", "held of a store, left of nothing, all else of an event"));
    }
    if (shown->as == VD_SHOWN_LEFT && yaml_member(yaml, yaml_root(yaml), "battery") == NULL) {
        return yaml_note(yaml, map, vd_fault_of_WRONG_SHAPE("left", "a battery as well"));
    }
    return fits(l->file, shown) ||
           yaml_note(yaml, reading,
                     vd_fault_of_WRONG_SHAPE(
                         key, "a reading that stands still: a whole number; of since and until a duration of 1 s"));
}

/* Readings that show what intervals come to. */
static bool take_shown(loading *l, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    bool fine = yaml_take_list(&l->file->yaml, root, "shown", MOST_COSTS, &count, &items);
    vd_shown *list = model_memory(l->file, (count + 1) * sizeof *list);
    for (gsize i = 0; i < count; i++) {
        fine = take_shown_one(l, yaml_node(&l->file->yaml, items[i]), &list[i]) && fine;
    }
    l->made->shown = list;
    l->made->shown_count = (uint16_t)count;
    return fine;
}

bool interval_take_costs(loading *l, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    vd_costs *costs = model_memory(l->file, sizeof *costs);
    bool fine = yaml_take_list(&l->file->yaml, root, "costs", MOST_COSTS, &count, &items);
    vd_cost *list = model_memory(l->file, (count + 1) * sizeof *list);
    for (gsize i = 0; i < count; i++) {
        fine = take_cost(l, yaml_node(&l->file->yaml, items[i]), &list[i]) && fine;
    }
    costs->list = list;
    costs->count = (uint16_t)count;
    fine = take_shown(l, root) && fine;
    fine = take_battery(l, root, &costs->battery) && fine;
    fine = take_tariff(l, root, costs) && fine;
    bool any = count > 0 || yaml_member(&l->file->yaml, root, "battery") != NULL ||
               yaml_member(&l->file->yaml, root, "tariff") != NULL;
    l->made->costs = any ? costs : NULL;
    l->made->formula_count = (uint16_t)(l->file->formulas->len - l->first);
    return fine;
}
