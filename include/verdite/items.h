/* SPDX-License-Identifier: MIT
 *
 * Items: settings that repeat in a unit, such as its alarms, inputs or recipients, as a table in a CSV file: a row an
 * item. docs/profile.md describes it.
 */
#ifndef VERDITE_ITEMS_H
#define VERDITE_ITEMS_H

#include "verdite/host.h"

VD_C_BEGIN

/* The block of a model that a word means, by its key or by what people call an item, capitals aside; blocks inside
 * others are part of those. VD_NONE: none. */
uint16_t vd_items_block(const vd_model *model, const char *word);
/* How a column is called: the key of a member without block and item, "limit" of "alarm.3.limit". `member`: from 0,
 * below the block's `members`. Belongs to the model. */
const char *vd_items_member(const vd_model *model, uint16_t block, uint16_t member);
/* Whether a member stands in the table: no reading, no secret, nothing that runs or counts by itself, nothing that only
 * the maker writes. */
bool vd_items_listed(const vd_model *model, uint16_t block, uint16_t member);

/* What a set has of a block, as the text of a CSV file. A cell is empty where that is not known, or does not exist.
 * What a spreadsheet would take for a formula has ' before it. Free it. */
char *vd_items_text(const vd_set *set, uint16_t block);

/* A table that was read. */
typedef struct vd_items vd_items;
/* A cell that says something. */
typedef struct vd_item_cell {
    uint16_t setting;      /* what it is for, by its number in the model */
    const char *text;      /* as it was typed; belongs to the table */
    unsigned line, column; /* where it is, from 1 */
} vd_item_cell;
/* Reads a table for the model of `set`, and judges it as if its cells were put into that: each cell by itself, and the
 * rules that they decide. The first column names the block, and in each row the item, from 1. What is wrong is a
 * finding, with the line of the file and the number of the column. NULL: it cannot be used at all. */
vd_items *vd_items_load(const char *path, const vd_set *set, vd_findings *findings);
/* Frees it; NULL is fine. */
void vd_items_free(vd_items *items);
/* How many cells say something; an empty one leaves its setting as it is. */
size_t vd_items_count(const vd_items *items);
/* The i-th of them, from 0. */
vd_item_cell vd_items_at(const vd_items *items, size_t i);

VD_C_END

#endif
