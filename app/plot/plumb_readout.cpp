// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/plumb_readout.h"

#include "app/plot/lane_curves.h"
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
    const QRect lane = plot.rect_of(plot.top_lane());
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
        if (!plot.view().shows(Lane::magnitude)) {
            break;
        }
        for (const double level : {curve.level_db[i], chain}) {
            const QPointF at(plot.x_of(curve.frequency_hz[i]), plot.y_of(Lane::magnitude, level));
            hidden_high += high.contains(at) ? 1 : 0;
            hidden_low += low.contains(at) ? 1 : 0;
        }
    }
    return hidden_low < hidden_high ? low : high;
}

// The first few shown takes: a box full of fifty would hide the curves.
void add_takes(std::vector<ReadoutRow>& rows, const Channel& channel, const ChannelPoint& point) {
    constexpr int most = 4;
    int shown = 0;
    for (std::size_t i = 0; i < channel.takes.size() && i < point.takes_db.size(); ++i) {
        if (channel.takes[i]->shown && point.takes_db[i] && shown < most) {
            ++shown;
            rows.push_back({QString::fromStdString(channel.takes[i]->name),
                            level_text(*point.takes_db[i]), take_colour(i)});
        }
    }
}

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

QString elided(const QPainter& painter, const QString& text, double width) {
    return painter.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(width));
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
    painter.drawText(row, Qt::AlignLeft | Qt::AlignVCenter, elided(painter, title, row.width()));
    painter.setFont(text_font(11));
    for (const ReadoutRow& r : rows) {
        row.translate(0, row_height);
        const double value_width = painter.fontMetrics().horizontalAdvance(r.value) + 8;
        painter.setPen(r.colour);
        painter.drawText(row, Qt::AlignLeft | Qt::AlignVCenter,
                         elided(painter, r.name, row.width() - value_width));
        painter.setPen(t.text);
        painter.drawText(row, Qt::AlignRight | Qt::AlignVCenter, r.value);
    }
}

int box_height(const std::vector<ReadoutRow>& rows) {
    return static_cast<int>(rows.size() + 1) * row_height + 2 * padding - 3;
}

QString number(double value, int places, const QString& unit) {
    return std::isfinite(value) ? QString::fromStdString(signed_text(value, places)) + unit
                                : QObject::tr("none");
}

} // namespace

std::vector<ReadoutRow> differences_between(Session& session, double from_hz, double to_hz) {
    const auto a = session.point_at(from_hz), b = session.point_at(to_hz);
    if (!a || !b) {
        return {};
    }
    const Theme& t = theme();
    std::vector<ReadoutRow> rows;
    rows.push_back(
        {QObject::tr("octaves"), number(octaves_between(from_hz, to_hz), 3, {}), t.text});
    rows.push_back({QObject::tr("ratio"), QString::number(to_hz / from_hz, 'g', 4), t.text});
    const auto add_level = [&](const QString& name, const std::optional<double>& from,
                               const std::optional<double>& to, const QColor& colour) {
        if (from && to) {
            rows.push_back({name, number(*to - *from, 2, QObject::tr(" dB")), colour});
        }
    };
    add_level(QObject::tr("measured"), a->measured_db, b->measured_db, t.measured);
    if (a->measured_db) {
        add_level(QObject::tr("predicted"), a->predicted_db, b->predicted_db, t.ink);
    }
    add_level(QObject::tr("goal"), a->target_db, b->target_db, t.corridor_edge);
    add_level(QObject::tr("chain"), a->chain.magnitude_db, b->chain.magnitude_db, t.text);
    rows.push_back(
        {QObject::tr("phase"),
         number(deg_from_rad(b->chain.phase_rad - a->chain.phase_rad), 1, QStringLiteral("°")),
         t.text});
    const double per_ms = session.study().sample_rate_hz / 1e3;
    rows.push_back({QObject::tr("group delay"),
                    number((b->chain.group_delay_samples - a->chain.group_delay_samples) / per_ms,
                           3, QObject::tr(" ms")),
                    t.text});
    return rows;
}

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
    add_takes(rows, *session.channel(), *point);
    const StageAnalysis* selected = session.stage_analysis();
    if (selected != nullptr && selected->filter) {
        rows.push_back(
            {QObject::tr("stage"),
             level_text(
                 selected->filter->response_at(hz, session.study().sample_rate_hz).magnitude_db),
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
    const auto hz = session.plumb().hz();
    if (!hz || *hz < plot.low_hz() || *hz > plot.high_hz()) {
        return;
    }
    paint_line(painter, plot, *hz, session.plumb().is_pinned());
    const auto rows = readout_at(session, *hz);
    const QRectF box = place_box(plot, session, plot.x_of(*hz), box_height(rows));
    paint_box(painter, box, frequency_of(plot, *hz), rows);
    const auto second = session.plumb().second_hz();
    if (!second || *second < plot.low_hz() || *second > plot.high_hz()) {
        return;
    }
    paint_line(painter, plot, *second, true);
    const auto differences = differences_between(session, *hz, *second);
    // To the left of both lines where there is room, clear of the names at the curves' ends.
    const QRect lane = plot.rect_of_all();
    const double left_line = std::min(plot.x_of(*hz), plot.x_of(*second));
    QRectF other = place_box(plot, session, plot.x_of(*second), box_height(differences));
    if (left_line - 9 - box_width > lane.left()) {
        other.moveLeft(std::round(left_line - 9 - box_width));
    }
    if (other.intersects(box)) {
        other.moveTop(box.center().y() > lane.center().y() ? box.top() - other.height() - 4
                                                           : box.bottom() + 4);
    }
    paint_box(painter, other,
              QObject::tr("from %1 to %2")
                  .arg(QString::fromStdString(frequency_text(*hz)),
                       QString::fromStdString(frequency_text(*second))),
              differences);
}

} // namespace syntonon
