// An FIR as the sum that defines it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/engine/engine.h"

#include <vector>

namespace syntonon {

// y[n] = sum h[k] x[n-k], k ascending; a multiplication a tap and sample.
class DirectFir final : public Engine {
public:
    explicit DirectFir(std::span<const double> taps);
    void process(std::span<double> block) noexcept override;
    void reset() noexcept override;
    std::size_t held_numbers() const noexcept { // of 8 bytes each
        return taps_.size() + window_.size() + sums_.size();
    }

private:
    void process_some(std::span<double> block) noexcept;

    std::vector<double> taps_;
    std::vector<double> window_; // the last taps - 1 inputs, then those of the block
    std::vector<double> sums_;
};

} // namespace syntonon
