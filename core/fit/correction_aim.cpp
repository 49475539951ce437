// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/correction_aim.h"

#include "core/base/number_text.h"
#include "core/curve/level_means.h"
#include "core/design/asked.h"
#include "core/fit/seen_timing.h"
#include "core/fit/timing_aim.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace syntonon {
namespace {

constexpr double broad_oct = 1;  // what a dip is narrow against
constexpr double silent_db = 40; // below the other positions

// Dense enough for the sharpest section that is allowed: several places across its width.
double places_an_octave(const CorrectionSpec& spec) {
    constexpr double least_dense = 32, densest = 256, a_width = 4;
    const auto* sections = std::get_if<SectionsCorrection>(&spec.method);
    if (sections == nullptr) {
        constexpr double of_taps = 96;
        return of_taps;
    }
    double sharpest = sections->q_limits.empty() ? sections->greatest_q : 1;
    for (const QLimit& limit : sections->q_limits) {
        sharpest = std::max(sharpest, limit.q);
    }
    return std::clamp(a_width * sharpest, least_dense, densest);
}

std::vector<double> places_of(const CorrectionSpec& spec) {
    const double octaves = std::log2(spec.to_hz / spec.from_hz);
    const EvenSpacing spacing{true, spec.from_hz, spec.to_hz,
                              2 + static_cast<std::size_t>(octaves * places_an_octave(spec))};
    std::vector<double> hz;
    for (std::size_t i = 0; i < spacing.count; ++i) {
        hz.push_back(spacing.at(i));
    }
    return hz;
}

Expected<void> check_range(const CorrectionSpec& spec, const Brief& brief) {
    if (brief.seen.as_one == nullptr) {
        return refuse("from_hz", "there is nothing to correct: the channel has no measured set",
                      "give it one");
    }
    if (brief.wished == nullptr) {
        return refuse("from_hz", "the channel's goal states no target",
                      "state one, or give the channel a goal");
    }
    const double low = brief.seen.as_one->frequency_hz.front();
    const double high = brief.seen.as_one->frequency_hz.back();
    if (spec.from_hz < low) {
        return refuse("from_hz",
                      fmt::format("{} was not measured: the set begins at {}",
                                  frequency_text(spec.from_hz), frequency_text(low)),
                      fmt::format("begin at {} or above", frequency_text(low)));
    }
    if (spec.to_hz > high) {
        return refuse("to_hz",
                      fmt::format("{} was not measured: the set ends at {}",
                                  frequency_text(spec.to_hz), frequency_text(high)),
                      fmt::format("end at {} or below", frequency_text(high)));
    }
    if (spec.to_hz >= brief.axis().end_hz()) {
        return refuse(
            "to_hz",
            fmt::format("{} is not below half the sample rate", frequency_text(spec.to_hz)),
            fmt::format("end below {}", frequency_text(brief.axis().end_hz())));
    }
    return {};
}

// Levels behind the stages above, averaged in dB.
class SeenLevels {
public:
    SeenLevels(const Brief& brief, const std::vector<double>& hz, double width_oct)
        : hz_(hz), width_oct_(width_oct) {
        // Beyond the ends, too, as far as a mean reaches.
        const double beyond = std::exp2(std::max(width_oct, broad_oct) / 2);
        const double low = hz.front() / beyond;
        const double high = std::min(hz.back() * beyond, brief.axis().end_hz());
        constexpr double an_octave = 96;
        const auto count = 2 + static_cast<std::size_t>(an_octave * std::log2(high / low));
        const auto grid = *FrequencyGrid::logarithmic(low, high, count, brief.axis());
        std::vector<double> level = brief.above.magnitude_db(grid);
        constexpr double lowest_db = -300; // of a zero: the mean shall be one
        for (double& db : level) {
            db = std::max(db, lowest_db);
        }
        above_.emplace(grid.frequency_hz(), level);
    }

    // The mean over the width at each frequency, and that of the octave about it.
    std::vector<double> of(const SampledCurve& curve) const { return mean(curve, width_oct_); }
    std::vector<double> broad(const SampledCurve& curve) const { return mean(curve, broad_oct); }

private:
    std::vector<double> mean(const SampledCurve& curve, double width_oct) const {
        const LevelMeans seen(curve.frequency_hz, curve.level_db);
        std::vector<double> level;
        level.reserve(hz_.size());
        for (const double hz : hz_) {
            level.push_back(seen.over(hz, width_oct) + above_->over(hz, width_oct));
        }
        return level;
    }

    const std::vector<double>& hz_;
    double width_oct_;
    std::optional<LevelMeans> above_;
};

double mean_of(const std::vector<double>& values) {
    return std::accumulate(values.begin(), values.end(), 0.0) / static_cast<double>(values.size());
}

Expected<void> add_positions(const Brief& brief, const SeenLevels& levels, CorrectionAim& aim) {
    std::vector<double> means;
    for (const SeenCurve& position : brief.seen.positions) {
        aim.positions_db.push_back(levels.of(*position.curve));
        aim.position_weights.push_back(position.weight);
        means.push_back(mean_of(aim.positions_db.back()));
    }
    const double loudest = *std::ranges::max_element(means);
    const double common = mean_of(aim.seen_db);
    for (std::size_t i = 0; i < means.size(); ++i) {
        if (means[i] < loudest - silent_db) {
            return refuse(fmt::format("measured[{}]", i),
                          fmt::format("is silent: {:.0f} dB below the loudest position of the set",
                                      loudest - means[i]),
                          "measure it anew, or take it out of the set");
        }
        for (double& db : aim.positions_db[i]) {
            db += common - means[i];
        }
    }
    return {};
}

// Standard deviation of the positions' levels at each frequency.
std::vector<double> spread_between(const CorrectionAim& aim) {
    std::vector<double> spread(aim.size(), 0.0);
    const double total =
        std::accumulate(aim.position_weights.begin(), aim.position_weights.end(), 0.0);
    for (std::size_t i = 0; i < aim.size(); ++i) {
        double sum = 0, squares = 0;
        for (std::size_t p = 0; p < aim.positions_db.size(); ++p) {
            sum += aim.position_weights[p] * aim.positions_db[p][i];
        }
        for (std::size_t p = 0; p < aim.positions_db.size(); ++p) {
            const double off = aim.positions_db[p][i] - sum / total;
            squares += aim.position_weights[p] * off * off;
        }
        spread[i] = std::sqrt(squares / total);
    }
    return spread;
}

double share_at(double amount_db, double limit_db) {
    const double ratio = limit_db > 0 ? amount_db / limit_db : 0;
    return 1 / (1 + ratio * ratio);
}

void add_correctable(const CorrectionSpec& spec, const SampledCurve& seen, const SeenLevels& levels,
                     CorrectionAim& aim) {
    const std::vector<double> spread = spread_between(aim), broad = levels.broad(seen);
    for (std::size_t i = 0; i < aim.size(); ++i) {
        const double depth = std::max(0.0, broad[i] - aim.seen_db[i]);
        aim.correctable.push_back(share_at(spread[i], spec.spread_db)
                                  * share_at(depth, spec.dip_db));
    }
}

bool add_target(const Wished& wished, CorrectionAim& aim) {
    bool any = false;
    for (const double hz : aim.hz) {
        const auto asked = asked_at(wished, hz);
        std::optional<double> level = asked ? asked->level_db : std::nullopt;
        if (asked && !level && asked->lower_db && asked->upper_db) {
            level = (*asked->lower_db + *asked->upper_db) / 2;
        }
        aim.target_db.push_back(level.value_or(0));
        aim.weight.push_back(level ? asked->weight : 0);
        any = any || level.has_value();
    }
    return any;
}

void add_gain(const CorrectionSpec& spec, CorrectionAim& aim) {
    aim.gain_db.clear();
    for (std::size_t i = 0; i < aim.size(); ++i) {
        const double wanted = aim.weight[i] > 0 ? aim.target_db[i] - aim.seen_db[i] : 0;
        const double sensible = wanted > 0 ? wanted * aim.correctable[i] : wanted;
        aim.gain_db.push_back(
            std::clamp(sensible, -spec.cut_limit_db, boost_limit_at(spec, aim.hz[i])));
    }
}

} // namespace

double wanted_gain_db(const CorrectionAim& aim, double hz) {
    const double low = aim.hz.front(), high = aim.hz.back();
    if (hz >= low && hz <= high) {
        return at_hz(aim.hz, aim.gain_db, hz);
    }
    const double edge = hz < low ? aim.gain_db.front() : aim.gain_db.back();
    const double octaves =
        hz <= 0 ? correction_fade_oct : std::abs(std::log2(hz / (hz < low ? low : high)));
    return edge * std::max(0.0, 1 - octaves / correction_fade_oct);
}

Expected<CorrectionAim> correction_aim(const CorrectionSpec& spec, const Brief& brief) {
    if (auto ok = check_sampled(brief, "a correction is made of samples' sections or taps"); !ok) {
        return tl::unexpected(ok.error());
    }
    if (auto ok = check_settings(spec).and_then([&] { return check_range(spec, brief); }); !ok) {
        return tl::unexpected(ok.error());
    }
    CorrectionAim aim;
    aim.hz = places_of(spec);
    const SeenLevels levels(brief, aim.hz, spec.smoothing_oct);
    aim.seen_db = levels.of(*brief.seen.as_one);
    if (auto ok = add_positions(brief, levels, aim); !ok) {
        return tl::unexpected(ok.error());
    }
    if (!add_target(*brief.wished, aim)) {
        return refuse("from_hz",
                      fmt::format("the goal asks nothing between {} and {}",
                                  frequency_text(spec.from_hz), frequency_text(spec.to_hz)),
                      "choose a range where it has a target");
    }
    add_correctable(spec, *brief.seen.as_one, levels, aim);
    add_gain(spec, aim);
    if (minds_timing(spec)) {
        auto timing = timing_aim(spec, brief, aim);
        if (!timing) {
            return tl::unexpected(timing.error());
        }
        aim.timing = *std::move(timing);
    }
    return aim;
}

void aim_at_positions(const CorrectionSpec& spec, const std::vector<double>& weights,
                      CorrectionAim& aim) {
    const double total = std::accumulate(weights.begin(), weights.end(), 0.0);
    for (std::size_t i = 0; i < aim.size(); ++i) {
        double sum = 0;
        for (std::size_t p = 0; p < weights.size(); ++p) {
            sum += weights[p] * aim.positions_db[p][i];
        }
        aim.seen_db[i] = sum / total;
    }
    add_gain(spec, aim);
}

} // namespace syntonon
