// Devices that answer nonsense, too much, or nothing: reading them ends soon and in words.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/device_tree.h"

#include <arpa/inet.h>
#include <atomic>
#include <chrono>
#include <fstream>
#include <functional>
#include <gtest/gtest.h>
#include <netinet/in.h>
#include <sys/socket.h>
#include <thread>
#include <unistd.h>

namespace syntonon::oca {
namespace {

constexpr Timing little_patience = {1000, 300, 100, 4};
constexpr std::chrono::seconds longest{5};
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
constexpr double most_megabytes = 1000; // what a sanitizer keeps is not the program's
#else
constexpr double most_megabytes = 64;
#endif

double resident_megabytes() {
    std::ifstream status("/proc/self/statm");
    double pages = 0;
    status >> pages >> pages;
    return pages * static_cast<double>(sysconf(_SC_PAGESIZE)) / 1e6;
}

// Takes one connection and answers every command by `answer`.
class Hostile {
public:
    using Answer = std::function<Bytes(const Command&)>;
    explicit Hostile(Answer answer, Bytes greeting = {}, bool repeats = false) {
        listening_ = socket(AF_INET, SOCK_STREAM, 0);
        sockaddr_in at{};
        at.sin_family = AF_INET;
        at.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
        socklen_t size = sizeof(at);
        auto* address = reinterpret_cast<sockaddr*>(&at);
        EXPECT_EQ(bind(listening_, address, size), 0);
        EXPECT_EQ(listen(listening_, 1), 0);
        EXPECT_EQ(getsockname(listening_, address, &size), 0);
        port_ = ntohs(at.sin_port);
        thread_ = std::thread([this, answer = std::move(answer), greeting = std::move(greeting),
                               repeats] { serve(answer, greeting, repeats); });
    }
    ~Hostile() {
        is_over_ = true;
        shutdown(listening_, SHUT_RDWR);
        close(listening_);
        thread_.join();
    }
    Address address() const { return {"127.0.0.1", port_}; }

private:
    static bool send_all(int to, const Bytes& bytes) {
        for (std::size_t at = 0; at < bytes.size();) {
            const auto sent = send(to, bytes.data() + at, bytes.size() - at, MSG_NOSIGNAL);
            if (sent <= 0) {
                return false;
            }
            at += static_cast<std::size_t>(sent);
        }
        return true;
    }
    void serve(const Answer& answer, const Bytes& greeting, bool repeats) {
        const int with = accept(listening_, nullptr, nullptr);
        if (with < 0) {
            return;
        }
        bool goes_on = send_all(with, greeting);
        while (repeats && goes_on && !is_over_) {
            goes_on = send_all(with, greeting);
        }
        MessageReader reader;
        Bytes incoming(65536);
        while (goes_on && !is_over_) {
            const auto got = recv(with, incoming.data(), incoming.size(), 0);
            if (got <= 0 || !reader.feed(ByteView(incoming).first(static_cast<std::size_t>(got)))) {
                break;
            }
            while (reader.has_message() && goes_on) {
                const Message message = reader.take();
                if (const auto* command = std::get_if<Command>(&message)) {
                    goes_on = send_all(with, answer(*command));
                }
            }
        }
        close(with);
    }

    int listening_ = -1;
    std::uint16_t port_ = 0;
    std::atomic<bool> is_over_ = false;
    std::thread thread_;
};

// In words, in time, in little memory.
void expect_refusal(const Hostile& device) {
    const double before = resident_megabytes();
    const auto begin = std::chrono::steady_clock::now();
    const auto tree =
        Controller::connect(device.address(), little_patience)
            .and_then([](const std::unique_ptr<Controller>& made) { return read_tree(*made); });
    EXPECT_FALSE(tree);
    EXPECT_LT(std::chrono::steady_clock::now() - begin, longest);
    EXPECT_LT(resident_megabytes() - before, most_megabytes);
    if (!tree) {
        EXPECT_FALSE(tree.error().reason.empty());
        EXPECT_FALSE(tree.error().way_out.empty()) << to_text(tree.error());
    }
}

Bytes no_answer_at_all(const Command&) {
    return {};
}
Bytes answer_to(const Command& to, std::uint8_t count, Bytes bytes) {
    return bytes_of(Response{to.handle, 0, {count, std::move(bytes)}});
}
// A block's members from one number on, blocks all of them.
Bytes blocks(std::uint32_t from, std::uint16_t count) {
    Writer out;
    out.u16(count);
    for (std::uint32_t i = 0; i < count; ++i) {
        out.u32(from + i).u16(3).u16(1).u16(1).u16(3).u16(2);
    }
    return std::move(out).bytes();
}
bool asks_for_members(const Command& command) {
    return command.method == MethodId{3, 5};
}

TEST(HostileDevice, AnotherProtocolIsNoDevice) {
    const std::string_view greeting = "HTTP/1.1 400 Bad Request\r\n\r\n";
    expect_refusal(Hostile(no_answer_at_all, Bytes(greeting.begin(), greeting.end())));
}

TEST(HostileDevice, AnEndlessMessageIsNotWaitedFor) {
    Writer out;
    out.u8(0x3b).u16(1).u32(0x7fffffff).u8(3).u16(1);
    expect_refusal(Hostile(no_answer_at_all, out.bytes()));
}

TEST(HostileDevice, SilenceEnds) {
    expect_refusal(Hostile(no_answer_at_all));
}

TEST(HostileDevice, AFloodOfNotificationsIsLetBy) {
    const Bytes one = bytes_of(Notification{0, {1, 1}, {}, 5, {1, 1}, Bytes(60'000)});
    expect_refusal(Hostile(no_answer_at_all, one, true));
}

TEST(HostileDevice, AHundredThousandObjectsAreNotRead) {
    expect_refusal(Hostile([](const Command& command) {
        return asks_for_members(command) ? answer_to(command, 1, blocks(1000, 30'000))
                                         : answer_to(command, 1, {0, 1, 'x'});
    }));
}

TEST(HostileDevice, BlocksInBlocksEnd) {
    expect_refusal(Hostile([next = std::uint32_t(1000)](const Command& command) mutable {
        return asks_for_members(command) ? answer_to(command, 1, blocks(next++, 1))
                                         : answer_to(command, 1, {0, 1, 'x'});
    }));
}

TEST(HostileDevice, LongNamesAreCut) {
    Hostile device([](const Command& command) {
        if (asks_for_members(command)) {
            return answer_to(command, 1,
                             command.object == root_block ? blocks(1000, 200) : Bytes{0, 0});
        }
        Writer name;
        name.text(std::string(65'000, 'x'));
        return answer_to(command, 1, name.bytes());
    });
    const double before = resident_megabytes();
    const auto controller = Controller::connect(device.address());
    ASSERT_TRUE(controller);
    const auto tree = read_tree(**controller);
    ASSERT_TRUE(tree) << to_text(tree.error());
    EXPECT_EQ(tree->objects.size(), 200u);
    EXPECT_EQ(tree->objects[0].role.size(), 64u);
    EXPECT_LT(resident_megabytes() - before, most_megabytes);
}

// Answers that are not what was asked for.
TEST(HostileDevice, ListsThatDoNotHoldWhatTheySayAreRefused) {
    expect_refusal(Hostile([](const Command& command) {
        return asks_for_members(command) ? answer_to(command, 1, {0xff, 0xff, 0, 0})
                                         : answer_to(command, 1, {});
    }));
}

} // namespace
} // namespace syntonon::oca
