/* SPDX-License-Identifier: MIT
 * Paths that stand in a file: seen from the folder of that file, so that a folder can be moved as a whole. */
#ifndef VD_HOST_FILES_PATHS_H
#define VD_HOST_FILES_PATHS_H

/* What a file in `folder` calls `said`, as this program reaches it. Free it. */
char *path_in(const char *folder, const char *said);
/* What a file in `from` calls `said`, as a file in `to` calls it; an absolute path stays. Free it. */
char *path_moved(const char *from, const char *to, const char *said);

/* The same for what says where a secret comes from, of which only a file has a path. Free it. */
char *source_in(const char *folder, const char *said);
char *source_moved(const char *from, const char *to, const char *said);

#endif
