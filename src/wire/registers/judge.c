/* SPDX-License-Identifier: MIT
 * Whether a model of a unit with registers is sound, as far as its registers go. */
#include "parts.h"

#include <string.h>

static bool is_bit(const vd_place *place)
{
    return place->table == VD_COIL || place->table == VD_DISCRETE;
}

static unsigned width(const vd_place *place)
{
    return is_bit(place) ? 1 : place->bits > 0 ? place->bits : 16u * place->words;
}

static bool fits(const vd_place *place, int64_t low, int64_t high)
{
    unsigned bits = width(place);
    if (bits > 48) { /* more than any range reaches for */
        return true;
    }
    int64_t span = (int64_t)1 << bits, least = place->form == VD_SIGNED ? -span / 2 : 0;
    return low >= least && high < least + span;
}

/* Whether a place holds whatever a setting takes. */
static bool holds_all(const vd_setting *s)
{
    bool flags = s->traits->id == VD_FLAGS;
    return vd_setting_is(s, VD_TYPE_BYTES) ||
           fits(&s->place, flags ? 0 : s->min, flags ? ((int64_t)2 << s->max) - 1 : s->max);
}

/* What a setting needs of its registers. */
static const char *check_width(const vd_setting *s)
{
    const vd_place *place = &s->place;
    bool bytes = vd_setting_is(s, VD_TYPE_BYTES);
    if (bytes != (place->form == VD_CHARACTERS)) {
        return "mixes text and number: its form on the wire is not that of its type";
    }
    if (bytes) {
        return (s->length + 1u) / 2u == place->words && place->words <= 64 && place->bits == 0 && !is_bit(place)
                   ? NULL
                   : "has a wrong number of registers";
    }
    if (place->bits > 0 && (place->words != 1 || is_bit(place) || place->low_bit + place->bits > 16)) {
        return "has a field of bits that does not lie inside one register";
    }
    if ((place->words != 1 && place->words != 2 && place->words != 4) || (is_bit(place) && place->words != 1)) {
        return "has a wrong number of registers";
    }
    switch ((vd_type)s->traits->id) {
    case VD_IPV4:
    case VD_MASK:
    case VD_GATEWAY: return place->words == 2 ? NULL : "needs two registers";
    case VD_POSITION: return place->words == 4 ? NULL : "needs four registers";
    default: break;
    }
    return (!is_bit(place) && place->bits == 0) || holds_all(s) ? NULL : "has a range that its registers cannot hold";
}

static bool covers(const vd_place *place, const vd_order *order)
{
    return order->address >= place->address && order->address < place->address + place->words;
}

static const char *check_place(const vd_model *model, const vd_setting *s)
{
    const char *wrong = check_width(s);
    if (wrong != NULL) {
        return wrong;
    }
    if ((uint32_t)s->place.address + s->place.words > 0x10000u) {
        return "lies beyond the last register";
    }
    uint16_t limit = model->limits.read_registers;
    if (limit > 0 && !is_bit(&s->place) && s->place.words > limit) {
        return "has more registers than the unit reads in one request";
    }
    if ((s->place.table == VD_INPUT || s->place.table == VD_DISCRETE) && s->access != VD_READ_ONLY) {
        return "is writable, but lies where nothing can be written";
    }
    for (uint16_t i = 0; i < model->hole_count; i++) {
        const vd_hole *hole = &model->holes[i];
        if (hole->table == s->place.table && s->place.address <= hole->last &&
            s->place.address + s->place.words > hole->first) {
            return "lies in a hole";
        }
    }
    const vd_store *store = &model->store;
    if (s->place.table != VD_HOLDING) {
        return NULL;
    }
    const struct {
        const vd_order *order;
        bool there;
        const char *wrong;
    } orders[] = {
        {&store->order, store->needed, "lies on the register that stores everything"},
        {&model->login.order, model->login.order.address != 0, "lies on the register where the password is said"},
        {&model->slots.order, model->slots.saved, "lies on the register that saves a slot"}};
    for (size_t i = 0; i < sizeof orders / sizeof orders[0]; i++) {
        if (orders[i].there && covers(&s->place, orders[i].order)) {
            return orders[i].wrong;
        }
    }
    for (uint8_t i = 0; i < model->action_count; i++) {
        if (covers(&s->place, &model->actions[i].order)) {
            return "lies on the register of an action";
        }
    }
    if (store->proof == VD_PROOF_BANK && (uint32_t)s->place.address + store->bank_offset + s->place.words > 0x10000u) {
        return "has its stored value beyond the last register";
    }
    return NULL;
}

/* Who is like another, or gets decimals from one: its place holds those counts too, and that one is a register. */
static const char *check_dependence(const vd_model *model, const vd_setting *s)
{
    for (uint16_t i = 0; i < s->like_count; i++) {
        if (!fits(&s->place, s->like[i].of->min, s->like[i].of->max)) {
            return "is like something that its registers cannot hold";
        }
    }
    bool sound = vd_index(s->places_from) == VD_NONE || s->like_count > 0 ||
                 model->settings[vd_index(s->places_from)].place.table == VD_HOLDING;
    return sound ? NULL : "takes its decimals from a setting that is no holding register";
}

const char *vd_registers_judge_setting(const vd_model *model, const vd_setting *setting, vd_where *where)
{
    const char *wrong = check_place(model, setting);
    *where = wrong != NULL ? VD_IN_PLACE : VD_IN_RANGE;
    if (wrong == NULL &&
        !holds_all(setting)) { /* whole registers: then it is the range that is too wide, most likely */
        wrong = "has a range that its registers cannot hold";
    }
    return wrong != NULL ? wrong : check_dependence(model, setting);
}

/* ---- Side by side ---- */

static uint32_t position(const vd_place *place)
{
    return ((uint32_t)place->table << 16 | place->address) << 4 | place->low_bit;
}

static bool place_after(const void *about, uint16_t a, uint16_t b)
{
    const vd_model *model = about;
    return position(&model->settings[a].place) > position(&model->settings[b].place);
}

static bool collide(const vd_place *a, const vd_place *b, uint32_t offset)
{
    uint32_t from = a->address + offset;
    if (a->table != b->table || from >= (uint32_t)b->address + b->words || b->address >= from + a->words) {
        return false;
    }
    bool fields = a->bits > 0 && b->bits > 0;
    return !fields || (a->low_bit < b->low_bit + b->bits && b->low_bit < a->low_bit + a->bits);
}

/* Registers once, live and stored. In order of place, whoever collides with one before collides with the one that
 * reaches furthest, or with a field of its own register. */
static void judge_neighbours(const vd_model *model, uint16_t *by_place, vd_judge *judge)
{
    const vd_setting *settings = model->settings;
    const vd_store *store = &model->store;
    vd_settings_sort(by_place, model->setting_count, place_after, model);
    uint32_t furthest = 0, other = 0;
    for (uint32_t i = 1; i < model->setting_count; i++) {
        const vd_setting *one = &settings[by_place[i]], *reach = &settings[by_place[furthest]];
        const vd_setting *before = &settings[by_place[i - 1]];
        if (collide(&reach->place, &one->place, 0) || collide(&before->place, &one->place, 0)) {
            char what[VD_ALLOWED_SIZE];
            vd_writer writer = vd_writer_start(what, sizeof what);
            vd_writer_add(&writer, "shares a register with ");
            vd_writer_add(&writer, collide(&reach->place, &one->place, 0) ? reach->words->key : before->words->key);
            vd_judge_complain(judge, one, VD_IN_PLACE, what);
        }
        bool further = reach->place.table != one->place.table ||
                       one->place.address + one->place.words >= reach->place.address + reach->place.words;
        furthest = further ? i : furthest;
    }
    for (uint32_t i = 0; i < model->setting_count && store->proof == VD_PROOF_BANK; i++) {
        const vd_place *place = &settings[by_place[i]].place;
        if (place->table != VD_HOLDING) {
            continue;
        }
        uint32_t from = (uint32_t)place->address + store->bank_offset;
        while (other < model->setting_count && settings[by_place[other]].place.table == VD_HOLDING &&
               (uint32_t)settings[by_place[other]].place.address + settings[by_place[other]].place.words <= from) {
            other++;
        }
        if (other < model->setting_count && collide(place, &settings[by_place[other]].place, store->bank_offset)) {
            char what[VD_ALLOWED_SIZE];
            vd_writer writer = vd_writer_start(what, sizeof what);
            vd_writer_add(&writer, "has a bank that lies on settings: the stored value of ");
            vd_writer_add(&writer, settings[by_place[i]].words->key);
            vd_writer_add(&writer, " would be where ");
            vd_writer_add(&writer, settings[by_place[other]].words->key);
            vd_writer_add(&writer, " lives");
            vd_judge_complain(judge, NULL, VD_IN_STORE, what);
            return; /* the others for the same reason */
        }
    }
}

/* ---- The model as a whole ---- */

static const char *check_identify(const vd_model *model)
{
    const vd_identify *identify = &model->identify;
    const vd_place *places[] = {&identify->maker_place, &identify->product_place, &identify->firmware_place,
                                &identify->serial_place};
    unsigned low = 0x10000, high = 0;
    for (size_t i = 0; i < sizeof places / sizeof places[0] && identify->way == VD_IDENTIFY_REGISTERS; i++) {
        const vd_place *place = places[i];
        if (place->words == 0) {
            continue;
        }
        if (place->table != identify->product_place.table || place->form != VD_CHARACTERS) {
            return "has its identity scattered over two tables, or as a number";
        }
        low = place->address < low ? place->address : low;
        high = place->address + place->words > high ? (unsigned)place->address + place->words : high;
    }
    bool registers = identify->way == VD_IDENTIFY_REGISTERS;
    return registers && (high <= low || high - low > 125) ? "has an identity that no one request can read" : NULL;
}

static const char *check_line(const vd_model *model)
{
    bool fits = model->line.data_bits >= vd_framing_of(model->language)->least_data_bits;
    return fits ? NULL : "has a line of seven data bits, and its frames of bytes take eight";
}

static const char *check_talker(const vd_model *model)
{
    bool talks = model->lines.talker != NULL && model->lines.talker[0] != '\0';
    return talks ? "has a talker, which only sentences have" : NULL;
}

static const char *check_restart(const vd_model *model)
{
    return model->undoes == VD_UNDOES_LOGIN ? "has a restart that undoes the login, which registers have no word for"
                                            : NULL;
}

/* A login that Verdite carries out; without a register it is only told. */
static const char *check_login(const vd_model *model)
{
    const vd_login *login = &model->login;
    if (login->order.word != NULL) {
        return "has a word for the login, which only units that talk in lines have";
    }
    if (login->refusal > 4) {
        return "has a login that is wanted by an exception beyond 4";
    }
    return login->order.address != 0 && vd_index(login->setting) < model->setting_count &&
                   login->order.address + (uint32_t)model->settings[vd_index(login->setting)].place.words > 0x10000u
               ? "has a login beyond the last register"
               : NULL;
}

void vd_registers_judge(const vd_model *model, uint16_t *order, vd_judge *judge)
{
    static const struct {
        const char *(*check)(const vd_model *);
        vd_where where;
    } checks[] = {{check_line, VD_IN_LINE},
                  {check_talker, VD_IN_SPEECH},
                  {check_identify, VD_IN_IDENTIFY},
                  {check_restart, VD_IN_RESTART},
                  {check_login, VD_IN_LOGIN}};
    judge_neighbours(model, order, judge);
    for (size_t i = 0; i < sizeof checks / sizeof checks[0]; i++) {
        const char *wrong = checks[i].check(model);
        if (wrong != NULL) {
            vd_judge_complain(judge, NULL, checks[i].where, wrong);
        }
    }
}
