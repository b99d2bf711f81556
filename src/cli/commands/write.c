/* SPDX-License-Identifier: MIT
 * verdite write and verdite verify. */
#include "commands.h"

vd_class command_write(cli *c)
{
    return visit_with_profile(c, VD_TASK_WRITE);
}

vd_class command_verify(cli *c)
{
    return visit_with_profile(c, VD_TASK_VERIFY);
}
