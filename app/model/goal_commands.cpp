// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/goal_commands.h"

#include "app/widgets/words.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

QString frequency(double hz) {
    return QString::fromStdString(frequency_text(hz));
}

} // namespace

const Goal* current_goal(const Session& session) {
    return session.channel() != nullptr ? goal_of(session.study(), *session.channel()) : nullptr;
}

void add_goal(Session& session) {
    if (session.channel() == nullptr) {
        return;
    }
    Goal goal;
    goal.name = session.channel()->name + " goal";
    goal.id = fresh_id(session.study(), goal.name);
    goal.target.points = {{20, 0, {}}, {20000, 0, {}}};
    goal.corridor = {
        CorridorRange{40, std::min(16000.0, session.study().sample_rate_hz * 0.45), 2, 2, {}}};
    const auto index = static_cast<std::size_t>(session.selection().channel);
    session.edit(tr("Add a goal"), [&](Study& study) {
        study.goals.emplace_back(goal);
        study.channels[index].edit().goal = goal.id;
    });
}

void choose_goal(Session& session, const QString& id) {
    session.edit_channel(tr("Choose a goal"),
                         [&](Channel& channel) { channel.goal = id.toStdString(); });
}

void choose_measured(Session& session, const QString& id) {
    session.edit_channel(tr("Choose a measured curve"),
                         [&](Channel& channel) { channel.measured = id.toStdString(); });
}

void edit_goal(Session& session, const QString& name, const std::function<void(Goal&)>& change,
               const QString& gesture) {
    if (const Goal* goal = current_goal(session)) {
        session.edit(
            name,
            [&, id = goal->id](Study& study) {
                const auto found =
                    std::ranges::find_if(study.goals, [&](const auto& g) { return g->id == id; });
                change(found->edit());
            },
            gesture);
    }
}

void rename_goal(Session& session, const QString& name) {
    if (!name.trimmed().isEmpty()) {
        edit_goal(session, tr("Rename the goal to %1").arg(name.trimmed()),
                  [&](Goal& goal) { goal.name = name.trimmed().toStdString(); });
    }
}

void duplicate_goal(Session& session) {
    const Goal* goal = current_goal(session);
    if (goal == nullptr) {
        return;
    }
    Goal copy = *goal;
    copy.name += " copy";
    copy.id = fresh_id(session.study(), copy.name);
    const auto index = static_cast<std::size_t>(session.selection().channel);
    session.edit(tr("Duplicate the goal"), [&](Study& study) {
        study.goals.emplace_back(copy);
        study.channels[index].edit().goal = copy.id;
    });
}

void remove_goal(Session& session) {
    if (const Goal* goal = current_goal(session)) {
        session.edit(tr("Remove the goal %1").arg(QString::fromStdString(goal->name)),
                     [id = goal->id](Study& study) {
                         std::erase_if(study.goals, [&](const auto& g) { return g->id == id; });
                     });
    }
}

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

void keep_target_as_points(Session& session) {
    edit_goal(session, tr("Keep the target as points"),
              [&](Goal& goal) { keep_as_points(session, goal.target); });
}

void add_target_point(Session& session, double hz, double level_db) {
    const double anchor = target_anchor_db(session);
    edit_goal(session, tr("Add a target point at %1").arg(frequency(hz)), [&](Goal& goal) {
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
    const Goal* goal = current_goal(session);
    const auto is_there = [&](int i) {
        return i >= 0 && i < static_cast<int>(goal->target.points.size());
    };
    if (goal == nullptr || points.empty() || !std::ranges::all_of(points, is_there)) {
        return;
    }
    edit_goal(session,
              points.size() == 1 ? tr("Remove a target point")
                                 : tr("Remove %1 target points").arg(points.size()),
              [&](Goal& g) {
                  for (auto i = points.rbegin(); i != points.rend(); ++i) {
                      g.target.points.erase(g.target.points.begin() + *i);
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
    const Goal* goal = current_goal(session);
    if (goal == nullptr || points.empty()) {
        return;
    }
    double mean = 0;
    for (const int i : points) {
        mean += goal->target.points.at(static_cast<std::size_t>(i)).value
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

void add_corridor_range(Session& session, double from_hz, double to_hz) {
    edit_goal(session, tr("Add a corridor range"), [&](Goal& goal) {
        CorridorRange range{from_hz, to_hz, 2, 2, {}};
        if (!goal.corridor.empty()) {
            range.above_db = goal.corridor.back().above_db;
            range.below_db = goal.corridor.back().below_db;
        }
        goal.corridor.push_back(range);
    });
}

void remove_corridor_range(Session& session, int index) {
    const Goal* goal = current_goal(session);
    if (goal != nullptr && index >= 0 && static_cast<std::size_t>(index) < goal->corridor.size()) {
        edit_goal(session, tr("Remove a corridor range"),
                  [&](Goal& g) { g.corridor.erase(g.corridor.begin() + index); });
    }
}

void add_weight_point(Session& session, double hz, double weight) {
    edit_goal(session, tr("Add a weight point at %1").arg(frequency(hz)), [&](Goal& goal) {
        auto& points = goal.weights.points;
        const auto place = std::ranges::lower_bound(points, hz, {}, &WeightPoint::frequency_hz);
        const double kept = std::clamp(weight, least_weight, greatest_weight);
        if (place != points.end() && place->frequency_hz == hz) {
            place->weight = kept;
        } else {
            points.insert(place, WeightPoint{hz, kept});
        }
    });
}

void add_requirement(Session& session, const RequirementSpec& spec) {
    const Requirement requirement{spec};
    edit_goal(session,
              tr("Add the requirement %1").arg(QString::fromStdString(title_of(requirement))),
              [&](Goal& goal) { goal.requirements.push_back(requirement); });
}

void remove_requirement(Session& session, int index) {
    const Goal* goal = current_goal(session);
    if (goal != nullptr && index >= 0
        && static_cast<std::size_t>(index) < goal->requirements.size()) {
        const auto& gone = goal->requirements[static_cast<std::size_t>(index)];
        edit_goal(session,
                  tr("Remove the requirement %1").arg(QString::fromStdString(title_of(gone))),
                  [&](Goal& g) { g.requirements.erase(g.requirements.begin() + index); });
    }
}

void add_curve(Session& session, Curve curve, bool use_as_measured) {
    curve.id = fresh_id(session.study(), curve.name);
    const auto index = static_cast<std::size_t>(session.selection().channel);
    session.edit(tr("Import %1").arg(QString::fromStdString(curve.name)), [&](Study& study) {
        if (use_as_measured && index < study.channels.size()) {
            study.channels[index].edit().measured = curve.id;
        }
        study.curves.emplace_back(std::move(curve));
    });
}

void remove_curve(Session& session, const QString& id) {
    session.edit(tr("Remove curve %1").arg(id), [&](Study& study) {
        std::erase_if(study.curves, [&](const auto& c) { return c->id == id.toStdString(); });
    });
}

} // namespace syntonon
