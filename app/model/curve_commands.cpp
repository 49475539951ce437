// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/curve_commands.h"

#include "app/widgets/words.h"

#include <algorithm>

namespace syntonon {
namespace {

QString curve_name(const Session& session, const std::string& id) {
    const Curve* curve = curve_of(session.study(), id);
    return QString::fromStdString(curve != nullptr ? curve->name : id);
}

void edit_curve(Session& session, const QString& name, const std::string& id, auto change) {
    session.edit(name, [&](Study& study) {
        for (auto& curve : study.curves) {
            if (curve->id == id) {
                change(curve.edit());
            }
        }
    });
}

} // namespace

void choose_measured(Session& session, const QString& id) {
    session.edit_channel(tr("Choose a measured curve"), [&](Channel& channel) {
        channel.measured.clear();
        if (!id.isEmpty()) {
            channel.measured.push_back({id.toStdString()});
        }
    });
}

void add_curve(Session& session, Curve curve, UseAs use) {
    curve.id = fresh_id(session.study(), curve.name);
    const std::string id = curve.id;
    const auto index = static_cast<std::size_t>(session.selection().channel);
    session.edit(tr("Import %1").arg(QString::fromStdString(curve.name)), [&](Study& study) {
        if (use != UseAs::nothing && index < study.channels.size()) {
            MeasuredSet& set = study.channels[index].edit().measured;
            if (use == UseAs::measured) {
                set.clear();
            }
            set.push_back({id});
        }
        study.curves.emplace_back(std::move(curve));
    });
    session.curve_in_hand().take(id);
}

void remove_curve(Session& session, const QString& id) {
    session.edit(
        tr("Remove curve %1").arg(curve_name(session, id.toStdString())), [&](Study& study) {
            std::erase_if(study.curves, [&](const auto& c) { return c->id == id.toStdString(); });
        });
}

void rename_curve(Session& session, const std::string& id, const QString& name) {
    if (name.trimmed().isEmpty() || name == curve_name(session, id)) {
        return;
    }
    edit_curve(session, tr("Rename curve %1").arg(curve_name(session, id)), id,
               [&](Curve& curve) { curve.name = name.trimmed().toStdString(); });
}

void recolour_curve(Session& session, const std::string& id, const QString& colour) {
    edit_curve(session, tr("Colour curve %1").arg(curve_name(session, id)), id,
               [&](Curve& curve) { curve.colour = colour.toStdString(); });
}

bool is_position_of(const Channel& channel, const std::string& curve) {
    return std::ranges::find(channel.measured, curve, &Position::curve) != channel.measured.end();
}

void assign_curve(Session& session, const std::string& id, int channel, bool assigned) {
    const auto index = static_cast<std::size_t>(channel);
    const auto& channels = session.study().channels;
    if (index >= channels.size() || is_position_of(*channels[index], id) == assigned) {
        return;
    }
    const QString to = QString::fromStdString(channels[index]->name);
    const QString name = assigned ? tr("Give %1 to %2").arg(curve_name(session, id), to)
                                  : tr("Take %1 from %2").arg(curve_name(session, id), to);
    session.edit(name, [&](Study& study) {
        MeasuredSet& set = study.channels[index].edit().measured;
        if (assigned) {
            set.push_back({id});
        } else {
            std::erase_if(set, [&](const Position& p) { return p.curve == id; });
        }
    });
}

void weigh_position(Session& session, const std::string& id, int channel, double weight) {
    const auto index = static_cast<std::size_t>(channel);
    if (index >= session.study().channels.size() || !(weight >= 0)) {
        return;
    }
    session.edit(tr("Weigh %1").arg(curve_name(session, id)), [&](Study& study) {
        for (Position& position : study.channels[index].edit().measured) {
            position.weight = position.curve == id ? weight : position.weight;
        }
    });
}

} // namespace syntonon
