/* SPDX-License-Identifier: MIT
 * Words: on and off, one of several choices, any of several at once. */
#include "value_parts.h"

static vd_status parse_truth(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    static const struct {
        const char *word;
        int64_t truth;
    } words[] = {{"on", 1}, {"off", 0}, {"yes", 1}, {"no", 0}, {"true", 1}, {"false", 0}};
    for (size_t i = 0; i < sizeof words / sizeof words[0]; i++) {
        if (vd_same_word(typed, words[i].word)) {
            into->value.number = words[i].truth;
            return VD_OK;
        }
    }
    return vd_fault_note_typed(fault, VD_NOT_A_TRUTH, meaning, typed);
}

static void print_truth(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    (void)setting;
    vd_writer_add(writer, value->number != 0 ? "on" : "off");
}

static void allow_truth(const vd_meaning *meaning, vd_writer *writer)
{
    (void)meaning;
    vd_writer_add(writer, "on or off");
}

static const vd_choice *find_choice(const vd_meaning *meaning, vd_span typed)
{
    for (uint16_t i = 0; i < meaning->choice_count; i++) {
        if (vd_same_word(typed, meaning->choices[i].name)) {
            return &meaning->choices[i];
        }
    }
    return NULL;
}

static vd_status parse_choice(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    const vd_choice *choice = find_choice(meaning, typed);
    if (choice == NULL) {
        return vd_fault_note_typed(fault, VD_NOT_A_CHOICE, meaning, typed);
    }
    into->value.number = choice->number;
    return VD_OK;
}

static void print_choice(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    const char *name = vd_choice_name(setting, value->number);
    vd_writer_add(writer, name != NULL ? name : "unknown choice ");
    if (name == NULL) {
        vd_writer_add_number(writer, value->number);
    }
}

vd_status vd_check_choice(const vd_meaning *meaning, const vd_value *value, vd_fault *fault)
{
    for (uint16_t i = 0; i < meaning->choice_count; i++) {
        if (meaning->choices[i].number == value->number) {
            return VD_OK;
        }
    }
    return vd_fault_note_value(fault, VD_NOT_A_CHOICE, meaning, value);
}

static void list_choices(const vd_meaning *meaning, const char *last, vd_writer *writer)
{
    for (uint16_t i = 0; i < meaning->choice_count; i++) {
        vd_writer_add(writer, i == 0 ? "" : i + 1 == meaning->choice_count ? last : ", ");
        vd_writer_add(writer, meaning->choices[i].name);
    }
}

static void allow_choice(const vd_meaning *meaning, vd_writer *writer)
{
    list_choices(meaning, " or ", writer);
}

static int64_t all_flags(const vd_choice *choices, uint16_t count)
{
    int64_t all = 0;
    for (uint16_t i = 0; i < count; i++) {
        all |= (int64_t)1 << choices[i].number;
    }
    return all;
}

static bool parts_flags(char c)
{
    return c == ',' || c == '+' || c == ';' || vd_is_blank(c);
}

static vd_status parse_flags(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    vd_span rest = typed;
    int64_t flags = 0;
    bool none = false;
    while (rest.length > 0) {
        size_t word = 0;
        while (word < rest.length && !parts_flags(rest.at[word])) {
            word++;
        }
        const vd_choice *choice = find_choice(meaning, (vd_span){rest.at, word});
        if (choice != NULL) {
            flags |= (int64_t)1 << choice->number;
        } else if (vd_same_word((vd_span){rest.at, word}, "none")) {
            none = true;
        } else if (word > 0 && !vd_same_word((vd_span){rest.at, word}, "and")) {
            return vd_fault_note_typed(fault, VD_NOT_A_CHOICE, meaning, typed);
        }
        word += word < rest.length;
        rest.at += word;
        rest.length -= word;
    }
    if (none == (flags != 0)) { /* "none, low" is no answer, and neither are mere commas */
        return vd_fault_note_typed(fault, VD_NOT_A_CHOICE, meaning, typed);
    }
    into->value.number = flags;
    return VD_OK;
}

static void print_flags(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    bool any = false;
    for (uint16_t i = 0; i < setting->choice_count; i++) {
        if (((uint64_t)value->number >> setting->choices[i].number & 1u) != 0) {
            vd_writer_add(writer, any ? ", " : "");
            vd_writer_add(writer, setting->choices[i].name);
            any = true;
        }
    }
    if ((value->number & ~all_flags(setting->choices, setting->choice_count)) != 0) {
        vd_writer_add(writer, any ? ", unknown " : "unknown ");
        uint64_t strange = (uint64_t)(value->number & ~all_flags(setting->choices, setting->choice_count));
        if (strange >> 32 != 0) {
            vd_writer_add_hex(writer, (uint32_t)(strange >> 32), 1);
        }
        vd_writer_add_hex(writer, (uint32_t)strange, strange >> 32 != 0 ? 8 : 4);
        any = true;
    }
    vd_writer_add(writer, any ? "" : "none");
}

vd_status vd_check_flags(const vd_meaning *meaning, const vd_value *value, vd_fault *fault)
{
    bool fine = (value->number & ~all_flags(meaning->choices, meaning->choice_count)) == 0;
    return fine ? VD_OK : vd_fault_note_value(fault, VD_NOT_A_CHOICE, meaning, value);
}

static void allow_flags(const vd_meaning *meaning, vd_writer *writer)
{
    vd_writer_add(writer, "none or any of ");
    list_choices(meaning, ", ", writer);
}

const vd_type_words vd_words_truth = {"truth", "on or off", parse_truth, print_truth, allow_truth, NULL};
const vd_type_words vd_words_choice = {"choice", "choice", parse_choice, print_choice, allow_choice, NULL};
const vd_type_words vd_words_flags = {"flags", "any of several", parse_flags, print_flags, allow_flags, NULL};
