// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/plumb_readout.h"

#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

#include <cmath>

namespace syntonon {
namespace {

constexpr int row_height = 17, padding = 9, box_width = 168;

QString level_text(double db) {
    return std::isinf(db) ? QStringLiteral("−∞ dB")
                          : QString::fromStdString(signed_text(db, 2)) + " dB";
}

QRectF place_box(const LanePlot& plot, const Session& session, double x, int height) {
    const QRect lane = plot.rect_of(Lane::magnitude);
    const double left = std::round(x + 9 + box_width > lane.right() ? x - 9 - box_width : x + 9);
    const QRectF high(left, lane.top() + 5, box_width, height),
        low(left, lane.bottom() - 5 - height, box_width, height);
    int hidden_high = 0, hidden_low = 0;
    const auto analysis = session.analysis();
    const LevelTrace& curve = analysis->predicted;
    for (std::size_t i = 0; i < curve.frequency_hz.size(); ++i) {
        const double chain = i < analysis->total.response.magnitude_db.size()
                                 ? analysis->total.response.magnitude_db[i]
                                 : 0;
        for (const double level : {curve.level_db[i], chain}) {
            const QPointF at(plot.x_of(curve.frequency_hz[i]), plot.y_of(Lane::magnitude, level));
            hidden_high += high.contains(at) ? 1 : 0;
            hidden_low += low.contains(at) ? 1 : 0;
        }
    }
    return hidden_low < hidden_high ? low : high;
}

} // namespace

std::vector<ReadoutRow> readout_at(Session& session, double hz) {
    const auto point = session.point_at(hz);
    if (!point) {
        return {};
    }
    const Theme& t = theme();
    std::vector<ReadoutRow> rows;
    if (point->measured_db) {
        rows.push_back({QObject::tr("measured"), level_text(*point->measured_db), t.measured});
    }
    if (point->measured_db && point->predicted_db) {
        rows.push_back({QObject::tr("predicted"), level_text(*point->predicted_db), t.ink});
    }
    if (point->target_db) {
        rows.push_back({QObject::tr("goal"), level_text(*point->target_db), t.corridor_edge});
    }
    rows.push_back({QObject::tr("chain"), level_text(point->chain.magnitude_db), t.text});
    const auto analysis = session.analysis();
    const auto selected = static_cast<std::size_t>(session.selection().stage);
    if (session.stage() != nullptr && analysis->stages[selected]->filter) {
        rows.push_back({QObject::tr("stage"),
                        level_text(analysis->stages[selected]
                                       ->filter->response_at(hz, session.study().sample_rate_hz)
                                       .magnitude_db),
                        t.copper});
    }
    rows.push_back(
        {QObject::tr("phase"),
         QString::fromStdString(signed_text(wrapped_deg(deg_from_rad(point->chain.phase_rad)), 1))
             + "°",
         t.text});
    const double delay_ms = point->chain.group_delay_samples / session.study().sample_rate_hz * 1e3;
    rows.push_back({QObject::tr("group delay"),
                    std::isnan(delay_ms) ? QObject::tr("none")
                                         : QString::fromStdString(signed_text(delay_ms, 3)) + " ms",
                    t.text});
    return rows;
}

void paint_plumb_line(QPainter& painter, const LanePlot& plot, Session& session) {
    const auto hz = session.plumb_hz();
    if (!hz || *hz < plot.low_hz() || *hz > plot.high_hz()) {
        return;
    }
    const Theme& t = theme();
    const double x = plot.x_of(*hz);
    const QRect top = plot.rect_of(Lane::magnitude), bottom = plot.rect_of(Lane::delay);
    painter.setPen(QPen(t.text, 1, Qt::SolidLine));
    painter.setOpacity(session.plumb_is_pinned() ? 1.0 : 0.7);
    painter.drawLine(QPointF(x, top.top()), QPointF(x, bottom.bottom()));
    painter.setOpacity(1.0);
    if (session.plumb_is_pinned()) { // a weight at the line's foot: it stays
        painter.setBrush(t.text);
        painter.drawPolygon(QPolygonF({{x - 4, bottom.bottom() - 6.0},
                                       {x + 4, bottom.bottom() - 6.0},
                                       {x, bottom.bottom() + 1.0}}));
    }
    const auto rows = readout_at(session, *hz);
    const int height = static_cast<int>(rows.size() + 1) * row_height + 2 * padding - 3;
    const QRectF box = place_box(plot, session, x, height);
    painter.setPen(t.hairline);
    painter.setBrush(t.raised);
    painter.drawRect(box);
    painter.setFont(text_font(12, QFont::DemiBold));
    painter.setPen(t.text);
    QRectF row(box.left() + padding, box.top() + padding - 2, box_width - 2 * padding, row_height);
    painter.drawText(row, Qt::AlignLeft | Qt::AlignVCenter,
                     QString::fromStdString(frequency_text(*hz, 4)));
    painter.setFont(text_font(11));
    for (const ReadoutRow& r : rows) {
        row.translate(0, row_height);
        painter.setPen(r.colour);
        painter.drawText(row, Qt::AlignLeft | Qt::AlignVCenter, r.name);
        painter.setPen(t.text);
        painter.drawText(row, Qt::AlignRight | Qt::AlignVCenter, r.value);
    }
}

} // namespace syntonon
