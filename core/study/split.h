// Branches side by side, their outputs summed.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/unknown_keys.h"
#include "core/design/field.h"
#include "core/study/composed.h"
#include "core/study/stage.h"

#include <span>
#include <string_view>
#include <vector>

namespace syntonon {

struct Branch {
    double factor = 1; // negative: polarity turned
    Chain stages;
    UnknownKeys unknown = {};

    bool operator==(const Branch& other) const;
};

struct SplitSpec {
    static constexpr std::string_view kind = "split";

    std::vector<Branch> branches = std::vector<Branch>(2); // two or more

    bool operator==(const SplitSpec& other) const;
};

// The branches' chains, to be designed by whoever can.
std::vector<const Chain*> chains_of(const SplitSpec& spec);
std::vector<Chain*> chains_of(SplitSpec& spec);
// The sum of the chains' filters, one for each branch. Refuses fewer than two branches and a factor
// that is no number: "branches[1].factor".
Expected<Design> compose(const SplitSpec& spec, std::span<const Filter> chains);
// Where the k-th chain stands in the stage: "branches[k].stages".
std::string place_of_chain(const SplitSpec& spec, std::size_t k);
// What a person calls it: "× 0.5".
std::string label_of_chain(const SplitSpec& spec, std::size_t k);

constexpr ChainsLayout layout_of(const SplitSpec&) {
    return ChainsLayout::side_by_side;
}

inline std::span<const NumberField<SplitSpec>> fields_of(const SplitSpec&) {
    return no_fields<SplitSpec>();
}
std::span<const NumberRow<SplitSpec>> rows_of(const SplitSpec& spec); // the branches' factors
std::string title_of(const SplitSpec& spec);
std::string summary_of(const SplitSpec& spec);
std::string spoken_name_of(const SplitSpec& spec);

} // namespace syntonon
