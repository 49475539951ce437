// What goes wrong in a simulated device, on request.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <array>
#include <string_view>
#include <vector>

namespace syntonon::oca {

enum class FaultKind {
    drop,            // the connection is closed, and what was called is not done
    drop_done,       // it is done, and the connection is closed before the answer
    delay,           // it is done and answered late
    refuse,          // not done; the device says that it has failed
    full,            // not done; the device says that its memory is full
    wrong_read_back, // the device says that it is done, and it is not
    reboot           // everything is as when the device was switched on, all connections closed
};
inline constexpr std::array all_faults = {
    FaultKind::drop, FaultKind::drop_done,       FaultKind::delay, FaultKind::refuse,
    FaultKind::full, FaultKind::wrong_read_back, FaultKind::reboot};

struct Fault {
    FaultKind kind = FaultKind::drop;
    int at = 1;         // at the which call that sets something, counted from when it was begun
    int delay_ms = 500; // of a late answer

    bool operator==(const Fault&) const = default;
};

std::string_view key_of(FaultKind kind);
// "drop@3", "delay@5:400".
Expected<Fault> fault_from_text(std::string_view text);

} // namespace syntonon::oca
