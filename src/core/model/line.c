/* SPDX-License-Identifier: MIT
 * Line settings: how bits look on a serial line. */
#include "verdite/set.h"

bool vd_framing_parse(const char *text, vd_serial *line)
{
    if (text[0] != '7' && text[0] != '8') {
        return false;
    }
    char parity = (char)(text[1] >= 'a' && text[1] <= 'z' ? text[1] - 'a' + 'A' : text[1]);
    if (parity != 'N' && parity != 'E' && parity != 'O') {
        return false;
    }
    if ((text[2] != '1' && text[2] != '2') || text[3] != '\0') {
        return false;
    }
    line->data_bits = (uint8_t)(text[0] - '0');
    line->parity = parity;
    line->stop_bits = (uint8_t)(text[2] - '0');
    return true;
}

void vd_serial_print(const vd_serial *line, vd_writer *writer)
{
    char framing[] = {' ', (char)('0' + line->data_bits), line->parity, (char)('0' + line->stop_bits), '\0'};
    vd_writer_add_number(writer, line->baud);
    vd_writer_add(writer, framing);
}

vd_status vd_serial_refuse(const vd_serial *line, const char *next, vd_fault *fault)
{
    char words[VD_SAID_SIZE];
    vd_writer writer = vd_writer_start(words, sizeof words);
    vd_serial_print(line, &writer);
    return vd_note_LINE_NOT_TAKEN(fault, words, next);
}

bool vd_serial_equal(const vd_serial *a, const vd_serial *b)
{
    return a->baud == b->baud && a->data_bits == b->data_bits && a->parity == b->parity && a->stop_bits == b->stop_bits;
}

void vd_link_print(const vd_link *link, vd_writer *writer)
{
    if (link->address != 0) {
        vd_writer_add(writer, "address ");
        vd_writer_add_number(writer, link->address);
        vd_writer_add(writer, " at ");
    }
    vd_serial_print(&link->line, writer);
}

bool vd_link_equal(const vd_link *a, const vd_link *b)
{
    return vd_serial_equal(&a->line, &b->line) && a->address == b->address;
}

size_t vd_link_add(vd_link *links, size_t count, const vd_link *link)
{
    for (size_t i = 0; i < count; i++) {
        if (vd_link_equal(&links[i], link)) {
            return count;
        }
    }
    links[count] = *link;
    return count + 1;
}

unsigned vd_serial_character_bits(const vd_serial *line)
{
    return 1u + line->data_bits + (line->parity != 'N') + line->stop_bits;
}

uint64_t vd_serial_time(const vd_serial *line, uint64_t characters)
{
    uint64_t bits = characters * vd_serial_character_bits(line);
    return (bits * 1000000u + line->baud - 1) / line->baud;
}
