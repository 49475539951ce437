// The pictures of the demo study.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace syntonon {

class MainWindow;
class Photographer;

// With the study of demo/brightwater.h open, as it is made: its channels and stages are gone to by
// their places.
void take_demo_pictures(MainWindow& window, Photographer& photographer);

} // namespace syntonon
