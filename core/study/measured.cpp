// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/measured.h"

#include "core/curve/averages.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

// As a list in the file, or as the one curve's id.
std::string place_of(const MeasuredSet& set, std::size_t i) {
    return set.size() == 1 ? "measured" : fmt::format("measured[{}].curve", i);
}

Expected<std::vector<MeasuredPosition>> find_positions(const Study& study, const MeasuredSet& set) {
    std::vector<MeasuredPosition> positions;
    for (std::size_t i = 0; i < set.size(); ++i) {
        const auto found = std::ranges::find_if(
            study.curves, [&](const auto& curve) { return curve->id == set[i].curve; });
        if (found == study.curves.end()) {
            return refuse(place_of(set, i), fmt::format("there is no curve “{}”", set[i].curve),
                          "name one of the study's curves or remove the key");
        }
        positions.push_back({*found, set[i].weight});
    }
    return positions;
}

bool all_same(const std::vector<MeasuredPosition>& a, const std::vector<MeasuredPosition>& b) {
    return std::ranges::equal(a, b, [](const auto& x, const auto& y) {
        return x.curve.same_as(y.curve) && x.weight == y.weight;
    });
}

bool counts_with_phase(const MeasuredPosition& position) {
    return position.weight == 0 || position.curve->has_phase();
}

Expected<SharedMeasured> make_measured(std::vector<MeasuredPosition> positions, AverageOf of) {
    if (positions.empty()) {
        return nullptr;
    }
    if (positions.size() == 1 && positions.front().weight > 0) {
        const auto curve = positions.front().curve;
        auto timing = curve->has_phase() ? std::optional(curve) : std::nullopt;
        return std::make_shared<const Measured>(
            Measured{std::move(positions), of, curve, CurveReader(*curve), std::move(timing)});
    }
    std::vector<WeightedCurve> weighted;
    for (const MeasuredPosition& position : positions) {
        weighted.push_back({&*position.curve, position.weight});
    }
    std::optional<SharedValue<Curve>> timing;
    if (std::ranges::all_of(positions, counts_with_phase)) {
        if (auto vectors = averaged(weighted, AverageOf::vectors)) {
            timing = std::move(*vectors);
        }
    }
    auto average =
        of == AverageOf::vectors && timing ? Expected<Curve>(**timing) : averaged(weighted, of);
    if (!average) {
        return tl::unexpected(within("measured", average.error()));
    }
    CurveReader reader(*average);
    return std::make_shared<const Measured>(Measured{std::move(positions), of, std::move(*average),
                                                     std::move(reader), std::move(timing)});
}

} // namespace

double Measured::delay_s() const {
    double sum = 0, weights = 0;
    for (const MeasuredPosition& position : positions) {
        sum += position.weight * position.curve->delay_s;
        weights += position.weight;
    }
    return weights > 0 ? sum / weights : 0;
}

std::string Measured::name() const {
    return positions.size() == 1 ? curve->name : fmt::format("{} positions", positions.size());
}

Expected<SharedMeasured> measured_of(const Study& study, const Channel& channel) {
    auto positions = find_positions(study, channel.measured);
    if (!positions) {
        return tl::unexpected(positions.error());
    }
    return make_measured(std::move(*positions), channel.average);
}

namespace {

std::shared_ptr<const SampledCurve> sampled_curve(const Curve& curve) {
    return std::make_shared<const SampledCurve>(
        SampledCurve{curve.frequency_hz, curve.magnitude_db, curve.phase_deg});
}

} // namespace

Seen seen_of(const Measured& measured) {
    Seen seen;
    for (const MeasuredPosition& position : measured.positions) {
        seen.positions.push_back({sampled_curve(*position.curve), position.weight});
    }
    seen.as_one = sampled_curve(*measured.curve);
    if (measured.timing) {
        seen.timing = sampled_curve(**measured.timing);
    }
    return seen;
}

Expected<SharedMeasured> MeasuredSets::of(const Study& study, const Channel& channel) {
    auto positions = find_positions(study, channel.measured);
    if (!positions || positions->empty()) {
        kept_.erase(channel.id);
        return positions ? Expected<SharedMeasured>(nullptr) : tl::unexpected(positions.error());
    }
    const auto kept = kept_.find(channel.id);
    if (kept != kept_.end() && kept->second->average == channel.average
        && all_same(kept->second->positions, *positions)) {
        return kept->second;
    }
    auto made = make_measured(std::move(*positions), channel.average);
    if (made) {
        kept_.insert_or_assign(channel.id, *made);
    }
    return made;
}

} // namespace syntonon
