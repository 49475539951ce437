// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_stack.h"

#include "app/model/fitter.h"
#include "app/model/goal_commands.h"
#include "app/model/stage_commands.h"
#include "app/model/target_commands.h"
#include "app/plot/lane_curves.h"
#include "app/plot/lane_menus.h"
#include "app/plot/lane_picture.h"
#include "app/plot/plumb_readout.h"
#include "app/widgets/number_cells.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/study/kinds.h"

#include <QMenu>
#include <QToolTip>
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
    : LaneStack(
        session, [&session](LanePlot& plot) { return std::make_unique<LaneCurves>(plot, session); },
        parent) {
    grips_.reset(new Grips{
        {*this, session}, {*this, session}, {*this, session}, {*this, session}, {*this, session}});
}

LaneStack::LaneStack(Session& session, MakeLaneContent make, QWidget* parent)
    : LanePlot(parent), session_(session), make_content_(std::move(make)),
      content_(make_content_(*this)), roots_(*this, session), bands_(*this, session),
      overlay_(new Overlay(this)) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Lanes: magnitude, phase and delay"));
    setMinimumSize(360, 320);
    const auto follow = [this] {
        if (session_.axis() != axis()) {
            set_axis(session_.axis());
            before_.clear();
            content_->redraw_all();
        } else {
            content_->update();
        }
        lay_labels();
        overlay_->update();
    };
    connect(&session_, &Session::analysis_changed, this, follow);
    connect(&session_, &Session::selection_changed, this, follow);
    connect(&session_.plumb(), &PlumbLine::changed, overlay_, qOverload<>(&QWidget::update));
    connect(&session_.tone(), &ToneMeter::changed, overlay_, qOverload<>(&QWidget::update));
    connect(&session_.live(), &LiveSpectrum::changed, overlay_, qOverload<>(&QWidget::update));
    connect(&session_.curve_in_hand(), &CurveInHand::changed, this, follow);
    connect(&session_.glimpse(), &Glimpse::changed, this, follow);
    connect(&session_.fitter(), &Fitter::changed, this, follow);
    connect(&session_.part_in_hand(), &PartInHand::changed, overlay_,
            qOverload<>(&QWidget::update));
    connect(&session_.slow_roots(), &SlowRoots::found, overlay_, qOverload<>(&QWidget::update));
    connect(&session_.roots_in_hand(), &RootsInHand::changed, overlay_,
            qOverload<>(&QWidget::update));
    connect(&session_.held(), &HeldPoints::changed, overlay_, qOverload<>(&QWidget::update));
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] {
        apply_theme();
        redraw();
    });
    set_axis(session_.axis());
    content_->update();
}

void LaneStack::redraw() {
    content_->redraw_all();
    lay_labels();
    overlay_->update();
}

void LaneStack::set_goal_editing(bool active) {
    grips_->goal.set_active(active);
    overlay_->update();
}

void LaneStack::change_view(const LaneView& view) {
    const bool other_frequencies =
        view.span != this->view().span || view.linear_frequency != this->view().linear_frequency;
    set_view(view);
    if (other_frequencies) {
        before_.clear(); // they were of another axis
    }
    redraw();
    emit view_changed();
}

LaneZoom LaneStack::home() const {
    LaneZoom home;
    std::tie(home.low_hz, home.high_hz) = whole_frequencies();
    home.ranges = home_ranges_;
    return home;
}

void LaneStack::change_range(Lane lane, const LaneRange& range) {
    home_ranges_[static_cast<std::size_t>(lane)] = range;
    LaneZoom changed = zoom();
    changed.of(lane) = range;
    set_zoom(changed);
    redraw();
    emit view_changed();
}

void LaneStack::magnify(const LaneZoom& zoomed, const QString& what) {
    before_.emplace_back(zoom(), magnified_what_);
    magnified_what_ = what;
    set_zoom(zoomed);
    redraw();
    emit view_changed();
}

void LaneStack::zoom_back() {
    if (before_.empty()) {
        return;
    }
    magnified_what_ = before_.back().second;
    set_zoom(before_.back().first);
    before_.pop_back();
    redraw();
    emit view_changed();
}

void LaneStack::zoom_home() {
    before_.clear();
    magnified_what_.clear();
    set_zoom(home());
    redraw();
    emit view_changed();
}

namespace {

// A range around both values, with room beside them.
LaneRange around(double value, double limit, double least_half) {
    const double half = round_step(std::max(0.9 * std::abs(value - limit), least_half));
    const double middle = std::round((value + limit) / 2 / (half / 5)) * (half / 5);
    return {middle - half, middle + half, 0};
}

} // namespace

void LaneStack::magnify_finding(const Finding& finding) {
    if (!finding.worst_hz) {
        return;
    }
    const double hz = *finding.worst_hz;
    session_.plumb().set(hz);
    session_.plumb().pin(true);
    LaneZoom zoomed = home();
    if (view().linear_frequency) {
        const double half = std::max(hz / 3, sample_rate_hz() / 200);
        zoomed.low_hz = hz - half;
        zoomed.high_hz = hz + half;
    } else {
        zoomed.low_hz = std::max(hz, 1.0) / std::exp2(0.5);
        zoomed.high_hz = std::max(hz, 1.0) * std::exp2(0.5);
    }
    const auto point = session_.point_at(std::min(hz, axis().end_hz()));
    // Values and limits are deviations; on the lane the limit lies as far from the curve.
    const double away = finding.value && finding.limit ? *finding.limit - *finding.value : 0;
    if (point && finding.quantity == Quantity::level && finding.unit == "dB" && point->predicted_db
        && std::isfinite(*point->predicted_db + away)) {
        zoomed.of(Lane::magnitude) = around(*point->predicted_db, *point->predicted_db + away, 0.5);
    } else if (point && finding.quantity == Quantity::delay
               && std::isfinite(point->chain.group_delay_samples)) {
        const double ms = point->chain.group_delay_samples / sample_rate_hz() * 1e3;
        zoomed.of(Lane::delay) = around(ms, ms, 0.5);
    } else if (point && finding.quantity == Quantity::phase) {
        const double whole = deg_from_rad(point->chain.phase_rad);
        const double deg = view().unwrapped ? whole : wrapped_deg(whole);
        zoomed.of(Lane::phase) = around(deg, deg + away, 20);
    }
    if (!before_.empty() && !magnified_what_.isEmpty()) {
        zoom_back(); // from one finding to the next: one step back leads out
    }
    magnify(zoomed, shown_words(finding.requirement));
}

QString LaneStack::magnified_text(Lane lane) const {
    const LaneRange& shown = range(lane);
    const LaneRange whole = LaneZoom{}.of(lane);
    if (lane == Lane::weight || lane == Lane::roots
        || shown.high - shown.low >= (whole.high - whole.low) * (1 - 1e-9)) {
        return {};
    }
    const QString unit = lane == Lane::magnitude ? tr(" dB")
                         : lane == Lane::phase   ? QStringLiteral("°")
                                                 : tr(" ms");
    const auto text = [](double value) { return shown_number(value, 4); };
    return std::abs(shown.low + shown.high) < 1e-9
               ? tr("±%1%2 shown").arg(text(shown.high), unit)
               : tr("%1 … %2%3 shown").arg(text(shown.low), text(shown.high), unit);
}

void LaneStack::show_curve(const QString& key, bool shown) {
    content_->show(key, shown);
    lay_labels();
    overlay_->update();
    emit curves_chosen();
}

void LaneStack::show_alone(const std::optional<QString>& key) {
    content_->show_alone(key);
    lay_labels();
    overlay_->update();
    emit curves_chosen();
}

void LaneStack::choose_curves(const CurveChoices& choices) {
    content_->choose(choices);
    lay_labels();
    overlay_->update();
    emit curves_chosen();
}

void LaneStack::show_like(const LaneStack& other) {
    home_ranges_ = other.home_ranges_;
    magnified_what_ = other.magnified_what_;
    if (other.readout_.is_column()) {
        set_readout_column(true);
    }
    content_->choose(other.content_->choices());
}

void LaneStack::move_plumb(double octaves) {
    const double from =
        session_.plumb().hz().value_or(std::sqrt(std::max(1.0, low_hz()) * high_hz()));
    session_.plumb().set(std::clamp(from * std::exp2(octaves), std::max(low_hz(), 0.1), high_hz()));
    session_.plumb().pin(true);
}

void LaneStack::toggle_plumb_pin() {
    if (!session_.plumb().hz()) {
        move_plumb(0);
    } else if (session_.plumb().is_pinned()) {
        session_.plumb().set(std::nullopt);
        session_.plumb().pin(false);
    } else {
        session_.plumb().pin(true);
    }
}

QRect LaneStack::title_rect(Lane lane) const {
    const QRect r = rect_of(lane);
    if (r.isEmpty()) {
        return {};
    }
    const int width = static_cast<int>(label_width(content_->title(lane))) + 23;
    return QRect(r.right() - width, r.top() + 1, width, 17);
}

QRect LaneStack::frequency_rect() const {
    const QRect r = rect_of(bottom_lane());
    return QRect(r.left(), r.bottom() + 1, r.width(), 40);
}

void LaneStack::set_readout_column(bool column) {
    readout_.set_column(column);
    set_side_room(column ? PlumbReadout::column_width : 0);
    redraw();
    emit view_changed();
}

void LaneStack::paint_onto(QPaintDevice& device, const QSize& size) {
    resize(size);
    set_zoom(zoom()); // another height, other lines
    redraw();
    draw_onto(device, [this](QPainter& painter) {
        lay_labels();
        paint_overlay(painter);
    });
}

} // namespace syntonon
