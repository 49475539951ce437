// What is drawn on the lanes: corridor, target, measured, predicted, the selected stage.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/plot/lane_plot.h"

#include <QString>
#include <vector>

namespace syntonon {

// A curve's name and where it is written.
struct CurveLabel {
    QString text;
    QColor colour;
    double hz = 0;
    double level_db = 0;
    bool above = true;
};

class LaneCurves {
public:
    LaneCurves(LanePlot& plot, Session& session);

    // Brings the curves up to date and redraws what moved: the live layer alone when goal,
    // measured curve and axes are as they were.
    void update();
    // After a change of theme, ranges or size.
    void redraw_all();

    std::vector<CurveLabel> labels() const;

private:
    void restyle();
    void update_live();
    void update_still();
    CurveLabel measured_label() const;
    void draw_corridor(const Goal& goal);

    LanePlot& plot_;
    Session& session_;
    QCPGraph *target_, *measured_, *predicted_, *stage_, *phase_, *stage_phase_, *delay_;
    std::vector<QCPGraph*> corridor_;
    Goal shown_goal_;
    std::optional<SharedValue<Curve>> shown_measured_;
    bool still_is_shown_ = false;
};

} // namespace syntonon
