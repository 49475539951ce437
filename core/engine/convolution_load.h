// What FIRs take on this machine: measured with the engines that play them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/design/watch.h"

#include <cstddef>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace syntonon {

// Shares of one core's time at that sample rate: 1 is all of it.
struct ConvolutionLoad {
    std::size_t taps = 0;
    double direct = 0;                             // by a sum of products
    double block = 0;                              // by transforms of parts
    std::size_t direct_bytes = 0, block_bytes = 0; // that the engines hold
};

// From how many taps on blocks are cheaper, by a straight line between the two counts where that
// begins; nothing where it does not begin among them.
std::optional<std::size_t> break_even_taps(std::span<const ConvolutionLoad> loads);

// "256, 1500, 6000": 1 to 2^20 each. Refused at the one that is none.
Expected<std::vector<std::size_t>> tap_counts_from(std::string_view list);

// Noise through both engines in blocks of so many frames, each for some 20 ms of this thread's own
// time and the quicker of two runs. Refused when the watch is stopped.
Expected<std::vector<ConvolutionLoad>> measured_loads(std::span<const std::size_t> taps,
                                                      std::size_t block_frames,
                                                      double sample_rate_hz,
                                                      const Watch& watch = {});

// 128, 256 ... 65536.
std::vector<std::size_t> usual_tap_counts();

} // namespace syntonon
