// An FIR at work in a processor's words, to the last bit.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/arithmetic.h"
#include "core/word/wide.h"

#include <cstdint>
#include <vector>

namespace syntonon {

// y[n] = sum of h[k] x[n - k], the newest sample first, in one accumulator. The taps are words
// already.
class TapsInWords {
public:
    TapsInWords(const std::vector<double>& taps, const Arithmetic& how);
    double step(double x) noexcept; // values of the data word
    void reset() noexcept;
    std::int64_t overflows() const { return overflows_; }

private:
    double fixed_sum() noexcept;
    double floating_sum() const noexcept;

    Arithmetic how_;
    double into_ = 1, out_of_ = 1;
    int to_sum_ = 0, to_data_ = 0;
    bool is_small_ = false; // no partial sum leaves 63 bits, nor the accumulator
    std::vector<std::int64_t> factors_;
    std::vector<double> taps_;
    // The last samples, twice one after the other, so that they stand in one row wherever the
    // newest is.
    std::vector<std::int64_t> past_;
    std::vector<double> past_floats_;
    std::size_t newest_ = 0;
    std::int64_t overflows_ = 0;
};

} // namespace syntonon
