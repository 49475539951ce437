// One element of a channel's chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/shared_value.h"
#include "core/base/unknown_keys.h"
#include "core/design/working.h"
#include "core/filter/filter.h"

#include <string>

namespace syntonon {

struct AnyKind; // see study/kinds.h

// The spec of a stage of any kind, without naming the kinds: so a new one is no matter to those who
// only hand stages on. Copies share it until one is edited.
class StageSpec {
public:
    StageSpec(); // a parametric peak
    // From a kind's own spec; with study/kinds.h.
    template <class Spec>
    requires requires { Spec::kind; }
    StageSpec(Spec spec);

    const AnyKind& operator*() const { return *kind_; }
    AnyKind& edit();

    bool operator==(const StageSpec& other) const;

private:
    SharedValue<AnyKind> kind_;
};

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
