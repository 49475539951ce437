// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fir/window_pane.h"

#include "app/model/selected_fir.h"
#include "app/plot/sample_plot.h"
#include "app/widgets/theme.h"
#include "app/widgets/thin_line.h"
#include "core/base/number_text.h"
#include "core/study/kinds.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double reach_px = 9, grip_px = 4;
constexpr int foot = 40; // below the plots: axis and facts

const Window* window_of(const FirSpec& spec) {
    const auto* windowed = std::get_if<WindowedFir>(&spec.method);
    const auto* chain = std::get_if<FromChainFir>(&spec.method);
    return windowed != nullptr ? &windowed->window : chain != nullptr ? &chain->window : nullptr;
}
Window* window_of(FirSpec& spec) {
    auto* windowed = std::get_if<WindowedFir>(&spec.method);
    auto* chain = std::get_if<FromChainFir>(&spec.method);
    return windowed != nullptr ? &windowed->window : chain != nullptr ? &chain->window : nullptr;
}

QString digits(double value, int count) {
    return QString::fromStdString(text_with_digits(value, count)).replace('-', QStringLiteral("−"));
}

// Down to what is seen of most windows, or as far as this one goes.
double floor_of(const WindowFacts& facts) {
    return std::clamp(std::floor((facts.side_lobe_db - 40) / 20) * 20, -200.0, -60.0);
}

} // namespace

WindowPane::WindowPane(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMinimumSize(240, 90);
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Window of the FIR"));
    connect(&session_, &Session::analysis_changed, this, &WindowPane::refresh);
    connect(&session_, &Session::selection_changed, this, &WindowPane::refresh);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] { update(); });
}

bool WindowPane::is_there(const Session& session) {
    const FirSpec* spec = selected_fir(session);
    if (spec == nullptr) {
        return false;
    }
    const auto* fractional = std::get_if<FractionalDelayFir>(&spec->method);
    if (std::holds_alternative<FromChainFir>(spec->method)) {
        return spec->phase == FirPhase::as_made; // other phases are made of the magnitude
    }
    return window_of(*spec) != nullptr
           || (fractional != nullptr && fractional->by == FractionalDelayFir::By::windowed_sinc);
}

void WindowPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void WindowPane::refresh() {
    const std::string& stage = session_.selection().stage;
    if (!isVisible() || (shown_ == session_.analysis() && shown_stage_ == stage)) {
        return;
    }
    if (shown_stage_ != stage) {
        chosen_.reset();
        gesture_.clear();
    }
    shown_ = session_.analysis();
    shown_stage_ = stage;
    const auto working =
        is_there(session_) ? session_.working() : refuse("", "there is no window", "");
    window_ = working ? working->window : WorkingCurve();
    problem_ =
        working ? window_.values.empty() ? tr("this form of the filter needs no window") : QString()
                : QString::fromStdString(to_text(working.error()));
    spectrum_ = window_spectrum(window_.values);
    facts_ = window_facts(window_.values);
    setToolTip(points() != nullptr
                   ? tr("Drag a point; double click adds one, Delete takes one away")
                   : QString());
    update();
}

const std::vector<WindowPoint>* WindowPane::points() const {
    const FirSpec* spec = selected_fir(session_);
    const Window* window = spec != nullptr ? window_of(*spec) : nullptr;
    return window != nullptr && window->shape == WindowShape::drawn ? &window->points : nullptr;
}

QRectF WindowPane::time_area() const {
    return QRectF(56, 6, (width() - 56 - 16 - 56) / 2.0, height() - 6 - foot);
}
QRectF WindowPane::spectrum_area() const {
    const QRectF time = time_area();
    return QRectF(time.right() + 56, time.top(), time.width(), time.height());
}

QString WindowPane::facts() const {
    if (!facts_) {
        return {};
    }
    return tr("side lobes %1 dB · bins: main lobe ±%2, half power %3, noise %4 · mean %5")
        .arg(digits(facts_->side_lobe_db, 3), digits(facts_->main_lobe_bins, 3),
             digits(facts_->half_power_bins, 3), digits(facts_->noise_bandwidth_bins, 4),
             digits(facts_->coherent_gain, 3));
}

// Values from 0 to 1 fill the area; a drawn one may go beyond.
QPointF WindowPane::position_of(const WindowPoint& point) const {
    const QRectF area = time_area();
    SampleStyle style;
    style.range = std::pair(0.0, 1.0);
    const double y =
        SamplePlot(window_.values, style).y_of(std::clamp(point.value, 0.0, 1.0), area);
    return {area.left() + 5 + point.place * (area.width() - 10), y};
}

WindowPoint WindowPane::point_at(const QPointF& position) const {
    const QRectF area = time_area();
    const double top = position_of({0, 1}).y(), bottom = position_of({0, 0}).y();
    return {std::clamp((position.x() - area.left() - 5) / (area.width() - 10), 0.0, 1.0),
            std::clamp((bottom - position.y()) / (bottom - top), 0.0, 1.0)};
}

std::optional<std::size_t> WindowPane::grip_at(const QPointF& position) const {
    const auto* all = points();
    std::optional<std::size_t> nearest;
    double least = reach_px;
    for (std::size_t i = 0; all != nullptr && i < all->size(); ++i) {
        const double away = QLineF(position_of((*all)[i]), position).length();
        if (away <= least) {
            nearest = i;
            least = away;
        }
    }
    return nearest;
}

void WindowPane::change(const QString& name,
                        const std::function<void(std::vector<WindowPoint>&)>& change,
                        const QString& gesture) {
    session_.edit_stage(
        name,
        [&](Stage& stage) {
            if (auto* spec = std::get_if<FirSpec>(&stage.spec.edit())) {
                change(window_of(*spec)->points);
            }
        },
        gesture);
}

// Between its neighbours.
void WindowPane::move_point(std::size_t i, WindowPoint to, const QString& gesture) {
    change(
        tr("Move a point of the window"),
        [&](std::vector<WindowPoint>& all) {
            const double least = i > 0 ? all[i - 1].place : 0;
            const double most = i + 1 < all.size() ? all[i + 1].place : 1;
            all.at(i) = {std::clamp(to.place, least, most), to.value};
        },
        gesture);
}

void WindowPane::remove_point(std::size_t i) {
    if (points()->size() > 2) {
        change(tr("Remove a point of the window"), [i](std::vector<WindowPoint>& all) {
            all.erase(all.begin() + static_cast<std::ptrdiff_t>(i));
        });
        chosen_.reset();
    }
}

void WindowPane::mousePressEvent(QMouseEvent* event) {
    const auto grip = grip_at(event->position());
    if (grip && event->button() == Qt::RightButton) {
        remove_point(*grip);
    } else if (event->button() == Qt::LeftButton) {
        chosen_ = grip;
        gesture_ = grip ? session_.new_gesture() : QString();
        update();
    }
}

void WindowPane::mouseMoveEvent(QMouseEvent* event) {
    if (!gesture_.isEmpty() && chosen_ && points() != nullptr && *chosen_ < points()->size()) {
        move_point(*chosen_, point_at(event->position()), gesture_);
    }
    setCursor(grip_at(event->position()) ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

void WindowPane::mouseReleaseEvent(QMouseEvent*) {
    gesture_.clear();
}

void WindowPane::mouseDoubleClickEvent(QMouseEvent* event) {
    if (points() == nullptr || !time_area().adjusted(-6, -6, 6, 6).contains(event->position())
        || grip_at(event->position())) {
        return;
    }
    const WindowPoint fresh = point_at(event->position());
    change(tr("Add a point to the window"), [&](std::vector<WindowPoint>& all) {
        const auto after = std::ranges::upper_bound(all, fresh.place, {}, &WindowPoint::place);
        chosen_ = static_cast<std::size_t>(after - all.begin());
        all.insert(after, fresh);
    });
}

void WindowPane::keyPressEvent(QKeyEvent* event) {
    const auto* all = points();
    if (all == nullptr || all->empty()) {
        QWidget::keyPressEvent(event);
        return;
    }
    const double step = event->modifiers() & Qt::ShiftModifier ? 0.001 : 0.01;
    const double x = event->key() == Qt::Key_Right  ? step
                     : event->key() == Qt::Key_Left ? -step
                                                    : 0;
    const double y = event->key() == Qt::Key_Up ? step : event->key() == Qt::Key_Down ? -step : 0;
    if (event->key() == Qt::Key_Escape && !gesture_.isEmpty()) {
        session_.cancel_gesture(gesture_);
        gesture_.clear();
    } else if (event->key() == Qt::Key_PageDown || event->key() == Qt::Key_PageUp) {
        const std::size_t count = all->size();
        const std::size_t by = event->key() == Qt::Key_PageDown ? 1 : count - 1;
        chosen_ = chosen_ ? (*chosen_ + by) % count : 0;
        update();
    } else if (chosen_ && *chosen_ < all->size() && event->key() == Qt::Key_Delete) {
        remove_point(*chosen_);
    } else if (chosen_ && *chosen_ < all->size() && (x != 0 || y != 0)) {
        const WindowPoint now = (*all)[*chosen_];
        move_point(*chosen_, {now.place + x, std::clamp(now.value + y, 0.0, 1.0)},
                   session_.continuing_gesture("window point"));
    } else {
        QWidget::keyPressEvent(event);
    }
}

void WindowPane::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter painter(this);
    painter.fillRect(rect(), t.panel);
    painter.setFont(text_font(11));
    if (window_.values.empty()) {
        painter.setPen(t.soft);
        painter.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, problem_);
        return;
    }
    paint_time(painter);
    paint_spectrum(painter);
    painter.setPen(t.text);
    const QRectF line(56, height() - 19, width() - 72, 16);
    painter.drawText(
        line, Qt::AlignLeft | Qt::AlignVCenter,
        painter.fontMetrics().elidedText(facts(), Qt::ElideRight, static_cast<int>(line.width())));
}

void WindowPane::paint_time(QPainter& painter) const {
    const Theme& t = theme();
    const QRectF area = time_area();
    SampleStyle style;
    style.range = std::pair(0.0, 1.0);
    SamplePlot(window_.values, style).paint(painter, area, t.ink);
    painter.setPen(t.soft);
    painter.drawText(area.adjusted(5, 2, -5, 0), Qt::AlignLeft | Qt::AlignTop,
                     QString::fromStdString(window_.title));
    const QRectF below(area.left(), area.bottom() + 3, area.width(), 16);
    painter.drawText(below, Qt::AlignLeft | Qt::AlignVCenter, "0");
    painter.drawText(below, Qt::AlignRight | Qt::AlignVCenter,
                     tr("n = %1").arg(window_.values.size() - 1));
    const auto* all = points();
    painter.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 0; all != nullptr && i < all->size(); ++i) {
        const QPointF at = position_of((*all)[i]);
        painter.setPen(QPen(t.copper, 1.5));
        painter.setBrush(chosen_ == i ? t.copper : t.panel);
        painter.drawRect(QRectF(at.x() - grip_px, at.y() - grip_px, 2 * grip_px, 2 * grip_px));
    }
    painter.setRenderHint(QPainter::Antialiasing, false);
}

// The first bins, where windows differ; the highest side lobe as a dashed line.
void WindowPane::paint_spectrum(QPainter& painter) const {
    const Theme& t = theme();
    const QRectF area = spectrum_area();
    painter.setPen(t.grid);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(area);
    painter.setPen(t.soft);
    painter.drawText(area.adjusted(5, 2, -5, 0), Qt::AlignRight | Qt::AlignTop, tr("spectrum, dB"));
    if (!spectrum_ || !facts_) {
        return;
    }
    const double floor = floor_of(*facts_);
    const auto& level = spectrum_->level_db;
    const double all_bins = static_cast<double>(level.size() - 1) * spectrum_->bins_a_point;
    const double bins = std::min(all_bins, std::max(12.0, std::ceil(4 * facts_->main_lobe_bins)));
    const auto y_of = [&](double db) {
        return area.top() + area.height() * (std::clamp(db, floor, 0.0) / floor);
    };
    for (double db = 0; db >= floor; db -= floor < -100 ? 40 : 20) {
        painter.setPen(t.grid);
        painter.drawLine(QPointF(area.left(), y_of(db)), QPointF(area.right(), y_of(db)));
        painter.setPen(t.soft);
        painter.drawText(QRectF(area.left() - 46, y_of(db) - 8, 40, 16),
                         Qt::AlignRight | Qt::AlignVCenter, digits(db, 4));
    }
    QPolygonF curve;
    const auto shown = static_cast<std::size_t>(bins / spectrum_->bins_a_point);
    for (std::size_t k = 0; k <= std::min(shown, level.size() - 1); ++k) {
        const double x = area.left() + area.width() * double(k) * spectrum_->bins_a_point / bins;
        curve << QPointF(x, y_of(level[k]));
    }
    painter.save();
    painter.setClipRect(area);
    painter.setPen(QPen(t.not_met, 1, Qt::DashLine));
    painter.drawLine(QPointF(area.left(), y_of(facts_->side_lobe_db)),
                     QPointF(area.right(), y_of(facts_->side_lobe_db)));
    painter.setPen(QPen(t.ink, 1));
    painter.setRenderHint(QPainter::Antialiasing);
    draw_thin_line(painter, curve);
    painter.restore();
    painter.setPen(t.soft);
    const QRectF below(area.left(), area.bottom() + 3, area.width(), 16);
    painter.drawText(below, Qt::AlignLeft | Qt::AlignVCenter, "0");
    const double hz = bins * session_.study().sample_rate_hz / double(window_.values.size());
    painter.drawText(
        below, Qt::AlignRight | Qt::AlignVCenter,
        tr("%1 bins = %2").arg(digits(bins, 3), QString::fromStdString(frequency_text(hz, 3))));
}

} // namespace syntonon
