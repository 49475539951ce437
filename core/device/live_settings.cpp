// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/live_settings.h"

#include <condition_variable>
#include <map>
#include <mutex>
#include <thread>
#include <utility>

namespace syntonon::oca {

struct LiveSettings::Inside {
    struct Held {
        Setting setting;
        bool is_enabled = true;
    };
    struct Wish {
        std::string path;
        Held held;
    };

    Inside(Controller& with, std::chrono::milliseconds pause)
        : controller(with), between(pause), thread([this] { run(); }) {}

    void run() {
        std::unique_lock lock(mutex);
        while (!is_over || !wishes.empty()) {
            wake.wait(lock, [this] { return is_over || !wishes.empty(); });
            const auto some = std::exchange(wishes, {});
            is_sending = true;
            lock.unlock();
            send(some);
            lock.lock();
            is_sending = false;
            if (!is_over) {
                wake.wait_for(lock, between, [this] { return is_over; });
            }
        }
    }

    void send(const std::map<std::uint32_t, Wish>& some) {
        std::vector<Call> calls;
        std::vector<const Wish*> of_calls;
        for (const auto& [number, wish] : some) {
            calls.push_back(call_that_sets(number, wish.held.setting));
            of_calls.push_back(&wish);
            if (is_enabled(number) != wish.held.is_enabled) {
                calls.push_back(call_that_enables(number, wish.held.is_enabled));
                of_calls.push_back(&wish);
            }
        }
        const auto answers = controller.call_all(calls);
        const std::lock_guard lock(mutex);
        state.problem.reset();
        for (std::size_t i = 0; i < answers.size(); ++i) {
            if (!answers[i]) {
                state.problem = in_file(of_calls[i]->path, answers[i].error());
            } else if (calls[i].method == method::set_enabled) {
                enabled[calls[i].object] = of_calls[i]->held.is_enabled;
            }
        }
        state.sent += some.size();
    }

    bool is_enabled(std::uint32_t number) const {
        const std::lock_guard lock(mutex);
        return enabled.at(number);
    }
    // What is not known yet is held as the plan says.
    Held& known(const PlannedObject& object) {
        enabled.try_emplace(object.number, object.was_enabled);
        return wanted.try_emplace(object.number, Held{object.before, object.was_enabled})
            .first->second;
    }

    Controller& controller;
    const std::chrono::milliseconds between;

    mutable std::mutex mutex; // of what follows
    std::condition_variable wake;
    std::map<std::uint32_t, bool> enabled; // as sent last
    std::map<std::uint32_t, Held> wanted;  // last of all, sent or not
    std::map<std::uint32_t, Wish> wishes;  // to be sent
    State state;
    bool is_sending = false, is_over = false;

    std::thread thread; // begins last
};

LiveSettings::LiveSettings(Controller& controller, const TransferPlan& now,
                           std::chrono::milliseconds between)
    : inside_(std::make_unique<Inside>(controller, between)) {
    const std::lock_guard lock(inside_->mutex);
    for (const PlannedObject& object : now.objects) {
        inside_->known(object);
    }
}

LiveSettings::~LiveSettings() {
    {
        const std::lock_guard lock(inside_->mutex);
        inside_->is_over = true;
    }
    inside_->wake.notify_all();
    inside_->thread.join();
}

void LiveSettings::want(const TransferPlan& plan) {
    {
        const std::lock_guard lock(inside_->mutex);
        for (const PlannedObject& object : plan.objects) {
            const Inside::Held held{object.after, object.will_be_enabled};
            Inside::Held& known = inside_->known(object);
            if (known.is_enabled == held.is_enabled
                && difference(known.setting, held.setting) <= object.tolerance) {
                continue;
            }
            known = held;
            const bool is_new =
                inside_->wishes.insert_or_assign(object.number, Inside::Wish{object.path, held})
                    .second;
            inside_->state.passed_over += is_new ? 0 : 1;
        }
    }
    inside_->wake.notify_all();
}

LiveSettings::State LiveSettings::state() const {
    const std::lock_guard lock(inside_->mutex);
    State state = inside_->state;
    state.is_settled = inside_->wishes.empty() && !inside_->is_sending;
    return state;
}

} // namespace syntonon::oca
