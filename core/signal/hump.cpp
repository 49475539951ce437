// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/hump.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

// The spectrum on a logarithmic axis: humps are as wide in octaves wherever they stand. A point is
// the greatest bin around it, so that no line is lost between.
struct LogSpectrum {
    std::vector<double> hz, db;
    int points_an_octave = 24;
};

LogSpectrum on_log_axis(const Spectrum& spectrum) {
    LogSpectrum made;
    const double top = spectrum.hz_of(spectrum.db.size() - 1);
    const double step = std::exp2(1.0 / made.points_an_octave);
    std::size_t next = 1;
    for (double hz = std::max(spectrum.step_hz, 10.0); hz <= top; hz *= step) {
        const auto to = std::max(
            next + 1, static_cast<std::size_t>(std::ceil(hz * std::sqrt(step) / spectrum.step_hz)));
        if (static_cast<double>(next) * spectrum.step_hz > hz * std::sqrt(step)
            || next >= spectrum.db.size()) {
            continue; // bins are wider than points there
        }
        const auto end = std::min(to, spectrum.db.size());
        const auto highest =
            std::max_element(spectrum.db.begin() + static_cast<std::ptrdiff_t>(next),
                             spectrum.db.begin() + static_cast<std::ptrdiff_t>(end));
        made.hz.push_back(spectrum.hz_of(static_cast<std::size_t>(highest - spectrum.db.begin())));
        made.db.push_back(std::max(*highest, -250.0));
        next = end;
    }
    return made;
}

// The median within an octave to either side.
std::vector<double> surroundings_of(const LogSpectrum& spectrum) {
    std::vector<double> medians(spectrum.db.size());
    std::vector<double> near;
    for (std::size_t i = 0; i < medians.size(); ++i) {
        near.clear();
        for (std::size_t k = 0; k < medians.size(); ++k) {
            if (std::abs(std::log2(spectrum.hz[k] / spectrum.hz[i])) <= 1) {
                near.push_back(spectrum.db[k]);
            }
        }
        const auto middle = near.begin() + static_cast<std::ptrdiff_t>(near.size() / 2);
        std::nth_element(near.begin(), middle, near.end());
        medians[i] = *middle;
    }
    return medians;
}

// No lower than its neighbours: what falls off from a line is no hump of its own, however far it
// stands above what is beyond. What rounding leaves is none either.
bool is_peak(const LogSpectrum& spectrum, std::size_t i, double greatest_db) {
    constexpr std::size_t reach = 2;
    constexpr double of_rounding_db = 180;
    const std::size_t from = i - std::min(i, reach);
    const std::size_t to = std::min(i + reach + 1, spectrum.db.size());
    for (std::size_t k = from; k < to; ++k) {
        if (spectrum.db[k] > spectrum.db[i]) {
            return false;
        }
    }
    return spectrum.db[i] > greatest_db - of_rounding_db;
}

std::size_t bin_of(const Spectrum& spectrum, double hz) {
    const double bin = std::round(hz / spectrum.step_hz);
    return static_cast<std::size_t>(
        std::clamp(bin, 0.0, static_cast<double>(spectrum.db.size() - 1)));
}

// Where a tone lies between the bins: the centre of the power that stands over the surroundings. Of
// any window's main lobe that is the tone itself (its autocorrelation ends with it).
double centre_hz(const Spectrum& spectrum, std::size_t peak, double surroundings_db) {
    constexpr std::size_t reach = 4; // a Blackman-Harris window's main lobe
    const double under = power_from_db(surroundings_db);
    double power = 0, moment = 0;
    for (std::size_t k = peak - std::min(peak, reach);
         k <= std::min(peak + reach, spectrum.db.size() - 1); ++k) {
        const double over = std::max(power_from_db(spectrum.db[k]) - under, 0.0);
        power += over;
        moment += over * (static_cast<double>(k) - static_cast<double>(peak));
    }
    const double off = power > 0 ? std::clamp(moment / power, -1.0, 1.0) : 0;
    return spectrum.hz_of(peak) + off * spectrum.step_hz;
}

// From the peak outwards to where the spectrum first falls below.
Hump around(const Spectrum& spectrum, std::size_t peak, double surroundings_db) {
    Hump hump;
    hump.at_hz = spectrum.hz_of(peak);
    hump.stands_db = spectrum.db[peak] - surroundings_db;
    const double half_db = surroundings_db + hump.stands_db / 2;
    // Noise has dips: those narrower than this share are crossed.
    constexpr double dip = 0.06;
    const auto edge = [&](int direction) {
        std::size_t last = peak;
        for (std::size_t k = peak; k > 0 && k + 1 < spectrum.db.size();
             k += static_cast<std::size_t>(direction)) {
            if (spectrum.db[k] >= half_db) {
                last = k;
            } else if (std::abs(static_cast<double>(k) - static_cast<double>(last))
                       > std::max(2.0, dip * static_cast<double>(last))) {
                break;
            }
        }
        return last;
    };
    const std::size_t low = edge(-1), high = edge(1);
    constexpr std::size_t widest_line = 6; // most of a Blackman-Harris window's main lobe
    hump.is_line = high - low <= widest_line && static_cast<double>(high) > 20;
    if (hump.is_line) {
        hump.at_hz = centre_hz(spectrum, peak, surroundings_db);
    }
    hump.from_hz = std::max(spectrum.hz_of(low) - spectrum.step_hz / 2, 0.0);
    hump.to_hz = spectrum.hz_of(high) + spectrum.step_hz / 2;
    return hump;
}

} // namespace

std::vector<Hump> humps_of(const Spectrum& spectrum, double least_db) {
    std::vector<Hump> humps;
    if (spectrum.db.size() < 2) {
        return humps;
    }
    const LogSpectrum points = on_log_axis(spectrum);
    const std::vector<double> around_db = surroundings_of(points);
    std::vector<std::size_t> order;
    const double greatest_db = *std::ranges::max_element(spectrum.db);
    for (std::size_t i = 0; i < points.db.size(); ++i) {
        if (points.db[i] - around_db[i] >= least_db && is_peak(points, i, greatest_db)) {
            order.push_back(i);
        }
    }
    std::ranges::sort(order, [&](std::size_t a, std::size_t b) {
        return points.db[a] - around_db[a] > points.db[b] - around_db[b];
    });
    for (const std::size_t i : order) {
        const bool is_taken = std::ranges::any_of(humps, [&](const Hump& hump) {
            return points.hz[i] >= hump.from_hz && points.hz[i] <= hump.to_hz;
        });
        if (!is_taken) {
            humps.push_back(around(spectrum, bin_of(spectrum, points.hz[i]), around_db[i]));
        }
    }
    return humps;
}

std::optional<Hump> hump_at(const std::vector<Hump>& humps, double hz) {
    constexpr double reach_oct = 1.0 / 12;
    const Hump* best = nullptr;
    for (const Hump& hump : humps) {
        const bool holds = hz >= hump.from_hz && hz <= hump.to_hz;
        if (holds || std::abs(octaves_between(hump.at_hz, hz)) <= reach_oct) {
            best = best == nullptr || (holds && !(best->from_hz <= hz && hz <= best->to_hz)) ? &hump
                                                                                             : best;
        }
    }
    return best == nullptr ? std::nullopt : std::optional(*best);
}

Hump hump_between(const Spectrum& spectrum, double from_hz, double to_hz) {
    const std::size_t low = bin_of(spectrum, from_hz), high = bin_of(spectrum, to_hz);
    const auto first = spectrum.db.begin() + static_cast<std::ptrdiff_t>(low);
    const auto last = spectrum.db.begin() + static_cast<std::ptrdiff_t>(high) + 1;
    const auto peak = static_cast<std::size_t>(std::max_element(first, last) - spectrum.db.begin());
    Hump hump;
    hump.from_hz = from_hz;
    hump.to_hz = to_hz;
    hump.at_hz = spectrum.hz_of(peak);
    hump.stands_db = spectrum.db[peak] - (spectrum.db[low] + spectrum.db[high]) / 2;
    return hump;
}

} // namespace syntonon
