/* SPDX-License-Identifier: MIT
 *
 * Visit: one visit to one unit. Identify it, read it, write what differs, store, read back, judge each setting.
 * It knows models and verdicts, never bytes; those are the talk's.
 *
 * A visit is a list of steps (vd_step), each an entry of one constant table. What is known of each setting stands in a
 * ledger (vd_entry); verdicts are worked out from that and from nothing else.
 */
#ifndef VERDITE_VISIT_H
#define VERDITE_VISIT_H

#include "verdite/ledger.h"
#include "verdite/rules.h"
#include "verdite/talk.h"
#include "verdite/visit_steps.h"

VD_C_BEGIN

/* ---- The visit --------------------------------------------------------------------------------------------- */

/* Who answered where a unit was reached before it moved. */
typedef enum vd_left { VD_LEFT_NOT_SEEN, VD_LEFT_NOBODY, VD_LEFT_ITSELF, VD_LEFT_ANOTHER } vd_left;
/* A visit. */
typedef struct vd_visit vd_visit;
VD_STORAGE(vd_visit, 1696, 1856)

/* The engine of a vd_visit. */
extern const vd_engine vd_visit_engine;

/* Bytes that a visit needs besides its struct, as a constant expression: see VD_SET_SIZE(); `state` is what the
 * language keeps, such as VD_MODBUS_RTU_STATE(0). */
#define VD_VISIT_SIZE(settings, bytes, odd, state)                                                                     \
    (4u * VD_SET_SIZE(settings, bytes, odd) + VD_JOB_SIZE(settings, bytes, odd) + (state) +                            \
     VD_ALIGNED(sizeof(vd_entry) * (settings)) + VD_ALIGNED(settings))
/* Bytes that a visit to a unit of this model needs besides its struct. */
size_t vd_visit_size(const vd_model *model);
/* Prepares visits to the unit at `address` on a line. `memory`: at least vd_visit_size() bytes, aligned for
 * uint64_t, which the visit keeps using, as it does the model. `latency`: what the port adds each way,
 * microseconds. VD_MEMORY_TOO_SMALL. */
vd_status vd_visit_start(vd_visit *visit, const vd_model *model, void *memory, size_t size, const vd_serial *line,
                         uint8_t address, uint32_t latency);

/* Whether a read logs in, so that it also brings what only a fitter may read; without it those settings are left out.
 * Writing logs in whenever something needs it. Holds for all later tasks; false at first. */
void vd_visit_want_login(vd_visit *visit, bool wanted);
/* Whether the password by which it logged in is the one from the factory. */
bool vd_visit_has_factory_password(const vd_visit *visit);
/* Whether the unit took a login with the password that it was given in the last task. */
bool vd_visit_took_new_password(const vd_visit *visit);
/* Whether a setting was left out because nobody logged in. */
bool vd_visit_needs_login(const vd_visit *visit, uint16_t setting);

/* Whether a verification may restart the unit, where that shows what it has stored: what is only live is lost then.
 * Holds for all later tasks; false at first. */
void vd_visit_allow_restart(vd_visit *visit, bool allowed);
#define VD_HAND_LIMIT 180000000u /* microseconds for which a hand is waited for at most */
/* Whether a verification waits, for at most VD_HAND_LIMIT, for the person to switch the unit off and on, where only
 * that shows what it has stored: VD_STEP_BY_HAND. Nothing is sent to it but who it is. Holds for all later tasks; false
 * at first. */
void vd_visit_prove_by_hand(vd_visit *visit, bool wanted);

/* The serial number of the unit that is meant, NULL: any. Whoever has another one is left alone: VD_WRONG_UNIT. Holds
 * for all later tasks; the text is the caller's. */
void vd_visit_expect(vd_visit *visit, const char *serial);
/* The oldest firmware that the target is for, as vd_firmware_parse() has it, 0: any. A unit that is older, or does not
 * say, is left alone: VD_FIRMWARE_NEEDED. Holds for all later tasks; 0 at first. */
void vd_visit_need_firmware(vd_visit *visit, uint32_t oldest);

/* What time it is at `at`, by the clock of the caller: clocks that are to show that are set and judged by it, and so
 * is `now` in rules. Without it neither is known, and VD_TIME_NOT_KNOWN says so. Holds for all later tasks. */
void vd_visit_tell_time(vd_visit *visit, const vd_moment *moment, uint64_t at);

/* Whether other visits use the line meanwhile: then a unit that restarts is asked less often whether it is back. Holds
 * for all later tasks; false at first. */
void vd_visit_leave_room(vd_visit *visit, bool others);

/* Whether what the target says and this unit does not have, by its variant or firmware, is left out; else it is refused
 * with VD_NOT_HERE before anything is sent. Holds for all later tasks; false at first. */
void vd_visit_leave_lacking(vd_visit *visit, bool left_out);
bool vd_visit_lacks(const vd_visit *visit, uint16_t setting); /* asked for, left out or not, and not there */
/* Whether it was asked for and left alone, since it does not count in the mode that results and holds something else.
 */
bool vd_visit_leaves_idle(const vd_visit *visit, uint16_t setting);

/* Whether what the target says and does not count in the mode that results is written all the same, as putting back an
 * earlier state does: what counts now and will not goes out before that on which it hangs. Else it is left alone, but
 * for what no two units may have (VD_AMONG_UNIQUE), which can be cleared. Holds for all later tasks; false at first. */
void vd_visit_write_idle(vd_visit *visit, bool wanted);
/* The serial number of the unit that the target is from, NULL or "": of none. Another unit is neither given nor
 * compared with what is that one's own (vd_setting_is_own()). Lasts like the former. */
void vd_visit_take_from(vd_visit *visit, const char *serial);
bool vd_visit_left_to_its_unit(const vd_visit *visit, uint16_t setting); /* left out for that */

/* Begin a task; the last one must have ended. Each identifies the unit first and stops at another model. */
void vd_visit_identify(vd_visit *visit, uint64_t now);
/* Reads the live values and, where the model has them, the stored ones. `which` has a byte for each setting, not 0
 * where it is to be read (NULL: all); what decides the decimals of one is read with it. What the unit does not let be
 * read is left out: the set does not know it. */
void vd_visit_read(vd_visit *visit, uint64_t now, const uint8_t *which);
/* Makes the unit hold what `target` knows, as far as `which` says (NULL: all). `target` is copied.
 * Reads everything, checks the whole result, asks, has the state before kept, makes sure that it is still the same
 * unit, writes what differs, checks that it is live, stores, restarts the unit where that is the model's proof of
 * storage, reads everything back, makes sure once more, judges. Its own address, baud and framing are written last, and
 * the unit is followed there: nobody else may answer there before (VD_ADDRESS_TAKEN), and it is read back there. Before
 * each step that outlasts the visit it wants a record kept (vd_wants): the first must be, or nothing is sent. */
void vd_visit_write(vd_visit *visit, uint64_t now, const vd_set *target, const uint8_t *which);
/* Has the unit do one of its model's actions: reads everything, asks, has the state before kept, makes sure that it is
 * still the same unit, tells it once, follows it through its restart and to the link that it has from the factory,
 * reads everything back, judges: it is to be as it was stored, or as it is from the factory. */
void vd_visit_act(vd_visit *visit, uint64_t now, const vd_action *action);
/* What became of telling it. */
vd_sending vd_visit_acted(const vd_visit *visit);
/* ---- Several units at once ---- */

/* What a visit has to do with a broadcast. */
typedef enum vd_calling { VD_CALLS_NOBODY, VD_CALLS_OUT, VD_HEARS_A_CALL } vd_calling;
/* Marks in `which` (a byte for each setting) what may go out by broadcast to the units of these visits, all of one
 * model and at VD_STEP_ASK or behind it: what is asked for and to change in some of them, may be equal everywhere (so
 * no unit's own, no link, no secret), can be read back, and is the same on the wire for all of them. Returns how many;
 * `count` is at least 1. */
uint16_t vd_visit_choose_call(const vd_visit *const *visits, size_t count, uint8_t *which);
/* While a record is wanted before the first VD_STEP_WRITE: what was chosen goes out once by broadcast. One visit calls
 * out; those that hear the call take it as sent and unanswered, and are to get their record only when the one that
 * calls out is past that step. Each is read back for itself, and what did not arrive is written for itself. */
void vd_visit_call(vd_visit *visit, vd_calling calling, const uint8_t *which);
bool vd_visit_is_calling(const vd_visit *visit); /* it is still to be called out */

/* Tells whoever has the address what `target` says, and has them store it. For units that share an address on purpose:
 * nobody is asked who is there, nothing is read, and nothing can be verified. What may not be equal everywhere, or
 * cannot be said without reading first, is left out (vd_visit_left_to_its_unit()). */
void vd_visit_tell(vd_visit *visit, uint64_t now, const vd_set *target, const uint8_t *which);
/* Compares the unit, live and stored, with `target`; changes nothing. */
void vd_visit_verify(vd_visit *visit, uint64_t now, const vd_set *target, const uint8_t *which);

/* What the present task is, or the last one. */
vd_task vd_visit_task(const vd_visit *visit);
/* Of VD_TASK_ACT, which action. */
const vd_action *vd_visit_action(const vd_visit *visit);
/* The model by which the unit is visited. */
const vd_model *vd_visit_model(const vd_visit *visit);
/* Why the last task failed; its status is VD_OK where it did not. */
const vd_fault *vd_visit_fault(const vd_visit *visit);
/* Whether it was read back after what was written. */
bool vd_visit_was_read_back(const vd_visit *visit);
/* What was met on the line. */
const vd_tally *vd_visit_tally(const vd_visit *visit);
/* What the line has brought that belongs to no request, see vd_talk_unexplained(). */
uint32_t vd_visit_unexplained(const vd_visit *visit);
/* Whether the last task has ended, and how. A write that ended with VD_OK is not thereby verified: see the summary. */
bool vd_visit_ended(const vd_visit *visit, vd_status *status);
/* How far it has come. */
vd_progress vd_visit_progress(const vd_visit *visit);
/* What a hand is to do now, so that it listens or takes what is written; NULL: nothing. */
const vd_by_hand *vd_visit_wants_hand(const vd_visit *visit);
/* The steps of the task as far as they are planned; they grow when the changes stand. Valid until it is fed. */
const uint8_t *vd_visit_steps(const vd_visit *visit, size_t *count);
/* Where it is reached now. */
const vd_link *vd_visit_link(const vd_visit *visit);
/* Where it is to be reached once it has what it is to hold, NULL: where it is; from VD_STEP_ASK on. */
const vd_link *vd_visit_new_link(const vd_visit *visit);
/* Who answered where it was reached before, when it had moved to another address: `other`, empty where that could not
 * be understood. */
vd_left vd_visit_left(const vd_visit *visit, const vd_identity **other);
/* Who was met; empty before VD_STEP_READ. */
const vd_identity *vd_visit_identity(const vd_visit *visit);
/* What was read last; valid until the next task begins. The stored set is empty where the model has no such bank. */
const vd_set *vd_visit_live(const vd_visit *visit);
/* The stored values that were read last; nothing where the model has no such bank. */
const vd_set *vd_visit_stored(const vd_visit *visit);
/* What the unit is to hold: from VD_STEP_ASK on. */
const vd_set *vd_visit_desired(const vd_visit *visit);
/* What it held, live, before anything was written: from VD_STEP_ASK on. */
const vd_set *vd_visit_before(const vd_visit *visit);
/* Whether this setting is to be written: from VD_STEP_ASK on. */
bool vd_visit_changes(const vd_visit *visit, uint16_t setting);
/* Whether it is asked for, and may have to be written once what sets it, such as the slot that is loaded, was read. */
bool vd_visit_may_change(const vd_visit *visit, uint16_t setting);
/* Whether anything of the change was sent to the unit, or may have been. */
bool vd_visit_has_sent(const vd_visit *visit);
/* What the unit held before a write, to be kept and put back: what it would come up with after a power cycle, so the
 * stored values, and the live ones where the model shows no stored ones. From VD_STEP_ASK to VD_STEP_WRITE. */
void vd_visit_prior(const vd_visit *visit, vd_set *prior);
/* What is known of a setting, and of the visit; when the task has ended. */
const vd_entry *vd_visit_entry(const vd_visit *visit, uint16_t setting);
/* What is known of the visit as a whole. */
const vd_standing *vd_visit_standing(const vd_visit *visit);
/* The verdict on a setting. */
vd_verdict vd_visit_verdict(const vd_visit *visit, uint16_t setting);
/* The verdicts in numbers. */
vd_summary vd_visit_summary(const vd_visit *visit);

VD_C_END

#endif
