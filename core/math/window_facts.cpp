// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/math/window_facts.h"

#include "core/base/units.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr std::size_t points_a_bin = 16;

double sum_of(std::span<const double> values) {
    double sum = 0;
    for (const double value : values) {
        sum += value;
    }
    return sum;
}

std::size_t first_minimum(const std::vector<double>& level_db) {
    std::size_t k = 1;
    while (k < level_db.size() && level_db[k] < level_db[k - 1]) {
        ++k;
    }
    return k - 1;
}

// Where the level falls through half the power, between points.
double half_power_point(const std::vector<double>& level_db) {
    const double half = db_from_power(0.5);
    const auto below = std::ranges::find_if(level_db, [&](double db) { return db < half; });
    if (below == level_db.begin() || below == level_db.end()) {
        return static_cast<double>(level_db.size() - 1);
    }
    const double share = (*(below - 1) - half) / (*(below - 1) - *below);
    return static_cast<double>(below - level_db.begin() - 1) + share;
}

} // namespace

std::optional<WindowSpectrum> window_spectrum(std::span<const double> values) {
    const double sum = std::abs(sum_of(values));
    if (values.size() < 2 || !(sum > 0)) {
        return std::nullopt;
    }
    RealFft fft(quick_fft_length(points_a_bin * values.size()));
    std::ranges::fill(fft.signal(), 0.0);
    std::ranges::copy(values, fft.signal().begin());
    fft.to_spectrum();
    WindowSpectrum spectrum;
    for (const auto& bin : fft.spectrum()) {
        spectrum.level_db.push_back(db_from_ratio(std::abs(bin) / sum));
    }
    spectrum.bins_a_point = static_cast<double>(values.size()) / static_cast<double>(fft.length());
    return spectrum;
}

std::optional<WindowFacts> window_facts(std::span<const double> values) {
    const auto spectrum = window_spectrum(values);
    if (!spectrum) {
        return std::nullopt;
    }
    const auto& level = spectrum->level_db;
    const auto count = static_cast<double>(values.size());
    const double sum = sum_of(values);
    double energy = 0;
    for (const double value : values) {
        energy += value * value;
    }
    const std::size_t minimum = first_minimum(level);
    WindowFacts facts;
    facts.side_lobe_db =
        minimum + 1 < level.size()
            ? *std::max_element(level.begin() + static_cast<std::ptrdiff_t>(minimum), level.end())
            : -infinity;
    facts.main_lobe_bins = static_cast<double>(minimum) * spectrum->bins_a_point;
    facts.half_power_bins = 2 * half_power_point(level) * spectrum->bins_a_point;
    facts.noise_bandwidth_bins = count * energy / (sum * sum);
    facts.coherent_gain = sum / count;
    return facts;
}

} // namespace syntonon
