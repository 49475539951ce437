// Second-order sections as they are run: the same filter by different equations. In exact
// arithmetic all give the same output; they differ in what rounding and changing coefficients do.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/biquad.h"

#include <optional>

namespace syntonon {

// Each: made of a section, nothing where the structure cannot hold it; step() takes a sample in and
// gives one out.

// y[n] = b0 x[n] + b1 x[n-1] + b2 x[n-2] - a1 y[n-1] - a2 y[n-2], as it stands.
class DirectForm1 {
public:
    static std::optional<DirectForm1> of(const Biquad& section) { return DirectForm1(section); }
    double step(double x) noexcept {
        const double y = c_.b0 * x + c_.b1 * x1_ + c_.b2 * x2_ - c_.a1 * y1_ - c_.a2 * y2_;
        x2_ = x1_;
        x1_ = x;
        y2_ = y1_;
        y1_ = y;
        return y;
    }
    void reset() noexcept { x1_ = x2_ = y1_ = y2_ = 0; }

private:
    explicit DirectForm1(const Biquad& section) : c_(section) {}
    Biquad c_;
    double x1_ = 0, x2_ = 0, y1_ = 0, y2_ = 0;
};

// Two delays, between the sums (A. V. Oppenheim and R. W. Schafer, Discrete-Time Signal Processing,
// 3rd ed., section 6.3).
class TransposedForm2 {
public:
    static std::optional<TransposedForm2> of(const Biquad& section) {
        return TransposedForm2(section);
    }
    double step(double x) noexcept {
        const double y = c_.b0 * x + s1_;
        s1_ = (c_.b1 * x + s2_) - c_.a1 * y;
        s2_ = c_.b2 * x - c_.a2 * y;
        return y;
    }
    void reset() noexcept { s1_ = s2_ = 0; }

private:
    explicit TransposedForm2(const Biquad& section) : c_(section) {}
    Biquad c_;
    double s1_ = 0, s2_ = 0;
};

// States that turn by the poles' angle and shrink by their radius (C. M. Rader and B. Gold, Effects
// of parameter quantization on the poles of a digital filter, Proc. IEEE 55, 1967); two real poles
// one after the other.
class CoupledForm {
public:
    static std::optional<CoupledForm> of(const Biquad& section);
    double step(double x) noexcept {
        const double y = d_ * x + c1_ * s1_ + c2_ * s2_;
        const double s1 = a11_ * s1_ + a12_ * s2_ + x;
        s2_ = a21_ * s1_ + a22_ * s2_;
        s1_ = s1;
        return y;
    }
    void reset() noexcept { s1_ = s2_ = 0; }

private:
    double a11_ = 0, a12_ = 0, a21_ = 0, a22_ = 0, c1_ = 0, c2_ = 0, d_ = 0;
    double s1_ = 0, s2_ = 0;
};

// Rotations: the states' energy never grows by itself, however fast the coefficients change (A. H.
// Gray and J. D. Markel, A normalized digital filter structure, IEEE Trans. ASSP 23, 1975). Holds
// stable sections only.
class NormalisedLattice {
public:
    static std::optional<NormalisedLattice> of(const Biquad& section);
    double step(double x) noexcept {
        const double f1 = c2_ * x - k2_ * g1_, g2 = k2_ * x + c2_ * g1_;
        const double f0 = c1_ * f1 - k1_ * g0_, g1 = k1_ * f1 + c1_ * g0_;
        g0_ = f0;
        g1_ = g1;
        return v0_ * f0 + v1_ * g1 + v2_ * g2;
    }
    void reset() noexcept { g0_ = g1_ = 0; }

private:
    double k1_ = 0, k2_ = 0, c1_ = 1, c2_ = 1, v0_ = 0, v1_ = 0, v2_ = 0;
    double g0_ = 0, g1_ = 0;
};

// Two trapezoidal integrators in a loop; the output is mixed of input, band-pass and low-pass (V.
// Zavalishin, The Art of VA Filter Design, 2018, section 4.4). Holds stable sections only.
class StateVariable {
public:
    static std::optional<StateVariable> of(const Biquad& section);
    double step(double x) noexcept {
        const double into = x - s2_;
        const double band = h1_ * s1_ + h2_ * into, low = s2_ + h2_ * s1_ + h3_ * into;
        s1_ = 2 * band - s1_;
        s2_ = 2 * low - s2_;
        return m0_ * x + m1_ * band + m2_ * low;
    }
    void reset() noexcept { s1_ = s2_ = 0; }

private:
    double h1_ = 1, h2_ = 0, h3_ = 0, m0_ = 0, m1_ = 0, m2_ = 0;
    double s1_ = 0, s2_ = 0;
};

} // namespace syntonon
