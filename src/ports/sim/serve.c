/* SPDX-License-Identifier: MIT
 * A bench behind pseudo-terminals, in real time: what another program writes to one goes onto the adapter's cable, and
 * what the adapter hears comes back. */
#define _GNU_SOURCE 1

#include <errno.h>
#include <fcntl.h>
#include <poll.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include <unistd.h>

#include "../posix/speed.h"
#include "verdite/sim.h"

/* One adapter and its pseudo-terminal. The far end is held open here as well, so that it stays when programs come and
 * go. */
typedef struct outlet {
    vd_port *port;
    int near, far;
    vd_serial line;
} outlet;

static uint64_t real_time(void)
{
    struct timespec time;
    clock_gettime(CLOCK_MONOTONIC, &time);
    return (uint64_t)time.tv_sec * 1000000u + (uint64_t)time.tv_nsec / 1000u;
}

static char parity_on(const vd_sim *sim, uint16_t cable)
{
    const vd_bench *bench = vd_sim_bench(sim);
    for (uint16_t i = 0; i < bench->unit_count; i++) {
        if (bench->units[i].cable == cable) {
            return vd_unit_line(vd_sim_unit((vd_sim *)sim, i))->parity;
        }
    }
    return 'N';
}

static void hang_up(outlet *o)
{
    if (o->near >= 0) {
        close(o->near);
        close(o->far);
    }
    o->near = o->far = -1;
}

static int open_outlet(vd_sim *sim, uint16_t index, outlet *o)
{
    const vd_bench_adapter *adapter = &vd_sim_bench(sim)->adapters[index];
    struct termios raw;
    o->line = (vd_serial){.data_bits = 8, .parity = parity_on(sim, adapter->cable)};
    o->far = -1;
    o->near = posix_openpt(O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
    if (o->near < 0 || grantpt(o->near) != 0 || unlockpt(o->near) != 0) {
        return errno;
    }
    o->far = open(ptsname(o->near), O_RDWR | O_NOCTTY | O_CLOEXEC);
    if (o->far < 0 || tcgetattr(o->far, &raw) != 0) {
        return errno;
    }
    cfmakeraw(&raw);
    tcsetattr(o->far, TCSANOW, &raw);
    return vd_sim_open(sim, adapter->name, &o->port, NULL) == VD_OK ? 0 : EBUSY;
}

static void follow_line(outlet *o)
{
    struct termios far;
    vd_serial line = o->line;
    vd_taken taken;
    if (tcgetattr(o->near, &far) != 0) {
        return;
    }
    line.baud = posix_baud(cfgetospeed(&far));
    line.stop_bits = (far.c_cflag & CSTOPB) != 0 ? 2 : 1;
    if (line.baud != 0 && !vd_serial_equal(&line, &o->line)) {
        o->line = line;
        o->port->kind->set_line(o->port, &line, &taken);
    }
}

static void pass_out(outlet *o)
{
    uint8_t bytes[256];
    ssize_t got = 0;
    while (o->near >= 0 && (got = read(o->near, bytes, sizeof bytes)) > 0) {
        size_t taken = 0;
        follow_line(o);
        if (o->port->kind->send(o->port, bytes, (size_t)got, &taken) != VD_OK) {
            hang_up(o);
        }
    }
}

static void pass_in(outlet *o)
{
    uint8_t bytes[256], errors[256];
    size_t count = 1;
    while (o->near >= 0 && count > 0) {
        if (o->port->kind->receive(o->port, bytes, errors, sizeof bytes, &count) != VD_OK) {
            hang_up(o);
        } else if (count > 0 && write(o->near, bytes, count) < 0) {
            return; /* nobody reads at the far end: what a unit says is lost, as on a real line */
        }
    }
}

static void run(vd_sim *sim, outlet *outlets, struct pollfd *polls, uint16_t count, const vd_sim_ear *ear,
                volatile sig_atomic_t *stop)
{
    uint64_t ahead = vd_sim_now(sim), start = real_time();
    while (*stop == 0) {
        uint64_t now = ahead + (real_time() - start);
        vd_sim_run(sim, now);
        for (uint16_t i = 0; i < count; i++) {
            pass_in(&outlets[i]);
            polls[i] = (struct pollfd){.fd = outlets[i].near, .events = POLLIN};
        }
        uint64_t next = vd_sim_next(sim);
        uint64_t left = next <= now ? 0 : next - now < 500000 ? next - now : 500000;
        polls[count] = (struct pollfd){.fd = ear != NULL ? ear->file : -1, .events = POLLIN};
        struct timespec limit = {.tv_sec = 0, .tv_nsec = (long)left * 1000};
        if (ppoll(polls, count + 1u, &limit, NULL) > 0) {
            vd_sim_run(sim, ahead + (real_time() - start)); /* so that what was written starts now */
            for (uint16_t i = 0; i < count; i++) {
                pass_out(&outlets[i]);
            }
            if (polls[count].revents != 0 && ear != NULL) {
                ear->heard(ear->about);
            }
        }
    }
}

vd_status vd_sim_serve(vd_sim *sim, volatile sig_atomic_t *stop, void (*tell)(const char *name, const char *path),
                       const vd_sim_ear *ear, vd_fault *fault)
{
    uint16_t count = vd_sim_bench(sim)->adapter_count, opened = 0;
    outlet *outlets = calloc(count + 1u, sizeof *outlets);
    struct pollfd *polls = calloc(count + 1u, sizeof *polls);
    vd_status status = VD_OK;
    for (; opened < count && status == VD_OK && outlets != NULL; opened++) {
        const vd_bench_adapter *adapter = &vd_sim_bench(sim)->adapters[opened];
        if (adapter->forbidden || adapter->busy) { /* nobody can have it */
            outlets[opened].near = outlets[opened].far = -1;
            continue;
        }
        int why = open_outlet(sim, opened, &outlets[opened]);
        if (why != 0) {
            status = vd_note_PORT_FAILED(fault, strerror(why));
        } else {
            tell(vd_sim_bench(sim)->adapters[opened].name, ptsname(outlets[opened].near));
        }
    }
    if (status == VD_OK && outlets != NULL && polls != NULL) {
        run(sim, outlets, polls, count, ear, stop);
    }
    for (uint16_t i = 0; i < opened; i++) {
        hang_up(&outlets[i]);
    }
    free(outlets);
    free(polls);
    return status;
}
