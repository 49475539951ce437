// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/level_means.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

LevelMeans::LevelMeans(std::span<const double> frequency_hz, std::span<const double> level_db)
    : level_db_(level_db.begin(), level_db.end()), integral_(1, 0.0) {
    log2_hz_.reserve(frequency_hz.size());
    for (const double hz : frequency_hz) {
        log2_hz_.push_back(std::log2(hz));
    }
    for (std::size_t i = 1; i < log2_hz_.size(); ++i) {
        integral_.push_back(integral_.back()
                            + (log2_hz_[i] - log2_hz_[i - 1]) * (level_db_[i] + level_db_[i - 1])
                                  / 2);
    }
}

double LevelMeans::level_at(double log2_hz) const {
    const auto above = std::ranges::upper_bound(log2_hz_, log2_hz);
    const auto i = static_cast<std::size_t>(above - log2_hz_.begin());
    if (i == 0 || i == log2_hz_.size()) {
        return i == 0 ? level_db_.front() : level_db_.back();
    }
    const double share = (log2_hz - log2_hz_[i - 1]) / (log2_hz_[i] - log2_hz_[i - 1]);
    return std::lerp(level_db_[i - 1], level_db_[i], share);
}

double LevelMeans::integral_to(double log2_hz) const {
    const auto above = std::ranges::upper_bound(log2_hz_, log2_hz);
    const auto i = static_cast<std::size_t>(above - log2_hz_.begin());
    if (i == 0) {
        return 0;
    }
    const double part = std::min(log2_hz, log2_hz_.back()) - log2_hz_[i - 1];
    return integral_[i - 1] + part * (level_db_[i - 1] + level_at(log2_hz)) / 2;
}

double LevelMeans::over(double hz, double width_oct) const {
    const double middle = std::log2(hz);
    const double low = std::max(middle - width_oct / 2, log2_hz_.front());
    const double high = std::min(middle + width_oct / 2, log2_hz_.back());
    return high > low ? (integral_to(high) - integral_to(low)) / (high - low) : level_at(middle);
}

} // namespace syntonon
