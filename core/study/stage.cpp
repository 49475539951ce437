// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/stage.h"

#include "core/study/kinds.h"

namespace syntonon {

StageSpec::StageSpec() : kind_(AnyKind()) {}

template StageSpec::StageSpec(ParametricSpec);
template StageSpec::StageSpec(GainSpec);
template StageSpec::StageSpec(DelaySpec);
template StageSpec::StageSpec(TapsSpec);
template StageSpec::StageSpec(SplitSpec);
template StageSpec::StageSpec(RepeatSpec);
template StageSpec::StageSpec(LoopSpec);
template StageSpec::StageSpec(ClassicalSpec);
template StageSpec::StageSpec(RootsSpec);
template StageSpec::StageSpec(RecursionSpec);
template StageSpec::StageSpec(FirSpec);
template StageSpec::StageSpec(CorrectionSpec);
template StageSpec::StageSpec(FittedSpec);
template StageSpec::StageSpec(CrossoverSpec);
template StageSpec::StageSpec(StateVariableSpec);
template StageSpec::StageSpec(LadderSpec);

AnyKind& StageSpec::edit() {
    return kind_.edit();
}

bool StageSpec::operator==(const StageSpec& other) const {
    return kind_ == other.kind_;
}

Expected<Design> design(const StageSpec& spec, const Brief& brief, const Watch& watch) {
    return std::visit(
        [&]<class Spec>(const Spec& s) -> Expected<Design> {
            if constexpr (Designed<Spec>) {
                return design(s, brief, watch);
            }
            return refuse("", "holds chains, so it is composed", "design its chain");
        },
        *spec);
}

bool stands_for_above(const StageSpec& spec) {
    return std::visit(
        [](const auto& s) {
            if constexpr (requires { replaces_above(s); }) {
                return replaces_above(s);
            }
            return false;
        },
        *spec);
}

Needs needs_of(const StageSpec& spec) {
    return std::visit([](const auto& s) { return needs_of(s); }, *spec);
}

bool is_quick_to_design(const StageSpec& spec) {
    return std::visit([](const auto& s) { return is_quick_to_design(s); }, *spec);
}

std::size_t hash_of(const StageSpec& spec) {
    return std::visit([](const auto& s) { return hash_of_fields(s); }, *spec) * 31
           + (*spec).index();
}

std::string_view kind_of(const StageSpec& spec) {
    return std::visit([](const auto& s) -> std::string_view { return s.kind; }, *spec);
}

std::string title_of(const Stage& stage) {
    return !stage.name.empty() ? stage.name
                               : std::visit([](const auto& s) { return title_of(s); }, *stage.spec);
}

std::string summary_of(const Stage& stage) {
    return std::visit([](const auto& s) { return summary_of(s); }, *stage.spec);
}

std::string spoken_name_of(const Stage& stage) {
    return !stage.name.empty()
               ? stage.name
               : std::visit([](const auto& s) { return spoken_name_of(s); }, *stage.spec);
}

} // namespace syntonon
