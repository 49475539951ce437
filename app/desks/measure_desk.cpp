// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/measure_desk.h"

#include "app/panes/companion.h"
#include "app/panes/measure/curves_pane.h"
#include "app/panes/measure/levels_pane.h"
#include "app/panes/measure/positions_pane.h"
#include "app/plot/lane_stack.h"
#include "app/plot/measured_curves.h"

namespace syntonon {

MeasureDesk::MeasureDesk(Session& session, QObject* parent)
    : QObject(parent), session_(session),
      lanes_(new LaneStack(
          session,
          [&session](LanePlot& plot) { return std::make_unique<MeasuredCurves>(plot, session); })),
      positions_(new PositionsPane(session, *lanes_)), curves_(new CurvesPane(session)),
      levels_(new LevelsPane(session)), upper_(new Companion(tr("Upper companion"))),
      lower_(new Companion(tr("Lower companion"))) {
    lanes_->setAccessibleName(tr("Lanes: measured level, phase and delay"));
    upper_->add_page(tr("Curves"), curves_);
    lower_->add_page(tr("Levels"), levels_);
}

void MeasureDesk::prepare() {
    positions_->fill();
    curves_->fill();
    levels_->fill();
}

DeskParts MeasureDesk::parts() const {
    DeskParts parts;
    parts.left = positions_;
    parts.middle = lanes_;
    parts.upper = upper_;
    parts.lower = lower_;
    parts.columns = {300, 500, 480};
    return parts;
}

} // namespace syntonon
