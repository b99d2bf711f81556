/* SPDX-License-Identifier: MIT
 * Reading expressions: from text to steps, with every unit of measure checked on the way. */
#include "expression.h"

#include <string.h>

#define MOST_DEPTH 16u /* brackets in brackets, and values waiting on the stack */
#define MOST_STEPS 4096u

typedef struct compiler {
    const vd_model *model;
    vd_book *book;
    const char *text;
    size_t length, at;
    uint16_t block;      /* what "this" is about */
    uint16_t fold_block; /* what "*" is about, inside sum() and its kin */
    uint16_t fold_item;
    uint16_t fold_setting; /* the first that has a star */
    uint32_t first;
    unsigned depth, stack;
    bool mention, failed;
    vd_fault *fault;
} compiler;

static vd_kind expression(compiler *c);

/* Records where and why, once; the rest of the text is then passed over. */
static vd_kind fail_at(compiler *c, size_t from, size_t to, const char *why)
{
    char said[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(said, sizeof said);
    if (!c->failed) {
        vd_writer_add_bytes(&writer, c->text + from, to > from ? to - from : 0);
        vd_fault_note(c->fault, VD_EXPRESSION_WRONG, NULL, to > from ? said : "the end", why);
        vd_fault_number(c->fault, VD_EXPRESSION_WRONG, NULL, (int32_t)from + 1, 0);
    }
    c->failed = true;
    c->at = c->length;
    return (vd_kind){.class = VD_IS_OTHER, .setting = VD_NONE};
}

static void emit(compiler *c, vd_op op, int64_t number, uint32_t a, uint16_t b, int pushes)
{
    c->stack = (unsigned)((int)c->stack + pushes);
    if (c->failed) {
        return;
    }
    if (c->stack > MOST_DEPTH || c->book->step_count - c->first >= MOST_STEPS ||
        c->book->step_count == c->book->step_size) {
        fail_at(c, 0, c->length, "it is too long or too deep; part it in two");
        return;
    }
    c->book->steps[c->book->step_count++] = (vd_step){.of.number = number, .a = a, .b = b, .op = (uint8_t)op};
}

/* ---- Words ---- */

static char char_at(const compiler *c, size_t at)
{
    return vd_char_at((vd_span){c->text, c->length}, at);
}

static void skip_blanks(compiler *c)
{
    while (c->at < c->length && vd_is_blank(c->text[c->at])) {
        c->at++;
    }
}

/* Letters, digits, points and stars; a hyphen only inside, so that "a - b" is a difference and "a-b" a name. */
static size_t word_length(const compiler *c, size_t from)
{
    size_t at = from;
    if (at >= c->length || !vd_is_letter(c->text[at])) {
        return 0;
    }
    while (at < c->length) {
        char ch = c->text[at], next = char_at(c, at + 1);
        bool inside = vd_is_letter(ch) || vd_is_digit(ch) ||
                      ((ch == '.' || ch == '-' || ch == '_') && (vd_is_letter(next) || vd_is_digit(next))) ||
                      (ch == '.' && next == '*') || (ch == '*' && c->text[at - 1] == '.' && next == '.');
        if (!inside) {
            break;
        }
        at++;
    }
    return at - from;
}

static bool word_is(const compiler *c, size_t from, size_t length, const char *word)
{
    return strlen(word) == length && memcmp(c->text + from, word, length) == 0;
}

/* Takes this word or sign if it is what comes next. */
static bool take(compiler *c, const char *what)
{
    skip_blanks(c);
    size_t length = strlen(what);
    if (vd_is_letter(what[0]) ? !word_is(c, c->at, word_length(c, c->at), what)
                              : c->length - c->at < length || memcmp(c->text + c->at, what, length) != 0) {
        return false;
    }
    c->at += length;
    return true;
}

static bool expect(compiler *c, const char *what)
{
    if (take(c, what)) {
        return true;
    }
    char why[48];
    vd_writer writer = vd_writer_start(why, sizeof why);
    vd_writer_add(&writer, "\"");
    vd_writer_add(&writer, what);
    vd_writer_add(&writer, "\" belongs here");
    fail_at(c, c->at, c->at < c->length ? c->at + 1 : c->at, why);
    return false;
}

/* ---- Kinds ---- */

static vd_kind plain(vd_kind_class class)
{
    return (vd_kind){.class = (uint8_t) class, .setting = VD_NONE};
}

static vd_kind kind_of_setting(compiler *c, uint16_t index, uint16_t stride)
{
    static const uint8_t classes[VD_TYPE_COUNT] = {
        [VD_INTEGER] = VD_IS_NUMBER, [VD_DECIMAL] = VD_IS_NUMBER,    [VD_DURATION] = VD_IS_NUMBER,
        [VD_ZONE] = VD_IS_NUMBER,    [VD_PORT] = VD_IS_NUMBER,       [VD_TRUTH] = VD_IS_TRUTH,
        [VD_CHOICE] = VD_IS_CHOICE,  [VD_FLAGS] = VD_IS_FLAGS,       [VD_TEXT] = VD_IS_TEXT,
        [VD_HOST] = VD_IS_TEXT,      [VD_URL] = VD_IS_TEXT,          [VD_PHONE] = VD_IS_TEXT,
        [VD_APN] = VD_IS_TEXT,       [VD_IMEI] = VD_IS_TEXT,         [VD_ICCID] = VD_IS_TEXT,
        [VD_DATE_TIME] = VD_IS_DATE, [VD_TIME_OF_DAY] = VD_IS_CLOCK, [VD_IPV4] = VD_IS_ADDRESS,
        [VD_MASK] = VD_IS_ADDRESS,   [VD_GATEWAY] = VD_IS_ADDRESS,   [VD_POSITION] = VD_IS_OTHER,
        [VD_IPV6] = VD_IS_OTHER,     [VD_BYTES] = VD_IS_OTHER,       [VD_IDENTIFIER] = VD_IS_OTHER,
        [VD_KEY] = VD_IS_OTHER};
    const vd_setting *setting = &c->model->settings[index];
    bool time = setting->type == VD_DURATION || setting->type == VD_ZONE;
    vd_kind kind = {.class = classes[setting->type], .setting = index, .stride = stride};
    vd_measure measure = vd_measure_find(time ? "s" : setting->measure);
    kind.dimension = measure.dimension;
    kind.sign = measure.sign;
    return kind;
}

static bool is_number(const vd_kind *kind)
{
    return kind->class == VD_IS_NUMBER;
}

/* ---- Settings by name ---- */

static uint16_t find_key(const compiler *c, const char *key, size_t length)
{
    char text[96];
    if (length >= sizeof text) {
        return VD_NONE;
    }
    memcpy(text, key, length);
    text[length] = '\0';
    return vd_model_find(c->model, text);
}

static uint16_t find_member(const compiler *c, uint16_t block, const char *member, size_t length)
{
    const vd_block *b = &c->model->blocks[block];
    for (uint16_t i = 0; i < b->members; i++) {
        const char *key = c->model->settings[b->first + i].key, *last = key + strlen(b->key) + strlen(".1.");
        if (strlen(last) == length && memcmp(last, member, length) == 0) {
            return (uint16_t)(b->first + i);
        }
    }
    return VD_NONE;
}

/* "alarm.*.limit": the block that the star is about, and the member. */
static uint16_t find_starred(const compiler *c, const char *word, size_t length, uint16_t *member)
{
    size_t star = 0;
    while (star + 2 < length && memcmp(word + star, ".*.", 3) != 0) {
        star++;
    }
    for (uint16_t i = 0; i < c->model->block_count && star + 3 < length; i++) {
        if (strlen(c->model->blocks[i].key) == star && memcmp(c->model->blocks[i].key, word, star) == 0) {
            *member = find_member(c, i, word + star + 3, length - star - 3);
            return i;
        }
    }
    return VD_NONE;
}

static void note_mention(compiler *c, uint16_t setting, uint16_t stride)
{
    if (c->mention && !c->failed && c->book->mention_count < c->book->mention_size) {
        c->book->mentions[c->book->mention_count++] = (vd_mention){setting, stride};
    }
}

/* A setting by its name: absolute, of "this" item, or of each item. */
static bool resolve(compiler *c, size_t from, size_t length, uint16_t *setting, uint16_t *stride)
{
    const char *word = c->text + from;
    uint16_t member = VD_NONE;
    *stride = 0;
    *setting = find_key(c, word, length);
    if (*setting != VD_NONE) {
        return true;
    }
    if (length > 5 && memcmp(word, "this.", 5) == 0 && c->block != VD_NONE) {
        *setting = find_member(c, c->block, word + 5, length - 5);
        *stride = c->model->blocks[c->block].members;
        return *setting != VD_NONE;
    }
    uint16_t block = find_starred(c, word, length, &member);
    if (block == VD_NONE || member == VD_NONE || c->fold_item == VD_NONE ||
        (c->fold_block != VD_NONE && c->fold_block != block)) {
        return false;
    }
    c->fold_block = block;
    *setting = (uint16_t)(member + c->fold_item * c->model->blocks[block].members);
    c->fold_setting = c->fold_setting == VD_NONE ? *setting : c->fold_setting;
    return true;
}

static vd_kind load(compiler *c, vd_op op, size_t from, size_t length)
{
    uint16_t setting = VD_NONE, stride = 0;
    if (!resolve(c, from, length, &setting, &stride)) {
        return fail_at(c, from, from + length, "that is the name of nothing");
    }
    note_mention(c, setting, stride);
    emit(c, op, 0, setting, stride, 1);
    vd_kind kind = kind_of_setting(c, setting, stride);
    vd_measure measure = vd_measure_find(kind.sign != NULL ? kind.sign : "");
    if (op != VD_OP_LOAD) {
        return plain(VD_IS_TRUTH);
    }
    if (is_number(&kind) && (measure.scale.number != 1 || measure.scale.below != 1)) {
        emit(c, VD_OP_CONSTANT, measure.scale.number, (uint32_t)measure.scale.below, 0, 1);
        emit(c, VD_OP_MULTIPLY, 0, 0, 0, -1);
    }
    return kind;
}

/* ---- Literals ---- */

static vd_kind number(compiler *c)
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
        return fail_at(c, from, end, "that is no number of up to 15 digits, 9 of them behind the point");
    }
    c->at += taken;
    if (c->at < c->length && c->text[c->at] == ':') { /* a time of day */
        uint32_t minute = 0;
        vd_span rest = {c->text + c->at + 1, c->length - c->at - 1};
        if (value.places > 0 || value.number > 23 || !vd_take_whole(&rest, 59, &minute, NULL)) {
            return fail_at(c, from, end + 1, "a time of day is HH:MM");
        }
        c->at = (size_t)(rest.at - c->text);
        emit(c, VD_OP_CONSTANT, value.number * 3600 + minute * 60, 1, 0, 1);
        return plain(VD_IS_CLOCK);
    }
    size_t blanks = 0;
    while (c->at + blanks < c->length && vd_is_blank(c->text[c->at + blanks])) {
        blanks++;
    }
    vd_kind kind = plain(VD_IS_NUMBER);
    const char *sign = "";
    size_t unit = vd_measure_at(c->text + c->at + blanks, c->length - c->at - blanks, &sign);
    vd_measure measure = vd_measure_find(sign);
    vd_ratio ratio = {0, 1};
    if (unit > 0) {
        c->at += blanks + unit;
        kind.sign = sign;
        kind.dimension = measure.dimension;
    }
    if (!vd_ratio_make(value.number, below, &ratio) || !vd_ratio_multiply(ratio, measure.scale, &ratio) ||
        ratio.below > UINT32_MAX) {
        return fail_at(c, from, c->at, "that number is too large or too fine");
    }
    emit(c, VD_OP_CONSTANT, ratio.number, (uint32_t)ratio.below, 0, 1);
    return kind;
}

static vd_kind text(compiler *c)
{
    char quote = c->text[c->at];
    size_t from = ++c->at;
    while (c->at < c->length && c->text[c->at] != quote) {
        c->at++;
    }
    if (c->at == c->length) {
        return fail_at(c, from - 1, c->length, "the quotation mark is not closed");
    }
    emit(c, VD_OP_TEXT, 0, (uint32_t)(c->at - from), 0, 1);
    if (!c->failed) {
        c->book->steps[c->book->step_count - 1].of.text = c->text + from;
    }
    c->at++;
    return plain(VD_IS_TEXT);
}

/* "v1.10": a firmware version. */
static bool is_version(const compiler *c, size_t from, size_t length)
{
    return length > 1 && c->text[from] == 'v' && vd_is_digit(c->text[from + 1]);
}

static vd_kind version(compiler *c, size_t from, size_t length)
{
    char digits[24];
    size_t size = length < sizeof digits ? length : sizeof digits - 1;
    memcpy(digits, c->text + from, size);
    digits[size] = '\0';
    emit(c, VD_OP_CONSTANT, vd_firmware_parse(digits), 1, 0, 1);
    return plain(VD_IS_VERSION);
}

/* ---- Functions ---- */

/* sum, count, any, all: the same text once for each item of the block that its stars are about. */
static vd_kind fold(compiler *c, vd_op joint, bool truths, bool counts)
{
    size_t from = c->at, end = c->at;
    vd_kind kind = plain(VD_IS_NUMBER);
    uint16_t outer_block = c->fold_block, items = 1;
    if (c->fold_item != VD_NONE) {
        return fail_at(c, from, c->length, "one repetition cannot stand inside another");
    }
    c->fold_block = VD_NONE;
    for (uint16_t i = 0; i < items && !c->failed; i++) {
        c->at = from;
        c->fold_item = i;
        c->fold_setting = VD_NONE;
        vd_kind inner = expression(c);
        if (c->failed) {
            break;
        }
        if (inner.class != (truths || counts ? VD_IS_TRUTH : VD_IS_NUMBER)) {
            fail_at(c, from, c->at, truths || counts ? "a condition belongs here" : "a number belongs here");
            break;
        }
        if (c->fold_block == VD_NONE) {
            fail_at(c, from, c->at, "no repeated setting such as alarm.*.limit stands here");
            break;
        }
        kind = inner;
        items = c->model->blocks[c->fold_block].count;
        if (c->model->settings[c->fold_setting].when != NULL) { /* items that are not there are passed over */
            emit(c, VD_OP_UNLESS_ABSENT, joint == VD_OP_AND, c->fold_setting, 0, 0);
        }
        if (i > 0) {
            emit(c, joint, 0, 0, 0, -1);
        }
        end = c->at;
    }
    c->fold_item = VD_NONE;
    c->fold_block = outer_block;
    c->at = c->failed ? c->length : end;
    kind.setting = VD_NONE;
    return counts ? plain(VD_IS_NUMBER) : kind;
}

static bool has_text(compiler *c, const vd_kind *kind, size_t from)
{
    if (kind->class != VD_IS_TEXT && !c->failed) {
        fail_at(c, from, c->at, "a text belongs here");
    }
    return !c->failed;
}

static vd_kind extreme(compiler *c, vd_op op)
{
    size_t from = c->at;
    vd_kind kind = expression(c);
    while (!c->failed && take(c, ",")) {
        vd_kind next = expression(c);
        emit(c, op, 0, 0, 0, -1);
        if (!c->failed &&
            (!is_number(&kind) || !is_number(&next) || !vd_dimension_equal(&kind.dimension, &next.dimension))) {
            fail_at(c, from, c->at, "these are not numbers of one unit of measure");
        }
    }
    kind.setting = VD_NONE;
    return kind;
}

static vd_kind about_setting(compiler *c, vd_op op)
{
    skip_blanks(c);
    size_t from = c->at, length = word_length(c, from);
    if (length == 0) {
        return fail_at(c, from, from + 1 < c->length ? from + 1 : c->length, "the name of a setting belongs here");
    }
    c->at += length;
    return load(c, op, from, length);
}

static vd_kind same_network(compiler *c)
{
    size_t from = c->at;
    for (int i = 0; i < 3; i++) {
        vd_kind kind = i == 0 || expect(c, ",") ? expression(c) : plain(VD_IS_OTHER);
        if (!c->failed && kind.class != VD_IS_ADDRESS) {
            fail_at(c, from, c->at, "same-network takes two addresses and a mask");
        }
    }
    emit(c, VD_OP_SAME_NETWORK, 0, 0, 0, -2);
    return plain(VD_IS_TRUTH);
}

static vd_kind length_of(compiler *c)
{
    size_t from = c->at;
    vd_kind kind = expression(c);
    if (has_text(c, &kind, from)) {
        emit(c, VD_OP_LENGTH, 0, 0, 0, 0);
    }
    return plain(VD_IS_NUMBER);
}

static vd_kind starts_with(compiler *c)
{
    size_t from = c->at;
    vd_kind kind = expression(c);
    if (has_text(c, &kind, from) && expect(c, ",")) {
        from = c->at;
        vd_kind start = expression(c);
        if (has_text(c, &start, from)) {
            emit(c, VD_OP_STARTS, 0, 0, 0, -1);
        }
    }
    return plain(VD_IS_TRUTH);
}

static vd_kind f_sum(compiler *c)
{
    return fold(c, VD_OP_ADD, false, false);
}
static vd_kind f_count(compiler *c)
{
    return fold(c, VD_OP_ADD, false, true);
}
static vd_kind f_any(compiler *c)
{
    return fold(c, VD_OP_OR, true, false);
}
static vd_kind f_all(compiler *c)
{
    return fold(c, VD_OP_AND, true, false);
}
static vd_kind f_min(compiler *c)
{
    return extreme(c, VD_OP_LEAST);
}
static vd_kind f_max(compiler *c)
{
    return extreme(c, VD_OP_MOST);
}
static vd_kind f_changed(compiler *c)
{
    return about_setting(c, VD_OP_CHANGED);
}
static vd_kind f_factory(compiler *c)
{
    return about_setting(c, VD_OP_FACTORY);
}

static const struct {
    const char *name;
    vd_kind (*compile)(compiler *c);
} functions[] = {{"sum", f_sum},
                 {"count", f_count},
                 {"any", f_any},
                 {"all", f_all},
                 {"min", f_min},
                 {"max", f_max},
                 {"changed", f_changed},
                 {"factory", f_factory},
                 {"length", length_of},
                 {"starts", starts_with},
                 {"same-network", same_network}};

/* ---- From the inside out: values, products, sums, comparisons, conditions ---- */

static vd_kind name(compiler *c)
{
    size_t from = c->at, length = word_length(c, from);
    c->at += length;
    size_t after = c->at;
    skip_blanks(c);
    if (c->at < c->length && c->text[c->at] == '(') {
        for (size_t i = 0; i < sizeof functions / sizeof functions[0]; i++) {
            if (word_is(c, from, length, functions[i].name)) {
                c->at++;
                vd_kind kind = functions[i].compile(c);
                if (!c->failed) {
                    expect(c, ")");
                }
                return kind;
            }
        }
        return fail_at(c, from, from + length, "there is no such function");
    }
    c->at = after;
    if (word_is(c, from, length, "on") || word_is(c, from, length, "off")) {
        emit(c, VD_OP_CONSTANT, length == 2, 1, 0, 1);
        return plain(VD_IS_TRUTH);
    }
    if (word_is(c, from, length, "variant") || word_is(c, from, length, "firmware")) {
        bool variant = c->text[from] == 'v';
        emit(c, variant ? VD_OP_VARIANT : VD_OP_FIRMWARE, 0, 0, 0, 1);
        return plain(variant ? VD_IS_VARIANT : VD_IS_VERSION);
    }
    return is_version(c, from, length) ? version(c, from, length) : load(c, VD_OP_LOAD, from, length);
}

static vd_kind primary(compiler *c)
{
    skip_blanks(c);
    char ch = char_at(c, c->at);
    if (c->depth++ > MOST_DEPTH) {
        return fail_at(c, c->at, c->length, "there are too many brackets in brackets");
    }
    vd_kind kind;
    if (ch == '(') {
        c->at++;
        kind = expression(c);
        if (!c->failed) {
            expect(c, ")");
        }
    } else if (ch == '-') {
        c->at++;
        kind = primary(c);
        emit(c, VD_OP_NEGATE, 0, 0, 0, 0);
        kind = is_number(&kind) || c->failed ? kind : fail_at(c, c->at, c->at, "only a number can be negative");
        kind.setting = VD_NONE;
    } else if (vd_is_digit(ch)) {
        kind = number(c);
    } else if (ch == '"' || ch == '\'') {
        kind = text(c);
    } else if (vd_is_letter(ch)) {
        kind = name(c);
    } else {
        kind = fail_at(c, c->at, c->at < c->length ? c->at + 1 : c->at, "a value belongs here");
    }
    c->depth--;
    return kind;
}

static vd_kind product(compiler *c)
{
    size_t from = c->at;
    vd_kind kind = primary(c);
    for (;;) {
        bool times = take(c, "*"), by = !times && take(c, "/");
        if (c->failed || (!times && !by)) {
            return kind;
        }
        vd_kind next = primary(c);
        emit(c, times ? VD_OP_MULTIPLY : VD_OP_DIVIDE, 0, 0, 0, -1);
        if (c->failed) {
            return kind;
        }
        if (!is_number(&kind) || !is_number(&next)) {
            return fail_at(c, from, c->at, "only numbers can be multiplied and divided");
        }
        bool first_none = vd_dimension_none(&kind.dimension), next_none = vd_dimension_none(&next.dimension);
        bool alike = vd_dimension_equal(&kind.dimension, &next.dimension);
        if ((kind.dimension.own != NULL || next.dimension.own != NULL) && !next_none && !(times && first_none) &&
            !(by && alike)) {
            return fail_at(c, from, c->at, "these units of measure do not go together");
        }
        for (size_t i = 0; i < VD_BASES; i++) {
            int power = kind.dimension.power[i] + (times ? 1 : -1) * next.dimension.power[i];
            kind.dimension.power[i] = (int8_t)(power < -100 || power > 100 ? 0 : power);
        }
        kind.dimension.own = by && alike ? NULL : kind.dimension.own != NULL ? kind.dimension.own : next.dimension.own;
        /* Shown in the unit of the part that has one, where the other has none. */
        kind.sign = next_none ? kind.sign : first_none && times ? next.sign : NULL;
        kind.setting = VD_NONE;
    }
}

/* Dates and times of day: their difference is a duration, and a duration can be added to them. */
static bool sum_of_times(vd_kind *kind, const vd_kind *next, bool minus)
{
    bool clock = kind->class == VD_IS_DATE || kind->class == VD_IS_CLOCK;
    vd_measure second = vd_measure_find("s");
    if (clock && is_number(next) && vd_dimension_equal(&next->dimension, &second.dimension)) {
        return true;
    }
    if (clock && minus && next->class == kind->class) {
        *kind = plain(VD_IS_NUMBER);
        kind->dimension = second.dimension;
        return true;
    }
    return false;
}

static vd_kind sum(compiler *c)
{
    size_t from = c->at;
    vd_kind kind = product(c);
    for (;;) {
        bool plus = take(c, "+"), minus = !plus && take(c, "-");
        if (c->failed || (!plus && !minus)) {
            return kind;
        }
        vd_kind next = product(c);
        emit(c, plus ? VD_OP_ADD : VD_OP_SUBTRACT, 0, 0, 0, -1);
        bool numbers = is_number(&kind) && is_number(&next) && vd_dimension_equal(&kind.dimension, &next.dimension);
        kind.setting = VD_NONE;
        if (!c->failed && !numbers && !sum_of_times(&kind, &next, minus)) {
            return fail_at(c, from, c->at, "these are not numbers of one unit of measure");
        }
    }
}

/* Names of a variant or of a choice of the setting on the left; true when it was one, and its number is emitted. */
static bool take_choice(compiler *c, const vd_kind *left)
{
    skip_blanks(c);
    size_t from = c->at, length = 0;
    /* Choices may be named by digits too, such as 9600, or begin with one, such as 50-hz. */
    while (from + length < c->length && (vd_is_letter(c->text[from + length]) || vd_is_digit(c->text[from + length]) ||
                                         c->text[from + length] == '-' || c->text[from + length] == '_')) {
        length++;
    }
    vd_span word = {c->text + from, length};
    bool quoted = length == 0 && from < c->length && c->text[from] == '"';
    if (quoted) {
        while (from + 1 + length < c->length && c->text[from + 1 + length] != '"') {
            length++;
        }
        word = (vd_span){c->text + from + 1, length};
        length += 2;
    }
    int64_t found = -1;
    if (left->class == VD_IS_VARIANT) {
        for (uint16_t i = 0; i < c->model->variant_count; i++) {
            found = vd_same_word(word, c->model->variants[i].key) ? i : found;
        }
    } else {
        const vd_setting *setting = &c->model->settings[left->setting];
        for (uint16_t i = 0; i < setting->choice_count; i++) {
            if (vd_same_word(word, setting->choices[i].name)) {
                emit(c, VD_OP_CONSTANT, setting->choices[i].number, 1, 0, 1);
                c->at = from + length;
                return true;
            }
        }
    }
    if (found >= 0) {
        emit(c, VD_OP_CONSTANT, found, 1, 0, 1);
        c->at = from + length;
    }
    return found >= 0;
}

static bool chooses(const vd_kind *kind)
{
    return kind->class == VD_IS_VARIANT ||
           ((kind->class == VD_IS_CHOICE || kind->class == VD_IS_FLAGS) && kind->setting != VD_NONE);
}

/* What stands right of a comparison. */
static void right_side(compiler *c, const vd_kind *left, bool ordered, size_t from)
{
    if (chooses(left) && take_choice(c, left)) {
        if (ordered) {
            fail_at(c, from, c->at, "names are equal or not, but none is above another");
        }
        return;
    }
    skip_blanks(c);
    size_t right_from = c->at;
    vd_kind right = sum(c);
    if (c->failed) {
        return;
    }
    if (left->class == VD_IS_CHOICE && right.class == VD_IS_CHOICE) {
        const vd_setting *a = &c->model->settings[left->setting], *b = &c->model->settings[right.setting];
        if (a->choices != b->choices) {
            fail_at(c, from, c->at, "these two have different choices");
        }
    } else if (left->class != right.class) {
        fail_at(c, right_from, c->at, "that cannot be compared with what stands to the left");
    } else if (is_number(left) && !vd_dimension_equal(&left->dimension, &right.dimension)) {
        fail_at(c, from, c->at, "these are not of one unit of measure");
    }
    if (ordered && (left->class == VD_IS_TEXT || left->class == VD_IS_OTHER || left->class == VD_IS_TRUTH ||
                    left->class == VD_IS_CHOICE)) {
        fail_at(c, from, c->at, "these are equal or not, but none is above another");
    }
}

static vd_kind member_of(compiler *c, const vd_kind *left, uint32_t left_first, size_t from)
{
    uint32_t left_count = c->book->step_count - left_first;
    bool first = true;
    expect(c, "(");
    while (!c->failed) {
        if (!first) { /* the left side once more, for the next comparison */
            for (uint32_t i = 0; i < left_count && !c->failed; i++) {
                vd_step step = c->book->steps[left_first + i];
                emit(c, (vd_op)step.op, step.of.number, step.a, step.b, 0);
                if (!c->failed && step.op == VD_OP_TEXT) {
                    c->book->steps[c->book->step_count - 1].of.text = step.of.text;
                }
            }
            c->stack++;
        }
        right_side(c, left, false, from);
        emit(c, VD_OP_EQUAL, 0, 0, 0, -1);
        if (!first) {
            emit(c, VD_OP_OR, 0, 0, 0, -1);
        }
        first = false;
        if (!take(c, ",")) {
            expect(c, ")");
            break;
        }
    }
    return plain(VD_IS_TRUTH);
}

static vd_kind comparison(compiler *c)
{
    static const struct {
        const char *sign;
        vd_op op;
        bool ordered;
    } signs[] = {{"!=", VD_OP_UNEQUAL, false}, {"<=", VD_OP_AT_MOST, true}, {">=", VD_OP_AT_LEAST, true},
                 {"=", VD_OP_EQUAL, false},    {"<", VD_OP_BELOW, true},    {">", VD_OP_ABOVE, true}};
    skip_blanks(c);
    size_t from = c->at;
    uint32_t left_first = c->book->step_count;
    vd_kind left = sum(c);
    for (size_t i = 0; i < sizeof signs / sizeof signs[0] && !c->failed; i++) {
        if (take(c, signs[i].sign)) {
            right_side(c, &left, signs[i].ordered, from);
            emit(c, signs[i].op, 0, 0, 0, -1);
            return plain(VD_IS_TRUTH);
        }
    }
    if (!c->failed && take(c, "has")) {
        if (left.class != VD_IS_FLAGS) {
            return fail_at(c, from, c->at, "only flags can have something");
        }
        if (!take_choice(c, &left)) {
            return fail_at(c, c->at, c->length, "that is none of its flags");
        }
        emit(c, VD_OP_HAS, 0, 0, 0, -1);
        return plain(VD_IS_TRUTH);
    }
    return !c->failed && take(c, "in") ? member_of(c, &left, left_first, from) : left;
}

static vd_kind need_truth(compiler *c, vd_kind kind, size_t from)
{
    return kind.class == VD_IS_TRUTH || c->failed ? kind : fail_at(c, from, c->at, "a condition belongs here");
}

static vd_kind condition(compiler *c)
{
    if (!take(c, "not")) {
        return comparison(c);
    }
    size_t from = c->at;
    if (c->depth++ > MOST_DEPTH) {
        return fail_at(c, from, c->length, "there are too many \"not\" behind one another");
    }
    need_truth(c, condition(c), from);
    c->depth--;
    emit(c, VD_OP_NOT, 0, 0, 0, 0);
    return plain(VD_IS_TRUTH);
}

static vd_kind chain(compiler *c, const char *word, vd_op op, vd_kind (*part)(compiler *))
{
    size_t from = c->at;
    vd_kind kind = part(c);
    while (!c->failed && take(c, word)) {
        need_truth(c, kind, from);
        from = c->at;
        kind = need_truth(c, part(c), from);
        emit(c, op, 0, 0, 0, -1);
    }
    return kind;
}

static vd_kind conjunction(compiler *c)
{
    return chain(c, "and", VD_OP_AND, condition);
}

static vd_kind expression(compiler *c)
{
    return chain(c, "or", VD_OP_OR, conjunction);
}

bool vd_compile(const vd_model *model, vd_book *book, const char *source, size_t length, uint16_t block, bool mention,
                vd_code *code, vd_kind *kind, vd_fault *fault)
{
    compiler c = {.model = model,
                  .book = book,
                  .text = source,
                  .length = length,
                  .block = block,
                  .fold_block = VD_NONE,
                  .fold_item = VD_NONE,
                  .fold_setting = VD_NONE,
                  .first = book->step_count,
                  .mention = mention,
                  .fault = fault};
    *kind = expression(&c);
    skip_blanks(&c);
    if (!c.failed && c.at < c.length) {
        fail_at(&c, c.at, c.length, "nothing more belongs here");
    }
    *code = (vd_code){c.first, book->step_count - c.first};
    return !c.failed;
}
