/* SPDX-License-Identifier: MIT
 * A YAML file as a tree in which every fault knows its line and column. */
#include "yaml_file.h"

#include "verdite/text.h"

#include <inttypes.h>
#include <string.h>

bool yaml_note_fault(yaml_file *file, const yaml_node_t *node, const vd_fault *fault)
{
    unsigned line = node != NULL ? (unsigned)node->start_mark.line + 1 : 0;
    unsigned column = node != NULL ? (unsigned)node->start_mark.column + 1 : 0;
    vd_findings_add(file->findings, line, column, fault);
    return false;
}

bool yaml_note(yaml_file *file, const yaml_node_t *node, vd_fault fault)
{
    return yaml_note_fault(file, node, &fault);
}

#define MOST_NESTING 100

/* Brackets in brackets beyond any use make the parser slow, so they are refused before it sees them. Brackets within
 * texts are counted as well; nobody has a hundred of them open. */
static bool nests_too_deep(yaml_file *file)
{
    int depth = 0;
    unsigned line = 1;
    for (const char *at = file->text; *at != '\0'; at++) {
        line += *at == '\n';
        depth += *at == '[' || *at == '{';
        depth -= (*at == ']' || *at == '}') && depth > 0;
        if (depth > MOST_NESTING) {
            vd_fault fault = {0};
            vd_note_NOT_YAML(&fault, "more than a hundred open brackets");
            vd_findings_add(file->findings, line, 1, &fault);
            return true;
        }
    }
    return false;
}

/* What stands behind the end of the document would be dropped in silence. */
static bool is_last(yaml_file *file, yaml_parser_t *parser)
{
    yaml_document_t next;
    vd_fault fault = {0};
    bool read = yaml_parser_load(parser, &next) != 0, last = read && yaml_document_get_root_node(&next) == NULL;
    if (!last) {
        unsigned line = read ? (unsigned)next.start_mark.line + 1 : (unsigned)parser->problem_mark.line + 1;
        vd_note_SECOND_DOCUMENT(&fault);
        vd_findings_add(file->findings, line, 1, &fault);
    }
    if (read) {
        yaml_document_delete(&next);
    }
    return last;
}

static bool parse(yaml_file *file)
{
    yaml_parser_t parser;
    if (!g_utf8_validate(file->text, (gssize)file->length, NULL)) {
        const char *end = NULL;
        vd_fault fault = {0};
        g_utf8_validate(file->text, (gssize)file->length, &end);
        unsigned line = 1, column = 1;
        for (const char *at = file->text; at < end; at++) {
            line += *at == '\n';
            column = *at == '\n' ? 1 : column + 1;
        }
        vd_note_NOT_UTF8(&fault);
        vd_findings_add(file->findings, line, column, &fault);
        return false;
    }
    if (nests_too_deep(file)) {
        return false;
    }
    if (yaml_parser_initialize(&parser) == 0) {
        return yaml_note(file, NULL, vd_fault_of_FILE_UNREADABLE("no memory"));
    }
    yaml_parser_set_encoding(&parser, YAML_UTF8_ENCODING);
    yaml_parser_set_input_string(&parser, (const unsigned char *)file->text, file->length);
    file->loaded = yaml_parser_load(&parser, &file->document) != 0;
    if (!file->loaded) {
        vd_fault fault = {0};
        /* A bracket or quotation mark that is not closed is missed only lines below. */
        const char *opened = parser.context != NULL ? parser.context : "";
        bool unclosed = (strstr(opened, "flow") != NULL || strstr(opened, "quoted") != NULL) &&
                        parser.context_mark.line != parser.problem_mark.line;
        yaml_mark_t mark = unclosed ? parser.context_mark : parser.problem_mark;
        vd_note_NOT_YAML(&fault, unclosed                 ? "it is not closed"
                                 : parser.problem != NULL ? parser.problem
                                                          : "it breaks off");
        unsigned line = (unsigned)mark.line + 1, column = (unsigned)mark.column + 1;
        vd_findings_add(file->findings, line, column, &fault);
    }
    bool alone = !file->loaded || is_last(file, &parser);
    yaml_parser_delete(&parser);
    return file->loaded && alone;
}

/* Nothing that reads the tree has to ask again: a scalar is one line of characters that may be shown. The line end
 * behind a text that stands in a block of its own is no part of it. */
static bool gate(yaml_file *file)
{
    bool fine = true;
    for (yaml_node_t *node = file->document.nodes.start; node < file->document.nodes.top; node++) {
        while (node->type == YAML_SCALAR_NODE && node->data.scalar.length > 0 &&
               node->data.scalar.value[node->data.scalar.length - 1] == '\n') {
            node->data.scalar.value[--node->data.scalar.length] = '\0';
        }
        const char *text = (const char *)node->data.scalar.value;
        if (node->type == YAML_SCALAR_NODE && vd_text_line(text, node->data.scalar.length) < node->data.scalar.length) {
            char unseen[64];
            vd_writer writer = vd_writer_start(unseen, sizeof unseen);
            vd_text_print_unseen(text, node->data.scalar.length, &writer);
            fine = yaml_note(file, node, vd_fault_of_NOT_SHOWN(unseen));
        }
    }
    return fine;
}

bool yaml_file_load(yaml_file *file, const char *path, gsize most, vd_findings *findings)
{
    memset(file, 0, sizeof *file);
    file->findings = findings;
    file->misspelt = g_hash_table_new(NULL, NULL);
    vd_fault fault = {0};
    if (vd_file_read(path, most, &file->text, &file->length, &fault) != VD_OK) {
        return yaml_note_fault(file, NULL, &fault);
    }
    return parse(file) && gate(file);
}

bool yaml_file_parse(yaml_file *file, const char *text, gsize length, vd_findings *findings)
{
    memset(file, 0, sizeof *file);
    file->findings = findings;
    file->misspelt = g_hash_table_new(NULL, NULL);
    file->text = g_strndup(text, length);
    file->length = length;
    return parse(file) && gate(file);
}

void yaml_file_free(yaml_file *file)
{
    if (file->loaded) {
        yaml_document_delete(&file->document);
    }
    g_free(file->text);
    g_clear_pointer(&file->misspelt, g_hash_table_destroy);
    memset(file, 0, sizeof *file);
}

yaml_node_t *yaml_root(yaml_file *file)
{
    return yaml_document_get_root_node(&file->document);
}

yaml_node_t *yaml_node(yaml_file *file, int index)
{
    return yaml_document_get_node(&file->document, index);
}

static bool is_scalar(const yaml_node_t *node, const char *text, size_t length)
{
    return node->type == YAML_SCALAR_NODE && node->data.scalar.length == length &&
           (length == 0 || node->data.scalar.value[0] == (unsigned char)text[0]) &&
           memcmp(node->data.scalar.value, text, length) == 0;
}

yaml_node_t *yaml_member(yaml_file *file, const yaml_node_t *map, const char *key)
{
    if (map == NULL || key == NULL || map->type != YAML_MAPPING_NODE) {
        return NULL;
    }
    size_t length = strlen(key);
    const yaml_node_t *nodes =
        file->document.nodes.start; /* numbered from 1; asked for more often than anything else */
    for (yaml_node_pair_t *pair = map->data.mapping.pairs.start; pair < map->data.mapping.pairs.top; pair++) {
        if (is_scalar(&nodes[pair->key - 1], key, length)) {
            return yaml_node(file, pair->value);
        }
    }
    return NULL;
}

bool yaml_note_missing(yaml_file *file, const yaml_node_t *map, const char *key, const char *how)
{
    if (!g_hash_table_contains(file->misspelt, map)) { /* else it stands there under another name, most likely */
        yaml_note(file, map, vd_fault_of_KEY_MISSING(key, how));
    }
    return false;
}

static const char *word_at(const void *about, size_t i)
{
    return ((const char *const *)about)[i];
}

static bool stands_before(yaml_file *file, const yaml_node_t *map, const yaml_node_pair_t *pair, const yaml_node_t *key)
{
    for (const yaml_node_pair_t *at = map->data.mapping.pairs.start; at < pair; at++) {
        if (is_scalar(yaml_node(file, at->key), (const char *)key->data.scalar.value, key->data.scalar.length)) {
            return true;
        }
    }
    return false;
}

/* Asked for each key of the file: most differ in their first character. */
static bool is_among(const char *const *words, const char *text)
{
    for (const char *const *word = words; *word != NULL; word++) {
        if ((*word)[0] == text[0] && strcmp(*word, text) == 0) {
            return true;
        }
    }
    return false;
}

bool yaml_check_keys(yaml_file *file, const yaml_node_t *map, const char *const *allowed)
{
    bool fine = true;
    if (map == NULL || map->type != YAML_MAPPING_NODE) {
        return yaml_note(file, map, vd_fault_of_WRONG_SHAPE("this part", "keys with values"));
    }
    if (map->data.mapping.pairs.top - map->data.mapping.pairs.start > 4 * (gssize)g_strv_length((char **)allowed)) {
        return yaml_note(file, map,
                         vd_fault_of_WRONG_SHAPE("this part", "the keys that belong here; these are too many"));
    }
    for (yaml_node_pair_t *pair = map->data.mapping.pairs.start; pair < map->data.mapping.pairs.top; pair++) {
        yaml_node_t *key = yaml_node(file, pair->key);
        const char *text = yaml_text(file, key, "a key");
        if (text == NULL) {
            fine = false;
            continue;
        }
        if (stands_before(file, map, pair, key)) {
            fine = yaml_note(file, key, vd_fault_of_KEY_TWICE(text));
        }
        if (!is_among(allowed, text)) {
            g_hash_table_add(file->misspelt, (gpointer)map);
            char *suggestion = vd_suggest(text, g_strv_length((char **)allowed), word_at, allowed);
            fine = yaml_note(file, key, vd_fault_of_NO_SUCH_KEY(text, suggestion));
            g_free(suggestion);
        }
    }
    return fine;
}

bool yaml_take_list(yaml_file *file, const yaml_node_t *map, const char *key, gsize most, gsize *count,
                    const yaml_node_item_t **items)
{
    yaml_node_t *list = yaml_member(file, map, key);
    *count = 0;
    *items = NULL;
    if (list == NULL) {
        return true;
    }
    if (list->type != YAML_SEQUENCE_NODE) {
        return yaml_note(file, list, vd_fault_of_WRONG_SHAPE(key, "a list, each item after a dash"));
    }
    *items = list->data.sequence.items.start;
    *count = (gsize)(list->data.sequence.items.top - list->data.sequence.items.start);
    if (*count > most) {
        char *allowed = g_strdup_printf("at most %zu items", most);
        yaml_note(file, list, vd_fault_of_WRONG_SHAPE(key, allowed));
        g_free(allowed);
        *count = 0;
        return false;
    }
    return true;
}

static bool meets(yaml_file *file, GArray *met, int child)
{
    if (child < 1 || (guint)child >= met->len || g_array_index(met, guint8, (guint)child) != 0) {
        return yaml_note(file, yaml_node(file, child), vd_fault_of_NO_ALIASES());
    }
    g_array_index(met, guint8, (guint)child) = 1;
    return true;
}

/* Whether a text has what could begin an anchor; most have none, and need not be read again. */
static bool may_have_anchor(const yaml_file *file)
{
    for (const char *at = strchr(file->text, '&'); at != NULL; at = strchr(at + 1, '&')) {
        bool begins = at == file->text || strchr(" \t\r\n[{,", at[-1]) != NULL;
        if (begins && at[1] != '\0' && (g_ascii_isalnum(at[1]) || at[1] == '_' || at[1] == '-')) {
            return true;
        }
    }
    return false;
}

static const yaml_char_t *anchor_of(const yaml_event_t *event)
{
    return event->type == YAML_SCALAR_EVENT           ? event->data.scalar.anchor
           : event->type == YAML_SEQUENCE_START_EVENT ? event->data.sequence_start.anchor
           : event->type == YAML_MAPPING_START_EVENT  ? event->data.mapping_start.anchor
                                                      : NULL;
}

/* The tree does not say which of its nodes had an anchor, so the text is gone through once more. */
static bool refuse_anchors(yaml_file *file)
{
    yaml_parser_t parser;
    bool fine = true, ended = !may_have_anchor(file);
    if (ended || yaml_parser_initialize(&parser) == 0) {
        return true;
    }
    yaml_parser_set_encoding(&parser, YAML_UTF8_ENCODING);
    yaml_parser_set_input_string(&parser, (const unsigned char *)file->text, file->length);
    while (!ended) {
        yaml_event_t event;
        if (yaml_parser_parse(&parser, &event) == 0) {
            break;
        }
        if (anchor_of(&event) != NULL) {
            vd_fault fault = vd_fault_of_NO_ALIASES();
            vd_findings_add(file->findings, (unsigned)event.start_mark.line + 1, (unsigned)event.start_mark.column + 1,
                            &fault);
            fine = false;
        }
        ended = event.type == YAML_STREAM_END_EVENT;
        yaml_event_delete(&event);
    }
    yaml_parser_delete(&parser);
    return fine;
}

bool yaml_refuse_aliases(yaml_file *file)
{
    if (!refuse_anchors(file)) {
        return false;
    }
    const yaml_node_t *nodes = file->document.nodes.start;
    gsize count = (gsize)(file->document.nodes.top - nodes);
    GArray *met = g_array_sized_new(FALSE, TRUE, 1, (guint)count + 1);
    g_array_set_size(met, (guint)count + 1);
    bool fine = true;
    for (gsize i = 0; i < count && fine; i++) {
        const yaml_node_t *node = &nodes[i];
        for (yaml_node_item_t *item = node->data.sequence.items.start;
             node->type == YAML_SEQUENCE_NODE && item < node->data.sequence.items.top && fine; item++) {
            fine = meets(file, met, *item);
        }
        for (yaml_node_pair_t *pair = node->data.mapping.pairs.start;
             node->type == YAML_MAPPING_NODE && pair < node->data.mapping.pairs.top && fine; pair++) {
            fine = meets(file, met, pair->key) && meets(file, met, pair->value);
        }
    }
    g_array_free(met, TRUE);
    return fine;
}

const char *yaml_text(yaml_file *file, const yaml_node_t *node, const char *what)
{
    if (node == NULL || node->type != YAML_SCALAR_NODE) {
        yaml_note(file, node, vd_fault_of_WRONG_SHAPE(what, "one word or value"));
        return NULL;
    }
    return (const char *)node->data.scalar.value;
}

/* The text of a member; sets `fine` to whether that is in order. NULL when it is missing. */
static const char *member_text(yaml_file *file, const yaml_node_t *map, const char *key, bool needed, bool *fine,
                               yaml_node_t **node)
{
    *node = yaml_member(file, map, key);
    *fine = true;
    if (*node == NULL) {
        *fine = !needed || yaml_note_missing(file, map, key, "the documentation of this kind of file shows how");
        return NULL;
    }
    const char *text = yaml_text(file, *node, key);
    *fine = text != NULL;
    return text;
}

bool yaml_take_text(yaml_file *file, const yaml_node_t *map, const char *key, bool needed, const char **out)
{
    bool fine = true;
    yaml_node_t *node = NULL;
    const char *text = member_text(file, map, key, needed, &fine, &node);
    *out = text != NULL ? text : *out;
    return fine;
}

bool yaml_take_key(yaml_file *file, const yaml_node_t *map, const char *key, const char **out)
{
    return yaml_take_text(file, map, key, true, out) &&
           (vd_text_is_key(*out) || yaml_note(file, yaml_member(file, map, key), vd_fault_of_NOT_A_KEY(*out)));
}

bool yaml_take_integer(yaml_file *file, const yaml_node_t *map, const char *key, bool needed, int64_t least,
                       int64_t most, int64_t *out)
{
    bool fine = true;
    yaml_node_t *node = NULL;
    const char *text = member_text(file, map, key, needed, &fine, &node);
    if (text == NULL) {
        return fine;
    }
    gint64 number = 0;
    bool hex = g_str_has_prefix(text, "0x");
    guint64 from_hex = 0;
    bool good = hex ? g_ascii_string_to_unsigned(text + 2, 16, 0, (guint64)G_MAXINT64, &from_hex, NULL)
                    : g_ascii_string_to_signed(text, 10, least, most, &number, NULL);
    number = hex ? (gint64)from_hex : number;
    if (!good || number < least || number > most) {
        char *allowed = g_strdup_printf("a whole number from %" PRId64 " to %" PRId64, least, most);
        yaml_note(file, node, vd_fault_of_WRONG_SHAPE(text, allowed));
        g_free(allowed);
        return false;
    }
    *out = number;
    return true;
}

bool yaml_take_format(yaml_file *file, const yaml_node_t *root, const char *key, int known)
{
    int64_t format = 0;
    if (!yaml_take_integer(file, root, key, true, 1, G_MAXINT32, &format)) {
        return false;
    }
    if (format > known) {
        char *said = g_strdup_printf("%d", (int)format), *allowed = g_strdup_printf("%d", known);
        yaml_note(file, yaml_member(file, root, key), vd_fault_of_FORMAT_TOO_NEW(said, allowed));
        g_free(said);
        g_free(allowed);
    }
    return format <= known;
}

bool yaml_take_truth(yaml_file *file, const yaml_node_t *map, const char *key, bool *out)
{
    static const char *const words[] = {"no", "yes", "off", "on", "false", "true", NULL};
    uint8_t word = *out;
    bool fine = yaml_take_word(file, map, key, false, words, &word);
    *out = (word & 1u) != 0;
    return fine;
}

bool yaml_take_duration(yaml_file *file, const yaml_node_t *map, const char *key, bool needed, int64_t most,
                        int64_t *out)
{
    bool fine = true;
    yaml_node_t *node = NULL;
    const char *text = member_text(file, map, key, needed, &fine, &node);
    if (text == NULL) {
        return fine;
    }
    const vd_setting_words words = {.key = key};
    const vd_setting about = {
        .words = &words, .measure = "", .traits = &vd_type_duration, .tick = 1, .step = 1, .max = most};
    vd_typed typed;
    vd_fault fault = {0};
    if (vd_setting_parse(&about, text, strlen(text), &typed, &fault) != VD_OK ||
        vd_setting_check(&about, &typed.value, &fault) != VD_OK) {
        yaml_note(file, node, vd_fault_of_WRONG_SHAPE(text, fault.allowed));
        return false;
    }
    *out = typed.value.number;
    return true;
}

bool yaml_take_word(yaml_file *file, const yaml_node_t *map, const char *key, bool needed, const char *const *words,
                    uint8_t *out)
{
    bool fine = true;
    yaml_node_t *node = NULL;
    const char *text = member_text(file, map, key, needed, &fine, &node);
    if (text == NULL) {
        return fine;
    }
    for (uint8_t i = 0; words[i] != NULL; i++) {
        if (strcmp(words[i], text) == 0) {
            *out = i;
            return true;
        }
    }
    char *all = g_strjoinv(", ", (char **)words), *allowed = g_strdup_printf("one of %s", all);
    yaml_note(file, node, vd_fault_of_WRONG_SHAPE(text, allowed));
    g_free(allowed);
    g_free(all);
    return false;
}
