// Runs designs that take long beside the window, on threads of its own.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/design_job.h"

#include <condition_variable>
#include <cstddef>
#include <functional>
#include <memory>
#include <mutex>
#include <string>
#include <thread>
#include <vector>

namespace syntonon {

// Its functions are for one thread, the owner's.
class Runner {
public:
    // `on_done` is called from another thread whenever the store has a wanted design more.
    Runner(std::shared_ptr<DesignStore> store, std::function<void()> on_done,
           std::size_t threads = usual_threads());
    ~Runner(); // stops everything and waits for it
    Runner(const Runner&) = delete;
    Runner& operator=(const Runner&) = delete;

    // The jobs that matter from now on, in this order. Others have been overtaken: they are stopped
    // and not heard of again. Those that are under way go on.
    void want(std::vector<DesignJob> jobs);

    // Stops what is wanted. It stays listed and stopped for as long as it is wanted.
    void stop();
    void start_again();

    struct State {
        std::string name;
        double done = 0; // 0 to 1
        bool is_stopped = false;
    };
    std::vector<State> states() const; // of what is wanted and not done

    static std::size_t usual_threads(); // leaves one processor to the window

private:
    struct Task {
        DesignJob job;
        Watch watch = {};
        enum class State { queued, running, stopped } state = State::queued;
    };
    void work();
    std::shared_ptr<Task> next_queued() const;
    void start_threads();

    std::shared_ptr<DesignStore> store_;
    std::function<void()> on_done_;
    std::size_t most_threads_;
    std::vector<std::thread> threads_; // started with the first job

    mutable std::mutex mutex_; // of all that follows
    std::condition_variable changed_;
    std::vector<std::shared_ptr<Task>> tasks_;
    std::vector<DesignStore::Result> finished_; // held until somebody has looked
    bool is_ending_ = false;
};

} // namespace syntonon
