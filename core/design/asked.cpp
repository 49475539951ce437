// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/asked.h"

#include <algorithm>
#include <cmath>
#include <ranges>

namespace syntonon {
namespace {

std::optional<double> at_index(const std::vector<double>& values, std::size_t i) {
    return values.empty() ? std::nullopt : std::optional(values[i]);
}

std::optional<double> between(std::optional<double> a, std::optional<double> b, double share) {
    return a && b ? std::optional(std::lerp(*a, *b, share)) : std::nullopt;
}

} // namespace

Asked asked_at(const WishedPart& part, std::size_t i) {
    return {part.frequency_hz[i], at_index(part.level_db, i), at_index(part.lower_db, i),
            at_index(part.upper_db, i), at_index(part.weight, i).value_or(1)};
}

Asked between(const Asked& a, const Asked& b, double share) {
    const double hz = share == 1 ? b.hz
                      : a.hz > 0 ? a.hz * std::pow(b.hz / a.hz, share)
                                 : b.hz * share;
    return {hz, between(a.level_db, b.level_db, share), between(a.lower_db, b.lower_db, share),
            between(a.upper_db, b.upper_db, share),
            a.weight * std::pow(b.weight / a.weight, share)};
}

std::optional<Asked> asked_at(const Wished& wished, double hz) {
    // The last that has begun.
    const auto after = std::ranges::find_if(
        wished, [hz](const WishedPart& part) { return part.frequency_hz.front() > hz; });
    if (after == wished.begin() || std::prev(after)->frequency_hz.back() < hz) {
        return std::nullopt;
    }
    const WishedPart& part = *std::prev(after);
    const auto above = std::ranges::upper_bound(part.frequency_hz, hz);
    const std::size_t i = std::min(static_cast<std::size_t>(above - part.frequency_hz.begin()),
                                   part.frequency_hz.size() - 1);
    if (i == 0) {
        return asked_at(part, 0);
    }
    const double low = part.frequency_hz[i - 1], high = part.frequency_hz[i];
    const double share = low > 0 ? std::log(hz / low) / std::log(high / low) : hz / high;
    return between(asked_at(part, i - 1), asked_at(part, i), share);
}

} // namespace syntonon
