/* SPDX-License-Identifier: MIT
 * Every fault at every exchange of every task, in each manner, against units that share no code with the library:
 * whatever happens, no verdict is better than the truth, none is missing, all ends in bounded time, and what a line
 * alone has spoilt is got done all the same. */
#include "fixtures.h"
#include "oracle/worlds.h"
#include "verdite/unit.h"

#include <stdlib.h>
#include <string.h>

static const char *const fault_names[] = {
#define NAME_(name) #name,
    ORACLE_FAULTS(NAME_)
#undef NAME_
};
static const char *const task_names[] = {"read", "write", "call", "hear", "verify", "prove", "defaults"};
/* CALL: write, and call out to all what may be equal everywhere; HEAR: write, where another visit called it out and
 * this unit did not hear it; PROVE: verify, and restart it to see what it stored; DEFAULTS: have it go back to what it
 * had from the factory */
enum { READ, WRITE, CALL, HEAR, VERIFY, PROVE, DEFAULTS, TASKS };

#define KNOWN_UNTRUE_PAIRS 0u

/* What is known not to be true yet: a row here fails as soon as it is mended. */
static const struct {
    const char *world;
    int task;
    oracle_fault fault;
} known_untrue[] = {
#include "oracle/known_untrue.h"
    {NULL, 0, 0}};

typedef struct run {
    oracle unit;
    const world *world;
    const vd_model *model;
    vd_visit_storage visit_room;
    vd_visit *visit; /* in that room */
    void *memory;    /* of the visit */
    vd_lane lane;
    vd_seat seat;
    vd_loop loop;
    vd_set target;
    int task;
    vd_status status;
    bool ended, stopped, called;
} run;

static bool watched;
static struct talk *kept;
static void keep_talk(void *about, uint64_t now, size_t lane, bool sent, const uint8_t *bytes, const uint8_t *errors,
                      size_t count);
static void show(void *about, uint64_t now, size_t lane, bool sent, const uint8_t *bytes, const uint8_t *errors,
                 size_t count);

static const vd_model *models[32];

static const vd_model *model_of(const world *w)
{
    size_t at = (size_t)(w - worlds);
    if (models[at] == NULL) {
        vd_findings *findings = vd_findings_new(w->name);
        vd_model_file *file = model_of_text(w->model, findings);
        if (file == NULL) {
            const vd_finding *first = &g_array_index(findings->list, vd_finding, 0);
            char words[512];
            vd_fault_words(&first->fault, true, words, sizeof words);
            fail_msg("%s, line %u: %s", w->name, first->line, words);
        }
        models[at] = vd_model_file_model(file);
        vd_findings_free(findings);
    }
    return models[at];
}

static bool writes(int task)
{
    return task == WRITE || task == CALL || task == HEAR;
}

/* Before the first byte of a change: what may be equal everywhere goes out by broadcast. */
static void call_out(run *r)
{
    uint8_t which[64] = {0};
    if (r->called || vd_visit_progress(r->visit).step != VD_STEP_WRITE || (r->task != CALL && r->task != HEAR)) {
        return;
    }
    r->called = true;
    const vd_visit *const alone[] = {r->visit};
    vd_visit_choose_call(alone, 1, which);
    vd_visit_call(r->visit, r->task == CALL ? VD_CALLS_OUT : VD_HEARS_A_CALL, which);
}

/* What the person, the disk and the port do while the task runs. */
static void turn(run *r)
{
    vd_wants wants;
    uint64_t latest = r->unit.now + 300000000;
    for (unsigned step = 0; !r->ended && step < 400000 && r->unit.now < latest; step++) {
        vd_loop_wants(&r->loop, 0, &wants);
        bool stop = oracle_strikes(&r->unit, F_STOPPED_BY_HAND) && !r->stopped;
        if (stop) {
            r->stopped = true;
            vd_loop_feed(&r->loop, 0, (vd_event){.kind = VD_STOP});
        } else if (wants.question == VD_ASK_OLD_PASSWORD) {
            vd_loop_feed(&r->loop, 0, (vd_event){.kind = VD_ANSWERED, .yes = true});
        } else if (wants.question == VD_ASK_PASSWORD) {
            vd_loop_feed(&r->loop, 0,
                         (vd_event){.kind = VD_ANSWERED,
                                    .yes = true,
                                    .bytes = (const uint8_t *)r->unit.password,
                                    .count = strlen(r->unit.password)});
        } else if (wants.question != VD_ASK_NOTHING) {
            vd_loop_feed(&r->loop, 0, (vd_event){.kind = VD_ANSWERED, .yes = true});
        } else if (wants.reopen && oracle_is_back(&r->unit)) {
            vd_loop_regain(&r->loop, 0, &r->unit.port);
        } else if (wants.reopen) {
            vd_loop_step(&r->loop, r->unit.now + 100000);
        } else if (wants.keep) {
            bool full = oracle_has(&r->unit, F_DISK_FULL);
            call_out(r);
            vd_loop_feed(&r->loop, 0,
                         (vd_event){.kind = VD_KEPT, .status = full ? VD_FILE_UNWRITABLE : VD_OK, .said = "no room"});
        } else if (vd_loop_step(&r->loop, VD_NEVER) != VD_OK) {
            return;
        }
        r->ended = vd_visit_ended(r->visit, &r->status);
    }
}

static void play(run *r, const world *w, int task, const oracle_fault *faults, const int *at)
{
    const vd_model *model = model_of(w);
    size_t size = vd_visit_size(model);
    memset(r, 0, sizeof *r);
    r->visit = vd_visit_in(&r->visit_room);
    r->world = w;
    r->model = model;
    r->task = task;
    r->unit = w->unit;
    memcpy(r->unit.fault, faults, sizeof r->unit.fault);
    memcpy(r->unit.at, at, sizeof r->unit.at);
    oracle_start(&r->unit);
    void *memory = calloc(1, size);
    vd_serial line = model->line;
    uint8_t address = model->address_factory;
    if (task >= VERIFY && w->unit.link_from != 0) { /* it has moved already */
        line.baud = 9600;
        address = 9;
    }
    assert_int_equal(vd_visit_start(r->visit, model, memory, size, &line, address, 1000), VD_OK);
    r->memory = memory;
    r->lane = (vd_lane){.port = &r->unit.port};
    r->seat = (vd_seat){.engine = &vd_visit_engine, .self = r->visit};
    r->loop = (vd_loop){&oracle_port_kind,
                        &r->unit,
                        &r->lane,
                        &r->seat,
                        1,
                        1,
                        kept != NULL ? keep_talk
                        : watched    ? show
                                     : NULL,
                        kept != NULL ? (void *)kept : r};
    r->target = new_set(model);
    for (size_t i = 0; i < r->unit.count; i++) {
        oracle_cell *cell = &r->unit.cells[i];
        if (cell->typed != NULL) {
            put(&r->target, cell->key, cell->typed);
        }
        if (task == DEFAULTS) {
            const char *from = cell->from;
            cell->from = cell->to[0] != '\0' ? cell->to : cell->from;
            cell->factory = cell->to = from;
        } else if (task >= VERIFY && cell->typed != NULL) { /* all is as it should be, but for one */
            bool wrong = strcmp(cell->key, "high") == 0;
            cell->from = wrong ? cell->from : cell->to;
        } else if (task >= VERIFY && cell->to[0] != '\0') {
            cell->from = cell->to;
        }
    }
    if (task == DEFAULTS) {
        oracle_start(&r->unit);
        r->unit.password = "4711";
    } else if (task >= VERIFY) {
        oracle_cell *high = oracle_find(&r->unit, "high");
        high->from = r->unit.manner == REGISTERS ? "1964" : "65.0"; /* 65.00 kg */
        oracle_start(&r->unit);
    }
    if (task == PROVE) { /* and one is live only */
        oracle_cell *code = oracle_find(&r->unit, "code");
        r->unit.password = code != NULL ? code->typed : r->unit.password;
        oracle_cell *name = oracle_find(&r->unit, "name");
        const char *before = w->unit.cells[name - r->unit.cells].from;
        snprintf(name->stored, ORACLE_RAW, "%s", before);
        snprintf(name->slot[1], ORACLE_RAW, "%s", before);
        vd_visit_allow_restart(r->visit, true);
    }
    if (task == READ) {
        vd_visit_read(r->visit, r->unit.now, NULL);
    } else if (task == DEFAULTS) {
        vd_visit_act(r->visit, r->unit.now, &model->actions[1]);
    } else if (writes(task)) {
        vd_visit_write(r->visit, r->unit.now, &r->target, NULL);
    } else {
        vd_visit_verify(r->visit, r->unit.now, &r->target, NULL);
    }
    turn(r);
}

static void clear(run *r)
{
    free(r->memory);
    free(r->target.memory);
}

/* ---- What is held against what ---- */

static bool same(const char *a, const char *b)
{
    return strcmp(a, b) == 0;
}

static long scaled(const char *raw, const char *decimals)
{
    long number = (int16_t)strtol(raw, NULL, 16);
    for (long places = strtol(decimals, NULL, 16); places < 4; places++) {
        number *= 10;
    }
    return number;
}

/* Whether a memory holds what is wanted of a cell. Where decimals stand apart, a number means something only with them.
 */
static bool holds(const run *r, const oracle_cell *cell, const char *raw, bool stored, const char *wanted)
{
    const oracle_cell *decimals = oracle_find((oracle *)&r->unit, "decimals");
    bool hangs = same(cell->key, "low") || same(cell->key, "high") || same(cell->key, "hysteresis");
    if (!hangs || decimals == NULL) {
        return same(raw, wanted);
    }
    return scaled(raw, stored ? decimals->stored : decimals->live) == scaled(wanted, decimals->to);
}

/* Whether it had moved already when it was read first: what it is told to have been is then something else. */
static bool moved_before(const run *r, const oracle_cell *cell)
{
    return oracle_has(&r->unit, F_ANOTHER_MOVED) && same(cell->key, "spare");
}

static const char *judge_cell(const run *r, const oracle_cell *cell, vd_verdict verdict, bool sent)
{
    const char *wanted = cell->to;
    bool bank = r->unit.bank > 0, needed = r->unit.store_needed;
    int last = bank ? cell->told_stored : cell->told_live;
    /* What happened after it was told last, nobody can know. */
    bool after = (r->unit.at[0] > 0 && r->unit.at[0] >= last) || (r->unit.at[1] > 0 && r->unit.at[1] >= last);
    /* What is in a slot is stored in the one that is wanted; whether that one comes up, its number says. */
    const char *saved = cell->other != NULL ? cell->slot[1] : cell->stored;
    /* What it never shows it may well have lied about. */
    bool lies = oracle_pretends(&r->unit);
    bool live = holds(r, cell, cell->live, false, wanted), stored = holds(r, cell, saved, true, wanted);
    bool as_before = same(cell->live, cell->from) && same(cell->stored, cell->from);
    bool here = (same(cell->key, "address") && r->unit.address != strtoul(wanted, NULL, 16)) ||
                (same(cell->key, "speed") && r->unit.speed != (same(wanted, "0000") ? 9600u : 19200u));
    if (verdict == VD_CONFIRMED && here && !after) {
        return "confirmed, but it is reached elsewhere";
    }
    switch (verdict) {
    case VD_CONFIRMED: return stored || (after && live) ? NULL : "confirmed, but it is not stored";
    case VD_LIVE_ONLY: return live || after || !needed ? NULL : "live, but it is not";
    case VD_DIFFERS: return moved_before(r, cell) || !live || !stored || after ? NULL : "differs, but it is as wanted";
    case VD_CANNOT_READ_BACK: return stored || after || lies ? NULL : "acknowledged, but it is not there";
    case VD_NOT_SENT: return as_before || !sent || after ? NULL : "not sent, but it has moved";
    case VD_NOT_ASKED: return cell->typed != NULL && r->task != READ ? "no verdict" : NULL;
    case VD_UNKNOWN: return NULL;
    }
    return "no such verdict";
}

static vd_whole best_of(const world *w)
{
    bool proved =
        !w->unit.store_needed || w->unit.bank > 0 || strstr(w->model, "proof: restart") != NULL || w->unit.shows_stored;
    return !proved || w->unit.first_after_power              ? VD_WHOLE_LIVE_ONLY
           : oracle_find((oracle *)&w->unit, "code") != NULL ? VD_WHOLE_EXCEPT
                                                             : VD_WHOLE_VERIFIED;
}

/* Whether what happens then is seen: after it was told before the first write, and before it was told last. */
static bool between(int at, const oracle_cell *cell)
{
    return at == 0 || (at > cell->told_before && at < cell->told_live);
}

static const char *judge_whole(const run *r)
{
    vd_summary summary = vd_visit_summary(r->visit);
    bool good = summary.whole == VD_WHOLE_VERIFIED || summary.whole == VD_WHOLE_EXCEPT;
    if (r->task == READ) {
        return NULL;
    }
    if (good && r->status != VD_OK) {
        return "verified, and failed all the same";
    }
    if (good && (r->task == VERIFY || r->task == PROVE)) {
        return "verified, though one is wrong";
    }
    for (size_t i = 0; i < r->unit.count && good; i++) {
        const oracle_cell *cell = &r->unit.cells[i];
        bool known = (cell->access == 'b' || cell->access == 'w') && between(r->unit.at[0], cell) &&
                     between(r->unit.at[1], cell);
        if (known && !same(cell->stored, cell->to)) {
            return "verified, but another one has moved";
        }
    }
    const vd_link *link = vd_visit_link(r->visit);
    bool there = r->unit.manner != REGISTERS || (link->address == r->unit.address && link->line.baud == r->unit.speed);
    if (good && !there && r->unit.at[0] == 0 && r->unit.at[1] == 0) {
        return "verified, but it is reached elsewhere";
    }
    if (good && r->unit.replaced) {
        return "verified, but it is another unit";
    }
    return good && r->unit.doubled_up ? "verified, but two units share the address" : NULL;
}

static const char *judge_read(const run *r)
{
    for (size_t i = 0; i < r->unit.count && r->status == VD_OK; i++) {
        const oracle_cell *cell = &r->unit.cells[i];
        uint16_t setting = vd_model_find(r->model, cell->key);
        vd_value value = vd_set_get(vd_visit_live(r->visit), setting);
        vd_set from = new_set(r->model);
        vd_set_put_initial(&from);
        vd_value wanted = vd_set_get(&from, setting);
        bool moved = oracle_has(&r->unit, F_ANOTHER_MOVED) && same(cell->key, "spare");
        bool wrong = cell->access == 'b' && value.type != VD_NOTHING && !moved && !vd_value_equal(&value, &wanted);
        free(from.memory);
        if (wrong && !oracle_has(&r->unit, F_UNSEEN_DAMAGE)) {
            return "read, but that is not what it holds";
        }
    }
    return NULL;
}

static bool of_line(oracle_fault fault)
{
    return fault <= ORACLE_LAST_OF_LINE;
}

/* NULL, or what is not true. */
static const char *judge(const run *r)
{
    const char *untrue = NULL;
    bool sent = r->unit.writes > 0;
    if (!r->ended) {
        return "it never ends";
    }
    for (size_t i = 0; i < r->unit.count && untrue == NULL; i++) {
        const oracle_cell *cell = &r->unit.cells[i];
        vd_verdict verdict = vd_visit_verdict(r->visit, vd_model_find(r->model, cell->key));
        if (r->task != READ && (sent || r->task == VERIFY || r->task == PROVE)) {
            untrue = judge_cell(r, cell, verdict, sent);
        }
        if (untrue != NULL) {
            static char named[200];
            g_snprintf(named, sizeof named, "%s (%s, %s): %s", cell->key, cell->live, cell->stored, untrue);
            untrue = named;
        }
    }
    untrue = untrue != NULL ? untrue : judge_whole(r);
    untrue = untrue != NULL || r->task != READ ? untrue : judge_read(r);
    bool only_line = of_line(r->unit.fault[0]) && r->unit.fault[1] == F_NOTHING_WRONG;
    if (untrue == NULL && only_line) { /* a line that was spoilt once keeps nobody from his work */
        vd_summary summary = vd_visit_summary(r->visit);
        bool done = r->task == DEFAULTS ? r->unit.fault[0] != F_NOTHING_WRONG || summary.whole == best_of(r->world)
                    : writes(r->task)   ? summary.whole == best_of(r->world) && r->status == VD_OK
                    : r->task >= VERIFY
                        ? summary.differing == (r->task == PROVE ? 2 : 1) && summary.unknown == 0 && r->status == VD_OK
                        : r->status == VD_OK;
        untrue = done ? NULL : "a fault of the line alone made it fail";
    }
    return untrue;
}

/* ---- Finishing and undoing ---- */

/* What the unit takes for its password now, as it is typed. */
static const char *password_now(oracle *o)
{
    static char typed[16];
    const oracle_cell *code = oracle_find(o, "code"), *word = oracle_find(o, "password");
    if (code != NULL && o->wants_login) {
        g_snprintf(typed, sizeof typed, "%lu", strtoul(code->stored, NULL, 16));
        return typed;
    }
    if (word != NULL && o->wants_login) {
        g_snprintf(typed, sizeof typed, "%.*s", (int)strlen(word->stored) - 2, word->stored + 1);
        return typed;
    }
    return o->password;
}

/* One more visit, now that nothing is wrong any longer: wherever the unit can be reached by now. */
static vd_whole write_again(run *r, const vd_set *target)
{
    const vd_link links[] = {{{9600, 8, 'N', 1}, 9},
                             {r->model->line, r->model->address_factory},
                             {r->model->line, 9},
                             {{9600, 8, 'N', 1}, r->model->address_factory}};
    size_t size = vd_visit_size(r->model);
    void *memory = calloc(1, size);
    bool reached = false;
    for (size_t i = r->unit.link_from != 0 ? 0 : 1; i < (r->unit.link_from != 0 ? 4u : 2u) && !reached; i++) {
        r->unit.password = password_now(&r->unit);
        assert_int_equal(vd_visit_start(r->visit, r->model, memory, size, &links[i].line, links[i].address, 1000),
                         VD_OK);
        r->lane = (vd_lane){.port = &r->unit.port};
        r->ended = false;
        vd_visit_write(r->visit, r->unit.now, target, NULL);
        turn(r);
        reached = vd_visit_identity(r->visit)->product[0] != '\0';
    }
    vd_whole whole = r->ended ? vd_visit_summary(r->visit).whole : VD_WHOLE_NOT;
    free(memory);
    return whole;
}

static bool all_hold(run *r, bool before)
{
    for (size_t i = 0; i < r->unit.count; i++) {
        const oracle_cell *cell = &r->unit.cells[i];
        bool right = before ? same(cell->stored, cell->from) : holds(r, cell, cell->stored, true, cell->to);
        bool falls_back = r->unit.first_after_power && same(cell->key, "setup");
        if (cell->access == 'b' && !right && !falls_back) {
            return false;
        }
    }
    return true;
}

/* What was cut off is finished, then undone, by visits like any other. NULL, or what is not true. */
static const char *finish_and_undo(run *r)
{
    oracle *o = &r->unit;
    if (o->replaced || oracle_has(o, F_ANOTHER_MOVED) || oracle_has(o, F_ROUNDED)) {
        return NULL;
    }
    for (int k = 0; k < 2; k++) {
        o->fault[k] = F_NOTHING_WRONG;
        o->at[k] = 0;
    }
    o->dead = o->lost = o->pulled = o->doubled_up = o->somebody = false;
    o->taken = o->queued = 0;
    o->now += 60000000;
    vd_set before = new_set(r->model);
    vd_set_put_initial(&before);
    for (uint16_t i = 0; i < r->model->setting_count; i++) { /* secrets are not kept */
        vd_value wanted = vd_set_get(vd_visit_desired(r->visit), i);
        if (r->model->settings[i].access != VD_READ_WRITE || r->model->settings[i].traits->id == VD_COUNTER) {
            vd_set_forget(&before, i);
            vd_set_forget(&r->target, i);
        } else if (vd_visit_changes(r->visit, i)) { /* what had to be written along is kept as wanted, too */
            vd_set_put(&r->target, i, &wanted);
        }
    }
    vd_whole best = best_of(r->world) == VD_WHOLE_EXCEPT ? VD_WHOLE_VERIFIED : best_of(r->world);
    /* What a restart has undone it cannot undo again. */
    vd_whole least = strstr(r->world->model, "undoes: noticed") != NULL ? VD_WHOLE_LIVE_ONLY : best;
    vd_whole whole = write_again(r, &r->target);
    const char *untrue = whole != best && whole != least ? "it cannot be finished"
                         : !all_hold(r, false)           ? "finished, but it does not hold what it should"
                                                         : NULL;
    /* What was no value cannot be put back, nor, in a sentence of that unit, an empty text. */
    bool odd = strstr(r->world->name, "no value") != NULL || r->unit.manner == SENTENCES;
    if (untrue == NULL && !odd) {
        whole = write_again(r, &before);
        best = r->unit.first_after_power ? VD_WHOLE_VERIFIED : best; /* the slot that comes up is in force again */
        untrue = whole != best && whole != least ? "it cannot be undone"
                 : !all_hold(r, true)            ? "undone, but it does not hold what it did"
                                                 : NULL;
    }
    free(before.memory);
    return untrue;
}

/* ---- The sweep ---- */

static bool is_known(const char *name, int task, oracle_fault fault)
{
    for (size_t i = 0; known_untrue[i].world != NULL; i++) {
        if (same(known_untrue[i].world, name) && known_untrue[i].task == task && known_untrue[i].fault == fault) {
            return true;
        }
    }
    return false;
}

/* Who talks in lines is alone on his line; and queries have no word for "busy". */
static bool cannot_be(const world *w, oracle_fault fault)
{
    bool moving = fault == F_LINK_NEVER || fault == F_LINK_LATE || fault == F_SOMEBODY_THERE;
    bool pretending = fault == F_PLUG_OUT || fault == F_SAYS_IT_STARTED || fault == F_PORT_PULLED;
    bool says = w->unit.says_ready, own = w->unit.takes_port;
    return (pretending && !w->unit.store_needed) || (fault == F_SAYS_IT_STARTED && !says) ||
           (fault == F_PORT_PULLED && !own) || (moving && w->unit.link_from == 0) ||
           (fault == F_SECOND_UNIT && w->unit.manner != REGISTERS) || (fault == F_BUSY && w->unit.manner == QUERIES);
}

/* A restart that proves storage needs a model that says so, and going back an action for it. */
static bool has_task(const world *w, int task)
{
    if (task == CALL || task == HEAR) {
        return w->unit.manner == REGISTERS;
    }
    return task < PROVE || strstr(w->model, task == PROVE ? "proof: restart" : "does: factory-defaults") != NULL;
}

static unsigned cases, untrue_cases, rows, finished;

/* What all cases of a task in a world came to: not whether it is true, which is judged elsewhere, but how it came
 * about. A change to a figure is a change to what units are asked, how often, for how long, or what people are told. */
typedef struct account {
    unsigned cases, wholes[4], exchanges, writes;
    uint64_t line_time;
    unsigned timed_out, damaged, strays, others; /* as the clients counted them */
    unsigned classes[9], words;                  /* how they ended, and a sum over all sentences */
} account;
static account accounts[32][TASKS];

static void add_words(account *a, const char *text)
{
    for (; *text != '\0'; text++) {
        a->words = a->words * 31u + (unsigned char)*text;
    }
}

static void take_into_account(const run *r)
{
    account *a = &accounts[r->world - worlds][r->task];
    const vd_tally *tally = vd_visit_tally(r->visit);
    char words[512];
    vd_fault_words(vd_visit_fault(r->visit), true, words, sizeof words);
    a->cases++;
    a->wholes[vd_visit_summary(r->visit).whole]++;
    a->exchanges += (unsigned)r->unit.exchange;
    a->writes += (unsigned)r->unit.writes;
    a->line_time += r->unit.now;
    a->timed_out += tally->timed_out;
    a->damaged += tally->damaged + tally->cut_short + tally->line_errors;
    a->strays += tally->strays;
    a->others += tally->surplus + vd_visit_unexplained(r->visit);
    a->classes[vd_status_class(r->status)]++;
    add_words(a, words);
    for (uint16_t i = 0; i < r->model->setting_count; i++) {
        const vd_entry *entry = vd_visit_entry(r->visit, i);
        a->words = a->words * 31u + entry->part + entry->sending * 7u + entry->live * 3u + entry->stored;
    }
}

static void test_it_came_about_as_before(void **state)
{
    (void)state;
    if (g_getenv("SWEEP_PAIRS") != NULL) { /* these are other cases */
        return;
    }
    GString *table =
        g_string_new("world, task: cases; verified, except, live, not; exchanges, writes, line time ms; timed "
                     "out, damaged, strays, others; ended in classes 0 to 8; words\n");
    for (const world *w = worlds; w < worlds + world_count; w++) {
        for (int task = 0; task < TASKS; task++) {
            const account *a = &accounts[w - worlds][task];
            if (a->cases == 0) {
                continue;
            }
            g_string_append_printf(table, "%s, %s: %u; %u, %u, %u, %u; %u, %u, %" G_GUINT64_FORMAT "; %u, %u, %u, %u;",
                                   w->name, task_names[task], a->cases, a->wholes[0], a->wholes[1], a->wholes[2],
                                   a->wholes[3], a->exchanges, a->writes, a->line_time / 1000, a->timed_out, a->damaged,
                                   a->strays, a->others);
            for (int k = 0; k < 9; k++) {
                g_string_append_printf(table, " %u", a->classes[k]);
            }
            g_string_append_printf(table, "; %08X\n", a->words);
        }
    }
    assert_as_kept("sweep.txt", table->str);
    g_string_free(table, TRUE);
}

/* Of all cases of a write, every so many is finished and undone; all of them where pairs are asked for by number. */
static unsigned finish_each(void)
{
    return g_getenv("SWEEP_PAIRS") != NULL ? 1 : 16;
}

/* A broadcast is a write but for its middle: of its exchanges, every so many. */
static int call_each(void)
{
    return g_getenv("SWEEP_PAIRS") != NULL ? 1 : 24;
}

/* What only reads is looked at at every second exchange, but for the long run. */
static int read_each(void)
{
    return g_getenv("SWEEP_PAIRS") != NULL ? 1 : 2;
}

static void sweep_fault(const world *w, int task, oracle_fault fault, int exchanges)
{
    bool anywhere = fault == F_NOTHING_WRONG || fault == F_ECHO || fault == F_NO_RESTART || fault == F_LATE_RESTART ||
                    fault == F_LINK_NEVER || fault == F_LINK_LATE || fault == F_DISK_FULL || fault == F_PLUG_OUT ||
                    fault == F_SAYS_IT_STARTED || fault == F_PORT_PULLED;
    unsigned wrong = 0;
    char first[200] = "";
    int stride = anywhere ? 1 : task == CALL || task == HEAR ? call_each() : writes(task) ? 1 : read_each();
    for (int at = 1 + (int)fault % stride; at <= (anywhere ? 1 : exchanges); at += stride) {
        run r;
        const oracle_fault faults[2] = {fault, F_NOTHING_WRONG};
        const int when[2] = {anywhere ? 0 : at, 0};
        play(&r, w, task, faults, when);
        const char *untrue = judge(&r);
        take_into_account(&r);
        if (untrue == NULL && writes(task) && ((unsigned)(at / stride) + (unsigned)fault) % finish_each() == 0) {
            finished++;
            untrue = finish_and_undo(&r);
        }
        cases++;
        if (untrue != NULL && wrong++ == 0) {
            g_snprintf(first, sizeof first, "%s, %s, %s at exchange %d of %d: %s", w->name, task_names[task],
                       fault_names[fault], at, exchanges, untrue);
        }
        clear(&r);
    }
    untrue_cases += wrong;
    rows += wrong > 0;
    bool known = is_known(w->name, task, fault);
    if (g_getenv("SWEEP_LIST") != NULL) {
        if (wrong > 0) {
            char *of = g_ascii_strup(task_names[task], -1);
            printf("{\"%s\", %s, F_%s}, /* %u: %s */\n", w->name, of, fault_names[fault], wrong, first);
            g_free(of);
        }
    } else if (wrong > 0 && !known) {
        fail_msg("%s", first);
    } else if (wrong == 0 && known) {
        fail_msg("%s, %s, %s is mended: take it out of the list", w->name, task_names[task], fault_names[fault]);
    }
}

static void test_each_fault_at_each_exchange(void **state)
{
    (void)state;
    for (const world *w = worlds; w < worlds + world_count; w++) {
        for (int task = 0; task < TASKS; task++) {
            if (!has_task(w, task)) {
                continue;
            }
            static const oracle_fault none[2] = {F_NOTHING_WRONG, F_NOTHING_WRONG};
            static const int never[2] = {0, 0};
            run r;
            play(&r, w, task, none, never);
            int exchanges = r.unit.exchange;
            assert_true(r.ended && exchanges > 1);
            clear(&r);
            for (int fault = 0; fault < ORACLE_FAULT_COUNT; fault++) {
                if (cannot_be(w, (oracle_fault)fault)) {
                    continue;
                }
                sweep_fault(w, task, (oracle_fault)fault, exchanges);
            }
        }
    }
    print_message("%u cases, %u of them untrue in %u rows; %u of them finished and undone\n", cases, untrue_cases, rows,
                  finished);
    assert_true(cases > 1000);
}

/* Two faults in one task, drawn the same each time. SWEEP_PAIRS says how many of each task. */
static void test_pairs_of_faults(void **state)
{
    (void)state;
    const char *wanted = g_getenv("SWEEP_PAIRS");
    guint64 each = wanted != NULL ? g_ascii_strtoull(wanted, NULL, 10) : 40;
    GRand *chance = g_rand_new_with_seed(20261125);
    unsigned wrong = 0, all = 0;
    for (const world *w = worlds; w < worlds + world_count; w++) {
        for (guint64 i = 0; i < TASKS * each; i++) {
            if (!has_task(w, (int)(i % TASKS))) {
                continue;
            }
            run r;
            oracle_fault faults[2];
            int at[2];
            for (int k = 0; k < 2; k++) {
                do {
                    faults[k] = (oracle_fault)g_rand_int_range(chance, 1, ORACLE_FAULT_COUNT);
                } while (cannot_be(w, faults[k]));
                at[k] = g_rand_int_range(chance, 1, 24);
            }
            play(&r, w, (int)(i % TASKS), faults, at);
            const char *untrue = judge(&r);
            take_into_account(&r);
            all++;
            wrong += untrue != NULL;
            if (untrue != NULL && g_getenv("SWEEP_LIST") != NULL) {
                printf("%s, %s, %s at %d and %s at %d: %s\n", w->name, task_names[r.task], fault_names[faults[0]],
                       at[0], fault_names[faults[1]], at[1], untrue);
            }
            clear(&r);
        }
    }
    g_rand_free(chance);
    print_message("%u pairs, %u of them untrue\n", all, wrong);
    assert_true(wanted != NULL || wrong == KNOWN_UNTRUE_PAIRS);
}

/* Pairs that were untrue once, and are too rare to be drawn each time. */
static void test_pairs_that_were_untrue(void **state)
{
    (void)state;
    static const struct {
        const char *world;
        int task;
        oracle_fault faults[2];
        int at[2];
    } pairs[] = {{"queries, fields that are no value", READ, {F_RESTART_AFTER, F_LATE}, {8, 3}}};
    for (size_t i = 0; i < G_N_ELEMENTS(pairs); i++) {
        const world *w = worlds;
        while (!same(w->name, pairs[i].world)) {
            w++;
        }
        run r;
        play(&r, w, pairs[i].task, pairs[i].faults, pairs[i].at);
        const char *untrue = judge(&r);
        if (untrue != NULL) {
            fail_msg("%s, %s: %s", w->name, task_names[pairs[i].task], untrue);
        }
        clear(&r);
    }
}

/* ---- The bench's own unit ---- */

/* What passed on the line in one visit: each request, and the reply to it. */
typedef struct talk {
    struct {
        uint8_t asked[600], told[2048];
        size_t asked_length, told_length;
    } exchanges[128];
    int count;
} talk;

static void keep_talk(void *about, uint64_t now, size_t lane, bool sent, const uint8_t *bytes, const uint8_t *errors,
                      size_t count)
{
    talk *t = about;
    (void)now, (void)lane, (void)errors;
    assert_true(t->count < 128);
    uint8_t *to = sent ? t->exchanges[t->count].asked : t->exchanges[t->count - 1].told;
    size_t *length = sent ? &t->exchanges[t->count].asked_length : &t->exchanges[t->count - 1].told_length;
    if (bytes != NULL) {
        memcpy(to + *length, bytes, count);
        *length += count;
    }
    t->count += sent;
}

/* What the bench's unit replies to a request. */
static size_t ask_bench(vd_unit *unit, uint64_t *now, const uint8_t *request, size_t count, uint8_t *reply, size_t size)
{
    vd_wants wants;
    size_t length = 0;
    *now += 1000000;
    vd_unit_engine.feed(unit, &(vd_event){.kind = VD_TIME, .now = *now});
    vd_unit_engine.feed(unit, &(vd_event){.kind = VD_HEARD, .now = *now, .bytes = request, .count = count});
    for (int i = 0; i < 200; i++) {
        *now += 5000;
        vd_unit_engine.feed(unit, &(vd_event){.kind = VD_TIME, .now = *now});
        vd_unit_engine.wants(unit, &wants);
        if (wants.keep) {
            vd_unit_engine.feed(unit, &(vd_event){.kind = VD_KEPT, .now = *now});
        } else if (wants.count > 0) {
            assert_true(length + wants.count <= size);
            memcpy(reply + length, wants.send, wants.count);
            length += wants.count;
            vd_unit_engine.feed(unit, &(vd_event){.kind = VD_SENT, .now = *now, .until = *now});
        }
    }
    return length;
}

static bool is_about(const uint8_t *request, size_t count, const char *word)
{
    return g_strstr_len((const char *)request, (gssize)count, word) != NULL;
}

/* How long it has been running, what it measures; the list of identification; that it is busy storing. */
static bool may_differ(const world *w, const uint8_t *request, size_t count)
{
    uint8_t frame[300] = {0};
    if (w->unit.in_characters) {
        oracle_open(request, count, frame, sizeof frame);
        request = frame;
    }
    bool counts = oracle_find((oracle *)&w->unit, "visits") != NULL && request[1] == 3 && request[3] == 100;
    return w->unit.manner == REGISTERS
               ? counts || request[1] == 4 || request[1] == 43 || (request[2] == 0 && request[3] == 240)
               : is_about(request, count, "UPTIME") || is_about(request, count, "VISITS");
}

/* The unit that a bench plays answers to the same requests with the same bytes. */
static void test_the_bench_answers_alike(void **state)
{
    (void)state;
    static const oracle_fault none[2] = {F_NOTHING_WRONG, F_NOTHING_WRONG};
    static const int never[2] = {0, 0};
    for (const world *w = worlds; w < worlds + world_count; w++) {
        static talk t;
        run r;
        unsigned alike = 0;
        uint64_t now = 1000000;
        if (strstr(w->name, "no value") != NULL) { /* which the bench's unit never holds */
            continue;
        }
        const char *const products[] = {"peg", "tag", "cup", "lid"};
        vd_identity identity = {"Quillmere", "", "2.0", "QP-1"};
        g_strlcpy(identity.product, products[w->unit.manner], sizeof identity.product);
        memset(&t, 0, sizeof t);
        kept = &t;
        play(&r, w, WRITE, none, never);
        kept = NULL;
        vd_unit_storage unit;
        size_t size = vd_unit_size(r.model, vd_unit_language_of(r.model));
        void *memory = calloc(1, size);
        assert_int_equal(
            vd_unit_start(vd_unit_in(&unit), r.model, vd_unit_language_of(r.model), &identity, memory, size), VD_OK);
        vd_unit_power_up(vd_unit_in(&unit), now);
        static uint8_t reply[4096];
        now += 5000000;
        ask_bench(vd_unit_in(&unit), &now, (const uint8_t *)"", 0, reply,
                  sizeof reply); /* it says that it has started */
        for (int i = 0; i < t.count; i++) {
            const uint8_t *asked = t.exchanges[i].asked;
            size_t count = t.exchanges[i].asked_length;
            bool login = count == 0; /* a trace shows no secrets, and not what may come late from one */
            bool behind = i > 0 && t.exchanges[i - 1].asked_length == 0;
            if (login) {
                bool registers = w->unit.manner == REGISTERS;
                asked = (const uint8_t *)(registers ? "\x05\x06\x00\xFA\x04\xD2\x2A\xE2" : "AT+LOGIN=\"0000\"\r");
                count = registers ? 8 : strlen((const char *)asked);
            }
            /* While it restarts each is asked who it is at moments of its own. */
            bool restarting = i > 0 && is_about(asked, count, w->unit.manner == COMMANDS ? "+GMI" : ",ID*");
            if (login || behind || restarting || may_differ(w, asked, count) || t.exchanges[i].told_length == 0) {
                ask_bench(vd_unit_in(&unit), &now, asked, count, reply, sizeof reply);
                now += 5000000;
                continue;
            }
            size_t length = ask_bench(vd_unit_in(&unit), &now, asked, count, reply, sizeof reply);
            if (length != t.exchanges[i].told_length || memcmp(reply, t.exchanges[i].told, length) != 0) {
                fail_msg("%s, exchange %d: \"%.*s\" was answered with \"%.*s\" by the one and \"%.*s\" by the other",
                         w->name, i + 1, (int)count, (const char *)asked, (int)t.exchanges[i].told_length,
                         (const char *)t.exchanges[i].told, (int)length, (const char *)reply);
            }
            alike++;
        }
        assert_true(alike >= 3);
        free(memory);
        clear(&r);
    }
}

/* SWEEP_ONE="world task fault at fault at": one run, with what passes on the line, for whoever mends it. */
static void show(void *about, uint64_t now, size_t lane, bool sent, const uint8_t *bytes, const uint8_t *errors,
                 size_t count)
{
    const run *r = about;
    (void)lane, (void)errors;
    printf("%9.3f ms %2d step %2d %s", (double)now / 1000.0 - 60000.0, r->unit.exchange,
           vd_visit_progress(r->visit).step, sent ? "out" : "in ");
    for (size_t i = 0; i < count && bytes != NULL; i++) {
        printf(r->unit.manner == REGISTERS ? " %02X" : bytes[i] < 32 ? "." : "%c", bytes[i]);
    }
    printf("\n");
}

static void show_one(const char *wanted)
{
    int w = 0, task = 0, faults[2] = {0}, at[2] = {0};
    run r;
    if (sscanf(wanted, "%d %d %d %d %d %d", &w, &task, &faults[0], &at[0], &faults[1], &at[1]) >= 4) {
        const oracle_fault kinds[2] = {(oracle_fault)faults[0], (oracle_fault)faults[1]};
        watched = true;
        play(&r, &worlds[w], task, kinds, at);
        const char *untrue = judge(&r);
        printf("status %d, whole %d, %s\n", r.status, vd_visit_summary(r.visit).whole,
               untrue != NULL ? untrue : "true");
        clear(&r);
    }
}

int main(void)
{
    if (g_getenv("SWEEP_ONE") != NULL) {
        show_one(g_getenv("SWEEP_ONE"));
        return 0;
    }
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(test_each_fault_at_each_exchange), cmocka_unit_test(test_pairs_of_faults),
        cmocka_unit_test(test_pairs_that_were_untrue), cmocka_unit_test(test_it_came_about_as_before),
        cmocka_unit_test(test_the_bench_answers_alike)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
