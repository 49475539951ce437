// Writing to a disk that may be slow, or hang, without holding up the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QObject>
#include <QThreadPool>
#include <functional>
#include <memory>
#include <optional>
#include <utility>

namespace syntonon {

// One piece of work at a time, in another thread. What is done within grace_ms has been handed over
// when `begin` returns, as if it had been done at once; what takes longer is handed over in the
// thread that made this as soon as it is done. Work that has begun is never given up: going away
// waits for it, without handing it over.
class WriteBeside {
public:
    static constexpr int grace_ms = 300;

    WriteBeside();
    ~WriteBeside();
    WriteBeside(const WriteBeside&) = delete;
    WriteBeside& operator=(const WriteBeside&) = delete;

    // `take(work())`. Waits for what is under way; ask is_busy() first.
    template <class Work, class Take>
    void begin(Work work, Take take) {
        auto result = std::make_shared<std::optional<decltype(work())>>();
        run([result, work = std::move(work)] { result->emplace(work()); },
            [result, take = std::move(take)] { take(std::move(**result)); });
    }
    bool is_busy() const { return hand_over_ != nullptr; }
    // Waits for what is under way and what is begun when that is handed over.
    void finish();

private:
    void run(std::function<void()> work, std::function<void()> hand_over);
    void hand_over();

    QObject here_;  // in whose thread it is handed over
    int round_ = 0; // what is told of an earlier one comes too late
    std::function<void()> hand_over_;
    QThreadPool thread_;
};

} // namespace syntonon
