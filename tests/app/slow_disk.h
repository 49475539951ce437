// A disk that takes its time, as long as one of these lives.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace syntonon::test {

// Every flush (fsync) of the tests' program waits that long before it is done.
class SlowDisk {
public:
    explicit SlowDisk(int ms_per_flush);
    ~SlowDisk();
    SlowDisk(const SlowDisk&) = delete;
    SlowDisk& operator=(const SlowDisk&) = delete;
};

} // namespace syntonon::test
