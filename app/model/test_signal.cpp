// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/test_signal.h"

#include <algorithm>

namespace syntonon {

std::vector<double> TestSignal::samples() const {
    std::vector<double> out(static_cast<std::size_t>(length_), kind_ == SignalKind::step ? 1 : 0);
    if (kind_ == SignalKind::impulse) {
        out.front() = 1;
    } else if (kind_ == SignalKind::numbers) {
        std::copy_n(numbers_.begin(), std::min(numbers_.size(), out.size()), out.begin());
    }
    return out;
}

} // namespace syntonon
