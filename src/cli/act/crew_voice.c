/* SPDX-License-Identifier: MIT
 * Which of several visits a message is about, and with which of them its outcome is kept; a line for each. */
#include "crew.h"

#define EACH 100000u /* microseconds between two drawings */

void crew_turn_to(crew *all, crew_member *member)
{
    voice_turn(all->c, &all->now, member != NULL ? &member->voice : &all->whole);
}

/* "address 3   QD-24003" in columns of their own. */
static char *name_words(const crew_member *member)
{
    const char *serial = member->begun ? vd_visit_identity(member->v.engine)->serial : "";
    char *at = g_strdup_printf("address %u", member->v.place.address);
    char *words = g_strdup_printf("  %-11s  %-12s", at, serial[0] != '\0' ? serial : "-");
    g_free(at);
    return words;
}

void crew_show_line(const crew *all, const crew_member *member)
{
    const cli *c = all->c;
    tone t = TONE_BAD;
    const char *words = member->begun ? visit_outcome_words(&member->v, &member->voice, &t) : "not asked";
    double seconds = (double)(member->v.ended - member->v.began) / 1000000.0;
    char *name = name_words(member), *time = member->begun ? g_strdup_printf("  %.1f s", seconds) : g_strdup("");
    char *line = g_strdup_printf("%s  %s%s%s%s\n", name, tone_on(c->colour, t), words, tone_off(c->colour, t), time);
    if (!c->options.json) {
        screen_put(stdout, line);
        fflush(stdout);
    }
    g_free(line);
    g_free(time);
    g_free(name);
}

void crew_show_stages(crew *all, uint64_t now)
{
    if (!all->c->live_messages || now - all->drawn < EACH) {
        return;
    }
    all->drawn = now;
    GString *lines = g_string_new("");
    for (size_t i = 0; i < all->count; i++) {
        const crew_member *member = &all->members[i];
        if (member->begun && !member->over) {
            char *name = name_words(member), *stage = stage_words(&member->v);
            g_string_append_printf(lines, "%s%s  %s", lines->len > 0 ? "\n" : "", name, stage);
            g_free(stage);
            g_free(name);
        }
    }
    progress_show(all->c, lines->str);
    g_string_free(lines, TRUE);
}
