/* SPDX-License-Identifier: MIT
 * The language that each manner of lines is. */
#include "parts.h"

const vd_language vd_commands = {.name = "commands",
                                 .title = "commands in lines, as in ITU-T V.250",
                                 .names_answers = true,
                                 .has_words = true,
                                 .says_unasked = true,
                                 .speech = &vd_lines_speech,
                                 .own = &vd_commands_manner};

const vd_language vd_queries = {.name = "queries",
                                .title = "queries in lines, as in SCPI",
                                .has_words = true,
                                .says_unasked = true,
                                .speech = &vd_lines_speech,
                                .own = &vd_queries_manner};

const vd_language vd_sentences = {.name = "sentences",
                                  .title = "sentences, as in NMEA 0183",
                                  .has_check = true,
                                  .names_answers = true,
                                  .has_words = true,
                                  .has_talker = true,
                                  .says_unasked = true,
                                  .speech = &vd_lines_speech,
                                  .own = &vd_sentences_manner};
