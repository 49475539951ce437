// A filter at work on a signal that comes in blocks.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <span>

namespace syntonon {

// Made beside the thread that runs it; running it allocates nothing and takes no lock.
class Computation {
public:
    virtual ~Computation() = default;
    Computation() = default;
    Computation(const Computation&) = delete;
    Computation& operator=(const Computation&) = delete;

    // In place, going on from the block before; any number of samples, also none. How a signal is
    // parted into blocks changes no bit of the output.
    virtual void process(std::span<double> block) noexcept = 0;
    // Back to rest: the next sample is the first.
    virtual void reset() noexcept = 0;
    // The next sample is that one of the signal (0 after a reset): for what plays notes of its own.
    virtual void go_to(std::size_t) noexcept {}
};

} // namespace syntonon
