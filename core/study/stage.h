// One element of a channel's chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/unknown_keys.h"
#include "core/design/parametric.h"
#include "core/filter/filter.h"

#include <string>
#include <variant>

namespace syntonon {

// The kinds of stage. A kind is a spec with a `kind` name and, beside it, design(), title_of() and
// summary_of(), working_of(); its JSON in study/spec_json.h; and its trim panel in the window.
using StageSpec = std::variant<ParametricSpec>;

// A plain value; it never holds results.
struct Stage {
    std::string id;
    bool enabled = true;
    std::string name; // given by the user; empty: the kind's own title
    StageSpec spec;
    UnknownKeys unknown;

    bool operator==(const Stage&) const = default;
};

Expected<Filter> design(const StageSpec& spec, double sample_rate_hz);
Expected<Working> working_of(const StageSpec& spec, double sample_rate_hz);
std::string title_of(const Stage& stage);
std::string summary_of(const Stage& stage);

} // namespace syntonon
