// Least greatest weighted error over bands; see exchange.h.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/method.h"

namespace syntonon {

struct EquirippleFir {
    static constexpr std::string_view key = "equiripple", title = "Equiripple";
    enum class Form {
        linear,        // of the amplitude
        half_band,     // every second tap is 0: the first band mirrored about a quarter of the rate
        magnitude_only // of |H|: minimum phase of the smallest error
    };

    FirSymmetry symmetry = FirSymmetry::even;
    bool by_tolerances = false; // or by the goal's corridor; then the length follows
    ClassicalBand band = ClassicalBand::low_pass;
    Tolerances tolerances;
    Form form = Form::linear;

    bool operator==(const EquirippleFir&) const = default;
};

inline constexpr std::size_t most_equiripple = 8191;

// Half-band: P. P. Vaidyanathan and T. Q. Nguyen, A trick for the design of FIR half-band filters,
// IEEE Trans. Circuits and Systems 34, 1987. Magnitude only: O. Herrmann and H. W. Schuessler,
// Design of nonrecursive digital filters with minimum phase, Electronics Letters 6, 1970. By
// tolerances the shortest length is found, and the one below it is shown to fail.
Expected<FirMade> made(const EquirippleFir& method, const FirTask& task);

// Estimates of the length that a low-pass of such tolerances takes: J. F. Kaiser, 1974; O.
// Herrmann, L. R. Rabiner and D. S. K. Chan, Practical design rules for optimum FIR low-pass
// digital filters, Bell System Technical Journal 52, 1973. Transition in rad/sample.
double kaiser_estimate(double pass_error, double stop_error, double transition_rad);
double herrmann_estimate(double pass_error, double stop_error, double transition_rad);

} // namespace syntonon
