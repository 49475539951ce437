// A filter at work at twice the rate, between half-band filters that lead up and down. Seen from
// outside it is linear and the same for all times: of what it makes, every other sample is taken,
// and the half-band filters are run so that nothing depends on which.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/biquad.h"
#include "core/filter/filter.h"
#include "core/filter/modelled/half_band_kernel.h"

namespace syntonon {

// With P(v) = (A0(v^2) + v^-1 A1(v^2)) / 2 and G(v) at the higher rate:
// H(v^2) = v (P(v)^2 G(v) - P(-v)^2 G(-v)), the second part being what folds back. Its poles are
// the squares of G's, and those of A0^2 and A1^2.
struct Oversampled {
    Filter inner; // a cascade, or itself oversampled: then it is run at four times the rate, ...
    modelled::HalfBandCoefficients half_band;

    bool operator==(const Oversampled&) const = default;
};

std::shared_ptr<const Prober> prober(const Oversampled& oversampled);
void add_telling_hz(const Oversampled& oversampled, const TellingRange& range,
                    std::vector<double>& out);
double finite_samples(const Oversampled& oversampled);
Expected<double> slowest_pole_radius(const Oversampled& oversampled, double sample_rate_hz);
void run(const Oversampled& oversampled, std::span<double> signal);
double latency_samples(const Oversampled& oversampled);
Cost cost(const Oversampled& oversampled);
std::size_t bytes_of(const Oversampled& oversampled);

// See rational.h. The numerator is that polynomial which takes the right values round the circle.
Expected<Rational> rational_of(const Oversampled& oversampled);
Expected<int> poles_outside(const Oversampled& oversampled); // of the circle, or on it
double at_once(const Oversampled& oversampled);

// One sample after the other.
class OversampledRun {
public:
    explicit OversampledRun(const Oversampled& oversampled);
    double take(double input);
    void rest();
    double at_once() const { return at_once_; }
    double held() const; // what the next output is but for the next input

private:
    double take(std::size_t level, double input);
    double chain(std::size_t level, std::size_t first, std::size_t states, double x);

    std::vector<modelled::HalfBandCoefficients> half_bands_; // from outside to inside
    std::vector<Biquad> sections_;
    std::vector<std::size_t>
        states_at_; // of each half-band filter, up and down; the sections' last
    std::vector<double> states_;
    std::vector<double> held_by_state_;
    double at_once_ = 0;
};

} // namespace syntonon
