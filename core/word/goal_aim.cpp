// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/goal_aim.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

constexpr double infinity = std::numeric_limits<double>::infinity();
constexpr std::size_t most_places_of_a_range = 48;

struct Room {
    double above_db = infinity, below_db = infinity;

    void narrow(double above, double below) {
        above_db = std::min(above_db, std::max(above, 0.0));
        below_db = std::min(below_db, std::max(below, 0.0));
    }
};

class GoalAim {
public:
    GoalAim(const ResolvedGoal& goal, const Prediction& prediction)
        : goal_(goal), prediction_(prediction),
          plain_(plain_aim(prediction.chain(), prediction.sample_rate_hz())) {}

    WordAim made() {
        WordAim aim = plain_;
        add_places(aim);
        aim.room_above_db.reserve(aim.hz.size());
        for (const double hz : aim.hz) {
            const Room room = room_at(hz);
            aim.room_above_db.push_back(room.above_db);
            aim.room_below_db.push_back(room.below_db);
            aim.weight.push_back(std::ranges::binary_search(plain_.hz, hz) ? 1 : 0);
        }
        return aim;
    }

private:
    // Of a range: its ends and, of where the prediction turns, about so many.
    void add_range(double from_hz, double to_hz, std::vector<double>& hz) const {
        const double low = std::max({from_hz, prediction_.low_hz(), 1e-3});
        const double high =
            std::min({to_hz, prediction_.high_hz(), prediction_.axis().end_hz() * 0.9999});
        if (!(low < high)) {
            return;
        }
        const std::vector<double> telling = prediction_.telling_frequencies(low, high);
        const std::size_t step = telling.size() / most_places_of_a_range + 1;
        for (std::size_t i = 0; i < telling.size(); i += step) {
            hz.push_back(std::clamp(telling[i], low, high));
        }
        hz.push_back(low);
        hz.push_back(high);
    }

    void add_places(WordAim& aim) const {
        for (const CorridorRange& range : goal_.goal->corridor) {
            add_range(range.from_hz, range.to_hz, aim.hz);
        }
        for (const Requirement& requirement : goal_.goal->requirements) {
            if (const auto* r = std::get_if<AttenuationRequirement>(&requirement.spec)) {
                add_range(r->from_hz, r->to_hz, aim.hz);
            } else if (const auto* one = std::get_if<LevelRequirement>(&requirement.spec)) {
                add_range(one->at_hz, one->at_hz * 1.000001, aim.hz);
            }
        }
        std::ranges::sort(aim.hz);
        aim.hz.erase(std::unique(aim.hz.begin(), aim.hz.end()), aim.hz.end());
    }

    Room room_at(double hz) const {
        Room room;
        const bool is_known = hz >= prediction_.low_hz() && hz <= prediction_.high_hz();
        const double level = is_known ? prediction_.level_db_at(hz) : 0;
        if (is_known && std::isfinite(level)) {
            for (const CorridorRange& range : goal_.goal->corridor) {
                const bool is_inside = hz >= range.from_hz && hz <= range.to_hz;
                if (const auto band = is_inside ? band_at(range, goal_, hz) : std::nullopt) {
                    room.narrow(band->upper_db - level, level - band->lower_db);
                }
            }
        }
        for (const Requirement& requirement : goal_.goal->requirements) {
            std::visit([&](const auto& r) { narrow_by(r, hz, level, is_known, room); },
                       requirement.spec);
        }
        return room;
    }

    void narrow_by(const AttenuationRequirement& r, double hz, double level, bool is_known,
                   Room& room) const {
        if (is_known && hz >= r.from_hz && hz <= r.to_hz) {
            room.narrow(-r.min_db - level, infinity);
        }
    }
    void narrow_by(const LevelRequirement& r, double hz, double level, bool is_known,
                   Room& room) const {
        if (is_known && std::abs(hz / r.at_hz - 1) < 1e-5) {
            room.narrow(r.max_db.value_or(infinity) - level, level - r.min_db.value_or(-infinity));
        }
    }
    void narrow_by(const PeakGainRequirement& r, double hz, double, bool, Room& room) const {
        room.narrow(r.max_db - prediction_.chain_level_db_at(hz), infinity);
    }
    // What the ripple leaves, half of it at the highest place and half at the lowest.
    void narrow_by(const RippleRequirement& r, double hz, double level, bool is_known,
                   Room& room) const {
        if (!is_known || hz < r.from_hz || hz > r.to_hz) {
            return;
        }
        const auto [low, high] = extremes_in(r.from_hz, r.to_hz);
        const double spare = std::max(0.0, r.max_db - (high - low)) / 2;
        room.narrow(high + spare - level, level - low + spare);
    }
    template <class Other>
    void narrow_by(const Other&, double, double, bool, Room&) const {}

    std::pair<double, double> extremes_in(double from_hz, double to_hz) const {
        if (!(from_hz == ripple_from_ && to_hz == ripple_to_)) {
            ripple_from_ = from_hz;
            ripple_to_ = to_hz;
            extremes_ = {infinity, -infinity};
            for (const double hz : prediction_.telling_frequencies(from_hz, to_hz)) {
                const double level = prediction_.level_db_at(hz);
                extremes_ = {std::min(extremes_.first, level), std::max(extremes_.second, level)};
            }
        }
        return extremes_;
    }

    const ResolvedGoal& goal_;
    const Prediction& prediction_;
    WordAim plain_;
    mutable double ripple_from_ = -1, ripple_to_ = -1; // of the last one asked for
    mutable std::pair<double, double> extremes_;
};

} // namespace

WordAim goal_aim(const ResolvedGoal& goal, const Prediction& prediction) {
    return GoalAim(goal, prediction).made();
}

} // namespace syntonon
