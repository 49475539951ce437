// Low-order recursive filters for an impulse response.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/design/watch.h"
#include "core/filter/roots.h"

#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

// B(z) / A(z), A(z) = 1 + a[1]/z + ...: as found, poles perhaps outside of the circle.
struct RationalModel {
    std::vector<double> b, a; // by ascending powers of 1/z, a[0] = 1
};

// The first `zeros` + 1 samples are met exactly, the others by linear prediction over `poles`
// samples with the least squared error of prediction (G. de Prony, 1795, as in T. W. Parks and
// C. S. Burrus, Digital Filter Design, 1987, section 7.5). At least poles + zeros + 1 samples.
RationalModel prony(std::span<const double> impulse, int zeros, int poles);

// The squared error of the impulse response itself made small: what prony() makes linear is
// weighted with the poles of the round before (K. Steiglitz and L. E. McBride, A technique for the
// identification of linear systems, IEEE Trans. Automatic Control 10, 1965). Starts at prony(),
// keeps the round that comes nearest; poles outside of the circle are mirrored on the way.
RationalModel steiglitz_mcbride(std::span<const double> impulse, int zeros, int poles,
                                const Watch& watch);

// The model with poles outside of the circle mirrored into it, and then the zeros for which the
// impulse response is nearest; without such poles as it is.
RationalModel with_poles_inside(std::span<const double> impulse, RationalModel model);

std::vector<double> impulse_of(const RationalModel& model, std::size_t count);
// Nothing where it is 0 or its numbers are not finite.
std::optional<Roots> roots_of(const RationalModel& model);

// The FIR's balanced realisation cut down to `order` states: stable, and nowhere on the circle
// further off than `bound`, twice the sum of the Hankel singular values that are dropped
// (B. Beliczynski, I. Kale and G. D. Cain, Approximation of FIR by IIR digital filters: an
// algorithm based on balanced model reduction, IEEE Trans. Signal Processing 40, 1992; the bound:
// U. M. Al-Saggaf and G. F. Franklin, IEEE Trans. Automatic Control 32, 1987). Taps that lead with
// 0 are kept as a delay. At most `longest_balanced` taps: the work grows with their third power.
struct BalancedStates {
    double first_tap = 0;
    std::size_t delay = 0;                    // samples of 0 before it
    std::vector<double> values;               // of the Hankel matrix, the greatest size first
    std::vector<std::vector<double>> vectors; // of the first of them
};
struct BalancedModel {
    Roots roots;
    std::vector<double> singular_values; // all, descending
    double bound = 0;                    // a ratio
};
inline constexpr std::size_t longest_balanced = 2048;

// Refuses more taps than that, none that is not 0, and an order that is not below their number.
// States are found once for all orders up to `most`.
Expected<BalancedStates> balanced_states(std::span<const double> taps, int most);
BalancedModel cut_down(const BalancedStates& states, int order);
Expected<BalancedModel> balanced_truncation(std::span<const double> taps, int order);

} // namespace syntonon
