// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/slow_disk.h"

#include <atomic>
#include <sys/syscall.h>
#include <unistd.h>

namespace syntonon::test {
namespace {

std::atomic<bool> is_held = false;

} // namespace

SlowDisk::SlowDisk() {
    is_held = true;
}

void SlowDisk::release() {
    is_held = false;
    is_held.notify_all();
}

} // namespace syntonon::test

// The C library's stands behind: the program's own comes first when it is linked.
extern "C" int fsync(int fd) {
    if (::gettid() != ::getpid()) { // the main thread is who releases it
        syntonon::test::is_held.wait(true);
    }
    return static_cast<int>(::syscall(SYS_fsync, fd));
}
