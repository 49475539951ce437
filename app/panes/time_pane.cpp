// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/time_pane.h"

#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/filter/analog_time.h"

#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

constexpr std::array lengths_ms = {0.05, 0.2, 0.5, 1.0, 2.0, 4.0, 8.0, 20.0, 50.0, 100.0, 200.0};
constexpr std::size_t analog_points = 481;
constexpr double decay_floor_db = -80;

// What is left of the energy after each sample, in dB of the whole.
std::vector<double> decay_of(const std::vector<double>& impulse) {
    std::vector<double> left(impulse.size());
    double energy = 0;
    for (std::size_t i = impulse.size(); i-- > 0;) {
        energy += impulse[i] * impulse[i];
        left[i] = energy;
    }
    for (double& v : left) {
        v = energy > 0 ? std::max(decay_floor_db, db_from_power(v / energy)) : decay_floor_db;
    }
    return left;
}

QString signed_db(double db) {
    return QString::fromStdString(signed_text(db, 0)) + QObject::tr(" dB");
}

} // namespace

TimePane::TimePane(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMinimumSize(160, 90);
    setMouseTracking(true);
    setAccessibleName(tr("Time response of the chain"));
    setToolTip(tr("Turn the wheel for a longer or shorter time"));
    connect(&session_, &Session::analysis_changed, this, [this] {
        stale_ = true;
        update();
    });
}

void TimePane::show_view(TimeView view) {
    view_ = view;
    stale_ = true;
    update();
}

double TimePane::shown_ms() const {
    const bool fits = session_.axis().is_analog() && !is_chosen_;
    return lengths_ms.at(static_cast<std::size_t>(fits ? fitted_ : zoom_));
}

void TimePane::compute() {
    stale_ = false;
    values_.clear();
    problem_.clear();
    const auto analysis = session_.analysis();
    if (analysis == nullptr) {
        return;
    }
    if (session_.axis().is_analog()) {
        compute_analog(analysis->chain);
        return;
    }
    const auto length = static_cast<std::size_t>(
        std::max(8.0, shown_ms() * 1e-3 * session_.study().sample_rate_hz));
    // A decay is the energy still to come, so it needs what follows the shown part.
    values_ = analysis->chain.impulse_response(view_ == TimeView::decay ? 2 * length : length);
    if (view_ == TimeView::step) {
        double sum = 0;
        for (double& v : values_) {
            v = sum += v;
        }
    } else if (view_ == TimeView::decay) {
        values_ = decay_of(values_);
        values_.resize(length);
    }
}

// Until the slowest answer has fallen by 60 dB, as far as that is offered.
int TimePane::fitting_length(const Filter& chain) const {
    constexpr double fall_nepers = 6.9;
    double slowest = std::numeric_limits<double>::infinity();
    if (const auto& roots = chain.roots()) {
        for (const auto& pole : roots->poles) {
            slowest = pole.real() < 0 ? std::min(slowest, -pole.real()) : slowest;
        }
    }
    const double wanted_ms = fall_nepers / slowest * 1e3;
    const auto fits = std::ranges::find_if(lengths_ms, [&](double ms) { return ms >= wanted_ms; });
    return static_cast<int>(
        std::min(fits - lengths_ms.begin(), static_cast<std::ptrdiff_t>(lengths_ms.size()) - 1));
}

// Between samples there is nothing left out here: so many points of what is exact at each.
void TimePane::compute_analog(const Filter& chain) {
    const bool is_decay = view_ == TimeView::decay;
    fitted_ = fitting_length(chain);
    const double step_s = shown_ms() * 1e-3 / static_cast<double>(analog_points - 1);
    auto found = analog_time_response(chain, step_s, is_decay ? 2 * analog_points : analog_points);
    if (!found) {
        problem_ = QString::fromStdString(found.error().reason);
        return;
    }
    at_once_ = found->at_once;
    values_ = view_ == TimeView::step ? std::move(found->step) : std::move(found->impulse);
    if (view_ == TimeView::impulse) {
        constexpr double per_ms = 1e-3; // of 1/s
        std::ranges::for_each(values_, [](double& v) { v *= per_ms; });
    } else if (is_decay) {
        values_ = decay_of(values_);
        values_.resize(analog_points);
    }
}

// What a curve over time cannot show: the part of an impulse that passes at once.
QString TimePane::analog_note() const {
    return view_ != TimeView::impulse ? QString()
           : at_once_ == 0            ? tr("h(t) in 1/ms")
                                      : tr("h(t) in 1/ms, beside an impulse of %1 at 0")
                                 .arg(QString::fromStdString(text_with_digits(at_once_, 4)));
}

void TimePane::wheelEvent(QWheelEvent* event) {
    zoom_ = session_.axis().is_analog() && !is_chosen_ ? fitted_ : zoom_;
    is_chosen_ = is_chosen_ || session_.axis().is_analog();
    zoom_ = std::clamp(zoom_ + (event->angleDelta().y() > 0 ? -1 : 1), 0,
                       static_cast<int>(lengths_ms.size()) - 1);
    stale_ = true;
    update();
}

SampleStyle TimePane::style() const {
    SampleStyle style;
    if (view_ == TimeView::decay) {
        style.range = std::pair(decay_floor_db, 0.0);
    } else if (floor_db_) {
        style.decibels = true;
        style.floor_db = *floor_db_;
    }
    style.marks_main = view_ == TimeView::impulse && !session_.axis().is_analog();
    return style;
}

void TimePane::show_decibels(std::optional<double> floor_db) {
    floor_db_ = floor_db;
    update();
}

QString TimePane::scale_text() const {
    return view_ == TimeView::decay ? tr("energy left, dB")
           : floor_db_              ? tr("dB, floor %1 ▾").arg(signed_db(*floor_db_))
                                    : tr("values ▾");
}

QRect TimePane::scale_rect() const {
    constexpr int width_of_text = 130;
    return QRect(width() - 16 - width_of_text, 10, width_of_text - 4, 17);
}

void TimePane::fill_scales(QMenu& menu) {
    const auto offer = [&](const QString& text, std::optional<double> floor) {
        QAction* action = menu.addAction(text);
        action->setCheckable(true);
        action->setChecked(floor == floor_db_);
        connect(action, &QAction::triggered, this, [this, floor] { show_decibels(floor); });
    };
    offer(tr("Values"), std::nullopt);
    for (const double floor : {-60.0, -100.0, -140.0}) {
        offer(tr("Levels in dB, floor %1").arg(signed_db(floor)), floor);
    }
}

void TimePane::mousePressEvent(QMouseEvent* event) {
    if (scale_rect().contains(event->pos()) && view_ != TimeView::decay) {
        auto* menu = new QMenu(this);
        menu->setAttribute(Qt::WA_DeleteOnClose);
        fill_scales(*menu);
        menu->popup(mapToGlobal(scale_rect().bottomLeft()));
    }
}

void TimePane::mouseMoveEvent(QMouseEvent* event) {
    const bool over = scale_rect().contains(event->pos()) && view_ != TimeView::decay;
    setCursor(over ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

void TimePane::paintEvent(QPaintEvent*) {
    if (stale_) {
        compute();
    }
    const Theme& t = theme();
    QPainter painter(this);
    painter.fillRect(rect(), t.panel);
    const QRectF area(56, 8, width() - 72, height() - 32);
    painter.setFont(text_font(11));
    const bool bounded = std::ranges::all_of(
        values_, [](double v) { return std::isfinite(v) && std::abs(v) < 1e12; });
    if (values_.empty() || !bounded) {
        painter.setPen(t.not_met);
        painter.drawText(area, Qt::AlignCenter | Qt::TextWordWrap,
                         values_.empty() ? problem_
                                         : tr("◇ grows without end: the chain is unstable"));
        return;
    }
    const SamplePlot shown = plot();
    painter.setOpacity(session_.analysis()->waits_for.empty() ? 1 : 0.4);
    shown.paint(painter, area, t.ink);
    painter.setOpacity(1);
    painter.setPen(t.soft);
    painter.drawText(scale_rect(), Qt::AlignRight | Qt::AlignVCenter, scale_text());
    const QRectF below(area.left(), area.bottom() + 6, area.width(), 16);
    painter.drawText(below, Qt::AlignLeft | Qt::AlignVCenter, "0");
    painter.drawText(below, Qt::AlignRight | Qt::AlignVCenter, tr("%1 ms").arg(shown_ms()));
    painter.drawText(
        below.adjusted(14, 0, -50, 0), Qt::AlignHCenter | Qt::AlignVCenter,
        painter.fontMetrics().elidedText(session_.axis().is_analog() ? analog_note() : shown.note(),
                                         Qt::ElideRight, static_cast<int>(below.width()) - 64));
}

} // namespace syntonon
