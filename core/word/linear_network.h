// A network with its numbers as linear equations of its states: what rounding does not change.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/structure.h"

#include <array>
#include <vector>

namespace syntonon {

inline constexpr std::size_t most_network_states = 5; // four, and the error that is fed back

// A signal as a sum: of the states as they were, and the input.
struct LinearSignal {
    std::array<double, most_network_states> states{};
    double input = 0;
};

// s[n+1] = next * (s[n], x[n]), y[n] = output * (s[n], x[n]); and an error added to sum j appears
// in the same places by `injected[j]`.
struct LinearNetwork {
    std::size_t states = 0;
    std::vector<LinearSignal> next; // of each state
    LinearSignal output;
    std::vector<LinearSignal> sums;
    struct Injected {
        std::array<double, most_network_states> next{};
        double output = 0;
    };
    std::vector<Injected> injected;
};
// With error feedback there is one more state: the error of the output's sum at the sample before.
LinearNetwork linear_network(const Network& network, std::span<const double> values);

} // namespace syntonon
