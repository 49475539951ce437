// A gain.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/design.h"
#include "core/design/field.h"

#include <optional>
#include <string_view>

namespace syntonon {

struct GainSpec {
    static constexpr std::string_view kind = "gain";

    double gain_db = 0;
    bool invert = false;          // polarity turned
    std::optional<double> factor; // said instead of both; negative: polarity turned

    bool operator==(const GainSpec&) const = default;
};

double factor_of(const GainSpec& spec);

Expected<Design> design(const GainSpec& spec, const Brief& brief, const Watch& watch);
std::span<const NumberField<GainSpec>> fields_of(const GainSpec& spec);
std::string title_of(const GainSpec& spec);
std::string summary_of(const GainSpec& spec);
std::string spoken_name_of(const GainSpec& spec);

} // namespace syntonon
