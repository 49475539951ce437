// One piece of work beside the window, of which only the newest counts.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/watch.h"

#include <QCoreApplication>
#include <QPointer>
#include <QThreadPool>
#include <functional>
#include <memory>
#include <utility>

namespace syntonon {

// `work(watch)` runs in another thread; what it returns is handed to `take` in the window's, unless
// the receiver is gone or newer work has been begun. Work that is outdated is asked to stop.
class Beside {
public:
    explicit Beside(QObject* receiver) : receiver_(receiver) {}
    ~Beside() { stop(); }
    Beside(const Beside&) = delete;
    Beside& operator=(const Beside&) = delete;

    template <class Work, class Take>
    void begin(Work work, Take take) {
        stop();
        is_busy_ = true;
        QPointer<QObject> receiver(receiver_);
        const Watch watch = watch_;
        QThreadPool::globalInstance()->start(
            [this, receiver, watch, work = std::move(work), take = std::move(take)] {
                auto result = std::make_shared<decltype(work(watch))>(work(watch));
                QMetaObject::invokeMethod(
                    QCoreApplication::instance(),
                    [this, receiver, watch, take, result] {
                        if (receiver != nullptr && !watch.is_stopped()) {
                            is_busy_ = false;
                            take(std::move(*result));
                        }
                    },
                    Qt::QueuedConnection);
            });
    }
    void stop() {
        watch_.stop();
        watch_ = Watch();
        is_busy_ = false;
    }
    bool is_busy() const { return is_busy_; }
    double done() const { return watch_.done(); } // as the work reports it

private:
    QObject* receiver_; // that holds it
    Watch watch_;
    bool is_busy_ = false;
};

} // namespace syntonon
