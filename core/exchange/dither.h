// Dither: noise that turns the error of rounding to a word into plain noise.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/math/seeded.h"

namespace syntonon {

// The difference of two even distributions, one step of the word wide each: the least with which
// mean and power of the error no longer depend on the signal (S. P. Lipshitz, R. A. Wannamaker and
// J. Vanderkooy, Quantization and dither: a theoretical survey, JAES 40, 1992).
class TriangularDither {
public:
    explicit TriangularDither(double step) : step_(step), random_(1) {}
    double next() { return step_ * (random_.uniform() - random_.uniform()); }

private:
    double step_;
    Seeded random_;
};

} // namespace syntonon
