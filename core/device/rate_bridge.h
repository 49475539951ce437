// What is rendered at one sample rate, for a device that plays at another.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <functional>
#include <memory>
#include <span>
#include <vector>

struct SRC_STATE_tag;

namespace syntonon {

// A band-limited conversion, mono, up to 256 times either way. What lies above half of the lower
// rate is left out.
class RateBridge {
public:
    using Fill = std::function<void(std::span<double>)>; // at the first rate

    static Expected<std::unique_ptr<RateBridge>> between(double from_hz, double to_hz, Fill fill);
    // The next samples at the second rate. Neither allocates nor waits.
    void fill(std::span<double> out);

private:
    static constexpr std::size_t at_once = 64; // few: they are heard later
    using Converter = std::unique_ptr<SRC_STATE_tag, SRC_STATE_tag* (*)(SRC_STATE_tag*)>;

    RateBridge(Converter converter, double ratio, Fill fill);

    Converter converter_;
    double ratio_;
    Fill fill_;
    std::vector<double> rendered_;
    std::vector<float> in_, out_;
    std::size_t used_ = at_once; // of in_
};

} // namespace syntonon
