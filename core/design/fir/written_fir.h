// FIRs of communication and smoothing, written down in closed form; see closed_forms.h.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/method.h"

namespace syntonon {

struct RaisedCosineFir {
    static constexpr std::string_view key = "raised_cosine", title = "Raised cosine";
    double symbol_rate_hz = 6000, roll_off = 0.35;
    bool operator==(const RaisedCosineFir&) const = default;
};
struct RootRaisedCosineFir {
    static constexpr std::string_view key = "root_raised_cosine", title = "Root raised cosine";
    double symbol_rate_hz = 6000, roll_off = 0.35;
    bool operator==(const RootRaisedCosineFir&) const = default;
};
struct GaussianPulseFir {
    static constexpr std::string_view key = "gaussian_pulse", title = "Gaussian pulse";
    double symbol_rate_hz = 6000, bandwidth_time = 0.3;
    bool operator==(const GaussianPulseFir&) const = default;
};
// The task's length is that of one average.
struct MovingAverageFir {
    static constexpr std::string_view key = "moving_average", title = "Moving average";
    int power = 1;
    bool operator==(const MovingAverageFir&) const = default;
};
struct SavitzkyGolayFir {
    static constexpr std::string_view key = "savitzky_golay", title = "Savitzky-Golay";
    int degree = 2, derivative = 0;
    bool operator==(const SavitzkyGolayFir&) const = default;
};

inline constexpr std::size_t most_written = 1 << 17;

Expected<FirMade> made(const RaisedCosineFir& method, const FirTask& task);
Expected<FirMade> made(const RootRaisedCosineFir& method, const FirTask& task);
Expected<FirMade> made(const GaussianPulseFir& method, const FirTask& task);
Expected<FirMade> made(const MovingAverageFir& method, const FirTask& task);
Expected<FirMade> made(const SavitzkyGolayFir& method, const FirTask& task);

} // namespace syntonon
