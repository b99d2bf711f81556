/* SPDX-License-Identifier: MIT
 * The rows of a round: whose they are, what is known of them, who is next. */
#include "round.h"

#include <string.h>

#define LOOK_BACK 50u /* visits to one unit */

/* ---- What earlier visits say ---- */

/* Whether a row gives its unit a secret. */
static bool gives_secret(const round *r, const round_row *row, uint16_t setting)
{
    const vd_profile *profile = row->about.profile;
    return vd_roster_secret(r->roster, row->index, setting) != NULL ||
           (profile != NULL && vd_profile_secret(profile, setting) != NULL);
}

/* Whether a unit held all that its row says when a visit ended. Secrets are not kept: that they were sent is. */
static bool held(const round *r, const round_row *row, vd_store_file *store, const vd_past *past, const vd_set *target)
{
    uint16_t *about = g_new0(uint16_t, target->model->setting_count);
    const vd_model *model = target->model;
    size_t size = vd_set_size(model);
    char *memory = g_malloc0(2 * size);
    vd_set before, after;
    vd_set_start(&before, model, memory, size);
    vd_set_start(&after, model, memory + size, size);
    vd_history_values(store, past->id, &before, NULL, &after, about);
    bool all = true;
    for (uint16_t i = 0; i < model->setting_count && all; i++) {
        bool wanted = vd_set_knows(target, i) && model->settings[i].access != VD_READ_ONLY &&
                      vd_set_exists(target, i) != VD_FAILS && vd_setting_is_shown(&model->settings[i]);
        vd_comparison comparison = wanted ? vd_set_compare(&after, target, i) : VD_SAME;
        bool sent = (about[i] & VD_PAST_SENDING) == VD_ACKNOWLEDGED && strcmp(past->task, "round") == 0;
        all = comparison != VD_DIFFERENT && comparison != VD_ONLY_SECOND && (sent || !gives_secret(r, row, i));
    }
    g_free(about);
    g_free(memory);
    return all;
}

/* When a visit last found the unit to hold what its row wants; and whether none has changed it since. */
static void look_back(round *r, round_row *row, const vd_set *target, vd_past *past)
{
    static const char *const good[] = {"verified", "verified-except", "live-only", NULL};
    vd_store_file *store = remembered(r->c);
    const vd_roster_unit *about = &row->about;
    bool by_serial = about->serial[0] != '\0', by_code = !by_serial && about->code[0] != '\0';
    const vd_past_query query = {
        .model = about->model->key, .serial = by_serial ? about->serial : NULL, .code = by_code ? about->code : NULL};
    bool last = true;
    size_t count = by_serial || by_code ? vd_history_find(store, &query, past, LOOK_BACK) : 0;
    for (size_t i = 0; i < count; i++) {
        bool fine = g_strv_contains(good, past[i].outcome) && !past[i].open;
        row->seen = MAX(row->seen, past[i].began);
        row->open = row->open || (past[i].open && past[i].changes != 0);
        bool proved = strcmp(past[i].outcome, good[2]) != 0 || about->model->store.proof == VD_PROOF_NONE;
        if (fine && proved && held(r, row, store, &past[i], target)) {
            row->state = last && !r->c->options.all ? ROW_BEFORE : ROW_WAITING;
            row->before = past[i].ended;
            row->address = past[i].at;
            row->serial = g_strdup(past[i].unit.serial);
            break;
        }
        last = last && past[i].changes == 0; /* it was only looked at */
    }
}

static void take(round *r, round_row *row, vd_past *past)
{
    const vd_model *model = row->about.model;
    uint16_t address = vd_model_find_role(model, VD_ROLE_ADDRESS);
    void *memory = g_malloc0(vd_set_size(model));
    vd_set target;
    vd_set_start(&target, model, memory, vd_set_size(model));
    vd_roster_fill(r->roster, row->index, &target);
    if (address != VD_NONE && vd_set_knows(&target, address)) {
        row->wanted = (uint8_t)vd_set_get(&target, address).number;
    }
    look_back(r, row, &target, past);
    g_free(memory);
}

void rows_take(round *r)
{
    r->row_count = vd_roster_count(r->roster);
    r->rows = g_new0(round_row, r->row_count + 1);
    vd_past *past = g_new(vd_past, LOOK_BACK); /* for all of them, one after another */
    for (size_t i = 0; i < r->row_count; i++) {
        r->rows[i].index = i;
        r->rows[i].about = vd_roster_at(r->roster, i);
        take(r, &r->rows[i], past);
    }
    g_free(past);
}

void rows_free(round *r)
{
    for (size_t i = 0; i < r->row_count; i++) {
        g_free(r->rows[i].words);
        g_free(r->rows[i].serial);
    }
    g_free(r->rows);
}

/* ---- Whose they are ---- */

round_row *rows_of_serial(const round *r, const char *serial)
{
    for (size_t i = 0; i < r->row_count && serial[0] != '\0'; i++) {
        round_row *row = &r->rows[i];
        if (strcmp(row->about.serial, serial) == 0 || (row->serial != NULL && strcmp(row->serial, serial) == 0)) {
            return row;
        }
    }
    return NULL;
}

round_row *rows_at(const round *r, uint8_t address)
{
    for (size_t i = 0; i < r->row_count; i++) {
        const round_row *row = &r->rows[i];
        if (row->state == ROW_DONE && row->serial != NULL && row->serial[0] == '\0' && row->address == address) {
            return &r->rows[i];
        }
    }
    return NULL;
}

round_row *rows_but_zeros(const round *r, const char *serial)
{
    const char *bare = serial + strspn(serial, "0");
    for (size_t i = 0; i < r->row_count && bare != serial && bare[0] != '\0'; i++) {
        const char *said = r->rows[i].about.serial;
        if (said[0] != '\0' && strcmp(said + strspn(said, "0"), bare) == 0) {
            return &r->rows[i];
        }
    }
    return NULL;
}

round_row *rows_in_order(const round *r, const vd_model *model, uint8_t address)
{
    round_row *first = NULL;
    for (size_t i = 0; i < r->row_count; i++) {
        round_row *row = &r->rows[i];
        bool open = row->about.serial[0] == '\0' && row->about.code[0] == '\0' && row->serial == NULL &&
                    row->state == ROW_WAITING && row->about.model == model;
        if (open && row->wanted != 0 && row->wanted == address) {
            return row;
        }
        first = open && first == NULL ? row : first;
    }
    return first;
}

round_row *rows_of_code(const round *r, const char *code)
{
    for (size_t i = 0; i < r->row_count; i++) {
        if (strcmp(r->rows[i].about.code, code) == 0) {
            return &r->rows[i];
        }
    }
    return rows_of_serial(r, code);
}

bool rows_want_code(const round *r, const vd_model *model)
{
    bool any = false;
    for (size_t i = 0; i < r->row_count; i++) {
        const vd_roster_unit *about = &r->rows[i].about;
        any = any || (about->serial[0] == '\0' && about->code[0] != '\0' && about->model == model &&
                      r->rows[i].state != ROW_DONE);
    }
    return any;
}

bool rows_all_done(const round *r)
{
    bool all = true;
    for (size_t i = 0; i < r->row_count; i++) {
        all = all && (r->rows[i].state == ROW_DONE || r->rows[i].state == ROW_BEFORE);
    }
    return all;
}

const round_row *rows_next(const round *r)
{
    /* Who needs a person may take some time: those that are new come before. */
    static const row_state order[] = {ROW_CUT_OFF, ROW_WAITING, ROW_LEFT};
    const round_row *next = NULL;
    for (size_t k = 0; k < G_N_ELEMENTS(order); k++) {
        for (size_t i = 0; i < r->row_count && next == NULL; i++) {
            next = r->rows[i].state == order[k] ? &r->rows[i] : NULL;
        }
    }
    return next;
}

char *row_words(const round_row *row)
{
    const vd_roster_unit *about = &row->about;
    const char *serial = about->serial[0] != '\0' ? about->serial : row->serial != NULL ? row->serial : about->code;
    bool both = serial[0] != '\0' && about->name[0] != '\0';
    return serial[0] == '\0' && about->name[0] == '\0'
               ? g_strdup_printf("the unit of line %u", about->number)
               : g_strdup_printf("%s%s%s%s", serial, both ? " (" : "", about->name, both ? ")" : "");
}

const char *row_state_word(const round_row *row)
{
    static const char *const words[] = {[ROW_WAITING] = "not-seen", [ROW_AT_WORK] = "not-verified",
                                        [ROW_CUT_OFF] = "cut-off",  [ROW_LEFT] = "not-verified",
                                        [ROW_DONE] = "done",        [ROW_BEFORE] = "done-before",
                                        [ROW_TAKEN] = "taken"};
    return row->state == ROW_WAITING && row->tries > 0 ? "not-verified" : words[row->state]; /* it was seen */
}
