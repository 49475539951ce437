// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fir/window_pane.h"

#include "app/model/selected_fir.h"
#include "app/model/window_commands.h"
#include "app/plot/sample_plot.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/study/kinds.h"

#include <QCheckBox>
#include <QMouseEvent>
#include <QResizeEvent>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double reach_px = 9;
constexpr int foot = 40; // below the plots: axis and facts

// Down to what is seen of most windows, or as far as this one goes.
double floor_of(const WindowFacts& facts) {
    return std::clamp(std::floor((facts.side_lobe_db - 40) / 20) * 20, -200.0, -60.0);
}

// Of a filter by edges, from one of them into the stopband, in Hz: up, or down.
std::optional<std::pair<double, int>> stopwards(const FirSpec& spec) {
    const auto* windowed = std::get_if<WindowedFir>(&spec.method);
    if (windowed == nullptr || windowed->by != WindowedFir::By::edges) {
        return std::nullopt;
    }
    switch (windowed->band) {
    case ClassicalBand::high_pass:
        return std::pair(windowed->edges_hz[0], -1);
    case ClassicalBand::band_pass:
        return std::pair(windowed->edges_hz[1], 1);
    default:
        return std::pair(windowed->edges_hz[0], 1);
    }
}

} // namespace

WindowPane::WindowPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), symmetric_(new QCheckBox(tr("Symmetric"), this)) {
    symmetric_->setFont(text_font(11));
    symmetric_->setFocusPolicy(Qt::TabFocus); // a click leaves the keys with the points
    symmetric_->setToolTip(tr("A point takes its mirror image with it"));
    symmetric_->setChecked(true);
    connect(symmetric_, &QCheckBox::clicked, this, [this](bool on) {
        if (on && points() != nullptr && !is_symmetric(*points())) {
            make_window_symmetric(session_);
        }
    });
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
    return selected_window(session) != nullptr
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
        lobe_gesture_.clear();
    }
    if (points() != nullptr && !is_symmetric(*points())) {
        symmetric_->setChecked(false); // it is drawn so
    }
    symmetric_->setVisible(points() != nullptr);
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
    if (facts_ && lobe_gesture_.isEmpty()) { // an axis stands while something on it is dragged
        floor_db_ = floor_of(*facts_);
        bins_ = std::min(static_cast<double>(window_.values.size()) / 2,
                         std::max(12.0, std::ceil(4 * facts_->main_lobe_bins)));
    }
    find_filter_levels();
    setToolTip(
        points() != nullptr ? tr("Drag a point; double click adds one, Delete takes one away")
        : lobe_grip() ? tr("Drag the square for higher or lower side lobes.\nThe window's spectrum "
                           "begins in its middle, the filter's at its edge.")
                      : QString());
    update();
}

const std::vector<WindowPoint>* WindowPane::points() const {
    return drawn_points(session_);
}

QRectF WindowPane::time_area() const {
    return QRectF(56, 6, (width() - 56 - 16 - 56) / 2.0, height() - 6 - foot);
}
QRectF WindowPane::spectrum_area() const {
    const QRectF time = time_area();
    return QRectF(time.right() + 56, time.top(), time.width(), time.height());
}

// From the edge on, in the window's bins.
void WindowPane::find_filter_levels() {
    beside_.clear();
    const FirSpec* spec = selected_fir(session_);
    const StageAnalysis* stage = session_.stage_analysis();
    const auto from = spec != nullptr ? stopwards(*spec) : std::nullopt;
    if (!from || stage == nullptr || !stage->filter || window_.values.empty()) {
        return;
    }
    constexpr int points_a_bin = 8;
    const double rate = session_.study().sample_rate_hz;
    const double bin_hz = rate / static_cast<double>(window_.values.size());
    std::vector<double> hz;
    for (int k = 0; k <= bins_ * points_a_bin; ++k) {
        const double at = from->first + from->second * bin_hz * k / points_a_bin;
        if (at > 0 && at < rate / 2) {
            hz.push_back(at);
        }
    }
    const bool is_down = from->second < 0;
    if (is_down) {
        std::ranges::reverse(hz);
    }
    const auto grid = FrequencyGrid::from_frequencies(hz, session_.axis());
    if (!grid) {
        return;
    }
    auto levels = stage->filter->magnitude_db(*grid);
    if (is_down) {
        std::ranges::reverse(levels);
    }
    for (std::size_t k = 0; k < levels.size(); ++k) {
        beside_.emplace_back(static_cast<double>(k) / points_a_bin, levels[k]);
    }
}

// At the right end of the line that marks the highest side lobe.
std::optional<QPointF> WindowPane::lobe_grip() const {
    const Window* window = selected_window(session_);
    if (window == nullptr || parameter_of(window->shape).name.empty() || !facts_
        || !std::isfinite(facts_->side_lobe_db)) {
        return std::nullopt;
    }
    const QRectF area = spectrum_area();
    constexpr double inside = 10;
    return QPointF(area.right() - inside, y_of_level(facts_->side_lobe_db));
}

double WindowPane::y_of_level(double db) const {
    const QRectF area = spectrum_area();
    return area.top() + area.height() * (std::clamp(db, floor_db_, 0.0) / floor_db_);
}

QString WindowPane::facts() const {
    if (!facts_) {
        return {};
    }
    return tr("side lobes %1 dB · bins: main ±%2, −3 dB %3, noise %4 · mean %5")
        .arg(shown_number(facts_->side_lobe_db, 3), shown_number(facts_->main_lobe_bins, 3),
             shown_number(facts_->half_power_bins, 3),
             shown_number(facts_->noise_bandwidth_bins, 4), shown_number(facts_->coherent_gain, 3));
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

void WindowPane::move_point(std::size_t i, WindowPoint to, const QString& gesture) {
    move_window_point(session_, i, to, symmetric_->isChecked(), gesture);
}

void WindowPane::remove_point(std::size_t i) {
    remove_window_point(session_, i, symmetric_->isChecked());
    chosen_.reset();
}

void WindowPane::mousePressEvent(QMouseEvent* event) {
    const auto grip = grip_at(event->position());
    if (grip && event->button() == Qt::RightButton) {
        remove_point(*grip);
    } else if (event->button() == Qt::LeftButton && lobe_grip()
               && QLineF(*lobe_grip(), event->position()).length() <= reach_px) {
        lobe_gesture_ = session_.new_gesture();
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
    if (!lobe_gesture_.isEmpty()) {
        const QRectF area = spectrum_area();
        const double part = (event->position().y() - area.top()) / area.height();
        set_side_lobe(session_, floor_db_ * std::clamp(part, 0.0, 1.0), lobe_gesture_);
    }
    const bool is_on_lobe =
        lobe_grip() && QLineF(*lobe_grip(), event->position()).length() <= reach_px;
    setCursor(is_on_lobe                   ? Qt::SizeVerCursor
              : grip_at(event->position()) ? Qt::PointingHandCursor
                                           : Qt::ArrowCursor);
}

void WindowPane::mouseReleaseEvent(QMouseEvent*) {
    gesture_.clear();
    if (!lobe_gesture_.isEmpty()) {
        lobe_gesture_.clear();
        shown_.reset(); // its axis may fit better now
        refresh();
    }
}

void WindowPane::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    constexpr int wide = 96, high = 18;
    symmetric_->setGeometry(event->size().width() - wide - 12, event->size().height() - high - 2,
                            wide, high);
}

void WindowPane::mouseDoubleClickEvent(QMouseEvent* event) {
    if (points() == nullptr || !time_area().adjusted(-6, -6, 6, 6).contains(event->position())
        || grip_at(event->position())) {
        return;
    }
    chosen_ = add_window_point(session_, point_at(event->position()), symmetric_->isChecked());
}

void WindowPane::keyPressEvent(QKeyEvent* event) {
    const auto* all = points();
    const int up = event->key() == Qt::Key_Up ? 1 : event->key() == Qt::Key_Down ? -1 : 0;
    if (event->key() == Qt::Key_Escape && !lobe_gesture_.isEmpty()) {
        session_.cancel_gesture(lobe_gesture_);
        lobe_gesture_.clear();
        return;
    }
    if (lobe_grip() && up != 0) {
        const double db = event->modifiers() & Qt::ShiftModifier ? 0.1 : 1;
        set_side_lobe(session_, facts_->side_lobe_db + up * db,
                      session_.continuing_gesture("window side lobe"));
        return;
    }
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

} // namespace syntonon
