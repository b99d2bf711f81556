/* SPDX-License-Identifier: MIT
 *
 * Types: what the library knows of each, as constant values to which settings point. A bare one judges values; the
 * other one also parses and prints them, so that a firmware without words links none of that.
 */
#ifndef VERDITE_TYPES_H
#define VERDITE_TYPES_H

#include "verdite/writer.h"

VD_C_BEGIN

struct vd_meaning;
struct vd_setting;
struct vd_typed;
struct vd_value;

/* What a value is. */
typedef enum vd_type {
    VD_NOTHING, /* no value, or not known */
    VD_INTEGER,
    VD_DECIMAL,     /* number / 10^places, exact */
    VD_TRUTH,       /* 1 on, 0 off */
    VD_CHOICE,      /* the number of one of the setting's choices */
    VD_FLAGS,       /* any of the setting's choices at once: bit `number` of each that is set */
    VD_DURATION,    /* milliseconds */
    VD_TIME_OF_DAY, /* seconds since midnight */
    VD_DATE_TIME,   /* seconds since 1970-01-01 00:00:00 by the clock that the setting is about; no leap seconds */
    VD_CLOCK,       /* likewise, of a clock that runs on; or VD_NOW */
    VD_COUNTER,     /* a number like a decimal that counts on from what is written */
    VD_ZONE,        /* minutes east of UTC */
    VD_POSITION,    /* latitude and longitude in 10^-7 degrees, each 32 bits, latitude in the upper ones */
    VD_PORT,        /* TCP or UDP port */
    VD_IPV4,        /* 32 bits, first octet uppermost (RFC 791) */
    VD_MASK,        /* likewise: ones, then zeros (RFC 950) */
    VD_GATEWAY,     /* likewise: one host's address, or 0.0.0.0 for none */
    VD_IPV6,        /* 16 bytes (RFC 4291), printed as RFC 5952 has it */
    VD_TEXT,        /* characters of the setting's alphabet */
    VD_HOST,        /* host name (RFC 1123) or IPv4 address in text */
    VD_URL,         /* RFC 3986, absolute, with a host */
    VD_PHONE,       /* digits with or without + and country code (ITU-T E.164) */
    VD_APN,         /* access point name, network identifier (3GPP TS 23.003 clause 9.1) */
    VD_IMEI,        /* 15 digits, the last a check digit (3GPP TS 23.003 clause 6.2.1) */
    VD_ICCID,       /* 19 or 20 digits from 89 on, the last a check digit (ITU-T E.118) */
    VD_BYTES,       /* any bytes, typed in hexadecimal */
    VD_IDENTIFIER,  /* a fixed number of bytes, e.g. 8 for an EUI-64 */
    VD_KEY,         /* 128 bits */
    VD_TYPE_COUNT
} vd_type;

/* The name by which model files and people call a type, e.g. "time-of-day"; a few words about it. */
const char *vd_type_name(vd_type type);
/* A few words about a type. */
const char *vd_type_title(vd_type type);
#define VD_NOW INT64_MAX    /* a clock is to show what time it is */
#define VD_ZONE_HERE 0x7FFF /* the zone of who gives the time */
/* Whether values of this type may have decimal places, or a scale and an offset. */
bool vd_type_is_placed(vd_type type);
/* Whether values of this type are bytes (vd_value.text) rather than a number. */
bool vd_type_is_bytes(vd_type type);
/* Whether those bytes are characters; units pad them with zeros or blanks. */
bool vd_type_is_text(vd_type type);
/* Bytes that every value of this type has at most, where the setting does not decide it; 0 where it does. */
uint16_t vd_type_length(vd_type type);

/* A piece of typed text. */
typedef struct vd_span {
    const char *at; /* the first byte */
    size_t length;  /* in bytes */
} vd_span;

/* What people need of a type. */
typedef struct vd_type_words {
    const char *name, *title; /* as files name it; a few words about it */
    /* Reads a value as a person types it. */
    vd_status (*parse)(const struct vd_meaning *meaning, vd_span typed, struct vd_typed *value, vd_fault *fault);
    /* Adds a value. */
    void (*print)(const struct vd_setting *setting, const struct vd_value *value, vd_writer *writer);
    /* Adds what a setting of this type takes. */
    void (*allowed)(const struct vd_meaning *meaning, vd_writer *writer);
    /* The nearest text that the setting can hold; NULL where the type has no such thing. */
    void (*nearest)(const struct vd_setting *setting, const char *text, size_t length, vd_writer *writer);
} vd_type_words;

/* Traits, as bits. */
#define VD_TYPE_BYTES 1u     /* the value is bytes, not a number */
#define VD_TYPE_TEXT 2u      /* those bytes are characters */
#define VD_TYPE_RANGED 4u    /* min, max and step count */
#define VD_TYPE_TICKED 8u    /* the setting's tick is the length of one count */
#define VD_TYPE_MEASURED 16u /* may have a unit of measure */
#define VD_TYPE_RUNS 32u     /* goes on by itself */
#define VD_TYPE_PLACED 64u   /* may have decimal places, or a scale and an offset */
#define VD_TYPE_PRINTED 128u /* units that talk in lines say it as it is printed */

/* What the library knows of a type. */
typedef struct vd_type_traits {
    /* Judges a value by itself. */
    vd_status (*check)(const struct vd_meaning *meaning, const struct vd_value *value, vd_fault *fault);
    const vd_type_words *words; /* NULL: bare */
    uint8_t id;                 /* vd_type */
    uint8_t is;                 /* VD_TYPE_... */
    uint16_t length;            /* types that are bytes: how many every value has at most, 0: the setting says */
} vd_type_traits;

/* All types: name, constant, what checks a value, its length, its traits. The one list of them. */
#define VD_TYPE_LIST(X)                                                                                                \
    X(integer, INTEGER, ranged, 0, VD_TYPE_RANGED | VD_TYPE_MEASURED)                                                  \
    X(decimal, DECIMAL, ranged, 0, VD_TYPE_RANGED | VD_TYPE_MEASURED | VD_TYPE_PLACED)                                 \
    X(truth, TRUTH, nothing, 0, 0)                                                                                     \
    X(choice, CHOICE, choice, 0, 0)                                                                                    \
    X(flags, FLAGS, flags, 0, 0)                                                                                       \
    X(duration, DURATION, ranged, 0, VD_TYPE_RANGED | VD_TYPE_TICKED)                                                  \
    X(time_of_day, TIME_OF_DAY, ranged, 0, VD_TYPE_RANGED | VD_TYPE_TICKED | VD_TYPE_PRINTED)                          \
    X(date_time, DATE_TIME, ranged, 0, VD_TYPE_RANGED | VD_TYPE_PRINTED)                                               \
    X(clock, CLOCK, running, 0, VD_TYPE_RANGED | VD_TYPE_RUNS | VD_TYPE_PRINTED)                                       \
    X(counter, COUNTER, ranged, 0, VD_TYPE_RANGED | VD_TYPE_MEASURED | VD_TYPE_RUNS | VD_TYPE_PLACED)                  \
    X(zone, ZONE, ranged, 0, VD_TYPE_RANGED | VD_TYPE_TICKED | VD_TYPE_PRINTED)                                        \
    X(position, POSITION, position, 0, VD_TYPE_PRINTED)                                                                \
    X(port, PORT, ranged, 0, VD_TYPE_RANGED)                                                                           \
    X(ipv4, IPV4, nothing, 0, VD_TYPE_PRINTED)                                                                         \
    X(mask, MASK, mask, 0, VD_TYPE_PRINTED)                                                                            \
    X(gateway, GATEWAY, gateway, 0, VD_TYPE_PRINTED)                                                                   \
    X(ipv6, IPV6, length, 16, VD_TYPE_BYTES | VD_TYPE_PRINTED)                                                         \
    X(text, TEXT, text, 0, VD_TYPE_BYTES | VD_TYPE_TEXT)                                                               \
    X(host, HOST, length, 0, VD_TYPE_BYTES | VD_TYPE_TEXT)                                                             \
    X(url, URL, length, 0, VD_TYPE_BYTES | VD_TYPE_TEXT)                                                               \
    X(phone, PHONE, length, 16, VD_TYPE_BYTES | VD_TYPE_TEXT)                                                          \
    X(apn, APN, length, 63, VD_TYPE_BYTES | VD_TYPE_TEXT)                                                              \
    X(imei, IMEI, length, 15, VD_TYPE_BYTES | VD_TYPE_TEXT)                                                            \
    X(iccid, ICCID, length, 20, VD_TYPE_BYTES | VD_TYPE_TEXT)                                                          \
    X(bytes, BYTES, length, 0, VD_TYPE_BYTES)                                                                          \
    X(identifier, IDENTIFIER, length, 0, VD_TYPE_BYTES)                                                                \
    X(key, KEY, length, 16, VD_TYPE_BYTES)

#define VD_DECLARE_TYPE_(name, id, check, length, is) extern const vd_type_traits vd_type_##name, vd_bare_##name;
VD_TYPE_LIST(VD_DECLARE_TYPE_)
#undef VD_DECLARE_TYPE_
/* A text that has neither pattern nor check digits. */
extern const vd_type_traits vd_bare_plain_text;

/* The traits of a type, with its words; NULL: there is no such type. */
const vd_type_traits *vd_type_of(vd_type type);

VD_C_END

#endif
