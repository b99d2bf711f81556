/* SPDX-License-Identifier: MIT
 *
 * Registers: values as a unit with registers holds them, and which of them go into one request.
 */
#ifndef VERDITE_REGISTERS_H
#define VERDITE_REGISTERS_H

#include "verdite/talk.h"

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

/* Orders the settings of a read so that the requests take the least line time, and cuts them into requests:
 * `overhead` is what one request costs besides its data, `each` what one more register costs (any unit of time). */
void vd_modbus_plan_read(vd_plan *plan, const vd_model *model, const uint8_t *which, bool stored, uint32_t overhead,
                         uint32_t each);
/* Orders the settings of a write, those that give others their decimals first, and cuts them into the fewest
 * requests that touch nothing else; what an enforced rule binds together is not parted, or always, as the unit wants
 * it. Fields of bits go register by register, but for those that a rule binds. */
void vd_modbus_plan_write(vd_plan *plan, const vd_model *model, const uint8_t *which);
/* The registers, or coils, of the request that starts at order[at]. */
void vd_modbus_plan_request(const vd_plan *plan, const vd_model *model, uint16_t at, vd_place *span,
                            uint16_t *registers);

VD_C_END

#endif
