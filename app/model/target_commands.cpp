// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/target_commands.h"

#include "app/model/goal_commands.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace syntonon {
namespace {

TargetLine points_of(const Session& session, const Target& target) {
    if (target.house) {
        return line_of(*target.house);
    }
    constexpr double points_an_octave = 12, lowest_hz = 10;
    TargetLine line;
    line.open_ends = true;
    const auto& level = session.analysis()->goal->level;
    if (!level) {
        return line;
    }
    const double half = session.study().sample_rate_hz / 2;
    for (const TargetCurve::Part& part : level->parts(lowest_hz, half)) {
        const double octaves = std::log2(part.to_hz / part.from_hz);
        const int steps = std::max(1, static_cast<int>(std::ceil(octaves * points_an_octave)));
        for (int i = 0; i <= steps; ++i) {
            const double hz =
                i == steps ? part.to_hz : part.from_hz * std::exp2(octaves * i / steps);
            line.points.push_back({hz, level->value_in(part, hz), {}});
        }
        line.points.back().after = Between::gap;
    }
    return line;
}

void keep_as_points(const Session& session, Target& target) {
    if (!target.house && !target.source) {
        return;
    }
    const bool followed = target.source.has_value();
    static_cast<TargetLine&>(target) = points_of(session, target);
    target.house.reset();
    target.source.reset();
    if (followed) {
        target.anchor = LevelAnchor{}; // it is in the points now
    }
}

} // namespace

double target_anchor_db(const Session& session) {
    const auto analysis = session.analysis();
    if (analysis == nullptr || analysis->goal == nullptr || !analysis->goal->level) {
        return 0;
    }
    const Target& target = analysis->goal->goal->target;
    for (std::size_t i = target.points.size(); i-- > 0;) {
        // Of two points at a jump the later one is read.
        if (const auto level = analysis->goal->level->value_at(target.points[i].frequency_hz)) {
            return *level - target.points[i].value;
        }
    }
    return target.anchor.offset_db;
}

double target_level_at(const Session& session, double hz) {
    const auto analysis = session.analysis();
    if (analysis == nullptr || analysis->goal == nullptr || !analysis->goal->level) {
        return 0;
    }
    return analysis->goal->level->value_at(hz).value_or(0);
}

void keep_target_as_points(Session& session) {
    edit_goal(session, tr("Keep the target as points"),
              [&](Goal& goal) { keep_as_points(session, goal.target); });
}

void add_target_point(Session& session, double hz, double level_db) {
    const double anchor = target_anchor_db(session);
    edit_goal(
        session, tr("Add a target point at %1").arg(QString::fromStdString(frequency_text(hz))),
        [&](Goal& goal) {
            const bool followed = goal.target.source.has_value();
            keep_as_points(session, goal.target);
            auto& points = goal.target.points;
            const double value = level_db - (followed ? 0 : anchor);
            const auto place = std::ranges::lower_bound(points, hz, {}, &TargetPoint::frequency_hz);
            if (place != points.end() && place->frequency_hz == hz) {
                place->value = value;
            } else {
                // The line into which it is put goes on after it as it was.
                const auto after = place != points.begin() ? (place - 1)->after : std::nullopt;
                points.insert(place, TargetPoint{hz, value, after});
            }
        });
}

void remove_target_points(Session& session, const std::set<int>& points) {
    const Goal goal = goal_to_state(session);
    const auto is_there = [&](int i) {
        return i >= 0 && i < static_cast<int>(goal.target.points.size());
    };
    if (points.empty() || !std::ranges::all_of(points, is_there)) {
        return;
    }
    edit_goal(session,
              points.size() == 1 ? tr("Remove a target point")
                                 : tr("Remove %1 target points").arg(points.size()),
              [&](Goal& g) {
                  const std::vector<int> from_last(points.rbegin(), points.rend());
                  for (const int i : from_last) {
                      g.target.points.erase(g.target.points.begin() + i);
                  }
              });
}

void move_points(TargetLine& line, std::set<int> points, double ratio, double by) {
    constexpr double apart = 1.001;
    auto& all = line.points;
    const int count = static_cast<int>(all.size());
    const auto hz = [&](int i) { return all[static_cast<std::size_t>(i)].frequency_hz; };
    const std::set<int> chosen = points; // only these change their level
    for (const int i : chosen) {
        for (const int partner : {i - 1, i + 1}) {
            if (partner >= 0 && partner < count && hz(partner) == hz(i)) {
                points.insert(partner);
            }
        }
    }
    double least = 0, greatest = 1e9;
    for (const int i : points) {
        least = std::max(least, (i > 0 ? hz(i - 1) * apart : 0.1) / hz(i)
                                    * (points.contains(i - 1) ? 0 : 1));
        if (!points.contains(i + 1)) {
            greatest = std::min(greatest, (i + 1 < count ? hz(i + 1) / apart : 1e7) / hz(i));
        }
    }
    const double held = least <= greatest ? std::clamp(ratio, least, greatest) : 1;
    for (const int i : points) {
        all[static_cast<std::size_t>(i)].frequency_hz *= held;
        all[static_cast<std::size_t>(i)].value += chosen.contains(i) ? by : 0;
    }
}

void move_target_points(Session& session, const std::set<int>& points, double ratio, double db,
                        const QString& gesture) {
    if (!points.empty()) {
        edit_goal(
            session,
            points.size() == 1 ? tr("Move a target point")
                               : tr("Move %1 target points").arg(points.size()),
            [&](Goal& goal) { move_points(goal.target, points, ratio, db); }, gesture);
    }
}

void scale_target_points(Session& session, const std::set<int>& points, double factor) {
    const Goal goal = goal_to_state(session);
    if (points.empty()) {
        return;
    }
    double mean = 0;
    for (const int i : points) {
        mean += goal.target.points.at(static_cast<std::size_t>(i)).value
                / static_cast<double>(points.size());
    }
    edit_goal(session, tr("Scale %1 target points").arg(points.size()), [&](Goal& g) {
        for (const int i : points) {
            double& value = g.target.points[static_cast<std::size_t>(i)].value;
            value = mean + factor * (value - mean);
        }
    });
}

void add_jump(Session& session, int point) {
    edit_goal(session, tr("Add a jump to the target"), [&](Goal& goal) {
        auto& points = goal.target.points;
        const auto i = static_cast<std::size_t>(point);
        const bool taken =
            (i > 0 && points[i - 1].frequency_hz == points[i].frequency_hz)
            || (i + 1 < points.size() && points[i + 1].frequency_hz == points[i].frequency_hz);
        if (!taken) {
            TargetPoint second = points[i];
            second.value -= 6;
            points[i].after.reset();
            points.insert(points.begin() + point + 1, second);
        }
    });
}

} // namespace syntonon
