// A sound server of the test's own with a sink that leads nowhere, started and stopped with it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "tests/support/scratch.h"

#include <string>
#include <sys/types.h>
#include <vector>

namespace syntonon::test {

class PulseServer {
public:
    PulseServer(); // is_there() says whether it came up
    ~PulseServer();
    PulseServer(const PulseServer&) = delete;
    PulseServer& operator=(const PulseServer&) = delete;

    bool is_there() const { return there_; }
    void stop(); // as when a device vanishes

    // What is played from now on, one channel at 48 kHz, into a file, until stop_recording().
    void start_recording();
    std::vector<float> stop_recording();

private:
    static pid_t start(const std::vector<std::string>& call, const std::string& out);
    static void end(pid_t& process);

    Scratch scratch_;
    std::string before_; // the environment's
    pid_t server_ = 0, recorder_ = 0;
    bool there_ = false;
};

} // namespace syntonon::test
