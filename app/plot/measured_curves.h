// The study's measured curves on lanes: level, and phase and delay of those that have phase.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/plot/lane_content.h"
#include "app/plot/looked_at_curves.h"

#include <vector>

namespace syntonon {

// By themselves those of the selected channel are shown, and when it has several positions what its
// set comes to and how far they are apart. Keys: "curve:<id>", "average" (of power),
// "average:level", "average:vectors", "spread".
class MeasuredCurves : public LaneContent {
public:
    MeasuredCurves(LanePlot& plot, Session& session, const MeasureView& look);

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
        LookedAt looked;
        LaneCurve level, phase, delay;
    };
    bool is_shown_by_itself(const QString& key) const override;
    void collect();
    QString phase_title() const;
    void add(const QString& key, const QString& name, const QColor& colour,
             const SharedValue<Curve>& curve);
    void add_averages();
    void add_spread();
    void draw(Drawn& drawn);
    void clear();
    const Drawn* nearest(const QPointF& point) const;

    LanePlot& plot_;
    Session& session_;
    const MeasureView& look_;
    LookedAtCurves looked_;
    LaneCurve spread_low_, spread_high_;
    double spread_label_hz_ = 0, spread_label_db_ = 0; // 0: not drawn
    std::vector<Drawn> drawn_;                         // the shown ones, the one in hand last
    std::vector<SharedValue<Curve>> shown_curves_;
    QString shown_channel_;
    MeasuredSet shown_set_;
    AverageOf shown_average_ = AverageOf::power;
    std::string shown_in_hand_;
};

QString curve_key(const Curve& curve); // "curve:<id>"
QString average_key(AverageOf of);
QString name_of(AverageOf of);               // "average of power"
QString name_of(const Smoothing& smoothing); // "1/12 octave"
QString explained(AverageOf of);             // what it is and what it is for

// A curve's own colour, or one by its place in the study.
QColor curve_colour(const Study& study, const Curve& curve);

} // namespace syntonon
