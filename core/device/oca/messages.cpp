// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/messages.h"

#include <algorithm>
#include <fmt/format.h>
#include <utility>

namespace syntonon::oca {
namespace {

constexpr std::uint8_t sync_value = 0x3b;
constexpr std::uint16_t protocol_version = 1;
constexpr std::size_t header_bytes = 9; // without the sync value

enum PduType : std::uint8_t { command, command_with_response, notification, response, keep_alive };

void put(Writer& out, const MemberId& id) {
    out.u16(id.level).u16(id.index);
}
MemberId member_id(Reader& in) {
    MemberId id;
    id.level = in.u16();
    id.index = in.u16();
    return id;
}

void put(Writer& out, const Command& message) {
    out.u32(message.handle).u32(message.object);
    put(out, message.method);
    out.u8(message.parameters.count).raw(message.parameters.bytes);
}

void put(Writer& out, const Response& message) {
    out.u32(message.handle).u8(message.status);
    out.u8(message.parameters.count).raw(message.parameters.bytes);
}

void put(Writer& out, const Notification& message) {
    out.u32(message.object);
    put(out, message.method);
    out.u8(2).blob(message.context); // context and event data
    out.u32(message.emitter);
    put(out, message.event);
    out.raw(message.data);
}

PduType type_of(const Message& message) {
    if (const auto* sent = std::get_if<Command>(&message)) {
        return sent->wants_response ? command_with_response : command;
    }
    return std::holds_alternative<Response>(message)       ? response
           : std::holds_alternative<Notification>(message) ? notification
                                                           : keep_alive;
}

Bytes rest_of(Reader& in) {
    const ByteView rest = in.rest();
    return {rest.begin(), rest.end()};
}

Parameters parameters_in(Reader& in) {
    Parameters parameters;
    parameters.count = in.u8();
    parameters.bytes = rest_of(in);
    return parameters;
}

Command command_in(Reader& in, bool wants_response) {
    Command message;
    message.handle = in.u32();
    message.object = in.u32();
    message.method = member_id(in);
    message.parameters = parameters_in(in);
    message.wants_response = wants_response;
    return message;
}

Response response_in(Reader& in) {
    Response message;
    message.handle = in.u32();
    message.status = in.u8();
    message.parameters = parameters_in(in);
    return message;
}

Notification notification_in(Reader& in) {
    Notification message;
    message.object = in.u32();
    message.method = member_id(in);
    in.u8(); // how many parameters: always context and data
    message.context = in.blob();
    message.emitter = in.u32();
    message.event = member_id(in);
    message.data = rest_of(in);
    return message;
}

Message message_in(Reader& in, std::uint8_t type) {
    switch (type) {
    case response:
        return response_in(in);
    case notification:
        return notification_in(in);
    default:
        return command_in(in, type == command_with_response);
    }
}

tl::unexpected<Problem> broken(std::string reason) {
    return refuse("", std::move(reason), "is that the device's OCP.1 port?");
}

} // namespace

Bytes bytes_of(const Message& message) {
    Writer out;
    out.u8(sync_value).u16(protocol_version).u32(0).u8(type_of(message)).u16(1);
    if (const auto* kept = std::get_if<KeepAlive>(&message)) {
        if (kept->interval_ms % 1000 == 0 && kept->interval_ms / 1000 <= 0xffff) {
            out.u16(static_cast<std::uint16_t>(kept->interval_ms / 1000));
        } else {
            out.u32(kept->interval_ms);
        }
    } else {
        const std::size_t begin = out.size();
        out.u32(0);
        std::visit(
            [&](const auto& one) {
                if constexpr (!std::is_same_v<std::decay_t<decltype(one)>, KeepAlive>) {
                    put(out, one);
                }
            },
            message);
        out.u32_at(begin, static_cast<std::uint32_t>(out.size() - begin));
    }
    out.u32_at(3, static_cast<std::uint32_t>(out.size() - 1));
    return std::move(out).bytes();
}

Expected<void> MessageReader::feed(ByteView bytes) {
    if (is_broken_) {
        return broken("what came before was no OCP.1");
    }
    waiting_.insert(waiting_.end(), bytes.begin(), bytes.end());
    ByteView left = waiting_;
    Expected<void> ok;
    while (ok && !left.empty()) {
        Reader header(left);
        const std::uint8_t sync = header.u8();
        const std::uint16_t version = header.u16();
        const std::uint32_t size = header.u32();
        const bool is_read = header.ok();
        if (sync != sync_value) {
            ok = broken(fmt::format("a PDU begins with 0x{:02x}, not 0x3b", sync));
        } else if (is_read && version != protocol_version) {
            ok = broken(fmt::format("version {} of the protocol is not known", version));
        } else if (is_read && (size < header_bytes || size + std::size_t(1) > most_bytes_)) {
            ok = broken(fmt::format("a PDU of {} bytes is not taken", size));
        } else if (!is_read || left.size() < size + std::size_t(1)) {
            break;
        } else {
            ok = read_pdu(left.subspan(1, size));
            left = left.subspan(size + std::size_t(1));
        }
    }
    is_broken_ = !ok;
    waiting_.erase(waiting_.begin(), waiting_.end() - static_cast<std::ptrdiff_t>(left.size()));
    return ok;
}

Expected<void> MessageReader::read_pdu(ByteView pdu) {
    Reader in(pdu);
    in.raw(6); // version and size are known
    const std::uint8_t type = in.u8();
    const std::size_t count = in.u16();
    if (type > keep_alive) {
        return broken(fmt::format("messages of type {} are not known", type));
    }
    if (type == keep_alive) {
        if (count != 1 || (in.left() != 2 && in.left() != 4)) {
            return broken("a keep-alive is not of 2 or 4 bytes");
        }
        messages_.emplace_back(
            KeepAlive{in.left() == 2 ? std::uint32_t(1000) * in.u16() : in.u32()});
        return {};
    }
    for (std::size_t i = 0; i < count; ++i) {
        const std::uint32_t size = in.u32();
        Reader one(in.raw(size < 4 ? in.left() + 1 : size - 4)); // its size counts itself
        Message message = message_in(one, type);
        if (!in.ok() || !one.is_at_end()) {
            return broken("a message is shorter than it says");
        }
        messages_.push_back(std::move(message));
    }
    return in.is_at_end() ? Expected<void>() : broken("a PDU is longer than its messages");
}

Message MessageReader::take() {
    Message message = std::move(messages_.front());
    messages_.pop_front();
    return message;
}

} // namespace syntonon::oca
