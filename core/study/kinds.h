// The kinds of stage, all of them. Only what handles every kind, or makes a stage of a certain one,
// includes this; everything else works with StageSpec.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/classical.h"
#include "core/design/correction.h"
#include "core/design/crossover.h"
#include "core/design/delay.h"
#include "core/design/fir.h"
#include "core/design/gain.h"
#include "core/design/ladder.h"
#include "core/design/parametric.h"
#include "core/design/recursion.h"
#include "core/design/roots.h"
#include "core/design/state_variable.h"
#include "core/design/taps.h"
#include "core/fit/fitted.h"
#include "core/study/loop.h"
#include "core/study/repeat.h"
#include "core/study/split.h"
#include "core/study/stage.h"

#include <utility>
#include <variant>

namespace syntonon {

// A kind that holds chains is composed of their filters; see split.h for what each says.
template <class Spec>
concept Composed = requires(Spec& spec, const Spec& same, std::span<const Filter> chains) {
    { chains_of(spec) } -> std::same_as<std::vector<Chain*>>;
    { chains_of(same) } -> std::same_as<std::vector<const Chain*>>;
    { compose(same, chains) } -> std::same_as<Expected<Design>>;
    { place_of_chain(same, std::size_t()) } -> std::same_as<std::string>;
    { label_of_chain(same, std::size_t()) } -> std::same_as<std::string>;
    { layout_of(same) } -> std::same_as<ChainsLayout>;
};

// A kind is a spec that is Described and either Designed (design/design.h) or Composed; its JSON
// in study/spec_json.h; and its trim panel in the window.
template <class... Kinds>
requires((Described<Kinds> && (Designed<Kinds> || Composed<Kinds>))
         && ...) using VariantOfKinds = std::variant<Kinds...>;

struct AnyKind
    : VariantOfKinds<ParametricSpec, GainSpec, DelaySpec, TapsSpec, SplitSpec, RepeatSpec, LoopSpec,
                     ClassicalSpec, RootsSpec, RecursionSpec, FirSpec, CorrectionSpec, FittedSpec,
                     CrossoverSpec, StateVariableSpec, LadderSpec> {
    using variant::variant;
};

template <class Spec>
requires requires {
    Spec::kind;
}
StageSpec::StageSpec(Spec spec) : kind_(AnyKind(std::move(spec))) {}

// Made once, in stage.cpp: every file that makes a stage would compile all kinds' copies else.
extern template StageSpec::StageSpec(ParametricSpec);
extern template StageSpec::StageSpec(GainSpec);
extern template StageSpec::StageSpec(DelaySpec);
extern template StageSpec::StageSpec(TapsSpec);
extern template StageSpec::StageSpec(SplitSpec);
extern template StageSpec::StageSpec(RepeatSpec);
extern template StageSpec::StageSpec(LoopSpec);
extern template StageSpec::StageSpec(ClassicalSpec);
extern template StageSpec::StageSpec(RootsSpec);
extern template StageSpec::StageSpec(RecursionSpec);
extern template StageSpec::StageSpec(FirSpec);
extern template StageSpec::StageSpec(CorrectionSpec);
extern template StageSpec::StageSpec(FittedSpec);
extern template StageSpec::StageSpec(CrossoverSpec);
extern template StageSpec::StageSpec(StateVariableSpec);
extern template StageSpec::StageSpec(LadderSpec);

} // namespace syntonon
