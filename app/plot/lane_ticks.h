// Where the lanes' axes have lines, and what stands beside them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/lane_view.h"

#include <qcustomplot.h>

namespace syntonon {

QSharedPointer<QCPAxisTicker> frequency_ticker(const LaneView& view, double sample_rate_hz);
// `pixels` is the axis' length: as many lines as can be labelled.
QSharedPointer<QCPAxisTicker> value_ticker(Lane lane, const LaneView& view, const LaneRange& range,
                                           double sample_rate_hz, double pixels);

} // namespace syntonon
