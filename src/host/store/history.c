/* SPDX-License-Identifier: MIT
 * Keeping a visit: a row that is begun, added to and ended, each in one piece. */
#include <errno.h>
#include <string.h>
#include <sys/random.h>

#include "parts.h"
#include "verdite/history.h"

static const char *const tasks[] = {[VD_TASK_IDENTIFY] = "identify",
                                    [VD_TASK_READ] = "read",
                                    [VD_TASK_WRITE] = "write",
                                    [VD_TASK_VERIFY] = "verify",
                                    [VD_TASK_ACT] = "act"};

static const char *step_name(vd_step step)
{
    static const char *const names[VD_STEP_COUNT] = {
        [VD_STEP_KEEP] = "keep",  [VD_STEP_WRITE] = "write", [VD_STEP_STORE] = "store",    [VD_STEP_SAVE] = "store",
        [VD_STEP_LOAD] = "store", [VD_STEP_ACT] = "act",     [VD_STEP_RESTART] = "restart"};
    return names[step] != NULL ? names[step] : "";
}

const char *vd_whole_name(vd_whole whole)
{
    static const char *const names[] = {[VD_WHOLE_VERIFIED] = "verified",
                                        [VD_WHOLE_EXCEPT] = "verified-except",
                                        [VD_WHOLE_LIVE_ONLY] = "live-only",
                                        [VD_WHOLE_NOT] = "not-verified"};
    return names[whole];
}

static vd_status store_failed(vd_store_file *store, vd_fault *fault)
{
    vd_note_STORE_SHUT(fault, store_why(store->database));
    store_do(store, "ROLLBACK", "");
    return VD_STORE_SHUT;
}

vd_status store_commit(vd_store_file *store, bool fine, vd_fault *fault)
{
    return fine && store_do(store, "COMMIT", "") ? VD_OK : store_failed(store, fault);
}

/* ---- Settings ---- */

/* A value as it is printed, NULL where there is none that may be kept. Free it. */
static char *text_of(const vd_set *set, uint16_t i)
{
    const vd_setting *setting = &set->model->settings[i];
    if (setting->secret || !vd_set_knows(set, i)) {
        return NULL;
    }
    char text[2 * VD_MOST_BYTES + 64];
    vd_writer writer = vd_writer_start(text, sizeof text);
    vd_value value = vd_set_get(set, i);
    vd_value_print(setting, &value, &writer);
    return g_strdup(text);
}

static unsigned bits_of(const vd_visit *visit, uint16_t i)
{
    const vd_entry *entry = vd_visit_entry(visit, i);
    unsigned verdict = (unsigned)vd_visit_verdict(visit, i);
    const unsigned along = VD_PART_ALONG | VD_PART_RESCALED | VD_PART_SWAYED;
    return entry->sending | verdict << VD_PAST_VERDICT_SHIFT |
           (vd_set_exists(vd_visit_live(visit), i) == VD_FAILS ? VD_PAST_IDLE : 0) |
           ((entry->part & along) != 0 ? VD_PAST_ALONG : 0) | ((entry->part & VD_PART_ASKED) != 0 ? VD_PAST_ASKED : 0) |
           ((entry->part & VD_PART_CHANGES) != 0 ? VD_PAST_CHANGES : 0) |
           (vd_visit_model(visit)->settings[i].secret ? VD_PAST_SECRET : 0);
}

static bool is_part(const vd_visit *visit, uint16_t i)
{
    return (vd_visit_entry(visit, i)->part & (VD_PART_ASKED | VD_PART_CHANGES)) != 0;
}

/* One statement for all settings; the numbers of keys that were never met before are made on the way. */
static bool put_settings(vd_store_file *store, int64_t id, const vd_visit *visit, const vd_set *before)
{
    bool writes = vd_visit_standing(visit)->writes, fine = true;
    for (int pass = 0; pass < 2 && fine; pass++) { /* keys, then what they hold */
        sqlite3_stmt *put = store_ask(store,
                                      pass == 0 ? "INSERT OR IGNORE INTO setting (key) VALUES (?1)"
                                                : "INSERT INTO held (visit, setting, before, wanted, bits)"
                                                  " SELECT ?2, id, ?3, ?4, ?5 FROM setting WHERE key = ?1",
                                      "");
        for (uint16_t i = 0; i < vd_visit_model(visit)->setting_count && fine && put != NULL; i++) {
            bool wanted = vd_visit_task(visit) != VD_TASK_READ && is_part(visit, i);
            if (!vd_set_knows(before, i) && !wanted) {
                continue;
            }
            char *was = text_of(before, i), *to = wanted ? text_of(vd_visit_desired(visit), i) : NULL;
            bool same = to != NULL && was != NULL && strcmp(was, to) == 0 && !writes;
            sqlite3_bind_text(put, 1, vd_visit_model(visit)->settings[i].words->key, -1, SQLITE_STATIC);
            if (pass == 1) {
                sqlite3_bind_int64(put, 2, id);
                sqlite3_bind_text(put, 3, was, -1, SQLITE_STATIC);
                sqlite3_bind_text(put, 4, same ? NULL : to, -1, SQLITE_STATIC);
                sqlite3_bind_int64(put, 5, bits_of(visit, i));
            }
            fine = store_step(put) == SQLITE_DONE;
            sqlite3_reset(put);
            g_free(was);
            g_free(to);
        }
        fine = fine && put != NULL;
        sqlite3_finalize(put);
    }
    return fine;
}

/* What became of each; once the visit has ended, also what it holds now. */
static bool renew_settings(vd_store_file *store, int64_t id, const vd_visit *visit)
{
    vd_status status = VD_OK;
    bool ended = vd_visit_ended(visit, &status), fine = true;
    sqlite3_stmt *put = store_ask(store,
                                  "UPDATE held SET bits = ?1, after = ?2 WHERE visit = ?3 AND setting ="
                                  " (SELECT id FROM setting WHERE key = ?4)",
                                  "");
    for (uint16_t i = 0; i < vd_visit_model(visit)->setting_count && fine && put != NULL; i++) {
        bool moved = vd_set_compare(vd_visit_before(visit), vd_visit_live(visit), i) == VD_DIFFERENT;
        if (!is_part(visit, i) && !(ended && moved)) {
            continue;
        }
        char *now = ended && moved ? text_of(vd_visit_live(visit), i) : NULL;
        sqlite3_bind_int64(put, 1, bits_of(visit, i));
        sqlite3_bind_text(put, 2, now, -1, SQLITE_STATIC);
        sqlite3_bind_int64(put, 3, id);
        sqlite3_bind_text(put, 4, vd_visit_model(visit)->settings[i].words->key, -1, SQLITE_STATIC);
        fine = store_step(put) == SQLITE_DONE;
        sqlite3_reset(put);
        g_free(now);
    }
    fine = fine && put != NULL;
    sqlite3_finalize(put);
    return fine;
}

/* ---- Visits ---- */

/* 128 random bits; two stores can be put together without mistaking one visit for another. */
static bool new_mark(char *mark)
{
    uint8_t bits[16];
    if (getrandom(bits, sizeof bits, 0) != (ssize_t)sizeof bits) {
        return false;
    }
    for (size_t i = 0; i < sizeof bits; i++) {
        g_snprintf(mark + 2 * i, 3, "%02x", bits[i]);
    }
    return true;
}

static gint64 unit_id(vd_store_file *store, const char *model, const vd_identity *unit)
{
    store_do(store, "INSERT OR IGNORE INTO unit (maker, model, serial) VALUES (?, ?, ?)", "ttt", unit->maker, model,
             unit->serial);
    return store_number(store, "SELECT id FROM unit WHERE maker = ? AND model = ? AND serial = ?", "ttt", unit->maker,
                        model, unit->serial);
}

static void framing_text(const vd_serial *line, char framing[4])
{
    framing[0] = (char)('0' + line->data_bits);
    framing[1] = line->parity;
    framing[2] = (char)('0' + line->stop_bits);
    framing[3] = '\0';
}

/* What is too long to be read again is cut, at the end of a character. */
static const char *fitting(const char *text, char *room, size_t size)
{
    const char *end = NULL;
    g_strlcpy(room, text != NULL ? text : "", size);
    g_utf8_validate(room, -1, &end);
    room[end - room] = '\0';
    return room;
}

bool row_begin(vd_store_file *store, const store_row *about, const vd_occasion *occasion, int64_t *id)
{
    const vd_link *from = &about->from, *to = &about->to;
    char mark[33], framing[4], new_framing[4];
    vd_past room;
    gint64 unit = unit_id(store, about->model, about->unit),
           other = about->other != NULL ? unit_id(store, about->model, about->other) : 0;
    framing_text(&from->line, framing);
    framing_text(&to->line, new_framing);
    bool fine =
        unit > 0 && other >= 0 && new_mark(mark) &&
        store_do(
            store,
            "INSERT INTO visit (mark, unit, task, began, ended, step, outcome, open, of, product, firmware, port,"
            " adapter, who, remark, changes, address, baud, framing, new_address, new_baud, new_framing, line,"
            " leg, other, code) VALUES (?, ?, ?, ?, 0, ?, '', 1, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?,"
            " ?)",
            "tntntnttttttnnntnnttnnt", mark, unit, fitting(about->task, room.task, sizeof room.task),
            (gint64)occasion->now, about->step, (gint64)occasion->of, about->unit->product, about->unit->firmware,
            fitting(occasion->port, room.port, sizeof room.port),
            fitting(occasion->adapter, room.adapter, sizeof room.adapter),
            fitting(occasion->who, room.who, sizeof room.who),
            fitting(occasion->remark, room.remark, sizeof room.remark), about->changes, (gint64)from->address,
            (gint64)from->line.baud, framing, (gint64)to->address, (gint64)to->line.baud, new_framing,
            fitting(occasion->line, room.line, sizeof room.line), (gint64)occasion->leg, other,
            fitting(occasion->code, room.code, sizeof room.code));
    *id = sqlite3_last_insert_rowid(store->database);
    return fine;
}

static bool begin_row(vd_store_file *store, const vd_visit *visit, const vd_occasion *occasion, int64_t *id)
{
    store_row about = {.model = vd_visit_model(visit)->key,
                       .task = occasion->task != NULL ? occasion->task : tasks[vd_visit_task(visit)],
                       .step = step_name(vd_visit_progress(visit).step),
                       .unit = vd_visit_identity(visit),
                       .from = *vd_visit_link(visit)};
    about.to = vd_visit_new_link(visit) != NULL ? *vd_visit_new_link(visit) : about.from;
    for (uint16_t i = 0; i < vd_visit_model(visit)->setting_count; i++) {
        about.changes += vd_visit_changes(visit, i);
    }
    return row_begin(store, &about, occasion, id);
}

vd_status vd_history_begin(vd_store_file *store, const vd_visit *visit, const vd_occasion *occasion, int64_t *id,
                           vd_fault *fault)
{
    size_t size = vd_set_size(vd_visit_model(visit));
    void *memory = g_malloc0(size);
    vd_set before;
    *id = 0;
    vd_set_start(&before, vd_visit_model(visit), memory, size);
    vd_visit_prior(visit, &before);
    bool fine = store_do(store, "BEGIN IMMEDIATE", "") && begin_row(store, visit, occasion, id) &&
                put_settings(store, *id, visit, &before);
    vd_status status = store_commit(store, fine, fault);
    *id = status == VD_OK ? *id : 0;
    vd_wipe(memory, size);
    g_free(memory);
    return status;
}

vd_status vd_history_step(vd_store_file *store, int64_t id, const vd_visit *visit, vd_fault *fault)
{
    bool fine = store_do(store, "BEGIN IMMEDIATE", "") &&
                store_do(store, "UPDATE visit SET step = ? WHERE id = ?", "tn",
                         step_name(vd_visit_progress(visit).step), (gint64)id) &&
                renew_settings(store, id, visit);
    return store_commit(store, fine, fault);
}

/* How it ended, and whether it leaves anything open. */
static const char *outcome_of(const vd_visit *visit, bool *open)
{
    vd_status status = VD_OK;
    vd_whole whole = vd_visit_summary(visit).whole;
    bool sent = vd_visit_has_sent(visit), writes = vd_visit_standing(visit)->writes;
    vd_visit_ended(visit, &status);
    if (sent && vd_visit_task(visit) == VD_TASK_ACT &&
        vd_visit_summary(visit).total == 0) { /* nothing that can be read shows it */
        *open = false;
        return vd_visit_acted(visit) == VD_ACKNOWLEDGED ? "taken" : "not-known";
    }
    *open = writes && sent && whole == VD_WHOLE_NOT;
    return writes && !sent && status != VD_OK                 ? "nothing-sent"
           : writes || vd_visit_task(visit) == VD_TASK_VERIFY ? vd_whole_name(whole)
                                                              : (status == VD_OK ? "read" : "not-read");
}

vd_status vd_history_end(vd_store_file *store, int64_t id, const vd_visit *visit, int64_t now, vd_fault *fault)
{
    bool open = false;
    const char *outcome = outcome_of(visit, &open);
    bool whole = vd_visit_task(visit) == VD_TASK_WRITE ||
                 (vd_visit_task(visit) == VD_TASK_ACT && vd_visit_action(visit)->deed == VD_DEED_DEFAULTS);
    vd_status status = VD_OK;
    vd_visit_ended(visit, &status);
    bool settles = whole && !open && (status == VD_OK || vd_visit_has_sent(visit));
    /* Only where it was read back it is known to be. */
    bool back = (vd_visit_standing(visit)->same_unit && vd_visit_was_read_back(visit)) ||
                (!vd_visit_standing(visit)->writes && status == VD_OK);
    bool fine =
        store_do(store, "BEGIN IMMEDIATE", "") &&
        store_do(store,
                 "UPDATE visit SET ended = max(?, 1), outcome = ?, open = ?, ran = ?, at_address = ? WHERE id = ?",
                 "ntnnnn", (gint64)now, outcome, (gint64)open, (gint64)vd_set_running_time(vd_visit_live(visit)),
                 (gint64)(back ? vd_visit_link(visit)->address : 0), (gint64)id) &&
        (!settles ||
         store_do(
             store,
             "UPDATE visit SET open = 0 WHERE open = 1 AND id < ?1 AND unit = (SELECT unit FROM visit WHERE id = ?1)",
             "n", (gint64)id)) &&
        renew_settings(store, id, visit);
    return store_commit(store, fine, fault);
}
