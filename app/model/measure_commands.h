// Gates, microphones, averages and what aligns channels: each change a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QString>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// What is refused changes nothing; the problem's place is in the study ("curves[2].gate").

// Empty: all of their impulse responses counts. Curves without one are left alone.
Expected<void> choose_gate(Session& session, const std::vector<std::string>& curves,
                           const std::string& gate);
// Of all curves that use it.
Expected<void> change_gate(Session& session, const std::string& gate, const Gate& to,
                           const QString& gesture = {});
// The same while it is dragged: those curves alone are worked out, until end_gate_drag() does it
// for all others. What it refuses takes the whole gesture back.
Expected<void> drag_gate(Session& session, const std::string& gate, const Gate& to,
                         const QString& gesture, const std::vector<std::string>& looked_at);
Expected<void> end_gate_drag(Session& session, const std::string& gate, const QString& gesture);
// A copy of the gate, or, where there is none of that id, a usual one; its id. The curves use it.
Expected<std::string> add_gate(Session& session, const std::string& like,
                               const std::vector<std::string>& curves);
void rename_gate(Session& session, const std::string& gate, const QString& name);
// Its curves are whole afterwards.
Expected<void> remove_gate(Session& session, const std::string& gate);
// Nothing: the arrival that is found.
Expected<void> set_middle(Session& session, const std::string& curve,
                          std::optional<double> middle_s, const QString& gesture = {});

// Its id. No curve uses it yet.
std::string add_microphone(Session& session, Curve microphone);
// Empty: none.
Expected<void> choose_microphone(Session& session, const std::vector<std::string>& curves,
                                 const std::string& microphone);
Expected<void> remove_microphone(Session& session, const std::string& microphone);

void choose_average(Session& session, AverageOf average); // of the selected channel

// Of the selected channel's set: its curves' ids.
std::vector<std::string> positions_of(const Channel& channel);

} // namespace syntonon
