// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/harmonics.h"

#include "core/base/units.h"
#include "core/curve/deconvolution.h"
#include "core/curve/gate.h"
#include "core/curve/smoothing.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace syntonon {
namespace {

constexpr double lines_an_octave = 12, summed_oct = 1.0 / 6;

// Smoothed level of the stretch of so many samples from `begin` on, its ends faded.
std::optional<Curve> level_of(const ImpulseResponse& impulse, std::size_t begin,
                              std::size_t length) {
    constexpr double faded = 0.1; // of it at each end
    const double from_s = impulse.seconds_of(begin), to_s = impulse.seconds_of(begin + length);
    const double fade_s = faded * (to_s - from_s);
    auto curve = gated_response(impulse, {from_s, from_s + fade_s, to_s - fade_s, to_s, {}}, 0);
    if (!curve) {
        return {}; // silence
    }
    return smoothed(*curve, {SmoothingKind::octave, summed_oct, false}, lines_an_octave);
}

// Where a stretch of the response begins that lies about its peak as the harmonic's about its own.
std::size_t begin_like(const ImpulseResponse& harmonic, const ImpulseResponse& response) {
    const std::ptrdiff_t begin = harmonic.begins_at - response.begins_at;
    return static_cast<std::size_t>(std::max<std::ptrdiff_t>(begin, 0));
}

std::optional<HarmonicLevels> levels_of(const ImpulseResponse& harmonic, int order,
                                        const ImpulseResponse& response, const SweepPlan& plan) {
    const std::size_t length = harmonic.samples.size();
    const std::size_t noisy = std::min(length, response.samples.size() / 4);
    constexpr std::size_t least = 64;
    if (noisy < least) {
        return {};
    }
    const auto above = level_of(harmonic, 0, length);
    const auto played = level_of(response, begin_like(harmonic, response), length);
    const auto noise = level_of(response, response.samples.size() - noisy, noisy);
    if (!above || !played) {
        return {};
    }
    const double longer_db =
        db_from_power(static_cast<double>(length) / static_cast<double>(noisy));
    HarmonicLevels levels;
    levels.order = order;
    const CurveReader harmonic_reader(*above), response_reader(*played);
    const std::optional<CurveReader> noise_reader =
        noise ? std::optional<CurveReader>(*noise) : std::nullopt;
    const double low_hz = std::max({plan.from_hz, played->low_hz(), above->low_hz() / order});
    const double high_hz = std::min(plan.to_hz, above->high_hz()) / order;
    const double step = std::exp2(1 / lines_an_octave);
    // All orders at the same frequencies.
    for (double hz = plan.from_hz; hz <= high_hz; hz *= step) {
        if (hz < low_hz) {
            continue;
        }
        constexpr double none_db = -200;
        const double response_db = response_reader.magnitude_db_at(hz);
        levels.frequency_hz.push_back(hz);
        levels.level_db.push_back(harmonic_reader.magnitude_db_at(order * hz) - response_db);
        levels.noise_db.push_back(noise_reader ? noise_reader->magnitude_db_at(order * hz)
                                                     + longer_db - response_db
                                               : none_db);
    }
    return levels.frequency_hz.empty() ? std::nullopt : std::optional(std::move(levels));
}

} // namespace

std::vector<HarmonicLevels> harmonic_levels(const Deconvolved& made, const SweepPlan& plan) {
    std::vector<HarmonicLevels> orders;
    for (std::size_t i = 0; i < made.harmonics.size(); ++i) {
        if (auto levels =
                levels_of(made.harmonics[i], static_cast<int>(i) + 2, made.response, plan)) {
            orders.push_back(std::move(*levels));
        }
    }
    return orders;
}

bool is_noise(const HarmonicLevels& order, std::size_t at) {
    constexpr double above_db = 3;
    return order.level_db.at(at) < order.noise_db.at(at) + above_db;
}

std::vector<double> all_harmonics_db(const std::vector<HarmonicLevels>& orders) {
    std::vector<double> all;
    for (std::size_t n = 0; !orders.empty() && n < orders[0].frequency_hz.size(); ++n) {
        const double hz = orders[0].frequency_hz[n];
        double power = 0;
        for (const HarmonicLevels& order : orders) {
            const auto& at = order.frequency_hz;
            const auto behind = std::ranges::lower_bound(at, hz * (1 - 1e-9));
            const auto place = static_cast<std::size_t>(behind - at.begin());
            const bool reaches = behind != at.end() && *behind < hz * (1 + 1e-9);
            power += reaches && !is_noise(order, place) ? power_from_db(order.level_db[place]) : 0;
        }
        all.push_back(db_from_power(power));
    }
    return all;
}

} // namespace syntonon
