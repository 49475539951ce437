// Stages whose output is fed back to their input.
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

struct FeedbackPath {
    double factor = 0.5; // negative: polarity turned
    Chain stages;
    UnknownKeys unknown = {};

    bool operator==(const FeedbackPath& other) const;
};

// output = forward(input + factor * stages of the return(output)).
struct LoopSpec {
    static constexpr std::string_view kind = "loop";

    Chain forward;
    FeedbackPath feedback;

    bool operator==(const LoopSpec& other) const;
};

// The forward chain, then that of the return. See split.h for what these say.
std::vector<const Chain*> chains_of(const LoopSpec& spec);
std::vector<Chain*> chains_of(LoopSpec& spec);
// Refuses a loop without delay whose gain at once is 1. An unstable one is no problem here.
Expected<Design> compose(const LoopSpec& spec, std::span<const Filter> chains);
std::string place_of_chain(const LoopSpec& spec, std::size_t k);
std::string label_of_chain(const LoopSpec& spec, std::size_t k);
constexpr ChainsLayout layout_of(const LoopSpec&) {
    return ChainsLayout::around;
}

std::span<const NumberField<LoopSpec>> fields_of(const LoopSpec& spec);
std::string title_of(const LoopSpec& spec);
std::string summary_of(const LoopSpec& spec);
std::string spoken_name_of(const LoopSpec& spec);

} // namespace syntonon
