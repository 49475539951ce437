// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_plot.h"

#include "app/widgets/theme.h"
#include "core/base/units.h"

#include <cmath>

namespace syntonon {
namespace {

constexpr std::array lane_shares = {300, 112, 112}; // of the height

// 1-2-5 steps a decade, written 20, 50, 100, … 1k, 2k.
class FrequencyTicker : public QCPAxisTicker {
protected:
    QVector<double> createTickVector(double, const QCPRange& range) override {
        QVector<double> ticks;
        for (double decade = std::pow(10, std::floor(std::log10(range.lower)));
             decade <= range.upper; decade *= 10) {
            for (const double part : {1.0, 2.0, 5.0}) {
                ticks.append(decade * part);
            }
        }
        return ticks;
    }
    QString getTickLabel(double tick, const QLocale&, QChar, int) override {
        return tick >= 1000 ? QString::number(tick / 1000, 'g', 4) + "k"
                            : QString::number(tick, 'g', 4);
    }
    int getSubTickCount(double) override { return 0; }
};

class LevelTicker : public QCPAxisTicker {
public:
    LevelTicker(double step, bool with_sign) : step_(step), with_sign_(with_sign) {}

protected:
    double getTickStep(const QCPRange&) override { return step_; }
    int getSubTickCount(double) override { return 0; }
    QString getTickLabel(double tick, const QLocale&, QChar, int) override {
        if (std::abs(tick) < step_ * 1e-6) {
            return QStringLiteral("0");
        }
        const QString number = QString::number(std::abs(tick), 'g', 4);
        return tick < 0     ? QStringLiteral("−") + number
               : with_sign_ ? QStringLiteral("+") + number
                            : number;
    }

private:
    double step_;
    bool with_sign_;
};

} // namespace

LanePlot::LanePlot(QWidget* parent) : QCustomPlot(parent) {
    plotLayout()->clear();
    plotLayout()->setRowSpacing(12);
    auto* margins = new QCPMarginGroup(this);
    const auto ticker = QSharedPointer<QCPAxisTicker>(new FrequencyTicker);
    for (const Lane lane : all_lanes) {
        auto* rect = new QCPAxisRect(this, false);
        rects_[index(lane)] = rect;
        plotLayout()->addElement(static_cast<int>(index(lane)), 0, rect);
        plotLayout()->setRowStretchFactor(static_cast<int>(index(lane)), lane_shares[index(lane)]);
        rect->setMarginGroup(QCP::msLeft | QCP::msRight, margins);
        rect->addAxes(QCPAxis::atLeft | QCPAxis::atBottom);
        QCPAxis* bottom = rect->axis(QCPAxis::atBottom);
        bottom->setScaleType(QCPAxis::stLogarithmic);
        bottom->setTicker(ticker);
        bottom->setTickLabels(lane == Lane::delay);
        rect->setMinimumMargins(
            QMargins(46, lane == Lane::magnitude ? 12 : 4, 24, lane == Lane::delay ? 40 : 4));
        rect->setAutoMargins(QCP::msNone);
        rect->setMargins(rect->minimumMargins());
        rect->setupFullAxesBox();
        for (QCPAxis* axis : rect->axes()) {
            axis->setTickLength(0);
            axis->setSubTickLength(0);
            const bool is_copy =
                axis->axisType() == QCPAxis::atRight || axis->axisType() == QCPAxis::atTop;
            axis->setTicks(!is_copy);
            axis->grid()->setVisible(!is_copy);
        }
    }
    addLayer("still", layer("main"), QCustomPlot::limAbove);
    addLayer("live", layer("overlay"), QCustomPlot::limAbove);
    layer("live")->setMode(QCPLayer::lmBuffered);
    setPlottingHint(QCP::phFastPolylines, true);
    setNotAntialiasedElements(QCP::aeAll);
    setNoAntialiasingOnDrag(false);
    setMouseTracking(true);
    set_frequency_range(low_hz_, high_hz_);
    set_range(Lane::magnitude, {-18, 18, 6});
    set_range(Lane::phase, {-180, 180, 90});
    set_range(Lane::delay, {-5, 20, 5});
    apply_theme();
}

void LanePlot::set_frequency_range(double low_hz, double high_hz) {
    low_hz_ = low_hz;
    high_hz_ = high_hz;
    for (const Lane lane : all_lanes) {
        frequency_axis(lane)->setRange(low_hz, high_hz);
    }
}

void LanePlot::set_range(Lane lane, const LaneRange& range) {
    ranges_[index(lane)] = range;
    value_axis(lane)->setRange(range.low, range.high);
    value_axis(lane)->setTicker(
        QSharedPointer<QCPAxisTicker>(new LevelTicker(range.step, lane != Lane::delay)));
}

QRect LanePlot::rect_of(Lane lane) const {
    return rects_[index(lane)]->rect();
}

double LanePlot::x_of(double hz) const {
    const QRect r = rect_of(Lane::magnitude);
    return r.left() + r.width() * std::log(hz / low_hz_) / std::log(high_hz_ / low_hz_);
}

double LanePlot::hz_at(double x) const {
    const QRect r = rect_of(Lane::magnitude);
    return low_hz_ * std::pow(high_hz_ / low_hz_, (x - r.left()) / r.width());
}

double LanePlot::y_of(Lane lane, double value) const {
    const QRect r = rect_of(lane);
    const LaneRange& shown = range(lane);
    return r.bottom() + 1 - r.height() * (value - shown.low) / (shown.high - shown.low);
}

double LanePlot::value_at(Lane lane, double y) const {
    const QRect r = rect_of(lane);
    const LaneRange& shown = range(lane);
    return shown.low + (r.bottom() + 1 - y) / r.height() * (shown.high - shown.low);
}

std::optional<Lane> LanePlot::lane_at(const QPoint& point) const {
    for (const Lane lane : all_lanes) {
        if (rect_of(lane).contains(point)) {
            return lane;
        }
    }
    return std::nullopt;
}

QCPGraph* LanePlot::add_curve(Lane lane, const QString& layer_name, const QPen& pen) {
    QCPGraph* graph = addGraph(frequency_axis(lane), value_axis(lane));
    graph->setLayer(layer_name);
    graph->setPen(pen);
    graph->setAdaptiveSampling(false);
    return graph;
}

void LanePlot::apply_theme() {
    const Theme& t = theme();
    setBackground(QBrush(t.panel));
    for (const Lane lane : all_lanes) {
        for (QCPAxis* axis : rects_[index(lane)]->axes()) {
            axis->setBasePen(QPen(t.hairline));
            axis->setTickPen(Qt::NoPen);
            axis->setTickLabelColor(t.soft);
            axis->setTickLabelFont(text_font(11));
            axis->setTickLabelPadding(axis->axisType() == QCPAxis::atLeft ? 8 : 6);
            axis->grid()->setPen(QPen(t.grid));
            axis->grid()->setZeroLinePen(QPen(t.hairline));
        }
    }
}

void LanePlot::redraw_live() {
    layer("live")->replot();
}

} // namespace syntonon
