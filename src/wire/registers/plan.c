/* SPDX-License-Identifier: MIT
 * Which registers and coils go into which request: reads with the least line time, writes with the fewest requests, in
 * an order that the unit accepts. */
#include "parts.h"

static uint32_t by_address(const vd_model *model, uint16_t setting)
{
    const vd_place *place = &model->settings[setting].place;
    return ((uint32_t)place->table << 16 | place->address) << 4 | place->low_bit;
}

static bool address_after(const void *model, uint16_t a, uint16_t b)
{
    return by_address(model, a) > by_address(model, b);
}

/* What is written. */
typedef struct picked {
    const vd_model *model;
    const uint8_t *which;
} picked;

/* The setting that is written, starts at this register and gets its decimals from that one, or VD_NONE. */
static uint16_t dependent_at(const picked *about, uint16_t decides, unsigned address)
{
    const vd_setting *settings = about->model->settings;
    for (uint16_t i = 0; i < about->model->setting_count; i++) {
        const vd_place *place = &settings[i].place;
        if (about->which[i] == 1 && vd_index(settings[i].places_from) == decides &&
            settings[i].access != VD_READ_ONLY && place->bits == 0 && place->table == VD_HOLDING &&
            place->address == address) {
            return i;
        }
    }
    return VD_NONE;
}

/* Whether a setting can go out in one request with the one that decides its decimals, and all between them are others
 * of those. */
static bool follows_its_decimals(const picked *about, uint16_t setting)
{
    uint16_t decides = vd_index(about->model->settings[setting].places_from);
    if (decides == VD_NONE || about->which[decides] != 1 || !vd_setting_is_shown(&about->model->settings[setting])) {
        return false;
    }
    const vd_place *first = &about->model->settings[decides].place;
    unsigned at = (unsigned)first->address + first->words;
    uint16_t next = first->bits == 0 ? dependent_at(about, decides, at) : VD_NONE;
    while (next != VD_NONE && next != setting) {
        at += about->model->settings[next].place.words;
        next = dependent_at(about, decides, at);
    }
    return next == setting;
}

/* What gives others their decimals comes before all else, with those of them that can go out at once with it: else they
 * would mean something else for a moment. Where writing is not yet storing, what cannot be read comes last: what is
 * seen of the others afterwards then holds for it too. */
static int rank_of(const picked *about, uint16_t setting)
{
    const vd_model *model = about->model;
    bool unseen = model->store.needed && !vd_setting_is_shown(&model->settings[setting]);
    return model->settings[setting].gives_places || follows_its_decimals(about, setting) ? 0 : unseen ? 2 : 1;
}

static bool step_and_address_after(const void *about, uint16_t a, uint16_t b)
{
    const picked *written = about;
    int first = rank_of(written, a), second = rank_of(written, b);
    return first != second ? first > second : address_after(written->model, a, b);
}

static bool is_bits(const vd_place *place)
{
    return place->table == VD_COIL || place->table == VD_DISCRETE;
}

static uint32_t limit(uint16_t own, uint32_t standard)
{
    return own > 0 && own < standard ? own : standard;
}

static uint32_t most_read(const vd_model *model, const vd_place *place)
{
    return is_bits(place) ? limit(model->limits.read_bits, VD_MODBUS_MOST_READ_BITS)
                          : limit(model->limits.read_registers, VD_MODBUS_MOST_READ);
}

static uint32_t most_written(const vd_model *model, const vd_place *place)
{
    return is_bits(place) ? limit(model->limits.write_bits, VD_MODBUS_MOST_WRITE_BITS)
                          : limit(model->limits.write_registers,
                                  model->limits.read_write ? VD_MODBUS_MOST_BOTH : VD_MODBUS_MOST_WRITE);
}

static bool hole_between(const vd_model *model, const vd_place *a, const vd_place *b)
{
    for (uint16_t i = 0; i < model->hole_count; i++) {
        const vd_hole *hole = &model->holes[i];
        if (hole->table == a->table && hole->first >= a->address + a->words && hole->last < b->address) {
            return true;
        }
    }
    return false;
}

void vd_modbus_plan_read(vd_plan *plan, const vd_model *model, const uint8_t *which, bool stored, uint32_t overhead,
                         uint32_t each)
{
    plan->count = 0;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_setting *s = &model->settings[i];
        bool readable =
            vd_setting_is_shown(s) && (!stored || (s->place.table == VD_HOLDING && s->access == VD_READ_WRITE));
        if (which[i] == VD_ABSENT || (which[i] != 0 && readable)) {
            plan->order[plan->count++] = i;
        }
    }
    vd_settings_sort(plan->order, plan->count, address_after, model);
    /* From the back: cost[i] is the least time for everything from order[i] on, next[i] where its request ends. */
    plan->cost[plan->count] = 0;
    for (unsigned i = plan->count; i-- > 0;) {
        const vd_place *first = &model->settings[plan->order[i]].place;
        plan->cost[i] = UINT32_MAX;
        plan->next[i] = (uint16_t)(i + 1);
        if (which[plan->order[i]] == VD_ABSENT) { /* no request at all; and none reaches over it */
            plan->cost[i] = plan->cost[i + 1];
        }
        for (unsigned end = i + 1; end <= plan->count && which[plan->order[end - 1]] != VD_ABSENT; end++) {
            const vd_place *last = &model->settings[plan->order[end - 1]].place;
            uint32_t words = (uint32_t)last->address + last->words - first->address;
            if (last->table != first->table || words > most_read(model, first) ||
                (end - 1 > i && hole_between(model, &model->settings[plan->order[end - 2]].place, last))) {
                break;
            }
            uint32_t data = is_bits(first) ? (each * ((words + 7) / 8) + 1) / 2 : words * each;
            uint32_t cost = overhead + data + plan->cost[end];
            if (cost < plan->cost[i]) {
                plan->cost[i] = cost;
                plan->next[i] = (uint16_t)end;
            }
        }
    }
}

/* Whether a rule that the unit enforces depends on both. */
static bool bound(const vd_model *model, uint16_t a, uint16_t b)
{
    for (uint16_t i = 0; i < model->rule_count && model->book != NULL; i++) {
        if (model->rules[i].enforced == VD_ENFORCED_WRITING && vd_rule_mentions(model, i, a) &&
            vd_rule_mentions(model, i, b)) {
            return true;
        }
    }
    return false;
}

/* Whether a rule that the unit enforces binds the setting order[end] to one of those from order[start] on. */
static bool bound_to_any(const vd_plan *plan, const vd_model *model, unsigned start, unsigned end)
{
    for (unsigned i = start; i < end; i++) {
        if (bound(model, plan->order[i], plan->order[end])) {
            return true;
        }
    }
    return false;
}

/* Whether order[end] belongs into the request that starts at order[start]: it goes on where the one before ends. Fields
 * of bits go register by register, apart from all else but what a rule binds to them. */
static bool goes_on(const vd_plan *plan, const vd_model *model, unsigned start, unsigned end)
{
    const vd_place *before = &model->settings[plan->order[end - 1]].place;
    const vd_place *place = &model->settings[plan->order[end]].place;
    bool fields = before->bits > 0 || place->bits > 0;
    bool same = before->bits > 0 && place->bits > 0 && before->address == place->address;
    bool next = before->address + before->words == place->address;
    unsigned words = (unsigned)place->address + place->words - model->settings[plan->order[start]].place.address;
    if (before->table != place->table || (!same && !next)) {
        return false;
    }
    if (same || (!fields && !model->limits.one_by_one)) {
        return true;
    }
    bool together = bound_to_any(plan, model, start, end);
    return model->limits.one_by_one ? !fields && !together : together && words <= VD_MODBUS_MOST_MERGED;
}

void vd_modbus_plan_write(vd_plan *plan, const vd_model *model, const uint8_t *which)
{
    const picked about = {model, which};
    plan->count = plan->requests = 0;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (which[i] == 1 && model->settings[i].access != VD_READ_ONLY) {
            plan->order[plan->count++] = i;
        }
    }
    vd_settings_sort(plan->order, plan->count, step_and_address_after, &about);
    for (unsigned i = 0; i < plan->count;) {
        const vd_setting *first = &model->settings[plan->order[i]];
        unsigned end = i + 1;
        while (end < plan->count) {
            const vd_setting *next = &model->settings[plan->order[end]];
            uint32_t words = (uint32_t)next->place.address + next->place.words - first->place.address;
            if (!goes_on(plan, model, i, end) || rank_of(&about, plan->order[end]) != rank_of(&about, plan->order[i])) {
                break;
            }
            if (words > most_written(model, &first->place)) {
                /* The limit, not a gap, ends this request: do not let it part what belongs together. */
                end -= end - i > 1 && bound(model, plan->order[end - 1], plan->order[end]);
                break;
            }
            end++;
        }
        plan->next[i] = (uint16_t)end;
        plan->cost[plan->requests++] = i;
        i = end;
    }
}

bool vd_modbus_rescales_at_once(const vd_model *model, const uint8_t *which, uint16_t decides)
{
    const picked about = {model, which};
    const vd_place *first = &model->settings[decides].place;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        const vd_place *place = &model->settings[i].place;
        bool written = which[i] == 1 && vd_index(model->settings[i].places_from) == decides;
        unsigned words = (unsigned)place->address + place->words - first->address;
        if (written &&
            (!follows_its_decimals(&about, i) || model->limits.one_by_one || words > most_written(model, first))) {
            return false;
        }
    }
    return true;
}

bool vd_modbus_plan_has_fields(const vd_plan *plan, const vd_model *model, uint16_t at)
{
    for (unsigned i = at; i < plan->next[at]; i++) {
        if (model->settings[plan->order[i]].place.bits > 0) {
            return true;
        }
    }
    return false;
}

void vd_modbus_plan_request(const vd_plan *plan, const vd_model *model, uint16_t at, vd_place *span,
                            uint16_t *registers)
{
    const vd_place *last = &model->settings[plan->order[plan->next[at] - 1]].place;
    *span = model->settings[plan->order[at]].place;
    *registers = (uint16_t)(last->address + last->words - span->address);
}
