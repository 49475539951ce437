// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/least_squares.h"

#include "core/design/design.h"
#include "core/math/symmetric_toeplitz.h"

#include <algorithm>

namespace syntonon {
namespace {

std::vector<double> matrix_column(std::size_t length, const Amplitude& wanted) {
    std::vector<LinePiece> weights;
    for (const AmplitudePiece& piece : wanted) {
        weights.push_back({piece.gain.from, piece.gain.to, piece.weight, piece.weight});
    }
    std::vector<double> column;
    for (const auto& moment : line_moments(weights, 0, length)) {
        column.push_back(moment.real());
    }
    return column;
}

std::vector<double> right_side(std::size_t length, const Amplitude& wanted, bool is_odd,
                               double delay) {
    std::vector<LinePiece> weighted;
    for (const AmplitudePiece& piece : wanted) {
        weighted.push_back({piece.gain.from, piece.gain.to, piece.weight * piece.gain.at_from,
                            piece.weight * piece.gain.at_to});
    }
    std::vector<double> side;
    for (const auto& moment : line_moments(weighted, -delay, length)) {
        side.push_back(is_odd ? -moment.imag() : moment.real());
    }
    return side;
}

// As they are but for rounding.
void make_symmetric(std::vector<double>& taps, bool is_odd) {
    for (std::size_t n = 0; n < (taps.size() + 1) / 2; ++n) {
        double& other = taps[taps.size() - 1 - n];
        taps[n] = is_odd ? (taps[n] - other) / 2 : (taps[n] + other) / 2;
        other = is_odd ? -taps[n] : taps[n];
    }
}

} // namespace

Expected<LeastSquares> least_squares(std::size_t length, const Amplitude& wanted, bool is_odd,
                                     double delay_samples, const Watch& watch) {
    auto matrix = SymmetricToeplitz::of(matrix_column(length, wanted),
                                        [&watch] { return watch.is_stopped(); });
    if (watch.is_stopped()) {
        return stopped();
    }
    if (!matrix) {
        return refuse("", "the normal equations are not to be solved in the digits of a double",
                      "take fewer taps, narrower gaps, or weights that differ less");
    }
    LeastSquares made;
    made.taps = matrix->solve(right_side(length, wanted, is_odd, delay_samples));
    made.condition = matrix->condition();
    if (2 * delay_samples == static_cast<double>(length - 1)) {
        make_symmetric(made.taps, is_odd);
    }
    return made;
}

} // namespace syntonon
