/* SPDX-License-Identifier: MIT
 * verdite, the tool. */
#include "cli.h"

int main(int argc, char **argv)
{
    (void)argc;
    return program_run(&verdite_program, argv);
}
