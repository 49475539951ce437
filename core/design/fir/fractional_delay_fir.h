// A delay by parts of a sample, as taps.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/method.h"

namespace syntonon {

struct FractionalDelayFir {
    static constexpr std::string_view key = "fractional_delay", title = "Fractional delay";
    enum class By { lagrange, windowed_sinc, least_squares };

    double delay_samples = 15.5; // all of it
    By by = By::lagrange;
    double band_hz = 16000; // least squares: from 0 Hz to there

    bool operator==(const FractionalDelayFir&) const = default;
};

// T. Laakso et al., Splitting the unit delay, IEEE Signal Processing Magazine 13, 1996. The working
// says, and marks, up to where the delay is right to 0.01 sample and the level to 0.1 dB.
Expected<FirMade> made(const FractionalDelayFir& method, const FirTask& task);

} // namespace syntonon
