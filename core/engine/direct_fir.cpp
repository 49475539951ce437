// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/direct_fir.h"

#include <algorithm>

namespace syntonon {
namespace {

constexpr std::size_t most_at_once = 256;

} // namespace

DirectFir::DirectFir(std::span<const double> taps)
    : taps_(taps.begin(), taps.end()), sums_(most_at_once) {
    if (taps_.empty()) {
        taps_.push_back(0);
    }
    window_.resize(taps_.size() - 1 + most_at_once);
}

void DirectFir::reset() noexcept {
    std::ranges::fill(window_, 0.0);
}

void DirectFir::process(std::span<double> block) noexcept {
    while (!block.empty()) {
        const std::size_t count = std::min(block.size(), most_at_once);
        process_some(block.first(count));
        block = block.subspan(count);
    }
}

// Tap by tap over the whole block: the compiler makes vectors of it without changing the order in
// which a sample's products are added.
void DirectFir::process_some(std::span<double> block) noexcept {
    const std::size_t count = block.size(), past = taps_.size() - 1;
    std::ranges::copy(block, window_.begin() + static_cast<std::ptrdiff_t>(past));
    double* const sums = sums_.data();
    std::fill_n(sums, count, 0.0);
    for (std::size_t k = 0; k <= past; ++k) {
        const double tap = taps_[k];
        const double* const x = window_.data() + (past - k);
        for (std::size_t n = 0; n < count; ++n) {
            sums[n] += tap * x[n];
        }
    }
    std::copy_n(sums, count, block.begin());
    std::copy(window_.begin() + static_cast<std::ptrdiff_t>(count),
              window_.begin() + static_cast<std::ptrdiff_t>(count + past), window_.begin());
}

} // namespace syntonon
