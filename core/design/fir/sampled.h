// Taps through, or near, samples of the amplitude.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/method.h"

#include <optional>
#include <vector>

namespace syntonon {

struct FirSample {
    double frequency_hz = 1000;
    // A ratio; absent: left to the program, which makes the level where the others are 0 least.
    std::optional<double> gain = 1;
    UnknownKeys unknown = {};

    bool operator==(const FirSample&) const = default;
};

struct SampledFir {
    static constexpr std::string_view key = "sampled", title = "Sampled";
    // What samples at equal steps are where the bands or the goal ask for nothing.
    enum class Between { straight, best };

    std::vector<FirSample> samples;      // none: the bands or the goal at equal steps
    std::optional<double> delay_samples; // else linear phase
    Between between = Between::straight; // not used with samples

    bool operator==(const SampledFir&) const = default;
};

inline constexpr std::size_t most_sampled = 1 << 20, most_free_samples = 2048;

// At equal steps of the sample rate by the length: an inverse Fourier transform (T. W. Parks and C.
// S. Burrus, Digital Filter Design, 1987, section 3.1). What is left to the program, and samples of
// their own: see free_samples.h. `best` makes the greatest weighted error least: of the goal, or of
// those bands that are to be silent (of all where none is).
Expected<FirMade> made(const SampledFir& method, const FirTask& task);

} // namespace syntonon
