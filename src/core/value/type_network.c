/* SPDX-License-Identifier: MIT
 * Addresses and names in networks. */
#include "value_parts.h"

#include <string.h>

static bool take_ipv4(vd_span text, uint32_t *address)
{
    *address = 0;
    for (int octet = 0; octet < 4; octet++) {
        uint32_t number = 0;
        unsigned digits = 0;
        bool leading_zero = text.length > 1 && text.at[0] == '0' && vd_is_digit(text.at[1]);
        /* A leading zero means octal to some programs, so it is not taken at all. */
        if (leading_zero || !vd_take_whole(&text, 255, &number, &digits) || (octet < 3 && !vd_take_char(&text, '.'))) {
            return false;
        }
        *address = *address << 8 | number;
    }
    return text.length == 0;
}

static vd_status parse_ipv4(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    uint32_t address = 0;
    bool fine = take_ipv4(typed, &address);
    into->value.number = address;
    return fine ? VD_OK : vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
}

static void print_ipv4(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    (void)setting;
    for (int shift = 24; shift >= 0; shift -= 8) {
        vd_writer_add_number(writer, value->number >> shift & 0xFF);
        vd_writer_add(writer, shift > 0 ? "." : "");
    }
}

static void allow_ipv4(const vd_meaning *meaning, vd_writer *writer)
{
    (void)meaning;
    vd_writer_add(writer, "an IPv4 address such as 192.0.2.7");
}

static vd_status parse_mask(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    vd_span rest = typed;
    uint32_t ones = 0;
    if (vd_take_char(&rest, '/')) { /* "/24", as one writes it behind an address */
        if (!vd_take_whole(&rest, 32, &ones, NULL) || rest.length > 0) {
            return vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
        }
        into->value.number = ones == 0 ? 0 : (int64_t)(uint32_t)(0xFFFFFFFFu << (32 - ones));
        return VD_OK;
    }
    return parse_ipv4(meaning, typed, into, fault);
}

vd_status vd_check_mask(const vd_meaning *meaning, const vd_value *value, vd_fault *fault)
{
    uint32_t zeros = ~(uint32_t)value->number; /* ones all the way down, if it is a mask */
    return (zeros & (zeros + 1)) == 0 ? VD_OK : vd_fault_note_value(fault, VD_WRONG_FORM, meaning, value);
}

static void allow_mask(const vd_meaning *meaning, vd_writer *writer)
{
    (void)meaning;
    vd_writer_add(writer, "a network mask such as 255.255.255.0 or /24");
}

vd_status vd_check_gateway(const vd_meaning *meaning, const vd_value *value, vd_fault *fault)
{
    uint32_t first = (uint32_t)value->number >> 24;
    bool host = value->number == 0 || (first > 0 && first != 127 && first < 224);
    return host ? VD_OK : vd_fault_note_value(fault, VD_WRONG_FORM, meaning, value);
}

static void allow_gateway(const vd_meaning *meaning, vd_writer *writer)
{
    (void)meaning;
    vd_writer_add(writer, "the IPv4 address of a gateway such as 192.0.2.1, or 0.0.0.0 for none");
}

/* ---- IPv6 ---- */

#define GROUPS 8

/* Takes groups of the text form (RFC 4291 clause 2.2) up to "::" or the end; returns how many, -1 for anything else. */
static int take_groups(vd_span *rest, uint16_t *groups, int most)
{
    int count = 0;
    while (rest->length > 0 && count < most) {
        uint32_t address = 0, group = 0;
        size_t digits = 0;
        if (count + 2 <= most && take_ipv4(*rest, &address)) { /* an IPv4 address may stand at the end */
            groups[count++] = (uint16_t)(address >> 16);
            groups[count++] = (uint16_t)address;
            rest->length = 0;
            return count;
        }
        while (digits < rest->length && vd_hex_digit(rest->at[digits]) >= 0) {
            group = group << 4 | (uint32_t)vd_hex_digit(rest->at[digits++]);
            if (digits > 4) {
                return -1;
            }
        }
        if (digits == 0) {
            return -1;
        }
        groups[count++] = (uint16_t)group;
        rest->at += digits;
        rest->length -= digits;
        if (rest->length == 0 || (rest->length >= 2 && rest->at[0] == ':' && rest->at[1] == ':')) {
            return count;
        }
        if (!vd_take_char(rest, ':') || rest->length == 0) {
            return -1;
        }
    }
    return rest->length == 0 ? count : -1;
}

static bool parse_groups(vd_span text, uint16_t *groups)
{
    uint16_t behind[GROUPS];
    bool gap = text.length >= 2 && text.at[0] == ':' && text.at[1] == ':';
    int first = gap ? 0 : take_groups(&text, groups, GROUPS), last = 0;
    if (first < 0) {
        return false;
    }
    gap = text.length >= 2 && text.at[0] == ':' && text.at[1] == ':';
    if (gap) {
        text.at += 2;
        text.length -= 2;
        last = take_groups(&text, behind, GROUPS - 1 - first);
    }
    if (last < 0 || text.length > 0 || (!gap && first != GROUPS)) {
        return false;
    }
    for (int i = first; i < GROUPS; i++) {
        groups[i] = i < GROUPS - last ? 0 : behind[i - (GROUPS - last)];
    }
    return true;
}

static vd_status parse_ipv6(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    uint16_t groups[GROUPS] = {0};
    if (!parse_groups(typed, groups)) {
        return vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
    }
    for (int i = 0; i < GROUPS; i++) {
        into->bytes[2 * i] = (char)(groups[i] >> 8);
        into->bytes[2 * i + 1] = (char)groups[i];
    }
    into->value.text = into->bytes;
    into->value.length = 2 * GROUPS;
    return VD_OK;
}

static void print_ipv6(const vd_setting *setting, const vd_value *value, vd_writer *writer)
{
    uint16_t groups[GROUPS] = {0};
    int start = -1, longest = 1; /* the longest run of two zeros or more is left out, the first of equals */
    (void)setting;
    for (int i = 0; i < GROUPS && value->length == 2 * GROUPS; i++) {
        groups[i] = (uint16_t)((uint8_t)value->text[2 * i] << 8 | (uint8_t)value->text[2 * i + 1]);
    }
    for (int i = 0; i < GROUPS; i++) {
        int run = 0;
        while (i + run < GROUPS && groups[i + run] == 0) {
            run++;
        }
        if (run > longest) {
            longest = run;
            start = i;
        }
        i += run > 0 ? run - 1 : 0;
    }
    for (int i = 0; i < GROUPS; i++) {
        if (i == start) {
            vd_writer_add(writer, "::");
            i += longest - 1;
            continue;
        }
        char digits[5];
        vd_writer group = vd_writer_start(digits, sizeof digits);
        vd_writer_add_hex(&group, groups[i], 1);
        for (size_t k = 0; k < group.length; k++) {
            digits[k] = vd_small(digits[k]);
        }
        vd_writer_add(writer, i > 0 && i != start + longest ? ":" : "");
        vd_writer_add(writer, digits);
    }
}

static void allow_ipv6(const vd_meaning *meaning, vd_writer *writer)
{
    (void)meaning;
    vd_writer_add(writer, "an IPv6 address such as 2001:db8::7");
}

/* Copies a name in small letters, which is how names are compared; false when it is none. */
static bool take_host(vd_span typed, char *bytes)
{
    uint32_t address = 0;
    if (!vd_is_host(typed) && !take_ipv4(typed, &address)) {
        return false;
    }
    for (size_t i = 0; i < typed.length; i++) {
        bytes[i] = vd_small(typed.at[i]);
    }
    return true;
}

static vd_status parse_host(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    if (typed.length > 0 && !take_host(typed, into->bytes)) {
        return vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
    }
    into->value.text = into->bytes;
    into->value.length = (uint16_t)typed.length;
    return vd_check_length(meaning, &into->value, fault);
}

static void allow_host(const vd_meaning *meaning, vd_writer *writer)
{
    vd_writer_add(writer, "a host name such as data.example.net or an IPv4 address, up to ");
    vd_writer_add_number(writer, meaning->of->length);
    vd_writer_add(writer, " characters");
}

/* scheme "://" host [":" port] and then whatever a path, query or fragment may hold (RFC 3986 clause 3). */
static bool is_url(vd_span text, size_t *host_at, size_t *host_length)
{
    size_t i = 0;
    while (i < text.length && (vd_is_letter(text.at[i]) || (i > 0 && (vd_is_digit(text.at[i]) || text.at[i] == '+' ||
                                                                      text.at[i] == '-' || text.at[i] == '.')))) {
        i++;
    }
    if (i == 0 || text.length < i + 3 || memcmp(text.at + i, "://", 3) != 0) {
        return false;
    }
    i += 3;
    *host_at = i;
    while (i < text.length && text.at[i] != ':' && text.at[i] != '/' && text.at[i] != '?' && text.at[i] != '#') {
        i++;
    }
    *host_length = i - *host_at;
    uint32_t address = 0, port = 0;
    vd_span host = {text.at + *host_at, *host_length}, rest = {text.at + i, text.length - i};
    if (!vd_is_host(host) && !take_ipv4(host, &address)) {
        return false;
    }
    if (vd_take_char(&rest, ':') && (!vd_take_whole(&rest, 65535, &port, NULL) || port == 0)) {
        return false;
    }
    if (rest.length > 0 && rest.at[0] != '/' && rest.at[0] != '?' && rest.at[0] != '#') {
        return false;
    }
    for (size_t k = 0; k < rest.length; k++) {
        static const char not_taken[] = "\"<>\\^`{|}"; /* RFC 3986 has them percent-encoded */
        if (rest.at[k] <= 0x20 || rest.at[k] > 0x7E ||
            vd_has_char((vd_span){not_taken, sizeof not_taken - 1}, rest.at[k])) {
            return false;
        }
    }
    return true;
}

static vd_status parse_url(const vd_meaning *meaning, vd_span typed, vd_typed *into, vd_fault *fault)
{
    size_t host_at = 0, host_length = 0;
    if (typed.length > sizeof into->bytes || (typed.length > 0 && !is_url(typed, &host_at, &host_length))) {
        return vd_fault_note_typed(fault, VD_WRONG_FORM, meaning, typed);
    }
    for (size_t i = 0; i < typed.length; i++) { /* scheme and host are the same in any case; the rest is not */
        into->bytes[i] = typed.at[i];
        if (i < host_at + host_length) {
            into->bytes[i] = vd_small(typed.at[i]);
        }
    }
    into->value.text = into->bytes;
    into->value.length = (uint16_t)typed.length;
    return vd_check_length(meaning, &into->value, fault);
}

static void allow_url(const vd_meaning *meaning, vd_writer *writer)
{
    vd_writer_add(writer, "a URL such as https://data.example.net/hives, up to ");
    vd_writer_add_number(writer, meaning->of->length);
    vd_writer_add(writer, " characters");
}

const vd_type_words vd_words_ipv4 = {"ipv4", "IPv4 address", parse_ipv4, print_ipv4, allow_ipv4, NULL};
const vd_type_words vd_words_mask = {"mask", "network mask", parse_mask, print_ipv4, allow_mask, NULL};
const vd_type_words vd_words_gateway = {"gateway", "gateway", parse_ipv4, print_ipv4, allow_gateway, NULL};
const vd_type_words vd_words_ipv6 = {"ipv6", "IPv6 address", parse_ipv6, print_ipv6, allow_ipv6, NULL};
const vd_type_words vd_words_host = {"host", "host name", parse_host, vd_print_characters, allow_host, NULL};
const vd_type_words vd_words_url = {"url", "URL", parse_url, vd_print_characters, allow_url, NULL};
