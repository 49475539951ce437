// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/judge_requirement.h"
#include "core/goal/judging.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

// Where the level passes another: from one frequency to the next, the same but for a plateau that
// lies exactly on it.
struct Passage {
    double from_hz, to_hz;
};

// Bisection between neighbours on different sides of the level.
double crossing_between(const Prediction& prediction, double low, double high, double level) {
    const bool starts_above = prediction.level_db_at(low) > level;
    for (int step = 0; step < 100 && high - low > 1e-12 * high; ++step) {
        const double middle = (low + high) / 2;
        ((prediction.level_db_at(middle) > level) == starts_above ? low : high) = middle;
    }
    return (low + high) / 2;
}

// Ascending. Neighbours on the level itself belong to a passage when the level goes on to the other
// side behind them.
std::vector<Passage> passages(const Sampled& s, const Prediction& prediction, double level) {
    constexpr double on_it_db = 1e-12;
    const auto side = [&](double value) {
        return std::abs(value - level) <= on_it_db ? 0 : value > level ? 1 : -1;
    };
    std::vector<Passage> found;
    std::size_t last = s.hz.size(); // the last one that is not on the level
    for (std::size_t i = 0; i < s.hz.size(); ++i) {
        const int now = side(s.values[i]);
        if (now == 0) {
            continue;
        }
        if (last < i && side(s.values[last]) != now) {
            if (last + 1 == i) {
                const double hz = crossing_between(prediction, s.hz[last], s.hz[i], level);
                found.push_back({hz, hz});
            } else {
                found.push_back({s.hz[last + 1], s.hz[i - 1]});
            }
        }
        last = i;
    }
    return found;
}

Sampled levels(const Case& c, double from_hz, double to_hz) {
    return sampled(from_hz, to_hz, c.prediction, level_measure(c.prediction));
}

// The frequency of all passages that lies nearest to the wanted range, best in its middle; of a
// plateau its nearest frequency.
std::optional<double> nearest_crossing(const CrossingRequirement& r, const Case& c) {
    const auto distance = [&](double hz) { return std::max({r.min_hz - hz, hz - r.max_hz, 0.0}); };
    const double middle = (r.min_hz + r.max_hz) / 2;
    std::optional<double> best;
    for (const Passage& passage : passages(levels(c, c.prediction.low_hz(), c.prediction.high_hz()),
                                           c.prediction, r.level_db)) {
        const double hz = std::clamp(middle, passage.from_hz, passage.to_hz);
        const bool nearer = !best || distance(hz) < distance(*best)
                            || (distance(hz) == distance(*best)
                                && std::abs(hz - middle) < std::abs(*best - middle));
        best = nearer ? hz : *best;
    }
    return best;
}

// Neighbouring passages of both levels with no other passage between them.
std::optional<Passage> widest_transition(const TransitionWidthRequirement& r, const Case& c) {
    const Sampled level = levels(c, r.from_hz, r.to_hz);
    std::vector<std::pair<Passage, bool>> all;
    for (const bool pass : {true, false}) {
        for (const Passage& passage : passages(level, c.prediction, pass ? r.pass_db : r.stop_db)) {
            all.emplace_back(passage, pass);
        }
    }
    std::ranges::sort(all, {}, [](const auto& passage) { return passage.first.from_hz; });
    std::optional<Passage> widest;
    for (std::size_t i = 1; i < all.size(); ++i) {
        const double low = all[i - 1].first.to_hz, high = all[i].first.from_hz;
        if (all[i - 1].second != all[i].second
            && (!widest || high - low > widest->to_hz - widest->from_hz)) {
            widest = {low, high};
        }
    }
    return widest;
}

} // namespace

Finding judge(const CrossingRequirement& r, const Case& c) {
    if (const auto why = obstacle_in(r.min_hz, r.max_hz, c.prediction); !why.empty()) {
        return undecided(c.title, why);
    }
    const auto found = nearest_crossing(r, c);
    if (!found) {
        return undecided(c.title, fmt::format("the level never passes {:.4g} dB; change the "
                                              "chain or the level",
                                              r.level_db));
    }
    const double room = std::min(*found - r.min_hz, r.max_hz - *found);
    const bool lower_is_nearer = *found - r.min_hz <= r.max_hz - *found;
    return judged(c.title, "Hz", *found, lower_is_nearer ? r.min_hz : r.max_hz, room, *found);
}

Finding judge(const TransitionWidthRequirement& r, const Case& c) {
    if (const auto why = obstacle_in(r.from_hz, r.to_hz, c.prediction); !why.empty()) {
        return undecided(c.title, why);
    }
    const auto widest = widest_transition(r, c);
    if (!widest) {
        return undecided(c.title,
                         fmt::format("the level does not go from {:.4g} dB to {:.4g} dB in the "
                                     "range; change the chain, the levels or the range",
                                     r.pass_db, r.stop_db));
    }
    const double width = widest->to_hz - widest->from_hz;
    return judged(c.title, "Hz", width, r.max_hz, r.max_hz - width,
                  std::sqrt(widest->from_hz * widest->to_hz));
}

} // namespace syntonon
