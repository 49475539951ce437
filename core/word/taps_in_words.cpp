// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/taps_in_words.h"

#include "core/word/fixed_program.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

TapsInWords::TapsInWords(const std::vector<double>& taps, const Arithmetic& how) : how_(how) {
    if (!how.is_fixed()) {
        taps_ = taps;
        past_floats_.resize(2 * taps.size());
        return;
    }
    const FixedTaps program = fixed_taps(taps.size(), how);
    into_ = std::ldexp(1.0, how.data.fraction_bits);
    out_of_ = 1 / into_;
    to_sum_ = program.to_sum;
    to_data_ = program.to_data;
    double greatest_sum = 0;
    for (const double tap : taps) {
        factors_.push_back(whole_of(tap, how));
        greatest_sum += std::abs(static_cast<double>(factors_.back()));
    }
    greatest_sum = std::ldexp(greatest_sum, how.data.bits() - 1);
    is_small_ =
        to_sum_ == 0 && greatest_sum < std::ldexp(1.0, std::min(62, how.accumulator.bits() - 1));
    past_.resize(2 * taps.size());
}

double TapsInWords::step(double x) noexcept {
    const std::size_t length = factors_.size() + taps_.size(); // one of them is empty
    if (length == 0) {
        return 0; // no tap: silence
    }
    newest_ = (newest_ == 0 ? length : newest_) - 1;
    if (how_.is_fixed()) {
        past_[newest_] = past_[newest_ + length] = static_cast<std::int64_t>(x * into_);
        return fixed_sum();
    }
    past_floats_[newest_] = past_floats_[newest_ + length] = x;
    return floating_sum();
}

double TapsInWords::fixed_sum() noexcept {
    const std::int64_t* past = past_.data() + newest_;
    Wide total = 0;
    bool overflows = false;
    if (is_small_) {
        std::int64_t sum = 0;
        for (std::size_t k = 0; k < factors_.size(); ++k) {
            sum += factors_[k] * past[k];
        }
        total = sum;
    } else {
        for (std::size_t k = 0; k < factors_.size(); ++k) {
            total += shifted(Wide{factors_[k]} * past[k], to_sum_, how_.rounding);
            if (how_.accumulator_overflow == Overflow::saturate) {
                total = held(total, how_.accumulator.bits(), Overflow::saturate, overflows);
            }
        }
        total = held(total, how_.accumulator.bits(), how_.accumulator_overflow, overflows);
    }
    const Wide out =
        held(shifted(total, to_data_, how_.rounding), how_.data.bits(), how_.overflow, overflows);
    overflows_ += overflows;
    return static_cast<double>(static_cast<std::int64_t>(out)) * out_of_;
}

double TapsInWords::floating_sum() const noexcept {
    const double* past = past_floats_.data() + newest_;
    const bool is_short = how_.accumulator.kind == WordKind::float32;
    double total = 0;
    for (std::size_t k = 0; k < taps_.size(); ++k) {
        const double product = taps_[k] * past[k];
        total =
            is_short ? static_cast<float>(total + static_cast<float>(product)) : total + product;
    }
    return how_.data.kind == WordKind::float32 ? static_cast<float>(total) : total;
}

void TapsInWords::reset() noexcept {
    std::ranges::fill(past_, 0);
    std::ranges::fill(past_floats_, 0);
}

} // namespace syntonon
