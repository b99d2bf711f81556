/* SPDX-License-Identifier: MIT
 * Where the unit is reached, and where it will be once it has taken up another address or line setting. It is looked
 * for where it should be, then where it was, then, where only a part of it may have taken force, at the other two; and
 * at all of them once more when another restart would be over. */
#include "visit_parts.h"

#include <string.h>

#define MOST_DOUBTS 3u

static bool is_link(const vd_visit *visit, uint16_t setting)
{
    return vd_role_is_link((vd_role)visit->model->settings[setting].role);
}

bool vd_is_off_link(const vd_visit *visit, uint16_t setting)
{
    vd_link wanted = visit->link;
    if (is_link(visit, setting) && vd_has_part(visit, setting, VD_PART_ASKED | VD_PART_CHANGES)) {
        vd_set_link_part(&visit->desired, setting, &wanted);
    }
    return !vd_link_equal(&wanted, &visit->link);
}

bool vd_is_link_change(const vd_visit *visit, uint16_t setting)
{
    return is_link(visit, setting) && vd_has_part(visit, setting, VD_PART_CHANGES);
}

void vd_follow_work_out(vd_visit *visit)
{
    visit->follow = (vd_follow){.from = visit->link, .to = visit->link};
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (vd_is_link_change(visit, i)) {
            vd_set_link_part(&visit->desired, i, &visit->follow.to);
        }
    }
}

bool vd_follow_moves(const vd_visit *visit)
{
    return !vd_link_equal(&visit->follow.from, &visit->follow.to);
}

/* ---- Another link ---- */

static void ask_at(vd_visit *visit, const vd_link *link)
{
    vd_talk_move(&visit->talk, link, visit->latency);
}

/* All that it may be reached by, the likeliest first. */
static size_t links_of(const vd_visit *visit, vd_link *links)
{
    const vd_follow *follow = &visit->follow;
    const vd_link *first = follow->expected ? &follow->goes : &follow->was;
    const vd_link *second = follow->expected ? &follow->was : &follow->goes;
    const vd_link all[VD_FOLLOW_LINKS] = {*first,
                                          *second,
                                          {follow->was.line, follow->goes.address},
                                          {follow->goes.line, follow->was.address},
                                          follow->to};
    size_t count = 0;
    for (size_t i = 0; i < VD_FOLLOW_LINKS && (i == 0 || follow->sent); i++) {
        count = vd_link_add(links, count, &all[i]);
    }
    return count;
}

/* Where what was sent so far takes it. */
static vd_link link_of_sent(const vd_visit *visit)
{
    vd_link link = visit->link;
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        if (vd_is_link_change(visit, i) && visit->ledger[i].sending != VD_UNSENT) {
            vd_set_link_part(&visit->desired, i, &link);
        }
    }
    return link;
}

void vd_follow_begin(vd_visit *visit, bool expected)
{
    vd_follow *follow = &visit->follow;
    vd_link links[VD_FOLLOW_LINKS];
    follow->was = visit->link;
    follow->goes = link_of_sent(visit);
    follow->sent = !vd_link_equal(&follow->was, &follow->goes);
    follow->expected = expected && follow->sent;
    follow->stage = 0;
    links_of(visit, links);
    ask_at(visit, &links[0]);
}

bool vd_follow_is_on(const vd_visit *visit)
{
    return visit->follow.sent;
}

bool vd_follow_next(vd_visit *visit, bool *whole)
{
    vd_link links[VD_FOLLOW_LINKS];
    size_t count = links_of(visit, links);
    if (!visit->follow.sent || visit->follow.stage + 1u >= 2 * count) {
        return false;
    }
    visit->follow.stage++;
    *whole = visit->follow.stage == count;
    ask_at(visit, &links[visit->follow.stage % count]);
    return true;
}

bool vd_follow_is_there(const vd_visit *visit)
{
    vd_link links[VD_FOLLOW_LINKS];
    size_t count = links_of(visit, links);
    const vd_link *link = &links[visit->follow.stage % count];
    return visit->follow.expected &&
           (vd_link_equal(link, &visit->follow.goes) || vd_link_equal(link, &visit->follow.to));
}

bool vd_follow_take(vd_visit *visit)
{
    vd_link links[VD_FOLLOW_LINKS];
    size_t count = links_of(visit, links);
    bool there = vd_follow_is_there(visit);
    if (visit->follow.sent) {
        visit->link = links[visit->follow.stage % count];
        visit->follow.sent = false;
        ask_at(visit, &visit->link);
    }
    return there;
}

vd_status vd_follow_in_vain(vd_visit *visit)
{
    char said[VD_SAID_SIZE], allowed[VD_ALLOWED_SIZE];
    vd_writer to = vd_writer_start(said, sizeof said), from = vd_writer_start(allowed, sizeof allowed);
    vd_link_print(&visit->follow.goes, &to);
    vd_link_print(&visit->follow.was, &from);
    vd_fault_clear(&visit->fault);
    return vd_note_NOT_FOLLOWED(&visit->fault, said, allowed);
}

void vd_follow_judge(vd_visit *visit)
{
    for (uint16_t i = 0; i < visit->model->setting_count; i++) {
        visit->ledger[i].part |= vd_is_off_link(visit, i) ? VD_PART_OFF_LINK : 0u;
    }
}

/* ---- Who else is there ---- */

static bool was_silent(vd_status status)
{
    return status == VD_NO_REPLY || status == VD_NO_ANSWER || status == VD_ECHO_ONLY;
}

/* Where the next of those is asked: at the new address as the line is now, then as it will be. */
static bool next_to_see(const vd_visit *visit, vd_link *link)
{
    const vd_follow *follow = &visit->follow;
    bool moves = follow->to.address != follow->from.address;
    *link = moves && follow->seen == 0 ? (vd_link){follow->from.line, follow->to.address} : follow->to;
    return follow->seen < (moves && !vd_serial_equal(&follow->to.line, &follow->from.line) ? 2u : 1u);
}

static void see(vd_visit *visit, const vd_link *link)
{
    ask_at(visit, link);
    vd_talk_limit_tries(&visit->talk, 2);
    memset(visit->which, 0, visit->model->setting_count);
    vd_visit_run(visit, (vd_step)visit->list[visit->at], VD_JOB_IDENTIFY, NULL);
}

static void look_back(vd_visit *visit)
{
    vd_talk_limit_tries(&visit->talk, 0);
    ask_at(visit, &visit->link);
}

vd_going vd_step_see_free(vd_visit *visit)
{
    vd_link link;
    next_to_see(visit, &link);
    see(visit, &link);
    return VD_GOING;
}

vd_going vd_step_seen_free(vd_visit *visit, vd_status status)
{
    const vd_identity *found = &visit->talk.job.identity;
    bool itself = status == VD_OK && vd_is_known(visit);
    vd_link link;
    look_back(visit);
    if (status == VD_LINE_NOT_TAKEN) {
        vd_fault_clear(&visit->fault);
        vd_serial_refuse(&visit->follow.to.line, "Nothing was sent: the unit could not be reached there.",
                         &visit->fault);
    }
    if (vd_is_over(visit, status)) {
        return VD_GIVEN_UP;
    }
    vd_fault_clear(&visit->fault);
    bool free = was_silent(status) || itself;
    visit->follow.seen = (uint8_t)(visit->follow.seen + free);
    visit->follow.doubts = free ? 0 : (uint8_t)(visit->follow.doubts + 1);
    /* What makes no sense may be chance, or two of them at once, who will be heard again. */
    if (free ? next_to_see(visit, &link) : status != VD_OK && visit->follow.doubts < MOST_DOUBTS) {
        vd_steps_insert(visit, (const vd_step[]){VD_STEP_SEE_FREE}, 1);
        return VD_FINE;
    }
    if (free) {
        return VD_FINE;
    }
    vd_note_ADDRESS_TAKEN(&visit->fault, found->serial[0] != '\0' ? found->serial : "it cannot be understood",
                          visit->follow.to.address);
    return VD_GIVEN_UP;
}

vd_going vd_step_see_left(vd_visit *visit)
{
    see(visit, &visit->follow.from);
    return VD_GOING;
}

/* Whatever this shows, it takes nothing from what was read back. */
vd_going vd_step_seen_left(vd_visit *visit, vd_status status)
{
    visit->follow.left = was_silent(status)                      ? VD_LEFT_NOBODY
                         : status == VD_OK && vd_is_known(visit) ? VD_LEFT_ITSELF
                         : vd_is_over(visit, status)             ? VD_LEFT_NOT_SEEN
                                                                 : VD_LEFT_ANOTHER;
    visit->follow.other = visit->talk.job.identity;
    look_back(visit);
    if (vd_is_over(visit, status)) {
        return VD_GIVEN_UP;
    }
    vd_fault_clear(&visit->fault);
    return VD_FINE;
}

const vd_link *vd_visit_link(const vd_visit *visit)
{
    return &visit->link;
}

const vd_link *vd_visit_new_link(const vd_visit *visit)
{
    return vd_follow_moves(visit) ? &visit->follow.to : NULL;
}

vd_left vd_visit_left(const vd_visit *visit, const vd_identity **other)
{
    *other = &visit->follow.other;
    return (vd_left)visit->follow.left;
}
