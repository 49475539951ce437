// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/goal_limits.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/goal/requirement_fields.h"

#include <fmt/format.h>

namespace syntonon {
namespace {

struct Finder {
    double half_hz;
    std::string place;
    std::vector<Problem>& problems;

    void operator()(const RequirementField& field, double value) const {
        if (field.dimension == Dimension::frequency && value > half_hz) {
            problems.push_back({fmt::format("{}.{}", place, field.key),
                                fmt::format("{} lies above half the sample rate ({})",
                                            frequency_text(value, 4), frequency_text(half_hz, 4)),
                                "give a lower frequency or raise the sample rate"});
        }
    }
    template <class T>
    void operator()(const RequirementField&, const T&) const {} // no frequency
};

} // namespace

std::vector<Problem> beyond_nyquist(const Goal& goal, double sample_rate_hz) {
    std::vector<Problem> problems;
    const double half = nyquist_hz(sample_rate_hz);
    for (std::size_t i = 0; i < goal.corridor.size(); ++i) {
        const Finder find{half, fmt::format("corridor[{}]", i), problems};
        find(requirement_field::to, goal.corridor[i].to_hz);
    }
    for (std::size_t i = 0; i < goal.requirements.size(); ++i) {
        const Finder find{half, fmt::format("requirements[{}]", i), problems};
        std::visit([&](const auto& spec) { each_field(spec, find); }, goal.requirements[i].spec);
    }
    return problems;
}

} // namespace syntonon
