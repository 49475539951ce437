// What the page of a network says, as rows.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/plot/lane_content.h"

#include <QString>
#include <optional>
#include <vector>

namespace syntonon {

// Three columns, or one across where the others are empty.
struct NetworkRow {
    QString name, value = {}, note = {};
    std::optional<double> hz = {}; // where a click takes the plumb line
    QString key = {};              // of the curve that a check box shows
};

struct NetworkSection {
    QString title;
    std::vector<NetworkRow> rows; // not empty
};

// Of the selected channel; `network` is what Session::network() says.
std::vector<NetworkSection> network_sections(Session& session, const Stage& network,
                                             const LaneContent& curves);

} // namespace syntonon
