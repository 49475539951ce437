// A delay by whole samples.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

namespace syntonon {

struct Delay {
    std::size_t samples = 0;

    bool operator==(const Delay&) const = default;
};

std::shared_ptr<const Prober> prober(const Delay& delay);
inline void add_telling_hz(const Delay&, const TellingRange&, std::vector<double>&) {}
Expected<Roots> roots_of(const Delay& delay);
double finite_samples(const Delay& delay);
void run(const Delay& delay, std::span<double> signal);
double latency_samples(const Delay& delay);
Cost cost(const Delay& delay);
inline std::size_t bytes_of(const Delay&) {
    return 0;
}

} // namespace syntonon
