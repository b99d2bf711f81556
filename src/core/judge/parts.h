/* SPDX-License-Identifier: MIT
 * What the files that judge a model share. */
#ifndef VD_CORE_JUDGE_PARTS_H
#define VD_CORE_JUDGE_PARTS_H

#include "../expression/expression.h"
#include "../model/ways.h"

/* Who is told of what is wrong. */
struct vd_judge {
    vd_complain *complain;
    void *about;
    vd_fault *first;
    vd_status status;
};

void vd_judge_note(vd_judge *judge, const vd_fault *fault, uint16_t rule);

/* What is wrong with a setting's factory default, or NULL. */
const char *vd_judge_initial(const vd_meaning *meaning, const vd_value *initial);
/* Whether a setting may be set by another, or be in slots: it is read and written, and not one by which the unit is
 * reached. */
bool vd_judge_can_be_set(const vd_model *model, uint16_t setting);
/* Judges each setting by itself. */
void vd_check_settings(const vd_model *model, const vd_desk *desk, vd_judge *judge);
/* Whether a line said unasked begins like the answer about a record. */
bool vd_judge_is_answer(const vd_model *model, const char *line);
/* Judges channels, conditions and alarms, whose formulas are in order. */
void vd_check_alarms(const vd_model *model, vd_judge *judge);
/* Judges intervals, whose formulas are in order. */
void vd_check_intervals(const vd_model *model, vd_judge *judge);
/* Judges identity, storing, blocks and the rest. */
void vd_check_whole(const vd_model *model, vd_judge *judge);
/* Judges defaults in every kind of unit, of a model that is compiled; `room` is of vd_set_size(). */
void vd_check_defaults(const vd_model *model, void *room, vd_judge *judge);

#endif
