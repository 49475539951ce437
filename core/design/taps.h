// An FIR by its taps.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/design.h"
#include "core/design/field.h"
#include "core/filter/taps.h"

#include <string_view>

namespace syntonon {

struct TapsSpec {
    static constexpr std::string_view kind = "taps";

    TapValues taps = std::make_shared<const std::vector<double>>(1, 1.0); // not null

    bool operator==(const TapsSpec& other) const {
        return taps == other.taps || *taps == *other.taps;
    }
};

inline constexpr std::size_t most_taps = 1 << 20;

// Refuses none or too many taps and one that is no finite number, naming it: "taps[17]".
Expected<Design> design(const TapsSpec& spec, const Brief& brief, const Watch& watch);
inline std::span<const NumberField<TapsSpec>> fields_of(const TapsSpec&) {
    return no_fields<TapsSpec>();
}
std::span<const NumberRow<TapsSpec>> rows_of(const TapsSpec& spec);
std::string title_of(const TapsSpec& spec);
std::string summary_of(const TapsSpec& spec);
std::string spoken_name_of(const TapsSpec& spec);

} // namespace syntonon
