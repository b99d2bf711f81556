/* SPDX-License-Identifier: MIT
 * Looking back at visits that are kept. */
#include <string.h>

#include "parts.h"
#include "verdite/history.h"

#define ROW                                                                                                            \
    "SELECT v.id, v.mark, v.began, v.ended, v.of, v.task, v.step, v.outcome, v.open, v.changes, u.maker, u.model,"     \
    " u.serial, v.product, v.firmware, v.port, v.adapter, v.who, v.remark, v.address, v.baud, v.framing,"              \
    " v.new_address, v.new_baud, v.new_framing, v.ran, v.line, v.at_address, v.leg, coalesce(o.serial, ''), v.code"    \
    " FROM visit v JOIN unit u ON u.id = v.unit LEFT JOIN unit o ON o.id = v.other"

#define UNIT "SELECT id FROM unit WHERE serial = ?3 AND (?2 = '' OR model = ?2)"

static bool take_link(sqlite3_stmt *row, int column, vd_link *link)
{
    char framing[8];
    gint64 address = sqlite3_column_int64(row, column), baud = sqlite3_column_int64(row, column + 1);
    link->address = (uint8_t)address;
    link->line.baud = (uint32_t)baud;
    if (address == 0 && baud == 0) { /* not known */
        return true;
    }
    return address >= 0 && address <= 247 && baud >= 50 && baud <= 4000000 &&
           store_text(row, column + 2, framing, sizeof framing) && vd_framing_parse(framing, &link->line);
}

/* A row that another hand has spoilt is passed over. */
static bool take(sqlite3_stmt *row, vd_past *past)
{
    memset(past, 0, sizeof *past);
    past->id = sqlite3_column_int64(row, 0);
    past->began = sqlite3_column_int64(row, 2);
    past->ended = sqlite3_column_int64(row, 3);
    past->of = sqlite3_column_int64(row, 4);
    past->open = sqlite3_column_int64(row, 8) != 0;
    past->ran = sqlite3_column_int64(row, 25);
    past->changes = (int32_t)sqlite3_column_int64(row, 9);
    past->at = (uint8_t)sqlite3_column_int64(row, 27);
    past->leg = sqlite3_column_int64(row, 28) != 0;
    const struct {
        int column;
        char *to;
        size_t size;
    } texts[] = {{1, past->mark, sizeof past->mark},
                 {5, past->task, sizeof past->task},
                 {6, past->step, sizeof past->step},
                 {7, past->outcome, sizeof past->outcome},
                 {10, past->unit.maker, sizeof past->unit.maker},
                 {11, past->model, sizeof past->model},
                 {12, past->unit.serial, sizeof past->unit.serial},
                 {13, past->unit.product, sizeof past->unit.product},
                 {14, past->unit.firmware, sizeof past->unit.firmware},
                 {15, past->port, sizeof past->port},
                 {16, past->adapter, sizeof past->adapter},
                 {17, past->who, sizeof past->who},
                 {18, past->remark, sizeof past->remark},
                 {26, past->line, sizeof past->line},
                 {29, past->other, sizeof past->other},
                 {30, past->code, sizeof past->code}};
    bool fine = take_link(row, 19, &past->from) && take_link(row, 22, &past->to);
    for (size_t i = 0; i < G_N_ELEMENTS(texts); i++) {
        fine = store_text(row, texts[i].column, texts[i].to, texts[i].size) && fine;
    }
    return fine;
}

size_t vd_history_find(vd_store_file *store, const vd_past_query *query, vd_past *past, size_t most)
{
    size_t count = 0;
    if (store == NULL || most == 0) {
        return 0;
    }
    gint64 open = query->open, writes = query->writes, acts = query->acts;
    /* By what there is the fewest of. */
    const char *sql =
        query->id > 0           ? ROW " WHERE v.id = ?1"
        : query->open           ? ROW " WHERE v.open = 1 AND (?2 = '' OR u.model = ?2) AND (?3 = '' OR "
                                      "u.serial = ?3) AND (?4 = 0 OR v.began >= ?4) AND (?5 = 0 OR v.began < ?5) "
                                      "AND (?8 = 0 OR v.leg = 0) "
                                      "ORDER BY v.id DESC"
        : query->serial != NULL ? ROW " WHERE v.id IN (SELECT id FROM visit WHERE unit IN (" UNIT ") UNION ALL"
                                      " SELECT id FROM visit WHERE other <> 0 AND other IN (" UNIT "))"
                                      " AND (?8 = 0 OR v.leg = 0) AND (?4 = 0 OR v.began >= ?4) AND (?5 = 0 OR "
                                      "v.began < ?5) AND (?7 = 0 OR v.changes <> 0) ORDER BY v.id DESC"
        : query->code != NULL ? ROW " WHERE v.code = ?9 AND v.code <> '' AND (?2 = '' OR u.model = ?2) AND (?8 = 0 OR "
                                    "v.leg = 0) AND (?4 = 0 OR v.began >= ?4) AND (?5 = 0 OR v.began < ?5) "
                                    "AND (?7 = 0 OR v.changes <> 0) ORDER BY v.id DESC"
                              : ROW
            " WHERE (?8 = 0 OR v.leg = 0) AND (?2 = '' OR u.model = ?2) AND (?4 = 0 OR v.began >= ?4) AND "
            "(?5 = 0 OR v.began < ?5) AND (?7 = 0 OR v.changes <> 0) ORDER BY v.id DESC";
    sqlite3_stmt *row = store_ask(store, sql, "nttnnnnnt", (gint64)query->id, query->model != NULL ? query->model : "",
                                  query->serial != NULL ? query->serial : "", (gint64)query->since,
                                  (gint64)query->until, open, writes, acts, query->code != NULL ? query->code : "");
    while (row != NULL && count < most && store_step(row) == SQLITE_ROW) {
        count += take(row, &past[count]);
    }
    sqlite3_finalize(row);
    return count;
}

/* Puts a kept text back into a set. False: the model would not take it. */
static bool put_back(vd_set *set, uint16_t i, sqlite3_stmt *row, int column)
{
    char text[2 * VD_MOST_BYTES + 64];
    vd_typed typed;
    if (sqlite3_column_type(row, column) == SQLITE_NULL || set == NULL) {
        return true;
    }
    const char *held = (const char *)sqlite3_column_text(row, column);
    if (held != NULL && held[0] == '\0' && set->model->settings[i].traits->id == VD_TEXT) {
        vd_set_put(set, i, &(vd_value){.type = VD_TEXT, .text = ""});
        return true;
    }
    if (!store_text(row, column, text, sizeof text) ||
        vd_setting_parse(&set->model->settings[i], text, strlen(text), &typed, NULL) != VD_OK) {
        return false;
    }
    vd_set_put(set, i, &typed.value);
    return true;
}

size_t vd_history_values(vd_store_file *store, int64_t id, vd_set *before, vd_set *wanted, vd_set *after,
                         uint16_t *about)
{
    const vd_model *model = before->model;
    size_t left = 0;
    sqlite3_stmt *row =
        store_ask(store,
                  "SELECT s.key, h.before, h.wanted, h.after, h.bits FROM held h JOIN setting s ON s.id ="
                  " h.setting WHERE h.visit = ?",
                  "n", (gint64)id);
    while (row != NULL && store_step(row) == SQLITE_ROW) {
        char key[128];
        uint16_t i = store_text(row, 0, key, sizeof key) ? vd_model_find(model, key) : VD_NONE;
        if (i == VD_NONE) {
            left++;
            continue;
        }
        if (about != NULL) {
            about[i] = (uint16_t)sqlite3_column_int64(row, 4);
        }
        bool moved = sqlite3_column_type(row, 3) != SQLITE_NULL;
        bool fine = put_back(before, i, row, 1);
        fine = put_back(wanted, i, row, 2) && fine;
        fine = put_back(after, i, row, moved ? 3 : 1) && fine;
        left += !fine;
    }
    sqlite3_finalize(row);
    return left;
}

size_t vd_history_of_setting(vd_store_file *store, const char *model, const char *serial, const char *key,
                             vd_past_value *values, size_t most)
{
    size_t count = 0;
    sqlite3_stmt *row =
        store != NULL ? store_ask(store,
                                  "SELECT v.id, v.began, v.task, coalesce(h.after, h.before), h.bits FROM unit u JOIN "
                                  "visit v ON v.unit = u.id"
                                  " JOIN held h ON h.visit = v.id WHERE u.model = ? AND u.serial = ? AND h.setting ="
                                  " (SELECT id FROM setting WHERE key = ?) AND coalesce(h.after, h.before) IS NOT NULL"
                                  " ORDER BY v.id DESC",
                                  "ttt", model, serial, key)
                      : NULL;
    while (row != NULL && store_step(row) == SQLITE_ROW) {
        vd_past_value value = {.id = sqlite3_column_int64(row, 0),
                               .began = sqlite3_column_int64(row, 1),
                               .idle = (sqlite3_column_int64(row, 4) & VD_PAST_IDLE) != 0};
        if (!store_text(row, 2, value.task, sizeof value.task) ||
            !store_text(row, 3, value.value, sizeof value.value)) {
            continue;
        }
        /* Of a run of the same, the first visit that showed it stands for all. */
        bool same = count > 0 && strcmp(values[count - 1].value, value.value) == 0;
        if (!same && count == most) {
            break;
        }
        value.idle = same ? values[count - 1].idle : value.idle; /* as it was seen last */
        values[same ? count - 1 : count] = value;
        count += !same;
    }
    sqlite3_finalize(row);
    return count;
}
