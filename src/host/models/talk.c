/* SPDX-License-Identifier: MIT
 * Loading what a model says of the talk with the unit: line, identification, storing, times, limits, login. */
#include "parts.h"

#include "verdite/modbus.h"

#include <string.h>

static bool take_line(vd_model_file *file, const yaml_node_t *root)
{
    yaml_file *yaml = &file->yaml;
    yaml_node_t *map = yaml_member(yaml, root, "line");
    const char *framing = "8N1";
    int64_t baud = 0;
    if (map == NULL) {
        return yaml_note(yaml, root, vd_fault_of_KEY_MISSING("line", "line: {baud: 9600, framing: 8N1}"));
    }
    bool fine = yaml_check_keys(yaml, map, keys_line);
    fine = yaml_take_integer(yaml, map, "baud", true, 50, 4000000, &baud) && fine;
    fine = yaml_take_text(yaml, map, "framing", true, &framing) && fine;
    fine = yaml_take_word(yaml, map, "dtr", false, words_signals, &file->model.dtr) && fine;
    fine = yaml_take_word(yaml, map, "rts", false, words_signals, &file->model.rts) && fine;
    fine = yaml_take_word(yaml, map, "new-from", false, words_new_from, &file->model.link_from) && fine;
    file->model.line.baud = (uint32_t)baud;
    if (!vd_framing_parse(framing, &file->model.line)) {
        return yaml_note(yaml, yaml_member(yaml, map, "framing"),
                         vd_fault_of_WRONG_SHAPE(framing, "data bits, parity and stop bits such as 8E1 or 8N2"));
    }
    return fine;
}

static bool take_address(vd_model_file *file, const yaml_node_t *root)
{
    yaml_file *yaml = &file->yaml;
    yaml_node_t *map = yaml_member(yaml, root, "address");
    int64_t from = 1, to = 247, factory = 1;
    if (!file->model.language->has_address) { /* it is alone on its line */
        return map == NULL || yaml_note(yaml, map,
                                        vd_fault_of_NO_SUCH_KEY(
                                            "address", "A unit that talks in lines has no unit address: remove it."));
    }
    if (map == NULL) {
        return yaml_note(yaml, root, vd_fault_of_KEY_MISSING("address", "address: {from: 1, to: 247, factory: 1}"));
    }
    bool fine = yaml_check_keys(yaml, map, keys_address) && yaml_take_integer(yaml, map, "from", true, 1, 247, &from) &&
                yaml_take_integer(yaml, map, "to", true, from, 247, &to) &&
                yaml_take_integer(yaml, map, "factory", true, from, to, &factory) &&
                yaml_take_truth(yaml, map, "shared", &file->model.address_shared);
    file->model.address_low = (uint8_t)from;
    file->model.address_high = (uint8_t)to;
    file->model.address_factory = (uint8_t)factory;
    return fine;
}

static bool take_identity_place(vd_model_file *file, const yaml_node_t *map, const char *key, bool needed,
                                vd_place *place)
{
    yaml_node_t *node = yaml_member(&file->yaml, map, key);
    if (node == NULL) {
        return !needed || yaml_note_missing(&file->yaml, map, key, "{register: 0, words: 8}");
    }
    *place = (vd_place){.form = VD_CHARACTERS, .words = 1};
    return model_take_place(file, node, place);
}

static bool take_identify(vd_model_file *file, const yaml_node_t *root)
{
    static const char *const keys_of_lines[] = {"maker", "product", NULL};
    yaml_file *yaml = &file->yaml;
    vd_identify *identify = &file->model.identify;
    yaml_node_t *map = yaml_member(yaml, root, "identify");
    int64_t object = 0;
    identify->maker = identify->product = "";
    if (map == NULL) {
        return yaml_note(yaml, root,
                         vd_fault_of_KEY_MISSING("identify", "identify: {by: objects, maker: ..., product: ...}"));
    }
    bool lines = file->model.language->has_words;
    bool fine = yaml_check_keys(yaml, map, lines ? keys_of_lines : keys_identify);
    fine = (lines || yaml_take_word(yaml, map, "by", true, words_identify_by, &identify->way)) && fine;
    fine = model_take_text(file, map, "maker", true, &identify->maker) && fine;
    fine = model_take_text(file, map, "product", true, &identify->product) && fine;
    fine = yaml_take_integer(yaml, map, "serial-object", false, 0x80, 0xFF, &object) && fine;
    identify->serial_object = (uint8_t)object;
    if (identify->way == VD_IDENTIFY_REGISTERS) {
        fine = take_identity_place(file, map, "maker-at", true, &identify->maker_place) && fine;
        fine = take_identity_place(file, map, "product-at", true, &identify->product_place) && fine;
        fine = take_identity_place(file, map, "firmware-at", false, &identify->firmware_place) && fine;
        fine = take_identity_place(file, map, "serial-at", false, &identify->serial_place) && fine;
    }
    return fine;
}

static bool take_store(vd_model_file *file, const yaml_node_t *root)
{
    yaml_file *yaml = &file->yaml;
    vd_store *store = &file->model.store;
    yaml_node_t *map = yaml_member(yaml, root, "store");
    int64_t offset = 0;
    store->order = (vd_order){.word = "", .argument = ""};
    if (map == NULL) {
        return true; /* what is written is stored at once */
    }
    bool fine = yaml_check_keys(yaml, map, keys_store);
    fine = yaml_take_word(yaml, map, "proof", true, words_proof, &store->proof) && fine;
    fine = model_take_order(file, map, &store->order) && fine;
    fine = yaml_take_truth(yaml, map, "restarts", &store->restarts) && fine;
    fine = yaml_take_integer(yaml, map, "bank-offset", store->proof == VD_PROOF_BANK, 1, 0xFFFF, &offset) && fine;
    store->needed = true;
    store->bank_offset = (uint16_t)offset;
    return fine;
}

static bool take_times(vd_model_file *file, const yaml_node_t *root)
{
    yaml_file *yaml = &file->yaml;
    vd_reply *reply = &file->model.reply;
    yaml_node_t *map = yaml_member(yaml, root, "times");
    /* The last column is what holds when the file is silent: gap, from bursts of USB adapters 16 ms apart; broadcast,
     * from the standard's 100 to 200 ms; three tries, since two show chance from habit only poorly. */
    struct {
        const char *key;
        bool needed;
        uint16_t *out;
        int64_t value;
    } times[] = {{"usual-reply", true, &reply->usual, 0},
                 {"longest-reply", true, &reply->longest, 0},
                 {"storing", false, &reply->store, 0},
                 {"busy-wait", false, &reply->busy_wait, 50},
                 {"busy-limit", false, &reply->busy_limit, 3000},
                 {"gap", false, &reply->gap, 20},
                 {"broadcast", false, &reply->broadcast, 100}};
    int64_t tries = 3;
    if (map == NULL) {
        return yaml_note(yaml, root,
                         vd_fault_of_KEY_MISSING("times", "times: {usual-reply: 6 ms, longest-reply: 250 ms}"));
    }
    bool fine = yaml_check_keys(yaml, map, keys_times);
    fine = yaml_take_integer(yaml, map, "tries", false, 1, 20, &tries) && fine;
    for (size_t i = 0; i < G_N_ELEMENTS(times); i++) {
        fine = yaml_take_duration(yaml, map, times[i].key, times[i].needed, 60000, &times[i].value) && fine;
        *times[i].out = (uint16_t)times[i].value;
    }
    reply->tries = (uint8_t)tries;
    return fine;
}

static bool take_limits(vd_model_file *file, const yaml_node_t *root)
{
    yaml_file *yaml = &file->yaml;
    vd_limits *limits = &file->model.limits;
    const yaml_node_t *map = yaml_member(yaml, root, "limits");
    const struct {
        const char *key;
        int64_t most; /* of the standard */
        uint16_t *out;
    } numbers[] = {{"read-registers", VD_MODBUS_MOST_READ, &limits->read_registers},
                   {"write-registers", VD_MODBUS_MOST_WRITE, &limits->write_registers},
                   {"read-bits", VD_MODBUS_MOST_READ_BITS, &limits->read_bits},
                   {"write-bits", VD_MODBUS_MOST_WRITE_BITS, &limits->write_bits}};
    bool single = true;
    if (map == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(yaml, map, keys_limits);
    for (size_t i = 0; i < G_N_ELEMENTS(numbers); i++) {
        int64_t number = 0;
        fine = yaml_take_integer(yaml, map, numbers[i].key, false, 1, numbers[i].most, &number) && fine;
        *numbers[i].out = (uint16_t)number;
    }
    fine = yaml_take_truth(yaml, map, "mask-write", &limits->mask_write) && fine;
    fine = yaml_take_truth(yaml, map, "read-write", &limits->read_write) && fine;
    fine = yaml_take_truth(yaml, map, "single-write", &single) && fine;
    fine = yaml_take_truth(yaml, map, "one-by-one", &limits->one_by_one) && fine;
    limits->no_single = !single;
    return fine;
}

static bool take_holes(vd_model_file *file, const yaml_node_t *root)
{
    gsize count = 0;
    const yaml_node_item_t *items = NULL;
    yaml_file *yaml = &file->yaml;
    bool fine = yaml_take_list(yaml, root, "holes", 1000, &count, &items);
    vd_hole *holes = model_memory(file, count * sizeof *holes);
    uint16_t good = 0;
    for (gsize i = 0; i < count; i++) {
        const yaml_node_t *map = yaml_node(yaml, items[i]), *pair = NULL;
        fine = yaml_check_keys(yaml, map, keys_holes) && fine;
        holes[good].table = 0;
        for (uint8_t table = 0; model_tables[table] != NULL; table++) {
            pair = pair == NULL ? yaml_member(yaml, map, model_tables[table]) : pair;
            holes[good].table =
                pair != NULL && yaml_member(yaml, map, model_tables[table]) == pair ? table : holes[good].table;
        }
        int64_t first = 0, last = 0;
        bool two = pair != NULL && pair->type == YAML_SEQUENCE_NODE &&
                   pair->data.sequence.items.top - pair->data.sequence.items.start == 2;
        const char *from = two ? yaml_text(yaml, yaml_node(yaml, pair->data.sequence.items.start[0]), "first") : NULL;
        const char *to = two ? yaml_text(yaml, yaml_node(yaml, pair->data.sequence.items.start[1]), "last") : NULL;
        if (from == NULL || to == NULL || !g_ascii_string_to_signed(from, 10, 0, 0xFFFF, &first, NULL) ||
            !g_ascii_string_to_signed(to, 10, first, 0xFFFF, &last, NULL)) {
            fine = yaml_note(yaml, pair != NULL ? pair : map,
                             vd_fault_of_WRONG_SHAPE("this hole", "register: [first, last]"));
            continue; /* it counts as not given */
        }
        holes[good].first = (uint16_t)first;
        holes[good++].last = (uint16_t)last;
    }
    file->model.holes = holes;
    file->model.hole_count = good;
    return fine;
}

static bool take_restart(vd_model_file *file, const yaml_node_t *root)
{
    const yaml_node_t *map = yaml_member(&file->yaml, root, "restart");
    int64_t takes = 0;
    bool fine = map == NULL || (yaml_check_keys(&file->yaml, map, keys_restart) &&
                                yaml_take_duration(&file->yaml, map, "takes", true, 3600000, &takes) &&
                                yaml_take_truth(&file->yaml, map, "takes-port", &file->model.takes_port));
    file->model.restart_time = (uint32_t)takes;
    return fine;
}

static bool take_firmware(vd_model_file *file, const yaml_node_t *root)
{
    const char *from = NULL;
    bool fine = yaml_take_text(&file->yaml, root, "firmware", false, &from);
    file->model.firmware = from != NULL ? vd_firmware_parse(from) : 0;
    if (from != NULL && file->model.firmware == 0) {
        return yaml_note(
            &file->yaml, yaml_member(&file->yaml, root, "firmware"),
            vd_fault_of_WRONG_SHAPE(from, "the oldest firmware that this file describes, such as \"1.4\""));
    }
    return fine;
}

static bool take_hand(vd_model_file *file, const yaml_node_t *map, vd_by_hand *hand)
{
    int64_t lasts = 0, hold = 0, limit = 120000;
    bool fine = yaml_take_duration(&file->yaml, map, "hold", false, 60000, &hold);
    fine = model_take_text(file, map, "help", hold > 0, &hand->help) && fine;
    fine = yaml_take_duration(&file->yaml, map, "lasts", false, 86400000, &lasts) && fine;
    fine = yaml_take_duration(&file->yaml, map, "limit", false, 3600000, &limit) && fine;
    hand->hold = (uint32_t)hold;
    hand->limit = (uint32_t)limit;
    hand->lasts = (uint32_t)lasts;
    return fine;
}

static bool take_listening(vd_model_file *file, const yaml_node_t *root)
{
    vd_listening *listening = &file->model.listening;
    const yaml_node_t *map = yaml_member(&file->yaml, root, "listening");
    const yaml_node_t *writing = yaml_member(&file->yaml, map, "writing");
    int64_t after = 0;
    uint8_t again = 0;
    listening->hand.help = listening->writing.help = listening->says = "";
    if (map == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(&file->yaml, map, keys_listening);
    fine = take_hand(file, map, &listening->hand) && fine;
    fine = yaml_take_duration(&file->yaml, map, "after", false, 3600000, &after) && fine;
    fine = model_take_text(file, map, "says", false, &listening->says) && fine;
    fine = yaml_take_word(&file->yaml, map, "again", false, words_again, &again) && fine;
    listening->after = (uint32_t)after;
    listening->anew = again == 1;
    if (writing == NULL) {
        return fine;
    }
    fine = yaml_check_keys(&file->yaml, writing, keys_writing) && fine;
    fine = take_hand(file, writing, &listening->writing) && fine;
    return fine && (listening->writing.hold > 0 || yaml_note_missing(&file->yaml, writing, "hold", "hold: 5 s"));
}

/* A manner that is none is told once: the rest is read as if it was one of lines. */
static const vd_language *as_if(bool talker)
{
    const vd_desk *const *desk = vd_desks;
    while (!(*desk)->language->has_words || (*desk)->language->has_talker != talker) {
        desk++;
    }
    return (*desk)->language;
}

static bool take_manner(vd_model_file *file, const yaml_node_t *map)
{
    const char *names[16] = {NULL};
    uint8_t chosen = UINT8_MAX;
    for (size_t i = 0; vd_desks[i] != NULL && i + 1 < G_N_ELEMENTS(names); i++) {
        names[i] = vd_desks[i]->language->name;
    }
    bool fine = yaml_take_word(&file->yaml, map, "manner", true, names, &chosen);
    if (chosen != UINT8_MAX) {
        file->model.language = vd_desks[chosen]->language;
    }
    return fine;
}

static bool take_speech(vd_model_file *file, const yaml_node_t *root)
{
    yaml_file *yaml = &file->yaml;
    const yaml_node_t *map = yaml_member(yaml, root, "speaks");
    vd_lines *lines = &file->model.lines;
    int64_t longest = 80;
    bool repeats = true;
    lines->talker = "";
    file->model.language = vd_desks[0]->language;
    if (map == NULL) {
        return true;
    }
    bool fine = yaml_check_keys(yaml, map, keys_speaks);
    file->model.language = as_if(yaml_member(yaml, map, "talker") != NULL);
    fine = take_manner(file, map) && fine;
    fine = model_take_text(file, map, "talker", file->model.language->has_talker, &lines->talker) && fine;
    fine = yaml_take_integer(yaml, map, "longest-line", false, 40, VD_LONGEST_LINE, &longest) && fine;
    fine = yaml_take_truth(yaml, map, "several", &lines->several) && fine;
    fine = yaml_take_truth(yaml, map, "echo", &lines->echoes) && fine;
    fine = yaml_take_truth(yaml, map, "repeat-writes", &repeats) && fine;
    lines->longest = (uint16_t)longest;
    lines->writes_once = !repeats;
    return fine;
}

bool model_take_talk(vd_model_file *file, const yaml_node_t *root)
{
    static bool (*const parts[])(vd_model_file *, const yaml_node_t *) = {
        take_speech, take_line,  take_address, take_identify, take_store,    take_times,
        take_limits, take_holes, take_restart, take_firmware, take_listening};
    bool fine = true;
    for (size_t i = 0; i < G_N_ELEMENTS(parts); i++) {
        fine = parts[i](file, root) && fine;
    }
    return fine;
}
