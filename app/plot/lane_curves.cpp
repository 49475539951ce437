// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_curves.h"

#include "app/widgets/theme.h"
#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double beyond = 1000;                 // dB: outside every lane
constexpr double dash_on = 7, dash_period = 11; // pixels along the line

QVector<double> vector_of(std::span<const double> values) {
    return {values.begin(), values.end()};
}

// A dashed line as gaps in the data: stroking a dashed pen would cost more than all other curves.
QVector<double> dashed(const LanePlot& plot, Lane lane, std::span<const double> hz,
                       const QVector<double>& values) {
    QVector<double> out = values;
    double length = 0;
    QPointF last;
    for (qsizetype i = 0; i < out.size(); ++i) {
        const QPointF at(plot.x_of(hz[static_cast<std::size_t>(i)]), plot.y_of(lane, values[i]));
        const double step = i > 0 && std::isfinite(at.y()) && std::isfinite(last.y())
                                ? std::hypot(at.x() - last.x(), at.y() - last.y())
                                : 0;
        length = std::fmod(length + step, dash_period);
        last = at;
        if (length > dash_on) {
            out[i] = qQNaN();
        }
    }
    return out;
}

// Wrapped to ±180 degrees with a gap where the line would jump across the lane.
QVector<double> wrapped_phase(std::span<const double> rad) {
    QVector<double> out(static_cast<qsizetype>(rad.size()));
    double last = 0;
    for (qsizetype i = 0; i < out.size(); ++i) {
        const double deg = wrapped_deg(deg_from_rad(rad[static_cast<std::size_t>(i)]));
        out[i] = i > 0 && std::abs(deg - last) > 180 ? qQNaN() : deg;
        last = deg;
    }
    return out;
}

QVector<double> milliseconds(std::span<const double> samples, double sample_rate_hz) {
    QVector<double> out(static_cast<qsizetype>(samples.size()));
    std::ranges::transform(samples, out.begin(),
                           [&](double s) { return s / sample_rate_hz * 1e3; });
    return out;
}

// Levels that a pixel coordinate can hold; a zero on the circle is -infinity.
QVector<double> drawable(std::span<const double> db) {
    QVector<double> out = vector_of(db);
    for (double& v : out) {
        v = std::clamp(v, -beyond, beyond);
    }
    return out;
}

QString db_text(double db) {
    return QString::number(db, 'g', 3);
}

QString corridor_text(const Goal& goal) {
    const auto& first = goal.corridor.front();
    const bool same = std::ranges::all_of(goal.corridor, [&](const CorridorRange& r) {
        return r.above_db == first.above_db && r.below_db == first.below_db;
    });
    if (!same || !first.above_db || !first.below_db) {
        return QObject::tr("goal");
    }
    return *first.above_db == *first.below_db
               ? QObject::tr("goal ±%1 dB").arg(db_text(*first.above_db))
               : QObject::tr("goal +%1 −%2 dB")
                     .arg(db_text(*first.above_db), db_text(*first.below_db));
}

} // namespace

LaneCurves::LaneCurves(LanePlot& plot, Session& session) : plot_(plot), session_(session) {
    target_ = plot_.add_curve(Lane::magnitude, "still", QPen());
    measured_ = plot_.add_curve(Lane::magnitude, "still", QPen());
    measured_->setLineStyle(QCPGraph::lsNone);
    stage_ = plot_.add_curve(Lane::magnitude, "live", QPen());
    predicted_ = plot_.add_curve(Lane::magnitude, "live", QPen());
    stage_phase_ = plot_.add_curve(Lane::phase, "live", QPen());
    phase_ = plot_.add_curve(Lane::phase, "live", QPen());
    delay_ = plot_.add_curve(Lane::delay, "live", QPen());
    restyle();
}

void LaneCurves::restyle() {
    const Theme& t = theme();
    target_->setPen(QPen(t.corridor_edge, 1, Qt::DotLine));
    measured_->setScatterStyle(
        QCPScatterStyle(QCPScatterStyle::ssDisc, QPen(t.measured), t.measured, 2.2));
    predicted_->setPen(QPen(t.ink, 1));
    stage_->setPen(QPen(t.copper, 1));
    stage_phase_->setPen(QPen(t.copper, 1));
    phase_->setPen(QPen(t.ink, 1));
    delay_->setPen(QPen(t.ink, 1));
    for (QCPGraph* live : {predicted_, stage_, stage_phase_, phase_, delay_}) {
        live->setAntialiased(true);
    }
}

void LaneCurves::update() {
    const Channel* channel = session_.channel();
    const Goal* goal = channel != nullptr ? goal_of(session_.study(), *channel) : nullptr;
    std::optional<SharedValue<Curve>> measured;
    for (const auto& curve : session_.study().curves) {
        if (channel != nullptr && curve->id == channel->measured) {
            measured = curve;
        }
    }
    const bool same_curve = measured.has_value() == shown_measured_.has_value()
                            && (!measured || measured->same_as(*shown_measured_));
    const bool same_goal = (goal != nullptr ? *goal : Goal{}) == shown_goal_;
    update_live();
    if (still_is_shown_ && same_curve && same_goal) {
        plot_.redraw_live();
        return;
    }
    shown_goal_ = goal != nullptr ? *goal : Goal{};
    shown_measured_ = measured;
    update_still();
    plot_.replot(QCustomPlot::rpQueuedRefresh);
    still_is_shown_ = true;
}

void LaneCurves::redraw_all() {
    restyle();
    update_live();
    update_still();
    plot_.replot(QCustomPlot::rpQueuedRefresh);
}

void LaneCurves::update_live() {
    const auto analysis = session_.analysis();
    if (analysis == nullptr) {
        for (QCPGraph* graph : {predicted_, stage_, stage_phase_, phase_, delay_}) {
            graph->data()->clear();
        }
        return;
    }
    const double rate = session_.study().sample_rate_hz;
    const auto hz = vector_of(analysis->total.frequency_hz);
    predicted_->setData(vector_of(analysis->predicted.frequency_hz),
                        drawable(analysis->predicted.level_db), true);
    phase_->setData(hz, wrapped_phase(analysis->total.response.phase_rad), true);
    delay_->setData(hz, milliseconds(analysis->total.response.group_delay_samples, rate), true);
    const auto selected = static_cast<std::size_t>(session_.selection().stage);
    const bool drawn = session_.selection().stage >= 0 && selected < analysis->stages.size()
                       && analysis->stages[selected]->filter;
    stage_->data()->clear();
    stage_phase_->data()->clear();
    if (drawn) {
        const Response& response = analysis->stages[selected]->response;
        const auto grid = vector_of(analysis->grid->frequency_hz());
        stage_->setData(grid,
                        dashed(plot_, Lane::magnitude, analysis->grid->frequency_hz(),
                               drawable(response.magnitude_db)),
                        true);
        stage_phase_->setData(grid,
                              dashed(plot_, Lane::phase, analysis->grid->frequency_hz(),
                                     wrapped_phase(response.phase_rad)),
                              true);
    }
}

void LaneCurves::update_still() {
    for (QCPGraph* graph : corridor_) {
        plot_.removeGraph(graph);
    }
    corridor_.clear();
    if (!shown_goal_.corridor.empty()) {
        draw_corridor(shown_goal_);
    }
    target_->data()->clear();
    if (!shown_goal_.target.points.empty()) {
        QVector<double> hz, level;
        const double step = std::pow(plot_.high_hz() / plot_.low_hz(), 1 / 200.0);
        for (double f = plot_.low_hz(); f <= plot_.high_hz() * 1.0001; f *= step) {
            hz.append(f);
            level.append(level_db_at(shown_goal_.target, f));
        }
        target_->setData(hz, level, true);
    }
    measured_->data()->clear();
    if (shown_measured_) {
        const Curve& curve = **shown_measured_;
        const CurveReader reader(curve);
        const bool many = curve.frequency_hz.size() > 240;
        QVector<double> hz, level;
        // Dots every few pixels say "measured" better than a smear of thousands.
        const double step = std::pow(plot_.high_hz() / plot_.low_hz(), 1 / 200.0);
        for (double f = plot_.low_hz(); many && f <= plot_.high_hz(); f *= step) {
            if (reader.covers(f)) {
                hz.append(f);
                level.append(reader.magnitude_db_at(f));
            }
        }
        measured_->setData(many ? hz : vector_of(curve.frequency_hz),
                           many ? level : vector_of(curve.magnitude_db), true);
    }
}

void LaneCurves::draw_corridor(const Goal& goal) {
    const Theme& t = theme();
    QColor hatch = t.corridor_edge;
    hatch.setAlphaF(0.13F);
    for (const CorridorRange& range : goal.corridor) {
        QVector<double> hz, upper, lower, ceiling, floor;
        const double low = std::max(range.from_hz, plot_.low_hz() / 2),
                     high = std::max(range.to_hz, low * 1.0001);
        constexpr int points = 96;
        for (int i = 0; i <= points; ++i) {
            const double f = low * std::pow(high / low, i / static_cast<double>(points));
            const double target = level_db_at(goal.target, f);
            hz.append(f);
            upper.append(target + range.above_db.value_or(beyond));
            lower.append(target - range.below_db.value_or(beyond));
            ceiling.append(beyond);
            floor.append(-beyond);
        }
        const auto add = [&](const QVector<double>& values, const QPen& pen) {
            QCPGraph* graph = plot_.add_curve(Lane::magnitude, "main", pen);
            graph->setData(hz, values, true);
            corridor_.push_back(graph);
            return graph;
        };
        QCPGraph* bottom = add(lower, QPen(t.corridor_edge));
        QCPGraph* top = add(upper, QPen(t.corridor_edge));
        top->setChannelFillGraph(bottom);
        top->setBrush(t.corridor);
        QCPGraph* above = add(ceiling, Qt::NoPen);
        above->setChannelFillGraph(top);
        above->setBrush(QBrush(hatch, Qt::BDiagPattern));
        QCPGraph* below = add(floor, Qt::NoPen);
        below->setChannelFillGraph(bottom);
        below->setBrush(QBrush(hatch, Qt::BDiagPattern));
    }
}

// Beside the highest place of the shown part, where it stands apart from the other curves.
CurveLabel LaneCurves::measured_label() const {
    const Curve& curve = **shown_measured_;
    double hz = std::max(curve.low_hz(), plot_.low_hz()), level = -beyond;
    for (std::size_t i = 0; i < curve.frequency_hz.size(); ++i) {
        if (curve.frequency_hz[i] >= plot_.low_hz() && curve.frequency_hz[i] <= plot_.high_hz()
            && curve.magnitude_db[i] > level) {
            hz = curve.frequency_hz[i];
            level = curve.magnitude_db[i];
        }
    }
    return {QObject::tr("measured"), theme().measured, hz, level, true};
}

std::vector<CurveLabel> LaneCurves::labels() const {
    const Theme& t = theme();
    std::vector<CurveLabel> labels;
    const auto analysis = session_.analysis();
    if (analysis != nullptr && !analysis->predicted.frequency_hz.empty()) {
        const auto& p = analysis->predicted;
        const auto last = std::ranges::upper_bound(p.frequency_hz, plot_.high_hz() * 1.0001)
                          - p.frequency_hz.begin();
        const auto i = static_cast<std::size_t>(std::max<std::ptrdiff_t>(last - 1, 0));
        labels.push_back({shown_measured_ ? QObject::tr("predicted") : QObject::tr("chain"), t.ink,
                          p.frequency_hz[i], p.level_db[i], false});
    }
    if (!shown_goal_.corridor.empty()) {
        const CorridorRange& last = shown_goal_.corridor.back();
        labels.push_back(
            {corridor_text(shown_goal_), t.corridor_edge, std::min(last.to_hz, plot_.high_hz()),
             level_db_at(shown_goal_.target, last.to_hz) + last.above_db.value_or(0), true});
    } else if (!shown_goal_.target.points.empty()) {
        labels.push_back({QObject::tr("target"), t.corridor_edge, plot_.high_hz(),
                          level_db_at(shown_goal_.target, plot_.high_hz()), true});
    }
    if (shown_measured_) {
        labels.push_back(measured_label());
    }
    return labels;
}

} // namespace syntonon
