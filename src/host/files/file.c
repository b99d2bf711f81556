/* SPDX-License-Identifier: MIT
 * Files that people edit: read without ever being waited for, and saved so that a crash, a full disk, a kill or another
 * program at the same time leaves either the old or the new one, whole. */
#include "verdite/host.h"

#include <errno.h>
#include <fcntl.h>
#include <stdlib.h>
#include <string.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

/* What keeps a file from being one that holds text; NULL: nothing. A link to nothing has no kind of its own. */
static const char *kind_words(mode_t mode)
{
    return S_ISREG(mode)   ? NULL
           : S_ISDIR(mode) ? "it is a folder"
           : S_ISLNK(mode) ? "it is a link to nothing"
                           : "it is not an ordinary file";
}

/* ---- Reading ---- */

static vd_status note_unreadable(vd_fault *fault, int why)
{
    return vd_note_FILE_UNREADABLE(fault, why == EACCES ? "you may not read it" : g_strerror(why));
}

static bool read_all(int from, char *text, size_t length)
{
    size_t got = 0;
    while (got < length) {
        ssize_t more = read(from, text + got, length - got);
        if (more == 0 || (more < 0 && errno != EINTR)) {
            return false;
        }
        got += more > 0 ? (size_t)more : 0;
    }
    return true;
}

vd_status vd_file_read(const char *path, size_t most, char **text, size_t *length, vd_fault *fault)
{
    struct stat about;
    /* Without O_NONBLOCK, opening a pipe that nobody writes to would wait for ever. */
    int from = open(path, O_RDONLY | O_NONBLOCK | O_NOCTTY | O_CLOEXEC);
    vd_status status = VD_OK;
    *text = NULL;
    *length = 0;
    if (from < 0 || fstat(from, &about) != 0) {
        int why = errno;
        bool dangling = why == ENOENT && lstat(path, &about) == 0;
        status = dangling ? vd_note_FILE_UNREADABLE(fault, kind_words(S_IFLNK)) : note_unreadable(fault, why);
    } else if (kind_words(about.st_mode) != NULL) {
        status = vd_note_FILE_UNREADABLE(fault, kind_words(about.st_mode));
    } else if ((size_t)about.st_size > most) {
        status = vd_note_FILE_TOO_LARGE(fault, (int32_t)(most / 1024));
    } else {
        *length = (size_t)about.st_size;
        *text = g_malloc(*length + 1);
        (*text)[*length] = '\0';
        if (!read_all(from, *text, *length)) {
            status = vd_note_FILE_UNREADABLE(fault, "it became shorter in the meantime");
            g_clear_pointer(text, g_free);
        }
    }
    if (from >= 0) {
        close(from);
    }
    return status;
}

/* ---- Saving ---- */

/* A save on its way: the new file beside the old one, under another name until it is whole. */
typedef struct saving {
    char *path; /* links followed, so that the file they point to is replaced, not the link */
    char *temporary;
    int to;
    bool replaces;
    struct stat old;
} saving;

#define MIDDLE ".verdite-"

/* The names of new files that are not whole yet begin with this. Free it. */
static char *temporary_start(const char *path)
{
    char *folder = g_path_get_dirname(path), *name = g_path_get_basename(path);
    char *start = g_strdup_printf("%s/.%s" MIDDLE, folder, name);
    g_free(folder);
    g_free(name);
    return start;
}

/* What a kill left of earlier saves. Whoever is at work on one has it locked. */
static void sweep(const char *start)
{
    char *folder_path = g_path_get_dirname(start), *prefix = g_path_get_basename(start);
    GDir *folder = g_dir_open(folder_path, 0, NULL);
    const char *name = NULL;
    while (folder != NULL && (name = g_dir_read_name(folder)) != NULL) {
        if (!g_str_has_prefix(name, prefix) || strlen(name) != strlen(prefix) + 6) {
            continue;
        }
        char *left = g_build_filename(folder_path, name, NULL);
        int file = open(left, O_RDONLY | O_NONBLOCK | O_NOFOLLOW | O_CLOEXEC);
        if (file >= 0 && flock(file, LOCK_EX | LOCK_NB) == 0) {
            unlink(left);
        }
        if (file >= 0) {
            close(file);
        }
        g_free(left);
    }
    if (folder != NULL) {
        g_dir_close(folder);
    }
    g_free(folder_path);
    g_free(prefix);
}

/* Makes the new file; again where another program swept it before it was locked. */
static bool make_temporary(saving *s)
{
    char *start = temporary_start(s->path);
    struct stat about;
    sweep(start);
    for (int tries = 0; tries < 100; tries++) {
        s->temporary = g_strconcat(start, "XXXXXX", NULL);
        s->to = mkostemp(s->temporary, O_CLOEXEC);
        if (s->to < 0) {
            break;
        }
        if (flock(s->to, LOCK_EX | LOCK_NB) == 0 && fstat(s->to, &about) == 0 && about.st_nlink == 1) {
            break;
        }
        close(s->to);
        s->to = -1;
        g_clear_pointer(&s->temporary, g_free);
    }
    g_free(start);
    return s->to >= 0;
}

/* What a file is allowed, and whose it is, stays; a new one is like any other that its owner makes. */
static bool dress(const saving *s, bool secret)
{
    mode_t mask = umask(0);
    umask(mask);
    mode_t mode = s->replaces ? s->old.st_mode & 07777 : 0666 & ~mask;
    bool same_owner = !s->replaces || (s->old.st_uid == geteuid() && s->old.st_gid == getegid());
    return (same_owner || fchown(s->to, s->old.st_uid, s->old.st_gid) == 0) &&
           fchmod(s->to, secret ? mode & 0700 : mode) == 0;
}

static bool write_all(int to, const char *text, size_t length)
{
    while (length > 0) {
        ssize_t done = write(to, text, length);
        if (done < 0 && errno != EINTR) {
            return false;
        }
        text += done > 0 ? done : 0;
        length -= done > 0 ? (size_t)done : 0;
    }
    return fsync(to) == 0;
}

/* A name lasts once its folder is on the disk. */
static void settle_folder(const char *path)
{
    char *folder = g_path_get_dirname(path);
    int file = open(folder, O_RDONLY | O_DIRECTORY | O_CLOEXEC);
    if (file >= 0) {
        fsync(file);
        close(file);
    }
    g_free(folder);
}

static vd_status note_unwritable(vd_fault *fault, int why)
{
    return vd_note_FILE_UNWRITABLE(fault, why == EACCES  ? "you may not write there"
                                          : why == EPERM ? "it belongs to another user"
                                                         : g_strerror(why));
}

static vd_status start(saving *s, const char *path, vd_fault *fault)
{
    struct stat itself;
    *s = (saving){.to = -1};
    s->replaces = stat(path, &s->old) == 0;
    if (!s->replaces && errno == ENOENT && lstat(path, &itself) == 0) {
        return vd_note_FILE_UNWRITABLE(fault, kind_words(S_IFLNK));
    }
    if (s->replaces && kind_words(s->old.st_mode) != NULL) {
        return vd_note_FILE_UNWRITABLE(fault, kind_words(s->old.st_mode));
    }
    if (s->replaces && access(path, W_OK) != 0) {
        return note_unwritable(fault, errno);
    }
    char *real = s->replaces ? realpath(path, NULL) : NULL;
    s->path = g_strdup(real != NULL ? real : path);
    free(real);
    return VD_OK;
}

/* Puts the text beside the old file; afterwards only its name is to be changed. */
static vd_status put_beside(saving *s, const vd_file_text *text, vd_fault *fault)
{
    return make_temporary(s) && dress(s, text->secret) && write_all(s->to, text->text, text->length)
               ? VD_OK
               : note_unwritable(fault, errno);
}

static void end(saving *s)
{
    if (s->to >= 0) {
        unlink(s->temporary); /* nothing is there any more where it has its name */
        close(s->to);
    }
    g_free(s->temporary);
    g_free(s->path);
}

static vd_status rename_over(saving *s, vd_fault *fault)
{
    if (rename(s->temporary, s->path) != 0) {
        return note_unwritable(fault, errno);
    }
    settle_folder(s->path);
    return VD_OK;
}

vd_status vd_file_save(const char *path, const vd_file_text *text, vd_fault *fault)
{
    saving s;
    vd_status status = start(&s, path, fault);
    status = status == VD_OK ? put_beside(&s, text, fault) : status;
    status = status == VD_OK ? rename_over(&s, fault) : status;
    end(&s);
    return status;
}

/* Gives it its name where there is none of that name yet. Not every file system can do that at once: then an empty file
 * takes the name, which nobody else can do, and is replaced. False: errno tells why. */
static bool name_new(const saving *s)
{
    if (renameat2(AT_FDCWD, s->temporary, AT_FDCWD, s->path, RENAME_NOREPLACE) == 0) {
        return true;
    }
    if (errno == EEXIST) {
        return false;
    }
    int taken = open(s->path, O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0600);
    if (taken < 0) {
        return false;
    }
    close(taken);
    bool named = rename(s->temporary, s->path) == 0;
    int why = errno;
    if (!named) {
        unlink(s->path);
    }
    errno = why;
    return named;
}

vd_status vd_file_create(const char *path, const vd_file_text *text, vd_fault *fault)
{
    saving s;
    struct stat about;
    vd_status status = lstat(path, &about) == 0 ? vd_note_FILE_THERE(fault, path) : start(&s, path, fault);
    if (status == VD_FILE_THERE) {
        return status;
    }
    status = status == VD_OK ? put_beside(&s, text, fault) : status;
    if (status == VD_OK && !name_new(&s)) {
        status = errno == EEXIST ? vd_note_FILE_THERE(fault, path) : note_unwritable(fault, errno);
    } else if (status == VD_OK) {
        settle_folder(s.path);
    }
    end(&s);
    return status;
}

/* Locks a file; whoever else has it needs a moment. False where somebody does not let go of it. */
static bool lock_soon(int file)
{
    for (int tries = 0; flock(file, LOCK_EX | LOCK_NB) != 0; tries++) {
        if (tries == 500 || errno != EWOULDBLOCK) {
            return false;
        }
        g_usleep(10000);
    }
    return true;
}

/* Whether the file that is open is still the one at the path, and still says what it said. */
static bool is_unchanged(int file, const char *path, const vd_file_text *was)
{
    struct stat open_one, named_one;
    char *text = g_malloc(was->length + 1);
    bool same = fstat(file, &open_one) == 0 && stat(path, &named_one) == 0 && open_one.st_ino == named_one.st_ino &&
                open_one.st_dev == named_one.st_dev && (size_t)open_one.st_size == was->length &&
                read_all(file, text, was->length) && memcmp(text, was->text, was->length) == 0;
    g_free(text);
    return same;
}

vd_status vd_file_change(const char *path, const vd_file_text *was, const vd_file_text *text, vd_fault *fault)
{
    saving s;
    vd_status status = start(&s, path, fault);
    /* Every program that changes the file locks the one that it found; the first one to do so replaces it. */
    int old = status == VD_OK ? open(s.path, O_RDONLY | O_NONBLOCK | O_NOCTTY | O_CLOEXEC) : -1;
    if (status == VD_OK && old < 0) {
        status = note_unwritable(fault, errno);
    } else if (status == VD_OK && !lock_soon(old)) {
        status = vd_note_FILE_UNWRITABLE(fault, "another program has it locked");
    } else if (status == VD_OK && !is_unchanged(old, s.path, was)) {
        status = vd_note_FILE_CHANGED(fault, path);
    }
    status = status == VD_OK ? put_beside(&s, text, fault) : status;
    status = status == VD_OK ? rename_over(&s, fault) : status;
    if (old >= 0) {
        close(old);
    }
    end(&s);
    return status;
}

FILE *vd_file_stream(const char *path, vd_fault *fault)
{
    struct stat about;
    /* A new one, and nothing through a link to nothing; else what is there, as it is until it is known to be empty. */
    int to = open(path, O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
    to = to < 0 && errno == EEXIST ? open(path, O_WRONLY | O_NONBLOCK | O_NOCTTY | O_CLOEXEC) : to;
    if (to < 0 || fstat(to, &about) != 0) {
        int why = errno;
        mode_t kind = why == ENXIO ? S_IFIFO : why == ENOENT && lstat(path, &about) == 0 ? S_IFLNK : S_IFREG;
        kind != S_IFREG ? vd_note_FILE_UNWRITABLE(fault, kind_words(kind)) : note_unwritable(fault, why);
    } else if (kind_words(about.st_mode) != NULL) {
        vd_note_FILE_UNWRITABLE(fault, kind_words(about.st_mode));
    } else if (about.st_size > 0) {
        vd_note_FILE_THERE(fault, path);
    } else {
        return fdopen(to, "w");
    }
    if (to >= 0) {
        close(to);
    }
    return NULL;
}

/* ---- The folder of what is remembered ---- */

char *vd_state_path(const char *name)
{
    char *folder = g_build_filename(g_get_user_state_dir(), "verdite", NULL);
    char *path = g_build_filename(folder, name, NULL);
    g_mkdir_with_parents(folder, 0700);
    g_free(folder);
    return path;
}

int vd_state_lock(void)
{
    char *path = vd_state_path("lock");
    int file = open(path, O_RDWR | O_CREAT | O_NOFOLLOW | O_CLOEXEC, 0600);
    if (file >= 0 && !lock_soon(file)) {
        close(file);
        file = -1;
    }
    g_free(path);
    return file;
}

void vd_state_unlock(int lock)
{
    if (lock >= 0) {
        close(lock);
    }
}
