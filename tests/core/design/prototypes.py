#!/usr/bin/env python3
"""Makes prototypes_table.h: poles and zeros of low-pass prototypes in 50 digits, with mpmath.

Elliptic filters by theta functions, from the nome: another way than the Landen transformations of
the program.
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


def main():
    out = """// Poles and zeros of prototypes in 50 digits, the upper one of each pair. Made by prototypes.py.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace syntonon::prototypes {

enum class Family { butterworth, chebyshev, inverse_chebyshev, elliptic };

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
                ("elliptic", 0.01, 140, elliptic(order, 0.01, 140))):
            for is_zero, roots in ((True, found[0]), (False, found[1])):
                for z in roots:
                    out += "    {{Family::{}, {}, {}, {}, {}, {}, {}}},\n".format(
                        family, order, passed, stopped, "true" if is_zero else "false",
                        mp.nstr(z.real, 25), mp.nstr(z.imag, 25))
    out += "};\n\n} // namespace syntonon::prototypes\n"
    pathlib.Path(__file__).with_name("prototypes_table.h").write_text(out)


main()
