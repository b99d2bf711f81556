/* SPDX-License-Identifier: MIT
 * A model as constant tables in C, which are C++ as well: one file that declares the model, and defines it where it is
 * included once with VDM_..._TABLES defined. Equal input gives equal bytes. */
#include "tables.h"

#include "verdite/day.h"

#include <string.h>

typedef struct writer {
    const vd_model *model;
    GString *out;      /* the lists written so far */
    GHashTable *lists; /* type and rows of each, to its name */
    char *prefix;      /* "vdm_dowel": nothing in the library begins so */
    char *capital;     /* "VDM_DOWEL" */
    bool words;
    unsigned count;
} writer;

static const void *pointer_at(const void *object, size_t at)
{
    const void *pointer = NULL;
    memcpy(&pointer, (const char *)object + at, sizeof pointer);
    return pointer;
}

static uint64_t unsigned_at(const void *object, size_t at, size_t size)
{
    const char *from = (const char *)object + at;
    uint8_t one = 0;
    uint16_t two = 0;
    uint32_t four = 0;
    uint64_t eight = 0;
    switch (size) {
    case 1: memcpy(&one, from, size); return one;
    case 2: memcpy(&two, from, size); return two;
    case 4: memcpy(&four, from, size); return four;
    default: memcpy(&eight, from, sizeof eight); return eight;
    }
}

static int64_t signed_at(const void *object, size_t at, size_t size)
{
    uint64_t bits = unsigned_at(object, at, size);
    unsigned spare = (unsigned)(64 - 8 * size);
    return (int64_t)(bits << spare) >> spare;
}

/* The least number of 64 bits cannot be written as it is. */
static void add_signed(GString *row, int64_t number)
{
    if (number == INT64_MIN) {
        g_string_append(row, "INT64_MIN");
    } else {
        g_string_append_printf(
            row, number > INT32_MAX || number < INT32_MIN ? "INT64_C(%" G_GINT64_FORMAT ")" : "%" G_GINT64_FORMAT,
            number);
    }
}

static void add_unsigned(GString *row, uint64_t number)
{
    g_string_append_printf(row, number > INT32_MAX ? "UINT64_C(%" G_GUINT64_FORMAT ")" : "%" G_GUINT64_FORMAT, number);
}

/* Writes a list, once; its name. The text of the rows stays the caller's. */
static const char *list_named(writer *w, const char *type, size_t count, const char *rows)
{
    char *what = g_strdup_printf("%s %s", type, rows);
    char *name = g_hash_table_lookup(w->lists, what);
    if (name == NULL) {
        name = g_strdup_printf("%s_%u", w->prefix, ++w->count);
        g_string_append_printf(w->out, "static const %s %s[%zu] = {%s};\n", type, name, count, rows);
        g_hash_table_insert(w->lists, what, name);
    } else {
        g_free(what);
    }
    return name;
}

/* Octal escapes end by themselves; two question marks would be a trigraph to some. */
static void add_character(GString *row, char c, bool asked, char mark)
{
    if (c == mark || c == '\\') {
        g_string_append_printf(row, "\\%c", c);
    } else if (c >= 0x20 && c < 0x7F && !(c == '?' && asked)) {
        g_string_append_c(row, c);
    } else {
        g_string_append_printf(row, "\\%03o", (unsigned char)c);
    }
}

/* What is longer than a literal may be is a list of characters. */
static void add_text(writer *w, GString *row, const char *text, size_t length)
{
    GString *rows = g_string_new("");
    bool literal = length < 4095;
    for (size_t i = 0; i < length; i++) {
        g_string_append(rows, literal ? "" : i % 16 == 0 ? "\n    '" : "'");
        add_character(rows, text[i], i > 0 && text[i - 1] == '?', literal ? '"' : '\'');
        g_string_append(rows, literal ? "" : "', ");
    }
    if (literal) {
        g_string_append_printf(row, "\"%s\"", rows->str);
    } else {
        g_string_append(row, list_named(w, "char", length + 1, g_string_append_c(rows, '0')->str));
    }
    g_string_free(rows, TRUE);
}

static void add_text_or_none(writer *w, GString *row, const char *text)
{
    text != NULL ? add_text(w, row, text, strlen(text)) : (void)g_string_append(row, "NULL");
}

static void add_row(writer *w, GString *row, const table_shape *shape, const void *object);

/* What only alarms need stands between two such lines; lists there are used by nobody else. */
static void begin_alarms(writer *w)
{
    g_hash_table_remove_all(w->lists);
    g_string_append_printf(w->out, "#ifndef %s_WITHOUT_ALARMS\n", w->capital);
}

static void end_alarms(writer *w)
{
    g_hash_table_remove_all(w->lists);
    g_string_append(w->out, "#endif\n");
}

static char *rows_of(writer *w, const table_shape *shape, const void *objects, size_t count)
{
    GString *rows = g_string_new("");
    for (size_t i = 0; i < count; i++) {
        g_string_append(rows, i > 0 ? ",\n    " : "\n    ");
        add_row(w, rows, shape, (const char *)objects + i * shape->size);
    }
    return g_string_free(rows, FALSE);
}

static void add_list(writer *w, GString *row, const table_shape *shape, const void *objects, size_t count)
{
    if (objects == NULL || count == 0) {
        g_string_append(row, "NULL");
        return;
    }
    char *rows = rows_of(w, shape, objects, count);
    g_string_append(row, list_named(w, shape->name, count, rows));
    g_free(rows);
}

static void add_numbers(writer *w, GString *row, size_t size, const void *numbers, size_t count)
{
    if (numbers == NULL || count == 0) {
        g_string_append(row, "NULL");
        return;
    }
    GString *rows = g_string_new("");
    for (size_t i = 0; i < count; i++) {
        g_string_append_printf(rows, "%s%" G_GUINT64_FORMAT, i > 0 ? ", " : "", unsigned_at(numbers, i * size, size));
    }
    g_string_append(row, list_named(w, size == 1 ? "uint8_t" : "uint16_t", count, rows->str));
    g_string_free(rows, TRUE);
}

static void add_texts(writer *w, GString *row, const char *const *texts, size_t count)
{
    if (texts == NULL || count == 0) {
        g_string_append(row, "NULL");
        return;
    }
    GString *rows = g_string_new("");
    for (size_t i = 0; i < count; i++) {
        g_string_append(rows, i > 0 ? ", " : "");
        add_text_or_none(w, rows, texts[i]);
    }
    g_string_append(row, list_named(w, "char *const", count, rows->str));
    g_string_free(rows, TRUE);
}

/* ---- What is no table ---- */

#define TYPE_NAME(name, id, check, length, is) [VD_##id] = #name,
static const char *const type_names[] = {VD_TYPE_LIST(TYPE_NAME)};

static uint32_t furthest(uint32_t so_far, const vd_code *code)
{
    return code->first + code->count > so_far ? code->first + code->count : so_far;
}

/* How far steps, shown expressions and texts of a book reach. */
typedef struct extent {
    uint32_t steps, shown, texts;
} extent;

static extent extent_of(const vd_model *model, bool alarms)
{
    const vd_book *book = model->book;
    extent r = {0, 0, 0};
    for (uint16_t i = 0; i < model->setting_count; i++) {
        r.steps = model->settings[i].conditional ? furthest(r.steps, &book->when[i]) : r.steps;
    }
    for (uint16_t i = 0; i < model->rule_count; i++) {
        const vd_rule_code *rule = &book->rules[i];
        r.steps = furthest(furthest(r.steps, &rule->when), &rule->must);
        for (const char *at = model->rules[i].say; at != NULL && *at != '\0'; at++) {
            r.steps = *at == '{' ? furthest(r.steps, &book->shown[r.shown].code) : r.steps;
            r.shown += *at == '{';
        }
    }
    for (uint16_t i = 0; i < model->formula_count && alarms; i++) {
        r.steps = furthest(r.steps, &book->formulas[i].code);
    }
    for (uint32_t i = 0; i < r.steps; i++) {
        const vd_instruction *step = &book->steps[i];
        r.texts = step->op == VD_OP_TEXT ? MAX(r.texts, (uint32_t)step->number + step->a) : r.texts;
    }
    return r;
}

/* A list whose end only alarms need: so many of all. */
static void add_parted(writer *w, GString *row, const table_shape *shape, const void *objects, size_t count, size_t all)
{
    if (count == all) {
        add_list(w, row, shape, objects, count);
        return;
    }
    char *rows = rows_of(w, shape, objects, count),
         *rest = rows_of(w, shape, (const char *)objects + count * shape->size, all - count);
    if (count == 0) {
        begin_alarms(w);
        g_string_append_printf(row, "%s_ALARMS(%s)", w->capital, list_named(w, shape->name, all, rest));
        end_alarms(w);
    } else {
        g_string_append_printf(w->out,
                               "static const %s %s_%u[] = {%s\n#ifndef %s_WITHOUT_ALARMS\n    , %s\n#endif\n};\n",
                               shape->name, w->prefix, ++w->count, rows, w->capital, g_strstrip(rest));
        g_string_append_printf(row, "%s_%u", w->prefix, w->count);
    }
    g_free(rest);
    g_free(rows);
}

static void add_book(writer *w, GString *row)
{
    const vd_model *model = w->model;
    const vd_book *book = model->book;
    extent r = extent_of(model, true), rules = extent_of(model, false);
    GString *rows = g_string_new("\n    {"), *texts = g_string_new("");
    bool any_when = false;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        any_when = any_when || model->settings[i].conditional;
    }
    add_numbers(w, rows, sizeof *book->by_key, w->words ? book->by_key : NULL, model->setting_count);
    g_string_append(rows, ", ");
    begin_alarms(w);
    g_string_append_printf(rows, "%s_ALARMS(", w->capital);
    add_list(w, rows, &shape_term, book->formulas, model->formula_count);
    g_string_append(rows, "), ");
    end_alarms(w);
    add_list(w, rows, &shape_code, any_when ? book->when : NULL, model->setting_count);
    g_string_append(rows, ", ");
    add_list(w, rows, &shape_rule_code, book->rules, model->rule_count);
    g_string_append(rows, ", ");
    add_list(w, rows, &shape_term, w->words ? book->shown : NULL, r.shown);
    g_string_append(rows, ", ");
    add_parted(w, rows, &shape_instruction, book->steps, rules.steps, r.steps);
    g_string_append(rows, ", ");
    add_text(w, texts, book->texts, r.texts);
    g_string_append_printf(rows, "%s, %s}", texts->str, w->words ? "vd_rule_say" : "NULL");
    g_string_append(row, list_named(w, "vd_book", 1, rows->str));
    g_string_free(texts, TRUE);
    g_string_free(rows, TRUE);
}

/* Whether the names of its choices are more than words: they say a line setting, or are said to the unit, or are those
 * of presets. */
static bool names_count(const vd_setting *setting)
{
    return vd_role_is_link((vd_role)setting->role) || setting->field.saying == VD_SAID_BY_NAME ||
           setting->set_count > 0;
}

/* Whether its values are printed for the unit, too. */
static bool is_printed(const vd_model *model, const vd_setting *setting)
{
    return model->language->has_words && vd_setting_is(setting, VD_TYPE_PRINTED);
}

static bool is_plain_text(const vd_setting *setting)
{
    return setting->traits->id == VD_TEXT && setting->pattern == NULL && setting->check == VD_CHECK_NONE;
}

static void add_own(writer *w, GString *row, table_own own, const void *object, const void *pointer)
{
    switch (own) {
    case OWN_TYPE:
        if (!w->words && is_plain_text(object)) {
            g_string_append(row, "&vd_bare_plain_text");
            return;
        }
        g_string_append_printf(row, "&vd_%s_%s", w->words || is_printed(w->model, object) ? "type" : "bare",
                               type_names[((const vd_type_traits *)pointer)->id]);
        return;
    case OWN_STATE: /* of a formula that is the name of a state the text is all there is */
        add_text_or_none(w, row, w->words || ((const vd_formula *)object)->gives == VD_GIVES_STATE ? pointer : NULL);
        return;
    case OWN_SETTING_WORDS:
        if (w->words) {
            add_list(w, row, &shape_setting_words, pointer, 1);
        } else {
            g_string_append(row, "&vd_no_words");
        }
        return;
    case OWN_LANGUAGE: g_string_append_printf(row, "%s_LANGUAGE", w->capital); return;
    case OWN_NOTHING: g_string_append_c(row, '0'); return;
    case OWN_BOOK: add_book(w, row); return;
    }
}

/* ---- Rows ---- */

static void add_field(writer *w, GString *row, const table_shape *shape, const table_field *field, const void *object)
{
    size_t count = field->count_size > 0 ? unsigned_at(object, field->count_at, field->count_size) : 0;
    const void *pointer = field->kind >= TABLE_TEXT && field->kind != TABLE_STRUCT && field->kind != TABLE_POWERS
                              ? pointer_at(object, field->at)
                              : NULL;
    switch (field->kind) {
    case TABLE_NUMBER: add_unsigned(row, unsigned_at(object, field->at, field->size)); break;
    case TABLE_SIGNED: add_signed(row, signed_at(object, field->at, field->size)); break;
    case TABLE_TRUTH: g_string_append(row, unsigned_at(object, field->at, field->size) != 0 ? "true" : "false"); break;
    case TABLE_TEXT: add_text_or_none(w, row, pointer); break;
    case TABLE_BYTES: pointer != NULL ? add_text(w, row, pointer, count) : (void)g_string_append(row, "NULL"); break;
    case TABLE_WORDS: add_text_or_none(w, row, w->words || pointer == NULL ? pointer : ""); break;
    case TABLE_SOURCE: add_text_or_none(w, row, w->words ? pointer : NULL); break;
    case TABLE_STRUCT: add_row(w, row, field->of, (const char *)object + field->at); break;
    case TABLE_ONE: add_list(w, row, field->of, pointer, pointer != NULL ? 1 : 0); break;
    case TABLE_LIST:
        if (field->of == &shape_choice && shape == shape_model.fields[4].of && !w->words && !names_count(object)) {
            add_list(w, row, &shape_unnamed_choice, pointer, count);
            break;
        }
        add_list(w, row, field->of, pointer, count);
        break;
    case TABLE_NUMBERS: add_numbers(w, row, field->size, pointer, count); break;
    case TABLE_TEXTS: add_texts(w, row, pointer, count); break;
    case TABLE_POWERS:
        for (size_t i = 0; i < field->size; i++) {
            g_string_append_printf(row, "%s%" G_GINT64_FORMAT, i > 0 ? ", " : "{", signed_at(object, field->at + i, 1));
        }
        g_string_append_c(row, '}');
        break;
    case TABLE_SETTING:
        g_string_append_printf(row, "&%s_settings[%td]", w->prefix, (const vd_setting *)pointer - w->model->settings);
        break;
    case TABLE_OWN: add_own(w, row, field->own, object, pointer); break;
    }
}

/* Who needs what a field says: of a number of things, who needs those. */
static table_part part_of(const table_shape *shape, const table_field *field)
{
    table_part part = field->part;
    for (size_t i = 0; i < shape->count; i++) {
        const table_field *list = &shape->fields[i];
        part = list->count_size > 0 && list->count_at == field->at ? list->part : part;
    }
    return part;
}

static void add_row(writer *w, GString *row, const table_shape *shape, const void *object)
{
    bool in_alarms = false;
    for (size_t i = 0; i < shape->count; i++) {
        const table_field *field = &shape->fields[i];
        table_part part = part_of(shape, field);
        bool list = field->part == PART_ALARMS;
        if (list != in_alarms) {
            list ? begin_alarms(w) : end_alarms(w);
            in_alarms = list;
        }
        g_string_append(row, i > 0 ? ", " : "{");
        if (part == PART_WORDS && !w->words) {
            g_string_append(row, field->count_size > 0 ? "NULL" : "0");
        } else if (shape == &shape_model && field->at == offsetof(vd_model, settings)) {
            g_string_append_printf(row, "%s_settings", w->prefix);
        } else if (part == PART_ALARMS) {
            g_string_append_printf(row, "%s_ALARMS(", w->capital);
            add_field(w, row, shape, field, object);
            g_string_append_c(row, ')');
        } else {
            add_field(w, row, shape, field, object);
        }
    }
    g_string_append_c(row, '}');
}

/* ---- The file ---- */

char *vd_model_tables(const vd_model *model, bool with_words)
{
    /* Neither a visit nor a unit asks about intervals: these stay where they are, their formulas behind all others. */
    vd_model without = *model;
    without.formula_count = model->intervals != NULL ? model->intervals->formula : model->formula_count;
    without.intervals = NULL;
    model = &without;
    char *plain = g_strdelimit(g_strdup(model->key), ".-", '_');
    writer w = {.model = model, .out = g_string_new(""), .words = with_words};
    w.lists = g_hash_table_new_full(g_str_hash, g_str_equal, g_free, g_free);
    w.prefix = g_strdup_printf("vdm_%s", plain);
    w.capital = g_ascii_strup(w.prefix, -1);
    GString *file = g_string_new(""), *row = g_string_new("");
    tables_add_head(file, model, w.prefix, w.capital, with_words);
    char *settings = rows_of(&w, shape_model.fields[4].of, model->settings, model->setting_count);
    add_row(&w, row, &shape_model, model);
    g_string_append_printf(file,
                           "#ifdef %s_TABLES\n\n#ifdef %s_WITHOUT_ALARMS\n#define %s_ALARMS(those) 0\n#else\n"
                           "#define %s_ALARMS(those) those\n#endif\n\nextern const vd_setting %s_settings[%u];\n",
                           w.capital, w.capital, w.capital, w.capital, w.prefix, model->setting_count);
    g_string_append(file, w.out->str);
    g_string_append_printf(file, "const vd_setting %s_settings[%u] = {%s};\n", w.prefix, model->setting_count,
                           settings);
    g_string_append_printf(file, "const vd_model %s = %s;\n\n#endif\n\nVD_C_END\n\n#endif\n", w.prefix, row->str);
    g_free(settings);
    g_string_free(row, TRUE);
    g_string_free(w.out, TRUE);
    g_hash_table_destroy(w.lists);
    g_free(w.prefix);
    g_free(w.capital);
    g_free(plain);
    return g_string_free(file, FALSE);
}
