/* SPDX-License-Identifier: MIT
 * verdite, the tool. */
#include "program.h"

int main(int argc, char **argv)
{
    (void)argc;
    return program_run(&verdite_program, argv);
}
