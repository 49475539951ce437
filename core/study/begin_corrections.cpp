// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/begin_corrections.h"

#include "core/study/kinds.h"
#include "core/study/measured.h"

#include <algorithm>
#include <optional>

namespace syntonon {
namespace {

struct Covered {
    double from_hz, to_hz;
};

// By every measured channel of a range as corrections have it.
std::optional<Covered> covered_by(const Study& study, const Channel& channel) {
    const auto measured = measured_of(study, channel);
    if (channel.domain != Domain::sampled || !measured || *measured == nullptr) {
        return std::nullopt;
    }
    const Curve& curve = *(*measured)->curve;
    constexpr double below_half_the_rate = 0.45;
    const CorrectionSpec usual;
    const Covered range{
        std::max(usual.from_hz, curve.low_hz()),
        std::min({usual.to_hz, curve.high_hz(), below_half_the_rate * study.sample_rate_hz})};
    return range.from_hz < range.to_hz ? std::optional(range) : std::nullopt;
}

Goal flat_goal(const Study& study, const Covered& range) {
    Goal goal;
    goal.id = fresh_id(study, "corrected");
    goal.name = "Corrected";
    goal.target.points = {{1000, 0, {}}};
    constexpr double middle_from_hz = 200, middle_to_hz = 2000, allowed_db = 6;
    goal.target.anchor = {LevelAnchor::Kind::common_average,
                          0,
                          std::max(middle_from_hz, range.from_hz),
                          std::min(middle_to_hz, range.to_hz),
                          {}};
    CorridorRange corridor;
    corridor.from_hz = range.from_hz;
    corridor.to_hz = range.to_hz;
    corridor.above_db = allowed_db;
    corridor.below_db.reset(); // what interference takes away no filter gives back
    goal.corridor.push_back(corridor);
    return goal;
}

std::string correction_in(const Channel& channel) {
    std::string id;
    visit_stages(channel.stages, [&](const Stage& stage, const Slot&, int) {
        if (id.empty() && std::holds_alternative<CorrectionSpec>(*stage.spec)) {
            id = stage.id;
        }
    });
    return id;
}

} // namespace

BegunCorrections with_corrections(Study study) {
    BegunCorrections begun;
    std::vector<std::pair<std::size_t, Covered>> measured;
    std::optional<Covered> common;
    for (std::size_t i = 0; i < study.channels.size(); ++i) {
        if (const auto range = covered_by(study, *study.channels[i])) {
            measured.emplace_back(i, *range);
            common = common ? Covered{std::max(common->from_hz, range->from_hz),
                                      std::min(common->to_hz, range->to_hz)}
                            : *range;
        }
    }
    for (const auto& [i, range] : measured) {
        if (study.channels[i]->goal.empty()) {
            const auto stated = std::ranges::find_if(
                study.goals, [](const auto& goal) { return is_stated(goal->target); });
            std::string goal;
            if (stated != study.goals.end()) {
                goal = (*stated)->id;
            } else {
                study.goals.emplace_back(flat_goal(study, *common));
                begun.made_goal = true;
                goal = study.goals.back()->id;
            }
            study.channels[i].edit().goal = std::move(goal);
        }
        std::string id = correction_in(*study.channels[i]);
        if (id.empty()) {
            Channel& channel = study.channels[i].edit();
            CorrectionSpec spec;
            spec.from_hz = range.from_hz;
            spec.to_hz = range.to_hz;
            Stage stage;
            stage.spec = spec;
            give_fresh_ids(stage, channel.stages);
            id = stage.id;
            channel.stages.emplace_back(std::move(stage));
            begun.added = true;
        }
        begun.places.push_back({study.channels[i]->id, std::move(id)});
    }
    begun.study = std::move(study);
    return begun;
}

} // namespace syntonon
