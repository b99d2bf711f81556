/* SPDX-License-Identifier: MIT
 *
 * Set: one value, or none, for each setting of a model.
 */
#ifndef VERDITE_SET_H
#define VERDITE_SET_H

#include "verdite/model_questions.h"
#include "verdite/value.h"

VD_C_BEGIN

/* A time of day as the caller gives it. */
typedef struct vd_moment {
    int64_t seconds; /* UTC, since 1970-01-01 */
    int16_t zone;    /* where the caller is, minutes east of UTC */
    bool known;      /* somebody has said what time it is */
} vd_moment;

/* One value, or none, for each setting of a model. Lives in a buffer of the caller's. */
typedef struct vd_set {
    const vd_model *model; /* what it is a set of */
    void *memory;          /* vd_set_size() bytes, the caller's */
    uint16_t variant;      /* the variant of the unit that it is about, or VD_NONE: not known */
    uint32_t firmware;     /* its firmware, as vd_firmware_parse() has it; 0: not known */
    vd_moment moment;      /* what time it is */
} vd_set;

/* Bytes of a set of so many settings, of which those that are bytes have so many in all; `odd` for what may be heard in
 * place of values in units that talk in lines: VD_SET_ODD, else 0. */
#define VD_SET_SIZE(settings, bytes, odd) (VD_ALIGNED(16u * (size_t)(settings) + (bytes)) + (odd))
/* Bytes in which a set keeps what was heard that is no value, where units talk in lines. */
#define VD_SET_ODD 128u
/* Bytes that a set of this model needs. */
size_t vd_set_size(const vd_model *model);
/* Makes an empty set in `size` bytes at `memory`, aligned for uint64_t, which the set keeps using.
 * VD_MEMORY_TOO_SMALL when size is below vd_set_size(). */
vd_status vd_set_start(vd_set *set, const vd_model *model, void *memory, size_t size);
/* The value of a setting; VD_NOTHING when not known. A text points into the set until it is put again. */
vd_value vd_set_get(const vd_set *set, uint16_t setting);
/* Keeps a copy of the value. A text longer than the setting allows is cut; check before. */
void vd_set_put(vd_set *set, uint16_t setting, const vd_value *value);
/* Makes a setting one that is not known. */
void vd_set_forget(vd_set *set, uint16_t setting);
/* Whether it holds a value of a setting. */
bool vd_set_knows(const vd_set *set, uint16_t setting);
#define VD_MOST_ODD 60u /* bytes of a text that is no value */
/* Keeps a text that was heard in place of a value and is none: at most VD_MOST_ODD bytes, printable ASCII. The setting
 * is not known then; putting a value, or forgetting it, drops the text. False, with nothing kept, where it does not
 * fit. */
bool vd_set_put_odd(vd_set *set, uint16_t setting, const char *text, size_t length);
/* Such a text, its length in `*length`, until the set is changed; NULL when there is none. */
const char *vd_set_odd(const vd_set *set, uint16_t setting, size_t *length);
/* Whether it knows a value, or keeps such a text. */
bool vd_set_heard(const vd_set *set, uint16_t setting);
/* Makes `to` hold the same as `from`; both are of one model. */
void vd_set_copy(vd_set *to, const vd_set *from);
/* Puts every value that `from` knows into `to`. */
void vd_set_overlay(vd_set *to, const vd_set *from);
/* Puts the factory default of each setting that has one. */
void vd_set_put_initial(vd_set *set);
/* The factory default in the unit that the set is about; VD_NOTHING where it has none. Its text is the model's. */
vd_value vd_set_initial(const vd_set *set, uint16_t setting);
/* What a setting means in the unit that the set is about and with what it holds: as its variant and firmware have it;
 * of one that is like what another chooses, with unit, decimals, scale and range of that; with as many decimals as the
 * set says. False where the set does not know: meaning->places_known. */
bool vd_set_meaning(const vd_set *set, uint16_t setting, vd_meaning *meaning);
/* The count for a value of a setting, and the value for a count, as the set has it that the setting is counted.
 * VD_PLACES_NOT_KNOWN where it does not say; VD_OFF_STEP as vd_value_to_count(). */
vd_status vd_set_to_count(const vd_set *set, uint16_t setting, const vd_value *value, int64_t *count, vd_fault *fault);
/* The value of a setting that stands for a count, as the set has it how many decimals that has. */
vd_value vd_set_from_count(const vd_set *set, uint16_t setting, int64_t count);
/* Judges a value by itself (vd_value_check()), as the set has it what the setting takes. */
vd_status vd_set_check_value(const vd_set *set, uint16_t setting, const vd_value *value, vd_fault *fault);
/* Gives each value whose decimals another setting decides the number of decimals now in force, its count
 * unchanged: what a unit does when that other setting is written. Forgets those for which it is not known. */
void vd_set_reinterpret(vd_set *set);
/* The same behind a read, for those values only that units say without their decimals, as counts. What was said with
 * its decimals is final as it was heard. */
void vd_set_settle(vd_set *set);
/* Tells a set which unit it is about: variant and firmware. */
void vd_set_tell_unit(vd_set *set, const vd_identity *identity);
/* Tells a set what time it is; without it `now` is not known. */
void vd_set_tell_time(vd_set *set, const vd_moment *moment);
/* The number of the slot in force, and of that after a power cycle, as the set says; 0: it does not, or the unit has no
 * slots. */
uint8_t vd_set_slot(const vd_set *set);
/* The slot that is in force after a power cycle, from 1; 0: not known. */
uint8_t vd_set_slot_after(const vd_set *set);
/* Of a setting that sets others, the preset that is named like the choice it has; NULL: none is, or it sets none. */
const vd_preset *vd_set_chosen_preset(const vd_set *set, uint16_t setting);
/* What a clock should show at that moment, in the zone in which it runs. False: not known. */
bool vd_set_now(const vd_set *set, uint16_t clock, int64_t *seconds);
/* Judges one value by itself: that it exists here, access, form, range. VD_OK also for a value the set does not know.
 * VD_NOT_HERE: the setting is absent from this unit; VD_IDLE_HERE: the unit has it, but in this mode it does not count.
 * VD_PLACES_NOT_KNOWN: cannot be judged with what the set knows. */
vd_status vd_set_check(const vd_set *set, uint16_t setting, vd_fault *fault);

/* Whether what the set has of a setting is a value that the model allows, whoever may write it; nothing at all is, a
 * text that is no value is not. Where its decimals are not known it counts as one. */
bool vd_set_is_sound(const vd_set *set, uint16_t setting);

/* How a setting stands in two sets; a text that is no value stands for itself. A clock that is to show what time it is
 * is the same as one that does, but for its tolerance, by the moment of `b`, or of `a` where that has none. */
typedef enum vd_comparison { VD_SAME, VD_DIFFERENT, VD_ONLY_FIRST, VD_ONLY_SECOND, VD_IN_NEITHER } vd_comparison;
/* Compares what two sets hold of a setting. */
vd_comparison vd_set_compare(const vd_set *a, const vd_set *b, uint16_t setting);

/* Puts the link that a set describes by its address, baud and framing settings into `link`; what the set does not know,
 * or says in a form that is no line setting, leaves it as it is. */
void vd_set_link(const vd_set *set, vd_link *link);
/* The same of one setting: one without such a role changes nothing. */
void vd_set_link_part(const vd_set *set, uint16_t part, vd_link *link);

VD_C_END

#endif
