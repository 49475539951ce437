// A band filter by what its level must keep.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/base/unknown_keys.h"

#include <array>
#include <span>
#include <string>
#include <string_view>

namespace syntonon {

enum class ClassicalBand { low_pass, high_pass, band_pass, band_stop };

bool has_two_edges(ClassicalBand band);
std::span<const NamedValue<ClassicalBand>> names_of_bands();
std::string_view title_of(ClassicalBand band);

// What the level must keep: within the ripple between the pass edges, below the attenuation beyond
// the stop edges. Each as dB or as ratio; the numbers of the other way are kept.
struct Tolerances {
    std::array<double, 2> pass_edges_hz{1000, 2000};
    std::array<double, 2> stop_edges_hz{2000, 4000};
    bool pass_as_ratio = false, stop_as_ratio = false;
    double pass_ripple_db = 0.5; // from 0 to -pass_ripple_db
    std::array<double, 2> pass_ratio{0.95, 1};
    double stop_attenuation_db = 60;
    double stop_ratio = 0.001;
    UnknownKeys unknown = {};

    bool operator==(const Tolerances&) const = default;
};

// Said the other way with the same meaning.
void use_ratio(Tolerances& tolerances, bool Tolerances::*which, bool as_ratio);
// The same edges on the sides where the band has them.
Tolerances in_order_for(Tolerances tolerances, ClassicalBand band);
// The ripple that they allow a filter whose greatest gain is 1: of a two-sided ratio the
// lower side binds.
double pass_ripple_db_of(const Tolerances& tolerances);
std::string binding_side(const Tolerances& tolerances); // in words; empty: there is one side only
double stop_attenuation_db_of(const Tolerances& tolerances);

} // namespace syntonon
