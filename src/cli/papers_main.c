/* SPDX-License-Identifier: MIT
 * Prints the manual page of the program that is named; used while building. */
#include "words/words.h"

#include <string.h>

int main(int argc, char **argv)
{
    static const cli_program *const programs[] = {&verdite_program, &verdite_bench_program};
    for (size_t i = 0; argc == 3 && i < G_N_ELEMENTS(programs); i++) {
        if (strcmp(argv[1], programs[i]->name) == 0) {
            manual_print(programs[i], argv[2], stdout);
            return fflush(stdout) == 0 && ferror(stdout) == 0 ? 0 : 1;
        }
    }
    fprintf(stderr, "verdite-papers: give the name of a program, and a version\n");
    return 1;
}
