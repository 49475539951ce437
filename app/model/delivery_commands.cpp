// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/delivery_commands.h"

#include "app/widgets/words.h"
#include "core/exchange/coefficients.h"
#include "core/exchange/deliver.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

QString delivery_name(const Session& session, const std::string& id) {
    const Delivery* delivery = delivery_of(session.study(), id);
    return QString::fromStdString(delivery != nullptr ? delivery->name : id);
}

// The channels that have coefficients; empty, which means all, where each or none has.
std::vector<std::string> deliverable(Session& session) {
    std::vector<std::string> ids;
    for (const auto& channel : session.study().channels) {
        if (coefficients_of(session.study(), *channel, session.briefs())) {
            ids.push_back(channel->id);
        }
    }
    return ids.size() < session.study().channels.size() ? ids : std::vector<std::string>();
}

} // namespace

std::string add_delivery(Session& session, Delivery like) {
    like.id = fresh_id(session.study(), like.name);
    if (like.channels.empty()) {
        like.channels = deliverable(session);
    }
    const std::string wish = like.name;
    Study tried = session.study();
    tried.deliveries.push_back(like);
    for (int number = 2; !problems_of_files(tried).empty() && number < 1000; ++number) {
        like.name = fmt::format("{} {}", wish, number);
        tried.deliveries.back() = like;
    }
    session.edit(tr("Add delivery %1").arg(QString::fromStdString(like.name)),
                 [&](Study& study) { study.deliveries.push_back(like); });
    return like.id;
}

void remove_delivery(Session& session, const std::string& id) {
    session.edit(tr("Remove delivery %1").arg(delivery_name(session, id)), [&](Study& study) {
        std::erase_if(study.deliveries, [&](const Delivery& d) { return d.id == id; });
    });
}

void edit_delivery(Session& session, const std::string& id, const QString& what,
                   const std::function<void(Delivery&)>& change) {
    const QString name = tr("Delivery %1: %2").arg(delivery_name(session, id), what);
    session.edit(
        name,
        [&](Study& study) {
            for (Delivery& delivery : study.deliveries) {
                if (delivery.id == id) {
                    change(delivery);
                }
            }
        },
        session.continuing_gesture(QString::fromStdString(id) + what));
}

} // namespace syntonon
