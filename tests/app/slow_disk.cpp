// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/slow_disk.h"

#include <atomic>
#include <chrono>
#include <sys/syscall.h>
#include <thread>
#include <unistd.h>

namespace syntonon::test {
namespace {

std::atomic<int> ms_of_each = 0;

} // namespace

SlowDisk::SlowDisk(int ms_per_flush) {
    ms_of_each = ms_per_flush;
}

SlowDisk::~SlowDisk() {
    ms_of_each = 0;
}

} // namespace syntonon::test

// The C library's stands behind: the program's own comes first when it is linked.
extern "C" int fsync(int fd) {
    std::this_thread::sleep_for(std::chrono::milliseconds(syntonon::test::ms_of_each));
    return static_cast<int>(::syscall(SYS_fsync, fd));
}
