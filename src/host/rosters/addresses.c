/* SPDX-License-Identifier: MIT
 * Plans of addresses: numbers on a bus, or hosts of a network. */
#include "verdite/roster.h"

#include <arpa/inet.h>
#include <string.h>

#define MOST_LEFT_OUT 64u

struct vd_address_plan {
    int family;          /* AF_INET, AF_INET6; 0: numbers on a bus */
    uint8_t network[16]; /* of a network: the address itself, in the order of the wire */
    guint64 next, last;  /* the number, or the host in that network */
    guint64 step;
    guint64 left_out[MOST_LEFT_OUT];
    size_t left_out_count;
};

#define ALLOWED "Give for example \"2-40\", \"from 2 step 2\", \"10.8.3.16/28 but .1\" or \"2001:db8::/64\"."

/* ---- Parsing ---- */

static bool take_number(const char *text, guint64 low, guint64 high, guint64 *number)
{
    return text != NULL && g_ascii_string_to_unsigned(text, 10, low, high, number, NULL);
}

/* The host part of an address of this network. */
static guint64 host_of(const vd_address_plan *plan, const uint8_t bytes[16], unsigned bits)
{
    size_t size = plan->family == AF_INET ? 4 : 16;
    guint64 host = 0;
    for (size_t i = size > 8 ? size - 8 : 0; i < size; i++) {
        host = host << 8 | bytes[i];
    }
    return bits >= 64 ? host : host & (((guint64)1 << bits) - 1);
}

/* "10.8.3.16/28": the hosts of a network begin behind its own address, and of IPv4 end before that for all. */
static bool take_network(vd_address_plan *plan, const char *text)
{
    char **parts = g_strsplit(text, "/", 2);
    guint64 length = 0;
    plan->family = parts[0] != NULL && strchr(parts[0], ':') != NULL ? AF_INET6 : AF_INET;
    guint64 most = plan->family == AF_INET ? 32 : 128;
    bool fine = parts[0] != NULL && inet_pton(plan->family, parts[0], plan->network) == 1 &&
                take_number(parts[1], 1, most - 1, &length);
    unsigned bits = (unsigned)(most - length);
    if (fine) {
        plan->next = 1;
        plan->last = bits >= 64 ? G_MAXUINT64 - 1 : ((guint64)1 << bits) - 1;
        plan->last -= plan->family == AF_INET && bits > 1; /* that one goes to all */
        for (unsigned bit = 0; bit < bits; bit++) {
            size_t size = (size_t)most / 8u;
            plan->network[size - 1 - bit / 8] &= (uint8_t) ~(1u << bit % 8);
        }
        fine = plan->next <= plan->last;
    }
    g_strfreev(parts);
    return fine;
}

/* "2-40", or what stands behind "from". */
static bool take_numbers(vd_address_plan *plan, const char *text, bool open)
{
    char **ends = g_strsplit(text, "-", 2);
    bool fine = take_number(ends[0], 1, 247, &plan->next);
    plan->last = 247;
    if (fine && !open) {
        fine = take_number(ends[1] != NULL ? ends[1] : ends[0], plan->next, 247, &plan->last);
    }
    fine = fine && (!open || ends[1] == NULL);
    g_strfreev(ends);
    return fine;
}

/* ".1" is short for the address of the network that ends so. */
static bool leave_out(vd_address_plan *plan, const char *word)
{
    guint64 number = 0;
    uint8_t bytes[16] = {0};
    bool fine = plan->left_out_count < MOST_LEFT_OUT;
    if (plan->family == 0) {
        fine = fine && take_number(word, 1, 247, &number);
    } else if (plan->family == AF_INET && word[0] == '.') {
        fine = fine && take_number(word + 1, 0, 255, &number);
        number = fine ? number - (guint64)plan->network[3] : 0; /* one outside the network is none of its hosts */
    } else {
        fine = fine && inet_pton(plan->family, word, bytes) == 1;
        number = host_of(plan, bytes, 64) - host_of(plan, plan->network, 64);
    }
    if (fine) {
        plan->left_out[plan->left_out_count++] = number;
    }
    return fine;
}

vd_address_plan *vd_address_plan_parse(const char *text, vd_fault *fault)
{
    vd_address_plan *plan = g_new0(vd_address_plan, 1);
    char **words = g_strsplit_set(text, " ,", -1), **word = words;
    bool open = strcmp(*word != NULL ? *word : "", "from") == 0, fine = true, leaves = false;
    word += open;
    plan->step = 1;
    fine = *word != NULL &&
           (strchr(*word, '/') != NULL && !open ? take_network(plan, *word) : take_numbers(plan, *word, open));
    for (word += *word != NULL; fine && *word != NULL; word++) {
        if (strcmp(*word, "step") == 0) {
            fine = take_number(word[1], 1, 1000000, &plan->step);
            word++;
            leaves = false;
        } else if (strcmp(*word, "but") == 0) {
            fine = word[1] != NULL;
            leaves = true;
        } else {
            fine = (*word)[0] == '\0' || (leaves && leave_out(plan, *word));
        }
    }
    g_strfreev(words);
    if (!fine) {
        vd_note_PLAN_WRONG(fault, text, ALLOWED);
        g_clear_pointer(&plan, g_free);
    }
    return plan;
}

void vd_address_plan_free(vd_address_plan *plan)
{
    g_free(plan);
}

/* ---- Giving them out ---- */

bool vd_address_plan_fits(const vd_address_plan *plan, const vd_setting *setting)
{
    bool unique = setting->among == VD_AMONG_UNIQUE;
    return plan->family == 0         ? setting->role == VD_ROLE_ADDRESS
           : plan->family == AF_INET ? unique && setting->traits->id == VD_IPV4
                                     : unique && setting->traits->id == VD_IPV6;
}

static bool is_left_out(const vd_address_plan *plan, guint64 number)
{
    for (size_t i = 0; i < plan->left_out_count; i++) {
        if (plan->left_out[i] == number) {
            return true;
        }
    }
    return false;
}

static void print(const vd_address_plan *plan, guint64 number, char *text, size_t size)
{
    uint8_t bytes[16];
    size_t count = plan->family == AF_INET ? 4 : 16;
    memcpy(bytes, plan->network, sizeof bytes);
    for (size_t i = 0; i < MIN(count, 8); i++) {
        bytes[count - 1 - i] |= (uint8_t)(number >> (8 * i));
    }
    if (plan->family == 0) {
        g_snprintf(text, (gulong)size, "%u", (unsigned)number);
    } else if (inet_ntop(plan->family, bytes, text, (socklen_t)size) == NULL) {
        g_strlcpy(text, "", size);
    }
}

bool vd_address_plan_next(vd_address_plan *plan, char *text, size_t size)
{
    while (plan->next <= plan->last && is_left_out(plan, plan->next)) {
        plan->next += plan->step;
    }
    if (plan->next > plan->last) {
        return false;
    }
    print(plan, plan->next, text, size);
    plan->next += plan->step;
    return true;
}
