/* SPDX-License-Identifier: MIT
 * The board: CMSDK UARTs, the system timer, and what runs before main(). */
#include "board.h"

#include <string.h>

typedef struct uart {
    volatile uint32_t data, state, control, interrupts, divisor;
} uart;
#define CONSOLE ((uart *)0x40004000u)
#define UNIT ((uart *)0x40005000u)
#define TX_FULL 1u
#define RX_FULL 2u

typedef struct timer {
    volatile uint32_t control, reload, value;
} timer;
#define SYSTEM_TIMER ((timer *)0xE000E010u)

#define CLOCK 25000000u /* Hz */
#define PER_MICROSECOND (CLOCK / 1000000u)
#define STACK_MARK 0xA5A5A5A5u

extern uint32_t ram_from[], ram_until[], data_from[], bss_from[], bss_until[], stack_from[], stack_until[];

static volatile uint32_t milliseconds;
static uint32_t baud;

void board_tick(void);
void board_reset(void);
int main(void);

void board_tick(void)
{
    milliseconds++;
}

void board_start(void)
{
    SYSTEM_TIMER->reload = CLOCK / 1000u - 1u;
    SYSTEM_TIMER->value = 0;
    SYSTEM_TIMER->control = 7; /* on, with its interrupt, by the processor's clock */
    CONSOLE->divisor = CLOCK / 115200u;
    CONSOLE->control = 1;
    UNIT->divisor = CLOCK / 9600u;
    UNIT->control = 3;
    baud = 9600;
}

uint64_t board_now(void)
{
    uint32_t whole = 0, part = 0;
    do { /* the tick may come in between */
        whole = milliseconds;
        part = SYSTEM_TIMER->value;
    } while (whole != milliseconds);
    return (uint64_t)whole * 1000u + (CLOCK / 1000u - 1u - part) / PER_MICROSECOND;
}

void board_set_line(const vd_serial *line)
{
    if (line->baud != baud) { /* this UART knows neither parity nor another number of bits */
        baud = line->baud;
        UNIT->divisor = CLOCK / baud;
    }
}

static void put(uart *to, uint8_t byte)
{
    while ((to->state & TX_FULL) != 0) {
    }
    to->data = byte;
}

void board_send(uint8_t byte)
{
    put(UNIT, byte);
}

uint64_t board_still_leaving(void)
{
    return 10u * 1000000u / baud; /* the one byte that it holds */
}

bool board_heard(uint8_t *byte)
{
    bool any = (UNIT->state & RX_FULL) != 0;
    *byte = any ? (uint8_t)UNIT->data : 0;
    return any;
}

void board_say(const char *text)
{
    while (*text != '\0') {
        put(CONSOLE, (uint8_t)*text++);
    }
}

void board_say_number(const char *before, unsigned number)
{
    char digits[11];
    size_t at = sizeof digits - 1;
    digits[at] = '\0';
    do {
        digits[--at] = (char)('0' + number % 10u);
        number /= 10u;
    } while (number > 0);
    board_say(before);
    board_say(digits + at);
}

unsigned board_stack_used(void)
{
    const uint32_t *at = stack_from;
    while (at < stack_until && *at == STACK_MARK) {
        at++;
    }
    return (unsigned)(stack_until - at) * (unsigned)sizeof *at;
}

void board_reset(void)
{
    const uint32_t *here = __builtin_frame_address(0);
    for (uint32_t *at = stack_from; at < here - 16; at++) { /* below what this function has of it */
        *at = STACK_MARK;
    }
    memcpy(ram_from, data_from, (size_t)((char *)ram_until - (char *)ram_from));
    memset(bss_from, 0, (size_t)((char *)bss_until - (char *)bss_from));
    main();
    for (;;) {
    }
}

static void stand_still(void)
{
    for (;;) {
    }
}

/* The stack's end, what runs first, and the exceptions: all but the timer's stand still. */
__attribute__((section(".vectors"), used)) static void (*const vectors[16])(void) = {
    (void (*)(void))(uintptr_t)stack_until,
    board_reset,
    stand_still,
    stand_still,
    stand_still,
    stand_still,
    stand_still,
    NULL,
    NULL,
    NULL,
    NULL,
    stand_still,
    stand_still,
    NULL,
    stand_still,
    board_tick};
