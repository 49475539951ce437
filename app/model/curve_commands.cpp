// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/curve_commands.h"

#include "app/widgets/words.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

void choose_measured(Session& session, const QString& id) {
    session.edit_channel(tr("Choose a measured curve"), [&](Channel& channel) {
        channel.measured.clear();
        if (!id.isEmpty()) {
            channel.measured.push_back({id.toStdString()});
        }
    });
}

void add_curve(Session& session, Curve curve, bool use_as_measured) {
    curve.id = fresh_id(session.study(), curve.name);
    const auto index = static_cast<std::size_t>(session.selection().channel);
    session.edit(tr("Import %1").arg(QString::fromStdString(curve.name)), [&](Study& study) {
        if (use_as_measured && index < study.channels.size()) {
            study.channels[index].edit().measured = {{curve.id}};
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
