/* SPDX-License-Identifier: MIT
 * A cable, and what befalls the messages on it. */
#include "cable.h"

#define MOST_STEPS 6000u
#define MOST_MESSAGE 8192u
#define PASSWORD "0000"

typedef struct cable {
    const vd_model *model;
    vd_visit_storage visit_room;
    vd_visit *visit; /* in that room */
    vd_unit_storage unit_room;
    vd_unit *unit; /* in that room */
    void *visit_memory, *unit_memory;
    vd_set target;
    uint64_t now;
    bool honest; /* nothing was heard but what the unit said */
} cable;

static void feed_visit(cable *c, vd_event event)
{
    event.now = c->now;
    vd_visit_engine.feed(c->visit, &event);
}

static void feed_unit(cable *c, vd_event event)
{
    vd_wants wants;
    event.now = c->now;
    vd_unit_engine.feed(c->unit, &event);
    vd_unit_engine.wants(c->unit, &wants);
    if (wants.keep) {
        event = (vd_event){.kind = VD_KEPT, .now = c->now};
        vd_unit_engine.feed(c->unit, &event);
    }
}

static void start(cable *c, const vd_model *model, input *f)
{
    size_t visit_size = vd_visit_size(model), unit_size = vd_unit_size(model, vd_unit_language_of(model));
    vd_identity identity = {"", "", "1.9", "S-1"};
    g_strlcpy(identity.maker, model->identify.maker, sizeof identity.maker);
    g_strlcpy(identity.product, model->identify.product, sizeof identity.product);
    memset(c, 0, sizeof *c);
    c->visit = vd_visit_in(&c->visit_room);
    c->unit = vd_unit_in(&c->unit_room);
    c->model = model;
    c->honest = true;
    c->now = 60000000;
    c->visit_memory = g_malloc0(visit_size);
    c->unit_memory = g_malloc0(unit_size);
    c->target = input_set(model);
    vd_set_put_initial(&c->target);
    for (uint16_t i = 0; i < model->setting_count; i++) { /* some are to be something else */
        const vd_setting *setting = &model->settings[i];
        bool moves = input_byte(f) % 8 == 1 && setting->access != VD_READ_ONLY && setting->written_by != VD_MAKER;
        bool link = vd_role_is_link((vd_role)setting->role);
        vd_value value = vd_set_get(&c->target, i);
        if (moves && value.type == VD_TRUTH) {
            value.number = !value.number;
            vd_set_put(&c->target, i, &value);
        } else if (moves && link) { /* it is to be reached elsewhere */
            value.number = value.type == VD_CHOICE
                               ? setting->choices[input_number(f, setting->choice_count)].number
                               : setting->min + input_number(f, (uint32_t)(setting->max - setting->min));
            vd_set_put(&c->target, i, &value);
        } else if (!moves && input_byte(f) % 4 != 0) {
            vd_set_forget(&c->target, i);
        }
    }
    vd_unit_start(c->unit, model, vd_unit_language_of(model), &identity, c->unit_memory, unit_size);
    vd_unit_power_up(c->unit, 0);
    vd_unit_hold_button(c->unit, 50000000, 9000);
    vd_visit_start(c->visit, model, c->visit_memory, visit_size, &model->line, model->address_factory, 1000);
}

static void begin(cable *c, input *f)
{
    switch (input_byte(f) % 5) {
    case 4:
        if (c->model->action_count > 0) {
            vd_visit_act(c->visit, c->now, &c->model->actions[input_number(f, c->model->action_count)]);
            break;
        }
    /* fall through */
    case 0: vd_visit_read(c->visit, c->now, NULL); break;
    case 1: vd_visit_verify(c->visit, c->now, &c->target, NULL); break;
    default: vd_visit_write(c->visit, c->now, &c->target, NULL); break;
    }
}

/* The check of Modbus RTU, bit by bit as its specification draws it (SL 6.2.2). */
static void put_check(uint8_t *bytes, size_t count)
{
    uint16_t check = 0xFFFF;
    for (size_t i = 0; i + 2 < count; i++) {
        check ^= bytes[i];
        for (int bit = 0; bit < 8; bit++) {
            check = (uint16_t)((check & 1) != 0 ? check >> 1 ^ 0xA001 : check >> 1);
        }
    }
    bytes[count - 2] = (uint8_t)check;
    bytes[count - 1] = (uint8_t)(check >> 8);
}

/* What befalls a message on its way. */
typedef enum fate { ARRIVES, LOST, BENT, REPLACED, LATE, DOUBLED, WITH_ERRORS, FATES } fate;

static void deliver(cable *c, bool to_visit, const uint8_t *bytes, size_t count, const uint8_t *errors)
{
    vd_event event = {.kind = VD_HEARD, .bytes = bytes, .count = count, .errors = errors};
    to_visit ? feed_visit(c, event) : feed_unit(c, event);
}

/* At another speed or framing than the other end has it, nothing makes sense. */
static bool are_alike(const cable *c)
{
    vd_wants wants;
    vd_visit_engine.wants(c->visit, &wants);
    return !vd_model_has_address(c->model) || wants.line.baud == 0 ||
           vd_serial_equal(&wants.line, vd_unit_line(c->unit));
}

static void carry(cable *c, input *f, bool to_visit, const uint8_t *sent, size_t count)
{
    if (!are_alike(c)) {
        return;
    }
    static uint8_t bytes[MOST_MESSAGE], errors[MOST_MESSAGE];
    memset(errors, 0, sizeof errors);
    memcpy(bytes, sent, count);
    uint8_t chance = f->left > 0 ? input_byte(f) : 255;
    fate fate = chance < 128 ? (enum fate)(chance % FATES) : ARRIVES;
    c->honest = c->honest && (fate == ARRIVES || fate == LOST);
    switch (fate) {
    case LOST: return;
    case BENT:
        for (uint32_t n = 1 + input_number(f, 3); n > 0 && count > 0; n--) {
            bytes[input_number(f, (uint32_t)count)] ^= input_byte(f);
        }
        if (vd_model_has_address(c->model) && count > 3 && (input_byte(f) & 1) != 0) {
            put_check(bytes, count); /* bent, and well-formed all the same */
        }
        break;
    case REPLACED: count = input_bytes(f, bytes, sizeof bytes); break;
    case LATE: c->now += 1000 * (uint64_t)input_number(f, 3000); break;
    case DOUBLED: deliver(c, to_visit, bytes, count, NULL); break;
    case WITH_ERRORS: errors[count > 0 ? input_number(f, (uint32_t)count) : 0] = VD_ERROR_FRAMING; break;
    case ARRIVES:
    case FATES: break;
    }
    deliver(c, to_visit, bytes, count, errors);
}

static void serve_visit(cable *c, input *f)
{
    vd_wants wants;
    vd_visit_engine.wants(c->visit, &wants);
    if (wants.question == VD_ASK_WRITE) {
        feed_visit(c, (vd_event){.kind = VD_ANSWERED, .yes = f->left == 0 || input_byte(f) % 16 != 0});
    } else if (wants.question == VD_ASK_OLD_PASSWORD) {
        feed_visit(c, (vd_event){.kind = VD_ANSWERED, .yes = f->left == 0 || input_byte(f) % 2 != 0});
    } else if (wants.question == VD_ASK_PASSWORD) {
        bool right = f->left == 0 || input_byte(f) % 8 != 0;
        feed_visit(c, (vd_event){.kind = VD_ANSWERED,
                                 .yes = true,
                                 .bytes = (const uint8_t *)(right ? PASSWORD : "17"),
                                 .count = right ? 4 : 2});
    } else if (wants.keep) {
        feed_visit(c,
                   (vd_event){.kind = VD_KEPT, .status = f->left > 0 && input_byte(f) % 16 == 0 ? VD_NOT_KEPT : VD_OK});
    } else if (wants.reopen) {
        feed_visit(c, (vd_event){.kind = VD_BACK});
    } else if (wants.count > 0) {
        static uint8_t sent[MOST_MESSAGE];
        size_t count = MIN(wants.count, sizeof sent);
        memcpy(sent, wants.send, count);
        feed_visit(c, (vd_event){.kind = VD_SENT, .until = c->now});
        c->now += 5000;
        carry(c, f, false, sent, count);
    }
}

static void serve_unit(cable *c, input *f)
{
    vd_wants wants;
    vd_unit_engine.wants(c->unit, &wants);
    if (wants.count > 0) {
        static uint8_t sent[MOST_MESSAGE];
        size_t count = MIN(wants.count, sizeof sent);
        memcpy(sent, wants.send, count);
        feed_unit(c, (vd_event){.kind = VD_SENT, .until = c->now});
        c->now += 1000;
        carry(c, f, true, sent, count);
    }
}

/* Time goes on to whatever is waited for next. */
static void pass_time(cable *c)
{
    vd_wants of_visit, of_unit;
    vd_visit_engine.wants(c->visit, &of_visit);
    vd_unit_engine.wants(c->unit, &of_unit);
    uint64_t wake = MIN(of_visit.wake, of_unit.wake);
    if (of_visit.count > 0 || of_unit.count > 0 || of_visit.question != VD_ASK_NOTHING || of_visit.keep) {
        return;
    }
    c->now = wake == VD_NEVER ? c->now + 1000000 : MAX(wake, c->now + 1);
    feed_unit(c, (vd_event){.kind = VD_TIME});
    feed_visit(c, (vd_event){.kind = VD_TIME});
}

/* Now and then something else happens. */
static void happen(cable *c, input *f)
{
    uint8_t noise[64];
    if (f->left == 0 || input_byte(f) < 240) {
        return;
    }
    switch (input_byte(f) % 5) {
    case 0: feed_visit(c, (vd_event){.kind = VD_STOP}); break;
    case 1: feed_visit(c, (vd_event){.kind = VD_LOST, .status = VD_PORT_LOST}); break;
    case 2:
        vd_unit_power_up(c->unit, c->now); /* its supply failed for a moment */
        vd_unit_hold_button(c->unit, c->now, 9000);
        break;
    case 3: c->now += 1000000 * (uint64_t)input_number(f, 900); break;
    default: {
        size_t count = input_bytes(f, noise, sizeof noise);
        c->honest = c->honest && count == 0;
        deliver(c, (input_byte(f) & 1) != 0, noise, count, NULL);
    }
    }
}

/* Everything that can be written is in order, and so is every rule that the unit enforces. */
static void judge_unit(const cable *c)
{
    const vd_model *model = c->model;
    for (uint16_t i = 0; i < model->setting_count; i++) {
        if (model->settings[i].access == VD_READ_WRITE && model->settings[i].written_by != VD_MAKER) {
            vd_status status = vd_set_check(vd_unit_live(c->unit), i, NULL);
            bool empty = model->settings[i].initial_text != NULL && vd_set_get(vd_unit_live(c->unit), i).length == 0;
            PROMISE(status == VD_OK || status == VD_IDLE_HERE || status == VD_NOT_HERE || empty,
                    "the unit holds a strange %s", model->settings[i].words->key);
        }
    }
    for (uint16_t r = 0; r < model->rule_count; r++) {
        for (uint16_t item = 0; model->rules[r].enforced && item < vd_rule_items(model, r); item++) {
            PROMISE(vd_rule_judge(vd_unit_live(c->unit), vd_unit_live(c->unit), r, item, NULL) != VD_FAILS,
                    "the unit breaks rule %u", r);
        }
    }
}

static void judge_visit(const cable *c)
{
    vd_summary summary = vd_visit_summary(c->visit);
    const vd_link *link = vd_visit_link(c->visit);
    if (c->honest && summary.whole == VD_WHOLE_VERIFIED && vd_model_has_address(c->model)) {
        PROMISE(link->address == vd_unit_address(c->unit) && vd_serial_equal(&link->line, vd_unit_line(c->unit)),
                "it is verified, and reached elsewhere");
    }
    for (uint16_t i = 0; i < c->model->setting_count; i++) {
        vd_verdict verdict = vd_visit_verdict(c->visit, i);
        if (verdict == VD_CONFIRMED || verdict == VD_LIVE_ONLY) {
            PROMISE(vd_set_compare(vd_visit_desired(c->visit), vd_visit_live(c->visit), i) == VD_SAME,
                    "%s is confirmed and was not read so", c->model->settings[i].words->key);
        }
        if (verdict == VD_CONFIRMED && c->honest && summary.whole == VD_WHOLE_VERIFIED) {
            PROMISE(vd_set_compare(vd_visit_desired(c->visit), vd_unit_stored(c->unit), i) == VD_SAME,
                    "%s is verified and not stored", c->model->settings[i].words->key);
        }
    }
}

static void turn(cable *c, input *f)
{
    serve_visit(c, f);
    serve_unit(c, f);
    happen(c, f);
    pass_time(c);
}

void cable_play(const vd_model *model, input *f)
{
    static cable c;
    vd_status status = VD_OK;
    start(&c, model, f);
    begin(&c, f);
    for (unsigned step = 0; step < MOST_STEPS && !vd_visit_ended(c.visit, &status); step++) {
        turn(&c, f);
    }
    for (unsigned step = 0; step < 400 && !vd_visit_ended(c.visit, &status); step++) {
        feed_visit(&c, (vd_event){.kind = VD_STOP});
        turn(&c, f);
    }
    PROMISE(vd_visit_ended(c.visit, &status), "it does not end");
    judge_unit(&c);
    judge_visit(&c);
    g_free(c.visit_memory);
    g_free(c.unit_memory);
    g_free(c.target.memory);
}
