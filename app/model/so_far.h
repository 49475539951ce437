// What work beside the window has found by now.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <mutex>
#include <optional>
#include <utility>

namespace syntonon {

// Put by the worker, looked at by the window.
template <class Found>
class SoFar {
public:
    void put(const Found& found) {
        const std::lock_guard lock(mutex_);
        newest_ = last_ = found;
    }
    // Nothing when there is nothing newer than the last time.
    std::optional<Found> look() {
        const std::lock_guard lock(mutex_);
        return std::exchange(newest_, std::nullopt);
    }
    std::optional<Found> last() {
        const std::lock_guard lock(mutex_);
        return last_;
    }

private:
    std::mutex mutex_;
    std::optional<Found> newest_, last_;
};

} // namespace syntonon
