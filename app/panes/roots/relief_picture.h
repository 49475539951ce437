// |H| over the plane as a shaded relief.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/roots/plane_view.h"
#include "core/filter/roots.h"

#include <QImage>
#include <QSize>

namespace syntonon {

struct ReliefLook {
    bool shade = false, contours = false, phase_lines = false;
    bool cut = false; // the level along the circle

    bool operator==(const ReliefLook&) const = default;
    bool shows_any() const { return shade || contours || phase_lines || cut; }
};

constexpr double contour_step_db = 6, phase_step_deg = 45;

// Light from the upper left; contour lines every 6 dB, that of 0 dB heavier; phase lines every 45°.
// Of one point in `coarse` each way. In the theme's colours, opaque.
QImage relief_picture(const Roots& roots, const PlaneView& view, const QSize& size,
                      const ReliefLook& look, int coarse);

} // namespace syntonon
