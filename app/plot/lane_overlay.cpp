// What stands above the curves: titles, names, grips, the plumb line.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_stack.h"

#include "app/widgets/line_text.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/theme.h"
#include "app/widgets/thin_line.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

constexpr int chip_height = 17;

QString plain(double value) {
    return shown_number(value, 3);
}

// What a curve reaches on a lane.
QString reached(Lane lane, double value) {
    return lane == Lane::phase       ? plain(value) + QStringLiteral("°")
           : lane == Lane::magnitude ? plain(value) + tr(" dB")
                                     : shown_words(time_text(value / 1e3));
}

} // namespace

void LaneStack::paint_titles(QPainter& painter) {
    painter.setFont(text_font(11));
    painter.setPen(theme().soft);
    const QString more = QStringLiteral(" ▾");
    for (const Lane lane : all_lanes) {
        painter.fillRect(title_rect(lane), shining_through());
        draw_line(painter, title_rect(lane).adjusted(0, 1, -4, 0), Qt::AlignRight | Qt::AlignTop,
                  content_->title(lane) + more);
    }
    paint_error_axis(painter);
    painter.setPen(theme().soft);
    const QRect bottom = rect_of(bottom_lane());
    draw_line(painter, QRect(bottom.left(), bottom.bottom() + 21, bottom.width(), 16),
              Qt::AlignHCenter | Qt::AlignVCenter,
              tr("Frequency %1").arg(title_of(view().frequency_unit)) + more);
}

// The weighted error has a scale of its own, at the lane's right side.
void LaneStack::paint_error_axis(QPainter& painter) {
    const QRect lane = rect_of(Lane::weight);
    const auto top_db = content_->error_axis_top_db();
    if (lane.isEmpty() || !top_db) {
        return;
    }
    painter.setPen(theme().ink);
    for (const double part : {0.0, 0.5, 1.0}) {
        const double y = lane.bottom() + 1 - part * lane.height();
        painter.drawLine(QPointF(lane.right() - 3, y), QPointF(lane.right() + 1, y));
        painter.drawText(QRectF(lane.right() + 5, y - 8, 24, 16), Qt::AlignLeft | Qt::AlignVCenter,
                         plain(part * *top_db));
    }
}

// Notches at the lane's lower edge, peaks at its upper one.
void LaneStack::paint_marks(QPainter& painter) {
    const QRect lane = rect_of(Lane::magnitude);
    if (lane.isEmpty()) {
        return;
    }
    painter.setFont(text_font(10));
    painter.setPen(theme().soft);
    const QFontMetrics metrics(text_font(10));
    const QColor ground = shining_through();
    constexpr int tick = 5, text_height = 13, apart = 4;
    std::array<double, 2> free_from{0, 0}; // where the last text ended, below and above
    for (const LaneMark& mark : marks_) {
        const double x = x_of(mark.hz);
        if (x < lane.left() || x > lane.right()) {
            continue;
        }
        const double edge = mark.is_peak ? lane.top() : lane.bottom() + 1;
        const double inner = mark.is_peak ? edge + tick : edge - tick;
        painter.drawLine(QPointF(x, edge), QPointF(x, inner));
        const double width = metrics.horizontalAdvance(mark.text) + 2;
        const double left = std::clamp(x - width / 2, lane.left() + 1.0, lane.right() - width);
        const QRectF box(left, mark.is_peak ? inner : inner - text_height, width, text_height);
        double& free = free_from[mark.is_peak ? 1 : 0];
        if (left < free || (mark.is_peak && box.intersects(title_rect(Lane::magnitude)))
            || (mark.is_peak && box.intersects(magnified_rect()))) {
            continue; // the tick says enough
        }
        painter.fillRect(box, ground);
        draw_line(painter, box, Qt::AlignCenter, mark.text);
        free = left + width + apart;
    }
}

QString LaneStack::magnified_line() const {
    QStringList parts;
    if (const QString range = magnified_text(top_lane()); !range.isEmpty()) {
        parts << range;
    }
    if (!shows_all_frequencies()) {
        parts << tr("%1 to %2 shown")
                     .arg(QString::fromStdString(frequency_text(zoom().low_hz)),
                          QString::fromStdString(frequency_text(zoom().high_hz)));
    }
    if (!magnified_what_.isEmpty()) {
        parts << magnified_what_;
    }
    if (is_magnified()) {
        parts << tr("Home: all");
    }
    return parts.join(QStringLiteral(" · "));
}

// One line in the lane's upper left corner, whatever there is to say.
QRect LaneStack::magnified_rect() const {
    const QString line = magnified_line();
    if (line.isEmpty()) {
        return {};
    }
    const QRect top = rect_of(top_lane());
    const int room = title_rect(top_lane()).left() - top.left() - 12;
    const QFontMetrics metrics(text_font(11, QFont::DemiBold));
    return QRect(top.left() + 5, top.top() + 4,
                 std::min(room, metrics.horizontalAdvance(line) + 12), chip_height);
}

void LaneStack::paint_magnified(QPainter& painter) {
    const Theme& t = theme();
    painter.setFont(text_font(11, QFont::DemiBold));
    const auto chip = [&](const QRect& box, const QString& text) {
        painter.setPen(t.copper);
        painter.setBrush(t.raised);
        painter.drawRect(box);
        painter.drawText(box, Qt::AlignCenter,
                         painter.fontMetrics().elidedText(text, Qt::ElideRight, box.width() - 8));
    };
    if (const QRect box = magnified_rect(); !box.isEmpty()) {
        chip(box, magnified_line());
    }
    for (const Lane lane : all_lanes) {
        const QString text = magnified_text(lane);
        if (lane != top_lane() && !rect_of(lane).isEmpty() && !text.isEmpty()) {
            const int width = painter.fontMetrics().horizontalAdvance(text) + 12;
            chip(QRect(rect_of(lane).topLeft() + QPoint(5, 4), QSize(width, chip_height)), text);
        }
    }
}

std::optional<LaneStack::Beyond> LaneStack::beyond(Lane lane) const {
    if (rect_of(lane).isEmpty() || lane == Lane::weight) {
        return std::nullopt;
    }
    const LaneRange& shown = range(lane);
    Beyond found;
    for (const LaneCurve& curve : content_->curves_in_work()) {
        const auto extent = extent_of(curve, lane);
        if (extent && std::isfinite(extent->second)) { // silence reaches nowhere
            const bool ends = std::isfinite(extent->first);
            found.low = std::min(found.low, ends ? extent->first : extent->second);
            found.high = std::max(found.high, extent->second);
        }
    }
    const double room = (shown.high - shown.low) * 1e-6;
    // Levels fall out of the lane at its foot as a matter of course, unless there is nothing else.
    if (lane == Lane::magnitude && found.high >= shown.low) {
        found.low = std::max(found.low, shown.low);
    }
    const bool leaves = found.low < shown.low - room || found.high > shown.high + room;
    if (leaves && found.low <= found.high) {
        return found;
    }
    // An edge that is not to be seen is never forgotten.
    const auto edges = lane == Lane::magnitude ? content_->corridor_reach() : std::nullopt;
    if (!edges || (edges->first >= shown.low && edges->second <= shown.high)) {
        return std::nullopt;
    }
    return Beyond{edges->first, edges->second, true};
}

QString LaneStack::beyond_words(Lane lane) const {
    const auto out = beyond(lane);
    if (!out) {
        return {};
    }
    QStringList ways;
    if (out->is_corridor) {
        ways << tr("goal");
    }
    if (out->high > range(lane).high) {
        ways << tr("▲ up to %1").arg(reached(lane, out->high));
    }
    if (out->low < range(lane).low) {
        ways << tr("▼ down to %1").arg(reached(lane, out->low));
    }
    return ways.join(QStringLiteral("  ")) + tr(" · click: show it");
}

QRect LaneStack::beyond_rect(Lane lane) const {
    const QString text = beyond_text(lane);
    if (text.isEmpty()) {
        return {};
    }
    const QRect r = rect_of(lane);
    const bool has_chip =
        lane == top_lane() ? !magnified_line().isEmpty() : !magnified_text(lane).isEmpty();
    const int below = has_chip ? chip_height + 4 : 0;
    return QRect(r.left() + 5, r.top() + 3 + below, static_cast<int>(label_width(text)) + 8,
                 chip_height);
}

void LaneStack::paint_beyond(QPainter& painter) {
    painter.setFont(text_font(11));
    painter.setPen(theme().copper);
    for (const Lane lane : all_lanes) {
        if (const QRect box = beyond_rect(lane); !box.isEmpty()) {
            painter.fillRect(box, shining_through());
            draw_line(painter, box, Qt::AlignLeft | Qt::AlignVCenter, beyond_text(lane));
        }
    }
}

// Round limits around everything that the curves reach.
void LaneStack::show_all_of(Lane lane) {
    const auto out = beyond(lane);
    if (!out) {
        return;
    }
    constexpr double beside_edge_db = 15; // so that curves are seen beyond it, too
    const double room = out->is_corridor ? beside_edge_db : 0;
    const double low = std::min(out->low - room, range(lane).low);
    const double high =
        std::max(out->high < range(lane).high ? out->high : out->high + room, range(lane).high);
    const int lines = lane == Lane::magnitude ? 6 : 4; // it is the highest
    const double step = round_step((high - low) / lines);
    change_range(lane, {std::floor(low / step) * step, std::ceil(high / step) * step, step});
}

void LaneStack::lay_labels() {
    std::vector<QRectF> taken{title_rect(Lane::magnitude)};
    if (const auto box = grips_ ? grips_->stage.label_box() : std::nullopt) {
        taken.push_back(*box);
    }
    if (is_magnified() || !magnified_text(Lane::magnitude).isEmpty()) {
        taken.emplace_back(magnified_rect());
    }
    for (const Lane lane : all_lanes) {
        beyond_texts_[static_cast<std::size_t>(lane)] = beyond_words(lane);
    }
    marks_ = content_->marks();
    labels_ = place_labels(content_->labels(), *this, taken);
}

void LaneStack::paint_plumb(QPainter& painter) {
    ReadoutObstacles obstacles;
    const bool on_lanes = session_.plumb().hz().has_value() && !readout_.is_column();
    if (grips_ && on_lanes) {
        if (const auto name = grips_->stage.label_box()) {
            obstacles.grips.push_back(*name);
        }
        constexpr double around = handle_reach + 3;
        for (const LaneTool* tool : tools()) {
            for (const QPointF& at : tool->handle_points()) {
                obstacles.grips.emplace_back(at - QPointF(around, around),
                                             QSizeF(2 * around, 2 * around));
            }
        }
    }
    for (const PlacedLabel& label : on_lanes ? labels_ : std::vector<PlacedLabel>()) {
        obstacles.labels.push_back(label.box);
    }
    for (const Lane lane : all_lanes) {
        obstacles.labels.emplace_back(beyond_rect(lane));
        obstacles.labels.emplace_back(title_rect(lane));
    }
    readout_.paint(painter, *this, session_.plumb(), *content_, obstacles);
}

// Rings where a tone was measured: on the predicted curve, if chain and response agree.
void LaneStack::paint_tone(QPainter& painter) {
    const ToneMeter& tone = session_.tone();
    const QRect lane = rect_of(Lane::magnitude);
    if (!tone.is_on() || lane.isEmpty()) {
        return;
    }
    painter.save();
    painter.setClipRect(lane);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme().copper, 1));
    painter.setBrush(Qt::NoBrush);
    for (const auto& [hz, reading] : tone.collected()) {
        const auto point = session_.point_at(hz);
        const double beside =
            point && point->predicted_db ? *point->predicted_db - point->chain.magnitude_db : 0;
        const double db = reading.measured_db + (std::isfinite(beside) ? beside : 0);
        if (std::isfinite(db)) { // of silence there is nothing to draw
            painter.drawEllipse(QPointF(x_of(hz), y_of(Lane::magnitude, db)), 2.5, 2.5);
        }
    }
    painter.restore();
    if (const auto& now = tone.now()) {
        painter.setFont(text_font(11));
        const QString text =
            tr("tone %1 dB, calculated %2 dB")
                .arg(fixed_number(now->measured_db, 2), fixed_number(now->calculated_db, 2));
        const double wide = line_width(painter.font(), text) + 10;
        const double x = std::clamp(x_of(now->hz) + 6, double(lane.left()),
                                    std::max<double>(lane.left(), lane.right() - wide));
        const QRectF box(x, lane.bottom() - chip_height - 2, wide, chip_height);
        painter.fillRect(box, theme().raised);
        painter.setPen(theme().copper);
        draw_line(painter, box, Qt::AlignCenter, text);
    }
}

// What is played, from 0 dBFS at the lane's top down to its foot, which has a scale of its own.
void LaneStack::paint_live(QPainter& painter) {
    const QRect lane = rect_of(Lane::magnitude);
    const LiveSpectrum& live = session_.live();
    if (!live.is_wished() || lane.isEmpty()) {
        return;
    }
    constexpr double range_db = 96;
    painter.save();
    painter.setClipRect(lane);
    painter.setRenderHint(QPainter::Antialiasing);
    QPolygonF line;
    for (const auto& [hz, db] : live.levels()) {
        line << QPointF(x_of(hz),
                        lane.top() + std::clamp(-db / range_db, 0.0, 1.0) * lane.height());
    }
    painter.setPen(QPen(theme().corridor_edge, 1));
    draw_thin_line(painter, line);
    painter.restore();
    painter.setFont(text_font(11));
    painter.setPen(theme().corridor_edge);
    const QString text = live.levels().empty()
                             ? tr("live spectrum: nothing plays")
                             : tr("live, level of a tone, 0 to −%1 dBFS").arg(range_db);
    const QRectF box(lane.left() + 6, lane.top() + 3, line_width(painter.font(), text) + 6, 15);
    painter.fillRect(box, shining_through());
    draw_line(painter, box, Qt::AlignCenter, text);
}

void LaneStack::paint_overlay(QPainter& painter) {
    const Theme& t = theme();
    paint_live(painter);
    paint_tone(painter);
    paint_titles(painter);
    paint_marks(painter);
    paint_labels(painter, labels_);
    paint_magnified(painter);
    paint_beyond(painter);
    if (hasFocus() && shows_focus_) {
        painter.setPen(QPen(t.copper, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect_of(top_lane()));
    }
    roots_.paint(painter);
    bands_.paint(painter);
    if (grips_) {
        grips_->weight.paint(painter);
        grips_->samples.paint(painter);
        grips_->delay.paint(painter);
        grips_->goal.paint(painter);
        grips_->stage.paint(painter);
    }
    paint_plumb(painter);
    if (band_to_) {
        QColor wash = t.copper;
        wash.setAlphaF(0.10F);
        painter.setPen(QPen(t.copper, 1));
        painter.setBrush(wash);
        painter.drawRect(QRectF(pressed_at_, *band_to_).normalized());
    }
}

} // namespace syntonon
