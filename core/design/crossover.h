// One way of a crossover: a band between two of its frequencies, such that all ways add up to
// something that is known. The ways stand in different channels; what they share is in each.
//
// S. P. Lipshitz and J. Vanderkooy, A family of linear-phase crossover networks of high slope
// derived by time delay, J. Audio Eng. Soc. 31, 1983; R. H. Small, Constant-voltage crossover
// network design, J. Audio Eng. Soc. 19, 1971; S. H. Linkwitz, Active crossover networks for
// noncoincident drivers, J. Audio Eng. Soc. 24, 1976.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/design/design.h"
#include "core/design/field.h"

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

enum class CrossoverFamily {
    linkwitz_riley, // of even orders: low- and high-pass are in phase, and -6 dB where they cross
    butterworth,    // of odd orders: in quadrature, half power
    bessel,         // half power; its sum is not flat
    linear_phase,   // taps; the ways add up to a delay
    subtractive     // what a Bessel low-pass leaves over of its input, or of that delayed
};

struct CrossoverSpec {
    static constexpr std::string_view kind = "crossover";

    // Shared by all ways.
    std::string link; // the same in the stages of all ways; empty: it stands alone
    CrossoverFamily family = CrossoverFamily::linkwitz_riley;
    int order = 4;                               // of each low- and high-pass
    std::vector<double> frequencies_hz = {2000}; // ascending, 1 to 3
    bool filled = true;                          // ways pass the all-passes of the other splits
    int length = 1023;                           // linear phase: taps, odd
    double stop_attenuation_db = 60;             // linear phase: of Kaiser's window
    bool delayed = true;                         // subtractive: the sum is a delay

    // This way's own.
    int way = 1; // 1 is the lowest
    // Where the middle of its source stands above any common point: for what is heard off axis.
    double height_m = 0;

    bool operator==(const CrossoverSpec&) const = default;
};

inline constexpr std::size_t most_crossover_frequencies = 3;
inline constexpr int most_crossover_order = 16;

int ways_of(const CrossoverSpec& spec);
// The other's way and height with these settings.
CrossoverSpec with_shared(const CrossoverSpec& settings, const CrossoverSpec& own);
bool is_filled_at_will(CrossoverFamily family); // others are so of themselves, or cannot be
bool has_order(CrossoverFamily family);

// The polarity that a split's high-pass has: for Linkwitz-Riley and Butterworth that with which the
// sum is an all-pass, of the lower order where both are; for Bessel that with the louder sum.
int polarity_of(CrossoverFamily family, int order);

// With a split k into low_k + high_k = sum_k at each frequency, way w is the product of the high_k
// below it, its low_w, and the sum_k above it: all ways add up to the product of all sums. Refuses,
// naming the field: frequencies that do not ascend or leave the axis, an order that the family does
// not have, a way that is not there, taps and delays in an analog channel.
Expected<Design> design(const CrossoverSpec& spec, const Brief& brief, const Watch& watch);

std::span<const NumberField<CrossoverSpec>> fields_of(const CrossoverSpec& spec);
std::span<const NamedValue<CrossoverFamily>> names_of_crossover_families();

std::string way_name(int way, int ways); // "Low", "High mid"
std::string title_of(const CrossoverSpec& spec);
std::string summary_of(const CrossoverSpec& spec);
std::string spoken_name_of(const CrossoverSpec& spec);

} // namespace syntonon
