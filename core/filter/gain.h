// A factor.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

namespace syntonon {

struct Gain {
    double factor = 1; // finite; negative: polarity turned

    bool operator==(const Gain&) const = default;
};

std::shared_ptr<const Prober> prober(const Gain& gain);
inline void add_telling_hz(const Gain&, const TellingRange&, std::vector<double>&) {}
Expected<Roots> roots_of(const Gain& gain);
inline double finite_samples(const Gain&) {
    return 0;
}
void run(const Gain& gain, std::span<double> signal);
inline double latency_samples(const Gain&) {
    return 0;
}
Cost cost(const Gain& gain);
inline std::size_t bytes_of(const Gain&) {
    return 0;
}

} // namespace syntonon
