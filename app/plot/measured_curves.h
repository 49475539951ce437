// The study's measured curves on lanes: level, and phase and delay of those that have phase.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/plot/lane_content.h"

#include <vector>

namespace syntonon {

// By themselves those of the selected channel are shown, and what its set comes to when it has
// several positions. Keys: "curve:<id>", "average".
class MeasuredCurves : public LaneContent {
public:
    MeasuredCurves(LanePlot& plot, Session& session);

    void update() override;
    void redraw_all() override;

    std::vector<CurveName> curves() const override;
    std::vector<CurveLabel> labels() const override;
    std::optional<CurveName> explained_at(const QPointF& point) const override;
    QString title(Lane lane) const override;
    std::vector<ReadoutRow> readout_at(double hz) const override;
    std::vector<ReadoutRow> differences_between(double from_hz, double to_hz) const override;
    std::vector<LaneCurve> curves_in_work() const override;

private:
    // One curve as it is drawn.
    struct Drawn {
        QString key, name;
        QColor colour;
        SharedValue<Curve> curve;
        std::shared_ptr<const CurveReader> reader;
        std::vector<double> delay_s;
        LaneCurve level, phase, delay;
    };
    bool is_shown_by_itself(const QString& key) const override;
    void collect();
    void add(const QString& key, const QString& name, const QColor& colour,
             const SharedValue<Curve>& curve);
    void draw(Drawn& drawn);
    void clear();
    const Drawn* nearest(const QPointF& point) const;

    LanePlot& plot_;
    Session& session_;
    std::vector<Drawn> drawn_; // the shown ones, the one in hand last
    std::vector<SharedValue<Curve>> shown_curves_;
    QString shown_channel_;
    MeasuredSet shown_set_;
    std::string shown_in_hand_;
};

QString curve_key(const Curve& curve); // "curve:<id>"

// A curve's own colour, or one by its place in the study.
QColor curve_colour(const Study& study, const Curve& curve);

} // namespace syntonon
