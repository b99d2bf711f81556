/* SPDX-License-Identifier: MIT
 * Exact numbers: fractions of 64-bit numbers. What does not fit is said not to fit. */
#include "exact.h"
#include "value_parts.h"

static uint64_t size_of(int64_t number)
{
    return number < 0 ? 0 - (uint64_t)number : (uint64_t)number;
}

uint64_t vd_common_divisor(uint64_t a, uint64_t b)
{
    while (b != 0) {
        uint64_t rest = a % b;
        a = b;
        b = rest;
    }
    return a;
}

/* INT64_MIN is left out, so that every number has its negative. */
static bool fits_product(int64_t a, int64_t b, int64_t *product)
{
    if (a != 0 && b != 0 && size_of(a) > (uint64_t)INT64_MAX / size_of(b)) {
        return false;
    }
    *product = a * b;
    return true;
}

bool vd_ratio_make(int64_t number, int64_t below, vd_ratio *result)
{
    if (below == 0 || number == INT64_MIN || below == INT64_MIN) {
        return false;
    }
    int64_t divisor = (int64_t)vd_common_divisor(size_of(number), size_of(below));
    divisor = below < 0 ? -divisor : divisor;
    *result = (vd_ratio){number / divisor, below / divisor};
    return true;
}

bool vd_ratio_add(vd_ratio a, vd_ratio b, vd_ratio *result)
{
    int64_t divisor = (int64_t)vd_common_divisor((uint64_t)a.below, (uint64_t)b.below), left = 0, right = 0, below = 0;
    if (!fits_product(a.number, b.below / divisor, &left) || !fits_product(b.number, a.below / divisor, &right) ||
        !fits_product(a.below, b.below / divisor, &below)) {
        return false;
    }
    if ((right > 0 && left > INT64_MAX - right) || (right < 0 && left < -INT64_MAX - right)) {
        return false;
    }
    return vd_ratio_make(left + right, below, result);
}

bool vd_ratio_multiply(vd_ratio a, vd_ratio b, vd_ratio *result)
{
    vd_ratio cross_a, cross_b;
    if (!vd_ratio_make(a.number, b.below, &cross_a) || !vd_ratio_make(b.number, a.below, &cross_b)) {
        return false;
    }
    return fits_product(cross_a.number, cross_b.number, &result->number) &&
           fits_product(cross_a.below, cross_b.below, &result->below);
}

bool vd_ratio_divide(vd_ratio a, vd_ratio b, vd_ratio *result)
{
    vd_ratio turned;
    return b.number != 0 && vd_ratio_make(b.below, b.number, &turned) && vd_ratio_multiply(a, turned, result);
}

/* The 128-bit product of two 64-bit numbers. */
static void multiply_long(uint64_t a, uint64_t b, uint64_t *high, uint64_t *low)
{
    uint64_t a_low = (uint32_t)a, a_high = a >> 32, b_low = (uint32_t)b, b_high = b >> 32;
    uint64_t low_low = a_low * b_low, middle = a_high * b_low + (low_low >> 32);
    uint64_t other = a_low * b_high + (uint32_t)middle;
    *high = a_high * b_high + (middle >> 32) + (other >> 32);
    *low = other << 32 | (uint32_t)low_low;
}

int vd_ratio_compare(vd_ratio a, vd_ratio b)
{
    if ((a.number < 0) != (b.number < 0)) {
        return a.number < 0 ? -1 : 1;
    }
    uint64_t left_high, left_low, right_high, right_low;
    multiply_long(size_of(a.number), (uint64_t)b.below, &left_high, &left_low);
    multiply_long(size_of(b.number), (uint64_t)a.below, &right_high, &right_low);
    int order =
        left_high != right_high ? (left_high < right_high ? -1 : 1) : (left_low > right_low) - (left_low < right_low);
    return a.number < 0 ? -order : order;
}

void vd_ratio_print(vd_ratio ratio, vd_writer *writer)
{
    unsigned places = 0;
    int64_t whole = ratio.number / ratio.below, rest = ratio.number % ratio.below;
    int64_t scaled = whole;
    while (rest != 0 && places < 3 && size_of(scaled) < (uint64_t)INT64_MAX / 100 &&
           size_of(rest) < (uint64_t)INT64_MAX / 10) {
        scaled = scaled * 10 + rest * 10 / ratio.below;
        rest = rest * 10 % ratio.below;
        places++;
    }
    if (size_of(rest) >= (uint64_t)ratio.below - size_of(rest)) { /* half and more away from nothing */
        scaled += ratio.number < 0 ? -1 : 1;
    }
    while (places > 0 && scaled % 10 == 0) {
        scaled /= 10;
        places--;
    }
    vd_writer_add_decimal(writer, scaled, places);
}
