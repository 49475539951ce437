// Many pieces of work beside the window, each handed over as it is done.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/watch.h"

#include <QObject>
#include <QThreadPool>
#include <cstddef>
#include <memory>
#include <utility>

namespace syntonon {

// `work(i, watch)` runs in other threads; `take(i, result)` in the receiver's, unless the round was
// stopped or a newer one begun. The receiver holds it.
class ManyBeside {
public:
    explicit ManyBeside(QObject* receiver) : receiver_(receiver) {}
    // Waits for what is under way.
    ~ManyBeside() {
        stop();
        pool_.waitForDone();
    }
    ManyBeside(const ManyBeside&) = delete;
    ManyBeside& operator=(const ManyBeside&) = delete;

    std::size_t count() const { return count_; }
    std::size_t done() const { return done_; }
    bool is_busy() const { return done_ < count_ && !watch_.is_stopped(); }

    template <class Work, class Take>
    void begin(std::size_t count, Work work, Take take) {
        stop();
        watch_ = Watch();
        count_ = count;
        done_ = 0;
        const auto shared = std::make_shared<const Work>(std::move(work));
        for (std::size_t i = 0; i < count; ++i) {
            pool_.start([this, i, shared, take, watch = watch_] {
                auto result = (*shared)(i, watch);
                QMetaObject::invokeMethod(
                    receiver_,
                    [this, i, take, watch, result = std::move(result)]() mutable {
                        if (!watch.is_stopped()) {
                            ++done_;
                            take(i, std::move(result));
                        }
                    },
                    Qt::QueuedConnection);
            });
        }
    }
    // What was handed over stays.
    void stop() {
        watch_.stop();
        pool_.clear();
    }

private:
    QObject* receiver_;
    std::size_t count_ = 0, done_ = 0;
    Watch watch_;
    QThreadPool pool_;
};

} // namespace syntonon
