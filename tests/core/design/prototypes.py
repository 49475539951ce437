#!/usr/bin/env python3
"""Makes prototypes_table.h: poles and zeros of low-pass prototypes in 50 digits, with mpmath.

Other ways than the program's: elliptic filters by theta functions, from the nome, not by Landen
transformations; the searched families from their polynomials' coefficients, in 120 digits.
"""
import pathlib

import mpmath as mp

mp.mp.dps = 60
M = mp.mpf
ORDERS = (1, 2, 3, 4, 5, 8, 13, 20, 33, 50)


def ripple(db):
    return mp.sqrt(M(10)**(M(db) / 10) - 1)


def places(order):
    return [M(2 * i - 1) / order for i in range(1, order // 2 + 1)]


def ellipse(order, a, b):
    upper = [mp.mpc(-a * mp.sin(u * mp.pi / 2), b * mp.cos(u * mp.pi / 2)) for u in places(order)]
    return upper + ([mp.mpc(-a, 0)] if order % 2 else [])


def butterworth(order):
    return [], ellipse(order, M(1), M(1))


def chebyshev(order, db):
    a = mp.asinh(1 / ripple(db)) / order
    return [], ellipse(order, mp.sinh(a), mp.cosh(a))


def inverse_chebyshev(order, db):
    a = mp.asinh(ripple(db)) / order
    poles = [1 / mp.conj(p) for p in ellipse(order, mp.sinh(a), mp.cosh(a))]
    return [mp.mpc(0, 1 / mp.cos(u * mp.pi / 2)) for u in places(order)], poles


def elliptic(order, pass_db, stop_db):
    k1 = ripple(pass_db) / ripple(stop_db)
    q = mp.qfrom(k=k1)**(M(1) / order)
    k = mp.kfrom(q=q)
    m, big = k**2, mp.ellipk(k**2)
    # sn(j w) = j sc(w, k1'), so w is an incomplete integral of the first kind.
    w = mp.ellipf(mp.atan(1 / ripple(pass_db)), 1 - k1**2) / mp.ellipk(k1**2) / order
    zeros = [mp.mpc(0, 1 / (k * mp.ellipfun("cd", u * big, m=m))) for u in places(order)]
    poles = [1j * mp.ellipfun("cd", (u - 1j * w) * big, m=m) for u in places(order)]
    if order % 2:
        poles.append(mp.mpc((1j * mp.ellipfun("sn", 1j * w * big, m=m)).real, 0))
    return zeros, poles


def roots_of(coefficients):
    """Of sum c[k] x^k."""
    with mp.workdps(120):
        return mp.polyroots(coefficients[::-1], maxsteps=1000, extraprec=400)


def upper(poles):
    return [mp.mpc(p.real, p.imag if abs(p.imag) > M(10)**-40 else 0) for p in poles
            if p.imag > -M(10)**-40]


def half_power(poles):
    """Where the product of |1 - jw/pole|^2 is 2."""
    power = lambda w: mp.fprod(abs(1 - 1j * w / p)**2 for p in poles) - 2
    high = M(1)
    while power(high) < 0:
        high *= 2
    return mp.findroot(power, (high / 1000, high), solver="anderson", tol=M(10)**-55, maxsteps=500)


def bessel_delay(order):
    f = mp.factorial
    return roots_of([f(2 * order - k) / (f(order - k) * f(k) * M(2)**(order - k))
                     for k in range(order + 1)])


def bessel_level(order):
    poles = bessel_delay(order)
    edge = half_power(poles)
    return [p / edge for p in poles]


def left(squares):
    """The left one of each two square roots."""
    return [-mp.sqrt(z) for z in squares]


def gaussian(order):
    poles = left([-x for x in roots_of([1 / mp.factorial(k) for k in range(order + 1)])])
    edge = half_power(poles)
    return [p / edge for p in poles]


def times(a, b):
    c = [M(0)] * (len(a) + len(b) - 1)
    for i, x in enumerate(a):
        for j, y in enumerate(b):
            c[i + j] += x * y
    return c


def legendre(order):
    with mp.workdps(120):
        k = (order - 1) // 2
        sum_of = [M(0)] * (k + 1)
        for i in range(k + 1):
            if order % 2 == 1 or i % 2 == k % 2:
                weight = (2 * i + 1) / (mp.sqrt(2) * (k + 1) if order % 2 else
                                        mp.sqrt((k + 1) * (k + 2)))
                for j, c in enumerate(mp.taylor(lambda x: mp.legendre(i, x), 0, i)):
                    sum_of[j] += weight * mp.nint(c * 2**i) / M(2)**i
        integrand = times(sum_of, sum_of)
        if order % 2 == 0:
            integrand = times(integrand, [1, 1])
        whole = [M(0)] + [c / (j + 1) for j, c in enumerate(integrand)]
        whole[0] = 1 - sum(c * (-1)**j for j, c in enumerate(whole))
        return left([-(v + 1) / 2 for v in roots_of(whole)])


def main():
    out = """// Poles and zeros of prototypes in 50 digits, the upper one of each pair. Made by prototypes.py.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace syntonon::prototypes {

enum class Family { butterworth, chebyshev, inverse_chebyshev, elliptic, bessel_delay,
                    bessel_level, legendre, gaussian };

struct Root {
    Family family;
    int order;
    double pass_ripple_db, stop_attenuation_db; // 0 where the family has none
    bool is_zero;
    double re, im;
};

inline constexpr Root roots[] = {
"""
    for order in ORDERS:
        for family, passed, stopped, found in (
                ("butterworth", 0, 0, butterworth(order)),
                ("chebyshev", 0.01, 0, chebyshev(order, 0.01)),
                ("chebyshev", 3, 0, chebyshev(order, 3)),
                ("inverse_chebyshev", 0, 60, inverse_chebyshev(order, 60)),
                ("elliptic", 0.5, 60, elliptic(order, 0.5, 60)),
                ("elliptic", 0.01, 140, elliptic(order, 0.01, 140)),
                ("bessel_delay", 0, 0, ([], upper(bessel_delay(order)))),
                ("bessel_level", 0, 0, ([], upper(bessel_level(order)))),
                ("legendre", 0, 0, ([], upper(legendre(order)))),
                ("gaussian", 0, 0, ([], upper(gaussian(order))))):
            for is_zero, roots in ((True, found[0]), (False, found[1])):
                for z in roots:
                    out += "    {{Family::{}, {}, {}, {}, {}, {}, {}}},\n".format(
                        family, order, passed, stopped, "true" if is_zero else "false",
                        mp.nstr(z.real, 25), mp.nstr(z.imag, 25))
    out += "};\n\n} // namespace syntonon::prototypes\n"
    pathlib.Path(__file__).with_name("prototypes_table.h").write_text(out)


main()
