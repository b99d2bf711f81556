/* SPDX-License-Identifier: MIT
 * What the sweep finds untrue today, with the number of exchanges at which it does. */
