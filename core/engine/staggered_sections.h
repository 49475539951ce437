// Eight sections of a cascade at a time, in transposed direct form II.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/engine/engine.h"
#include "core/filter/biquad.h"

#include <array>
#include <vector>

namespace syntonon {

// A section waits for its own last sample only, so that the next one can be at work on the sample
// before: section i takes sample n - i in step n, and eight of them make two vectors. Every block
// ends with all of them at its last sample, so that nothing comes late.
class StaggeredSections final : public Engine {
public:
    explicit StaggeredSections(const Cascade& cascade);
    void process(std::span<double> block) noexcept override;
    void reset() noexcept override;

    static constexpr std::size_t at_a_time = 8;
    struct alignas(32) Group {
        std::array<double, at_a_time> b0, b1, b2, a1, a2, s1, s2;
    };

private:
    std::vector<Group> groups_;
};

} // namespace syntonon
