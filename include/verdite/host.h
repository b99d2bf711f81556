/* SPDX-License-Identifier: MIT
 *
 * Host: what a computer adds. Models, profiles and benches as files that people edit, saved so that the old file stays
 * whole until the new one is; traces of the talk on the wire.
 *
 * What a function returns as a pointer is freed with the matching _free function; texts with g_free().
 */
#ifndef VERDITE_HOST_H
#define VERDITE_HOST_H

#include <glib.h>
#include <stdio.h>

#include "verdite/fault_values.h"
#include "verdite/all_languages.h"
#include "verdite/search.h"
#include "verdite/visit.h"
#include "verdite/sim.h"

VD_C_BEGIN

/* ---- Findings in files ------------------------------------------------------------------------------------- */

/* One thing that is wrong with a file, and where. */
typedef struct vd_finding {
    unsigned line, column; /* from 1; 0 where the whole file is meant */
    vd_fault fault;        /* of its setting only the key is there, and lives as long as the findings */
} vd_finding;

/* What was found wrong with one file, in the order in which it stands there. */
typedef struct vd_findings {
    char *path;   /* of the file, as it was named */
    GArray *list; /* of vd_finding */
} vd_findings;

/* Findings about a file, none yet; `path` is copied. */
vd_findings *vd_findings_new(const char *path);
/* Frees them; NULL is fine. */
void vd_findings_free(vd_findings *findings);
/* Adds a fault at a line and column, from 1; 0: about the file as a whole. */
void vd_findings_add(vd_findings *findings, unsigned line, unsigned column, const vd_fault *fault);
/* Whether there is a finding worse than VD_CLASS_PARTLY, that is, anything but "cannot be judged". */
bool vd_findings_any_wrong(const vd_findings *findings);
/* The nearest of `count` words to a mistyped one, as words for people ("Do you mean ...?"), or a list of all when none
 * is near. `word_at` gives the words. */
char *vd_suggest(const char *typed, size_t count, const char *(*word_at)(const void *about, size_t i),
                 const void *about);

/* ---- Files ------------------------------------------------------------------------------------------------- */

/* The text of a file. */
typedef struct vd_file_text {
    const char *text; /* the bytes; a zero stands behind them */
    size_t length;    /* of `text` */
    bool secret;      /* nobody but the file's owner may read it */
} vd_file_text;

/* Reads a file of at most `most` bytes; the text has a zero behind it. It never waits: whatever is no ordinary file
 * (a pipe, a device, a folder, a link to nothing) is VD_FILE_UNREADABLE, as is what may not be read. Too large:
 * VD_FILE_TOO_LARGE. */
vd_status vd_file_read(const char *path, size_t most, char **text, size_t *length, vd_fault *fault);
/* Saves a text so that a crash, a kill or a full disk leaves either the old or the new file, whole. Owner, group and
 * mode of a file that was there stay; a link is followed. VD_FILE_UNWRITABLE, with the reason. */
vd_status vd_file_save(const char *path, const vd_file_text *text, vd_fault *fault);
/* The same where there is none yet: VD_FILE_THERE otherwise, also where it came into being this moment. */
vd_status vd_file_create(const char *path, const vd_file_text *text, vd_fault *fault);
/* The same where the file still says what it said when it was read: VD_FILE_CHANGED otherwise. Of several programs that
 * change one file at once, one does. */
vd_status vd_file_change(const char *path, const vd_file_text *was, const vd_file_text *text, vd_fault *fault);
/* Opens a new or empty file to be written as it comes. NULL: VD_FILE_THERE, or VD_FILE_UNWRITABLE. */
FILE *vd_file_stream(const char *path, vd_fault *fault);

/* The path of what is remembered under a name; its folder is there. Free it. */
char *vd_state_path(const char *name);
/* Keeps other programs from changing what is remembered; waits for them, which takes a moment. -1: it cannot be. */
int vd_state_lock(void);
/* Gives the lock back; -1 is fine. */
void vd_state_unlock(int lock);

/* That no other program of this computer is at work on something, such as a unit; let go of when the program ends,
 * however it does. */
typedef struct vd_claim vd_claim;
/* Claims what has this name for this program; `who` is what others are told. NULL: `holder` (free it) has it, or, where
 * that is NULL, it cannot be claimed at all. */
vd_claim *vd_claim_take(const char *name, const char *who, char **holder);
/* Gives a claim back; NULL is fine. */
void vd_claim_release(vd_claim *claim);

/* ---- Models ------------------------------------------------------------------------------------------------ */

/* A model that was loaded from a file. */
typedef struct vd_model_file vd_model_file;

/* Whether a file can be read and is one of a model, right or wrong. */
bool vd_is_model_file(const char *path);
/* Loads a model (docs/model.md). NULL when anything is wrong; the findings say what. */
vd_model_file *vd_model_file_load(const char *path, vd_findings *findings);
/* Frees a model with all that it points to; NULL is fine. */
void vd_model_file_free(vd_model_file *file);
/* The model; it lives as long as its file. */
const vd_model *vd_model_file_model(const vd_model_file *file);
/* The word of model files for what writing causes, such as "for-good". */
const char *vd_effect_word(vd_effect effect);

/* The folders of models: those in $VERDITE_MODELS (with colons between), else the user's own (verdite/models in the
 * folder for data) and the one that came with the program. Models are loaded when first asked for. */
typedef struct vd_catalogue vd_catalogue;
/* The models in the usual folders; loaded when they are first asked for. Free it with vd_catalogue_free(). */
vd_catalogue *vd_catalogue_open(void);
/* Frees it with all of its models; NULL is fine. */
void vd_catalogue_free(vd_catalogue *catalogue);
/* The folders, for people. */
const char *vd_catalogue_folders(const vd_catalogue *catalogue);
/* Keys of all models there are, NULL-terminated, sorted; owned by the catalogue. */
const char *const *vd_catalogue_keys(vd_catalogue *catalogue);
/* All models that are sound and can be told apart, NULL-terminated, sorted by key; owned by the catalogue. */
const vd_model *const *vd_catalogue_models(vd_catalogue *catalogue);
/* Has an index kept in a file, so that later it is known whether all models are as they were when all were loaded last;
 * NULL: none. Failing to is no fault. */
void vd_catalogue_keep_index(vd_catalogue *catalogue, const char *path);
/* Whether that is so, by names, sizes and times of their files: then vd_catalogue_set_aside() says what it would say if
 * all were loaded, and a model is found sound when it is asked for by its key. */
bool vd_catalogue_is_as_before(vd_catalogue *catalogue);
/* What is wrong with a file that vd_catalogue_models() leaves out, one findings for each file: the i-th; NULL behind
 * the last. */
const vd_findings *vd_catalogue_set_aside(const vd_catalogue *catalogue, size_t i);
/* A model by key, or by the path of its file where `name` ends in ".yaml". NULL: the findings, which become those of
 * the model's file when that is at fault, say why. The catalogue keeps it. */
const vd_model *vd_catalogue_model(vd_catalogue *catalogue, const char *name, vd_findings **findings);
/* Likewise by the path of its file; whatever asks for a model by the key of this one gets this one from then on. */
const vd_model *vd_catalogue_prefer(vd_catalogue *catalogue, const char *path, vd_findings **findings);
/* Likewise, by its key, of a model that some file is about: one that no folder of models has is looked for beside that
 * file, in `folder`, and where one is. */
const vd_model *vd_catalogue_model_beside(vd_catalogue *catalogue, const char *key, const char *folder,
                                          vd_findings **findings);

/* ---- Profiles ---------------------------------------------------------------------------------------------- */

/* A profile: settings of one model in a file (docs/profile.md). What was read from a unit is saved in the same form. */
typedef struct vd_profile vd_profile;

/* Loads a profile. Every value is parsed and judged; each that is wrong is a finding, and so is each that cannot be
 * judged with what the profile says. NULL when the file as a whole cannot be used. */
vd_profile *vd_profile_load(const char *path, vd_catalogue *catalogue, vd_findings *findings);
/* The same from a text. */
vd_profile *vd_profile_parse(const char *text, size_t length, vd_catalogue *catalogue, vd_findings *findings);
/* Another of the same, to be changed by itself. */
vd_profile *vd_profile_copy(const vd_profile *profile);
/* Frees it; NULL is fine. */
void vd_profile_free(vd_profile *profile);
/* The model that it is for. */
const vd_model *vd_profile_model(const vd_profile *profile);
/* What the profile says; values that are wrong are not in it. */
const vd_set *vd_profile_values(const vd_profile *profile);
/* The unit the profile was read from; empty texts when it was written by hand. */
const vd_identity *vd_profile_unit(const vd_profile *profile);
/* The oldest firmware that it is for, 0: any. */
uint32_t vd_profile_firmware(const vd_profile *profile);
/* Where a secret comes from, as the profile says: "asked", "environment NAME", "file PATH", which is seen from here;
 * NULL: it says nothing. */
const char *vd_profile_secret(const vd_profile *profile, uint16_t setting);
/* Whether a text says where a secret comes from. */
bool vd_is_secret_source(const char *text);
/* Sets a key to a value as typed. All else in the text stays as it is, to the byte. Nothing changes when it fails:
 * VD_NO_SUCH_SETTING with a suggestion, or a value fault. */
vd_status vd_profile_put(vd_profile *profile, const char *key, const char *typed, vd_fault *fault);
/* Takes a key out, with its line. VD_NO_SUCH_SETTING where the profile does not say it. */
vd_status vd_profile_take_out(vd_profile *profile, const char *key, vd_fault *fault);
/* The text as it stands. */
const char *vd_profile_text(const vd_profile *profile, size_t *length);
/* The text as it stands in a file at `path`: what it names by a path is seen from there. Free it. */
char *vd_profile_text_for(const vd_profile *profile, const char *path);
/* The text of a new profile with everything that `set` knows and that can be written, in groups. `unit` and `when`
 * (an ISO 8601 time) may be NULL. What the model would refuse is left out, with a comment that says so. */
char *vd_profile_compose(const vd_model *model, const vd_set *set, const vd_identity *unit, const char *when);
/* The same for a file at `path` that is made from another profile, with what that needs besides its values: the
 * firmware, where the model is the same, and where secrets come from. `which`: by setting of that profile, 0: not this
 * one's. */
char *vd_profile_compose_like(const vd_profile *from, const uint8_t *which, const vd_set *set, const vd_identity *unit,
                              const char *path);

/* Keeps what a unit holds before a write, while the visit wants that (vd_wants.keep), as a profile of its own in the
 * folder of what is remembered. `path`, which may be NULL, is where; free it. VD_FILE_UNWRITABLE. */
vd_status vd_before_keep(const vd_visit *visit, char **path, vd_fault *fault);
/* One of those, as it stands in its file. */
typedef struct vd_before {
    const char *model;     /* its key */
    vd_identity unit;      /* with a serial number */
    int64_t when;          /* milliseconds since 1970, UTC */
    char **keys, **values; /* NULL-terminated, one value for each key */
} vd_before;
/* Hands out all that are sound, the oldest name first. */
void vd_before_each(void (*take)(void *about, const vd_before *state), void *about);

/* ---- Benches ----------------------------------------------------------------------------------------------- */

/* A bench: a folder with bench.yaml (docs/bench.md), which people edit, and state.json, in which its units and its
 * clock are kept from one program to the next. */
typedef struct vd_bench_folder vd_bench_folder;

/* Opens a bench, locks it against other programs, and puts its units into the state in which they were left.
 * NULL: the findings say why. */
vd_bench_folder *vd_bench_open(const char *folder, vd_catalogue *catalogue, vd_findings *findings);
/* The bench as its file describes it, also where another program has it; to be looked at, and never kept. */
vd_bench_folder *vd_bench_look(const char *folder, vd_catalogue *catalogue, vd_findings *findings);
/* Keeps the state for the next program. */
vd_status vd_bench_keep(vd_bench_folder *bench, vd_fault *fault);
/* Frees it, with its units; NULL is fine. */
void vd_bench_free(vd_bench_folder *bench);
/* The simulation behind it, which belongs to it. */
vd_sim *vd_bench_sim(vd_bench_folder *bench);
/* What time it is on a bench: its clock began on 2026-05-02 at 08:00 UTC. */
vd_moment vd_bench_moment(vd_bench_folder *bench);
/* What time it is here, by this machine. */
vd_moment vd_moment_now(void);
/* The world that its file describes, which belongs to it. */
const vd_bench *vd_bench_world(const vd_bench_folder *bench);
/* Makes the next program meet the bench as its file describes it. */
vd_status vd_bench_start_afresh(const char *folder, vd_fault *fault);

/* ---- Tables for firmware ---- */

/* A model that was loaded as constant tables in C; free the text. `with_words`: what people read as well. */
char *vd_model_tables(const vd_model *model, bool with_words);

/* ---- Traces ------------------------------------------------------------------------------------------------ */

/* Writes the talk on the wire, frame by frame, decoded, as text. */
typedef struct vd_tracer vd_tracer;
/* `out` stays the caller's. */
vd_tracer *vd_tracer_new(FILE *out);
/* Frees it; NULL is fine. */
void vd_tracer_free(vd_tracer *tracer);
/* For vd_loop.trace, with the tracer as trace_about. */
void vd_tracer_note(void *about, uint64_t now, size_t lane, bool sent, const uint8_t *bytes, const uint8_t *errors,
                    size_t count);

VD_C_END

#endif
