/* SPDX-License-Identifier: MIT
 * The structures of a model, field by field, in the order in which they are declared. Where one is forgotten, the
 * tables that are written compile with a warning at least; where two stand the wrong way round, they are not the same
 * again (tests/tables_test.sh, tests/test_tables.c). */
#include "tables.h"

#include "verdite/compiled.h"

/* clang-format off */
#define AT(type, field) .at = offsetof(type, field), .size = sizeof(((type *)0)->field) /* NOLINT(bugprone-sizeof-expression) */
#define AS_MANY(type, count) .count_at = offsetof(type, count), .count_size = sizeof(((type *)0)->count)
#define NUMBER(type, field) {.kind = TABLE_NUMBER, AT(type, field)}
#define SIGNED(type, field) {.kind = TABLE_SIGNED, AT(type, field)}
#define TRUTH(type, field) {.kind = TABLE_TRUTH, AT(type, field)}
#define TEXT(type, field) {.kind = TABLE_TEXT, AT(type, field)}
#define WORDS(type, field) {.kind = TABLE_WORDS, AT(type, field)}
#define SOURCE(type, field) {.kind = TABLE_SOURCE, AT(type, field)}
#define SETTING(type, field) {.kind = TABLE_SETTING, AT(type, field)}
#define POWERS(type, field) {.kind = TABLE_POWERS, AT(type, field)}
#define OWN(type, field, what) {.kind = TABLE_OWN, AT(type, field), .own = OWN_##what}
#define STRUCT(type, field, which) {.kind = TABLE_STRUCT, AT(type, field), .of = &shape_##which}
#define REF(type, field) STRUCT(type, field, ref)
#define ONE(type, field, which) {.kind = TABLE_ONE, AT(type, field), .of = &shape_##which}
#define BYTES(type, field, count) {.kind = TABLE_BYTES, AT(type, field), AS_MANY(type, count)}
#define TEXTS(type, field, count) {.kind = TABLE_TEXTS, AT(type, field), AS_MANY(type, count)}
#define NUMBERS(type, field, count) \
    {.kind = TABLE_NUMBERS, .at = offsetof(type, field), .size = sizeof *((type *)0)->field, AS_MANY(type, count)}
#define PARTED(type, field, which, count, whose) \
    {.kind = TABLE_LIST, AT(type, field), AS_MANY(type, count), .of = &shape_##which, .part = whose}
#define LIST(type, field, which, count) PARTED(type, field, which, count, PART_ALL)
#define FOR_PEOPLE(type, field, which, count) PARTED(type, field, which, count, PART_WORDS)
#define OF_ALARMS(type, field, which, count) PARTED(type, field, which, count, PART_ALARMS)
#define TABLE(linkage, short, type, ...)                                                                               \
    static const table_field fields_of_##short[] = {__VA_ARGS__};                                                      \
    linkage const table_shape shape_##short = {#type, sizeof(type), fields_of_##short, G_N_ELEMENTS(fields_of_##short)}

TABLE(static, ref, vd_ref,
    NUMBER(vd_ref, number));
TABLE(static, group, vd_group,
    WORDS(vd_group, key), WORDS(vd_group, label));
TABLE(static, line, vd_serial,
    NUMBER(vd_serial, baud), NUMBER(vd_serial, data_bits), NUMBER(vd_serial, parity), NUMBER(vd_serial, stop_bits));
TABLE(static, place, vd_place,
    NUMBER(vd_place, table), NUMBER(vd_place, form), NUMBER(vd_place, order), NUMBER(vd_place, words),
    NUMBER(vd_place, address), NUMBER(vd_place, low_bit), NUMBER(vd_place, bits));
TABLE(static, field, vd_field,
    TEXT(vd_field, word), NUMBER(vd_field, item), NUMBER(vd_field, number), NUMBER(vd_field, saying));
TABLE(static, order, vd_order,
    TEXT(vd_order, word), TEXT(vd_order, argument), NUMBER(vd_order, address), NUMBER(vd_order, value));
TABLE(static, cause, vd_cause,
    WORDS(vd_cause, who), WORDS(vd_cause, help), NUMBER(vd_cause, lasts), NUMBER(vd_cause, effect));
TABLE(static, causes, vd_causes,
    LIST(vd_causes, list, cause, count), NUMBER(vd_causes, count));
TABLE(, unnamed_choice, vd_choice,
    WORDS(vd_choice, name), WORDS(vd_choice, label), SIGNED(vd_choice, number));
TABLE(, choice, vd_choice,
    TEXT(vd_choice, name), WORDS(vd_choice, label), SIGNED(vd_choice, number));
TABLE(static, edition, vd_edition,
    TEXT(vd_edition, variant), NUMBER(vd_edition, from), NUMBER(vd_edition, below), SIGNED(vd_edition, min),
    SIGNED(vd_edition, max), SIGNED(vd_edition, step), SIGNED(vd_edition, initial), BYTES(vd_edition, initial_text, initial),
    LIST(vd_edition, choices, choice, choice_count), NUMBER(vd_edition, choice_count),
    TRUTH(vd_edition, has_initial));
TABLE(static, likeness, vd_likeness,
    SIGNED(vd_likeness, number), SETTING(vd_likeness, of));
TABLE(static, motion, vd_motion,
    SIGNED(vd_motion, low), SIGNED(vd_motion, high), SIGNED(vd_motion, gains), NUMBER(vd_motion, period),
    NUMBER(vd_motion, way), NUMBER(vd_motion, taken_off), NUMBER(vd_motion, added));
TABLE(, setting_words, vd_setting_words,
    WORDS(vd_setting_words, key), WORDS(vd_setting_words, label), WORDS(vd_setting_words, help),
    WORDS(vd_setting_words, example), SOURCE(vd_setting_words, when), WORDS(vd_setting_words, because));
TABLE(static, setting, vd_setting,
    OWN(vd_setting, words, SETTING_WORDS), OWN(vd_setting, traits, TYPE), TEXT(vd_setting, measure),
    WORDS(vd_setting, spellings), LIST(vd_setting, choices, choice, choice_count), TEXT(vd_setting, alphabet),
    TEXT(vd_setting, pattern), BYTES(vd_setting, initial_text, initial), SIGNED(vd_setting, min), SIGNED(vd_setting, max),
    SIGNED(vd_setting, step), SIGNED(vd_setting, initial), SIGNED(vd_setting, tolerance), SIGNED(vd_setting, scale),
    SIGNED(vd_setting, offset), NUMBER(vd_setting, tick), NUMBER(vd_setting, choice_count),
    REF(vd_setting, places_from), REF(vd_setting, zone_from), SIGNED(vd_setting, zone),
    NUMBER(vd_setting, like_count), LIST(vd_setting, like, likeness, like_count),
    NUMBERS(vd_setting, sets, set_count), NUMBER(vd_setting, set_count), STRUCT(vd_setting, causes, causes),
    LIST(vd_setting, editions, edition, edition_count), NUMBER(vd_setting, edition_count), NUMBER(vd_setting, least),
    NUMBER(vd_setting, length), REF(vd_setting, block), NUMBER(vd_setting, item), NUMBER(vd_setting, access),
    NUMBER(vd_setting, read_by), NUMBER(vd_setting, written_by), NUMBER(vd_setting, role), NUMBER(vd_setting, group),
    NUMBER(vd_setting, places), TRUTH(vd_setting, conditional), TRUTH(vd_setting, has_initial),
    TRUTH(vd_setting, gives_places), TRUTH(vd_setting, essential), TRUTH(vd_setting, secret), TRUTH(vd_setting, own),
    TRUTH(vd_setting, placeholder), TRUTH(vd_setting, or_empty), TRUTH(vd_setting, once), NUMBER(vd_setting, keeps),
    NUMBER(vd_setting, check), NUMBER(vd_setting, among), STRUCT(vd_setting, place, place),
    STRUCT(vd_setting, field, field), ONE(vd_setting, motion, motion));
TABLE(static, block, vd_block,
    WORDS(vd_block, key), WORDS(vd_block, label), NUMBER(vd_block, first), NUMBER(vd_block, count),
    NUMBER(vd_block, members), REF(vd_block, outer), NUMBER(vd_block, outer_item));
TABLE(static, own_measure, vd_own_measure,
    WORDS(vd_own_measure, sign), WORDS(vd_own_measure, of), WORDS(vd_own_measure, spellings),
    SIGNED(vd_own_measure, number), SIGNED(vd_own_measure, below));
TABLE(static, spot, vd_spot,
    REF(vd_spot, setting), NUMBER(vd_spot, stride));
TABLE(static, rule, vd_rule,
    SOURCE(vd_rule, when), SOURCE(vd_rule, must), SOURCE(vd_rule, say), LIST(vd_rule, blame, spot, blame_count),
    NUMBER(vd_rule, blame_count), REF(vd_rule, block), NUMBER(vd_rule, severity), NUMBER(vd_rule, enforced));
TABLE(static, variant, vd_variant,
    TEXT(vd_variant, key), WORDS(vd_variant, label), TEXT(vd_variant, product));
TABLE(static, ability, vd_ability,
    WORDS(vd_ability, key), WORDS(vd_ability, label), WORDS(vd_ability, words), SIGNED(vd_ability, number),
    WORDS(vd_ability, variant));
TABLE(static, action, vd_action,
    TEXT(vd_action, key), WORDS(vd_action, label), WORDS(vd_action, help), STRUCT(vd_action, order, order), STRUCT(vd_action, causes, causes),
    NUMBER(vd_action, takes), NUMBER(vd_action, deed));
TABLE(static, preset, vd_preset,
    TEXT(vd_preset, key), WORDS(vd_preset, label), WORDS(vd_preset, help),
    NUMBERS(vd_preset, settings, setting_count), TEXTS(vd_preset, values, setting_count),
    NUMBER(vd_preset, setting_count));
TABLE(static, topic, vd_topic,
    WORDS(vd_topic, label), WORDS(vd_topic, text));
TABLE(static, errand, vd_errand,
    WORDS(vd_errand, label), WORDS(vd_errand, help), WORDS(vd_errand, who),
    NUMBERS(vd_errand, settings, setting_count), NUMBER(vd_errand, setting_count));
TABLE(static, hole, vd_hole,
    NUMBER(vd_hole, table), NUMBER(vd_hole, first), NUMBER(vd_hole, last));
TABLE(static, channel, vd_channel,
    TEXT(vd_channel, key), WORDS(vd_channel, label), WORDS(vd_channel, called), WORDS(vd_channel, more),
    WORDS(vd_channel, less), REF(vd_channel, reads), REF(vd_channel, wired), NUMBER(vd_channel, flag),
    NUMBER(vd_channel, holds_for));
TABLE(static, formula, vd_formula,
    OWN(vd_formula, text, STATE), REF(vd_formula, block), NUMBER(vd_formula, gives));
TABLE(static, test, vd_test,
    REF(vd_test, counts), REF(vd_test, limit), REF(vd_test, upper), REF(vd_test, release),
    REF(vd_test, window), NUMBER(vd_test, per), NUMBER(vd_test, way));
TABLE(static, source, vd_source,
    REF(vd_source, channel), TRUTH(vd_source, by_item), STRUCT(vd_source, chooser, spot));
TABLE(static, condition, vd_condition,
    WORDS(vd_condition, key), STRUCT(vd_condition, watches, source), REF(vd_condition, block),
    NUMBER(vd_condition, test), NUMBER(vd_condition, test_count));
TABLE(static, reaction, vd_reaction,
    WORDS(vd_reaction, key), WORDS(vd_reaction, says), REF(vd_reaction, does), TRUTH(vd_reaction, tells));
TABLE(static, alarm, vd_alarm,
    WORDS(vd_alarm, key), WORDS(vd_alarm, label), REF(vd_alarm, block), STRUCT(vd_alarm, name, spot),
    REF(vd_alarm, used), REF(vd_alarm, matters), WORDS(vd_alarm, idle), STRUCT(vd_alarm, watches, source),
    NUMBER(vd_alarm, test), NUMBER(vd_alarm, test_count), REF(vd_alarm, delay_in), REF(vd_alarm, delay_out),
    REF(vd_alarm, hush), REF(vd_alarm, latches), REF(vd_alarm, longest), REF(vd_alarm, rest),
    NUMBER(vd_alarm, cleared_by), TRUTH(vd_alarm, clears_always), TRUTH(vd_alarm, any_condition),
    TRUTH(vd_alarm, holds), NUMBERS(vd_alarm, conditions, condition_count), NUMBER(vd_alarm, condition_count),
    NUMBER(vd_alarm, joint), NUMBERS(vd_alarm, members, member_count), NUMBER(vd_alarm, member_count),
    LIST(vd_alarm, reactions, reaction, reaction_count), NUMBER(vd_alarm, reaction_count),
    STRUCT(vd_alarm, tells, spot), REF(vd_alarm, people), REF(vd_alarm, person), REF(vd_alarm, number),
    STRUCT(vd_alarm, text, spot), STRUCT(vd_alarm, shown, spot), NUMBER(vd_alarm, flag), TEXT(vd_alarm, says_stands),
    TEXT(vd_alarm, says_ends));
TABLE(static, identify, vd_identify,
    NUMBER(vd_identify, way), TEXT(vd_identify, maker), TEXT(vd_identify, product),
    NUMBER(vd_identify, serial_object), STRUCT(vd_identify, maker_place, place),
    STRUCT(vd_identify, product_place, place), STRUCT(vd_identify, firmware_place, place),
    STRUCT(vd_identify, serial_place, place));
TABLE(static, store, vd_store,
    TRUTH(vd_store, needed), STRUCT(vd_store, order, order),
    TRUTH(vd_store, restarts), NUMBER(vd_store, proof), NUMBER(vd_store, bank_offset));
TABLE(static, reply, vd_reply,
    NUMBER(vd_reply, usual), NUMBER(vd_reply, longest), NUMBER(vd_reply, store), NUMBER(vd_reply, busy_wait),
    NUMBER(vd_reply, busy_limit), NUMBER(vd_reply, gap), NUMBER(vd_reply, broadcast), NUMBER(vd_reply, tries));
TABLE(static, limits, vd_limits,
    NUMBER(vd_limits, read_registers), NUMBER(vd_limits, write_registers), NUMBER(vd_limits, read_bits),
    NUMBER(vd_limits, write_bits), TRUTH(vd_limits, mask_write), TRUTH(vd_limits, read_write),
    TRUTH(vd_limits, one_by_one), TRUTH(vd_limits, no_single));
TABLE(static, login, vd_login,
    WORDS(vd_login, help), STRUCT(vd_login, order, order), REF(vd_login, setting),
    REF(vd_login, left), NUMBER(vd_login, lasts), NUMBER(vd_login, tries), NUMBER(vd_login, refusal),
    TRUTH(vd_login, recoverable), TRUTH(vd_login, may_be_none));
TABLE(static, by_hand, vd_by_hand,
    WORDS(vd_by_hand, help), NUMBER(vd_by_hand, hold), NUMBER(vd_by_hand, lasts), NUMBER(vd_by_hand, limit));
TABLE(static, listening, vd_listening,
    STRUCT(vd_listening, hand, by_hand), STRUCT(vd_listening, writing, by_hand), TEXT(vd_listening, says),
    NUMBER(vd_listening, after), TRUTH(vd_listening, anew));
TABLE(static, slots, vd_slots,
    WORDS(vd_slots, label), NUMBERS(vd_slots, holds, hold_count), NUMBERS(vd_slots, begin, count),
    NUMBER(vd_slots, writable), STRUCT(vd_slots, order, order),
    NUMBER(vd_slots, hold_count), REF(vd_slots, chosen_by), REF(vd_slots, fallback), NUMBER(vd_slots, fixed),
    NUMBER(vd_slots, count), TRUTH(vd_slots, saved));
TABLE(static, lines, vd_lines,
    TEXT(vd_lines, talker), NUMBER(vd_lines, longest), TRUTH(vd_lines, several), TRUTH(vd_lines, writes_once),
    TRUTH(vd_lines, echoes));
TABLE(, model, vd_model,
    TEXT(vd_model, key), WORDS(vd_model, title), WORDS(vd_model, summary),
    LIST(vd_model, groups, group, group_count), LIST(vd_model, settings, setting, setting_count),
    LIST(vd_model, blocks, block, block_count), FOR_PEOPLE(vd_model, measures, own_measure, measure_count),
    LIST(vd_model, rules, rule, rule_count), LIST(vd_model, variants, variant, variant_count),
    FOR_PEOPLE(vd_model, abilities, ability, ability_count), LIST(vd_model, actions, action, action_count),
    LIST(vd_model, presets, preset, preset_count), FOR_PEOPLE(vd_model, topics, topic, topic_count),
    FOR_PEOPLE(vd_model, errands, errand, errand_count), LIST(vd_model, holes, hole, hole_count),
    OF_ALARMS(vd_model, channels, channel, channel_count), OF_ALARMS(vd_model, formulas, formula, formula_count),
    OF_ALARMS(vd_model, tests, test, test_count), OF_ALARMS(vd_model, conditions, condition, condition_count),
    OF_ALARMS(vd_model, alarms, alarm, alarm_count), OWN(vd_model, intervals, NOTHING),
    OWN(vd_model, language, LANGUAGE), OWN(vd_model, book, BOOK),
    STRUCT(vd_model, line, line), NUMBER(vd_model, dtr), NUMBER(vd_model, rts), NUMBER(vd_model, setting_count),
    NUMBER(vd_model, hole_count), NUMBER(vd_model, rule_count), NUMBER(vd_model, block_count),
    NUMBER(vd_model, formula_count), NUMBER(vd_model, test_count), NUMBER(vd_model, channel_count),
    NUMBER(vd_model, condition_count), NUMBER(vd_model, alarm_count), NUMBER(vd_model, preset_count),
    NUMBER(vd_model, measure_count), NUMBER(vd_model, group_count), NUMBER(vd_model, variant_count),
    NUMBER(vd_model, ability_count), NUMBER(vd_model, action_count), NUMBER(vd_model, topic_count),
    NUMBER(vd_model, errand_count), NUMBER(vd_model, address_low), NUMBER(vd_model, address_high),
    NUMBER(vd_model, address_factory), TRUTH(vd_model, address_shared), NUMBER(vd_model, restart_time),
    REF(vd_model, running), REF(vd_model, undone), NUMBER(vd_model, undoes), NUMBER(vd_model, link_from),
    TRUTH(vd_model, takes_port), NUMBER(vd_model, firmware), STRUCT(vd_model, identify, identify),
    STRUCT(vd_model, store, store), STRUCT(vd_model, reply, reply), STRUCT(vd_model, limits, limits),
    STRUCT(vd_model, login, login), STRUCT(vd_model, listening, listening), STRUCT(vd_model, slots, slots),
    STRUCT(vd_model, lines, lines));
TABLE(, code, vd_code,
    NUMBER(vd_code, first), NUMBER(vd_code, count));
TABLE(static, dimension, vd_dimension,
    POWERS(vd_dimension, power), TEXT(vd_dimension, own));
TABLE(static, kind, vd_kind,
    NUMBER(vd_kind, is), STRUCT(vd_kind, spot, spot), STRUCT(vd_kind, dimension, dimension),
    TEXT(vd_kind, sign));
TABLE(, rule_code, vd_rule_code,
    STRUCT(vd_rule_code, must, code), STRUCT(vd_rule_code, when, code), NUMBER(vd_rule_code, shown));
TABLE(, term, vd_term,
    STRUCT(vd_term, code, code), STRUCT(vd_term, kind, kind));
TABLE(, instruction, vd_instruction,
    SIGNED(vd_instruction, number), NUMBER(vd_instruction, a), NUMBER(vd_instruction, b),
    NUMBER(vd_instruction, op));
/* clang-format on */
