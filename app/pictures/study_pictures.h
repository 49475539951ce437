// Pictures of any study.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace syntonon {

class MainWindow;
class Photographer;

// The window with each channel in it, by the channel's id.
void take_channel_pictures(MainWindow& window, Photographer& photographer);
// The desks beside *Shape*; afterwards that one is back.
void take_desk_pictures(MainWindow& window, Photographer& photographer);

} // namespace syntonon
