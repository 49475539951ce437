// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/crossover_sum.h"

#include "core/base/units.h"
#include "core/study/predicted_timing.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
constexpr double nothing = std::numeric_limits<double>::quiet_NaN();

// What was measured as a factor of the response, and its own slope; 0 beyond its ends.
class MeasuredFactor {
public:
    MeasuredFactor(const Measured& measured, double sample_rate_hz)
        : reader_(measured.reader), timing_(**measured.timing), arrival_s_(measured.delay_s()),
          rate_hz_(sample_rate_hz) {}

    FilterValue at(double hz) const {
        const auto timing = timing_.at(hz);
        if (!timing || !reader_.covers(hz)) {
            return {};
        }
        const double w = rad_per_sample_from_hz(hz, rate_hz_);
        const double delay = (timing->group_delay_s + arrival_s_) * rate_hz_;
        const Complex h = std::polar(ratio_from_db(reader_.magnitude_db_at(hz)),
                                     timing->phase_rad - 2 * pi * hz * arrival_s_);
        return {h, h * Complex(nepers_by_rad(hz, w), -delay), 0};
    }

private:
    // d ln|H| / dw, of what is straight over log frequency.
    double nepers_by_rad(double hz, double w) const {
        constexpr double step = 1e-4;
        const double rise_db =
            reader_.magnitude_db_at(hz * (1 + step)) - reader_.magnitude_db_at(hz * (1 - step));
        return std::log(ratio_from_db(rise_db)) / (2 * step * w);
    }

    CurveReader reader_;
    MeasuredTiming timing_;
    double arrival_s_, rate_hz_;
};

FilterValue product(const FilterValue& a, const FilterValue& b) {
    return {a.h * b.h, a.slope * b.h + a.h * b.slope,
            a.floor * std::abs(b.h) + b.floor * std::abs(a.h)};
}

std::vector<double> level_of(const std::vector<FilterValue>& values) {
    std::vector<double> level;
    for (const FilterValue& value : values) {
        level.push_back(level_db(value));
    }
    return level;
}

} // namespace

bool are_measured(std::span<const WayHeard> ways) {
    return std::ranges::all_of(ways, [](const WayHeard& way) {
        return way.measured != nullptr && way.measured->timing.has_value();
    });
}

SummedWays::SummedWays(std::span<const WayHeard> ways, const FrequencyGrid& grid)
    : hz_(grid.frequency_hz().begin(), grid.frequency_hz().end()),
      rate_hz_(grid.axis().sample_rate_hz) {
    const bool measured = are_measured(ways);
    for (const WayHeard& way : ways) {
        ways_.push_back({way.chain.values(grid), way.height_m});
        if (measured) {
            const MeasuredFactor factor(*way.measured, rate_hz_);
            for (std::size_t i = 0; i < hz_.size(); ++i) {
                auto& value = ways_.back().values[i];
                value = product(value, factor.at(hz_[i]));
            }
        }
    }
}

FilterValue SummedWays::heard(const Way& way, std::size_t i, double sine) const {
    const double earlier = way.height_m * sine / speed_of_sound_m_per_s * rate_hz_;
    const double w = rad_per_sample_from_hz(hz_[i], rate_hz_);
    const Complex turn = std::polar(1.0, w * earlier);
    return product(way.values[i], {turn, Complex(0, earlier) * turn, 0});
}

std::vector<double> SummedWays::level_db(std::size_t way) const {
    return level_of(ways_[way].values);
}

WaySum SummedWays::sum(double angle_deg) const {
    const double sine = std::sin(rad_from_deg(angle_deg));
    WaySum sum;
    for (std::size_t i = 0; i < hz_.size(); ++i) {
        FilterValue all;
        for (const Way& way : ways_) {
            const FilterValue value = heard(way, i, sine);
            all = {all.h + value.h, all.slope + value.slope, all.floor + value.floor};
        }
        sum.level_db.push_back(syntonon::level_db(all));
        sum.delay_s.push_back(group_delay_samples(all) / rate_hz_);
        const double turned = std::arg(all.h);
        if (i == 0) {
            sum.phase_rad.push_back(turned);
            continue;
        }
        // About where the delays on both sides lead to.
        const double a = sum.delay_s[i - 1], b = sum.delay_s[i];
        const double delay = std::isfinite(a) && std::isfinite(b) ? (a + b) / 2 : 0;
        const double expected = sum.phase_rad.back() - 2 * pi * (hz_[i] - hz_[i - 1]) * delay;
        sum.phase_rad.push_back(expected + std::remainder(turned - expected, 2 * pi));
    }
    return sum;
}

std::vector<double> SummedWays::sum_db(double angle_deg) const {
    const double sine = std::sin(rad_from_deg(angle_deg));
    std::vector<double> level;
    for (std::size_t i = 0; i < hz_.size(); ++i) {
        Complex all = 0;
        for (const Way& way : ways_) {
            const double earlier_s = way.height_m * sine / speed_of_sound_m_per_s;
            all += way.values[i].h * std::polar(1.0, 2 * pi * hz_[i] * earlier_s);
        }
        level.push_back(db_from_ratio(std::abs(all)));
    }
    return level;
}

std::vector<double> SummedWays::power_db() const {
    std::vector<double> level;
    for (std::size_t i = 0; i < hz_.size(); ++i) {
        double power = 0;
        for (const Way& way : ways_) {
            power += std::norm(way.values[i].h);
        }
        level.push_back(db_from_power(power));
    }
    return level;
}

LobeMap lobes_of(const SummedWays& ways, std::vector<double> angles_deg) {
    LobeMap map;
    map.hz = ways.hz();
    for (const double angle : angles_deg) {
        map.level_db.push_back(ways.sum_db(angle));
    }
    std::vector<std::vector<double>> levels;
    for (std::size_t way = 0; way < ways.count(); ++way) {
        levels.push_back(ways.level_db(way));
    }
    for (std::size_t i = 0; i < map.hz.size(); ++i) {
        std::vector<double> heard;
        std::ranges::transform(levels, std::back_inserter(heard),
                               [i](const auto& level) { return level[i]; });
        std::ranges::sort(heard, std::greater());
        std::size_t loudest = 0;
        for (std::size_t a = 1; a < angles_deg.size(); ++a) {
            loudest = map.level_db[a][i] > map.level_db[loudest][i] ? a : loudest;
        }
        const bool tilts = heard.size() > 1 && heard[0] - heard[1] < alone_db;
        map.loudest_deg.push_back(tilts ? angles_deg[loudest] : nothing);
    }
    map.angles_deg = std::move(angles_deg);
    return map;
}

} // namespace syntonon
