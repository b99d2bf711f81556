/* SPDX-License-Identifier: MIT
 *
 * Model: one kind of unit, as constant data. What can be asked of a model stands in model_questions.h.
 */
#ifndef VERDITE_MODEL_H
#define VERDITE_MODEL_H

#include "verdite/about.h"
#include "verdite/alarm.h"
#include "verdite/serial.h"
#include "verdite/setting.h"
#include "verdite/slots.h"

VD_C_BEGIN

/* Settings that belong together. */
typedef struct vd_group {
    const char *key, *label; /* as files name it, and as people do */
} vd_group;

/* Settings that repeat, such as ten alarms: `count` items of `members` settings each, one item behind the other. */
typedef struct vd_block {
    const char *key;         /* the settings' keys begin with it, then the number of the item from 1: "alarm.3.limit" */
    const char *label;       /* what people call an item */
    uint16_t first;          /* index of the first setting of the first item */
    uint16_t count, members; /* items; settings in each, those of blocks inside among them */
    vd_ref outer;            /* the block in which it stands, such as "alarm" of "alarm.3.side" */
    uint16_t outer_item;     /* and in which item of it, from 0 */
} vd_block;

/* How bad it is when a rule is broken. */
typedef enum vd_severity { VD_ERROR, VD_WARNING, VD_REMARK } vd_severity;

/* When the unit itself refuses what breaks a rule. */
typedef enum vd_enforcing { VD_NOT_ENFORCED, VD_ENFORCED_WRITING, VD_ENFORCED_STORING } vd_enforcing;

/* A rule between settings. The expressions are described in docs/rules.md. */
typedef struct vd_rule {
    const char *when;     /* expression: the rule counts only then; "" or NULL: always */
    const char *must;     /* expression that is true where the rule is kept */
    const char *say;      /* the sentence for people when it is broken; {expression} stands for a value */
    const vd_spot *blame; /* settings to blame, the first foremost; none: the first that `must` names */
    uint16_t blame_count; /* of `blame` */
    vd_ref block; /* the rule is about each item of this block, "this.member" in it, "outer.member" in what is around
                       it */
    uint8_t severity; /* vd_severity */
    uint8_t enforced; /* vd_enforcing */
} vd_rule;

/* Something a unit does when told to, apart from settings. */
typedef enum vd_deed { VD_DEED_OWN, VD_DEED_RESTART, VD_DEED_DEFAULTS, VD_DEED_CLEAR } vd_deed;
/* Something that a unit does when told to. */
typedef struct vd_action {
    const char *key, *label, *help; /* as files name it; as people do; what it does */
    vd_order order;                 /* what makes it do that */
    vd_causes causes;               /* what it brings about besides */
    uint32_t takes;                 /* milliseconds */
    uint8_t deed; /* vd_deed: something of its own, restarts, back to factory defaults, clears its memory */
} vd_action;

/* How one logs in, where the unit wants it. */
typedef struct vd_login {
    const char *help; /* "" where there is no login */
    vd_order order;   /* the record to which the password is said, or the holding register from which on it is written,
                         in the form that its setting has; with neither, NULL and 0, Verdite cannot log in by itself */
    vd_ref setting;   /* that holds the password */
    vd_ref left;      /* that tells how many wrong tries are left */
    uint32_t lasts;   /* milliseconds without a request until it is logged out; 0: until its supply goes */
    uint8_t tries;    /* wrong ones before the unit locks; 0: no limit */
    uint8_t refusal;  /* units with registers: the exception, 1 to 4, by which they refuse what needs a login; 0: 1 */
    bool recoverable; /* a forgotten password can be reset */
    bool may_be_none; /* a password of 0, or an empty one, is none: then anyone may do everything */
} vd_login;

/* What a hand must do so that the unit takes something in. */
typedef struct vd_by_hand {
    const char *help; /* in words; "" where it takes no hand */
    uint32_t hold;    /* milliseconds for which its button must be held; 0: no hand is needed */
    uint32_t lasts;   /* milliseconds without a request for which that holds; 0: until it is switched off */
    uint32_t limit;   /* milliseconds for which a person is waited for */
} vd_by_hand;

/* How the unit is put into the state in which it listens, and in which it takes what changes it. */
typedef struct vd_listening {
    vd_by_hand hand;    /* for anything at all */
    vd_by_hand writing; /* besides, for writing, storing and orders: to these it is silent before */
    const char *says;   /* the line that it sends of itself once it listens, "" where it sends none */
    uint32_t after;     /* milliseconds from switching on, or from the button, until it listens */
    bool anew;          /* after its own restart the hand is needed again, as after switching on */
} vd_listening;

#define VD_LONGEST_LINE 512u /* characters of a line to or from a unit, its terminator included */

/* How a unit that talks in lines wants to be talked to. */
typedef struct vd_lines {
    const char *talker; /* what its sentences begin with, e.g. "PQLM"; "" where it talks in no sentences */
    uint16_t longest;   /* most characters of a line that it takes, terminator included; at most VD_LONGEST_LINE */
    bool several;       /* takes several reads or writes in one line */
    bool writes_once;   /* a write whose outcome is not known is never sent again */
    bool echoes;        /* sends back what it hears, from the factory */
} vd_lines;

/* Registers first..last that the unit does not answer for: no request may touch them. */
typedef struct vd_hole {
    uint8_t table;        /* vd_table */
    uint16_t first, last; /* protocol addresses */
} vd_hole;

/* What the unit takes in one request, and which of the less common functions it knows (AP 6). */
typedef struct vd_limits {
    uint16_t read_registers, write_registers, read_bits, write_bits; /* 0: the standard's own limit */
    bool mask_write;                                                 /* 22: bits of one register */
    bool read_write; /* 23: writes, and reads back in the same request */
    bool one_by_one; /* takes what one request writes setting by setting, each judged with what is there by then */
    bool no_single;  /* writes one register with 16 instead of 6, one coil with 15 instead of 5 */
} vd_limits;

/* Where a unit says who it is. */
typedef enum vd_identify_way {
    VD_IDENTIFY_OBJECTS,  /* Modbus read device identification, function 43 / 14 */
    VD_IDENTIFY_REGISTERS /* text in registers, at the places below */
} vd_identify_way;

/* How a unit of this model is recognised. */
typedef struct vd_identify {
    uint8_t way;           /* vd_identify_way */
    const char *maker;     /* must be equal to what the unit says */
    const char *product;   /* likewise; a variant's own product name will do as well */
    uint8_t serial_object; /* way objects: the object that holds the serial number, 0x80 to 0xFF */
    vd_place maker_place, product_place, firmware_place, serial_place; /* way registers */
} vd_identify;

/* How stored values are shown to be stored. */
typedef enum vd_proof {
    VD_PROOF_NONE,    /* nothing shows it: the best word is "live, storage not proved" */
    VD_PROOF_BANK,    /* the stored values can be read at an offset from the live ones */
    VD_PROOF_RESTART, /* a restart by command, then reading again: the model has an action that restarts */
    VD_PROOF_SUPPLY,  /* switching the supply off and on by hand, then reading again */
    VD_PROOF_SHOWN    /* it shows what is stored, never what is only live: reading it is the proof */
} vd_proof;

/* From when on a unit is reached by another address or line setting that was written. */
typedef enum vd_link_from {
    VD_LINK_FROM_RESTART, /* once it was stored and the unit has restarted */
    VD_LINK_FROM_STORING, /* once it was stored */
    VD_LINK_FROM_WRITING  /* at once; the reply to the write still comes as before */
} vd_link_from;

/* What a restart visibly undoes, where nothing else shows it. */
typedef enum vd_undone {
    VD_UNDOES_NOTHING,
    VD_UNDOES_LOGIN,  /* who was logged in is so no longer: what only a fitter may read is refused; units in lines */
    VD_UNDOES_READING /* a reading is back at its default, and nothing else puts it there */
} vd_undone;

/* How live values are made to outlast a power cycle. */
typedef struct vd_store {
    bool needed;          /* false: a written value is stored at once */
    vd_order order;       /* what makes it store everything */
    bool restarts;        /* it restarts by itself when it has stored */
    uint8_t proof;        /* vd_proof */
    uint16_t bank_offset; /* VD_PROOF_BANK: added to a holding register's address */
} vd_store;

/* What a control line of the port is to do while the port is open. */
typedef enum vd_signal { VD_SIGNAL_LEAVE, VD_SIGNAL_ON, VD_SIGNAL_OFF } vd_signal;

/* Times of a model's talk, milliseconds unless said otherwise. */
typedef struct vd_reply {
    uint16_t usual;      /* turnaround of an ordinary reply */
    uint16_t longest;    /* no reply comes later than this */
    uint16_t store;      /* how long storing takes */
    uint16_t busy_wait;  /* pause before asking again a unit that said it is busy */
    uint16_t busy_limit; /* give up on a busy unit after this */
    uint16_t gap;        /* longest silence inside a reply */
    uint16_t broadcast;  /* turnaround delay after a broadcast */
    uint8_t tries;       /* how often a repeatable request is sent at most */
} vd_reply;

typedef struct vd_language vd_language;   /* language.h */
typedef struct vd_intervals vd_intervals; /* day.h */
typedef struct vd_book vd_book;           /* compiled expressions and sorted indexes of a model */

/* One kind of unit. Constant once prepared; owned by whoever made it, and must outlive everything that was given it. */
struct vd_model {
    const char *key;                /* e.g. "dowel" */
    const char *title;              /* e.g. "Dowel two-channel gauge" */
    const char *summary;            /* one or two sentences */
    const vd_group *groups;         /* of settings */
    const vd_setting *settings;     /* all that the unit can be set to or tells */
    const vd_block *blocks;         /* settings that repeat */
    const vd_own_measure *measures; /* units of measure of its own */
    const vd_rule *rules;           /* between settings */
    const vd_variant *variants;     /* in which it is made */
    const vd_ability *abilities;    /* what it can do */
    const vd_action *actions;       /* what it does when told to */
    const vd_preset *presets;       /* values under one name */
    const vd_topic *topics;         /* of the start-up page */
    const vd_errand *errands;       /* what must be brought */
    const vd_hole *holes;           /* registers that it does not answer for */
    const vd_channel *channels;     /* what may be watched */
    const vd_formula *formulas;     /* of channels, conditions and alarms, then of intervals */
    const vd_test *tests;           /* comparisons of conditions and alarms */
    const vd_condition *conditions; /* of alarms */
    const vd_alarm *alarms;         /* what it watches for */
    const vd_intervals *intervals;  /* when it measures, reports and listens; NULL: nothing is said of it */
    const vd_language *language;    /* in which its units talk; a unit's own firmware may leave it NULL */
    const vd_book *book;    /* from vd_model_prepare(); without it expressions are not known, and finding is slow */
    vd_serial line;         /* the usual line settings, from the factory */
    uint8_t dtr, rts;       /* vd_signal */
    uint16_t setting_count; /* at most 65534 */
    uint16_t hole_count, rule_count, block_count;                    /* of the lists above */
    uint16_t formula_count, test_count;                              /* of the lists above */
    uint8_t channel_count, condition_count, alarm_count;             /* of the lists above */
    uint8_t preset_count, measure_count, group_count, variant_count; /* of the lists above */
    uint8_t ability_count, action_count, topic_count, errand_count;  /* of the lists above */
    uint8_t address_low, address_high;                               /* unit addresses it can have */
    uint8_t address_factory;                                         /* the one that it has from the factory */
    bool address_shared;                                             /* several units may have one address on purpose */
    uint32_t restart_time;  /* milliseconds from a restart until it answers again */
    vd_ref running;         /* the reading that tells how long it has been running; see vd_model_running_time() */
    vd_ref undone;          /* VD_UNDOES_READING: which */
    uint8_t undoes;         /* vd_undone */
    uint8_t link_from;      /* vd_link_from */
    bool takes_port;        /* the serial port is the unit's own: it is gone while the unit restarts */
    uint32_t firmware;      /* the oldest firmware that the model describes, as vd_firmware_parse() has it; 0: any */
    vd_identify identify;   /* how it is recognised */
    vd_store store;         /* how values are made to last */
    vd_reply reply;         /* times of its talk */
    vd_limits limits;       /* of one request */
    vd_login login;         /* by which more is allowed */
    vd_listening listening; /* what a hand has to do first */
    vd_slots slots;         /* copies of settings */
    vd_lines lines;         /* how it talks in lines */
};

VD_C_END

#endif
