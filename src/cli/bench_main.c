/* SPDX-License-Identifier: MIT
 * verdite-bench, which looks after benches. */
#include "cli.h"

int main(int argc, char **argv)
{
    (void)argc;
    return program_run(&verdite_bench_program, argv);
}
