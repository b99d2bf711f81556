/* SPDX-License-Identifier: MIT
 *
 * Session: a visit to one unit. Identify it, read it, write what differs, store, read back, judge each setting.
 * It knows models and verdicts, never bytes; those are the talk's.
 */
#ifndef VERDITE_SESSION_H
#define VERDITE_SESSION_H

#include "verdite/wire.h"

typedef enum vd_task { VD_TASK_IDENTIFY, VD_TASK_READ, VD_TASK_WRITE, VD_TASK_VERIFY } vd_task;

/* Where a task stands, in the order in which a write goes through them. */
typedef enum vd_stage {
    VD_STAGE_IDLE,
    VD_STAGE_IDENTIFY,
    VD_STAGE_LISTENING, /* it does not listen yet: a hand is needed, or it is starting; asked who it is until it does */
    VD_STAGE_PASSWORD,  /* wants the answer to VD_ASK_PASSWORD */
    VD_STAGE_LOGIN,
    VD_STAGE_TRIES_LEFT,  /* the password was wrong: how many tries are left is read */
    VD_STAGE_READ,        /* live values */
    VD_STAGE_READ_STORED, /* the stored bank, where the model has one that can be read */
    VD_STAGE_ASK,         /* the changes stand; wants the answer to VD_ASK_WRITE */
    VD_STAGE_KEEP,        /* wants the state before the change kept */
    VD_STAGE_WRITE,
    VD_STAGE_STORE,
    VD_STAGE_RESTART,     /* where that proves storage */
    VD_STAGE_COMING_BACK, /* it restarts; it is asked who it is until it answers */
    VD_STAGE_READ_BACK,
    VD_STAGE_READ_BACK_STORED,
    VD_STAGE_DONE
} vd_stage;

/* What is known of one setting after a write or a verification. */
typedef enum vd_verdict {
    VD_NOT_ASKED,        /* the task was not about it */
    VD_CONFIRMED,        /* read back from storage, equal */
    VD_LIVE_ONLY,        /* read back live, equal; the model has no proof of storage */
    VD_DIFFERS,          /* the unit holds something else, live or stored */
    VD_CANNOT_READ_BACK, /* sent and acknowledged, but the unit never shows it */
    VD_NOT_SENT,
    VD_UNKNOWN /* sent, or to be verified, but the unit could not be asked: the outcome is not known */
} vd_verdict;

/* The verdict on the whole; only VD_WHOLE_VERIFIED may be called "verified". */
typedef enum vd_whole {
    VD_WHOLE_VERIFIED,
    VD_WHOLE_EXCEPT,    /* verified except those that cannot be read back */
    VD_WHOLE_LIVE_ONLY, /* live, storage not proved */
    VD_WHOLE_NOT        /* not verified */
} vd_whole;

typedef struct vd_summary {
    vd_whole whole;
    uint16_t confirmed, live_only, differing, unreadable, not_sent, unknown, total;
} vd_summary;

typedef struct vd_progress {
    vd_stage stage;
    uint16_t done, total; /* settings of this stage; total is 0 where there is nothing to count */
} vd_progress;

/* A visit. The fields are private but for `fault`, which tells why a task failed. */
typedef struct vd_session {
    vd_fault fault;
    const vd_model *model;
    vd_talk talk;
    vd_set live, stored, desired;
    uint8_t *scope, *reads, *changes, *fate, *verdict, *absent; /* a byte for each setting */
    uint64_t now;
    uint32_t news;
    uint64_t wake, back_by; /* while it comes back or is to listen: when to ask next, and when to give up */
    vd_identity before;     /* who it was before it restarted */
    uint8_t task, stage;
    uint8_t after_login; /* the stage that waits for the login */
    uint64_t login_at;
    vd_status status;
    bool stopping, written, read_back, restarted;
    bool login_wanted, logged_in, factory_password;
} vd_session;

extern const vd_engine vd_session_engine;

/* Bytes that a session with this model needs besides its struct. */
size_t vd_session_size(const vd_model *model);
/* Prepares visits to the unit at `address` on a line. `memory`: at least vd_session_size() bytes, aligned for
 * uint64_t, which the session keeps using, as it does the model. `latency`: what the port adds each way,
 * microseconds. VD_MEMORY_TOO_SMALL. */
vd_status vd_session_start(vd_session *session, const vd_model *model, void *memory, size_t size, const vd_line *line,
                           uint8_t address, uint32_t latency);

/* Whether a read logs in, so that it also brings what only a fitter may read; without it those settings are left out.
 * Writing and verifying log in whenever a setting needs it. Holds for all later tasks; false at first. */
void vd_session_want_login(vd_session *session, bool wanted);
/* Whether the password by which it logged in is the one from the factory. */
bool vd_session_has_factory_password(const vd_session *session);
/* Whether a setting was left out because nobody logged in. */
bool vd_session_needs_login(const vd_session *session, uint16_t setting);

/* Begin a task; the last one must have ended. Each identifies the unit first and stops at another model. */
void vd_session_identify(vd_session *session, uint64_t now);
/* Reads the live values and, where the model has them, the stored ones. `which` has a byte for each setting, not 0
 * where it is to be read (NULL: all); what decides the decimals of one is read with it. */
void vd_session_read(vd_session *session, uint64_t now, const uint8_t *which);
/* Makes the unit hold what `target` knows, as far as `which` says (NULL: all). `target` is copied.
 * Reads everything, checks the whole result, asks, has the state before kept, writes what differs, stores, restarts the
 * unit where that is the model's proof of storage, reads back, judges. Address, baud and framing are refused with
 * VD_LINK_SETTING, before anything is sent. */
void vd_session_write(vd_session *session, uint64_t now, const vd_set *target, const uint8_t *which);
/* Compares the unit, live and stored, with `target`; changes nothing. */
void vd_session_verify(vd_session *session, uint64_t now, const vd_set *target, const uint8_t *which);

/* Whether the last task has ended, and how. A write that ended with VD_OK is not thereby verified: see the summary. */
bool vd_session_ended(const vd_session *session, vd_status *status);
vd_progress vd_session_progress(const vd_session *session);
/* Who answered; empty before VD_STAGE_READ. */
const vd_identity *vd_session_identity(const vd_session *session);
/* What was read; valid until the next task begins. The stored set is empty where the model has no such bank. */
const vd_set *vd_session_live(const vd_session *session);
const vd_set *vd_session_stored(const vd_session *session);
/* What the unit is to hold: from VD_STAGE_ASK on. */
const vd_set *vd_session_desired(const vd_session *session);
/* Whether this setting is to be written: from VD_STAGE_ASK on. */
bool vd_session_changes(const vd_session *session, uint16_t setting);
/* What the unit held before a write, to be kept and put back: what it would come up with after a power cycle, so the
 * stored values, and the live ones where the model shows no stored ones. From VD_STAGE_ASK to VD_STAGE_WRITE. */
void vd_session_prior(const vd_session *session, vd_set *prior);
vd_verdict vd_session_verdict(const vd_session *session, uint16_t setting);
vd_summary vd_session_summary(const vd_session *session);

/* ---- Finding units and telling apart why there are none ----------------------------------------------------- */

/* What several questions to one address brought, and one to an address that nobody can have. */
typedef struct vd_clues {
    uint16_t asked, identified, by_objects, refused, busy, silent, damaged, clashing, echoed, strays, headed;
    uint32_t bytes, error_bytes, control_bytes;
    vd_status damage; /* of the last damaged reply */
    vd_identity identity;
    bool differ; /* identities differ */
    uint8_t stray_address, shortest_run;
} vd_clues;

void vd_clues_add(vd_clues *clues, const vd_evidence *evidence);
/* Adds what the question to nobody brought. */
void vd_clues_add_control(vd_clues *clues, const vd_evidence *evidence);
/* The model whose maker and product are those of an identity, or NULL. */
const vd_model *vd_model_of_identity(const vd_model *const *models, size_t count, const vd_identity *identity);
/* Says what the clues mean: VD_OK when a unit of a known model answers, else a fault with cause and cure. `wanted` is
 * the model that was expected, or NULL. */
vd_status vd_clues_judge(const vd_clues *clues, uint8_t address, const vd_line *line, const vd_model *const *models,
                         size_t model_count, const vd_model *wanted, vd_fault *fault);

/* Where and how to search. Keep it, and what it points to, while the search runs. */
typedef struct vd_search_plan {
    const vd_model *const *models;
    size_t model_count;
    const vd_line *lines; /* in the order in which they are tried */
    size_t line_count;
    uint8_t from, to;       /* addresses, 1 to 247; the models' factory addresses among them are asked first */
    bool no_lines;          /* no question in lines: only units with an address */
    bool no_addresses;      /* no question to addresses: only units that talk in lines */
    uint32_t quick_limit;   /* of the first pass, microseconds */
    uint32_t slow_limit;    /* of the second pass, the models' longest reply; 0: no second pass */
    uint32_t gap;           /* longest silence inside a reply */
    uint8_t asks;           /* questions to an address that answers cleanly; 0 counts as 1 */
    bool any_line;          /* ask in lines at every line setting, not only at the models' own */
    bool every_line;        /* go on to further lines after units were found on one */
    const vd_model *wanted; /* any other model is a fault; NULL: all are welcome */
} vd_search_plan;

#define VD_SEARCH_LINES 64u /* most line settings that vd_search_lines() gives */

/* Fills in the line settings to try, likeliest first: the models' own, then what the bus standard has units come with,
 * and with `wide` all usual speeds and framings. A `speed` other than 0 and a `framing` with data bits other than 0
 * narrow the choice. `lines` has room for VD_SEARCH_LINES; returns how many there are. */
size_t vd_search_lines(const vd_model *const *models, size_t model_count, bool wide, uint32_t speed,
                       const vd_line *framing, vd_line *lines);
/* A plan for these models and lines over all addresses, with limits that suit a port whose latency is `latency`
 * microseconds each way; change what is to be otherwise. */
vd_search_plan vd_search_plan_of(const vd_model *const *models, size_t model_count, const vd_line *lines,
                                 size_t line_count, uint32_t latency);

/* Narrows a plan to the diagnosis of one address, or of one unit that talks in lines: asked several times even when it
 * answers cleanly, and listened to for long enough to hear whoever talks unasked. `wanted` is the model that should be
 * there. */
void vd_search_plan_diagnose(vd_search_plan *plan, uint8_t address, const vd_model *wanted);

/* Somebody at an address. */
typedef struct vd_found {
    vd_line line;
    uint8_t address;       /* 0: it talks in lines and has none */
    vd_status status;      /* VD_OK: a unit of a known model; else why not, as vd_clues_judge() says */
    const vd_model *model; /* or NULL */
    vd_identity identity;
    vd_fault fault; /* where status is not VD_OK */
} vd_found;

/* A search on one line. It asks for identity and never writes. The fields are private. */
typedef struct vd_search {
    const vd_search_plan *plan;
    vd_found *found;
    size_t found_size, found_count;
    vd_probe probe;
    vd_clues clues, line_clues;
    uint64_t now, wake;
    uint32_t news;
    size_t line, step, confirming, model;
    uint32_t asked;
    uint16_t babble, same;
    uint8_t pass, state, address;
    bool slow_lines_only_found;
    vd_status status;
} vd_search;

extern const vd_engine vd_search_engine;

/* Begins a search; units are put into `found` (at most `size`), which the search keeps using. */
void vd_search_begin(vd_search *search, uint64_t now, const vd_search_plan *plan, vd_found *found, size_t size);
/* Whether it has ended, and how: VD_OK when all was asked, VD_STOPPED, or the port's fault. */
bool vd_search_ended(const vd_search *search, vd_status *status);
/* Units found so far; stays valid when the search is stopped. */
size_t vd_search_count(const vd_search *search);
typedef struct vd_search_progress {
    unsigned pass; /* 1 and 3: units that talk in lines, 2 and 4: addresses, quick and slow; 5: those found once more */
    vd_line line;
    uint8_t address; /* 0: whoever talks in lines */
    uint32_t asked;  /* questions so far */
} vd_search_progress;
vd_search_progress vd_search_progress_of(const vd_search *search);
/* What was heard on the line besides units, when none was found: VD_NO_REPLY or what else it means. */
vd_status vd_search_judge_line(const vd_search *search, vd_fault *fault);

/* ---- The link test ----------------------------------------------------------------------------------------- */

typedef enum vd_link_grade { VD_LINK_SOUND, VD_LINK_MARGINAL, VD_LINK_UNUSABLE } vd_link_grade;

/* Asks one unit who it is, again and again; touches no setting. Fields are private. */
typedef struct vd_link_test {
    vd_probe probe;
    vd_line line;
    const vd_model *model;
    uint32_t *times; /* reply times, sorted, microseconds */
    uint32_t limit, gap;
    uint16_t count, asked, answered, lost, damaged;
    uint32_t error_bytes, news;
    uint64_t now;
    uint8_t address;
    vd_status status;
    bool running;
} vd_link_test;

extern const vd_engine vd_link_test_engine;

/* Begins `count` identifications (1 to 10000); `times` has room for as many numbers and is kept. `model` as in
 * vd_probe_begin(). */
void vd_link_test_begin(vd_link_test *test, uint64_t now, const vd_line *line, uint8_t address, const vd_model *model,
                        uint16_t count, uint32_t *times, uint32_t limit, uint32_t gap);
bool vd_link_test_ended(const vd_link_test *test, vd_status *status);
/* Result so far. Times are microseconds from the last bit sent to the first byte heard, 0 where nothing came. */
typedef struct vd_link_result {
    uint16_t asked, answered, lost, damaged;
    uint32_t error_bytes, quickest, median, slowest;
    vd_link_grade grade; /* sound: not one loss; unusable: fewer than 9 in 10 answered */
} vd_link_result;
vd_link_result vd_link_test_result(const vd_link_test *test);

#endif
