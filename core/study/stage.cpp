// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/stage.h"

#include "core/study/kinds.h"

namespace syntonon {

StageSpec::StageSpec() : kind_(AnyKind()) {}

AnyKind& StageSpec::edit() {
    return kind_.edit();
}

bool StageSpec::operator==(const StageSpec& other) const {
    return kind_ == other.kind_;
}

Expected<Filter> design(const StageSpec& spec, double sample_rate_hz) {
    return std::visit([&](const auto& s) { return design(s, sample_rate_hz); }, *spec);
}

Expected<Working> working_of(const StageSpec& spec, double sample_rate_hz) {
    return std::visit([&](const auto& s) { return working_of(s, sample_rate_hz); }, *spec);
}

std::string title_of(const Stage& stage) {
    return !stage.name.empty() ? stage.name
                               : std::visit([](const auto& s) { return title_of(s); }, *stage.spec);
}

std::string summary_of(const Stage& stage) {
    return std::visit([](const auto& s) { return summary_of(s); }, *stage.spec);
}

} // namespace syntonon
