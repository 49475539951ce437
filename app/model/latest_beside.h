// Work beside the window on what changes all the time, as while something is dragged.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"

#include <functional>
#include <utility>

namespace syntonon {

// What is under way is finished and shown; then the newest wish is begun, and those in between are
// never worked on. So there is always something new to see, however long one piece takes.
class LatestBeside {
public:
    explicit LatestBeside(QObject* receiver) : work_(receiver) {}

    template <class Work, class Take>
    void begin(Work work, Take take) {
        if (work_.is_busy()) {
            waiting_ = [this, work = std::move(work), take = std::move(take)] {
                start(work, take);
            };
            return;
        }
        start(std::move(work), std::move(take));
    }
    void stop() {
        waiting_ = nullptr;
        work_.stop();
    }
    bool is_busy() const { return work_.is_busy(); }

private:
    template <class Work, class Take>
    void start(Work work, Take take) {
        work_.begin(std::move(work), [this, take = std::move(take)](auto result) {
            take(std::move(result));
            if (const auto next = std::exchange(waiting_, nullptr)) {
                next();
            }
        });
    }

    Beside work_;
    std::function<void()> waiting_;
};

} // namespace syntonon
