// How lanes are seen, as something to be remembered.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QJsonObject>

namespace syntonon {

class LaneStack;

// Units, ranges, zoom, which lanes and curves are shown.
QJsonObject arrangement_of(const LaneStack& lanes);
// What makes no sense in it is left as it is.
void arrange(LaneStack& lanes, const QJsonObject& arrangement);

} // namespace syntonon
