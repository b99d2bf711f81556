/* SPDX-License-Identifier: MIT
 * Texts: an alphabet and a length; phone numbers; access point names. What a unit cannot hold is answered with the
 * nearest form that it can. */
#include "value_parts.h"

#include <string.h>

static bool in_alphabet(const vd_setting *setting, char c)
{
    const char *alphabet = setting->alphabet;
    return alphabet != NULL ? vd_in_class((vd_span){alphabet, strlen(alphabet)}, c) : c >= 0x20 && c <= 0x7E;
}

/* Letters that many alphabets lack, by code point, and what people write instead. */
static const struct {
    uint16_t from, to; /* code points */
    const char *instead;
} plain_letters[] = {
    {0xA0, 0xA0, " "},      {0xB0, 0xB0, "deg"},  {0xB5, 0xB5, "u"},     {0xC4, 0xC4, "Ae"},    {0xC5, 0xC5, "Aa"},
    {0xC6, 0xC6, "Ae"},     {0xC0, 0xC3, "A"},    {0xC7, 0xC7, "C"},     {0xC8, 0xCB, "E"},     {0xCC, 0xCF, "I"},
    {0xD0, 0xD0, "D"},      {0xD1, 0xD1, "N"},    {0xD6, 0xD6, "Oe"},    {0xD8, 0xD8, "Oe"},    {0xD2, 0xD5, "O"},
    {0xDC, 0xDC, "Ue"},     {0xD9, 0xDB, "U"},    {0xDD, 0xDD, "Y"},     {0xDE, 0xDE, "Th"},    {0xDF, 0xDF, "ss"},
    {0xE4, 0xE4, "ae"},     {0xE5, 0xE5, "aa"},   {0xE6, 0xE6, "ae"},    {0xE0, 0xE3, "a"},     {0xE7, 0xE7, "c"},
    {0xE8, 0xEB, "e"},      {0xEC, 0xEF, "i"},    {0xF0, 0xF0, "d"},     {0xF1, 0xF1, "n"},     {0xF6, 0xF6, "oe"},
    {0xF8, 0xF8, "oe"},     {0xF2, 0xF5, "o"},    {0xFC, 0xFC, "ue"},    {0xF9, 0xFB, "u"},     {0xFD, 0xFD, "y"},
    {0xFF, 0xFF, "y"},      {0xFE, 0xFE, "th"},   {0x104, 0x105, "a"},   {0x106, 0x10D, "c"},   {0x10E, 0x111, "d"},
    {0x112, 0x11B, "e"},    {0x11E, 0x11F, "g"},  {0x130, 0x131, "i"},   {0x139, 0x142, "l"},   {0x143, 0x148, "n"},
    {0x150, 0x151, "o"},    {0x152, 0x153, "oe"}, {0x154, 0x159, "r"},   {0x15A, 0x161, "s"},   {0x162, 0x165, "t"},
    {0x168, 0x173, "u"},    {0x179, 0x17E, "z"},  {0x2010, 0x2015, "-"}, {0x2018, 0x201B, "'"}, {0x201C, 0x201F, "\""},
    {0x20AC, 0x20AC, "EUR"}};

/* The code point at the front of well-formed UTF-8, and its length; anything else counts as one byte. */
static uint32_t code_point(const char *text, size_t length, size_t *taken)
{
    uint32_t point = 0xFFFD;
    size_t size = vd_take_character(text, length, &point);
    *taken = size > 0 ? size : 1;
    return size > 0 ? point : 0xFFFD;
}

static size_t characters(vd_span text)
{
    size_t count = 0, taken = 0;
    for (size_t i = 0; i < text.length; i += taken, count++) {
        code_point(text.at + i, text.length - i, &taken);
    }
    return count;
}

/* Adds a plain character, or what stands for it in this alphabet: the other case, a hyphen for a blank. */
static void add_nearest(const vd_setting *setting, char c, vd_writer *writer)
{
    char small = vd_small(c), capital = (char)(c >= 'a' && c <= 'z' ? c - 'a' + 'A' : c);
    const char tries[] = {c, capital, small, '-', '_'};
    bool mere_gap = c == ' ' || c == '-' || c == '_';
    for (size_t i = 0; i < sizeof tries - (mere_gap ? 0 : 2); i++) {
        if (in_alphabet(setting, tries[i])) {
            if (writer->length < setting->length) {
                vd_writer_add_bytes(writer, &tries[i], 1);
            }
            return;
        }
    }
}

static void add_plain(const vd_setting *setting, const char *text, size_t length, vd_writer *writer)
{
    size_t taken = 0;
    vd_writer own = *writer;
    own.text += own.length;
    own.size -= own.length;
    own.length = 0;
    for (size_t i = 0; setting->traits->id == VD_TEXT && i < length; i += taken) {
        uint32_t point = code_point(text + i, length - i, &taken);
        if (point < 0x80) {
            add_nearest(setting, (char)point, &own);
            continue;
        }
        for (size_t k = 0; k < sizeof plain_letters / sizeof plain_letters[0]; k++) {
            if (point >= plain_letters[k].from && point <= plain_letters[k].to) {
                for (const char *at = plain_letters[k].instead; *at != '\0'; at++) {
                    add_nearest(setting, *at, &own);
                }
                break;
            }
        }
    }
    while (own.length > 0 && own.text[own.length - 1] == ' ') {
        own.text[--own.length] = '\0';
    }
    writer->length += own.length;
    writer->cut = writer->cut || own.cut;
}

/* In the other case, without what people put between: whatever first looks as it must. */
static size_t make_match(const vd_setting *setting, const char *text, size_t length, char *made)
{
    for (unsigned way = 0; way < 6; way++) {
        size_t used = 0;
        for (size_t i = 0; i < length && used < VD_MOST_BYTES; i++) {
            char c = text[i], capital = (char)(c >= 'a' && c <= 'z' ? c - 'a' + 'A' : c);
            bool between = c == ' ' || c == '-' || c == '.' || c == '/' || c == '_' || c == ':';
            if (way < 3 || !between) {
                made[used++] = (char)(way % 3 == 0 ? c : way % 3 == 1 ? capital : vd_small(c));
            }
        }
        if (used <= setting->length && vd_pattern_matches(setting->pattern, (vd_span){made, used})) {
            return used;
        }
    }
    return 0;
}

void vd_print_nearest(const vd_setting *setting, const char *text, size_t length, vd_writer *writer)
{
    char plain[VD_MOST_BYTES], made[VD_MOST_BYTES];
    if (setting->pattern == NULL) {
        add_plain(setting, text, length, writer);
        return;
    }
    vd_setting longer = *setting; /* what is between may go, and then it fits */
    longer.length = VD_MOST_BYTES - 1;
    vd_writer own = vd_writer_start(plain, sizeof plain);
    add_plain(&longer, text, length, &own);
    vd_writer_add_bytes(writer, made, make_match(setting, plain, own.length, made));
}

static void allow_text(const vd_meaning *meaning, vd_writer *writer)
{
    static const char *const checks[] = {[VD_CHECK_NONE] = "",
                                         [VD_CHECK_LUHN] = ", the last a check digit (Luhn)",
                                         [VD_CHECK_MOD_10] = ", the last a check digit (mod 10)",
                                         [VD_CHECK_MOD_97] = ", the last two check digits (mod 97)"};
    if (meaning->of->least > 0) {
        vd_writer_add_number(writer, meaning->of->least);
        vd_writer_add(writer, meaning->of->least == meaning->of->length ? "" : " to ");
    } else {
        vd_writer_add(writer, "up to ");
    }
    if (meaning->of->least != meaning->of->length) {
        vd_writer_add_number(writer, meaning->of->length);
    }
    if (meaning->of->alphabet == NULL) {
        vd_writer_add(writer, " plain letters, digits, blanks and signs (printable ASCII)");
    } else {
        vd_writer_add(writer, " characters of \"");
        vd_writer_add(writer, meaning->of->alphabet);
        vd_writer_add(writer, "\"");
    }
    if (meaning->of->pattern != NULL) {
        vd_writer_add(writer, " that look like ");
        vd_writer_add(writer, meaning->of->words->example != NULL ? meaning->of->words->example : meaning->of->pattern);
    }
    vd_writer_add(writer, checks[meaning->of->check <= VD_CHECK_MOD_97 ? meaning->of->check : VD_CHECK_NONE]);
    vd_writer_add(writer, meaning->of->or_empty && meaning->of->least > 0 ? ", or nothing" : "");
}

/* The fault of a text that the unit cannot hold offers the nearest one that it can. */
static vd_status note_text(const vd_meaning *meaning, vd_span typed, vd_status status, size_t where, vd_fault *fault)
{
    char allowed[VD_ALLOWED_SIZE], said[VD_SAID_SIZE];
    vd_writer to_allowed = vd_writer_start(allowed, sizeof allowed), to_said = vd_writer_start(said, sizeof said);
    vd_writer_add_bytes(&to_said, typed.at, typed.length < sizeof said ? typed.length : sizeof said - 1);
    vd_writer_add(&to_allowed, "\"");
    if (meaning->of->traits->words != NULL) {
        meaning->of->traits->words->nearest(meaning->of, typed.at, typed.length, &to_allowed);
    }
    vd_writer_add(&to_allowed, "\"");
    if (to_allowed.length <= 2) {
        to_allowed = vd_writer_start(allowed, sizeof allowed);
        vd_meaning_print(meaning, &to_allowed);
    }
    return vd_fault_note_numbers(fault, status, meaning->of, said, allowed,
                                 where < INT32_MAX ? (int32_t)where : INT32_MAX,
                                 status == VD_TEXT_TOO_SHORT ? meaning->of->least : meaning->of->length, 0);
}

static vd_status parse_text(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    if (typed.length > sizeof into->bytes || characters(typed) > meaning->of->length) {
        vd_status status = meaning->of->pattern != NULL ? VD_WRONG_FORM : VD_TEXT_TOO_LONG;
        return note_text(meaning, typed, status, characters(typed), fault);
    }
    memcpy(into->bytes, typed.at, typed.length);
    into->value.text = into->bytes;
    into->value.length = (uint16_t)typed.length;
    return VD_OK;
}

vd_status vd_check_plain_text(const vd_meaning *meaning, const vd_value *value, vd_fault *fault)
{
    vd_span text = {value->text, value->length};
    size_t taken = 0, number = 1;
    for (size_t i = 0; i < text.length; i += taken, number++) {
        uint32_t point = code_point(text.at + i, text.length - i, &taken);
        if (point >= 0x80 || !in_alphabet(meaning->of, (char)point)) {
            return note_text(meaning, text, VD_TEXT_ALPHABET, number, fault);
        }
    }
    if (value->length > meaning->of->length) {
        return note_text(meaning, text, VD_TEXT_TOO_LONG, value->length, fault);
    }
    if (meaning->of->or_empty && value->length == 0) {
        return VD_OK;
    }
    return value->length < meaning->of->least ? note_text(meaning, text, VD_TEXT_TOO_SHORT, value->length, fault)
                                              : VD_OK;
}

vd_status vd_check_text(const vd_meaning *meaning, const vd_value *value, vd_fault *fault)
{
    vd_span text = {value->text, value->length};
    vd_status status = vd_check_plain_text(meaning, value, fault);
    if (status != VD_OK || (meaning->of->or_empty && value->length == 0)) {
        return status;
    }
    if (meaning->of->pattern != NULL && !vd_pattern_matches(meaning->of->pattern, text)) {
        return note_text(meaning, text, VD_WRONG_FORM, 1, fault);
    }
    int fitting = -1;
    return vd_check_fits((vd_check)meaning->of->check, text, &fitting)
               ? VD_OK
               : vd_note_check_digit(meaning, text, fitting, fault);
}

vd_status vd_note_check_digit(const vd_meaning *meaning, vd_span typed, int fitting, vd_fault *fault)
{
    vd_status status = fitting >= 0 ? VD_CHECK_DIGIT : VD_WRONG_FORM;
    vd_fault_note_typed(fault, status, meaning, typed);
    if (fault != NULL && fault->status == VD_CHECK_DIGIT) {
        fault->number[0] = fitting;
    }
    return status;
}

void vd_print_characters(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    (void)setting;
    for (uint16_t i = 0; i < value->length; i++) {
        bool printable = value->text[i] >= 0x20 && value->text[i] <= 0x7E;
        vd_writer_add_bytes(writer, printable ? &value->text[i] : "?", 1);
    }
}

vd_status vd_check_length(const vd_meaning *meaning, const vd_value *value, vd_fault *fault)
{
    bool fine = (value->length >= meaning->of->least || (meaning->of->or_empty && value->length == 0)) &&
                value->length <= meaning->of->length;
    return fine ? VD_OK : vd_fault_note_value(fault, VD_WRONG_FORM, meaning, value);
}

/* ---- Phone numbers ---- */

#define MOST_PHONE_DIGITS 15u /* E.164 clause 6 */
#define LEAST_PHONE_DIGITS 3u /* the shortest service numbers */

/* "+44 (0)7700 900123" is written by many; the 0 in brackets is for callers from within the country only. */
static bool skip_trunk_zero(vd_span rest, const char *digits, size_t count)
{
    return count > 0 && digits[0] == '+' && rest.length >= 3 && memcmp(rest.at, "(0)", 3) == 0;
}

static vd_status parse_phone(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    vd_span rest = typed;
    size_t count = 0;
    while (rest.length > 0 && count <= MOST_PHONE_DIGITS + 1) {
        char c = *rest.at;
        if (skip_trunk_zero(rest, into->bytes, count)) {
            rest.at += 3, rest.length -= 3;
            continue;
        }
        if (vd_is_digit(c) || (c == '+' && count == 0)) {
            into->bytes[count++] = c;
        } else if (!vd_is_blank(c) && c != '-' && c != '.' && c != '/' && c != '(' && c != ')') {
            return vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
        }
        rest.at++, rest.length--;
    }
    size_t digits = count - (count > 0 && into->bytes[0] == '+');
    bool fine = rest.length == 0 && digits >= LEAST_PHONE_DIGITS && digits <= MOST_PHONE_DIGITS &&
                !(digits < count && into->bytes[1] == '0');
    if (typed.length > 0 && !fine) { /* no country code begins with 0 */
        return vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
    }
    into->value.text = into->bytes;
    into->value.length = (uint16_t)count;
    return VD_OK;
}

static void allow_phone(const vd_meaning *meaning, vd_writer *writer)
{
    if (meaning->of->length > MOST_PHONE_DIGITS) {
        vd_writer_add(writer,
                      "a phone number of 3 to 15 digits, best with + and country code, such as +44 7700 900123");
        return;
    }
    vd_writer_add(writer, "a phone number of 3 to ");
    vd_writer_add_number(writer, meaning->of->length);
    vd_writer_add(writer, " digits, or of one less behind a +");
}

/* ---- Names ---- */

bool vd_is_host(vd_span name)
{
    size_t label = 0;
    bool digits_only = true;
    if (name.length == 0 || name.length > 253) {
        return false;
    }
    for (size_t i = 0; i <= name.length; i++) {
        char c = vd_char_at(name, i);
        if (c == '.' || i == name.length) {
            if (label == 0 || label > 63 || name.at[i - 1] == '-') {
                return false;
            }
            label = 0;
            digits_only = i < name.length ? true : digits_only;
            continue;
        }
        if (!vd_is_letter(c) && !vd_is_digit(c) && (c != '-' || label == 0)) {
            return false;
        }
        digits_only = digits_only && vd_is_digit(c);
        label++;
    }
    return !digits_only; /* a last label of digits would make it look like an address */
}

/* ---- Access point names ---- */

static bool starts_with(vd_span text, const char *start)
{
    size_t length = strlen(start);
    return text.length >= length && vd_same_word((vd_span){text.at, length}, start);
}

/* Labels of letters, digits and hyphens; some beginnings and endings belong to operators (clause 9.1.1). */
static bool is_apn(vd_span text)
{
    static const char *const reserved[] = {"rac", "lac", "sgsn", "rnc"};
    static const char ending[] = ".gprs";
    for (size_t i = 0; i < sizeof reserved / sizeof reserved[0]; i++) {
        if (starts_with(text, reserved[i])) {
            return false;
        }
    }
    if (text.length >= sizeof ending - 1 &&
        vd_same_word((vd_span){text.at + text.length - (sizeof ending - 1), sizeof ending - 1}, ending)) {
        return false;
    }
    return text.length > 0 && text.length <= 63 && vd_is_host(text);
}

static vd_status parse_apn(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    if (typed.length > 0 && !is_apn(typed)) {
        return vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
    }
    for (size_t i = 0; i < typed.length; i++) {
        into->bytes[i] = vd_small(typed.at[i]); /* case does not matter to networks; one form is kept */
    }
    into->value.text = into->bytes;
    into->value.length = (uint16_t)typed.length;
    return VD_OK;
}

static void allow_apn(const vd_meaning *meaning, vd_writer *writer)
{
    (void)meaning;
    vd_writer_add(writer, "an access point name of letters, digits, hyphens and dots, such as internet.example");
}

const vd_type_words vd_words_text = {"text", "text", parse_text, vd_print_characters, allow_text, vd_print_nearest};
const vd_type_words vd_words_phone = {"phone", "phone number", parse_phone, vd_print_characters, allow_phone, NULL};
const vd_type_words vd_words_apn = {"apn", "access point name", parse_apn, vd_print_characters, allow_apn, NULL};
