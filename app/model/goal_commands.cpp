// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/goal_commands.h"

#include "core/base/number_text.h"

#include <QCoreApplication>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

QString tr(const char* text) {
    return QCoreApplication::translate("GoalCommands", text);
}

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

void add_target_point(Session& session, double hz, double level_db) {
    edit_goal(session, tr("Add a target point at %1").arg(frequency(hz)), [&](Goal& goal) {
        auto& points = goal.target.points;
        const auto place = std::ranges::lower_bound(points, hz, {}, &TargetPoint::frequency_hz);
        if (place != points.end() && place->frequency_hz == hz) {
            place->magnitude_db = level_db;
        } else {
            points.insert(place, TargetPoint{hz, level_db, {}});
        }
    });
}

void remove_target_point(Session& session, int index) {
    const Goal* goal = current_goal(session);
    if (goal != nullptr && index >= 0
        && static_cast<std::size_t>(index) < goal->target.points.size()) {
        const double hz = goal->target.points[static_cast<std::size_t>(index)].frequency_hz;
        edit_goal(session, tr("Remove the target point at %1").arg(frequency(hz)),
                  [&](Goal& g) { g.target.points.erase(g.target.points.begin() + index); });
    }
}

TargetPoint held_between_neighbours(const Target& target, int index, double hz, double level_db) {
    constexpr double apart = 1.001;
    const auto i = static_cast<std::size_t>(index);
    double low = 0.1, high = 1e7;
    if (i > 0) {
        low = target.points[i - 1].frequency_hz * apart;
    }
    if (i + 1 < target.points.size()) {
        high = target.points[i + 1].frequency_hz / apart;
    }
    TargetPoint point = target.points[i];
    point.frequency_hz = low < high ? std::clamp(hz, low, high) : target.points[i].frequency_hz;
    point.magnitude_db = level_db;
    return point;
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
