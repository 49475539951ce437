// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/stage_grips.h"
#include "core/study/kinds.h"

#include <algorithm>

namespace syntonon {
namespace {

std::vector<FoundSection>* found_of(CorrectionSpec& spec) {
    auto* method = std::get_if<SectionsCorrection>(&spec.method);
    return method != nullptr && !method->found.empty() ? &method->found : nullptr;
}

} // namespace

// Those of the section in the hand as a parametric stage has them, then the others.
std::vector<Grip> grips_of(const CorrectionSpec& spec, const Axis& axis, std::size_t in_hand) {
    const auto* method = std::get_if<SectionsCorrection>(&spec.method);
    if (method == nullptr || method->found.empty()) {
        return {};
    }
    const auto& found = method->found;
    in_hand = std::min(in_hand, found.size() - 1);
    std::vector<Grip> grips = grips_of(found[in_hand].section, axis);
    for (Grip& grip : grips) {
        grip.name = spoken_name_of(found[in_hand].section);
    }
    for (std::size_t i = 0; !grips.empty() && i < found.size(); ++i) {
        if (i != in_hand) {
            const ParametricSpec& other = found[i].section;
            const double level = has_gain(other.shape) ? other.gain_db : 0;
            grips.push_back({"other", other.frequency_hz, level, false, "Move %1", {}, i});
        }
    }
    return grips;
}

void move_grip(CorrectionSpec& spec, std::string_view key, double hz,
               std::optional<double> level_db, const Axis& axis, std::size_t in_hand) {
    if (auto* found = found_of(spec)) {
        FoundSection& one = (*found)[std::min(in_hand, found->size() - 1)];
        move_grip(one.section, key, hz, level_db, axis);
        one.locked = true;
    }
}

void widen(CorrectionSpec& spec, double octave_factor, const Axis& axis, std::size_t in_hand) {
    if (auto* found = found_of(spec)) {
        FoundSection& one = (*found)[std::min(in_hand, found->size() - 1)];
        widen(one.section, octave_factor, axis);
        one.locked = true;
    }
}

} // namespace syntonon
