// A signal held against what it should be.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <span>
#include <vector>

namespace syntonon {

struct AgainstReference {
    double delay_samples = 0; // by which it comes later; parts of samples, too
    double gain_db = 0;       // with which the reference is closest to it
    // Of what is left when the reference, so late (by whole samples) and so loud, is taken away:
    // the reference's power over it. Infinite where nothing is left.
    double signal_to_noise_db = 0;
    double residual_db = 0; // power of signal minus reference, so late, as it is, over reference
};

// The delay is where their correlation is greatest in magnitude (C. H. Knapp and G. C. Carter, The
// generalized correlation method for estimation of time delay, IEEE Trans. ASSP 24, 1976), within
// half the signal's length, between samples by a parabola. Nothing where one of them is silent.
std::optional<AgainstReference> against_reference(std::span<const double> signal,
                                                  std::span<const double> reference);

// signal[n] - reference[n - delay], of the signal's length.
std::vector<double> difference_of(std::span<const double> signal, std::span<const double> reference,
                                  double delay_samples);

} // namespace syntonon
