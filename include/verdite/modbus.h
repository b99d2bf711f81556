/* SPDX-License-Identifier: MIT
 *
 * Modbus: frames, and the client: one exchange at a time. A frame is kept as RTU has it; how it looks on the line is
 * its framing's.
 *
 * Standards: MODBUS Application Protocol V1.1b3 ("AP"), MODBUS over Serial Line V1.02 ("SL").
 */
#ifndef VERDITE_MODBUS_H
#define VERDITE_MODBUS_H

#include "verdite/language.h"

VD_C_BEGIN

#define VD_MODBUS_FRAME 256u            /* largest frame: address, PDU of 253, check (SL 2.3) */
#define VD_MODBUS_MOST_READ 125u        /* registers in one read (AP 6.3) */
#define VD_MODBUS_MOST_WRITE 123u       /* registers in one write (AP 6.12) */
#define VD_MODBUS_MOST_READ_BITS 2000u  /* coils or discrete inputs in one read (AP 6.1) */
#define VD_MODBUS_MOST_WRITE_BITS 1968u /* coils in one write (AP 6.11) */
#define VD_MODBUS_MOST_BOTH 121u        /* registers written by 23 (AP 6.17) */

enum {
    VD_MODBUS_READ_COILS = 1,
    VD_MODBUS_READ_DISCRETE = 2,
    VD_MODBUS_READ_HOLDING = 3,
    VD_MODBUS_READ_INPUT = 4,
    VD_MODBUS_WRITE_COIL = 5,
    VD_MODBUS_WRITE_ONE = 6,
    VD_MODBUS_WRITE_COILS = 15,
    VD_MODBUS_WRITE_MANY = 16,
    VD_MODBUS_MASK_WRITE = 22,
    VD_MODBUS_READ_WRITE = 23,
    VD_MODBUS_IDENTIFY = 43,
    VD_MODBUS_IDENTIFY_TYPE = 14
};

/* A frame as RTU has it, check and all. */
typedef struct vd_modbus_frame {
    uint8_t bytes[VD_MODBUS_FRAME]; /* of the frame */
    uint16_t length;                /* of `bytes` */
} vd_modbus_frame;

/* The check over `count` bytes (SL 6.2.2); its low byte is sent first. */
uint16_t vd_modbus_crc(const uint8_t *bytes, size_t count);
/* The silence between frames, microseconds: 3.5 characters, 1750 above 19200 bit/s (SL 2.5.1.1). */
uint32_t vd_modbus_silence(const vd_serial *line);

/* ---- Framings and languages ---- */

/* What a framing keeps between characters that are heard; all zero at first. Private, but for the first three. */
typedef struct vd_modbus_ear {
    bool starts, ends;       /* the last character began a frame, ended one; where silence does not part them */
    bool inside;             /* a frame has begun and not ended; the same */
    bool half, held, broken; /* private */
    uint8_t high, last, sum; /* private */
    uint16_t check;          /* private */
} vd_modbus_ear;

/* Bytes that one character can bring at most. */
#define VD_MODBUS_TAKEN 3u

/* How frames look on the line. */
typedef struct vd_framing {
    bool by_silence;                            /* silence is what parts frames */
    uint8_t least_data_bits;                    /* of a line */
    uint16_t room;                              /* bytes that it needs to put a frame into characters */
    uint32_t (*silence)(const vd_serial *line); /* microseconds before a frame */
    uint32_t (*characters)(uint32_t bytes);     /* that a frame of so many bytes takes */
    /* The characters of a frame, in `room` or in the frame itself. */
    const uint8_t *(*put)(const vd_modbus_frame *frame, uint8_t *room, uint16_t *count);
    /* What a character that was heard brings: up to VD_MODBUS_TAKEN bytes of a frame, as RTU has it; returns how many.
     * A check that does not fit becomes one that does not fit. */
    unsigned (*take)(vd_modbus_ear *ear, uint8_t character, uint8_t *bytes);
} vd_framing;

/* Takes characters apart into the bytes of a frame, at most VD_MODBUS_FRAME; `*ends`: the last of them ended one. */
uint16_t vd_framing_open(const vd_framing *framing, const uint8_t *characters, size_t count, uint8_t *bytes,
                         bool *ends);

/* The framing RTU (SL 2.5.1). */
extern const vd_framing vd_rtu_framing;
/* The language of registers in RTU. */
extern const vd_language vd_modbus_rtu;
/* Its desk. */
extern const vd_desk vd_modbus_rtu_desk;

/* ---- Requests and replies ---- */

/* Requests, complete with check. `address` 0 is broadcast. Counts beyond the standard's limits are not judged. */
void vd_modbus_ask_read(vd_modbus_frame *frame, uint8_t address, uint8_t function, uint16_t first, uint16_t count);
/* Writes a register (AP 6.6). */
void vd_modbus_ask_write_one(vd_modbus_frame *frame, uint8_t address, uint16_t where, uint16_t value);
/* Writes registers (AP 6.12). */
void vd_modbus_ask_write_many(vd_modbus_frame *frame, uint8_t address, uint16_t first, const uint16_t *values,
                              uint16_t count);
/* `on` is a whole 1 or 0 here, 0xFF00 or 0 on the wire (AP 6.5). */
void vd_modbus_ask_write_coil(vd_modbus_frame *frame, uint8_t address, uint16_t where, bool on);
/* `bits` has a bit for each coil, lowest first. */
void vd_modbus_ask_write_coils(vd_modbus_frame *frame, uint8_t address, uint16_t first, const uint8_t *bits,
                               uint16_t count);
/* The register becomes (itself and `keep`) or (`set` and not `keep`) (AP 6.16). */
void vd_modbus_ask_mask_write(vd_modbus_frame *frame, uint8_t address, uint16_t where, uint16_t keep, uint16_t set);
/* Writes registers, then reads others or the same, in one exchange (AP 6.17). */
void vd_modbus_ask_read_write(vd_modbus_frame *frame, uint8_t address, uint16_t read_first, uint16_t read_count,
                              uint16_t first, const uint16_t *values, uint16_t count);
/* `code`: 1 basic, 2 regular, 3 extended, 4 one object (AP 6.21). */
void vd_modbus_ask_identity(vd_modbus_frame *frame, uint8_t address, uint8_t code, uint8_t object);

/* Length of the whole reply frame as far as its first `count` bytes tell: 0 when more are needed to know, -1 when
 * these bytes begin no reply that this library knows. */
int vd_modbus_reply_length(const uint8_t *bytes, size_t count);
/* Whether a whole reply, check and all, answers a request: VD_OK, one of the exceptions, VD_CHECK_FAILED, or
 * VD_WRONG_ADDRESS, VD_WRONG_FUNCTION, VD_WRONG_LENGTH for a sound reply to something else. */
vd_status vd_modbus_judge(const vd_modbus_frame *request, const uint8_t *reply, size_t length);
/* Adds in words what a frame says, for a trace. `from_unit` tells replies from requests. */
void vd_modbus_explain(const uint8_t *bytes, size_t count, bool from_unit, vd_writer *writer);

/* ---- The client -------------------------------------------------------------------------------------------- */

/* How to talk with one unit. */
typedef struct vd_modbus_manner {
    const vd_framing *framing; /* how its frames look */
    vd_serial line;            /* the line setting */
    uint32_t limit;            /* microseconds from the last bit sent to the first byte heard */
    uint32_t longest;          /* no reply comes later than this */
    uint32_t gap;              /* longest silence inside a reply */
    uint32_t busy_wait;        /* pause before asking a busy unit again */
    uint32_t busy_limit;       /* give up on a busy unit */
    uint32_t broadcast;        /* pause after a broadcast (turnaround delay, SL 2.4.1) */
    uint8_t tries;             /* how often a repeatable request is sent at most */
} vd_modbus_manner;

/* The manner of a model on a line; `latency` is what the port adds each way, microseconds. */
vd_modbus_manner vd_modbus_manner_of(const vd_model *model, const vd_serial *line, uint32_t latency);

/* Whether our own bytes come back on a line: adapters and joined wires do that. It is learned from the first exchange
 * whose reply cannot be the same as the request, and holds from then on. */
typedef enum vd_echo { VD_ECHO_NOT_KNOWN, VD_ECHO_ABSENT, VD_ECHO_PRESENT } vd_echo;

/* One exchange at a time: request, reply, and what to do when it does not come. */
typedef struct vd_modbus_client vd_modbus_client;
VD_STORAGE(vd_modbus_client, 1024, 1024)

/* Bytes that a talk in a framing keeps besides what every talk does. */
#define VD_MODBUS_STATE VD_ALIGNED(sizeof(vd_modbus_client_storage) + 64u)
/* The same of RTU; `longest` does not count. */
#define VD_MODBUS_RTU_STATE(longest) VD_MODBUS_STATE

/* The engine of a vd_modbus_client. */
extern const vd_engine vd_modbus_client_engine;

/* `room`: as many bytes as the framing needs, which the client keeps using; NULL where it needs none. */
void vd_modbus_client_start(vd_modbus_client *client, const vd_modbus_manner *manner, uint8_t *room);
/* Where the request of the next exchange is put. */
vd_modbus_frame *vd_modbus_client_request(vd_modbus_client *client);
/* What was met on the line since the client was started. */
const vd_tally *vd_modbus_client_tally(const vd_modbus_client *client);
/* Begins the exchange whose request stands in vd_modbus_client_request(). A request that is not `repeatable` is sent
 * once, whatever happens. When the unit answers "acknowledge" (5) or "busy" (6), it is left alone for `first_wait`
 * microseconds (0: the manner's busy_wait) and then polled with a read, never re-sent while it is busy; only a
 * repeatable request that was turned away with 6 is sent again, once the unit answers normally. */
void vd_modbus_client_begin(vd_modbus_client *client, uint64_t now, bool repeatable, uint32_t first_wait);
/* Makes the exchange that was just begun go on listening behind its reply for as long as any unit may take, so that a
 * second one with the same address is heard: see `others`. */
void vd_modbus_client_be_patient(vd_modbus_client *client);
/* Whether the exchange has ended, and how. */
bool vd_modbus_client_ended(const vd_modbus_client *client, vd_status *status);
/* The reply after its address byte, without check: function code first. Valid until the next exchange begins. */
const uint8_t *vd_modbus_client_reply(const vd_modbus_client *client, size_t *length);
/* Records the fault of an exchange that ended with `status`; `about` says what it was about, in a few words. */
vd_status vd_modbus_client_note(const vd_modbus_client *client, vd_status status, const char *about, vd_fault *fault);

/* Takes the objects of an identification reply (its function code first, without check) into an identity; the serial
 * number is object `serial_object`, 0 for the first private one (0x80 and up). Returns the object to go on with, 0 when
 * the reply is complete. */
uint8_t vd_modbus_take_identity(const uint8_t *reply, size_t length, uint8_t serial_object, vd_identity *identity);
/* Asks for the identity of a unit: objects, or for a model that identifies by registers, those. Returns how a reply is
 * to be read: the first register. */
uint16_t vd_modbus_ask_for_identity(vd_modbus_frame *frame, uint8_t address, const vd_model *model, uint8_t object);
/* Takes an identity out of the registers of a reply to that. */
void vd_modbus_take_identity_registers(const uint8_t *data, uint16_t first, const vd_identify *identify,
                                       vd_identity *identity);

VD_C_END

#endif
