// Pictures of what is fitted, and of a crossover.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string_view>

namespace syntonon {

class MainWindow;
class Photographer;
class Session;

void select_channel_of(Session& session, std::string_view id);

// The study is as it was afterwards.
void take_fit_pictures(MainWindow& window, Photographer& photographer);

} // namespace syntonon
