/* SPDX-License-Identifier: MIT
 *
 * Cost: what intervals take: bytes, money and charge. docs/intervals.md says how it is added up. Each amount has a
 * least and a most; the least is of what happens least, the most of what happens most.
 */
#ifndef VERDITE_COST_H
#define VERDITE_COST_H

#include "verdite/played.h"

VD_C_BEGIN

/* What costs, each time. */
typedef enum vd_cost_per {
    VD_COST_EVENT,  /* each event of an item */
    VD_COST_TAKEN,  /* each that goes out of a store */
    VD_COST_PACKET, /* each packet that does */
    VD_COST_SECOND  /* each second in which a fact holds: the amount is a current */
} vd_cost_per;

/* One cost of a model. */
typedef struct vd_cost {
    uint16_t item;      /* which it is about */
    uint8_t per;        /* vd_cost_per */
    bool charge;        /* ampere seconds; else bytes */
    vd_ref least, most; /* formulas */
} vd_cost;

/* The battery of a model. References are to formulas. */
typedef struct vd_battery {
    vd_ref holds;                     /* charge; none: it has none */
    vd_ref usable_least, usable_most; /* of that, a share; none: all */
    vd_ref loss_least, loss_most;     /* what it loses by itself a year, a share; none: nothing */
} vd_battery;

#define VD_MOST_TARIFFS 8u /* of a model, or typed */

/* What data costs in a month. References are to formulas, but for `when`; money is a plain number. */
typedef struct vd_tariff {
    vd_ref when;      /* a fact: what is sent while it holds is billed by this; none: always */
    vd_ref base;      /* none: 0 */
    vd_ref included;  /* bytes; none: 0 */
    vd_ref step;      /* bytes, above 0 */
    vd_ref each;      /* money for each step that is begun */
    bool rounds_each; /* what is sent in one second is rounded up to whole steps first */
} vd_tariff;

/* What a model says of costs. */
struct vd_costs {
    const vd_cost *list;      /* what items take */
    uint16_t count;           /* of `list` */
    vd_battery battery;       /* what is taken from */
    const char *currency;     /* "EUR"; NULL: there is no tariff */
    const vd_tariff *tariffs; /* the first whose fact holds bills what is sent; the last always does */
    uint8_t tariff_count;     /* of `tariffs` */
};

/* A least and a most, exact; not known where an amount is not, or does not fit. */
typedef struct vd_range {
    vd_ratio least, most; /* both ends */
    bool known;           /* else neither is said */
} vd_range;

/* What the n-th cost came to in the time that counts: bytes, or ampere seconds. */
vd_range vd_cost_of(const vd_played *played, uint16_t n);
/* Bytes of a month of 30 days. */
vd_range vd_bytes_a_month(const vd_played *played);
/* What they cost by the tariffs, of each run by itself. Not known: there is none. */
vd_range vd_price_a_month(const vd_played *played);
/* Bytes of a month of 30 days that the k-th tariff bills, rounded as it says. */
vd_range vd_billed_a_month(const vd_played *played, uint8_t k);
/* Ampere seconds of a day, what the battery loses by itself among them. */
vd_range vd_charge_a_day(const vd_played *played);
/* Days for which the battery lasts. Not known: it has none, or nothing takes from it. */
vd_range vd_battery_days(const vd_played *played);

/* Per cent of what the battery holds that were taken in the time that counts. */
vd_range vd_battery_used(const vd_played *played);
/* Which share of all charge the n-th cost takes, per cent, by the most of each, rounded down; 0: of none. */
unsigned vd_charge_share(const vd_played *played, uint16_t n);
/* A range times a number, as whole numbers rounded outward. False: it is not known, or does not fit. */
bool vd_range_outward(const vd_range *range, vd_ratio times, int64_t *least, int64_t *most);

VD_C_END

#endif
