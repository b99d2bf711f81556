/* SPDX-License-Identifier: MIT
 * What to type next, by fault. The library knows no tool; its words say what happened and what it means. */
#include "print.h"
#include "verdite/text.h"

/* No advice names what was given already. */
static char *hint_of_silence(const cli *c)
{
    return g_strdup(!c->options.wide && !c->options.slow
                        ? "--wide tries all speeds and framings, --slow asks every address with patience."
                    : !c->options.wide ? "--wide tries all speeds and framings."
                    : !c->options.slow ? "--slow asks every address with patience."
                                       : "");
}

char *hint_of(const cli *c, const vd_fault *fault)
{
    static const struct {
        vd_status status;
        const char *words; /* "%d" stands for the speed that was heard */
    } hints[] = {
        {VD_FILE_THERE, "With --save or --chart, --replace replaces it."},
        {VD_SEVERAL_PORTS, "Choose with --port."},
        {VD_NO_PORT, "To list the ports: verdite ports"},
        {VD_NO_SUCH_MODEL, "For another one give its file, such as --model my-unit.yaml. All models: verdite model"},
        {VD_SAME_IDENTITY, "Name it with --model."},
        {VD_WOULD_HEAR, "Or leave --at-once out."},
        {VD_NOTHING_CUT_OFF, "All visits: verdite history"},
        {VD_OTHER_MODEL, "To see who is there: verdite find"},
        {VD_NO_REPLY, "To find the cause: verdite diagnose"},
        {VD_NO_ANSWER, "To find the cause: verdite diagnose"},
        {VD_LINE_ERRORS, "To find the cause: verdite diagnose"},
        {VD_NO_SENSE, "To see who is there: verdite find"},
        {VD_REFUSED_RIGHT,
         "You are asked for the password. It can also come from VERDITE_PASSWORD or --password-from FILE."},
        {VD_LOGIN_NEEDED, "Give it when you are asked, in VERDITE_PASSWORD, or with --password-from FILE."},
        {VD_NOBODY_KNOWN, "Name its model with --model."},
        {VD_SPEED_LOWER, "Try --baud %d."},
        {VD_GARBLED, "To try other speeds: verdite find"},
        {VD_ADDRESS_SHARED, "Then: verdite find"},
        {VD_ADDRESS_SHARED_BY, "Then: verdite find"},
        {VD_ADDRESS_TAKEN, "To see who is there: verdite find"},
        {VD_OTHER_UNIT_NOW, "To see who is there: verdite find"},
        {VD_WRONG_UNIT, "To see who is there: verdite find"},
    };
    if (fault->status == VD_SILENT_LINE) {
        return hint_of_silence(c);
    }
    for (size_t i = 0; i < G_N_ELEMENTS(hints); i++) {
        char *own = c->command != NULL ? g_strdup_printf("verdite %s", c->command->name) : g_strdup("?");
        bool here = g_str_has_suffix(hints[i].words, own); /* no advice names what is being done */
        g_free(own);
        if (hints[i].status == fault->status && !here) {
            char **parts = g_strsplit(hints[i].words, "%d", 2);
            char *speed = g_strdup_printf("%d", fault->number[0]), *words = g_strjoinv(speed, parts);
            g_strfreev(parts);
            g_free(speed);
            return words;
        }
    }
    return g_strdup("");
}

char *cli_quotable(const char *word)
{
    return g_strndup(word, vd_text_line(word, MIN(strlen(word), 40)));
}
