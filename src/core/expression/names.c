/* SPDX-License-Identifier: MIT
 * Reading expressions: settings by name, and literals. */
#include "parts.h"

#include <string.h>

static vd_kind kind_of_setting(vd_compiler *c, vd_spot spot)
{
    static const uint8_t classes[VD_TYPE_COUNT] = {
        [VD_INTEGER] = VD_IS_NUMBER,    [VD_DECIMAL] = VD_IS_NUMBER,   [VD_DURATION] = VD_IS_NUMBER,
        [VD_ZONE] = VD_IS_NUMBER,       [VD_PORT] = VD_IS_NUMBER,      [VD_TRUTH] = VD_IS_TRUTH,
        [VD_CHOICE] = VD_IS_CHOICE,     [VD_FLAGS] = VD_IS_FLAGS,      [VD_TEXT] = VD_IS_TEXT,
        [VD_HOST] = VD_IS_TEXT,         [VD_URL] = VD_IS_TEXT,         [VD_PHONE] = VD_IS_TEXT,
        [VD_APN] = VD_IS_TEXT,          [VD_IMEI] = VD_IS_TEXT,        [VD_ICCID] = VD_IS_TEXT,
        [VD_DATE_TIME] = VD_IS_DATE,    [VD_CLOCK] = VD_IS_DATE,       [VD_COUNTER] = VD_IS_NUMBER,
        [VD_TIME_OF_DAY] = VD_IS_CLOCK, [VD_IPV4] = VD_IS_ADDRESS,     [VD_MASK] = VD_IS_ADDRESS,
        [VD_GATEWAY] = VD_IS_ADDRESS,   [VD_POSITION] = VD_IS_OTHER,   [VD_IPV6] = VD_IS_OTHER,
        [VD_BYTES] = VD_IS_OTHER,       [VD_IDENTIFIER] = VD_IS_OTHER, [VD_KEY] = VD_IS_OTHER};
    const vd_setting *setting = &c->model->settings[vd_index(spot.setting)];
    bool time = setting->traits->id == VD_DURATION || setting->traits->id == VD_ZONE;
    vd_kind kind = {.is = classes[setting->traits->id], .spot = spot};
    vd_measure measure = vd_measure_find(c->model, time ? "s" : setting->measure);
    kind.dimension = measure.dimension;
    kind.sign = measure.sign;
    if (setting->like_count > 0) { /* comparable with what hangs on the same choice only */
        kind.dimension = (vd_dimension){.own = c->model->settings[vd_index(setting->places_from)].words->key};
        kind.sign = NULL;
    }
    return kind;
}

/* ---- Settings by name ---- */

static uint16_t find_key(const vd_compiler *c, const char *key, size_t length)
{
    char text[96];
    if (length >= sizeof text) {
        return VD_NONE;
    }
    memcpy(text, key, length);
    text[length] = '\0';
    return vd_model_find(c->model, text);
}

static uint16_t find_member(const vd_compiler *c, uint16_t block, const char *member, size_t length)
{
    const vd_block *b = &c->model->blocks[block];
    for (uint16_t i = 0; i < b->members; i++) {
        const char *key = c->model->settings[b->first + i].words->key, *last = key + strlen(b->key) + strlen(".1.");
        if (vd_text_is(member, length, last)) {
            return (uint16_t)(b->first + i);
        }
    }
    return VD_NONE;
}

/* "alarm.*.limit": the block that the star is about, and the member. */
static uint16_t find_starred(const vd_compiler *c, const char *word, size_t length, uint16_t *member)
{
    size_t star = 0;
    while (star + 2 < length && memcmp(word + star, ".*.", 3) != 0) {
        star++;
    }
    for (uint16_t i = 0; i < c->model->block_count && star + 3 < length; i++) {
        if (vd_text_is(word, star, c->model->blocks[i].key)) {
            *member = find_member(c, i, word + star + 3, length - star - 3);
            return i;
        }
    }
    return VD_NONE;
}

/* A setting by its name: absolute, of "this" item, or of each item. */
static bool resolve(vd_compiler *c, size_t from, size_t length, vd_spot *spot)
{
    const char *word = c->text + from;
    uint16_t member = VD_NONE;
    *spot = vd_spot_of(find_key(c, word, length), 0);
    if (vd_index(spot->setting) != VD_NONE) {
        return true;
    }
    const vd_block *blocks = c->model->blocks;
    if (length > 5 && memcmp(word, "this.", 5) == 0 && c->block != VD_NONE) {
        *spot = vd_spot_of(find_member(c, c->block, word + 5, length - 5), blocks[c->block].members);
        return vd_index(spot->setting) != VD_NONE;
    }
    if (length > 6 && memcmp(word, "outer.", 6) == 0 && c->block != VD_NONE &&
        vd_index(blocks[c->block].outer) != VD_NONE) {
        uint16_t outer = vd_index(blocks[c->block].outer), found = find_member(c, outer, word + 6, length - 6);
        spot->setting = vd_ref_to((uint16_t)(found + blocks[c->block].outer_item * blocks[outer].members));
        return found != VD_NONE;
    }
    uint16_t block = find_starred(c, word, length, &member);
    if (block == VD_NONE || member == VD_NONE || c->fold_item == VD_NONE ||
        (c->fold_block != VD_NONE && c->fold_block != block)) {
        return false;
    }
    c->fold_block = block;
    spot->setting = vd_ref_to((uint16_t)(member + c->fold_item * blocks[block].members));
    return true;
}

vd_kind vd_expr_item(vd_compiler *c, size_t from, size_t length)
{
    bool outer = vd_expr_word_is(c, from, length, "outer");
    const vd_block *block = c->block != VD_NONE ? &c->model->blocks[c->block] : NULL;
    if (outer && block != NULL && vd_index(block->outer) != VD_NONE) {
        vd_expr_emit(c, VD_OP_CONSTANT, block->outer_item + 1, 1, 0, 1);
    } else if (!outer && c->fold_item != VD_NONE) {
        vd_expr_emit(c, VD_OP_CONSTANT, c->fold_item + 1, 1, 0, 1);
    } else if (!outer && block != NULL) {
        vd_expr_emit(c, VD_OP_ITEM, 0, 0, 0, 1);
    } else {
        return vd_expr_fail_at(c, from, from + length,
                               outer
                                   ? "there is no block around this one"
                                   : "there is no item here: settings of blocks, rules with each, and sum and its kin "
                                     "have one");
    }
    return vd_expr_plain(VD_IS_NUMBER);
}

vd_kind vd_expr_items(vd_compiler *c, vd_op op, size_t from, size_t length)
{
    vd_spot spot = vd_spot_of(VD_NONE, 0);
    uint16_t outer = c->fold_item, outer_block = c->fold_block;
    c->fold_item = 0;
    c->fold_block = VD_NONE;
    bool found = resolve(c, from, length, &spot) && c->fold_block != VD_NONE;
    const vd_block *block = found ? &c->model->blocks[c->fold_block] : NULL;
    c->fold_item = outer;
    c->fold_block = outer_block;
    if (!found) {
        return vd_expr_fail_at(c, from, from + length, "a repeated setting such as alarm.*.limit belongs here");
    }
    vd_kind kind = kind_of_setting(c, spot);
    vd_expr_emit(c, op, block->members, block->count, vd_index(spot.setting), 1);
    bool ordered = kind.is == VD_IS_NUMBER || kind.is == VD_IS_DATE || kind.is == VD_IS_CLOCK;
    return op == VD_OP_DISTINCT || ordered
               ? vd_expr_plain(VD_IS_TRUTH)
               : vd_expr_fail_at(c, from, from + length, "these can only be equal or unequal");
}

bool vd_expr_names_setting(vd_compiler *c, size_t from, size_t length)
{
    vd_spot spot;
    return resolve(c, from, length, &spot);
}

vd_kind vd_expr_load(vd_compiler *c, vd_op op, size_t from, size_t length)
{
    vd_spot spot;
    if (!resolve(c, from, length, &spot)) {
        bool here = c->block == VD_NONE && length > 5 && memcmp(c->text + from, "this.", 5) == 0;
        return vd_expr_fail_at(c, from, from + length,
                               here ? "there is no item here: this. belongs in a block, and in a rule with each"
                                    : "this name is unknown");
    }
    vd_expr_emit(c, op, 0, vd_index(spot.setting), spot.stride, 1);
    vd_kind kind = kind_of_setting(c, spot);
    vd_measure measure = vd_measure_find(c->model, kind.sign != NULL ? kind.sign : "");
    if (op != VD_OP_LOAD) {
        return vd_expr_plain(VD_IS_TRUTH);
    }
    if (vd_expr_is_number(&kind) && (measure.scale.number != 1 || measure.scale.below != 1)) {
        vd_expr_emit(c, VD_OP_CONSTANT, measure.scale.number, (uint32_t)measure.scale.below, 0, 1);
        vd_expr_emit(c, VD_OP_MULTIPLY, 0, 0, 0, -1);
    }
    return kind;
}

/* ---- Literals ---- */

vd_kind vd_expr_number(vd_compiler *c)
{
    size_t from = c->at, digits = 0;
    vd_value value;
    /* A comma parts arguments here, so only the point is a decimal mark. */
    size_t end = c->at;
    while (end < c->length && (vd_is_digit(c->text[end]) || c->text[end] == '.')) {
        end++;
    }
    size_t taken = vd_take_number((vd_span){c->text + c->at, end - c->at}, &value, &digits);
    int64_t below = 1;
    if (taken == 0 || digits > 15 || value.places > 9 || !vd_scale_up(&below, value.places)) {
        return vd_expr_fail_at(c, from, end, "this is not a number of up to 15 digits, 9 of them after the point");
    }
    c->at += taken;
    if (c->at < c->length && c->text[c->at] == ':') { /* a time of day */
        uint32_t minute = 0;
        vd_span rest = {c->text + c->at + 1, c->length - c->at - 1};
        if (value.places > 0 || value.number > 23 || !vd_take_whole(&rest, 59, &minute, NULL)) {
            return vd_expr_fail_at(c, from, end + 1, "a time of day is HH:MM");
        }
        c->at = (size_t)(rest.at - c->text);
        vd_expr_emit(c, VD_OP_CONSTANT, value.number * 3600 + minute * 60, 1, 0, 1);
        return vd_expr_plain(VD_IS_CLOCK);
    }
    size_t blanks = 0;
    while (c->at + blanks < c->length && vd_is_blank(c->text[c->at + blanks])) {
        blanks++;
    }
    vd_kind kind = vd_expr_plain(VD_IS_NUMBER);
    const char *sign = "";
    size_t unit = vd_measure_at(c->model, c->text + c->at + blanks, c->length - c->at - blanks, &sign);
    vd_measure measure = vd_measure_find(c->model, sign);
    vd_ratio ratio = {0, 1};
    if (unit > 0) {
        c->at += blanks + unit;
        kind.sign = sign;
        kind.dimension = measure.dimension;
    }
    if (!vd_ratio_make(value.number, below, &ratio) || !vd_ratio_multiply(ratio, measure.scale, &ratio) ||
        ratio.below > UINT32_MAX) {
        return vd_expr_fail_at(c, from, c->at, "that number is too large or too fine");
    }
    vd_expr_emit(c, VD_OP_CONSTANT, ratio.number, (uint32_t)ratio.below, 0, 1);
    return kind;
}

/* The draft has room for all the characters of its expressions. */
static void emit_text(vd_compiler *c, const char *text, size_t length)
{
    vd_draft *draft = c->draft;
    vd_expr_emit(c, VD_OP_TEXT, draft->text_length, (uint32_t)length, 0, 1);
    if (!c->failed && length > draft->text_size - draft->text_length) {
        vd_expr_fail_at(c, c->at, c->at, "that is too much for one expression");
    } else if (!c->failed) {
        memcpy(draft->texts + draft->text_length, text, length);
        draft->text_length += (uint32_t)length;
    }
}

vd_kind vd_expr_text(vd_compiler *c)
{
    char quote = c->text[c->at];
    size_t from = ++c->at;
    while (c->at < c->length && c->text[c->at] != quote) {
        c->at++;
    }
    if (c->at == c->length) {
        return vd_expr_fail_at(c, from - 1, c->length, "the quotation mark is not closed");
    }
    emit_text(c, c->text + from, c->at - from);
    c->at++;
    return vd_expr_plain(VD_IS_TEXT);
}

void vd_expr_value_of(vd_compiler *c, uint16_t setting)
{
    const vd_setting *about = &c->model->settings[setting];
    vd_meaning meaning = vd_setting_meaning(about);
    char quote = c->text[c->at];
    size_t from = c->at + 1, end = from;
    vd_typed typed;
    vd_fault fault = {0};
    while (end < c->length && c->text[end] != quote) {
        end++;
    }
    if (end == c->length) {
        vd_expr_fail_at(c, from - 1, end, "the quotation mark is not closed");
    } else if (vd_value_parse(&meaning, c->text + from, end - from, &typed, &fault) != VD_OK) {
        char why[VD_ALLOWED_SIZE];
        vd_writer writer = vd_writer_start(why, sizeof why);
        vd_writer_add(&writer, "that is no value of ");
        vd_writer_add(&writer, about->words->key);
        vd_writer_add(&writer, ", which takes ");
        vd_meaning_print(&meaning, &writer);
        vd_expr_fail_at(c, from, end, why);
    } else if (vd_setting_is(about, VD_TYPE_BYTES)) {
        emit_text(c, typed.value.text, typed.value.length);
        c->at = end + 1;
    } else {
        vd_expr_emit(c, VD_OP_CONSTANT, typed.value.number, 1, 0, 1);
        c->at = end + 1;
    }
}

/* "v1.10": a firmware version. */
bool vd_expr_is_version(const vd_compiler *c, size_t from, size_t length)
{
    return length > 1 && c->text[from] == 'v' && vd_is_digit(c->text[from + 1]);
}

vd_kind vd_expr_version(vd_compiler *c, size_t from, size_t length)
{
    char digits[24];
    size_t size = length < sizeof digits ? length : sizeof digits - 1;
    memcpy(digits, c->text + from, size);
    digits[size] = '\0';
    vd_expr_emit(c, VD_OP_CONSTANT, vd_firmware_parse(digits), 1, 0, 1);
    return vd_expr_plain(VD_IS_VERSION);
}
