// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/stage_grip_tool.h"

#include "app/model/stage_commands.h"
#include "app/widgets/line_text.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace syntonon {
namespace {

constexpr double half_square = 4.5, least_apart = 14;
constexpr double fine = 0.1;

} // namespace

std::vector<Grip> StageGripTool::grips() const {
    const Stage* stage = session_.stage();
    return stage != nullptr && plot_.view().shows(Lane::magnitude)
               ? grips_of(stage->spec, session_.axis(), session_.part_in_hand().at())
               : std::vector<Grip>();
}

std::vector<StageGripTool::Placed> StageGripTool::placed() const {
    const QRect r = plot_.rect_of(Lane::magnitude);
    std::vector<Placed> all;
    for (const Grip& grip : grips()) {
        double x = plot_.x_of(grip.frequency_hz);
        if (!all.empty() && !grip.other) {
            // At least a little apart from the main one, however narrow the bell.
            const double main = plot_.x_of(all.front().grip.frequency_hz);
            x = grip.frequency_hz > all.front().grip.frequency_hz ? std::max(x, main + least_apart)
                                                                  : std::min(x, main - least_apart);
            x = std::clamp(x, r.left() + 2.0, r.right() - 2.0);
        }
        // A level beyond the lane keeps its handle at the edge, where it can still be taken.
        const double y = std::clamp(plot_.y_of(Lane::magnitude, grip.level_db),
                                    r.top() + half_square, r.bottom() - half_square);
        all.push_back({grip, QPointF(x, y)});
    }
    return all;
}

std::optional<QPointF> StageGripTool::grip_point(std::string_view key) const {
    const auto all = placed();
    const auto found =
        std::ranges::find_if(all, [&](const Placed& p) { return p.grip.key == key; });
    return found != all.end() ? std::optional(found->at) : std::nullopt;
}

std::optional<QPointF> StageGripTool::grip_point() const {
    const auto all = placed();
    return !all.empty() ? std::optional(all.front().at) : std::nullopt;
}

std::vector<QPointF> StageGripTool::handle_points() const {
    std::vector<QPointF> points;
    for (const Placed& handle : placed()) {
        points.push_back(handle.at);
    }
    return points;
}

QString StageGripTool::name_of(const Grip& grip) const {
    return grip.name.empty() ? spoken_name(*session_.stage()) : QString::fromStdString(grip.name);
}

std::optional<QRectF> StageGripTool::label_box() const {
    const auto all = placed();
    const QRect lane = plot_.rect_of(Lane::magnitude);
    if (all.empty() || all.front().at.x() < lane.left() || all.front().at.x() > lane.right()) {
        return std::nullopt;
    }
    const QPointF at = all.front().at;
    double right = at.x() + 12, left_end = at.x() - 12;
    for (const Placed& other : std::span(all).subspan(1)) {
        if (other.grip.other) {
            break; // they stand last, and anywhere
        }
        right = std::max(right, other.at.x() + 10);
        left_end = std::min(left_end, other.at.x() - 10);
    }
    constexpr double height = 14;
    const double width = line_width(text_font(11), name_of(all.front().grip)) + 2;
    const double left = right + width > lane.right() - 4 ? left_end - width : right;
    const bool below = at.y() > plot_.y_of(Lane::magnitude, 0);
    return QRectF(left, below ? at.y() + 2 : at.y() - 2 - height, width, height);
}

void StageGripTool::paint(QPainter& painter) {
    const auto label = label_box();
    if (!label) {
        return;
    }
    const auto all = placed();
    const QPointF at = all.front().at;
    const QRect lane = plot_.rect_of(Lane::magnitude);
    const Theme& t = theme();
    const double zero =
        std::clamp<double>(plot_.y_of(Lane::magnitude, 0), lane.top(), lane.bottom());
    painter.setRenderHint(QPainter::Antialiasing, true);
    painter.setPen(QPen(t.copper, 1.2));
    painter.setBrush(t.raised);
    painter.drawLine(QPointF(at.x(), zero), at);
    for (const Placed& other : std::span(all).subspan(1)) {
        const double wide = other.grip.other ? 3 : 2.5, high = other.grip.other ? 3 : 4.5;
        if (lane.left() <= other.at.x() && other.at.x() <= lane.right()) {
            painter.drawRect(QRectF(other.at.x() - wide, other.at.y() - high, 2 * wide, 2 * high));
        }
    }
    painter.drawRect(
        QRectF(at.x() - half_square, at.y() - half_square, 2 * half_square, 2 * half_square));
    painter.setFont(text_font(11));
    painter.setPen(t.copper);
    draw_line(painter, *label, Qt::AlignLeft | Qt::AlignVCenter, name_of(all.front().grip));
    painter.setRenderHint(QPainter::Antialiasing, false);
}

// The main one where two are near.
const StageGripTool::Placed* StageGripTool::at_point(const std::vector<Placed>& all,
                                                     const QPointF& point) const {
    const auto found =
        std::ranges::find_if(all, [&](const Placed& placed) { return near(point, placed.at); });
    return found != all.end() ? &*found : nullptr;
}

bool StageGripTool::press(const QMouseEvent& event) {
    const auto all = placed();
    const Placed* taken =
        event.button() == Qt::LeftButton ? at_point(all, event.position()) : nullptr;
    if (taken == nullptr) {
        return false;
    }
    handle_at_ = taken->at;
    if (taken->grip.other) {
        session_.part_in_hand().take(*taken->grip.other);
        held_ = grips().front();
    } else {
        held_ = taken->grip;
    }
    gesture_ = session_.new_gesture();
    pressed_at_ = last_ = event.position();
    travelled_ = {0, 0};
    return true;
}

bool StageGripTool::move(const QMouseEvent& event) {
    if (!held_ || session_.stage() == nullptr) {
        return false;
    }
    const double scale = event.modifiers().testFlag(Qt::ShiftModifier) ? fine : 1;
    travelled_ += (event.position() - last_) * scale;
    last_ = event.position();
    QPointF by = travelled_;
    if (event.modifiers().testFlag(Qt::ControlModifier)) {
        (std::abs(by.x()) >= std::abs(by.y()) ? by.ry() : by.rx()) = 0;
    }
    const Axis axis = session_.axis();
    const double hz = plot_.hz_at(handle_at_.x() + by.x());
    const double level = plot_.value_at(Lane::magnitude, handle_at_.y() + by.y());
    const auto level_db = held_->moves_level && by.y() != 0 ? std::optional(level) : std::nullopt;
    session_.edit_stage(
        tr(held_->step).arg(spoken_name(*session_.stage())),
        [&](Stage& s) {
            move_grip(s.spec, held_->key, hz, level_db, axis, session_.part_in_hand().at());
        },
        gesture_);
    return true;
}

void StageGripTool::release() {
    held_.reset();
}

void StageGripTool::nudge(double octaves, double db) {
    const auto all = grips();
    if (all.empty()) {
        return;
    }
    const Grip& main = all.front();
    const Axis axis = session_.axis();
    const std::optional<double> level =
        db != 0 && main.moves_level ? std::optional(main.level_db + db) : std::nullopt;
    session_.edit_stage(
        tr(main.step).arg(spoken_name(*session_.stage())),
        [&](Stage& s) {
            move_grip(s.spec, main.key, main.frequency_hz * std::exp2(octaves), level, axis,
                      session_.part_in_hand().at());
        },
        session_.continuing_gesture("nudge " + QString::fromStdString(session_.stage()->id)));
}

bool StageGripTool::key(const QKeyEvent& event) {
    if (is_holding() && escapes(event, session_, gesture_)) {
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
    if (clicks == 0 || grips().empty()) {
        return false;
    }
    const Axis axis = session_.axis();
    const double factor = std::exp2(clicks * (fine_step ? fine : 1) / 8);
    session_.edit_stage(
        tr("Change the width of %1").arg(spoken_name(*session_.stage())),
        [&](Stage& s) { widen(s.spec, factor, axis, session_.part_in_hand().at()); },
        session_.continuing_gesture("width " + QString::fromStdString(session_.stage()->id)));
    return true;
}

std::optional<QCursor> StageGripTool::cursor_at(const QPointF& point) const {
    const auto all = placed();
    const Placed* under = at_point(all, point);
    if (under == nullptr) {
        return std::nullopt;
    }
    const bool is_square = under == &all.front() || under->grip.other;
    return QCursor(is_square ? Qt::SizeAllCursor : Qt::SizeHorCursor);
}

} // namespace syntonon
