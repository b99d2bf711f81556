/* SPDX-License-Identifier: MIT
 * A serial port through termios: opening, line settings, bytes with their line errors. */
#define _DEFAULT_SOURCE 1
#define _GNU_SOURCE 1 /* ppoll */

#include "speed.h"
#include "verdite/notes.h"
#include "verdite/posix.h"

#include <errno.h>
#include <fcntl.h>
#include <grp.h>
#include <linux/serial.h>
#include <poll.h>
#include <stdlib.h>
#include <string.h>
#include <sys/file.h>
#include <sys/ioctl.h>
#include <sys/stat.h>
#include <termios.h>
#include <time.h>
#include <unistd.h>

/* How late bytes may come. With low latency a USB adapter reports each millisecond; without, its timer is 16 ms, and a
 * busy computer adds its share. */
#define LATENCY_LOW 4000u
#define LATENCY_USUAL 25000u
/* Behind a pseudo-terminal is another program, which a busy computer may keep waiting. */
#define LATENCY_PSEUDO 100000u

struct vd_posix {
    vd_port port;
    int fd;
    bool lost, low_latency, serial_changed;
    struct termios prior, now;
    struct serial_struct prior_serial;
    uint64_t sent_until;
    vd_serial line;
    uint8_t marked; /* how much of an error mark (FF 00 x) the last read ended in */
};

static uint64_t posix_now(void *ground)
{
    struct timespec time;
    (void)ground;
    clock_gettime(CLOCK_MONOTONIC, &time);
    return (uint64_t)time.tv_sec * 1000000u + (uint64_t)time.tv_nsec / 1000u;
}

static vd_status posix_wait(void *ground, vd_port *const *ports, size_t count, uint64_t until)
{
    struct pollfd polls[VD_LOOP_LANES];
    uint64_t now = posix_now(ground), left = until > now ? until - now : 0;
    struct timespec limit = {.tv_sec = (time_t)(left / 1000000u), .tv_nsec = (long)(left % 1000000u) * 1000};
    for (size_t i = 0; i < count && i < VD_LOOP_LANES; i++) {
        vd_posix *posix = ports[i]->self;
        polls[i] = (struct pollfd){.fd = posix->fd, .events = POLLIN};
    }
    /* Whatever it returns, the loop looks at every port afterwards. */
    ppoll(polls, (nfds_t)count, until == VD_NEVER ? NULL : &limit, NULL);
    return VD_OK;
}

static bool is_taken(const struct termios *got, const struct termios *wanted, tcflag_t flags)
{
    return cfgetospeed(got) == cfgetospeed(wanted) && (got->c_cflag & flags) == (wanted->c_cflag & flags);
}

static vd_status posix_set_line(vd_port *port, const vd_serial *line, vd_taken *taken)
{
    vd_posix *posix = port->self;
    struct termios wanted = posix->now, got;
    speed_t speed = posix_speed(line->baud);
    if (speed == B0) {
        return VD_LINE_NOT_TAKEN;
    }
    cfsetispeed(&wanted, speed);
    cfsetospeed(&wanted, speed);
    wanted.c_cflag &= ~(tcflag_t)(CSIZE | PARENB | PARODD | CSTOPB);
    wanted.c_cflag |= line->data_bits == 7 ? CS7 : CS8;
    wanted.c_cflag |= line->parity == 'N' ? 0 : line->parity == 'E' ? PARENB : PARENB | PARODD;
    wanted.c_cflag |= line->stop_bits == 2 ? CSTOPB : 0;
    /* The call succeeds when anything was taken and may fail when all but parity was: only looking back tells. */
    int failed = tcsetattr(posix->fd, TCSANOW, &wanted);
    int why = errno;
    if (tcgetattr(posix->fd, &got) != 0) {
        posix->lost = true;
        return VD_PORT_LOST;
    }
    if (failed != 0 && why != EINVAL) {
        return why == EIO || why == ENODEV || why == ENXIO ? VD_PORT_LOST : VD_LINE_NOT_TAKEN;
    }
    if (is_taken(&got, &wanted, CSIZE | PARENB | PARODD | CSTOPB)) {
        *taken = VD_TAKEN;
    } else if (posix->port.wire == VD_NO_WIRE && is_taken(&got, &wanted, CSTOPB)) {
        *taken = VD_TAKEN_PERHAPS;
    } else {
        tcsetattr(posix->fd, TCSANOW, &posix->now);
        return VD_LINE_NOT_TAKEN;
    }
    posix->now = got;
    posix->line = *line;
    posix->marked = 0;
    return VD_OK;
}

static bool is_gone(int why)
{
    return why == EIO || why == ENODEV || why == ENXIO || why == EBADF;
}

static vd_status posix_send(vd_port *port, const uint8_t *bytes, size_t count, size_t *taken)
{
    vd_posix *posix = port->self;
    ssize_t went = posix->lost ? -1 : write(posix->fd, bytes, count);
    *taken = went > 0 ? (size_t)went : 0;
    if (posix->lost || (went < 0 && is_gone(errno))) {
        posix->lost = true;
        return VD_PORT_LOST;
    }
    uint64_t now = posix_now(NULL), from = posix->sent_until > now ? posix->sent_until : now;
    uint64_t takes = posix->port.wire != VD_NO_WIRE ? vd_serial_time(&posix->line, *taken) : 0;
    posix->sent_until = *taken > 0 ? from + takes : posix->sent_until;
    return VD_OK;
}

/* Undoes the marks of PARMRK: FF 00 x is x with an error, FF 00 00 also a break, FF FF one FF. Returns whether a byte
 * came out. */
static bool unmark(vd_posix *posix, uint8_t raw, uint8_t *byte, uint8_t *errors)
{
    uint8_t marked = posix->marked;
    *byte = raw;
    *errors = 0;
    posix->marked = 0;
    if (marked == 2) {
        *errors = raw == 0 ? VD_ERROR_BREAK : posix->line.parity != 'N' ? VD_ERROR_PARITY : VD_ERROR_FRAMING;
        return true;
    }
    if (marked == 1) {
        posix->marked = raw == 0 ? 2 : 0;
        return raw != 0;
    }
    posix->marked = raw == 0xFF;
    return raw != 0xFF;
}

static vd_status posix_receive(vd_port *port, uint8_t *bytes, uint8_t *errors, size_t size, size_t *count)
{
    vd_posix *posix = port->self;
    uint8_t raw[256];
    *count = 0;
    if (posix->lost) {
        return VD_PORT_LOST;
    }
    ssize_t got = read(posix->fd, raw, size < sizeof raw ? size : sizeof raw);
    if (got == 0 || (got < 0 && is_gone(errno))) {
        /* A raw terminal that is there gives EAGAIN when it has nothing; 0 means that it was hung up. */
        posix->lost = true;
        return VD_PORT_LOST;
    }
    for (ssize_t i = 0; i < got; i++) {
        if (unmark(posix, raw[i], &bytes[*count], &errors[*count])) {
            ++*count;
        }
    }
    return VD_OK;
}

static void posix_discard(vd_port *port)
{
    vd_posix *posix = port->self;
    tcflush(posix->fd, TCIFLUSH);
    posix->marked = 0;
}

static uint64_t posix_sent_until(vd_port *port)
{
    vd_posix *posix = port->self;
    return posix->sent_until;
}

static uint32_t posix_latency(vd_port *port)
{
    vd_posix *posix = port->self;
    return posix->port.wire == VD_NO_WIRE ? LATENCY_PSEUDO : posix->low_latency ? LATENCY_LOW : LATENCY_USUAL;
}

const vd_port_kind vd_posix_kind = {posix_now,     posix_wait,    posix_set_line,   posix_send,
                                    posix_receive, posix_discard, posix_sent_until, posix_latency};

static void ask_low_latency(vd_posix *posix)
{
    struct serial_struct serial;
    if (ioctl(posix->fd, TIOCGSERIAL, &serial) != 0) {
        return;
    }
    posix->prior_serial = serial;
    serial.flags = (int)((unsigned)serial.flags | ASYNC_LOW_LATENCY);
    posix->serial_changed = ioctl(posix->fd, TIOCSSERIAL, &serial) == 0;
    posix->low_latency = posix->serial_changed;
}

static void set_signal(int fd, int bit, vd_signal signal)
{
    if (signal != VD_SIGNAL_LEAVE) {
        ioctl(fd, signal == VD_SIGNAL_ON ? TIOCMBIS : TIOCMBIC, &bit);
    }
}

static vd_status note_open(int why, const char *path, vd_fault *fault)
{
    char cure[VD_ALLOWED_SIZE];
    vd_writer writer = vd_writer_start(cure, sizeof cure);
    struct stat about;
    if (why == ENOENT || why == ENODEV || why == ENXIO) {
        return vd_note_NO_PORT(fault, path, "");
    }
    if (why == EBUSY || why == EWOULDBLOCK) {
        char holder[64] = "";
        vd_posix_holder(path, holder, sizeof holder);
        return vd_note_PORT_BUSY(fault, path, holder[0] != '\0' ? holder : "another program");
    }
    if (why != EACCES && why != EPERM) {
        return vd_note_PORT_FAILED(fault, why == ENOTTY ? "it is no serial port" : strerror(why));
    }
    struct group *group = stat(path, &about) == 0 ? getgrgid(about.st_gid) : NULL;
    vd_posix_print_cure(group != NULL ? group->gr_name : "", &writer);
    return vd_note_PORT_NOT_ALLOWED(fault, path, cure);
}

static int make_exclusive(int fd)
{
    if (flock(fd, LOCK_EX | LOCK_NB) != 0) { /* root is stopped by this only */
        return errno;
    }
    return ioctl(fd, TIOCEXCL) != 0 ? errno : 0;
}

vd_status vd_posix_open(const char *path, vd_signal dtr, vd_signal rts, vd_posix **posix, vd_fault *fault)
{
    int fd = open(path, O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
    if (fd < 0) {
        return note_open(errno, path, fault);
    }
    struct termios prior;
    vd_posix *p = NULL;
    int why = tcgetattr(fd, &prior) != 0 ? ENOTTY : make_exclusive(fd);
    if (why == 0) {
        p = calloc(1, sizeof *p);
        why = p == NULL ? ENOMEM : 0;
    }
    if (why != 0) {
        close(fd);
        return note_open(why, path, fault);
    }
    p->fd = fd;
    p->port = (vd_port){.kind = &vd_posix_kind, .self = p, .wire = vd_posix_wire(path)};
    p->prior = prior;
    p->line = (vd_serial){9600, 8, 'N', 1};
    p->now = prior;
    cfmakeraw(&p->now);
    p->now.c_cflag |= CLOCAL | CREAD;
    p->now.c_cflag &= ~(tcflag_t)CRTSCTS;
    p->now.c_iflag |= INPCK | PARMRK;
    p->now.c_iflag &= ~(tcflag_t)(IGNPAR | IGNBRK | BRKINT | IXON | IXOFF);
    p->now.c_cc[VMIN] = 1; /* so that 0 bytes can only mean a hang-up */
    p->now.c_cc[VTIME] = 0;
    tcsetattr(fd, TCSANOW, &p->now);
    tcgetattr(fd, &p->now);
    set_signal(fd, TIOCM_DTR, dtr);
    set_signal(fd, TIOCM_RTS, rts);
    ask_low_latency(p);
    *posix = p;
    return VD_OK;
}

void vd_posix_close(vd_posix *posix)
{
    if (posix == NULL) {
        return;
    }
    if (posix->serial_changed) {
        ioctl(posix->fd, TIOCSSERIAL, &posix->prior_serial);
    }
    tcsetattr(posix->fd, TCSANOW, &posix->prior);
    ioctl(posix->fd, TIOCNXCL);
    close(posix->fd);
    free(posix);
}

vd_port *vd_posix_port(vd_posix *posix)
{
    return &posix->port;
}
