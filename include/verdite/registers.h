/* SPDX-License-Identifier: MIT
 *
 * Registers: values as a unit with registers holds them.
 */
#ifndef VERDITE_REGISTERS_H
#define VERDITE_REGISTERS_H

#include "verdite/set.h"

VD_C_BEGIN

/* Puts a count into its registers; of a field of bits, the other bits of its register stay. A coil counts as a register
 * of 0 or 1. */
void vd_registers_put_count(const vd_place *place, int64_t count, uint16_t *registers);
/* Takes a count out of its registers. */
int64_t vd_registers_take_count(const vd_place *place, const uint16_t *registers);
/* Puts what a set knows of one setting into its registers, likewise: VD_OK, or a value fault when it does not fit. */
vd_status vd_registers_put(const vd_set *set, uint16_t setting, uint16_t *registers, vd_fault *fault);
/* Takes one setting out of its registers into a set. Dependent decimals get the number of decimals that the set
 * holds at this moment; vd_set_reinterpret() puts them right once all is read. */
void vd_registers_take(vd_set *set, uint16_t setting, const uint16_t *registers);

VD_C_END

#endif
