// One element of a channel's chain.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/shared_value.h"
#include "core/base/unknown_keys.h"
#include "core/design/design.h"

#include <string>
#include <vector>

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

struct Stage;
// Stages in the order of the signal; see chain.h.
using Chain = std::vector<SharedValue<Stage>>;

// A plain value; it never holds results.
struct Stage {
    std::string id;
    bool enabled = true;
    std::string name; // given by the user; empty: the kind's own title
    StageSpec spec;
    UnknownKeys unknown;

    bool operator==(const Stage&) const = default;
};

// See design/design.h. A stage that holds chains is not designed but composed (designed_chain.h).
Expected<Design> design(const StageSpec& spec, const Brief& brief, const Watch& watch);
Needs needs_of(const StageSpec& spec);
// Whose filter stands for those of the stages above in its chain, too, instead of following them.
bool stands_for_above(const StageSpec& spec);
bool is_quick_to_design(const StageSpec& spec);
std::size_t hash_of(const StageSpec& spec); // equal specs have equal ones
std::string_view kind_of(const StageSpec& spec);

// A name given by the user goes before the kind's own.
std::string title_of(const Stage& stage);
std::string summary_of(const Stage& stage);
std::string spoken_name_of(const Stage& stage);

} // namespace syntonon
