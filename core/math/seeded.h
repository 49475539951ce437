// Random numbers that are the same for the same seed on every machine and with every library.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/units.h"

#include <cmath>
#include <cstdint>
#include <random>

namespace syntonon {

class Seeded {
public:
    explicit Seeded(double seed) : engine_(static_cast<std::uint64_t>(seed)) {}

    double uniform() { return static_cast<double>(engine_() >> 11) * 0x1p-53; } // in [0, 1)
    double between(double low, double high) { return low + (high - low) * uniform(); }
    // Of variance 1 (G. E. P. Box and M. E. Muller, A note on the generation of random normal
    // deviates, Ann. Math. Statist. 29, 1958).
    double normal() {
        const double radius = std::sqrt(-2 * std::log(1 - uniform()));
        return radius * std::cos(2 * pi * uniform());
    }
    std::size_t below(std::size_t count) {
        return static_cast<std::size_t>(uniform() * static_cast<double>(count));
    }

private:
    std::mt19937_64 engine_; // whose numbers the standard fixes
};

} // namespace syntonon
