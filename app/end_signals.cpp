// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/end_signals.h"

#include <QSocketNotifier>
#include <array>
#include <csignal>
#include <sys/socket.h>
#include <unistd.h>

namespace syntonon {
namespace {

constexpr std::array ends = {SIGTERM, SIGHUP, SIGINT};
std::array<int, 2> sockets = {-1, -1}; // a handler may do little more than write(2)

extern "C" void tell_event_loop(int) {
    const char byte = 1;
    [[maybe_unused]] const auto written = ::write(sockets[0], &byte, 1);
}

void set_handler(void (*handler)(int), int flags) {
    struct sigaction action {};
    action.sa_handler = handler;
    action.sa_flags = flags;
    ::sigemptyset(&action.sa_mask);
    for (const int signal : ends) {
        ::sigaction(signal, &action, nullptr);
    }
}

} // namespace

EndSignals::EndSignals(QObject* parent) : QObject(parent) {
    if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, sockets.data()) != 0) {
        return; // then they end the program as they always do
    }
    notifier_ = new QSocketNotifier(sockets[1], QSocketNotifier::Read, this);
    connect(notifier_, &QSocketNotifier::activated, this, [this] {
        char byte = 0;
        if (::read(sockets[1], &byte, 1) == 1) {
            emit end_asked_for();
        }
    });
    // Once each: a second one must be able to end a program that hangs.
    set_handler(tell_event_loop, SA_RESTART | static_cast<int>(SA_RESETHAND));
}

EndSignals::~EndSignals() {
    if (notifier_ != nullptr) {
        set_handler(SIG_DFL, 0);
        ::close(sockets[0]);
        ::close(sockets[1]);
    }
}

} // namespace syntonon
