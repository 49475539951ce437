// Taps through, or near, samples of the amplitude.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/method.h"

#include <optional>
#include <vector>

namespace syntonon {

struct FirSample {
    double frequency_hz = 1000;
    double gain = 1; // a ratio
    UnknownKeys unknown = {};

    bool operator==(const FirSample&) const = default;
};

struct SampledFir {
    static constexpr std::string_view key = "sampled", title = "Sampled";

    std::vector<FirSample> samples;      // none: the bands or the goal at equal steps
    std::optional<double> delay_samples; // else linear phase

    bool operator==(const SampledFir&) const = default;
};

inline constexpr std::size_t most_sampled = 1 << 20, most_free_samples = 2048;

// At equal steps of the sample rate by the length: an inverse Fourier transform (T. W. Parks and C.
// S. Burrus, Digital Filter Design, 1987, section 3.1). Free samples: the least squares where there
// are more of them than taps can meet, the smallest taps where there are fewer.
Expected<FirMade> made(const SampledFir& method, const FirTask& task);

} // namespace syntonon
