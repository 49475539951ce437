// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/plumb_readout.h"

#include "app/widgets/line_text.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

namespace syntonon {
namespace {

constexpr int row_height = 17, padding = 9, box_width = 168, gap = 9;

QString frequency_of(const LanePlot& plot, double hz) {
    const QString in_hz = QString::fromStdString(frequency_text(hz, 4));
    const AxisUnit unit = plot.view().frequency_unit;
    return unit == AxisUnit::hz ? in_hz
                                : QStringLiteral("%1 · %2 %3")
                                      .arg(in_hz)
                                      .arg(hz / hz_of(unit, plot.sample_rate_hz()), 0, 'g', 4)
                                      .arg(title_of(unit));
}

// Where the line stands in the two-sided and mirrored views it stands for the frequency itself.
void paint_line(QPainter& painter, const LanePlot& plot, double hz, bool pinned) {
    const Theme& t = theme();
    const double x = plot.x_of(hz);
    const QRect all = plot.rect_of_all();
    painter.setPen(QPen(t.text, 1, Qt::SolidLine));
    painter.setOpacity(pinned ? 1.0 : 0.7);
    painter.drawLine(QPointF(x, all.top()), QPointF(x, all.bottom()));
    painter.setOpacity(1.0);
    if (pinned) { // a weight at the line's foot: it stays
        painter.setBrush(t.text);
        painter.drawPolygon(QPolygonF(
            {{x - 4, all.bottom() - 6.0}, {x + 4, all.bottom() - 6.0}, {x, all.bottom() + 1.0}}));
    }
}

void paint_box(QPainter& painter, const QRectF& box, const QString& title,
               const std::vector<ReadoutRow>& rows) {
    const Theme& t = theme();
    painter.setPen(t.hairline);
    painter.setBrush(t.raised);
    painter.drawRect(box);
    painter.setFont(text_font(12, QFont::DemiBold));
    painter.setPen(t.text);
    QRectF row(box.left() + padding, box.top() + padding - 2, box.width() - 2 * padding,
               row_height);
    draw_line(painter, row, Qt::AlignLeft | Qt::AlignVCenter,
              elided_line(painter.font(), title, row.width()));
    painter.setFont(text_font(11));
    for (const ReadoutRow& r : rows) {
        row.translate(0, row_height);
        const double value_width = line_width(painter.font(), r.value) + 8;
        painter.setPen(r.colour);
        draw_line(painter, row, Qt::AlignLeft | Qt::AlignVCenter,
                  elided_line(painter.font(), r.name, row.width() - value_width));
        painter.setPen(t.text);
        draw_line(painter, row, Qt::AlignRight | Qt::AlignVCenter, r.value);
    }
}

int box_height(const std::vector<ReadoutRow>& rows) {
    return static_cast<int>(rows.size() + 1) * row_height + 2 * padding - 3;
}

// How much of the curves each row of pixels holds, between two columns of pixels.
class Crowd {
public:
    Crowd(const LanePlot& plot, const LaneContent& content, double left, double right)
        : up_to_(static_cast<std::size_t>(std::max(1, plot.height())) + 1) {
        const auto curves = content.curves_in_work();
        for (std::size_t i = 0; i < curves.size(); ++i) {
            const double weight = i < 2 ? 4 : 1;
            for (const QPointF& at : curves[i].pixels_between(left, right)) {
                if (at.y() >= 0 && at.y() < plot.height()) {
                    up_to_[static_cast<std::size_t>(at.y()) + 1] += weight;
                }
            }
        }
        std::partial_sum(up_to_.begin(), up_to_.end(), up_to_.begin());
    }
    double between(double top, double bottom) const {
        const auto row = [&](double y) {
            return static_cast<std::size_t>(
                std::clamp(y, 0.0, static_cast<double>(up_to_.size() - 1)));
        };
        return up_to_[row(bottom)] - up_to_[row(top)];
    }

private:
    std::vector<double> up_to_;
};

double hidden_boxes(const QRectF& box, const ReadoutObstacles& obstacles) {
    constexpr double of_a_grip = 10'000, of_a_label = 60;
    const auto hits = [&](const std::vector<QRectF>& boxes) {
        return static_cast<double>(
            std::ranges::count_if(boxes, [&](const QRectF& b) { return b.intersects(box); }));
    };
    return of_a_grip * hits(obstacles.grips) + of_a_label * hits(obstacles.labels);
}

// Beside the line, at the height where it hides least; rather where it stood, so that it does not
// hop while the pointer moves.
QRectF place_box(const LanePlot& plot, const LaneContent& content, double x, int height,
                 const ReadoutObstacles& obstacles, const QRectF& stood) {
    constexpr double step = 4, hop = 4, apart = 0.02;
    const QRect all = plot.rect_of_all();
    QRectF best;
    double least = std::numeric_limits<double>::infinity();
    for (const double left : {std::round(x + gap), std::round(x - gap - box_width)}) {
        if (left < all.left() || left + box_width > all.right() + 1) {
            continue;
        }
        const Crowd crowd(plot, content, left, left + box_width);
        for (double top = all.top() + 5; top + height + 5 <= all.bottom(); top += step) {
            const QRectF box(left, top, box_width, height);
            const bool moved = std::abs(top - stood.top()) > step / 2;
            const double cost = crowd.between(top, top + height) + hidden_boxes(box, obstacles)
                                + (moved ? hop : 0) + apart * (top - all.top());
            if (cost < least) {
                least = cost;
                best = box;
            }
        }
    }
    return best.isNull() ? QRectF(all.left(), all.top() + 5, box_width, height) : best;
}

} // namespace

void PlumbReadout::paint(QPainter& painter, const LanePlot& plot, const PlumbLine& plumb,
                         const LaneContent& content, const ReadoutObstacles& obstacles) {
    const auto on_lanes = [&](const std::optional<double>& hz) {
        return hz && *hz >= plot.low_hz() && *hz <= plot.high_hz();
    };
    const QRect all = plot.rect_of_all();
    const QPointF column(all.right() + 10, plot.rect_of_all().top());
    if (!on_lanes(plumb.hz())) {
        box_ = {};
        if (is_column_) {
            painter.setFont(text_font(11));
            painter.setPen(theme().soft);
            painter.drawText(QRectF(column, QSizeF(box_width, 60)), Qt::TextWordWrap,
                             tr("Point at the lanes: every curve is read here."));
        }
        return;
    }
    paint_line(painter, plot, *plumb.hz(), plumb.is_pinned());
    const auto rows = content.readout_at(*plumb.hz());
    const QSizeF size(box_width, box_height(rows));
    box_ = is_column_ ? QRectF(column, size)
                      : place_box(plot, content, plot.x_of(*plumb.hz()), box_height(rows),
                                  obstacles, box_);
    paint_box(painter, box_, frequency_of(plot, *plumb.hz()), rows);
    if (!on_lanes(plumb.second_hz())) {
        return;
    }
    paint_line(painter, plot, *plumb.second_hz(), true);
    const auto differences = content.differences_between(*plumb.hz(), *plumb.second_hz());
    const QSizeF other_size(box_width, box_height(differences));
    ReadoutObstacles more = obstacles;
    more.grips.push_back(box_.adjusted(-4, -4, 4, 4));
    const QRectF other = is_column_ ? QRectF(box_.bottomLeft() + QPointF(0, 8), other_size)
                                    : place_box(plot, content, plot.x_of(*plumb.second_hz()),
                                                box_height(differences), more, {});
    paint_box(painter, other,
              tr("from %1 to %2")
                  .arg(QString::fromStdString(frequency_text(*plumb.hz())),
                       QString::fromStdString(frequency_text(*plumb.second_hz()))),
              differences);
}

} // namespace syntonon
