// What the hand and the keys do in the plane of roots.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/roots/roots_pane.h"
#include "app/widgets/shown_number.h"

#include "core/base/units.h"

#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double snap_pixels = 5; // to the real axis and the circle
constexpr double finely = 0.1;

// The upper one of a pair, as a drag from the lower one is told.
Complex from_polar(double radius, double angle) {
    return std::polar(std::max(radius, 0.0), angle);
}

} // namespace

void RootsPane::take(const PlaneRoot& root, const QMouseEvent& event) {
    RootsInHand& in_hand = session_.roots_in_hand();
    if (event.modifiers().testFlag(Qt::ControlModifier)) {
        in_hand.toggle(root.ref);
        return;
    }
    session_.select_stage(root.ref.stage);
    in_hand.take(root.ref);
    drag_.emplace(session_, root.ref);
    if (keeps_level_) {
        drag_->keep_level_at(session_.plumb().hz().value_or(0));
    }
    last_ = event.position();
    travelled_ = {};
}

void RootsPane::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) {
        return;
    }
    problem_.clear();
    const auto all = roots();
    if (const PlaneRoot* root = root_near(all, event->position())) {
        take(*root, *event);
    } else if (event->modifiers().testFlag(Qt::ShiftModifier)) {
        frame_from_ = frame_to_ = event->position();
    } else {
        session_.roots_in_hand().hold({});
        if (magnification_ > 1) {
            panning_from_ = event->position();
        }
    }
    update();
}

void RootsPane::mouseReleaseEvent(QMouseEvent*) {
    panning_from_.reset();
    drag_.reset();
    if (frame_from_) {
        take_in_frame();
    }
    if (is_coarse_) {
        refine_.start();
    }
}

void RootsPane::take_in_frame() {
    const QRectF frame = QRectF(*frame_from_, frame_to_).normalized();
    frame_from_.reset();
    std::set<RootRef> held;
    for (const PlaneRoot& root : roots()) {
        if (frame.contains(view_.at(root.value))) {
            held.insert(root.ref);
        }
    }
    if (!held.empty()) {
        session_.select_stage(held.begin()->stage);
    }
    session_.roots_in_hand().hold(held);
    update();
}

void RootsPane::mouseDoubleClickEvent(QMouseEvent* event) {
    const auto all = roots();
    if (root_near(all, event->position()) == nullptr) {
        magnification_ = 1;
        shift_ = {};
        update();
    }
}

void RootsPane::wheelEvent(QWheelEvent* event) {
    const double factor = std::exp2(event->angleDelta().y() / 240.0);
    const double next = std::clamp(magnification_ * factor, 1.0, greatest_magnification);
    // What is under the pointer stays there.
    const QPointF from_centre = event->position() - view_.centre;
    shift_ += from_centre * (1 - next / magnification_);
    magnification_ = next;
    if (magnification_ == 1) {
        shift_ = {};
    }
    if (look_.shows_any()) {
        is_coarse_ = true;
        refine_.start();
    }
    update();
}

// Along the radius or the angle only, whichever the hand goes more.
Complex RootsPane::locked(Complex to, const QMouseEvent& event) const {
    const Complex from = drag_->from();
    const double turned = std::remainder(std::arg(to) - std::arg(from), 2 * pi) * std::abs(from);
    const double stretched = std::abs(to) - std::abs(from);
    const bool locks = event.modifiers().testFlag(Qt::ControlModifier);
    const bool holds_radius = holds_radius_ || (locks && std::abs(turned) >= std::abs(stretched));
    const bool holds_angle = !holds_radius && (holds_angle_ || locks);
    if (from.imag() == 0) {
        return to; // it stays on its axis anyway
    }
    if (holds_radius) {
        return from_polar(std::abs(from), std::arg(to));
    }
    return holds_angle ? from_polar(std::abs(to), std::arg(from)) : to;
}

void RootsPane::drag_to(const QMouseEvent& event) {
    const bool slow = event.modifiers().testFlag(Qt::ShiftModifier);
    travelled_ += (event.position() - last_) * (slow ? finely : 1);
    last_ = event.position();
    const double snap = snap_pixels * view_.per_pixel();
    Complex to = drag_->from() + Complex(travelled_.x(), -travelled_.y()) * view_.per_pixel();
    to = locked(to, event);
    const bool snaps = !drag_->held().place.is_pole && !event.modifiers().testFlag(Qt::AltModifier);
    if (snaps && view_.is_analog && std::abs(to.real()) < snap) {
        to = {0, to.imag()};
    } else if (snaps && !view_.is_analog && std::abs(std::abs(to) - 1) < snap) {
        to /= std::abs(to);
    }
    say(drag_->move_to(to, snap));
}

void RootsPane::mouseMoveEvent(QMouseEvent* event) {
    if (drag_) {
        drag_to(*event);
    } else if (frame_from_) {
        frame_to_ = event->position();
        update();
    } else if (panning_from_) {
        shift_ += event->position() - *panning_from_;
        panning_from_ = event->position();
        if (look_.shows_any()) {
            is_coarse_ = true;
            refine_.start();
        }
        update();
    } else {
        hover(*event);
    }
}

void RootsPane::hover(const QMouseEvent& event) {
    const auto all = roots();
    const PlaneRoot* root = root_near(all, event.position());
    setCursor(root != nullptr ? Qt::OpenHandCursor : Qt::ArrowCursor);
    if (root == nullptr) {
        QToolTip::hideText();
        return;
    }
    const Axis axis = session_.axis();
    const Complex& z = root->value;
    const auto number = [&](RootNumber which, int digits) {
        return shown_number(number_of(z, which, axis), digits);
    };
    const QString place =
        tr("%1 %2 j%3%4")
            .arg(z.real(), 0, axis.is_analog() ? 'g' : 'f', axis.is_analog() ? 7 : 6)
            .arg(z.imag() < 0 ? "−" : "+")
            .arg(std::abs(z.imag()), 0, axis.is_analog() ? 'g' : 'f', axis.is_analog() ? 7 : 6)
            .arg(axis.is_analog() ? tr(" rad/s") : QString());
    const QString width = z.imag() != 0 && std::isfinite(number_of(z, RootNumber::q, axis))
                              ? tr(", Q %1").arg(number(RootNumber::q, 5))
                              : QString();
    const QString size = axis.is_analog()
                             ? tr("%1 Hz%2").arg(number(RootNumber::frequency_hz, 7), width)
                             : tr("radius %1%2").arg(number(RootNumber::radius, 8), width);
    QToolTip::showText(event.globalPosition().toPoint(),
                       tr("%1\n%2\n%3\nDrag it; a right click shows what else.")
                           .arg(name_of_root(z, root->ref.place.is_pole, axis), place, size),
                       this);
}

// Left and right in frequency, up and down outwards and inwards.
void RootsPane::nudge(int key, bool slow) {
    const auto& held = session_.roots_in_hand().roots();
    if (held.empty()) {
        return;
    }
    RootDrag drag(session_, *held.begin(), session_.continuing_gesture("nudge roots"));
    if (keeps_level_) {
        drag.keep_level_at(session_.plumb().hz().value_or(0));
    }
    const Complex from = drag.from();
    const double by = (slow ? finely : 1) * (key == Qt::Key_Left || key == Qt::Key_Down ? -1 : 1);
    Complex to = from;
    if (key == Qt::Key_Left || key == Qt::Key_Right) {
        constexpr double part_of_octave = 1.0 / 48, on_axis = 0.005;
        const double factor = std::exp2(by * part_of_octave);
        to = view_.is_analog    ? from * factor
             : from.imag() == 0 ? from + by * on_axis
                                : std::polar(std::abs(from), std::arg(from) * factor);
    } else if (view_.is_analog) {
        const double step = std::max(std::abs(from.real()) * 0.06, std::abs(from) * 1e-4);
        to = from + by * step;
    } else if (from.imag() != 0) {
        const double gap = std::abs(1 - std::abs(from));
        to = std::polar(std::abs(from) + by * std::max(gap * 0.06, 1e-4), std::arg(from));
    }
    say(drag.move_to(to, 0));
}

void RootsPane::hold_next(int by) {
    const auto all = roots();
    std::vector<RootRef> order;
    for (const PlaneRoot& root : all) {
        if (root.value.imag() >= 0) {
            order.push_back(root.ref);
        }
    }
    if (order.empty()) {
        return;
    }
    const auto& held = session_.roots_in_hand().roots();
    const auto now = held.empty() ? order.end() : std::ranges::find(order, *held.begin());
    const auto count = static_cast<std::ptrdiff_t>(order.size());
    const std::ptrdiff_t next =
        now == order.end() ? (by > 0 ? 0 : count - 1) : (now - order.begin() + by + count) % count;
    const RootRef root = order[static_cast<std::size_t>(next)];
    session_.select_stage(root.stage);
    session_.roots_in_hand().hold({root});
}

bool RootsPane::event(QEvent* event) {
    // Keys that a menu or the window would take.
    if (event->type() == QEvent::ShortcutOverride) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Delete || key == Qt::Key_Escape || key == Qt::Key_PageUp
            || key == Qt::Key_PageDown) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void RootsPane::keyPressEvent(QKeyEvent* event) {
    const bool slow = event->modifiers().testFlag(Qt::ShiftModifier);
    switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right:
    case Qt::Key_Up:
    case Qt::Key_Down:
        return nudge(event->key(), slow);
    case Qt::Key_PageDown:
        return hold_next(1);
    case Qt::Key_PageUp:
        return hold_next(-1);
    case Qt::Key_Escape:
        if (drag_) {
            drag_->cancel();
            drag_.reset();
        }
        return;
    case Qt::Key_M:
        return mirror_in_hand();
    case Qt::Key_O:
        return put_in_hand_on_circle();
    case Qt::Key_C:
        return cancel_in_hand();
    case Qt::Key_D:
        return duplicate_in_hand();
    case Qt::Key_Delete:
        return remove_in_hand();
    case Qt::Key_R:
        holds_radius_ = !holds_radius_;
        return update();
    case Qt::Key_A:
        holds_angle_ = !holds_angle_;
        return update();
    case Qt::Key_L:
        keeps_level_ = !keeps_level_;
        return update();
    case Qt::Key_I:
        return say(reflect_poles_inside(session_));
    default:
        QWidget::keyPressEvent(event);
    }
}

void RootsPane::contextMenuEvent(QContextMenuEvent* event) {
    const auto all = roots();
    const PlaneRoot* root = root_near(all, event->pos());
    if (root != nullptr && !session_.roots_in_hand().holds(root->ref)) {
        session_.select_stage(root->ref.stage);
        session_.roots_in_hand().hold({root->ref});
    }
    QMenu menu(this);
    if (root != nullptr) {
        fill_change(menu);
    } else {
        fill_add(menu, view_.value_at(event->pos()));
        menu.addSeparator();
        fill_show(menu);
    }
    menu.exec(event->globalPos());
}

} // namespace syntonon
