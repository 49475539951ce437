// Analog channels: made, mapped into sampled ones, handed out.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/exchange/analog_filter.h"

namespace syntonon {

void add_analog_channel(Session& session);
// Beside the selected analog channel, and selected. Refused, saying why, where it cannot be mapped.
Expected<void> map_selected_channel(Session& session, PlaneMapping mapping);
// The selected analog channel in words and numbers.
Expected<std::string> analog_text_of_selected(Session& session, AnalogFormat format);

} // namespace syntonon
