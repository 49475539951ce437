// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/comparison.h"

#include <cmath>
#include <fmt/format.h>
#include <functional>

namespace syntonon {
namespace {

using LevelAt = std::function<std::optional<double>(double hz)>;

// A trace as a function of any frequency: straight in dB over log frequency between its points.
LevelAt along(const LevelTrace& trace) {
    Curve curve;
    for (std::size_t i = 0; i < trace.frequency_hz.size(); ++i) {
        if (std::isfinite(trace.level_db[i])) {
            curve.frequency_hz.push_back(trace.frequency_hz[i]);
            curve.magnitude_db.push_back(trace.level_db[i]);
        }
    }
    return [curve = TargetCurve(curve)](double hz) { return curve.value_at(hz); };
}

const TakeAnalysis* take_named(const std::string& key, const Channel& channel,
                               const ChannelAnalysis& analysis) {
    for (std::size_t i = 0; i < channel.takes.size() && i < analysis.takes.size(); ++i) {
        if (key == "take:" + channel.takes[i]->id && !analysis.takes[i]->problem) {
            return analysis.takes[i].get();
        }
    }
    return nullptr;
}

std::optional<LevelAt> level_of(const std::string& key, const Channel& channel,
                                const ChannelAnalysis& analysis) {
    if (key == "prediction") {
        return along(analysis.predicted);
    }
    if (key == "measured" && analysis.measured != nullptr) {
        return [curve = TargetCurve(*analysis.measured->curve)](double hz) {
            return curve.value_at(hz);
        };
    }
    if (key == "target" && shown_target(analysis) != nullptr) {
        return [goal = analysis.goal](double hz) { return goal->level->value_at(hz); };
    }
    if (const TakeAnalysis* take = take_named(key, channel, analysis)) {
        return along(take->predicted);
    }
    return std::nullopt;
}

tl::unexpected<Problem> missing(const char* side, const std::string& key) {
    return refuse(fmt::format("difference.{}", side),
                  fmt::format("the channel has no curve “{}” now", key), "choose another one");
}

} // namespace

std::vector<ComparedCurve> comparable(const Channel& channel, const ChannelAnalysis& analysis) {
    const bool is_measured = analysis.measured != nullptr;
    std::vector<ComparedCurve> all{{"prediction", is_measured ? "prediction" : "chain"}};
    if (is_measured) {
        all.push_back({"measured", "measured"});
    }
    if (level_of("target", channel, analysis)) {
        all.push_back({"target", "target"});
    }
    for (const auto& take : channel.takes) {
        all.push_back({"take:" + take->id, take->name});
    }
    return all;
}

Expected<LevelTrace> difference_of(const Difference& difference, const Channel& channel,
                                   const ChannelAnalysis& analysis) {
    const auto of = level_of(difference.of, channel, analysis);
    if (!of) {
        return missing("of", difference.of);
    }
    const auto from = level_of(difference.from, channel, analysis);
    if (!from) {
        return missing("from", difference.from);
    }
    LevelTrace trace;
    for (const double hz : analysis.total.frequency_hz) {
        const auto a = (*of)(hz), b = (*from)(hz);
        if (a && b) {
            trace.frequency_hz.push_back(hz);
            trace.level_db.push_back(*a - *b);
        }
    }
    return trace;
}

std::optional<WeightedError> weighted_error(const ChannelAnalysis& analysis) {
    const TargetCurve* wanted = shown_target(analysis);
    if (wanted == nullptr) {
        return std::nullopt;
    }
    WeightedError result;
    const LevelTrace& predicted = analysis.predicted;
    for (std::size_t i = 0; i < predicted.frequency_hz.size(); ++i) {
        const double hz = predicted.frequency_hz[i];
        const auto target = wanted->value_at(hz);
        if (target && std::isfinite(predicted.level_db[i])) {
            result.error.frequency_hz.push_back(hz);
            result.error.level_db.push_back(weight_at(analysis.goal->goal->weights, hz)
                                            * (predicted.level_db[i] - *target));
        }
    }
    const auto& hz = result.error.frequency_hz;
    double area = 0, length = 0;
    for (std::size_t i = 1; i < hz.size(); ++i) {
        const double step = std::log(hz[i] / hz[i - 1]);
        const double a = result.error.level_db[i - 1], b = result.error.level_db[i];
        area += step * (a * a + b * b) / 2;
        length += step;
    }
    result.rms_db = length > 0 ? std::sqrt(area / length) : 0;
    return result;
}

} // namespace syntonon
