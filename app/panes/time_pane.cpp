// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/time_pane.h"

#include "app/widgets/line_text.h"
#include "app/widgets/shown_number.h"
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
constexpr double usual_ms = 8;
constexpr std::size_t soon_worked_out = 65536, most_samples = 1 << 21; // samples

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
    setFocusPolicy(Qt::StrongFocus);
    setToolTip(tr("Turn the wheel for a longer or shorter time, drag to move along it, double "
                  "click for all of it"));
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
    problem_.clear();
    work_.stop();
    const auto analysis = session_.analysis();
    if (analysis == nullptr || session_.axis().is_analog()) {
        values_.clear();
        if (analysis != nullptr) {
            compute_analog(analysis->chain);
        }
        extremes_ = std::make_shared<const SampleExtremes>(values_);
        return;
    }
    const std::size_t length = needed_length(analysis->chain);
    if (length <= soon_worked_out) {
        take(answer_of(analysis->chain, view_, length));
        return;
    }
    work_.begin([chain = analysis->chain, view = view_,
                 length](const Watch&) { return answer_of(chain, view, length); },
                [this](Answer answer) {
                    take(std::move(answer));
                    update();
                });
}

TimePane::Answer TimePane::answer_of(const Filter& chain, TimeView view, std::size_t length) {
    Answer answer;
    // A decay is the energy still to come, so it needs what follows the shown part.
    answer.values = chain.impulse_response(view == TimeView::decay ? 2 * length : length);
    answer.loudest = SampleExtremes(answer.values).loudest();
    if (view == TimeView::step) {
        double sum = 0;
        for (double& v : answer.values) {
            v = sum += v;
        }
    } else if (view == TimeView::decay) {
        answer.values = decay_of(answer.values);
        answer.values.resize(length);
    }
    return answer;
}

void TimePane::take(Answer answer) {
    values_ = std::move(answer.values);
    extremes_ = std::make_shared<const SampleExtremes>(values_);
    loudest_ = answer.loudest;
    magnified_.reset();
}

// All of what ends of itself and the usual time after it, and up to what is looked at.
std::size_t TimePane::needed_length(const Filter& chain) const {
    const double usual = std::max(8.0, usual_ms * 1e-3 * session_.study().sample_rate_hz);
    const double wanted = std::max(chosen_ ? chosen_->second + 1 : 0,
                                   std::max(usual, chain.finite_samples() + usual / 8));
    return static_cast<std::size_t>(std::min(std::ceil(wanted), double(most_samples)));
}

std::pair<double, double> TimePane::shown_samples() const {
    const auto count = static_cast<double>(std::max<std::size_t>(values_.size(), 2));
    if (chosen_) {
        return *chosen_;
    }
    const double usual = std::max(8.0, usual_ms * 1e-3 * session_.study().sample_rate_hz);
    return {0, std::min(std::max(usual, 2.0 * static_cast<double>(loudest_) + 1), count) - 1};
}

void TimePane::show_samples(double from, double to) {
    constexpr double least = 8;
    const double span = std::clamp(to - from, least, double(most_samples) - 1);
    const double start = std::clamp(from, 0.0, double(most_samples) - 1 - span);
    chosen_ = std::pair(start, start + span);
    stale_ = stale_ || chosen_->second + 1 > static_cast<double>(values_.size());
    magnified_.reset();
    update();
}

void TimePane::zoom(double by, double about_sample) {
    const auto [from, to] = shown_samples();
    const double about = std::clamp(about_sample, from, to);
    show_samples(about - (about - from) * by, about + (to - about) * by);
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
           : at_once_ == 0
               ? tr("h(t) in 1/ms")
               : tr("h(t) in 1/ms, beside an impulse of %1 at 0").arg(shown_number(at_once_, 4));
}

void TimePane::wheelEvent(QWheelEvent* event) {
    if (!session_.axis().is_analog()) {
        constexpr double click = 1.3;
        zoom(event->angleDelta().y() > 0 ? 1 / click : click,
             plot().sample_at(event->position().x(), area()));
        return;
    }
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
    if (!session_.axis().is_analog()) {
        style.part = shown_samples();
    }
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
    menu.addSeparator();
    QAction* magnifier = menu.addAction(tr("Magnifier at the pointer"));
    magnifier->setCheckable(true);
    magnifier->setChecked(magnifies_);
    connect(magnifier, &QAction::triggered, this, [this](bool on) {
        magnifies_ = on;
        magnified_.reset();
        update();
    });
    connect(menu.addAction(tr("All of it\tHome")), &QAction::triggered, this, [this] {
        chosen_.reset();
        update();
    });
}

void TimePane::mousePressEvent(QMouseEvent* event) {
    if (scale_rect().contains(event->pos()) && view_ != TimeView::decay) {
        auto* menu = new QMenu(this);
        menu->setAttribute(Qt::WA_DeleteOnClose);
        fill_scales(*menu);
        menu->popup(mapToGlobal(scale_rect().bottomLeft()));
    } else if (event->button() == Qt::LeftButton && !session_.axis().is_analog()) {
        held_at_ = event->position();
    }
}

void TimePane::mouseReleaseEvent(QMouseEvent*) {
    held_at_.reset();
}

void TimePane::mouseDoubleClickEvent(QMouseEvent*) {
    chosen_.reset();
    held_at_.reset();
    update();
}

void TimePane::leaveEvent(QEvent*) {
    magnified_.reset();
    update();
}

void TimePane::keyPressEvent(QKeyEvent* event) {
    constexpr double step = 0.1;
    const auto [from, to] = shown_samples();
    const double by = (to - from) * step;
    if (session_.axis().is_analog()) {
        QWidget::keyPressEvent(event);
        return;
    }
    if (event->key() == Qt::Key_Plus || event->key() == Qt::Key_Minus) {
        zoom(event->key() == Qt::Key_Plus ? 1 / 1.3 : 1.3, (from + to) / 2);
    } else if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right) {
        const double way = event->key() == Qt::Key_Left ? -by : by;
        show_samples(std::max(0.0, from + way), std::max(0.0, from + way) + (to - from));
    } else if (event->key() == Qt::Key_Home) {
        chosen_.reset();
        update();
    } else {
        QWidget::keyPressEvent(event);
    }
}

// Where samples can be told apart by eye there is nothing to magnify.
void TimePane::magnify_at(const QPointF& position) {
    const auto [from, to] = shown_samples();
    const double at = std::round(plot().sample_at(position.x(), area()));
    const bool is_dense = (to - from) * 4 > area().width();
    const bool wanted = magnifies_ && is_dense && !session_.axis().is_analog() && !held_at_
                        && area().contains(position) && at >= 0
                        && at < static_cast<double>(values_.size());
    const auto now = wanted ? std::optional(static_cast<std::size_t>(at)) : std::nullopt;
    if (now != magnified_) {
        magnified_ = now;
        update();
    }
}

void TimePane::mouseMoveEvent(QMouseEvent* event) {
    const bool over = scale_rect().contains(event->pos()) && view_ != TimeView::decay;
    setCursor(over ? Qt::PointingHandCursor : Qt::ArrowCursor);
    if (held_at_) {
        const SamplePlot shown = plot();
        const double by =
            shown.sample_at(held_at_->x(), area()) - shown.sample_at(event->position().x(), area());
        const auto [from, to] = shown_samples();
        show_samples(std::max(0.0, from + by), std::max(0.0, from + by) + (to - from));
        held_at_ = event->position();
    }
    magnify_at(event->position());
}

QRectF TimePane::area() const {
    return QRectF(56, 8, width() - 72, height() - 32);
}

QString TimePane::place_text(double sample) const {
    const double ms = sample / session_.study().sample_rate_hz * 1e3;
    return sample == 0 ? QStringLiteral("0") : tr("%1 ms").arg(shown_number(ms, 3));
}

void TimePane::paintEvent(QPaintEvent*) {
    if (stale_) {
        compute();
    }
    const Theme& t = theme();
    QPainter painter(this);
    painter.fillRect(rect(), t.panel);
    const QRectF area = this->area();
    painter.setFont(text_font(11));
    if (values_.empty() || !extremes_->are_bounded()) {
        const bool is_busy = values_.empty() && work_.is_busy();
        painter.setPen(is_busy ? t.soft : t.not_met);
        painter.drawText(area, Qt::AlignCenter | Qt::TextWordWrap,
                         is_busy           ? tr("being worked out …")
                         : values_.empty() ? problem_
                                           : tr("◇ grows without end: the chain is unstable"));
        return;
    }
    const SamplePlot shown = plot();
    const bool is_settled = session_.analysis()->waits_for.empty() && !work_.is_busy();
    painter.setOpacity(is_settled ? 1 : 0.4);
    shown.paint(painter, area, t.ink);
    painter.setOpacity(1);
    painter.setPen(t.soft);
    draw_line(painter, scale_rect(), Qt::AlignRight | Qt::AlignVCenter, scale_text());
    const QRectF below(area.left(), area.bottom() + 6, area.width(), 16);
    const bool is_analog = session_.axis().is_analog();
    const auto [from, to] = shown_samples();
    const int aside = !is_analog && from > 0 ? 60 : 44; // for the numbers at the ends
    draw_line(painter, below, Qt::AlignLeft | Qt::AlignVCenter,
              is_analog ? QStringLiteral("0") : place_text(from));
    draw_line(painter, below, Qt::AlignRight | Qt::AlignVCenter,
              is_analog ? tr("%1 ms").arg(shown_ms()) : place_text(to));
    draw_line(painter, below.adjusted(aside, 0, -aside, 0), Qt::AlignHCenter | Qt::AlignVCenter,
              elided_line(painter.font(),
                          session_.axis().is_analog() ? analog_note() : shown.note(),
                          below.width() - 2 * aside));
    if (magnified_ && *magnified_ < values_.size()) {
        const QSizeF size(std::min(250.0, area.width() * 0.5),
                          std::min(112.0, area.height() * 0.7));
        const bool is_left = shown.sample_at(area.center().x(), area) < double(*magnified_);
        const QPointF corner(is_left ? area.left() + 8 : area.right() - 8 - size.width(),
                             area.top() + 22);
        shown.paint_magnified(painter, QRectF(corner, size), *magnified_, t.ink);
    }
}

} // namespace syntonon
