// How a pole or zero looks, in the plane and on the roots lane.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QPainter>
#include <QPointF>

namespace syntonon {

struct RootMark {
    bool is_pole = false;
    bool is_selected = false; // its stage is
    bool is_unstable = false;
    bool is_in_hand = false;
    int count = 1; // of equal ones
};

void draw_root_mark(QPainter& painter, const QPointF& at, const RootMark& mark);
// The cross or ring alone, in the painter's pen.
void draw_root_shape(QPainter& painter, const QPointF& at, bool is_pole);

} // namespace syntonon
