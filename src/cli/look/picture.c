/* SPDX-License-Identifier: MIT
 * The file that a picture goes into. */
#include "look.h"
#include "../print/print.h"

#include <glib/gstdio.h>

bool picture_is_svg(const cli *c)
{
    return c->options.chart != NULL && g_str_has_suffix(c->options.chart, ".svg");
}

bool picture_check(cli *c)
{
    const char *path = c->options.chart;
    if (path == NULL || picture_is_svg(c) || g_str_has_suffix(path, ".png")) {
        GStatBuf chart, log;
        if (path != NULL && c->options.log != NULL && g_stat(path, &chart) == 0 && g_stat(c->options.log, &log) == 0 &&
            chart.st_dev == log.st_dev && chart.st_ino == log.st_ino) {
            report_wrong_words(c, "The chart would replace the log.", "Give it another name.");
            return false;
        }
        bool there = path != NULL && !c->options.replace && g_file_test(path, G_FILE_TEST_EXISTS);
        if (there) {
            report_new(c, vd_fault_of_FILE_THERE(path));
        }
        return !there;
    }
    report_wrong_words(c, "A chart is a .png or .svg file.", "For example: --chart days.png");
    return false;
}

void picture_keep(cli *c, const char *picture, size_t length, vd_fault *fault)
{
    vd_class worst = c->worst;
    if (fault->status == VD_OK) {
        const vd_file_text text = {picture, length, false};
        if ((c->options.replace ? vd_file_save : vd_file_create)(c->options.chart, &text, fault) == VD_OK) {
            message(c, "Drawn as %s", c->options.chart);
        }
    }
    if (fault->status != VD_OK) {
        report(c, fault);
        c->worst = fault->status == VD_NO_GNUPLOT ? worst : c->worst; /* the table stands all the same */
    }
}
