// What controllers and devices send to each other: the messages of OCP.1 (AES70-3).
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/device/oca/bytes.h"

#include <cstdint>
#include <deque>
#include <variant>
#include <vector>

namespace syntonon::oca {

// Of an object: the level in the tree of classes that defines it, and its number there, from 1.
struct MemberId {
    std::uint16_t level = 0, index = 0;

    auto operator<=>(const MemberId&) const = default; // NOLINT(modernize-use-nullptr): it is none
};
using MethodId = MemberId;
using PropertyId = MemberId;
using EventId = MemberId;

// How many, and their bytes one after the other.
struct Parameters {
    std::uint8_t count = 0;
    Bytes bytes;

    bool operator==(const Parameters&) const = default;
};

struct Command {
    std::uint32_t handle = 0; // by which the response is told
    std::uint32_t object = 0;
    MethodId method;
    Parameters parameters;
    bool wants_response = true;

    bool operator==(const Command&) const = default;
};

struct Response {
    std::uint32_t handle = 0;
    std::uint8_t status = 0; // see status.h
    Parameters parameters;

    bool operator==(const Response&) const = default;
};

// That something has happened to `emitter`, for a method of an object at the subscriber.
struct Notification {
    std::uint32_t object = 0;
    MethodId method;
    Bytes context; // as the subscriber gave it
    std::uint32_t emitter = 0;
    EventId event;
    Bytes data;

    bool operator==(const Notification&) const = default;
};

// Who sends it is there, and sends one at least so often.
struct KeepAlive {
    std::uint32_t interval_ms = 0;

    bool operator==(const KeepAlive&) const = default;
};

using Message = std::variant<Command, Response, Notification, KeepAlive>;

// One PDU each: sync value, header (version 1), data. Parameters of one must fit 4 GiB. A
// keep-alive of whole seconds is written in 16 bits, else in 32 bits of milliseconds.
Bytes bytes_of(const Message& message);

// Messages out of bytes as they come in, whole or in pieces. Holds no more than one PDU of
// `most_bytes` and what was read of it.
class MessageReader {
public:
    // The most that OCP.1 needs here: 65535 taps as 32-bit floats and a little more.
    static constexpr std::size_t usual_most_bytes = std::size_t(1) << 19;

    explicit MessageReader(std::size_t most_bytes = usual_most_bytes) : most_bytes_(most_bytes) {}

    // Refused for good, since no sync value follows that could be trusted: no sync value, another
    // version, a PDU that is longer than allowed or whose lengths contradict one another, an
    // unknown type. What came whole before stays to be taken.
    Expected<void> feed(ByteView bytes);
    bool has_message() const { return !messages_.empty(); }
    Message take(); // the next; there must be one

private:
    Expected<void> read_pdu(ByteView pdu);

    std::size_t most_bytes_;
    Bytes waiting_;
    std::deque<Message> messages_;
    bool is_broken_ = false;
};

} // namespace syntonon::oca
