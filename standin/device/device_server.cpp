// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/device/device_server.h"

#include "core/device/oca/classes.h"

#define ASIO_NO_DEPRECATED
#include <algorithm>
#include <array>
#include <asio.hpp>
#include <chrono>
#include <deque>
#include <future>
#include <set>
#include <thread>
#include <utility>

namespace syntonon::oca {

using asio::ip::tcp;
using Clock = std::chrono::steady_clock;

// All but port and construction happens in its thread.
struct DeviceServer::Inside : std::enable_shared_from_this<Inside> {
    static constexpr std::size_t most_connections = 64, most_waiting_bytes = 4'000'000;
    static constexpr int away_ms = 100; // while it reboots
    // Without a sign of a controller that has promised one.
    static constexpr int lost_after = 4;

    explicit Inside(const DeviceShape& shape) : objects(shape) {}

    // One event of one object, for a method at the subscriber.
    struct Subscription {
        std::uint32_t emitter = 0;
        EventId event;
        std::uint32_t subscriber = 0;
        MethodId method;
        Bytes context = {};
        std::optional<PropertyId> property = {}; // of that one alone

        bool is_same_as(const Subscription& other) const {
            return emitter == other.emitter && event == other.event
                   && subscriber == other.subscriber && method == other.method
                   && property == other.property;
        }
    };

    struct Connection : std::enable_shared_from_this<Connection> {
        Connection(tcp::socket with, const std::shared_ptr<Inside>& in)
            : socket(std::move(with)), timer(socket.get_executor()), device(in) {}

        void begin() {
            std::error_code ignored;
            socket.set_option(tcp::no_delay(true), ignored);
            last_heard = Clock::now();
            read();
        }

        void read() {
            socket.async_read_some(
                asio::buffer(incoming),
                [self = shared_from_this()](std::error_code error, std::size_t n) {
                    const auto owner = self->device.lock();
                    if (error || owner == nullptr || !self->take(*owner, n)) {
                        self->close();
                        return;
                    }
                    self->read();
                });
        }

        // False where the connection is to end.
        bool take(Inside& owner, std::size_t count) {
            last_heard = Clock::now();
            const auto ok = reader.feed(ByteView(incoming).first(count));
            while (reader.has_message() && socket.is_open()) {
                const Message message = reader.take();
                if (const auto* command = std::get_if<Command>(&message)) {
                    owner.take(*this, *command);
                } else if (const auto* alive = std::get_if<KeepAlive>(&message)) {
                    keep_alive(alive->interval_ms);
                }
            }
            return ok.has_value() && socket.is_open() && waiting_bytes <= most_waiting_bytes;
        }

        void keep_alive(std::uint32_t interval_ms) {
            const bool is_first = interval.count() == 0;
            interval =
                std::chrono::milliseconds(std::clamp<std::uint32_t>(interval_ms, 50, 600'000));
            if (is_first) {
                tick();
            }
        }

        void tick() {
            if (Clock::now() - last_heard > interval * lost_after) {
                close();
                return;
            }
            send(KeepAlive{static_cast<std::uint32_t>(interval.count())});
            timer.expires_after(interval);
            timer.async_wait([self = shared_from_this()](std::error_code error) {
                if (!error && self->socket.is_open()) {
                    self->tick();
                }
            });
        }

        void send(const Message& message) {
            if (!socket.is_open()) {
                return;
            }
            outgoing.push_back(bytes_of(message));
            waiting_bytes += outgoing.back().size();
            if (outgoing.size() == 1) {
                write();
            }
        }

        void write() {
            asio::async_write(socket, asio::buffer(outgoing.front()),
                              [self = shared_from_this()](std::error_code error, std::size_t) {
                                  if (error) {
                                      self->close();
                                      return;
                                  }
                                  self->waiting_bytes -= self->outgoing.front().size();
                                  self->outgoing.pop_front();
                                  if (!self->outgoing.empty()) {
                                      self->write();
                                  }
                              });
        }

        void close() {
            std::error_code ignored;
            socket.close(ignored);
            timer.cancel();
            if (const auto owner = device.lock()) {
                owner->connections.erase(shared_from_this());
            }
        }

        tcp::socket socket;
        asio::steady_timer timer;
        std::weak_ptr<Inside> device;
        std::array<std::uint8_t, 16384> incoming{};
        MessageReader reader;
        std::deque<Bytes> outgoing;
        std::size_t waiting_bytes = 0;
        std::vector<Subscription> subscriptions;
        bool are_notifications_off = false;
        Clock::time_point last_heard;
        std::chrono::milliseconds interval{0};
    };

    Expected<void> listen(std::uint16_t wanted, bool on_all_interfaces) {
        const tcp::endpoint at(on_all_interfaces ? asio::ip::address(asio::ip::address_v4::any())
                                                 : asio::ip::address_v4::loopback(),
                               wanted);
        std::error_code error;
        acceptor.open(at.protocol(), error);
        acceptor.set_option(tcp::acceptor::reuse_address(true), error);
        error.clear();
        acceptor.bind(at, error);
        if (!error) {
            acceptor.listen(tcp::acceptor::max_listen_connections, error);
        }
        if (error) {
            return refuse("", error.message(), "choose another port, or 0 for any");
        }
        port = acceptor.local_endpoint().port();
        accept();
        return {};
    }

    void accept() {
        acceptor.async_accept(
            [self = shared_from_this()](std::error_code error, tcp::socket socket) {
                if (error) {
                    return;
                }
                const bool is_away = Clock::now() < self->away_until;
                if (!is_away && self->connections.size() < most_connections) {
                    auto made = std::make_shared<Connection>(std::move(socket), self);
                    self->connections.insert(made);
                    made->begin();
                }
                self->accept();
            });
    }

    void take(Connection& from, const Command& command) {
        if (command.object == subscription_manager && command.method.level == 3) {
            answer(from, command, {command.handle, subscribe(from, command), {}});
            return;
        }
        const bool sets = !faults.empty() && objects.sets(command);
        const Fault* fault = sets ? next_fault() : nullptr;
        if (fault == nullptr) {
            perform(from, command, 0);
            return;
        }
        fail(from, command, *fault);
    }

    const Fault* next_fault() {
        ++calls;
        const auto found = std::ranges::find(faults, calls, &Fault::at);
        return found == faults.end() ? nullptr : &*found;
    }

    void fail(Connection& from, const Command& command, const Fault& fault) {
        const auto refused = [&](Status status) {
            answer(from, command, {command.handle, static_cast<std::uint8_t>(status), {}});
        };
        switch (fault.kind) {
        case FaultKind::drop:
            from.close();
            return;
        case FaultKind::drop_done:
            perform(from, command, -1);
            from.close();
            return;
        case FaultKind::delay:
            perform(from, command, fault.delay_ms);
            return;
        case FaultKind::refuse:
            refused(Status::device_error);
            return;
        case FaultKind::full:
            refused(Status::buffer_overflow);
            return;
        case FaultKind::wrong_read_back:
            refused(Status::ok);
            return;
        case FaultKind::reboot:
            reboot();
            return;
        }
    }

    // Answers after so long; below 0: not at all.
    void perform(Connection& from, const Command& command, int after_ms) {
        const DeviceObjects::Answer done = objects.answer(command);
        for (const PropertyChange& change : done.changes) {
            tell(change);
        }
        if (after_ms == 0) {
            answer(from, command, done.response);
        } else if (after_ms > 0) {
            auto timer = std::make_shared<asio::steady_timer>(io);
            timer->expires_after(std::chrono::milliseconds(after_ms));
            timer->async_wait([timer, to = from.shared_from_this(), response = done.response,
                               wants = command.wants_response](std::error_code) {
                if (wants) {
                    to->send(response);
                }
            });
        }
    }

    static void answer(Connection& to, const Command& command, const Response& response) {
        if (command.wants_response) {
            to.send(response);
        }
    }

    void reboot() {
        objects.reset();
        away_until = Clock::now() + std::chrono::milliseconds(away_ms);
        const auto all = connections;
        for (const auto& connection : all) {
            connection->close();
        }
    }

    // OcaSubscriptionManager; its status.
    static std::uint8_t subscribe(Connection& from, const Command& command) {
        Reader in(command.parameters.bytes);
        constexpr std::uint16_t disable = 3, enable_again = 4, of_property = 5;
        const std::uint16_t index = command.method.index;
        if (index == disable || index == enable_again) {
            from.are_notifications_off = index == disable;
            return 0;
        }
        if (index == 0 || index > of_property + 1) {
            return static_cast<std::uint8_t>(Status::bad_method);
        }
        Subscription one;
        one.emitter = in.u32();
        one.event.level = in.u16();
        one.event.index = in.u16();
        if (index >= of_property) {
            one.property = one.event;
            one.event = property_changed;
        }
        one.subscriber = in.u32();
        one.method.level = in.u16();
        one.method.index = in.u16();
        const bool adds = index == 1 || index == of_property;
        one.context = adds ? in.blob() : Bytes();
        constexpr std::size_t most = 4096;
        if (!in.ok() || (adds && from.subscriptions.size() >= most)) {
            return static_cast<std::uint8_t>(in.ok() ? Status::buffer_overflow
                                                     : Status::bad_format);
        }
        std::erase_if(from.subscriptions,
                      [&](const Subscription& other) { return other.is_same_as(one); });
        if (adds) {
            from.subscriptions.push_back(std::move(one));
        }
        return 0;
    }

    void tell(const PropertyChange& change) {
        Writer data;
        constexpr std::uint8_t current_changed = 1;
        data.u16(change.property.level).u16(change.property.index).raw(change.value);
        data.u8(current_changed);
        for (const auto& connection : connections) {
            for (const Subscription& one : connection->subscriptions) {
                if (!connection->are_notifications_off && one.emitter == change.object
                    && one.event == property_changed
                    && (!one.property || *one.property == change.property)) {
                    connection->send(Notification{one.subscriber, one.method, one.context,
                                                  change.object, property_changed, data.bytes()});
                }
            }
        }
    }

    void end() {
        std::error_code ignored;
        acceptor.close(ignored);
        const auto all = connections;
        for (const auto& connection : all) {
            connection->close();
        }
    }

    asio::io_context io{1};
    tcp::acceptor acceptor{io};
    std::uint16_t port = 0;
    std::thread thread;
    DeviceObjects objects;
    std::set<std::shared_ptr<Connection>> connections;
    std::vector<Fault> faults;
    int calls = 0; // that set something
    Clock::time_point away_until;
};

DeviceServer::DeviceServer(std::shared_ptr<Inside> inside) : inside_(std::move(inside)) {}

Expected<std::unique_ptr<DeviceServer>>
DeviceServer::start(const DeviceShape& shape, std::uint16_t port, bool on_all_interfaces) {
    auto inside = std::make_shared<Inside>(shape);
    return inside->listen(port, on_all_interfaces).map([&] {
        inside->thread = std::thread([inside] { inside->io.run(); });
        return std::unique_ptr<DeviceServer>(new DeviceServer(inside));
    });
}

DeviceServer::~DeviceServer() {
    asio::post(inside_->io, [inside = inside_] { inside->end(); });
    inside_->thread.join();
}

std::uint16_t DeviceServer::port() const {
    return inside_->port;
}

void DeviceServer::set_faults(std::vector<Fault> faults) {
    with_objects([this, &faults](DeviceObjects&) {
        inside_->faults = std::move(faults);
        inside_->calls = 0;
    });
}

void DeviceServer::with_objects(const std::function<void(DeviceObjects&)>& look) {
    std::promise<void> done;
    asio::post(inside_->io, [&] {
        look(inside_->objects);
        done.set_value();
    });
    done.get_future().wait();
}

void DeviceServer::change(
    const std::function<void(DeviceObjects&, std::vector<PropertyChange>&)>& change) {
    with_objects([&](DeviceObjects& objects) {
        std::vector<PropertyChange> changes;
        change(objects, changes);
        for (const PropertyChange& one : changes) {
            inside_->tell(one);
        }
    });
}

std::size_t DeviceServer::connections() {
    std::size_t count = 0;
    with_objects([&](DeviceObjects&) { count = inside_->connections.size(); });
    return count;
}

} // namespace syntonon::oca
