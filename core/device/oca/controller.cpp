// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/controller.h"

#include "core/base/log.h"
#include "core/device/oca/classes.h"
#include "core/device/oca/status.h"

#define ASIO_NO_DEPRECATED
#include <algorithm>
#include <array>
#include <asio.hpp>
#include <chrono>
#include <condition_variable>
#include <deque>
#include <fmt/format.h>
#include <map>
#include <mutex>
#include <thread>
#include <utility>

namespace syntonon::oca {
namespace {

using asio::ip::tcp;
using Clock = Controller::Clock;

constexpr std::size_t most_open = 32; // calls that wait for their answers

Problem no_answer() {
    return {"", "the device does not answer", "look whether it is there, and try again"};
}

std::string reason_of(const std::error_code& error) {
    return error == asio::error::eof || error == asio::error::connection_reset
               ? "the device has closed the connection"
               : error.message();
}

} // namespace

struct Controller::Inside : std::enable_shared_from_this<Inside> {
    // What a call of call_all() waits for. Changed in the connection's thread alone, but for being
    // waited on.
    struct Batch {
        explicit Batch(std::vector<Call> all)
            : calls(std::move(all)), answers(calls.size(), tl::unexpected(Problem())) {}

        std::vector<Call> calls;
        std::vector<Expected<Parameters>> answers;
        std::size_t next = 0, open = 0; // to be sent; sent and not answered

        std::mutex mutex;
        std::condition_variable changed;
        std::size_t answered = 0;
        bool is_done = false;

        void note_answer() {
            const std::lock_guard lock(mutex);
            ++answered;
            is_done = is_done || answered == calls.size();
            changed.notify_all();
        }
        void finish() {
            const std::lock_guard lock(mutex);
            is_done = true;
            changed.notify_all();
        }
    };

    Inside(Address to, const Timing& wanted) : address(std::move(to)), timing(wanted) {}

    // --- in the connection's thread ---

    void begin() {
        last_heard = Clock::now();
        read();
        keep_alive();
    }

    void read() {
        socket.async_read_some(asio::buffer(incoming),
                               [self = shared_from_this()](std::error_code error, std::size_t n) {
                                   self->take(error, n);
                               });
    }

    void take(std::error_code error, std::size_t count) {
        if (error) {
            lose({"", reason_of(error), "connect again"});
            return;
        }
        last_heard = Clock::now();
        const auto ok = reader.feed(ByteView(incoming).first(count));
        while (reader.has_message()) {
            const Message message = reader.take();
            if (const auto* response = std::get_if<Response>(&message)) {
                answer(*response);
            } else if (const auto* notification = std::get_if<Notification>(&message)) {
                tell(*notification);
            }
        }
        if (!ok) {
            lose(ok.error());
            return;
        }
        read();
    }

    void answer(const Response& response) {
        const auto found = waiting.find(response.handle);
        if (found == waiting.end()) {
            return; // too late
        }
        const auto [batch, place] = found->second;
        waiting.erase(found);
        const auto status = static_cast<Status>(response.status);
        batch->answers[place] = status == Status::ok ? Expected<Parameters>(response.parameters)
                                                     : tl::unexpected(refusal(status));
        --batch->open;
        go_on(batch);
        batch->note_answer();
    }

    void tell(const Notification& notification) {
        const auto found = handlers.find({notification.emitter, notification.event});
        if (found != handlers.end()) {
            found->second(notification);
        }
    }

    void go_on(const std::shared_ptr<Batch>& batch) {
        if (is_lost) {
            fail(batch, *lost_because);
            return;
        }
        while (batch->next < batch->calls.size() && batch->open < most_open) {
            const Call& call = batch->calls[batch->next];
            ++last_handle;
            waiting[last_handle] = {batch, batch->next};
            send(bytes_of(Command{last_handle, call.object, call.method, call.parameters, true}));
            ++batch->next;
            ++batch->open;
        }
    }

    // Those that have no answer yet.
    void fail(const std::shared_ptr<Batch>& batch, const Problem& problem) {
        for (auto one = waiting.begin(); one != waiting.end();) {
            if (one->second.first == batch) {
                batch->answers[one->second.second] = tl::unexpected(problem);
                one = waiting.erase(one);
            } else {
                ++one;
            }
        }
        for (; batch->next < batch->calls.size(); ++batch->next) {
            batch->answers[batch->next] = tl::unexpected(problem);
        }
        batch->open = 0;
        batch->finish();
    }

    void send(Bytes bytes) {
        outgoing.push_back(std::move(bytes));
        if (outgoing.size() == 1) {
            write();
        }
    }

    void write() {
        asio::async_write(socket, asio::buffer(outgoing.front()),
                          [self = shared_from_this()](std::error_code error, std::size_t) {
                              if (error) {
                                  self->lose({"", reason_of(error), "connect again"});
                                  return;
                              }
                              self->outgoing.pop_front();
                              if (!self->outgoing.empty()) {
                                  self->write();
                              }
                          });
    }

    void keep_alive() {
        const auto interval = std::chrono::milliseconds(timing.keep_alive_ms);
        if (Clock::now() - last_heard > interval * timing.lost_after) {
            lose({"", "nothing has come from the device for a while", "connect again"});
            return;
        }
        send(bytes_of(KeepAlive{static_cast<std::uint32_t>(timing.keep_alive_ms)}));
        timer.expires_after(interval);
        timer.async_wait([self = shared_from_this()](std::error_code error) {
            if (!error && !self->is_lost) {
                self->keep_alive();
            }
        });
    }

    void lose(Problem problem) {
        if (is_lost) {
            return;
        }
        {
            const std::lock_guard lock(mutex);
            is_lost = true;
            lost_because = within(text_of(address), std::move(problem));
        }
        std::error_code ignored;
        socket.close(ignored);
        timer.cancel();
        while (!waiting.empty()) {
            const auto batch = waiting.begin()->second.first; // the entry itself is erased
            fail(batch, *lost_because);
        }
    }

    // --- from outside ---

    Expected<void> connect() {
        resolver.async_resolve(
            address.host, std::to_string(address.port),
            [self = shared_from_this()](std::error_code error,
                                        const tcp::resolver::results_type& found) {
                self->reached = error;
                if (!error) {
                    self->reached = asio::error::timed_out;
                    asio::async_connect(self->socket, found,
                                        [self](std::error_code connected, const tcp::endpoint&) {
                                            self->reached = connected;
                                        });
                }
            });
        io.run_for(std::chrono::milliseconds(timing.connect_ms));
        const std::error_code result = reached;
        if (result) {
            give_up();
            return refuse(text_of(address),
                          result == asio::error::timed_out ? "nobody answers" : result.message(),
                          "look at the address, and whether the device is on");
        }
        io.restart();
        std::error_code ignored;
        socket.set_option(tcp::no_delay(true), ignored);
        asio::post(io, [self = shared_from_this()] { self->begin(); });
        thread = std::thread([self = shared_from_this()] { self->io.run(); });
        return {};
    }

    // A name that is being looked up cannot be called back, and nobody waits for it.
    void give_up() {
        std::error_code ignored;
        resolver.cancel();
        socket.close(ignored);
        std::thread([self = shared_from_this()] {
            self->io.restart();
            self->io.run();
        }).detach();
    }

    void close() {
        asio::post(io, [self = shared_from_this()] {
            self->lose({"", "the connection was closed", "connect again"});
        });
        thread.join();
        io.restart();
        io.poll(); // what was asked for after the end holds on to this
    }

    std::vector<Expected<Parameters>> run(std::vector<Call> calls, Clock::time_point until) {
        auto batch = std::make_shared<Batch>(std::move(calls));
        asio::post(io, [self = shared_from_this(), batch] { self->go_on(batch); });
        std::unique_lock lock(batch->mutex);
        std::size_t seen = 0;
        const auto patience = std::chrono::milliseconds(timing.answer_ms);
        while (!batch->is_done && Clock::now() < until) {
            if (!batch->changed.wait_until(lock, std::min(Clock::now() + patience, until), [&] {
                    return batch->is_done || batch->answered > seen;
                })) {
                break;
            }
            seen = batch->answered;
        }
        while (!batch->is_done) {
            asio::post(io, [self = shared_from_this(), batch] {
                self->fail(batch, within(text_of(self->address), no_answer()));
            });
            batch->changed.wait_for(lock, patience, [&] { return batch->is_done; });
            if (thread_is_over()) {
                return std::vector<Expected<Parameters>>(batch->calls.size(),
                                                         tl::unexpected(*lost_because));
            }
        }
        return std::move(batch->answers);
    }

    bool thread_is_over() {
        const std::lock_guard lock(mutex);
        return is_lost && io.stopped();
    }

    const Address address;
    const Timing timing;
    asio::io_context io{1};
    tcp::resolver resolver{io};
    tcp::socket socket{io};
    std::error_code reached = asio::error::timed_out;
    asio::steady_timer timer{io};
    std::thread thread;

    mutable std::mutex mutex; // of the two that follow, when looked at from outside
    std::optional<Problem> lost_because;
    bool is_lost = false;

    std::array<std::uint8_t, 16384> incoming{};
    MessageReader reader;
    std::deque<Bytes> outgoing;
    std::map<std::uint32_t, std::pair<std::shared_ptr<Batch>, std::size_t>> waiting; // by handle
    std::uint32_t last_handle = 0;
    std::map<std::pair<std::uint32_t, EventId>, Handler> handlers;
    Clock::time_point last_heard;
};

Controller::Controller(std::shared_ptr<Inside> inside) : inside_(std::move(inside)) {}

Expected<std::unique_ptr<Controller>> Controller::connect(const Address& address,
                                                          const Timing& timing) {
    auto inside = std::make_shared<Inside>(address, timing);
    return inside->connect().map(
        [&] { return std::unique_ptr<Controller>(new Controller(std::move(inside))); });
}

Controller::~Controller() {
    try {
        inside_->close();
    } catch (const std::exception& error) { // without memory to say so to the other thread
        log_line(LogLevel::error, error.what());
    }
}

Expected<Parameters> Controller::call(const Call& call) {
    return std::move(call_all({call}).front());
}

std::vector<Expected<Parameters>> Controller::call_all(const std::vector<Call>& calls,
                                                       Clock::time_point until) {
    if (calls.empty()) {
        return {};
    }
    if (const auto why = lost()) {
        return std::vector<Expected<Parameters>>(calls.size(), tl::unexpected(*why));
    }
    return inside_->run(calls, until);
}

namespace {

// The event, the method that is to be called here, an empty context, reliably, to where it came
// from.
Call subscription(const MethodId& method, std::uint32_t object, const EventId& event) {
    const bool adds = method == method::add_subscription;
    Writer out;
    out.u32(object).u16(event.level).u16(event.index);
    out.u32(0).u16(1).u16(1); // whatever object we are
    if (adds) {
        out.blob({}).u8(1).blob({});
    }
    return {subscription_manager,
            method,
            {static_cast<std::uint8_t>(adds ? 5 : 2), std::move(out).bytes()}};
}

} // namespace

Expected<void> Controller::subscribe(std::uint32_t object, const EventId& event, Handler handler) {
    asio::post(inside_->io, [inside = inside_, object, event, handler = std::move(handler)] {
        inside->handlers[{object, event}] = handler;
    });
    return call(subscription(method::add_subscription, object, event)).map([](const Parameters&) {
    });
}

bool Controller::subscribe_all(const std::vector<std::uint32_t>& objects, const EventId& event,
                               const Handler& handler) {
    asio::post(inside_->io, [inside = inside_, objects, event, handler] {
        for (const std::uint32_t object : objects) {
            inside->handlers[{object, event}] = handler;
        }
    });
    std::vector<Call> calls;
    for (const std::uint32_t object : objects) {
        calls.push_back(subscription(method::add_subscription, object, event));
    }
    const auto answers = call_all(calls);
    return std::ranges::all_of(answers, [](const auto& answer) { return answer.has_value(); });
}

Expected<void> Controller::unsubscribe(std::uint32_t object, const EventId& event) {
    asio::post(inside_->io, [inside = inside_, object, event] {
        inside->handlers.erase({object, event});
    });
    return call(subscription(method::remove_subscription, object, event))
        .map([](const Parameters&) {});
}

std::optional<Problem> Controller::lost() const {
    const std::lock_guard lock(inside_->mutex);
    return inside_->lost_because;
}

const Address& Controller::address() const {
    return inside_->address;
}

} // namespace syntonon::oca
