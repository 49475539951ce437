// The goal on the lanes: its target, its corridor and the weights.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_curves.h"

#include "app/plot/lane_line.h"
#include "app/widgets/theme.h"

#include <cmath>

namespace syntonon {

void LaneCurves::draw_target() {
    target_.clear();
    if (shown_.goal && shown_.goal->level && is_stated(shown_.goal->goal->target)
        && is_shown("target")) {
        const LaneLine line = line_of(plot_, *shown_.goal->level);
        plot_.set_data(target_, Lane::magnitude, line.hz, drawable(plot_, line.values));
    }
}

void LaneCurves::draw_weight() {
    weight_.clear();
    const DrawnWeights drawn =
        plot_.view().shows(Lane::weight) ? drawn_weights(session_) : DrawnWeights();
    weights_of_ = drawn.of;
    if (drawn.of == DrawnWeights::Of::nobody) {
        return;
    }
    const bool is_firs = drawn.of == DrawnWeights::Of::fir;
    weight_.set_pen(QPen(is_firs ? theme().copper : theme().corridor_edge, 1));
    const Weights& weights = drawn.weights;
    std::vector<double> corners;
    for (const WeightRange& range : weights.ranges) { // steps, drawn upright
        for (const double hz : {range.from_hz, range.to_hz}) {
            corners.insert(corners.end(), {hz * (1 - 1e-6), hz, hz * (1 + 1e-6)});
        }
    }
    for (const WeightPoint& point : weights.points) {
        corners.push_back(point.frequency_hz);
    }
    LaneLine line;
    for (const double f :
         frequencies_across(plot_, plot_.low_hz(), plot_.high_hz(), std::move(corners))) {
        line.add(f, std::log10(weight_at(weights, f)));
    }
    plot_.set_data(weight_, Lane::weight, line.hz, line.values);
}

void LaneCurves::draw_corridor() {
    for (LaneCurve graph : corridor_) {
        plot_.remove_curve(graph);
    }
    corridor_.clear();
    if (!shown_.goal || !is_shown("target")) {
        return;
    }
    const Theme& t = theme();
    QColor hatch = t.corridor_edge;
    hatch.setAlphaF(0.13F);
    constexpr double far = 1e4;
    const auto add = [&](const LaneLine& line, const QPen& pen) {
        LaneCurve graph = plot_.add_curve(Lane::magnitude, "main", pen);
        plot_.set_data(graph, Lane::magnitude, line.hz, drawable(plot_, line.values));
        corridor_.push_back(graph);
        return graph;
    };
    for (const CorridorRange& range : shown_.goal->goal->corridor) {
        if (!range.absolute && !shown_.goal->level) {
            continue; // the verdict says why
        }
        const TargetCurve target = range.absolute ? TargetCurve() : *shown_.goal->level;
        for (const TargetCurve::Part& part :
             target.parts(std::max(range.from_hz, 1e-3), range.to_hz)) {
            LaneLine upper, lower, ceiling, floor;
            upper.hz = frequencies_across(plot_, part.from_hz, part.to_hz, part.corners_hz);
            lower.hz = ceiling.hz = floor.hz = upper.hz;
            for (const double f : upper.hz) {
                const double level = target.value_in(part, f);
                upper.values.append(level + above_db_at(range, f).value_or(far));
                lower.values.append(level - below_db_at(range, f).value_or(far));
                ceiling.values.append(far);
                floor.values.append(-far);
            }
            if (upper.hz.empty()) {
                continue; // not among the shown frequencies
            }
            LaneCurve bottom = add(lower, QPen(t.corridor_edge));
            LaneCurve top = add(upper, QPen(t.corridor_edge));
            top.fill_to(bottom, t.corridor);
            add(ceiling, Qt::NoPen).fill_to(top, QBrush(hatch, Qt::BDiagPattern));
            add(floor, Qt::NoPen).fill_to(bottom, QBrush(hatch, Qt::BDiagPattern));
        }
    }
}

} // namespace syntonon
