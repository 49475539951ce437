// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/runner.h"

#include <algorithm>
#include <utility>

namespace syntonon {

Runner::Runner(std::shared_ptr<DesignStore> store, std::function<void()> on_done,
               std::size_t threads)
    : store_(std::move(store)), on_done_(std::move(on_done)), most_threads_(threads) {}

Runner::~Runner() {
    {
        const std::lock_guard lock(mutex_);
        is_ending_ = true;
        for (const auto& task : tasks_) {
            task->watch.stop();
        }
    }
    changed_.notify_all();
    for (std::thread& thread : threads_) {
        thread.join();
    }
}

std::size_t Runner::usual_threads() {
    return std::max(2U, std::thread::hardware_concurrency()) - 1;
}

void Runner::start_threads() {
    while (threads_.size() < most_threads_) {
        threads_.emplace_back([this] { work(); });
    }
}

void Runner::want(std::vector<DesignJob> jobs) {
    {
        const std::lock_guard lock(mutex_);
        finished_.clear();
        std::vector<std::shared_ptr<Task>> wanted;
        for (DesignJob& job : jobs) {
            const auto known = std::ranges::find_if(
                tasks_, [&](const auto& task) { return make_the_same(task->job, job); });
            wanted.push_back(known != tasks_.end() ? *known
                                                   : std::make_shared<Task>(Task{std::move(job)}));
        }
        for (const auto& task : tasks_) {
            if (std::ranges::count(wanted, task) == 0) {
                task->watch.stop();
                task->state = Task::State::stopped;
            }
        }
        tasks_ = std::move(wanted);
    }
    if (!jobs.empty()) {
        start_threads();
        changed_.notify_all();
    }
}

void Runner::stop() {
    const std::lock_guard lock(mutex_);
    for (const auto& task : tasks_) {
        task->watch.stop();
        task->state = Task::State::stopped;
    }
}

void Runner::start_again() {
    {
        const std::lock_guard lock(mutex_);
        for (const auto& task : tasks_) {
            if (task->state == Task::State::stopped) {
                task->watch = Watch(); // the old one belongs to a design that is still giving up
                task->state = Task::State::queued;
            }
        }
    }
    changed_.notify_all();
}

std::vector<Runner::State> Runner::states() const {
    const std::lock_guard lock(mutex_);
    std::vector<State> states;
    for (const auto& task : tasks_) {
        states.push_back({task->job.name, task->watch.done(), task->state == Task::State::stopped});
    }
    return states;
}

std::shared_ptr<Runner::Task> Runner::next_queued() const {
    const auto next = std::ranges::find_if(
        tasks_, [](const auto& task) { return task->state == Task::State::queued; });
    return next != tasks_.end() ? *next : nullptr;
}

void Runner::work() {
    std::unique_lock lock(mutex_);
    for (;;) {
        changed_.wait(lock, [this] { return is_ending_ || next_queued() != nullptr; });
        if (is_ending_) {
            return;
        }
        const auto task = next_queued();
        task->state = Task::State::running;
        const Watch watch = task->watch;
        lock.unlock();
        auto result = run(task->job, *store_, watch);
        const bool is_made = *result || !watch.is_stopped();
        lock.lock();
        const auto found = std::ranges::find(tasks_, task);
        if (!is_made || found == tasks_.end()) {
            continue; // stopped or overtaken
        }
        tasks_.erase(found);
        finished_.push_back(std::move(result));
        lock.unlock();
        on_done_();
        lock.lock();
    }
}

} // namespace syntonon
