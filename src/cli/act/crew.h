/* SPDX-License-Identifier: MIT
 * Several visits on one line at the same time: while one unit restarts, the next is read. */
#ifndef VD_CLI_CREW_H
#define VD_CLI_CREW_H

#include "act.h"

/* One of the visits, with what is told of it. */
typedef struct crew_member {
    visit v;
    voice voice;
    bool begun, over;
    bool passed; /* it no longer waits for the others */
    bool hears;  /* what is called out just now */
} crew_member;

typedef struct crew {
    cli *c;
    place place;
    crew_member *members;
    size_t count;
    vd_loop loop;
    vd_lane lane;
    voice whole, *now;         /* of all of them; whose messages are told just now */
    GHashTable *told;          /* lines about changes that were told of any of them */
    uint64_t drawn;            /* when the stages were drawn last, by the clock of the loop */
    bool at_once;              /* what may be equal everywhere goes out by broadcast */
    const crew_member *caller; /* until it has called out */
} crew;

/* Does a task at all of these addresses. What came of each stands in its member. False: there was no visit; reported.
 * Free it in either case. */
bool crew_do(crew *all, cli *c, const vd_model *model, const visit_task *task, const uint8_t *addresses, size_t count,
             bool at_once);
void crew_free(crew *all);

/* ---- crew_voice.c ---- */

/* From now on messages are about this member, and what is told is kept with it; NULL: about all of them. */
void crew_turn_to(crew *all, crew_member *member);
/* Prints the line of a member that is over, or was never asked: address, serial number, verdict, time. */
void crew_show_line(const crew *all, const crew_member *member);
/* Draws what those that are under way are doing, a line each, on a terminal. */
void crew_show_stages(crew *all, uint64_t now);

/* ---- broadcast.c ---- */

/* Whether nobody is on the line but units of this model, at these addresses; asks all addresses. False: reported. */
bool broadcast_is_safe(crew *all, const vd_model *model, const trace *t);
/* Whether a visit waits for the others before it goes on. */
bool broadcast_holds(const crew *all, const crew_member *member, visit_wish wish);
/* All visits that are under way wait: goes on with them. */
void broadcast_go_on(crew *all);
/* Once what was called out has left: those that heard it go on. Whether any did. */
bool broadcast_was_heard(crew *all);

#endif
