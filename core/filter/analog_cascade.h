// Second-order sections in the s-plane, and what they answer.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"

#include <memory>
#include <span>
#include <vector>

namespace syntonon {

// H(s) = (b2 s^2 + b1 s + b0) / (a2 s^2 + a1 s + a0), s in rad/s. The numerator's degree is at most
// the denominator's, which is 2, 1 or 0.
struct AnalogSection {
    double b2 = 0, b1 = 0, b0 = 1;
    double a2 = 0, a1 = 0, a0 = 1;

    bool operator==(const AnalogSection&) const = default;
};

struct AnalogCascade {
    std::vector<AnalogSection> sections;

    bool operator==(const AnalogCascade&) const = default;
};

int order_of(const AnalogSection& section); // the denominator's degree

// H(infinity): what of an impulse comes out as one.
double direct_gain(const AnalogSection& section);

// Exact unwrapped phase, summed quadratic by quadratic: on the imaginary axis c2 s^2 + c1 s + c0 is
// (c0 - c2 w^2) + j c1 w, whose imaginary part never changes its sign.
Response response(const AnalogCascade& cascade, const FrequencyGrid& grid);

std::shared_ptr<const Prober> prober(const AnalogCascade& cascade);
Roots roots_of(const AnalogCascade& cascade);
inline double finite_samples(const AnalogCascade&) {
    return 0;
}
// It has no samples: nothing comes out. See analog_time.h for its answers.
void run(const AnalogCascade& cascade, std::span<double> signal);
inline double latency_samples(const AnalogCascade&) {
    return 0;
}
Cost cost(const AnalogCascade& cascade); // sections only
std::size_t bytes_of(const AnalogCascade& cascade);

// The sampled filter whose value at z is the analog one's at s = c (z - 1) / (z + 1): levels,
// phases and stability are the same, frequencies are w = c tan(angle / 2). Part by part; what has
// no domain stays as it is.
Filter bilinear_image(const Filter& analog, double c_rad_per_s);

} // namespace syntonon
