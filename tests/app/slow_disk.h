// A disk that takes its time.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace syntonon::test {

// Every flush (fsync) of the tests' program outside its main thread waits until it is released, at
// the latest when this goes away.
class SlowDisk {
public:
    SlowDisk();
    ~SlowDisk() { release(); }
    SlowDisk(const SlowDisk&) = delete;
    SlowDisk& operator=(const SlowDisk&) = delete;

    void release();
};

} // namespace syntonon::test
