// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/desk.h"

#include "app/widgets/words.h"

namespace syntonon {

QString title_of(Desk desk) {
    switch (desk) {
    case Desk::measure:
        return tr("Measure");
    case Desk::shape:
        return tr("Shape");
    case Desk::listen:
        return tr("Listen");
    case Desk::deliver:
        return tr("Deliver");
    }
    return {};
}

QString key_of(Desk desk) {
    static const std::array keys = {"measure", "shape", "listen", "deliver"};
    return QString::fromLatin1(keys.at(static_cast<std::size_t>(desk)));
}

std::optional<Desk> desk_from_key(const QString& key) {
    for (const Desk desk : all_desks) {
        if (key_of(desk) == key) {
            return desk;
        }
    }
    return std::nullopt;
}

} // namespace syntonon
