// Poles and zeros put into second-order sections, and their gains.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/analog_cascade.h"
#include "core/filter/filter.h"

#include <array>
#include <complex>
#include <string>
#include <vector>

namespace syntonon {

// L. B. Jackson, Digital Filters and Signal Processing, 3rd ed., 1996, section 11.5: poles with the
// nearest zeros, so that no section rises high, and gains that share out the level.
enum class SectionPairing { nearest, as_designed };
enum class SectionOrder { q_ascending, q_descending, least_peak };
enum class SectionGain { unity, equal_peaks };

struct SectionPlan {
    SectionPairing pairing = SectionPairing::nearest;
    SectionOrder order = SectionOrder::q_ascending;
    SectionGain gain = SectionGain::unity; // each section 1 in the passband

    bool operator==(const SectionPlan&) const = default;
};

// One or two roots as a polynomial, highest power first, in more digits than a double, so that
// rounding happens once. What is left out at the end is 0.
struct RootPair {
    std::vector<std::complex<double>> roots; // the upper one of a conjugate pair first
    std::array<long double, 3> c{1, 0, 0};
    // Where c came by s = k (z - 1) / (z + 1) out of analog roots: their polynomial in s, and what
    // it was divided by. Near 0 Hz it says more than c does. Else 0.
    std::array<long double, 3> analog{};
    long double divisor = 0, k = 0;

    int count() const { return static_cast<int>(roots.size()); }
};

// A section without its gain. In the z-plane the polynomials are in 1/z, lowest power first, which
// is the same row of numbers.
struct SectionDraft {
    RootPair zeros, poles;
    double q = 0.5; // of the analog poles
};

// A section's numbers, highest power first as in RootPair, as one in s.
AnalogSection analog_section(const std::array<double, 3>& numerator, int zeros,
                             const std::array<double, 3>& denominator, int poles);

// A draft for each pair of poles; pairs of zeros go to the nearest poles, those of the highest q
// choosing first, or in the order in which they come. Drafts without zeros of their own keep none.
std::vector<SectionDraft> paired(std::vector<SectionDraft> poles, std::vector<RootPair> zeros,
                                 SectionPairing pairing);

// Where the gain is known, and what it is there.
struct GainReference {
    std::complex<double> at;  // z or s
    bool at_infinity = false; // s instead
    double level = 1;         // |H|; negative: polarity turned
    // Where else the level counts, z only: sections are rounded so that it is right there.
    std::vector<std::complex<double>> edges = {};
};

// Of the drafts one after the other, without their gains, at a place in the z-plane.
std::complex<double> product_at(const std::vector<SectionDraft>& drafts, std::complex<double> z);

// Refused where a pole, its coefficients rounded to doubles, does not die away.
Expected<void> check_drafts(const std::vector<SectionDraft>& drafts, const Axis& axis);

struct SectionsMade {
    Filter filter;         // cascade or analog cascade, its roots handed on
    std::vector<double> q; // of each section's analog poles
};
// `axis` says which plane the drafts are in.
SectionsMade sections_of(std::vector<SectionDraft> drafts, const SectionPlan& plan,
                         const GainReference& reference, const Axis& axis);

// The greatest level after each section of a cascade or an analog one, over all frequencies.
std::vector<double> peak_levels_db(const Filter& cascade, const Axis& axis);

} // namespace syntonon
