// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_stack.h"

#include "app/model/goal_commands.h"
#include "app/model/stage_commands.h"
#include "app/plot/plumb_readout.h"
#include "app/widgets/theme.h"

#include <QMenu>
#include <cmath>

namespace syntonon {

class LaneStack::Overlay : public QWidget {
public:
    explicit Overlay(LaneStack* stack) : QWidget(stack), stack_(*stack) {
        setAttribute(Qt::WA_TransparentForMouseEvents);
        setAttribute(Qt::WA_NoSystemBackground);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        stack_.paint_overlay(painter);
    }

private:
    LaneStack& stack_;
};

LaneStack::LaneStack(Session& session, QWidget* parent)
    : LanePlot(parent), session_(session), curves_(*this, session), stage_grips_(*this, session),
      goal_grips_(*this, session), overlay_(new Overlay(this)) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Lanes: magnitude, phase and group delay"));
    setMinimumSize(360, 320);
    connect(&session_, &Session::analysis_changed, this, [this] {
        curves_.update();
        overlay_->update();
    });
    connect(&session_, &Session::selection_changed, this, [this] {
        curves_.update();
        overlay_->update();
    });
    connect(&session_, &Session::plumb_changed, overlay_, qOverload<>(&QWidget::update));
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] {
        apply_theme();
        curves_.redraw_all();
    });
    curves_.update();
}

void LaneStack::set_goal_editing(bool active) {
    goal_grips_.set_active(active);
    overlay_->update();
}

void LaneStack::change_range(Lane lane, const LaneRange& range) {
    set_range(lane, range);
    curves_.redraw_all();
    overlay_->update();
}

void LaneStack::move_plumb(double octaves) {
    const double from = session_.plumb_hz().value_or(std::sqrt(low_hz() * high_hz()));
    session_.set_plumb(std::clamp(from * std::exp2(octaves), low_hz(), high_hz()));
    session_.pin_plumb(true);
}

void LaneStack::toggle_plumb_pin() {
    if (!session_.plumb_hz()) {
        move_plumb(0);
    } else if (session_.plumb_is_pinned()) {
        session_.set_plumb(std::nullopt);
        session_.pin_plumb(false);
    } else {
        session_.pin_plumb(true);
    }
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
    if (event->type() == QEvent::ShortcutOverride
        && goal_grips_.wants_key(*static_cast<QKeyEvent*>(event))) {
        event->accept();
        return true;
    }
    return LanePlot::event(event);
}

void LaneStack::mousePressEvent(QMouseEvent* event) {
    setFocus(Qt::MouseFocusReason);
    pressed_at_ = event->position();
    for (LaneTool* tool : tools()) {
        if (tool->press(*event)) {
            overlay_->update();
            return;
        }
    }
}

void LaneStack::mouseMoveEvent(QMouseEvent* event) {
    if (LaneTool* tool = holding()) {
        tool->move(*event);
        return;
    }
    std::optional<QCursor> cursor;
    for (LaneTool* tool : tools()) {
        if (!cursor) {
            cursor = tool->cursor_at(event->position());
        }
    }
    setCursor(cursor.value_or(QCursor(Qt::CrossCursor)));
    const QRect all = rect_of(Lane::magnitude).united(rect_of(Lane::delay));
    if (!session_.plumb_is_pinned()) {
        session_.set_plumb(all.contains(event->pos()) ? std::optional(hz_at(event->position().x()))
                                                      : std::nullopt);
    }
}

void LaneStack::mouseReleaseEvent(QMouseEvent* event) {
    if (LaneTool* tool = holding()) {
        tool->release();
        overlay_->update();
        return;
    }
    const bool clicked = event->button() == Qt::LeftButton && near(event->position(), pressed_at_);
    if (clicked && lane_at(event->pos())) {
        // A click lets the plumb line down here, or takes a pinned one up again.
        if (session_.plumb_is_pinned()) {
            session_.pin_plumb(false);
            session_.set_plumb(hz_at(event->position().x()));
        } else {
            session_.set_plumb(hz_at(event->position().x()));
            session_.pin_plumb(true);
        }
    }
}

void LaneStack::mouseDoubleClickEvent(QMouseEvent* event) {
    goal_grips_.double_click(event->position());
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
    for (LaneTool* tool : tools()) {
        if (tool->key(*event)) {
            overlay_->update();
            return;
        }
    }
    QWidget::keyPressEvent(event);
}

void LaneStack::leaveEvent(QEvent*) {
    if (!session_.plumb_is_pinned() && holding() == nullptr) {
        session_.set_plumb(std::nullopt);
    }
}

void LaneStack::resizeEvent(QResizeEvent* event) {
    LanePlot::resizeEvent(event);
    overlay_->setGeometry(rect());
}

void LaneStack::contextMenuEvent(QContextMenuEvent* event) {
    const auto lane = lane_at(event->pos());
    if (!lane) {
        return;
    }
    const double hz = hz_at(event->pos().x());
    const double level = value_at(Lane::magnitude, event->pos().y());
    QMenu menu(this);
    if (*lane == Lane::magnitude) {
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
        session_.set_plumb(hz);
        session_.pin_plumb(true);
    });
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

void LaneStack::paint_labels(QPainter& painter) {
    const Theme& t = theme();
    painter.setFont(text_font(11));
    const std::array titles = {tr("Magnitude dB"), tr("Phase of the chain °"),
                               tr("Group delay of the chain ms")};
    for (const Lane lane : all_lanes) {
        const QRect r = rect_of(lane);
        const QString& title = titles[static_cast<std::size_t>(lane)];
        painter.setPen(t.soft);
        painter.drawText(r.adjusted(0, 2, -6, 0), Qt::AlignRight | Qt::AlignTop, title);
    }
    const QRect bottom = rect_of(Lane::delay);
    painter.drawText(QRect(bottom.left(), bottom.bottom() + 21, bottom.width(), 16),
                     Qt::AlignHCenter | Qt::AlignVCenter, tr("Frequency Hz"));
    const QRect top = rect_of(Lane::magnitude);
    std::vector<QRectF> taken{QRectF(top.right() - 90, top.top(), 90, 18)};
    if (const auto box = stage_grips_.label_box()) {
        taken.push_back(*box);
    }
    for (const CurveLabel& label : curves_.labels()) {
        const int width = painter.fontMetrics().horizontalAdvance(label.text);
        const double x =
            std::clamp<double>(x_of(label.hz) - width - 6, top.left() + 6, top.right() - width - 6);
        double y =
            std::clamp<double>(y_of(Lane::magnitude, label.level_db) + (label.above ? -18 : 4),
                               top.top() + 2, top.bottom() - 18);
        const double step = label.above ? -13 : 13;
        // Away from the curve until nothing is in the way.
        for (int tries = 0; tries < 12; ++tries) {
            const QRectF box(x, y, width, 13);
            if (std::ranges::none_of(taken,
                                     [&](const QRectF& other) { return other.intersects(box); })) {
                break;
            }
            y += step;
        }
        taken.emplace_back(x, y, width, 13);
        painter.setPen(label.colour);
        painter.drawText(QRectF(x, y, width + 2, 14), Qt::AlignLeft | Qt::AlignVCenter, label.text);
    }
}

void LaneStack::paint_overlay(QPainter& painter) {
    paint_labels(painter);
    if (hasFocus() && shows_focus_) {
        painter.setPen(QPen(theme().copper, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect_of(Lane::magnitude));
    }
    goal_grips_.paint(painter);
    stage_grips_.paint(painter);
    paint_plumb_line(painter, *this, session_);
}

} // namespace syntonon
