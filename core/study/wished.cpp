// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/wished.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace syntonon {
namespace {

constexpr double lowest_place_hz = 5;
constexpr double places_an_octave = 48;

struct Cell {
    double from_hz, to_hz;
    bool is_within(double low, double high) const { return low <= from_hz && to_hz <= high; }
};

void sort_once(std::vector<double>& hz) {
    std::ranges::sort(hz);
    hz.erase(std::unique(hz.begin(), hz.end()), hz.end());
}

using Parts = std::vector<TargetCurve::Part>;

// Between which everything goes on as it began.
std::vector<Cell> cells_of(const Goal& goal, const Parts& parts, double end_hz) {
    std::vector<double> edges{0, end_hz};
    const auto add = [&](const auto& range) {
        edges.push_back(range.from_hz);
        edges.push_back(range.to_hz);
    };
    std::ranges::for_each(parts, add);
    std::ranges::for_each(goal.corridor, add);
    std::ranges::for_each(goal.weights.ranges, add);
    std::erase_if(edges, [&](double hz) { return !(hz >= 0 && hz <= end_hz); });
    sort_once(edges);
    std::vector<Cell> cells;
    for (std::size_t i = 0; i + 1 < edges.size(); ++i) {
        cells.push_back({edges[i], edges[i + 1]});
    }
    return cells;
}

// Corners, and as many more that what is straight over linear frequency is so over its logarithm.
std::vector<double> places_in(const Cell& cell, const Goal& goal, const TargetCurve::Part* part) {
    std::vector<double> hz{cell.from_hz, cell.to_hz};
    const auto add = [&](double place) {
        if (place > cell.from_hz && place < cell.to_hz) {
            hz.push_back(place);
        }
    };
    if (part != nullptr) {
        std::ranges::for_each(part->corners_hz, add);
    }
    for (const WeightPoint& point : goal.weights.points) {
        add(point.frequency_hz);
    }
    const double ratio = std::exp2(1 / places_an_octave);
    for (double f = std::max(cell.from_hz, lowest_place_hz); f < cell.to_hz; f *= ratio) {
        add(f);
    }
    sort_once(hz);
    return hz;
}

// The corridor's edges at a place where the target is `level`.
LevelBand edges_at(const std::vector<const CorridorRange*>& ranges, double hz,
                   std::optional<double> level) {
    LevelBand band{-infinity, infinity};
    for (const CorridorRange* range : ranges) {
        const double middle = range->absolute ? 0 : *level;
        band.lower_db =
            std::max(band.lower_db, middle - below_db_at(*range, hz).value_or(infinity));
        band.upper_db =
            std::min(band.upper_db, middle + above_db_at(*range, hz).value_or(infinity));
    }
    return band;
}

double weight_in(const Cell& cell, const Weights& weights, double hz) {
    double weight = weight_at(Weights{weights.points, {}, {}}, hz);
    for (const WeightRange& range : weights.ranges) {
        weight *= cell.is_within(range.from_hz, range.to_hz) ? range.weight : 1;
    }
    return weight;
}

std::optional<WishedPart> part_of(const Cell& cell, const ResolvedGoal& goal, const Parts& parts) {
    const auto found = std::ranges::find_if(
        parts, [&](const auto& part) { return cell.is_within(part.from_hz, part.to_hz); });
    const TargetCurve::Part* target = found != parts.end() ? &*found : nullptr;
    std::vector<const CorridorRange*> ranges;
    for (const CorridorRange& range : goal.goal->corridor) {
        if (cell.is_within(range.from_hz, range.to_hz) && (range.absolute || target != nullptr)) {
            ranges.push_back(&range);
        }
    }
    if (target == nullptr && ranges.empty()) {
        return std::nullopt;
    }
    WishedPart part{places_in(cell, *goal.goal, target), {}, {}, {}, {}};
    for (const double hz : part.frequency_hz) {
        const auto level =
            target != nullptr ? std::optional(goal.level->value_in(*target, hz)) : std::nullopt;
        if (level) {
            part.level_db.push_back(*level);
        }
        const LevelBand band = edges_at(ranges, hz, level);
        if (std::isfinite(band.lower_db)) {
            part.lower_db.push_back(band.lower_db);
        }
        if (std::isfinite(band.upper_db)) {
            part.upper_db.push_back(band.upper_db);
        }
        if (!goal.goal->weights.empty()) {
            part.weight.push_back(weight_in(cell, goal.goal->weights, hz));
        }
    }
    return part;
}

} // namespace

namespace {

std::vector<WishedLine> lines_of(const std::optional<TargetCurve>& target, double end_hz) {
    std::vector<WishedLine> lines;
    for (const auto& part : target ? target->parts(0, end_hz) : Parts()) {
        WishedLine line{places_in({part.from_hz, part.to_hz}, {}, &part), {}};
        std::erase_if(line.frequency_hz, [](double hz) { return hz <= 0; });
        for (const double hz : line.frequency_hz) {
            line.value.push_back(target->value_in(part, hz));
        }
        if (line.frequency_hz.size() > 1) {
            lines.push_back(std::move(line));
        }
    }
    return lines;
}

} // namespace

std::shared_ptr<const WishedTiming> wished_timing_of(const ResolvedGoal& goal, const Axis& axis) {
    WishedTiming timing{lines_of(goal.phase_deg, axis.end_hz()),
                        lines_of(goal.group_delay_ms, axis.end_hz())};
    const bool is_empty = timing.phase_deg.empty() && timing.group_delay_ms.empty();
    return is_empty ? nullptr : std::make_shared<const WishedTiming>(std::move(timing));
}

Brief brief_for(const ResolvedGoal& goal, const Axis& axis) {
    Brief brief = brief_at(axis);
    const bool is_clear = !is_stated(goal.goal->target) || goal.level;
    brief.wished = std::make_shared<const Wished>(is_clear ? wished_of(goal, axis) : Wished{});
    return brief;
}

namespace {

bool has_corridor(const WishedPart& part) {
    return !part.lower_db.empty() || !part.upper_db.empty();
}

// Whether the corridor excludes the target at one of the part's ends.
bool excludes_target(const WishedPart& part, bool at_begin) {
    const auto at = [&](const std::vector<double>& v) { return at_begin ? v.front() : v.back(); };
    return !part.level_db.empty()
           && ((!part.upper_db.empty() && at(part.level_db) > at(part.upper_db))
               || (!part.lower_db.empty() && at(part.level_db) < at(part.lower_db)));
}

// A target that the corridor excludes is no way to get there: what lies between such a range and
// the next one, or the axis' end, is left free, as a transition is. Where no range holds the
// target, it stands alone for what is to be passed, and stays.
void leave_transitions(Wished& wished) {
    if (std::ranges::none_of(wished, [](const WishedPart& part) {
            return has_corridor(part) && !part.level_db.empty() && !excludes_target(part, true)
                   && !excludes_target(part, false);
        })) {
        return;
    }
    std::vector<bool> is_free(wished.size(), false);
    const auto touch = [&](std::size_t a, std::size_t b) {
        return wished[a].frequency_hz.back() == wished[b].frequency_hz.front();
    };
    for (std::size_t i = 1; i < wished.size(); ++i) {
        is_free[i] = !has_corridor(wished[i]) && touch(i - 1, i)
                     && (is_free[i - 1] || excludes_target(wished[i - 1], false));
    }
    for (std::size_t i = wished.size(); i-- > 1;) {
        is_free[i - 1] = is_free[i - 1]
                         || (!has_corridor(wished[i - 1]) && touch(i - 1, i)
                             && (is_free[i] || excludes_target(wished[i], true)));
    }
    std::size_t i = 0;
    std::erase_if(wished, [&](const WishedPart&) { return is_free[i++]; });
}

} // namespace

Wished wished_of(const ResolvedGoal& goal, const Axis& axis) {
    const double end_hz = axis.end_hz();
    const Parts parts =
        is_stated(goal.goal->target) && goal.level ? goal.level->parts(0, end_hz) : Parts();
    Wished wished;
    for (const Cell& cell : cells_of(*goal.goal, parts, end_hz)) {
        if (auto part = part_of(cell, goal, parts)) {
            wished.push_back(std::move(*part));
        }
    }
    leave_transitions(wished);
    return wished;
}

} // namespace syntonon
