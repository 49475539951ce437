// What the hand and the keys do on the lanes.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_stack.h"

#include "app/model/goal_commands.h"
#include "app/model/stage_commands.h"
#include "app/model/target_commands.h"
#include "app/plot/lane_menus.h"
#include "app/plot/lane_picture.h"
#include "app/plot/plumb_readout.h"
#include "core/study/kinds.h"

#include <QMenu>
#include <QToolTip>
#include <cmath>

namespace syntonon {

std::vector<LaneTool*> LaneStack::tools() {
    return grips_ ? std::vector<LaneTool*>{&roots_,       &bands_,         &grips_->samples,
                                           &grips_->goal, &grips_->weight, &grips_->delay,
                                           &grips_->stage}
                  : std::vector<LaneTool*>();
}

LaneTool* LaneStack::holding() {
    for (LaneTool* tool : tools()) {
        if (tool->is_holding()) {
            return tool;
        }
    }
    return nullptr;
}

bool LaneStack::event(QEvent* event) {
    // A tool's key goes before a menu's shortcut: Delete may mean a target point.
    if (event->type() == QEvent::ShortcutOverride) {
        const auto& key = *static_cast<QKeyEvent*>(event);
        if (grips_
            && (grips_->goal.wants_key(key) || grips_->weight.wants_key(key)
                || grips_->samples.wants_key(key))) {
            event->accept();
            return true;
        }
    }
    if (event->type() == QEvent::ToolTip) {
        const auto& help = *static_cast<QHelpEvent*>(event);
        const PlacedLabel* label = label_at(help.pos());
        const auto curve = content_->explained_at(
            label != nullptr
                ? QPointF(x_of(label->label.hz), y_of(Lane::magnitude, label->label.level_db))
                : QPointF(help.pos()));
        if (curve) {
            const QString more = label != nullptr ? tr("\nClick: this curve alone") : QString();
            QToolTip::showText(help.globalPos(), curve->name + more, this);
        } else {
            QToolTip::hideText();
        }
        return true;
    }
    return LanePlot::event(event);
}

const PlacedLabel* LaneStack::label_at(const QPointF& point) const {
    const auto found = std::ranges::find_if(
        labels_, [&](const PlacedLabel& label) { return label.box.contains(point); });
    return found == labels_.end() ? nullptr : &*found;
}

void LaneStack::mousePressEvent(QMouseEvent* event) {
    setFocus(Qt::MouseFocusReason);
    pressed_at_ = event->position();
    pressed_on_lane_ = false;
    for (LaneTool* tool : tools()) {
        if (tool->press(*event)) {
            overlay_->update();
            return;
        }
    }
    if (event->button() == Qt::LeftButton) {
        pressed_on_lane_ = !open_axis_menu(event->pos()) && lane_at(event->pos()).has_value();
    }
}

void LaneStack::mouseMoveEvent(QMouseEvent* event) {
    if (LaneTool* tool = holding()) {
        tool->move(*event);
        overlay_->update();
        return;
    }
    if (pressed_on_lane_ && event->buttons().testFlag(Qt::LeftButton)) {
        band_to_ =
            near(event->position(), pressed_at_) ? std::nullopt : std::optional(event->position());
        overlay_->update();
        return;
    }
    std::optional<QCursor> cursor;
    for (LaneTool* tool : tools()) {
        if (!cursor) {
            cursor = tool->cursor_at(event->position());
        }
    }
    const bool pointing = label_at(event->position()) != nullptr
                          || (is_magnified() && magnified_rect().contains(event->pos()))
                          || frequency_rect().contains(event->pos())
                          || (!lane_at(event->pos()) && lane_at(event->pos(), true))
                          || std::ranges::any_of(all_lanes, [&](Lane lane) {
                                 return title_rect(lane).contains(event->pos())
                                        || beyond_rect(lane).contains(event->pos());
                             });
    setCursor(cursor.value_or(QCursor(pointing ? Qt::PointingHandCursor : Qt::CrossCursor)));
    if (!session_.plumb().is_pinned()) {
        session_.plumb().set(rect_of_all().contains(event->pos())
                                 ? std::optional(hz_at(event->position().x()))
                                 : std::nullopt);
    }
}

void LaneStack::mouseReleaseEvent(QMouseEvent* event) {
    if (LaneTool* tool = holding()) {
        tool->release();
        overlay_->update();
        return;
    }
    if (!pressed_on_lane_ || event->button() != Qt::LeftButton) {
        return;
    }
    pressed_on_lane_ = false;
    if (band_to_) {
        finish_band(*event);
    } else {
        click(*event);
    }
}

void LaneStack::click(const QMouseEvent& event) {
    if (const PlacedLabel* label = label_at(event.position());
        label != nullptr && !label->label.key.isEmpty()) {
        const QString key = label->label.key;
        show_alone(content_->alone() == key ? std::nullopt : std::optional(key));
        return;
    }
    if (is_magnified() && magnified_rect().contains(event.position().toPoint())) {
        zoom_home();
        return;
    }
    for (const Lane lane : all_lanes) {
        if (beyond_rect(lane).contains(event.position().toPoint())) {
            show_all_of(lane);
            return;
        }
    }
    const double hz = hz_at(event.position().x());
    if (event.modifiers().testFlag(Qt::ShiftModifier) && session_.plumb().is_pinned()) {
        session_.plumb().set_second(hz);
    } else {
        // A click lets the plumb line down here, or takes a pinned one up again.
        const bool was_pinned = session_.plumb().is_pinned();
        session_.plumb().pin(false);
        session_.plumb().set(hz);
        session_.plumb().pin(!was_pinned);
    }
}

// A flat band chooses frequencies only, an upright one values only.
void LaneStack::finish_band(const QMouseEvent& event) {
    constexpr double slim = 14;
    const QPointF to = event.position();
    const QPointF size = to - pressed_at_;
    band_to_.reset();
    overlay_->update();
    const auto lane = lane_at(pressed_at_.toPoint());
    if (!lane) {
        return;
    }
    if (grips_ && grips_->goal.is_active() && event.modifiers().testFlag(Qt::ShiftModifier)) {
        grips_->goal.hold_within(QRectF(pressed_at_, to).normalized());
        return;
    }
    LaneZoom part = zoom();
    if (std::abs(size.x()) >= slim) {
        const double a = axis_hz_at(pressed_at_.x()), b = axis_hz_at(to.x());
        part.low_hz = std::max(std::min(a, b), zoom().low_hz);
        part.high_hz = std::min(std::max(a, b), zoom().high_hz);
    }
    if (std::abs(size.y()) >= slim) {
        const QRect r = rect_of(*lane);
        const double a = value_at(*lane, pressed_at_.y());
        const double b = value_at(*lane, std::clamp<double>(to.y(), r.top(), r.bottom() + 1));
        // Round numbers say more than where a hand happened to stop.
        const double grain = round_step(std::abs(a - b) / 40);
        part.of(*lane) = {std::floor(std::min(a, b) / grain) * grain,
                          std::ceil(std::max(a, b) / grain) * grain, 0};
    }
    if (!(part == zoom()) && part.low_hz < part.high_hz
        && part.of(*lane).low < part.of(*lane).high) {
        magnify(part);
    }
}

void LaneStack::mouseDoubleClickEvent(QMouseEvent* event) {
    if (grips_ && !grips_->samples.double_click(event->position())
        && !grips_->goal.double_click(event->position())) {
        grips_->weight.double_click(event->position());
    }
}

void LaneStack::wheelEvent(QWheelEvent* event) {
    const bool fine = event->modifiers().testFlag(Qt::ShiftModifier);
    // With Shift some platforms turn the wheel sideways.
    const int turned =
        event->angleDelta().y() != 0 ? event->angleDelta().y() : event->angleDelta().x();
    for (LaneTool* tool : tools()) {
        if (tool->wheel(event->position(), turned / 120.0, fine)) {
            return;
        }
    }
}

void LaneStack::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && band_to_) {
        band_to_.reset();
        pressed_on_lane_ = false;
        overlay_->update();
        return;
    }
    for (LaneTool* tool : tools()) {
        if (tool->key(*event)) {
            overlay_->update();
            return;
        }
    }
    if (event->key() == Qt::Key_Backspace) {
        zoom_back();
    } else if (event->key() == Qt::Key_Home) {
        zoom_home();
    } else {
        QWidget::keyPressEvent(event);
    }
}

void LaneStack::leaveEvent(QEvent*) {
    if (!session_.plumb().is_pinned() && holding() == nullptr) {
        session_.plumb().set(std::nullopt);
    }
}

void LaneStack::resizeEvent(QResizeEvent* event) {
    LanePlot::resizeEvent(event);
    overlay_->setGeometry(rect());
    // Names are placed once, where several sizes follow one another.
    QMetaObject::invokeMethod(
        this,
        [this] {
            lay_labels();
            overlay_->update();
        },
        Qt::QueuedConnection);
}

bool LaneStack::open_axis_menu(const QPoint& at) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto beside = lane_at(at, true);
    std::optional<Lane> titled;
    for (const Lane lane : all_lanes) {
        titled = title_rect(lane).contains(at) ? std::optional(lane) : titled;
    }
    if (frequency_rect().contains(at)) {
        fill_frequency_menu(*menu, *this);
    } else if (titled || (beside && !lane_at(at))) {
        fill_lane_menu(*menu, *this, titled ? *titled : *beside);
    } else {
        delete menu;
        return false;
    }
    menu->popup(mapToGlobal(at));
    return true;
}

void LaneStack::contextMenuEvent(QContextMenuEvent* event) {
    const auto lane = lane_at(event->pos());
    if (!lane) {
        open_axis_menu(event->pos());
        return;
    }
    const double hz = hz_at(event->pos().x());
    QMenu menu(this);
    if (*lane == Lane::magnitude && grips_) {
        grips_->samples.fill_menu(menu, event->pos());
        const double level = value_at(Lane::magnitude, event->pos().y());
        menu.addAction(tr("Add a peak here"), this, [this, hz, level] {
            ParametricSpec spec;
            spec.frequency_hz = hz;
            spec.gain_db = std::round(level * 10) / 10;
            spec.width = {WidthKind::q, 1.4};
            add_stage(session_, spec);
        });
        if (current_goal(session_) != nullptr) {
            menu.addAction(tr("Add a target point here"), this, [this, hz, level] {
                add_target_point(session_, hz, std::round(level * 10) / 10);
                emit goal_asked_for();
            });
        }
    }
    menu.addAction(tr("Let the plumb line down here"), this, [this, hz] {
        session_.plumb().set(hz);
        session_.plumb().pin(true);
    });
    if (session_.plumb().is_pinned()) {
        menu.addAction(tr("Read differences from here (Shift and click)"), this,
                       [this, hz] { session_.plumb().set_second(hz); });
    }
    menu.addSeparator();
    fill_curves_menu(*menu.addMenu(tr("Curves")), *this);
    fill_lanes_menu(*menu.addMenu(tr("Lanes")), *this);
    QAction* column = menu.addAction(tr("Readout beside the lanes"));
    column->setCheckable(true);
    column->setChecked(readout_.is_column());
    connect(column, &QAction::triggered, this, &LaneStack::set_readout_column);
    menu.addSeparator();
    menu.addAction(tr("Copy this lane"), this, [this, lane] { copy_lanes(*this, lane); });
    menu.addAction(tr("Save this lane…"), this, [this, lane] { emit save_asked_for(lane); });
    menu.addSeparator();
    menu.addAction(tr("Zoom back"), this, &LaneStack::zoom_back)->setEnabled(!before_.empty());
    menu.addAction(tr("Zoom home"), this, &LaneStack::zoom_home)->setEnabled(is_magnified());
    menu.exec(event->globalPos());
}

void LaneStack::focusInEvent(QFocusEvent* event) {
    LanePlot::focusInEvent(event);
    shows_focus_ = event->reason() == Qt::TabFocusReason
                   || event->reason() == Qt::BacktabFocusReason
                   || event->reason() == Qt::ShortcutFocusReason;
    overlay_->update();
}

void LaneStack::focusOutEvent(QFocusEvent* event) {
    LanePlot::focusOutEvent(event);
    overlay_->update();
}

} // namespace syntonon
