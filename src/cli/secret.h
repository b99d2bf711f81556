/* SPDX-License-Identifier: MIT
 * A secret: a type of its own, so that none is printed, copied or forgotten by accident. */
#ifndef VD_CLI_SECRET_H
#define VD_CLI_SECRET_H

#include "cli.h"

/* One line of text, in memory that is neither swapped out nor dumped. */
typedef struct secret secret;

/* The unit's password: from the file that was named, from the environment, or asked for on the terminal without showing
 * it. NULL: none was given, or it cannot be read, which is reported. `is_ready` waits until something was typed; false:
 * no longer wanted. */
secret *secret_of_unit(cli *c, const char *question, bool (*is_ready)(void *about), void *about);
/* A new secret for a setting: typed twice, or read from a standard input that is no terminal; NULL as above. */
secret *secret_of_person(cli *c, const char *key);
/* To be handed to what takes a secret, and to nothing else. */
const char *secret_text(const secret *s);
/* Wipes it. */
void secret_free(secret *s);

/* From now on no memory of this program is dumped: it holds a secret. */
void secrets_guard(void);
/* Wipes what functions that dealt with secrets have left on the stack. */
void secrets_forget(void);

/* Reads a line, without its end; what does not fit in `size` is read and left out. Returns how long it was, -1 where
 * there was none. */
long line_read(int from, char *line, size_t size);

#endif
