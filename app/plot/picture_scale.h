// Level marks and frequencies beside the pictures of the bench.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QPainter>
#include <QString>
#include <functional>
#include <vector>

namespace syntonon {

struct ScaleMark {
    double y;
    QString text;
};
// Lines across the area, numbers at its left.
void paint_scale(QPainter& painter, const QRectF& area, const std::vector<ScaleMark>& marks);

enum class AcrossLines { none, at_each };
// Below the area, as many as fit, from `low_hz` to half the rate.
void paint_frequencies(QPainter& painter, const QRectF& area, double low_hz, double rate_hz,
                       const std::function<double(double hz)>& x_of, AcrossLines lines);

} // namespace syntonon
