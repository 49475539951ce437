// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/roots_lane.h"

#include "app/model/plane_roots.h"
#include "app/plot/root_mark.h"
#include "app/widgets/theme.h"
#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double longest = 1; // log10 of 10 s: what takes longer stands there
constexpr double slowly = 0.1, snap_pixels = 4;

} // namespace

double roots_lane_value(const Complex& root, const Axis& axis) {
    const double decay = number_of(root, RootNumber::decay_s, axis);
    if (!std::isfinite(decay)) {
        return circle_on_lane;
    }
    constexpr double shortest = 1e-9;
    const double decades = std::log10(std::max(std::abs(decay), shortest));
    const double below = std::min(decades, longest + 0.2);
    return decay > 0 ? below : 2 * circle_on_lane - below;
}

Complex root_on_lane(double hz, double lane_value, const Axis& axis) {
    const bool outside = lane_value > circle_on_lane;
    const double decades = outside ? 2 * circle_on_lane - lane_value : lane_value;
    const double decay = std::pow(10, decades) * (outside ? -1 : 1);
    const Complex on_circle = axis.is_analog() ? Complex(0, rad_per_s_from_hz(hz))
                                               : std::polar(1.0, axis.rad_per_sample(hz));
    return lane_value == circle_on_lane ? on_circle
                                        : with_number(on_circle, RootNumber::decay_s, decay, axis);
}

QPointF RootsLane::point_of(const Complex& root) const {
    const QRect lane = plot_.rect_of(Lane::roots);
    const Axis axis = session_.axis();
    const double hz = number_of(root, RootNumber::frequency_hz, axis);
    const double x = hz > 0 ? plot_.x_of(hz) : lane.left();
    return {std::clamp(x, lane.left() + 6.0, lane.right() - 6.0),
            std::clamp(plot_.y_of(Lane::roots, roots_lane_value(root, axis)), lane.top() + 6.0,
                       lane.bottom() - 6.0)};
}

std::vector<RootsLane::Placed> RootsLane::placed() const {
    std::vector<Placed> all;
    if (!plot_.view().shows(Lane::roots)) {
        return all;
    }
    for (const PlaneRoot& root : plane_roots(session_, RootsShown::whole_chain)) {
        if (root.value.imag() >= 0) {
            all.push_back({root.ref, root.value, root.count, point_of(root.value)});
        }
    }
    return all;
}

const RootsLane::Placed* RootsLane::at_point(const std::vector<Placed>& all,
                                             const QPointF& point) const {
    const Placed* best = nullptr;
    double least = handle_reach;
    for (const Placed& root : all) {
        const QPointF d = root.at - point;
        const double counted = std::hypot(d.x(), d.y()) - preference_for(session_, root.ref);
        if (counted < least) {
            least = counted;
            best = &root;
        }
    }
    return best;
}

std::vector<QPointF> RootsLane::handle_points() const {
    std::vector<QPointF> points;
    for (const Placed& root : placed()) {
        points.push_back(root.at);
    }
    return points;
}

std::optional<QCursor> RootsLane::cursor_at(const QPointF& point) const {
    const auto all = placed();
    return at_point(all, point) != nullptr ? std::optional(QCursor(Qt::OpenHandCursor))
                                           : std::nullopt;
}

void RootsLane::paint(QPainter& painter) {
    const QRect lane = plot_.rect_of(Lane::roots);
    if (lane.isEmpty()) {
        return;
    }
    const Theme& t = theme();
    painter.save();
    painter.setClipRect(lane);
    const double line = plot_.y_of(Lane::roots, circle_on_lane);
    QColor wash = t.not_met;
    wash.setAlphaF(0.07F);
    if (line > lane.top()) {
        painter.fillRect(QRectF(lane.left(), lane.top(), lane.width(), line - lane.top()), wash);
        painter.setPen(QPen(t.not_met, 1, Qt::DashLine));
        painter.drawLine(QPointF(lane.left(), line), QPointF(lane.right(), line));
        painter.setFont(text_font(11));
        painter.drawText(QPointF(lane.left() + 8, line - 5),
                         session_.axis().is_analog()
                             ? QObject::tr("right of the axis: poles are unstable")
                             : QObject::tr("outside the circle: poles are unstable"));
    }
    painter.setRenderHint(QPainter::Antialiasing, true);
    for (const Placed& root : placed()) {
        const bool unstable = root.ref.place.is_pole
                              && roots_lane_value(root.value, session_.axis()) >= circle_on_lane;
        draw_root_mark(painter, root.at,
                       {root.ref.place.is_pole, root.ref.stage == session_.selection().stage,
                        unstable, session_.roots_in_hand().holds(root.ref), root.count});
    }
    if (!problem_.isEmpty()) {
        painter.setFont(text_font(11));
        painter.setPen(t.not_met);
        painter.drawText(lane.adjusted(8, 0, -8, -4), Qt::AlignLeft | Qt::AlignBottom, problem_);
    }
    painter.restore();
}

bool RootsLane::press(const QMouseEvent& event) {
    if (event.button() != Qt::LeftButton
        || !plot_.rect_of(Lane::roots).contains(event.position().toPoint())) {
        return false;
    }
    const auto all = placed();
    const Placed* root = at_point(all, event.position());
    if (root == nullptr) {
        return false;
    }
    if (event.modifiers().testFlag(Qt::ControlModifier)) {
        session_.roots_in_hand().toggle(root->ref);
        return true;
    }
    const RootRef ref = root->ref;
    root_at_ = root->at;
    session_.select_stage(ref.stage);
    session_.roots_in_hand().take(ref);
    drag_.emplace(session_, ref);
    last_ = event.position();
    travelled_ = {};
    return true;
}

bool RootsLane::move(const QMouseEvent& event) {
    if (!drag_) {
        return false;
    }
    const bool slow = event.modifiers().testFlag(Qt::ShiftModifier);
    travelled_ += (event.position() - last_) * (slow ? slowly : 1);
    last_ = event.position();
    QPointF at = root_at_ + travelled_;
    if (event.modifiers().testFlag(Qt::ControlModifier)) {
        (std::abs(travelled_.x()) > std::abs(travelled_.y()) ? at.ry() : at.rx()) =
            std::abs(travelled_.x()) > std::abs(travelled_.y()) ? root_at_.y() : root_at_.x();
    }
    const Axis axis = session_.axis();
    double value = plot_.value_at(Lane::roots, at.y());
    const double line = plot_.y_of(Lane::roots, circle_on_lane);
    const bool snaps = !drag_->held().place.is_pole && !event.modifiers().testFlag(Qt::AltModifier);
    if (snaps && std::abs(at.y() - line) < snap_pixels) {
        value = circle_on_lane;
    }
    const Complex from = drag_->from();
    Complex to;
    if (from.imag() == 0) { // on its axis: only its decay
        to = root_on_lane(number_of(from, RootNumber::frequency_hz, axis), value, axis);
        to = {axis.is_analog() ? to.real() : std::copysign(std::abs(to), from.real()), 0};
    } else {
        const double hz = std::clamp(plot_.hz_at(at.x()), 0.01, axis.end_hz() * 0.9999);
        to = root_on_lane(at.x() == root_at_.x() ? number_of(from, RootNumber::frequency_hz, axis)
                                                 : hz,
                          value, axis);
        to = from.imag() < 0 ? std::conj(to) : to;
    }
    const auto done = drag_->move_to(to, 0);
    problem_ = done ? QString() : QString::fromStdString(to_text(done.error()));
    return true;
}

bool RootsLane::key(const QKeyEvent& event) {
    if (event.key() == Qt::Key_Escape && drag_) {
        drag_->cancel();
        drag_.reset();
        return true;
    }
    return false;
}

} // namespace syntonon
