/* SPDX-License-Identifier: MIT
 * What the sweep finds untrue today, with the number of exchanges at which it does. */
{"registers, stored bank", WRITE, F_REQUEST_LOST},                    /* 1 */
    {"registers, stored bank", WRITE, F_REPLY_LOST},                  /* 1 */
    {"registers, stored bank", WRITE, F_DAMAGED},                     /* 1 */
    {"registers, stored bank", WRITE, F_CUT},                         /* 1 */
    {"registers, stored bank", WRITE, F_LATE},                        /* 1 */
    {"registers, stored bank", WRITE, F_NOISE_BEFORE},                /* 1 */
    {"registers, stored bank", WRITE, F_BUSY},                        /* 1 */
    {"registers, stored bank", WRITE, F_REFUSED},                     /* 3 */
    {"registers, stored bank", WRITE, F_NOT_STORED},                  /* 1 */
    {"registers, stored bank", WRITE, F_RESTART_BEFORE},              /* 4 */
    {"registers, stored bank", WRITE, F_RESTART_DURING},              /* 5 */
    {"registers, stored bank", WRITE, F_RESTART_AFTER},               /* 4 */
    {"registers, stored bank", WRITE, F_ANOTHER_UNIT},                /* 21 */
    {"registers, stored bank", WRITE, F_SECOND_UNIT},                 /* 24 */
    {"registers, proof by restart", WRITE, F_REQUEST_LOST},           /* 2 */
    {"registers, proof by restart", WRITE, F_REPLY_LOST},             /* 2 */
    {"registers, proof by restart", WRITE, F_DAMAGED},                /* 2 */
    {"registers, proof by restart", WRITE, F_CUT},                    /* 2 */
    {"registers, proof by restart", WRITE, F_LATE},                   /* 2 */
    {"registers, proof by restart", WRITE, F_NOISE_BEFORE},           /* 1 */
    {"registers, proof by restart", WRITE, F_BUSY},                   /* 2 */
    {"registers, proof by restart", WRITE, F_NOT_STORED},             /* 1 */
    {"registers, proof by restart", WRITE, F_RESTART_BEFORE},         /* 4 */
    {"registers, proof by restart", WRITE, F_RESTART_DURING},         /* 5 */
    {"registers, proof by restart", WRITE, F_RESTART_AFTER},          /* 4 */
    {"registers, proof by restart", WRITE, F_ANOTHER_UNIT},           /* 3 */
    {"registers, proof by restart", WRITE, F_SECOND_UNIT},            /* 18 */
    {"registers, no proof", WRITE, F_REQUEST_LOST},                   /* 1 */
    {"registers, no proof", WRITE, F_REPLY_LOST},                     /* 1 */
    {"registers, no proof", WRITE, F_DAMAGED},                        /* 1 */
    {"registers, no proof", WRITE, F_CUT},                            /* 1 */
    {"registers, no proof", WRITE, F_LATE},                           /* 1 */
    {"registers, no proof", WRITE, F_NOISE_BEFORE},                   /* 1 */
    {"registers, no proof", WRITE, F_BUSY},                           /* 1 */
    {"registers, no proof", WRITE, F_RESTART_BEFORE},                 /* 4 */
    {"registers, no proof", WRITE, F_RESTART_DURING},                 /* 5 */
    {"registers, no proof", WRITE, F_RESTART_AFTER},                  /* 4 */
    {"registers, no proof", WRITE, F_ANOTHER_UNIT},                   /* 3 */
    {"registers, lasting at once", WRITE, F_ANOTHER_UNIT},            /* 12 */
    {"registers, lasting at once", WRITE, F_SECOND_UNIT},             /* 15 */
    {"commands, login and restart", WRITE, F_REQUEST_LOST},           /* 3 */
    {"commands, login and restart", WRITE, F_REPLY_LOST},             /* 3 */
    {"commands, login and restart", WRITE, F_CUT},                    /* 3 */
    {"commands, login and restart", WRITE, F_LATE},                   /* 3 */
    {"commands, lasting at once", WRITE, F_RESTART_DURING},           /* 1 */
    {"commands, lasting at once", WRITE, F_ANOTHER_UNIT},             /* 2 */
    {"queries, lasting at once", WRITE, F_RESTART_DURING},            /* 1 */
    {"queries, lasting at once", WRITE, F_ANOTHER_UNIT},              /* 2 */
    {"sentences, restarts when it has saved", WRITE, F_REQUEST_LOST}, /* 1 */
    {"sentences, restarts when it has saved", WRITE, F_REPLY_LOST},   /* 1 */
    {"sentences, restarts when it has saved", WRITE, F_DAMAGED},      /* 1 */
    {"sentences, restarts when it has saved", WRITE, F_CUT},          /* 1 */
    {"sentences, restarts when it has saved", WRITE, F_LATE},         /* 1 */
    {"sentences, restarts when it has saved", WRITE, F_NOISE_BEFORE}, /* 1 */
    {"sentences, restarts when it has saved", WRITE, F_ROUNDED},      /* 1 */
