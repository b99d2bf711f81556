/* SPDX-License-Identifier: MIT
 * Passwords and other secrets: from a file, from the environment, or typed without being shown; never from arguments,
 * which every user of the computer can see. They live in memory of their own, which is neither swapped out nor dumped,
 * and is wiped. */
#include "act.h"
#include "../print/print.h"

#include <errno.h>
#include <fcntl.h>
#include <poll.h>
#include <string.h>
#include <sys/mman.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <termios.h>
#include <unistd.h>

#include "verdite/text.h"

#define MOST 512u /* bytes of a line that is a secret, with the zero behind it */

struct secret {
    char text[MOST];
};

void secrets_guard(void)
{
    const struct rlimit none = {0, 0};
    setrlimit(RLIMIT_CORE, &none);
    prctl(PR_SET_DUMPABLE, 0);
}

void secrets_forget(void)
{
    /* What functions that have returned left on the stack below. */
    volatile char rest[64 * 1024];
    vd_wipe((void *)rest, sizeof rest);
}

static secret *room(void)
{
    secrets_guard();
    void *memory = mmap(NULL, sizeof(secret), PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
    if (memory == MAP_FAILED) {
        g_error("no memory");
    }
    mlock(memory, sizeof(secret)); /* refused to some users; then it may be swapped out, and no more */
    madvise(memory, sizeof(secret), MADV_DONTDUMP);
    return memory;
}

void secret_free(secret *s)
{
    if (s != NULL) {
        vd_wipe(s, sizeof *s);
        munmap(s, sizeof *s);
    }
}

const char *secret_text(const secret *s)
{
    return s->text;
}

long line_read(int from, char *line, size_t size)
{
    size_t length = 0;
    char byte = '\0';
    ssize_t got = 0;
    while ((got = read(from, &byte, 1)) == 1 && byte != '\n') {
        if (length + 1 < size) {
            line[length] = byte;
        }
        length++;
    }
    line[MIN(length, size - 1)] = '\0';
    if (length > 0 && length < size && line[length - 1] == '\r') {
        line[--length] = '\0';
    }
    return got < 0 || (got == 0 && length == 0) ? -1 : (long)length;
}

/* One line that can be a secret; NULL where there is none: reported, but for a line that is empty. */
static secret *take_line(cli *c, int from)
{
    secret *s = room();
    long length = line_read(from, s->text, sizeof s->text);
    bool fits = length < (long)MOST,
         shown = fits && length > 0 && vd_text_line(s->text, (size_t)length) == (size_t)length;
    if (length > 0 && !shown) {
        report_wrong_words(c, "This cannot be a secret.",
                           fits ? "Give one line of visible UTF-8 text." : "It is too long.");
    }
    if (!shown) {
        secret_free(s);
        s = NULL;
    }
    return s;
}

static secret *from_file(cli *c, const char *path)
{
    struct stat about;
    if (strcmp(path, "-") == 0) {
        return take_line(c, STDIN_FILENO);
    }
    int file = open(path, O_RDONLY | O_NONBLOCK | O_NOCTTY | O_CLOEXEC);
    secret *s = NULL;
    if (file < 0 || fstat(file, &about) != 0) {
        report_new(c, vd_fault_of_FILE_UNREADABLE(g_strerror(errno)));
    } else if (!S_ISREG(about.st_mode)) {
        report_new(c, vd_fault_of_FILE_UNREADABLE("it is not an ordinary file (- is standard input)"));
    } else {
        s = take_line(c, file);
        if (s == NULL && c->worst == VD_CLASS_FINE) {
            report_new(c, vd_fault_of_FILE_UNREADABLE("its first line is empty"));
        }
        if (s != NULL && (about.st_mode & 077) != 0) {
            message(c, "note: others can read the password in %s. To prevent that: chmod 600", path);
        }
    }
    if (file >= 0) {
        close(file);
    }
    return s;
}

/* What the environment says; it is wiped there, where programs that are started later would find it. */
static secret *from_environment(void)
{
    char *given = (char *)g_getenv("VERDITE_PASSWORD");
    if (given == NULL || given[0] == '\0' || strlen(given) >= MOST) {
        return NULL;
    }
    secret *s = room();
    memcpy(s->text, given, strlen(given));
    vd_wipe(given, strlen(given));
    g_unsetenv("VERDITE_PASSWORD");
    return s;
}

/* Typed on the terminal, without being shown. */
static secret *typed(cli *c, const char *question, bool (*is_ready)(void *about), void *about)
{
    struct termios before, silent;
    if (tcgetattr(STDIN_FILENO, &before) != 0) {
        return NULL;
    }
    silent = before;
    silent.c_lflag &= ~(tcflag_t)ECHO;
    silent.c_cc[VSUSP] = _POSIX_VDISABLE; /* a shell that comes to the front meanwhile would show nothing either */
    question_print(c, question, "");
    tcsetattr(STDIN_FILENO, TCSAFLUSH, &silent);
    secret *s = is_ready(about) ? take_line(c, STDIN_FILENO) : NULL;
    tcsetattr(STDIN_FILENO, TCSAFLUSH, &before);
    screen_answered(false);
    return s;
}

secret *secret_of_unit(cli *c, const char *question, bool (*is_ready)(void *about), void *about)
{
    if (c->options.password_from != NULL) {
        return from_file(c, c->options.password_from);
    }
    secret *s = from_environment();
    return s != NULL ? s : isatty(STDIN_FILENO) != 0 ? typed(c, question, is_ready, about) : NULL;
}

/* Waits for a line while nothing else goes on; false: stopped by hand. */
static bool is_typed(void *about)
{
    struct pollfd in = {.fd = STDIN_FILENO, .events = POLLIN};
    (void)about;
    return poll(&in, 1, -1) > 0 && stops_so_far() == 0;
}

secret *secret_of_person(cli *c, const char *key)
{
    if (isatty(STDIN_FILENO) == 0) {
        return take_line(c, STDIN_FILENO);
    }
    char *question = g_strdup_printf("%s, not shown:", key);
    stops_catch();
    secret *first = typed(c, question, is_typed, NULL),
           *second = first != NULL ? typed(c, "Once more:", is_typed, NULL) : NULL;
    bool stopped = stops_so_far() > 0;
    stops_release();
    g_free(question);
    if (stopped) {
        report_new(c, vd_fault_of_STOPPED("Nothing was changed."));
    } else if (first != NULL && (second == NULL || strcmp(first->text, second->text) != 0)) {
        report_wrong_words(c, "The two are different.", "Nothing was changed. Try again.");
    }
    if (first != NULL && (stopped || second == NULL || strcmp(first->text, second->text) != 0)) {
        secret_free(first);
        first = NULL;
    }
    secret_free(second);
    return first;
}

/* What a variable of the environment says. */
static secret *of_variable(cli *c, const char *name)
{
    const char *given = g_getenv(name);
    if (given == NULL || given[0] == '\0' || strlen(given) >= MOST) {
        char *said = g_strdup_printf("The environment says no %s.", name);
        report_wrong_words(c, said, "Set that variable to the secret first.");
        g_free(said);
        return NULL;
    }
    secret *s = room();
    memcpy(s->text, given, strlen(given));
    return s;
}

secret *secret_from_source(cli *c, const char *key, const char *source)
{
    static const char variable[] = "environment ", path[] = "file ";
    struct stat about;
    secrets_guard();
    if (g_str_has_prefix(source, variable)) {
        return of_variable(c, source + sizeof variable - 1);
    }
    if (!g_str_has_prefix(source, path)) {
        return secret_of_person(c, key);
    }
    if (stat(source + sizeof path - 1, &about) != 0) {
        char *said = g_strdup_printf("The secret is to come from %s: %s.", source + sizeof path - 1, g_strerror(errno));
        report_wrong_words(c, said, "Nothing was sent. Put it there, readable by you alone.");
        g_free(said);
        return NULL;
    }
    if ((about.st_mode & 077) != 0) {
        char *said = g_strdup_printf("Others can read the secret in %s.", source + sizeof path - 1);
        report_wrong_words(c, said, "Nothing was sent. Make it yours alone first: chmod 600");
        g_free(said);
        return NULL;
    }
    return from_file(c, source + sizeof path - 1);
}

bool secrets_of_profile(cli *c, vd_profile *profile)
{
    const vd_model *model = vd_profile_model(profile);
    bool fine = true;
    for (uint16_t i = 0; i < model->setting_count && fine; i++) {
        const char *key = model->settings[i].words->key, *source = vd_profile_secret(profile, i);
        secret *given = source != NULL ? secret_from_source(c, key, source) : NULL;
        vd_fault fault = {0};
        fine = source == NULL || given != NULL;
        if (given != NULL && vd_profile_put(profile, key, secret_text(given), &fault) != VD_OK) {
            report(c, &fault);
            fine = false;
        }
        secret_free(given);
    }
    secrets_forget();
    return fine;
}
