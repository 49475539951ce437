// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/device_link.h"

#include <algorithm>
#include <chrono>
#include <condition_variable>
#include <map>
#include <mutex>
#include <set>
#include <thread>
#include <utility>

namespace syntonon::oca {
namespace {

// Changes in a row are read once; whether the connection is lost is looked at so often.
constexpr auto together = std::chrono::milliseconds(60), look = std::chrono::milliseconds(250);

bool is_sensor(const DeviceObject& object) {
    return object.kind == Kind::level_sensor;
}

std::vector<std::uint32_t> numbers_of(const DeviceTree& tree,
                                      const std::function<bool(const DeviceObject&)>& which) {
    std::vector<std::uint32_t> numbers;
    for (const DeviceObject& object : tree.objects) {
        if (which(object)) {
            numbers.push_back(object.number);
        }
    }
    return numbers;
}

} // namespace

struct DeviceLink::Inside {
    Inside(std::unique_ptr<Controller> with, DeviceTree read, Told to)
        : controller(std::move(with)), told(std::move(to)),
          tree(std::make_shared<const DeviceTree>(std::move(read))), thread([this] { run(); }) {}

    // --- in its thread ---

    void run() {
        read_levels();
        subscribe();
        std::unique_lock lock(mutex);
        while (!is_over) {
            wake.wait_for(lock, look, [this] { return is_over || !changed.empty(); });
            if (is_over || controller->lost()) {
                break;
            }
            if (changed.empty()) {
                continue;
            }
            wake.wait_for(lock, together, [this] { return is_over; });
            const auto some = std::exchange(changed, {});
            lock.unlock();
            read(some);
            lock.lock();
        }
        const bool is_lost = !is_over;
        lock.unlock();
        if (is_lost) {
            told();
        }
    }

    void read_levels() {
        const auto sensors = numbers_of(*tree, is_sensor);
        std::vector<Call> calls;
        for (const std::uint32_t number : sensors) {
            calls.push_back({number, method::get_value, {}});
        }
        const auto answers = controller->call_all(calls);
        for (std::size_t i = 0; i < answers.size(); ++i) {
            if (answers[i]) {
                Reader in(answers[i]->bytes);
                take_level(sensors[i], in.f32(), in.ok());
            }
        }
    }

    void take_level(std::uint32_t sensor, float db, bool is_whole) {
        const std::lock_guard lock(mutex);
        if (is_whole) {
            levels[sensor] = db;
        }
    }

    void subscribe() {
        const auto settable =
            numbers_of(*tree, [](const DeviceObject& object) { return object.state.has_value(); });
        const bool all = controller->subscribe_all(
            settable, property_changed,
            [this](const Notification& notification) { note_change(notification.emitter); });
        controller->subscribe_all(numbers_of(*tree, is_sensor), property_changed,
                                  [this](const Notification& notification) { hear(notification); });
        {
            const std::lock_guard lock(mutex);
            is_told = all;
        }
        told();
    }

    void note_change(std::uint32_t object) {
        {
            const std::lock_guard lock(mutex);
            changed.insert(object);
        }
        wake.notify_all();
    }

    void hear(const Notification& notification) {
        Reader in(notification.data);
        PropertyId property;
        property.level = in.u16();
        property.index = in.u16();
        if (property == reading_property) {
            const float db = in.f32();
            take_level(notification.emitter, db, in.ok());
        }
    }

    void read(const std::set<std::uint32_t>& some) {
        DeviceTree now = *snapshot();
        std::vector<ObjectToRead> asked;
        std::vector<DeviceObject*> objects;
        for (DeviceObject& object : now.objects) {
            if (object.kind && has_setting(*object.kind) && some.contains(object.number)) {
                asked.push_back({object.number, *object.kind});
                objects.push_back(&object);
            }
        }
        auto states = read_states(*controller, asked);
        for (std::size_t i = 0; i < states.size(); ++i) {
            objects[i]->state = states[i] ? std::optional(std::move(*states[i])) : std::nullopt;
            objects[i]->unreadable =
                states[i] ? std::nullopt : std::optional(std::move(states[i].error()));
        }
        if (controller->lost()) {
            return; // what was read before stands
        }
        {
            const std::lock_guard lock(mutex);
            tree = std::make_shared<const DeviceTree>(std::move(now));
        }
        told();
    }

    // --- from outside, too ---

    std::shared_ptr<const DeviceTree> snapshot() const {
        const std::lock_guard lock(mutex);
        return tree;
    }

    std::unique_ptr<Controller> controller; // ends after the thread
    const Told told;

    mutable std::mutex mutex; // of what follows
    std::condition_variable wake;
    std::shared_ptr<const DeviceTree> tree;
    std::map<std::uint32_t, float> levels;
    std::set<std::uint32_t> changed; // to be read anew
    bool is_told = false, is_over = false;

    std::thread thread; // begins last
};

DeviceLink::DeviceLink(std::unique_ptr<Inside> inside) : inside_(std::move(inside)) {}

Expected<std::unique_ptr<DeviceLink>> DeviceLink::open(const Address& address, Told told,
                                                       const Watch& watch, const Timing& timing) {
    auto controller = Controller::connect(address, timing);
    if (!controller) {
        return tl::unexpected(controller.error());
    }
    return read_tree(**controller, watch).map([&](DeviceTree tree) {
        return std::unique_ptr<DeviceLink>(new DeviceLink(
            std::make_unique<Inside>(std::move(*controller), std::move(tree), std::move(told))));
    });
}

DeviceLink::~DeviceLink() {
    {
        const std::lock_guard lock(inside_->mutex);
        inside_->is_over = true;
    }
    inside_->wake.notify_all();
    inside_->thread.join();
    inside_->controller.reset(); // nothing is told into what is gone
}

std::shared_ptr<const DeviceTree> DeviceLink::tree() const {
    return inside_->snapshot();
}

std::vector<LevelReading> DeviceLink::levels() const {
    const auto tree = inside_->snapshot();
    const std::lock_guard lock(inside_->mutex);
    std::vector<LevelReading> all;
    for (const DeviceObject& object : tree->objects) {
        if (is_sensor(object)) {
            const auto found = inside_->levels.find(object.number);
            all.push_back(
                {object.path, object.block,
                 found != inside_->levels.end() ? std::optional(found->second) : std::nullopt});
        }
    }
    return all;
}

void DeviceLink::read_again() {
    const auto tree = inside_->snapshot();
    for (const DeviceObject& object : tree->objects) {
        inside_->note_change(object.number);
    }
}

bool DeviceLink::is_told_of_changes() const {
    const std::lock_guard lock(inside_->mutex);
    return inside_->is_told;
}

std::optional<Problem> DeviceLink::lost() const {
    return inside_->controller->lost();
}

Controller& DeviceLink::controller() {
    return *inside_->controller;
}

} // namespace syntonon::oca
