// Stages several times, one after the other.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/field.h"
#include "core/study/composed.h"
#include "core/study/stage.h"

#include <span>
#include <string_view>
#include <vector>

namespace syntonon {

struct RepeatSpec {
    static constexpr std::string_view kind = "repeat";

    int count = 2; // 1 to 128
    Chain stages;

    bool operator==(const RepeatSpec& other) const;
};

// See split.h for what these say.
std::vector<const Chain*> chains_of(const RepeatSpec& spec);
std::vector<Chain*> chains_of(RepeatSpec& spec);
Expected<Design> compose(const RepeatSpec& spec, std::span<const Filter> chains);
std::string place_of_chain(const RepeatSpec& spec, std::size_t k);
std::string label_of_chain(const RepeatSpec& spec, std::size_t k);
constexpr ChainsLayout layout_of(const RepeatSpec&) {
    return ChainsLayout::bracket;
}

std::span<const NumberField<RepeatSpec>> fields_of(const RepeatSpec& spec);
std::string title_of(const RepeatSpec& spec);
std::string summary_of(const RepeatSpec& spec);
std::string spoken_name_of(const RepeatSpec& spec);

} // namespace syntonon
