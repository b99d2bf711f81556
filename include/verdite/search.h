/* SPDX-License-Identifier: MIT
 *
 * Search: who is on a line, at which settings, and why nobody is; and how sound a line is.
 */
#ifndef VERDITE_SEARCH_H
#define VERDITE_SEARCH_H

#include "verdite/probe.h"

VD_C_BEGIN

/* ---- Finding units and telling apart why there are none ----------------------------------------------------- */

/* What several questions to one address brought, and one to an address that nobody can have. */
typedef struct vd_clues {
    uint16_t asked, identified, by_objects; /* questions; units that said who they are; those that did so by objects */
    uint16_t refused, busy, silent;         /* questions that were refused, put off, left without an answer */
    uint16_t damaged, clashing, echoed;     /* replies that were damaged, were two at once, were our own bytes */
    uint16_t strays, headed;                /* replies of others; damaged ones that began as from who was asked */
    uint32_t bytes, error_bytes;            /* heard; of those with line errors */
    uint32_t control_bytes;                 /* heard where nobody can be */
    vd_status damage;                       /* of the last damaged reply */
    vd_identity identity, other;            /* the last, and, where two differ, the one before it */
    bool differ;                            /* identities differ */
    uint8_t stray_address, shortest_run;    /* of the last stray reply; see vd_evidence */
} vd_clues;

/* Adds what one question brought. */
void vd_clues_add(vd_clues *clues, const vd_evidence *evidence);
/* Adds only who answered. */
void vd_clues_name(vd_clues *clues, const vd_evidence *evidence);
/* Adds what the question to nobody brought. */
void vd_clues_add_control(vd_clues *clues, const vd_evidence *evidence);
/* The model whose maker and product are those of an identity, or NULL. */
const vd_model *vd_model_of_identity(const vd_model *const *models, size_t count, const vd_identity *identity);
/* Says what the clues mean: VD_OK when a unit of a known model answers, else a fault with cause and cure. `wanted` is
 * the model that was expected, or NULL; `waited` how long each question was given, milliseconds. */
vd_status vd_clues_judge(const vd_clues *clues, uint8_t address, const vd_serial *line, const vd_model *const *models,
                         size_t model_count, const vd_model *wanted, int32_t waited, vd_fault *fault);

/* Where and how to search. Keep it, and what it points to, while the search runs. */
typedef struct vd_search_plan {
    const vd_desk *const *desks;   /* of the languages in which is asked; NULL behind the last */
    const vd_model *const *models; /* that a unit may be of */
    size_t model_count;            /* of `models` */
    const vd_serial *lines;        /* in the order in which they are tried */
    size_t line_count;             /* of `lines` */
    uint8_t from, to;    /* addresses, 1 to 247; those that models come with are asked first, at every line setting */
    uint8_t unlikely_to; /* beyond it only the likely ones are asked; 0: all are */
    const uint8_t *remembered; /* addresses at which units were met before: likewise */
    size_t remembered_count;   /* of `remembered` */
    const uint8_t *met;   /* addresses at which units were once met: asked with the others, also beyond `unlikely_to` */
    size_t met_count;     /* of `met` */
    bool slow_all;        /* the slow pass over all addresses, also after units were found */
    bool no_lines;        /* no question in lines: only units with an address */
    bool no_addresses;    /* no question to addresses: only units that talk in lines */
    uint32_t quick_limit; /* of the first pass, microseconds */
    uint32_t slow_limit;  /* of the second pass, the models' longest reply; 0: no second pass */
    uint32_t gap;         /* longest silence inside a reply */
    uint8_t asks;         /* questions to an address that answers cleanly; 0 counts as 1 */
    uint8_t silent_asks;  /* questions to an address that stays silent; 0 counts as 1 */
    bool any_line;        /* ask in lines at every line setting, not only at the models' own */
    bool asks_once;       /* those that were found are not asked once more at the end: a visit does so by itself */
    bool every_line;      /* all addresses at every line setting, also after units were found at one */
    const vd_model *wanted; /* any other model is a fault; NULL: all are welcome */
} vd_search_plan;

#define VD_SEARCH_LINES 64u /* most line settings that vd_search_lines() gives */

/* Fills in the line settings to try, likeliest first: the models' own, then what the bus standard has units come with,
 * and with `wide` all usual speeds and framings. A `speed` other than 0 and a `framing` with data bits other than 0
 * narrow the choice. `lines` has room for VD_SEARCH_LINES; returns how many there are. */
size_t vd_search_lines(const vd_model *const *models, size_t model_count, bool wide, uint32_t speed,
                       const vd_serial *framing, vd_serial *lines);
/* A plan in these languages for these models and lines over all addresses, with limits that suit a port whose latency
 * is `latency` microseconds each way; change what is to be otherwise. */
vd_search_plan vd_search_plan_of(const vd_desk *const *desks, const vd_model *const *models, size_t model_count,
                                 const vd_serial *lines, size_t line_count, uint32_t latency);

/* Narrows a plan to the diagnosis of one address, or of one unit that talks in lines: asked several times even when it
 * answers cleanly, and listened to for long enough to hear whoever talks unasked. `wanted` is the model that should be
 * there. */
void vd_search_plan_diagnose(vd_search_plan *plan, uint8_t address, const vd_model *wanted);

/* Somebody at an address. */
typedef struct vd_found {
    vd_serial line;              /* where it answered */
    uint8_t address;             /* 0: it talks in lines and has none */
    vd_status status;            /* VD_OK: a unit of a known model; else why not, as vd_clues_judge() says */
    const vd_model *model;       /* or NULL */
    vd_identity identity, other; /* the second of two units on one address, where both were understood */
    vd_fault fault;              /* where status is not VD_OK */
} vd_found;

/* Whether two units were heard at one address. */
bool vd_found_is_shared(const vd_found *found);

/* A search on one line. It asks for identity and never writes. */
typedef struct vd_search vd_search;
VD_STORAGE(vd_search, 2912, 2976)

/* The engine of a vd_search. */
extern const vd_engine vd_search_engine;

/* Begins a search; units are put into `found` (at most `size`), which the search keeps using. */
void vd_search_begin(vd_search *search, uint64_t now, const vd_search_plan *plan, vd_found *found, size_t size);
/* Whether it has ended, and how: VD_OK when all was asked, VD_STOPPED, or the port's fault. */
bool vd_search_ended(const vd_search *search, vd_status *status);
/* Units found so far; stays valid when the search is stopped. */
size_t vd_search_count(const vd_search *search);
/* How far a search has come. */
typedef struct vd_search_progress {
    unsigned pass; /* 1 and 4: units that talk in lines, quick and slow; 2: likely addresses, 3: all of them, 5: slowly;
                    * 6: those found once more */
    vd_serial line;  /* the line setting at which it asks */
    uint8_t address; /* 0: whoever talks in lines */
    uint32_t asked;  /* questions so far */
    uint64_t left;   /* microseconds until it ends, when nobody answers */
} vd_search_progress;
/* How far it has come. */
vd_search_progress vd_search_progress_of(const vd_search *search);
/* What was heard on the line besides units, when none was found: VD_NO_REPLY or what else it means. */
vd_status vd_search_judge_line(const vd_search *search, vd_fault *fault);

/* ---- The link test ----------------------------------------------------------------------------------------- */

/* How sound a line is. */
typedef enum vd_link_grade {
    VD_LINK_NOT_JUDGED, /* nothing was asked, or the port went away */
    VD_LINK_SOUND,      /* not one loss */
    VD_LINK_MARGINAL,   /* in between */
    VD_LINK_UNUSABLE    /* fewer than 9 in 10 answered */
} vd_link_grade;

/* Asks one unit who it is, again and again; touches no setting. */
typedef struct vd_link_test vd_link_test;
VD_STORAGE(vd_link_test, 2240, 2272)

/* The engine of a vd_link_test. */
extern const vd_engine vd_link_test_engine;

/* Begins `count` identifications (1 to 10000); `times` has room for as many numbers and is kept. `desk` and
 * `model` as in vd_probe_begin(). */
void vd_link_test_begin(vd_link_test *test, uint64_t now, const vd_desk *desk, const vd_model *model,
                        const vd_serial *line, uint8_t address, uint16_t count, uint32_t *times, uint32_t limit,
                        uint32_t gap);
/* Whether it has ended, and how. */
bool vd_link_test_ended(const vd_link_test *test, vd_status *status);
/* Result so far. Times are microseconds from the last bit sent to the first byte heard, 0 where nothing came. */
typedef struct vd_link_result {
    uint16_t asked, answered, lost, damaged;         /* questions, and what became of them */
    uint32_t error_bytes, quickest, median, slowest; /* bytes with line errors; reply times */
    vd_link_grade grade;                             /* by what was asked so far */
} vd_link_result;
/* What it has found so far. */
vd_link_result vd_link_test_result(const vd_link_test *test);

VD_C_END

#endif
