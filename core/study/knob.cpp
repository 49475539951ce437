// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/knob.h"

#include "core/study/kinds.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::size_t most_of_a_row = 512;

template <class Spec>
void add_knobs(const Spec& spec, std::vector<Knob>& knobs) {
    for (const NumberField<Spec>& field : fields_of(spec)) {
        if (const auto value = field.get(spec)) {
            knobs.push_back({std::string(field.key), field.caption, field.unit, field.dimension,
                             field.least, field.most, field.steps, *value});
        }
    }
    for (const NumberRow<Spec>& row : number_rows(spec)) {
        for (std::size_t i = 0; i < std::min(row.count(spec), most_of_a_row); ++i) {
            knobs.push_back(
                {fmt::format("{}[{}]", row.key, i),
                 // "b8", "Branch 2"
                 fmt::format("{}{}{}", row.caption,
                             std::string_view(row.caption).size() == 1 ? "" : " ", i + row.first),
                 row.unit, Dimension::plain, row.least, row.most, FieldSteps::by_tenth,
                 row.get(spec, i)});
        }
    }
}

template <class Spec>
bool turn_one(Spec& spec, std::string_view key, double value) {
    for (const NumberField<Spec>& field : fields_of(spec)) {
        if (field.key == key && field.get(spec)) {
            field.set(spec, value);
            return true;
        }
    }
    for (const NumberRow<Spec>& row : number_rows(spec)) {
        for (std::size_t i = 0; i < row.count(spec); ++i) {
            if (key == fmt::format("{}[{}]", row.key, i)) {
                row.set(spec, i, value);
                return true;
            }
        }
    }
    return false;
}

} // namespace

std::vector<Knob> knobs_of(const StageSpec& spec) {
    std::vector<Knob> knobs;
    std::visit([&](const auto& s) { add_knobs(s, knobs); }, *spec);
    return knobs;
}

std::optional<Knob> knob_of(const StageSpec& spec, std::string_view key) {
    const auto all = knobs_of(spec);
    const auto found = std::ranges::find(all, key, &Knob::key);
    return found != all.end() ? std::optional(*found) : std::nullopt;
}

bool turn(StageSpec& spec, std::string_view key, double value) {
    return std::visit([&](auto& s) { return turn_one(s, key, value); }, spec.edit());
}

KnobRange usual_range(const Knob& knob) {
    KnobRange range;
    if (knob.steps == FieldSteps::by_ratio && knob.value > 0) {
        range = {knob.value / 2, knob.value * 2};
    } else if (knob.steps == FieldSteps::whole) {
        range = {1, std::max(knob.value * 2, 8.0)};
    } else if (knob.dimension == Dimension::level) {
        constexpr double usual_db = 12;
        range = {std::min(-usual_db, knob.value), std::max(usual_db, knob.value)};
    } else if (knob.least == 0) {
        constexpr double beyond = 1.2;
        range = {0, std::max(beyond, beyond * knob.value)};
    } else {
        const double reach = std::max(1.0, std::ceil(std::abs(knob.value) * 1.2));
        range = {-reach, reach};
    }
    return {std::max(range.low, knob.least), std::min(range.high, knob.most)};
}

} // namespace syntonon
