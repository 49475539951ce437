// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/picture_scale.h"

#include "app/plot/lane_ticks.h"
#include "app/widgets/line_text.h"
#include "app/widgets/theme.h"

namespace syntonon {

void paint_scale(QPainter& painter, const QRectF& area, const std::vector<ScaleMark>& marks) {
    for (const ScaleMark& mark : marks) {
        painter.setPen(theme().grid);
        painter.drawLine(QPointF(area.left(), mark.y), QPointF(area.right(), mark.y));
        painter.setPen(theme().soft);
        draw_line(painter, QRectF(0, mark.y - 8, area.left() - 6, 16),
                  Qt::AlignRight | Qt::AlignVCenter, mark.text);
    }
}

void paint_frequencies(QPainter& painter, const QRectF& area, double low_hz, double rate_hz,
                       const std::function<double(double hz)>& x_of, AcrossLines lines) {
    double last = -100;
    for (const AxisTick& tick : frequency_ticks(LaneView(), rate_hz, low_hz, rate_hz / 2)) {
        const double x = x_of(tick.place);
        if (lines == AcrossLines::at_each) {
            painter.setPen(theme().grid);
            painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()));
        }
        constexpr double apart = 34;
        if (x - last > apart) {
            painter.setPen(theme().soft);
            draw_line(painter, QRectF(x - 20, area.bottom() + 4, 40, 16), Qt::AlignCenter,
                      tick.text);
            last = x;
        }
    }
}

} // namespace syntonon
