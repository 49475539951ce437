// Which spot of the manual belongs to a place in the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/help/manual_pages.h"

class QWidget;

namespace syntonon {

// Of the widget, or of the nearest one that it stands in and that has one; the contents where none
// has.
ManualSpot manual_spot_of(const QWidget* place);
// All that are named anywhere.
QList<ManualSpot> all_manual_spots();

} // namespace syntonon
