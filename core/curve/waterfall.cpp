// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/waterfall.h"

#include "core/base/units.h"
#include "core/curve/gate.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double lowest_db = -120;

// The mean power of the bins about each point; of the nearest one where there are none.
std::vector<double> powers_at(std::span<const std::complex<double>> bins, double step_hz,
                              const std::vector<double>& frequency_hz, double half_width) {
    std::vector<double> powers;
    for (const double hz : frequency_hz) {
        const auto last = bins.size() - 1;
        auto from = static_cast<std::size_t>(std::ceil(hz / half_width / step_hz));
        auto to = static_cast<std::size_t>(hz * half_width / step_hz);
        if (from > to) {
            from = to = static_cast<std::size_t>(std::lround(hz / step_hz));
        }
        from = std::min(from, last);
        to = std::min(to, last);
        double sum = 0;
        for (std::size_t k = from; k <= to; ++k) {
            sum += std::norm(bins[k]);
        }
        powers.push_back(sum / static_cast<double>(to - from + 1));
    }
    return powers;
}

} // namespace

Waterfall waterfall_of(const ImpulseResponse& impulse, const WaterfallPlan& plan,
                       const Watch& watch) {
    Waterfall made;
    const double step = std::exp2(1 / plan.points_an_octave);
    for (double hz = plan.low_hz; hz <= std::min(plan.high_hz, impulse.sample_rate_hz / 2);
         hz *= step) {
        made.frequency_hz.push_back(hz);
    }
    const double arrival = arrival_s(impulse);
    RealFft fft(quick_fft_length(2 * std::max<std::size_t>(impulse.samples.size(), 2)));
    const double bin_hz = impulse.sample_rate_hz / static_cast<double>(fft.length());
    double greatest = 0;
    for (int slice = 0; slice < plan.slices; ++slice) {
        if (watch.is_stopped()) {
            return {};
        }
        const double from_s = plan.to_s * slice / std::max(plan.slices - 1, 1);
        std::ranges::fill(fft.signal(), 0.0);
        for (std::size_t n = 0; n < impulse.samples.size(); ++n) {
            const double s = impulse.seconds_of(n) - arrival - from_s;
            const double share = std::clamp((s + plan.rise_s) / plan.rise_s, 0.0, 1.0);
            fft.signal()[n] = impulse.samples[n] * (0.5 - 0.5 * std::cos(pi * share));
        }
        fft.to_spectrum();
        made.time_s.push_back(from_s);
        made.level_db.push_back(
            powers_at(fft.spectrum(), bin_hz, made.frequency_hz, std::sqrt(step)));
        greatest = std::max(greatest, std::ranges::max(made.level_db.back()));
    }
    if (!(greatest > 0)) {
        return {};
    }
    for (auto& slice : made.level_db) {
        for (double& level : slice) {
            level = level > 0 ? std::max(lowest_db, db_from_power(level / greatest)) : lowest_db;
        }
    }
    return made;
}

} // namespace syntonon
