// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/stage_grip_tool.h"

#include "app/model/stage_commands.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

#include <cmath>

namespace syntonon {
namespace {

constexpr double half_square = 4.5;
constexpr double fine = 0.1;

} // namespace

std::optional<StageGrips> StageGripTool::grips() const {
    const Stage* stage = session_.stage();
    return stage != nullptr && plot_.view().shows(Lane::magnitude)
               ? grips_of(stage->spec, session_.study().sample_rate_hz)
               : std::nullopt;
}

std::optional<QPointF> StageGripTool::grip_point() const {
    const auto g = grips();
    if (!g) {
        return std::nullopt;
    }
    // A level beyond the lane keeps its handle at the edge, where it can still be taken.
    const QRect r = plot_.rect_of(Lane::magnitude);
    return QPointF(plot_.x_of(g->frequency_hz),
                   std::clamp(plot_.y_of(Lane::magnitude, g->level_db), r.top() + half_square,
                              r.bottom() - half_square));
}

std::optional<QPointF> StageGripTool::side_point(bool upper) const {
    const auto g = grips();
    if (!g || !g->sides) {
        return std::nullopt;
    }
    const QRect r = plot_.rect_of(Lane::magnitude);
    const double x = plot_.x_of(upper ? g->sides->high_hz : g->sides->low_hz);
    // At least a little apart from the square, however narrow the bell.
    const double centre = plot_.x_of(g->frequency_hz);
    const double shown = upper ? std::max(x, centre + 14) : std::min(x, centre - 14);
    return QPointF(std::clamp(shown, r.left() + 2.0, r.right() - 2.0),
                   std::clamp(plot_.y_of(Lane::magnitude, g->sides->level_db),
                              r.top() + half_square, r.bottom() - half_square));
}

std::optional<QRectF> StageGripTool::label_box() const {
    const auto at = grip_point();
    const QRect lane = plot_.rect_of(Lane::magnitude);
    if (!at || at->x() < lane.left() || at->x() > lane.right()) {
        return std::nullopt;
    }
    constexpr double height = 14;
    const double width =
        QFontMetricsF(text_font(11)).horizontalAdvance(spoken_name(*session_.stage())) + 2;
    const auto low = side_point(false), high = side_point(true);
    double left = std::max(at->x() + 12, high ? high->x() + 10 : 0.0);
    if (left + width > lane.right() - 4) {
        left = std::min(at->x() - 12, low ? low->x() - 10 : at->x()) - width;
    }
    const bool below = at->y() > plot_.y_of(Lane::magnitude, 0);
    return QRectF(left, below ? at->y() + 2 : at->y() - 2 - height, width, height);
}

void StageGripTool::paint(QPainter& painter) {
    const auto at = grip_point();
    const QRect lane = plot_.rect_of(Lane::magnitude);
    if (!at || at->x() < lane.left() || at->x() > lane.right()) {
        return;
    }
    const Theme& t = theme();
    const double zero =
        std::clamp<double>(plot_.y_of(Lane::magnitude, 0), lane.top(), lane.bottom());
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setPen(QPen(t.copper, 1.2));
    painter.setBrush(t.raised);
    painter.drawLine(QPointF(at->x(), zero), *at);
    for (const bool upper : {false, true}) {
        if (const auto side = side_point(upper)) {
            painter.drawRect(QRectF(side->x() - 2.5, side->y() - 4.5, 5, 9));
        }
    }
    painter.drawRect(
        QRectF(at->x() - half_square, at->y() - half_square, 2 * half_square, 2 * half_square));
    painter.setFont(text_font(11));
    painter.setPen(t.copper);
    painter.drawText(*label_box(), Qt::AlignLeft | Qt::AlignVCenter,
                     spoken_name(*session_.stage()));
    painter.setRenderHint(QPainter::Antialiasing, false);
}

bool StageGripTool::press(const QMouseEvent& event) {
    if (event.button() != Qt::LeftButton) {
        return false;
    }
    const auto at = grip_point();
    if (at && near(event.position(), *at)) {
        held_ = Handle::grip;
        handle_at_ = *at;
    } else {
        for (const bool upper : {false, true}) {
            const auto side = side_point(upper);
            if (held_ == Handle::none && side && near(event.position(), *side)) {
                held_ = Handle::side;
                handle_at_ = *side;
            }
        }
    }
    if (held_ == Handle::none) {
        return false;
    }
    gesture_ = session_.new_gesture();
    pressed_at_ = last_ = event.position();
    travelled_ = {0, 0};
    return true;
}

bool StageGripTool::move(const QMouseEvent& event) {
    if (held_ == Handle::none || session_.stage() == nullptr) {
        return false;
    }
    const double scale = event.modifiers().testFlag(Qt::ShiftModifier) ? fine : 1;
    travelled_ += (event.position() - last_) * scale;
    last_ = event.position();
    QPointF by = travelled_;
    if (event.modifiers().testFlag(Qt::ControlModifier)) {
        (std::abs(by.x()) >= std::abs(by.y()) ? by.ry() : by.rx()) = 0;
    }
    const double rate = session_.study().sample_rate_hz;
    const double hz = plot_.hz_at(handle_at_.x() + by.x());
    const double level = plot_.value_at(Lane::magnitude, handle_at_.y() + by.y());
    if (held_ == Handle::side) {
        session_.edit_stage(
            tr("Change the width of %1").arg(spoken_name(*session_.stage())),
            [&](Stage& s) { move_side(s.spec, hz, rate); }, gesture_);
    } else {
        session_.edit_stage(
            tr("Move %1").arg(spoken_name(*session_.stage())),
            [&](Stage& s) {
                move_grip(s.spec, hz, by.y() != 0 ? std::optional(level) : std::nullopt, rate);
            },
            gesture_);
    }
    return true;
}

void StageGripTool::release() {
    held_ = Handle::none;
}

void StageGripTool::nudge(double octaves, double db) {
    const auto g = grips();
    if (!g) {
        return;
    }
    const double rate = session_.study().sample_rate_hz;
    const std::optional<double> level =
        db != 0 && g->level_moves ? std::optional(g->level_db + db) : std::nullopt;
    session_.edit_stage(
        tr("Move %1").arg(spoken_name(*session_.stage())),
        [&](Stage& s) { move_grip(s.spec, g->frequency_hz * std::exp2(octaves), level, rate); },
        session_.continuing_gesture("nudge " + QString::fromStdString(session_.stage()->id)));
}

bool StageGripTool::key(const QKeyEvent& event) {
    if (event.key() == Qt::Key_Escape && held_ != Handle::none) {
        held_ = Handle::none;
        session_.cancel_gesture(gesture_);
        return true;
    }
    if (session_.stage() == nullptr
        || (event.modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) != 0) {
        return false;
    }
    const double amount = event.modifiers().testFlag(Qt::ShiftModifier) ? fine : 1;
    switch (event.key()) {
    case Qt::Key_Left:
        nudge(-amount / 24, 0);
        return true;
    case Qt::Key_Right:
        nudge(amount / 24, 0);
        return true;
    case Qt::Key_Up:
        nudge(0, amount * 0.5);
        return true;
    case Qt::Key_Down:
        nudge(0, -amount * 0.5);
        return true;
    case Qt::Key_PageUp:
        return wheel({}, amount, false);
    case Qt::Key_PageDown:
        return wheel({}, -amount, false);
    default:
        return false;
    }
}

bool StageGripTool::wheel(const QPointF&, double clicks, bool fine_step) {
    if (!grips() || clicks == 0) {
        return false;
    }
    const double rate = session_.study().sample_rate_hz;
    const double factor = std::exp2(clicks * (fine_step ? fine : 1) / 8);
    session_.edit_stage(
        tr("Change the width of %1").arg(spoken_name(*session_.stage())),
        [&](Stage& s) { widen(s.spec, factor, rate); },
        session_.continuing_gesture("width " + QString::fromStdString(session_.stage()->id)));
    return true;
}

std::optional<QCursor> StageGripTool::cursor_at(const QPointF& point) const {
    if (const auto at = grip_point(); at && near(point, *at)) {
        return QCursor(Qt::SizeAllCursor);
    }
    for (const bool upper : {false, true}) {
        if (const auto side = side_point(upper); side && near(point, *side)) {
            return QCursor(Qt::SizeHorCursor);
        }
    }
    return std::nullopt;
}

} // namespace syntonon
