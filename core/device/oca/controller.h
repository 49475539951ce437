// A controller's side of one connection to a device (AES70-3 over TCP): calls and their answers,
// what the device tells by itself, and that both sides are there.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/device/oca/address.h"
#include "core/device/oca/messages.h"

#include <chrono>
#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

namespace syntonon::oca {

struct Call {
    std::uint32_t object = 0;
    MethodId method;
    Parameters parameters = {};
};

struct Timing {
    int connect_ms = 3000;
    int answer_ms = 2000; // without any answer to what has been called
    int keep_alive_ms = 1000;
    int lost_after = 4; // so many of these intervals without a sign of the device
};

// May be used from several threads; what it calls back comes in a thread of its own.
class Controller {
public:
    // Refused, with the address as place: no such host, nobody there, no answer in time.
    static Expected<std::unique_ptr<Controller>> connect(const Address& address,
                                                         const Timing& timing = {});
    ~Controller();
    Controller(const Controller&) = delete;
    Controller& operator=(const Controller&) = delete;

    // Waits for the answer. Refused: another status than OK (see status.h), no answer in time, the
    // connection lost; and at once when it was lost before.
    Expected<Parameters> call(const Call& call);
    // Sent without waiting for one another, so many at a time as a small device can hold; the
    // device works on them in their order. An answer each.
    // Those that have no answer by `until` are refused as having none.
    using Clock = std::chrono::steady_clock;
    std::vector<Expected<Parameters>> call_all(const std::vector<Call>& calls,
                                               Clock::time_point until = Clock::time_point::max());

    // Events of an object from now on. Those of an object that is subscribed to twice go to the
    // later handler. Refused as a call is.
    using Handler = std::function<void(const Notification&)>;
    Expected<void> subscribe(std::uint32_t object, const EventId& event, Handler handler);
    // To all of these at once; false where one is refused.
    bool subscribe_all(const std::vector<std::uint32_t>& objects, const EventId& event,
                       const Handler& handler);
    Expected<void> unsubscribe(std::uint32_t object, const EventId& event);

    // Why there is no connection any more; nothing while there is one.
    std::optional<Problem> lost() const;
    const Address& address() const;

private:
    struct Inside;
    explicit Controller(std::shared_ptr<Inside> inside);
    std::shared_ptr<Inside> inside_;
};

} // namespace syntonon::oca
