/* SPDX-License-Identifier: MIT
 * The manners in which units talk in lines: which words go where, and how texts say what would end them (V.250 5.4,
 * IEEE 488.2 7.7.5.2, NMEA 0183 5.2.2). */
#include "parts.h"

const vd_manner vd_commands_manner = {.head = "AT",
                                      .between = ";",
                                      .end = "\r",
                                      .before = "+",
                                      .joint = "=",
                                      .asks = "",
                                      .writes = "",
                                      .asked = "?",
                                      .identity = "+GMI;+GMM;+GMR;+GSN",
                                      .escape = "\\",
                                      .reserved = "\"\\",
                                      .record_name = "command +",
                                      .quoted = true,
                                      .results = true,
                                      .around_write = 5}; /* AT+ = CR */

const vd_manner vd_queries_manner = {.head = "",
                                     .between = ";",
                                     .end = "\n",
                                     .before = ":",
                                     .joint = " ",
                                     .asks = "",
                                     .writes = "*CLS;",
                                     .asked = "?",
                                     .identity = "*IDN?",
                                     .escape = "",
                                     .reserved = "",
                                     .record_name = "query :",
                                     .quoted = true,
                                     .queue = true,
                                     .around_write = 18}; /* *CLS;: and ;:SYST:ERR? and LF */

const vd_manner vd_sentences_manner = {.head = "$",
                                       .between = ",",
                                       .end = "\r\n",
                                       .before = "",
                                       .joint = ",",
                                       .asks = ",R",
                                       .writes = ",W",
                                       .asked = "",
                                       .identity = "R,ID",
                                       .escape = "^",
                                       .reserved = "$*,!\\^~",
                                       .record_name = "record ",
                                       .sealed = true,
                                       .around_write = 9}; /* $ ,W, *hh and CR LF */

const vd_manner *vd_manner_of(const vd_model *model)
{
    return model->language->own;
}
