/* SPDX-License-Identifier: MIT
 * Preparing a model: sorted indexes, compiled expressions, and the judgement whether it is sound. What can be judged of
 * one setting alone stands in check.c. */
#include "parts.h"

#include <string.h>

static bool key_after(const void *about, uint16_t a, uint16_t b)
{
    const vd_model *model = about;
    const char *p = model->settings[a].words->key, *q = model->settings[b].words->key;
    while (*p != '\0' && *p == *q) {
        p++, q++;
    }
    return (unsigned char)*p > (unsigned char)*q;
}

/* ---- Memory ---- */

/* Steps that a text needs at most: every two characters one, each item of a block anew where it repeats. */
static size_t most_steps(const vd_model *model, const char *text)
{
    size_t length = text != NULL ? strlen(text) : 0, items = 1;
    for (size_t i = 0; i + 2 < length; i++) {
        for (uint16_t b = 0; b < model->block_count && memcmp(text + i, ".*.", 3) == 0; b++) {
            items = model->blocks[b].count > items ? model->blocks[b].count : items;
        }
    }
    size_t steps = (length / 2 + 4) * 2 * items;
    return length == 0 ? 0 : steps < 8192 ? steps : 8192;
}

static size_t count_braces(const char *text)
{
    size_t count = 0;
    for (; text != NULL && *text != '\0'; text++) {
        count += *text == '{';
    }
    return count;
}

/* Lays the book out behind itself; with `draft` NULL only measures. */
static size_t lay_out(const vd_model *model, vd_draft *draft)
{
    size_t steps = 0, shown = 0, count = model->setting_count, at = VD_ALIGNED(sizeof *draft);
    bool any_when = false;
    for (size_t i = 0; i < count; i++) {
        steps += model->settings[i].conditional ? most_steps(model, model->settings[i].words->when) : 0;
        any_when = any_when || model->settings[i].conditional;
    }
    for (uint16_t i = 0; i < model->rule_count; i++) {
        const vd_rule *rule = &model->rules[i];
        steps += most_steps(model, rule->when) + most_steps(model, rule->must) + most_steps(model, rule->say);
        shown += count_braces(rule->say);
    }
    for (uint16_t i = 0; i < model->formula_count; i++) {
        steps += most_steps(model, model->formulas[i].text);
    }
    const size_t sizes[] = {sizeof(uint16_t) * count,
                            any_when ? sizeof(vd_code) * count : 0,
                            sizeof(vd_rule_code) * model->rule_count,
                            sizeof(vd_term) * shown,
                            sizeof(vd_instruction) * steps,
                            sizeof(vd_term) * model->formula_count,
                            steps}; /* of texts no more than of characters, and of those there are no more */
    if (draft != NULL) {
        uint8_t *memory = (uint8_t *)draft;
        size_t starts[sizeof sizes / sizeof sizes[0]];
        memset(draft, 0, sizeof *draft);
        for (size_t i = 0; i < sizeof sizes / sizeof sizes[0]; i++) {
            starts[i] = at;
            at += VD_ALIGNED(sizes[i]);
        }
        memset(memory + starts[1], 0, sizes[1]);
        draft->by_key = (uint16_t *)(void *)(memory + starts[0]);
        draft->when = (vd_code *)(void *)(memory + starts[1]);
        draft->rules = (vd_rule_code *)(void *)(memory + starts[2]);
        draft->shown = (vd_term *)(void *)(memory + starts[3]);
        draft->steps = (vd_instruction *)(void *)(memory + starts[4]);
        draft->formulas = (vd_term *)(void *)(memory + starts[5]);
        draft->texts = (char *)(memory + starts[6]);
        draft->step_size = draft->text_size = (uint32_t)steps;
        draft->book = (vd_book){.by_key = draft->by_key,
                                .formulas = draft->formulas,
                                .when = draft->when,
                                .rules = draft->rules,
                                .shown = draft->shown,
                                .steps = draft->steps,
                                .texts = draft->texts,
                                .say = vd_rule_say};
        return at;
    }
    for (size_t i = 0; i < sizeof sizes / sizeof sizes[0]; i++) {
        at += VD_ALIGNED(sizes[i]);
    }
    return at;
}

/* Behind the book lies room that is needed while judging only: a set, and by then as many numbers as settings. */
size_t vd_model_prepare_size(const vd_model *model)
{
    return lay_out(model, NULL) + vd_set_size(model) + VD_ALIGNED(8u * model->setting_count);
}

static void judge_keys(const vd_model *model, vd_judge *judge)
{
    const vd_setting *settings = model->settings;
    for (uint16_t i = 1; i < model->setting_count; i++) {
        const vd_setting *one = &settings[model->book->by_key[i]];
        if (vd_same_text(one->words->key, settings[model->book->by_key[i - 1]].words->key)) {
            vd_judge_complain(judge, one, VD_IN_WHOLE, "stands there twice");
        }
    }
}

/* ---- Expressions ---- */

/* A condition; what is none is refused. `part` tells which text of a rule it is. */
static bool compile_condition(const vd_model *model, vd_draft *draft, const char *text, uint16_t block, int32_t part,
                              vd_code *code, vd_fault *fault)
{
    vd_term term = {.kind = {.is = VD_IS_TRUTH}};
    size_t length = text != NULL ? strlen(text) : 0;
    bool fine = length == 0 || vd_compile(model, draft, text, length, block, &term, fault);
    *code = term.code;
    if (fine && term.kind.is != VD_IS_TRUTH) {
        vd_note_EXPRESSION_WRONG(fault, text, "a condition belongs here, true or not", 1);
        fine = false;
    }
    fault->number[1] = part;
    return fine;
}

/* The expressions in braces of a sentence. */
static bool compile_sentence(const vd_model *model, vd_draft *draft, const vd_rule *rule, vd_fault *fault)
{
    for (const char *at = rule->say; at != NULL && *at != '\0'; at++) {
        if (*at != '{') {
            continue;
        }
        size_t length = 1;
        while (at[length] != '\0' && at[length] != '}') {
            length++;
        }
        vd_term *shown = &draft->shown[draft->shown_count++];
        if (at[length] == '\0' || length == 1 ||
            !vd_compile(model, draft, at + 1, length - 1, vd_index(rule->block), shown, fault)) {
            vd_note_EXPRESSION_WRONG(fault, at, "a brace opens here, and no value and brace follow", 0);
            fault->number[0] += (int32_t)(at - rule->say) + 1;
            fault->number[1] = 2;
            return false;
        }
        at += length;
    }
    return true;
}

static void compile_rule(const vd_model *model, vd_draft *draft, uint16_t index, vd_judge *judge)
{
    const vd_rule *rule = &model->rules[index];
    vd_rule_code *code = &draft->rules[index];
    vd_fault fault = {0};
    *code = (vd_rule_code){.shown = draft->shown_count};
    if (rule->must == NULL || rule->must[0] == '\0') {
        vd_note_EXPRESSION_WRONG(&fault, "the end", "a rule needs a condition that must hold", 0);
        fault.number[1] = 1;
    } else if (compile_condition(model, draft, rule->must, vd_index(rule->block), 1, &code->must, &fault) &&
               compile_condition(model, draft, rule->when, vd_index(rule->block), 0, &code->when, &fault)) {
        compile_sentence(model, draft, rule, &fault);
    }
    vd_naming naming = vd_names_in_rule(&draft->book, index);
    if (fault.status == VD_OK && vd_index(vd_names_next(&naming).setting) == VD_NONE) {
        vd_note_EXPRESSION_WRONG(&fault, rule->must, "no setting is named, so it is always the same", 1);
        fault.number[1] = 1;
    }
    if (fault.status != VD_OK) {
        vd_judge_note(judge, &fault, index);
        code->must = code->when = (vd_code){0, 0};
    }
}

/* ---- Formulas ---- */

/* What each thing that a formula gives is measured in, NULL: in anything; and what is said where it gives another. */
static const struct {
    const char *sign, *wanted;
} given[] = {[VD_GIVES_TRUTH] = {NULL, "a condition belongs here, true or not"},
             [VD_GIVES_NUMBER] = {NULL, "a number belongs here"},
             [VD_GIVES_TIME] = {"s", "a duration belongs here, such as 5 min"},
             [VD_GIVES_STATE] = {NULL, "the name of a state, or a setting that says one"},
             [VD_GIVES_PLAIN] = {"", "a number without a unit belongs here"},
             [VD_GIVES_WAY] = {"m", "a distance belongs here, such as 5 km"},
             [VD_GIVES_SPEED] = {"m/s", "a speed belongs here, such as 70 km/h"},
             [VD_GIVES_ANGLE] = {"°", "an angle belongs here, such as 30 °"},
             [VD_GIVES_BYTES] = {"B", "a number of bytes belongs here, such as 62 B"},
             [VD_GIVES_CHARGE] = {"As", "a charge belongs here, such as 9 mAs or 19 Ah"},
             [VD_GIVES_CURRENT] = {"A", "a current belongs here, such as 8 mA"},
             [VD_GIVES_SHARE] = {"%", "a share in % belongs here"}};

static bool gives(const vd_model *model, const vd_formula *formula, const vd_kind *kind)
{
    const char *sign = given[formula->gives].sign;
    if (formula->gives == VD_GIVES_TRUTH) {
        return kind->is == VD_IS_TRUTH;
    }
    if (formula->gives == VD_GIVES_STATE) {
        return (kind->is == VD_IS_CHOICE || kind->is == VD_IS_TRUTH) && vd_index(kind->spot.setting) != VD_NONE;
    }
    vd_measure measure = vd_measure_find(model, sign != NULL ? sign : "");
    return kind->is == VD_IS_NUMBER &&
           (sign == NULL || (sign[0] == '\0' ? vd_dimension_none(&kind->dimension)
                                             : vd_dimension_equal(&kind->dimension, &measure.dimension)));
}

/* The name of a state is no expression: whether its channel has it is judged with the channel. */
static void compile_formula(const vd_model *model, vd_draft *draft, uint16_t index, vd_judge *judge)
{
    const vd_formula *formula = &model->formulas[index];
    vd_term *term = &draft->formulas[index];
    uint32_t steps = draft->step_count;
    vd_fault fault = {0};
    bool fine = vd_compile(model, draft, formula->text, strlen(formula->text), vd_index(formula->block), term, &fault);
    if (formula->gives == VD_GIVES_STATE && (!fine || !gives(model, formula, &term->kind))) {
        term->code = (vd_code){0, 0};
        draft->step_count = steps;
        return;
    }
    if (fine && !gives(model, formula, &term->kind)) {
        vd_note_EXPRESSION_WRONG(&fault, formula->text, given[formula->gives].wanted, 1);
        fine = false;
    }
    if (!fine) {
        term->code = (vd_code){0, 0};
        fault.number[1] = VD_IN_FORMULA;
        vd_judge_note(judge, &fault, index);
    }
}

/* ---- Circles ---- */

/* Whether a setting exists may hang on others, and whether those exist on others again. It must end somewhere, and
 * soon: at run time each is asked from within the other. Walked with a stack of its own, since a file may go as deep as
 * it likes. */
typedef struct walk {
    const vd_model *model;
    vd_judge *judge;
    uint8_t *state; /* 0 not met, 1 on the path, 2 and more: done, with so many settings below it */
    uint16_t *path;
    uint32_t *at; /* how many of those that it hangs on were looked at, of each on the path */
    uint32_t depth;
} walk;

#define ON_PATH 1u
#define DONE 2u
#define MOST_BELOW 8u

static void enter(walk *w, uint16_t setting)
{
    w->state[setting] = ON_PATH;
    w->path[w->depth] = setting;
    w->at[w->depth++] = 0;
}

static uint8_t below(const walk *w, uint16_t setting)
{
    uint8_t most = DONE;
    uint16_t other = VD_NONE;
    for (uint16_t n = 0; (other = vd_model_hangs_on(w->model, setting, n)) != VD_NONE; n++) {
        if (w->model->settings[other].conditional && w->state[other] >= most) {
            most = (uint8_t)(w->state[other] + 1u);
        }
    }
    return most;
}

static void judge_circles(const vd_model *model, void *room, vd_judge *judge)
{
    walk w = {.model = model, .judge = judge, .state = room};
    w.path = (uint16_t *)(void *)(w.state + VD_ALIGNED(model->setting_count));
    w.at = (uint32_t *)(void *)(w.path + (model->setting_count + 1u) / 2u * 2u);
    memset(w.state, 0, model->setting_count);
    for (uint32_t start = 0; start < model->setting_count; start++) {
        if (w.state[start] != 0 || !model->settings[start].conditional) {
            continue;
        }
        enter(&w, (uint16_t)start);
        while (w.depth > 0) {
            uint16_t setting = w.path[w.depth - 1];
            uint16_t next = vd_model_hangs_on(model, setting, (uint16_t)w.at[w.depth - 1]++);
            if (next == VD_NONE) {
                w.state[setting] = below(&w, setting);
                w.depth--;
                if (w.state[setting] > DONE + MOST_BELOW) {
                    vd_judge_complain(judge, &model->settings[setting], VD_IN_WHOLE,
                                      "exists only through more than eight others");
                    w.state[setting] = DONE;
                }
            } else if (w.state[next] == ON_PATH) {
                vd_judge_complain(judge, &model->settings[next], VD_IN_WHOLE,
                                  "exists only if it exists: its `when` goes in a circle");
            } else if (w.state[next] == 0) {
                enter(&w, next);
            }
        }
    }
}

vd_status vd_model_prepare(vd_model *model, const vd_desk *desk, void *memory, size_t size, vd_complain *complain,
                           void *about, vd_fault *fault)
{
    vd_judge judge = {.complain = complain, .about = about, .first = fault};
    if (size < vd_model_prepare_size(model)) {
        return vd_note_MEMORY_TOO_SMALL(fault);
    }
    vd_draft *draft = memory;
    uint8_t *room = (uint8_t *)memory + lay_out(model, draft);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        draft->by_key[i] = i;
        ((uint16_t *)(void *)room)[i] = i;
    }
    for (uint16_t i = 0; i < model->setting_count; i++) { /* what follows relies on these */
        if (model->settings[i].traits == NULL || model->settings[i].words == NULL) {
            vd_judge_complain(&judge, NULL, VD_IN_WHOLE, "has a setting without a type or without words");
            return judge.status;
        }
    }
    vd_check_settings(model, desk, &judge);
    vd_settings_sort(draft->by_key, model->setting_count, key_after, model);
    model->book = &draft->book;
    judge_keys(model, &judge);
    desk->ways->judge(model, (uint16_t *)(void *)room, &judge);
    for (uint16_t i = 0; i < model->setting_count; i++) {
        vd_fault wrong = {0};
        const vd_setting *setting = &model->settings[i];
        if (setting->conditional && !compile_condition(model, draft, setting->words->when, vd_index(setting->block), 0,
                                                       &draft->when[i], &wrong)) {
            wrong.setting = setting;
            vd_judge_note(&judge, &wrong, VD_NONE);
        }
    }
    for (uint16_t i = 0; i < model->rule_count; i++) {
        compile_rule(model, draft, i, &judge);
    }
    for (uint16_t i = 0; i < model->formula_count; i++) {
        compile_formula(model, draft, i, &judge);
    }
    vd_check_whole(model, &judge);
    if (judge.status == VD_OK) {
        vd_check_alarms(model, &judge);
        vd_check_intervals(model, &judge);
    }
    if (judge.status == VD_OK) { /* what follows relies on what was judged before */
        judge_circles(model, room, &judge);
    }
    if (judge.status == VD_OK) {
        vd_check_defaults(model, room, &judge);
    }
    return judge.status;
}
