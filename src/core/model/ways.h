/* SPDX-License-Identifier: MIT
 * How a language does what is asked of it: what its own files fill in, and the engines and the judge of models call. */
#ifndef VD_CORE_MODEL_WAYS_H
#define VD_CORE_MODEL_WAYS_H

#include "verdite/language.h"

struct vd_talk;
struct vd_set;
struct vd_probe;
struct vd_raw;

/* How the fitter's end does a job in a language. Its state lies in memory of the talk's. */
struct vd_speech {
    /* Bytes that it needs for a model besides what every job does, a multiple of 8. */
    size_t (*size)(const vd_model *model);
    /* Begins to talk with a unit; `memory` is its state from now on. */
    void (*start)(struct vd_talk *talk, void *memory, const vd_serial *line, uint8_t address, uint32_t latency);
    /* Asks the unit over another link from now on. */
    void (*move)(struct vd_talk *talk, const vd_link *link, uint32_t latency);
    /* Begins the job that talk->job is about; `held` is what the unit holds. */
    void (*begin)(struct vd_talk *talk, const struct vd_set *held);
    void (*forget)(struct vd_talk *talk); /* wipes what was secret in the requests and replies of the job */
    /* Begins the login. */
    void (*log_in)(struct vd_talk *talk, const char *password, size_t length);
    /* The exchange was fed: goes on when it has ended. */
    void (*proceed)(struct vd_talk *talk);
    /* The engine of one exchange, and its state in the talk. */
    const vd_engine *exchange;
    /* The state of its exchange. */
    void *(*exchange_of)(const struct vd_talk *talk);
    /* How often a repeatable request is sent at most. */
    uint8_t *(*tries)(struct vd_talk *talk);
    /* See vd_talk_be_patient(). */
    void (*be_patient)(struct vd_talk *talk);
    /* See vd_talk_heard_others(). */
    bool (*heard_others)(const struct vd_talk *talk);
    /* See vd_talk_heard_start(). */
    bool (*heard_start)(struct vd_talk *talk);
    /* See vd_talk_unexplained(). */
    uint32_t (*unexplained)(const struct vd_talk *talk);
    /* See vd_talk_disturbed(). */
    uint32_t (*disturbed)(const struct vd_talk *talk);
    /* See vd_talk_tally(). */
    const vd_tally *(*tally)(const struct vd_talk *talk);
    /* Whether the exchange at hand holds a secret. */
    bool (*is_hidden)(const struct vd_talk *talk);
    /* See vd_talk_rescales_at_once(). */
    bool (*rescales_at_once)(const vd_model *model, const uint8_t *which, uint16_t decides);
    /* See vd_model_writes_together() and vd_model_broadcasts(); the latter NULL: there is no broadcast. */
    bool (*writes_together)(const vd_model *model, uint16_t a, uint16_t b);
    /* See vd_model_broadcasts(); NULL: there is no broadcast. */
    bool (*broadcasts)(const vd_model *model, uint16_t setting);
};

/* Who is told of what is wrong with a model. */
typedef struct vd_judge vd_judge;
/* `setting` NULL: it is about the model as a whole. `what` goes on where "it" or the setting's key is the subject. */
void vd_judge_complain(vd_judge *judge, const vd_setting *setting, vd_where where, const char *what);

/* Bytes in which a language keeps what it needs for a question. */
#define VD_PROBE_STATE 1792u
/* Bytes in which a language keeps what it needs for a raw request. */
#define VD_RAW_STATE 2304u

/* What a desk does in a language. */
struct vd_desk_ways {
    /* What is wrong with where a setting lives on the wire, and `*where`; NULL: nothing. */
    const char *(*judge_setting)(const vd_model *model, const vd_setting *setting, vd_where *where);
    /* Judges what lies beside what, and the model as a whole. `order` has room for all of its settings. */
    void (*judge)(const vd_model *model, uint16_t *order, vd_judge *judge);
    /* Says where a setting lives, for people. */
    void (*tell_place)(const vd_model *model, const vd_setting *setting, vd_writer *writer);
    /* Whether its questions can be asked at a line setting. */
    bool (*suits)(const vd_desk *desk, const vd_serial *line);
    /* Whether a unit of this model answers the question that is asked without a model, where the desk asks one. */
    bool (*is_general)(const vd_model *model);
    /* A question who it is, see probe.h; what was heard goes into probe->evidence. */
    void (*probe_begin)(struct vd_probe *probe, uint64_t now, const vd_serial *line, uint8_t address, uint32_t limit,
                        uint32_t gap);
    /* Listens on behind the reply for so many microseconds. */
    void (*probe_listen_on)(struct vd_probe *probe, uint32_t longer);
    /* Feeds the question. */
    void (*probe_feed)(struct vd_probe *probe, const vd_event *event);
    /* What the question wants. */
    void (*probe_wants)(const struct vd_probe *probe, vd_wants *wants);
    /* Whether it has ended. */
    bool (*probe_ended)(const struct vd_probe *probe);
    /* A raw request, see raw.h. */
    vd_status (*raw_begin)(struct vd_raw *raw, uint64_t now, const vd_serial *line, uint8_t address, uint32_t latency,
                           const char *typed, vd_fault *fault);
    /* Feeds the request. */
    void (*raw_feed)(struct vd_raw *raw, const vd_event *event);
    /* What the request wants. */
    void (*raw_wants)(const struct vd_raw *raw, vd_wants *wants);
    /* What was sent, as it was sent. */
    const uint8_t *(*raw_sent)(const struct vd_raw *raw, size_t *length);
    /* Records why it ended with a status other than VD_OK. */
    vd_status (*raw_note)(const struct vd_raw *raw, vd_status status, vd_fault *fault);
    /* Whether bytes that went out are a request in this language. */
    bool (*is_request)(const vd_desk *desk, const uint8_t *bytes, size_t count);
    /* Whether what was heard so far is whole. */
    bool (*is_whole)(const vd_desk *desk, const uint8_t *bytes, size_t count);
    /* Adds in words what was said, for a trace; nothing where it says so plainly itself. */
    void (*explain)(const vd_desk *desk, const uint8_t *bytes, size_t count, bool from_unit, vd_writer *writer);
};

#endif
