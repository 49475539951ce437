#!/usr/bin/env python3
"""Makes order_200_roots.h: the roots of three polynomials of degree 200 and 201 in 80 digits.

Newton's method on the polynomials as they stand, never multiplied out, from the roots that the table
already has (any that are roughly right will do); each must be a root of its own, and together they
must be as many as the degree. Needs mpmath. The networks are those of rational-test.cpp.
"""
import pathlib
import re

import mpmath as mp

mp.mp.dps = 80
M = mp.mpf
TABLE = pathlib.Path(__file__).with_name("order_200_roots.h")


def all_pass(x):
    """Numerator and denominator of the all-pass, and their derivatives by x = 1/z."""
    return (M(0.72) - M(1.6) * x + x * x, 1 - M(1.6) * x + M(0.72) * x * x,
            -M(1.6) + 2 * x, -M(1.6) + 2 * M(0.72) * x)


def phaser(x, with_dry):
    n, d, dn, dd = all_pass(x)
    k, count = M(0.62), 100
    rest = (1 if with_dry else 0) - k * x  # of the numerator's power
    return (d**count + rest * n**count,
            count * d**(count - 1) * dd - k * n**count + rest * count * n**(count - 1) * dn)


def row(first):
    sections = []
    for i in range(50):
        k = float(2 * i + first)
        r = 0.8 + 0.0015 * k
        a1, a2 = -2 * r * (1 - 0.019 * k), r * r
        sections.append((a1 * 0.98, a2 * 0.96, a1, a2))
    return sections


ROWS = row(0), row(1)


def product(sections, first, x):
    value, slope = M(1), M(0)
    for s in sections:
        factor = 1 + M(s[first]) * x + M(s[first + 1]) * x * x
        slope = slope * factor + value * (M(s[first]) + 2 * M(s[first + 1]) * x)
        value *= factor
    return value, slope


def two_rows(x):
    (n0, dn0), (d0, dd0) = product(ROWS[0], 0, x), product(ROWS[0], 2, x)
    (n1, dn1), (d1, dd1) = product(ROWS[1], 0, x), product(ROWS[1], 2, x)
    g = M(-0.75)
    return n0 * d1 + g * n1 * d0, dn0 * d1 + n0 * dd1 + g * (dn1 * d0 + n1 * dd0)


POLYNOMIALS = {
    "phaser_zeros": (lambda x: phaser(x, True), 201),
    "phaser_poles": (lambda x: phaser(x, False), 201),
    "two_rows_zeros": (two_rows, 200),
}


def polished(function, z):
    x = 1 / mp.mpc(z)
    for _ in range(80):
        value, slope = function(x)
        step = value / slope
        x -= step
        if abs(step) < M(10)**-70:
            return 1 / x
    raise SystemExit(f"no root near {z}")


def main():
    text = TABLE.read_text()
    for name, (function, degree) in POLYNOMIALS.items():
        body = re.search(name + r"\[\] = \{\n(.*?)\};", text, re.S).group(1)
        starts = [complex(float(a), float(b)) for a, b in re.findall(r"\{(\S+), (\S+)\}", body)]
        roots = [polished(function, z) for z in starts]
        apart = min(abs(a - b) for i, a in enumerate(roots) for b in roots[:i])
        count = sum(2 if abs(z.imag) > M(10)**-50 else 1 for z in roots)
        if count != degree or apart < 1e-6:
            raise SystemExit(f"{name}: {count} roots, {mp.nstr(apart, 3)} apart")
        lines = "".join(
            f"    {{{mp.nstr(z.real, 20)}, {mp.nstr(z.imag if abs(z.imag) > M(10)**-50 else M(0), 20)}}},\n"
            for z in roots)
        text = text.replace(body, lines)
    TABLE.write_text(text)


main()
