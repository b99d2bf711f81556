/* SPDX-License-Identifier: MIT
 * A unit that talks in lines: how its records answer to reads and writes, the login, storing and orders. */
#include "../../wire/lines/responder.h"
#include "../parts.h"

#include "verdite/fields.h"
#include "verdite/lines_unit.h"

#include <string.h>

static vd_lines_responder *responder_of(const vd_unit *unit)
{
    return unit->end;
}

static size_t responder_size(void)
{
    return VD_ALIGNED(sizeof(vd_lines_responder));
}

static bool is_here(const vd_unit *unit, uint16_t i)
{
    return !vd_set_lacks(&unit->live, i);
}

/* Whether a setting stands in a record that a word names; in queries the word says which item. */
static bool is_named(const vd_unit *unit, uint16_t i, const char *word, size_t length)
{
    const vd_field *field = &unit->model->settings[i].field;
    return vd_lines_is_word(field->word, field->item, word, length);
}

static uint16_t field_of(const vd_unit *unit, const vd_field *record, uint8_t number)
{
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        const vd_field *field = &unit->model->settings[i].field;
        if (field->number == number && vd_field_same_record(field, record) && is_here(unit, i)) {
            return i;
        }
    }
    return VD_NONE;
}

static bool is_tries_left(const vd_unit *unit, uint16_t i)
{
    return vd_index(unit->model->login.left) == i && unit->model->login.tries > 0;
}

/* Settings of one record, in order; what has no value yet is an empty field. */
static void answer_record(vd_unit *unit, const vd_field *record, unsigned of)
{
    vd_writer *writer = vd_lines_answer(responder_of(unit), record->word, record->item, of);
    uint16_t i = VD_NONE;
    for (uint8_t number = 0; (i = field_of(unit, record, number)) != VD_NONE; number++) {
        vd_writer_add(writer, number > 0 ? "," : "");
        if (is_tries_left(unit, i)) {
            vd_writer_add_number(writer, unit->tries_left);
        } else {
            vd_field_print(unit->language->manner, vd_unit_shown(unit, i), i, writer, NULL);
        }
    }
    vd_lines_answer_end(responder_of(unit));
}

/* Records that a word names and that may be read: how many, and answers them where `of` is not 0. */
static unsigned read_word(vd_unit *unit, const char *word, size_t length, unsigned of, bool *forbidden)
{
    unsigned count = 0;
    for (uint16_t i = 0; i < unit->model->setting_count; i++) {
        const vd_setting *setting = &unit->model->settings[i];
        if (setting->field.number != 0 || !is_named(unit, i, word, length) || !is_here(unit, i) ||
            setting->access == VD_WRITE_ONLY) {
            continue;
        }
        if (!vd_unit_allows(unit, setting->read_by)) {
            *forbidden = true;
            continue;
        }
        count++;
        if (of > 0) {
            answer_record(unit, &setting->field, of);
        }
    }
    return count;
}

static void answer_read(vd_unit *unit, const vd_lines_call *call)
{
    bool sentences = unit->language->manner->sealed, forbidden = false, missing = false;
    const char *rest = sentences ? call->data : call->word, *word = NULL;
    size_t left = sentences ? call->data_length : call->word_length, length = 0;
    unsigned of = 0;
    while (vd_lines_cut(unit->language->manner, &rest, &left, ',', &word, &length)) {
        unsigned count = read_word(unit, word, length, 0, &forbidden);
        missing = missing || count == 0;
        of += count;
    }
    if (missing) {
        vd_lines_refuse(responder_of(unit), forbidden ? VD_NO_RIGHT : VD_NO_SUCH_WORD);
        return;
    }
    rest = sentences ? call->data : call->word;
    left = sentences ? call->data_length : call->word_length;
    while (vd_lines_cut(unit->language->manner, &rest, &left, ',', &word, &length)) {
        read_word(unit, word, length, of, &forbidden);
    }
    vd_lines_done(responder_of(unit), 0);
}

static void answer_identity(vd_unit *unit, const vd_lines_call *call)
{
    const vd_identity *identity = &unit->identity;
    const char *const parts[] = {identity->maker, identity->product, identity->firmware, identity->serial};
    bool commands = unit->language->manner->results;
    vd_writer *writer = vd_lines_answer(responder_of(unit), commands ? "" : "ID", 0, 1);
    for (unsigned i = 0; i < 4; i++) {
        unsigned part = commands || i < 2 ? i : 5 - i;
        if (!commands || part == call->part) {
            vd_writer_add(writer, !commands && i > 0 ? "," : "");
            vd_writer_add(writer, parts[part]);
        }
    }
    vd_lines_answer_end(responder_of(unit));
    vd_lines_done(responder_of(unit), 0);
}

/* ---- Writing ---- */

/* The number that a field is, of an item or a slot: up to four digits. False when it is none. */
static bool take_number(const char *piece, size_t length, uint16_t *number)
{
    bool fine = length <= 4;
    *number = 0;
    for (size_t i = 0; i < length && fine; i++) {
        fine = vd_is_digit(piece[i]);
        *number = (uint16_t)(*number * 10 + (piece[i] - '0'));
    }
    return fine && *number > 0;
}

/* The item that a write is about: the word says it in queries, the first field elsewhere. False when there is none. */
static bool take_item(const vd_unit *unit, const vd_field *first, const char **rest, size_t *left, uint16_t *item)
{
    const char *piece = NULL;
    size_t length = 0;
    *item = first->item;
    if (first->item == 0 || unit->language->manner->queue) {
        return true;
    }
    return vd_lines_cut(unit->language->manner, rest, left, ',', &piece, &length) && take_number(piece, length, item);
}

/* Stages the fields of one record; an empty one stays as it is (V.250 5.4.2.1). */
static bool stage(vd_unit *unit, const vd_field *record, const char *rest, size_t left)
{
    const char *piece = NULL;
    size_t length = 0;
    uint8_t number = 0;
    vd_set_copy(&unit->staged, &unit->live);
    memset(unit->touched, 0, unit->model->setting_count);
    while (vd_lines_cut(unit->language->manner, &rest, &left, ',', &piece, &length)) {
        uint16_t i = field_of(unit, record, number++);
        if (i == VD_NONE || unit->model->settings[i].access == VD_READ_ONLY) {
            return false;
        }
        bool text = vd_setting_is(&unit->model->settings[i], VD_TYPE_BYTES);
        bool stays = length == 0 && !(text && unit->language->manner->sealed);
        if (!stays && !vd_field_take(unit->language->manner, &unit->staged, i, piece, length)) {
            return false;
        }
        unit->touched[i] = !stays;
    }
    vd_set_reinterpret(&unit->staged);
    return vd_unit_accepts_staged(unit);
}

static void answer_write(vd_unit *unit, const vd_lines_call *call, uint64_t now)
{
    const vd_field *record = NULL;
    const char *rest = call->data;
    size_t left = call->data_length;
    uint16_t item = 0, first = VD_NONE;
    for (uint16_t i = 0; i < unit->model->setting_count && first == VD_NONE; i++) {
        first = is_named(unit, i, call->word, call->word_length) && is_here(unit, i) ? i : VD_NONE;
    }
    if (first == VD_NONE) {
        vd_lines_refuse(responder_of(unit), VD_NO_SUCH_WORD);
        return;
    }
    if (!take_item(unit, &unit->model->settings[first].field, &rest, &left, &item)) {
        vd_lines_refuse(responder_of(unit), VD_NO_SUCH_VALUE);
        return;
    }
    vd_field wanted = unit->model->settings[first].field;
    wanted.item = item;
    uint16_t head = field_of(unit, &wanted, 0);
    record = head != VD_NONE ? &unit->model->settings[head].field : NULL;
    if (record == NULL || rest == NULL) {
        vd_lines_refuse(responder_of(unit), VD_NO_SUCH_VALUE);
    } else if (!vd_unit_allows(unit, unit->model->settings[head].written_by)) {
        vd_lines_refuse(responder_of(unit), VD_NO_RIGHT);
    } else if (!stage(unit, record, rest, left)) {
        vd_lines_refuse(responder_of(unit), VD_NO_SUCH_VALUE);
    } else {
        vd_unit_take_staged(unit, now);
        vd_lines_done(responder_of(unit), 0);
    }
}

/* ---- Login and orders ---- */

static void log_in(vd_unit *unit, const vd_lines_call *call)
{
    char plain[VD_MOST_BYTES];
    const vd_setting *password = &unit->model->settings[vd_index(unit->model->login.setting)];
    vd_typed typed = {.value = {.type = VD_NOTHING}};
    if (vd_setting_is(password, VD_TYPE_TEXT)) {
        int length = vd_lines_plain(unit->language->manner, call->data, call->data_length, plain, sizeof plain);
        if (length >= 0) {
            typed.value = (vd_value){.type = password->traits->id, .text = plain, .length = (uint16_t)length};
        }
    } else {
        vd_setting_parse(password, call->data, call->data_length, &typed, NULL);
    }
    if (vd_unit_log_in(unit, &typed.value)) {
        vd_lines_done(responder_of(unit), 0);
    } else {
        vd_lines_refuse(responder_of(unit), VD_NO_PASSWORD);
    }
}

static bool says(const vd_lines_call *call, const vd_order *order)
{
    const char *argument = order->argument != NULL ? order->argument : "";
    return order->word != NULL && vd_lines_is_word(order->word, 0, call->word, call->word_length) &&
           strlen(argument) == call->data_length && memcmp(argument, call->data, call->data_length) == 0;
}

/* Saving a slot, whose number is the argument; false when it is none of that. */
static bool save_slot(vd_unit *unit, const vd_lines_call *call)
{
    const vd_slots *slots = &unit->model->slots;
    uint16_t number = 0;
    if (!slots->saved || !vd_lines_is_word(slots->order.word, 0, call->word, call->word_length)) {
        return false;
    }
    if (!vd_unit_allows_orders(unit)) {
        vd_lines_refuse(responder_of(unit), VD_NO_RIGHT);
    } else if (!take_number(call->data, call->data_length, &number) || !vd_unit_save_slot(unit, number)) {
        vd_lines_refuse(responder_of(unit), VD_NO_SUCH_VALUE);
    } else {
        vd_lines_done(responder_of(unit), 0);
    }
    return true;
}

/* Storing and actions; false when it is neither. */
static bool obey(vd_unit *unit, const vd_lines_call *call, uint64_t now)
{
    const vd_model *model = unit->model;
    const vd_action *action = NULL;
    bool store = model->store.needed && says(call, &model->store.order);
    for (uint8_t i = 0; i < model->action_count; i++) {
        action = says(call, &model->actions[i].order) ? &model->actions[i] : action;
    }
    if (!store && action == NULL) {
        return false;
    }
    if (!vd_unit_allows_orders(unit)) {
        vd_lines_refuse(responder_of(unit), VD_NO_RIGHT);
    } else if (store && !vd_unit_may_store(unit)) {
        vd_lines_refuse(responder_of(unit), VD_NO_SUCH_VALUE);
    } else if (store) {
        vd_unit_store(unit, now);
        vd_lines_done(responder_of(unit), model->reply.store * 1000u);
    } else {
        vd_lines_done(responder_of(unit), 0);
        unit->due = action;
    }
    return true;
}

static void answer_line(vd_unit *unit, const vd_lines_call *call, uint64_t now)
{
    const char *login = unit->model->login.order.word;
    if (call->kind == VD_CALL_IDENTITY) {
        answer_identity(unit, call);
    } else if (call->kind == VD_CALL_READ) {
        answer_read(unit, call);
    } else if (login != NULL && vd_lines_is_word(login, 0, call->word, call->word_length)) {
        log_in(unit, call);
    } else if (!vd_unit_takes_changes(unit, now)) {
        vd_lines_ignore(responder_of(unit));
    } else if (!save_slot(unit, call) && !obey(unit, call, now)) {
        answer_write(unit, call, now);
    }
}

/* ---- The language ---- */

static size_t lines_size(const vd_unit_language *language)
{
    (void)language;
    return responder_size() + VD_LINES_RESPONDER_MEMORY;
}

static void lines_start(vd_unit *unit, const vd_serial *line, uint8_t address)
{
    (void)address; /* it is alone on its line */
    vd_lines_responder_start(responder_of(unit), unit->language->manner, unit->model, line,
                             (char *)unit->end + responder_size());
}

static const vd_serial *lines_line(const vd_unit *unit)
{
    return &responder_of(unit)->line;
}

static bool lines_answer(vd_unit *unit, uint64_t now)
{
    const vd_lines_call *call = vd_lines_responder_call(responder_of(unit));
    if (call != NULL) {
        vd_unit_is_asked(unit, now);
        vd_unit_watch(unit, now);
        vd_unit_move_readings(unit, now);
        answer_line(unit, call, now);
    }
    return call != NULL;
}

static bool lines_say(vd_unit *unit, const char *line, uint64_t now)
{
    return vd_lines_responder_say(responder_of(unit), line, now);
}

static const vd_unit_ways ways = {.size = lines_size,
                                  .start = lines_start,
                                  .line = lines_line,
                                  .engine = &vd_lines_responder_engine,
                                  .answer = lines_answer,
                                  .say = lines_say};

const vd_unit_language vd_commands_unit = {.ways = &ways, .manner = &vd_commands_manner};
const vd_unit_language vd_queries_unit = {.ways = &ways, .manner = &vd_queries_manner};
const vd_unit_language vd_sentences_unit = {.ways = &ways, .manner = &vd_sentences_manner};
