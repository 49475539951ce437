// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/asked_bands.h"

#include "core/base/units.h"
#include "core/design/fir/band_measures.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace syntonon {
namespace {

Amplitude bands_by_edges(const FirSpec& spec, std::span<const double> taps, double rate) {
    const auto& windowed = std::get<WindowedFir>(spec.method);
    std::vector<double> edges;
    for (std::size_t i = 0; i < (has_two_edges(windowed.band) ? 2u : 1u); ++i) {
        edges.push_back(rad_per_sample_from_hz(windowed.edges_hz[i], rate));
    }
    return natural_bands(taps, edges,
                         windowed.band == ClassicalBand::low_pass
                             || windowed.band == ClassicalBand::band_stop);
}

} // namespace

bool is_by_edges(const FirSpec& spec) {
    const auto* windowed = std::get_if<WindowedFir>(&spec.method);
    return windowed != nullptr && windowed->by == WindowedFir::By::edges;
}

bool is_asked_for_bands(const FirSpec& spec) {
    return is_by_edges(spec) || takes_bands(spec) || tolerances_in_force(spec) != nullptr;
}

Expected<Amplitude> bands_asked_for(const FirSpec& spec, const Brief& brief,
                                    std::span<const double> taps) {
    const double rate = brief.sample_rate_hz;
    if (is_by_edges(spec)) {
        return bands_by_edges(spec, taps, rate);
    }
    if (const Tolerances* tolerances = tolerances_in_force(spec)) {
        return amplitude_of(*tolerances, band_of(spec), rate);
    }
    return weighted_amplitude_of(spec.wish, brief, Least::greatest_error);
}

Expected<FirSpec> with_own_bands(FirSpec spec, const Brief& brief) {
    if (!spec.wish.use_goal) {
        return spec;
    }
    const Least least = std::holds_alternative<LeastSquaresFir>(spec.method)
                            ? Least::squared_error
                            : Least::greatest_error;
    const double rate = brief.sample_rate_hz;
    return amplitude_of_goal(brief, least).map([&](const Amplitude& wanted) {
        spec.wish.use_goal = false;
        spec.wish.bands.clear();
        for (const AmplitudePiece& piece : wanted) {
            const LinePiece& line = piece.gain;
            spec.wish.bands.push_back(
                {hz_from_rad_per_sample(line.from, rate),
                 std::min(hz_from_rad_per_sample(line.to, rate), rate / 2),
                 line.at_from,
                 line.at_to == line.at_from ? std::nullopt : std::optional(line.at_to),
                 piece.weight,
                 {}});
        }
        return spec;
    });
}

void scale_gaps(std::vector<FirBand>& bands, double ratio) {
    std::ranges::sort(bands, {}, &FirBand::from_hz);
    constexpr double kept = 0.05;
    const std::vector<FirBand> before = bands;
    for (std::size_t i = 0; i + 1 < bands.size(); ++i) {
        const FirBand &low = before[i], &high = before[i + 1];
        if (low.gain_to.value_or(low.gain) == high.gain || high.from_hz <= low.to_hz) {
            continue;
        }
        const double middle = (low.to_hz + high.from_hz) / 2;
        const double half = ratio * (high.from_hz - low.to_hz) / 2;
        bands[i].to_hz = std::max(middle - half, std::lerp(low.from_hz, low.to_hz, kept));
        bands[i + 1].from_hz = std::min(middle + half, std::lerp(high.to_hz, high.from_hz, kept));
    }
}

} // namespace syntonon
