// The kinds of stage, all of them. Only what handles every kind, or makes a stage of a certain one,
// includes this; everything else works with StageSpec.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/parametric.h"
#include "core/study/stage.h"

#include <utility>
#include <variant>

namespace syntonon {

// A kind is a spec with a `kind` name and, beside it, design(), title_of() and summary_of(),
// working_of(); its JSON in study/spec_json.h; and its trim panel in the window.
struct AnyKind : std::variant<ParametricSpec> {
    using variant::variant;
};

template <class Spec>
requires requires {
    Spec::kind;
}
StageSpec::StageSpec(Spec spec) : kind_(AnyKind(std::move(spec))) {}

} // namespace syntonon
