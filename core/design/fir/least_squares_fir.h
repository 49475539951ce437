// Least weighted squared error over bands; see least_squares.h.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/method.h"

#include <optional>

namespace syntonon {

struct LeastSquaresFir {
    static constexpr std::string_view key = "least_squares", title = "Least squares";

    FirSymmetry symmetry = FirSymmetry::even;
    std::optional<double> delay_samples; // else the middle: linear phase

    bool operator==(const LeastSquaresFir&) const = default;
};

inline constexpr std::size_t most_least_squares = 32768;

Expected<FirMade> made(const LeastSquaresFir& method, const FirTask& task);

} // namespace syntonon
