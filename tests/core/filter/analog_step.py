#!/usr/bin/env python3
"""Makes analog_step_table.h: the step response of a Butterworth low-pass of order 14 at 1 kHz, by
partial fractions in 60 digits, with mpmath."""
import pathlib

import mpmath as mp

mp.mp.dps = 60
ORDER, COUNT, STEP = 14, 120, mp.mpf("5e-5")


def main():
    w = 2 * mp.pi * 1000
    poles = [w * mp.expjpi((mp.mpf(2 * i - 1) / ORDER + 1) / 2) for i in range(1, ORDER + 1)]
    residues = []
    for i, p in enumerate(poles):
        rest = mp.fprod(p - q for k, q in enumerate(poles) if k != i)
        residues.append(w**ORDER / (p * rest))
    out = """// A step response in 30 digits. Made by analog_step.py.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>

namespace syntonon::analog_step {

inline constexpr double step_s = 5e-5;
inline constexpr std::array values{
"""
    for k in range(COUNT):
        t = k * STEP
        value = 1 + mp.fsum(r * mp.exp(p * t) for r, p in zip(residues, poles))
        out += "    {},\n".format(mp.nstr(value.real if k else mp.mpf(0), 30))
    out += "};\n\n} // namespace syntonon::analog_step\n"
    pathlib.Path(__file__).with_name("analog_step_table.h").write_text(out)


main()
