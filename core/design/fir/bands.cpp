// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/bands.h"

#include "core/base/number_text.h"
#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace syntonon {
namespace {

std::string place(std::size_t band, const char* key) {
    return fmt::format("bands[{}].{}", band, key);
}

Expected<void> check_band(const FirBand& band, std::size_t i, double rate) {
    const std::array<std::pair<const char*, double>, 5> numbers{
        {{"from_hz", band.from_hz},
         {"to_hz", band.to_hz},
         {"gain", band.gain},
         {"gain_to", band.gain_to.value_or(0)},
         {"weight", band.weight}}};
    for (const auto& [key, value] : numbers) {
        if (!std::isfinite(value)) {
            return refuse(place(i, key), "is not a finite number", "give a number");
        }
    }
    if (band.from_hz < 0) {
        return refuse(place(i, "from_hz"), "is below 0 Hz", "begin at 0 Hz");
    }
    if (!(band.from_hz < band.to_hz)) {
        return refuse(place(i, "to_hz"),
                      fmt::format("{} Hz is not above {} Hz, where the band begins", band.to_hz,
                                  band.from_hz),
                      "give the band some width");
    }
    if (band.to_hz > rate / 2 * (1 + 1e-12)) {
        return refuse(
            place(i, "to_hz"),
            fmt::format("{} Hz is above half the sample rate ({} Hz)", band.to_hz, rate / 2),
            "end the band there");
    }
    if (!(band.weight > 0)) {
        return refuse(place(i, "weight"), fmt::format("{} is not positive", band.weight),
                      "leave the band out where nothing counts");
    }
    return {};
}

Expected<Amplitude> amplitude_of_bands(const std::vector<FirBand>& bands, double rate) {
    if (bands.empty()) {
        return refuse("bands", "are none", "state at least one");
    }
    std::vector<std::size_t> order(bands.size());
    std::iota(order.begin(), order.end(), std::size_t(0));
    std::ranges::sort(order, {}, [&](std::size_t i) { return bands[i].from_hz; });
    Amplitude wanted;
    for (const std::size_t i : order) {
        const FirBand& band = bands[i];
        if (auto ok = check_band(band, i, rate); !ok) {
            return tl::unexpected(ok.error());
        }
        const double from = rad_per_sample_from_hz(band.from_hz, rate);
        const double to = std::min(rad_per_sample_from_hz(band.to_hz, rate), pi);
        if (!wanted.empty() && from < wanted.back().gain.to) {
            return refuse(
                place(i, "from_hz"),
                fmt::format(
                    "{} Hz lies in another band, which goes to {} Hz", band.from_hz,
                    text_with_digits(hz_from_rad_per_sample(wanted.back().gain.to, rate), 6)),
                "let bands begin where the one before has ended");
        }
        wanted.push_back({{from, to, band.gain, band.gain_to.value_or(band.gain)}, band.weight});
    }
    const bool is_silence = std::ranges::all_of(wanted, [](const AmplitudePiece& piece) {
        return piece.gain.at_from == 0 && piece.gain.at_to == 0;
    });
    if (is_silence) {
        return refuse("bands", "ask for silence everywhere", "give one of them a gain");
    }
    return wanted;
}

// Where the weight changes by a step, and where it bends.
std::vector<double> steps_of(const WeightCurve& points, double from_hz, double to_hz) {
    constexpr double step = 0.03;
    std::vector<double> hz{from_hz};
    for (std::size_t i = 0; i + 1 < points.size(); ++i) {
        const WeightPoint &a = points[i], &b = points[i + 1];
        const double turns = std::abs(std::log(b.weight / a.weight)) / std::log1p(step);
        const int count = std::max(1, static_cast<int>(std::ceil(turns)));
        for (int k = 0; k <= count; ++k) {
            const double part = static_cast<double>(k) / count;
            const double f = a.frequency_hz * std::pow(b.frequency_hz / a.frequency_hz, part);
            if (f > hz.back() * (1 + 1e-9) && f < to_hz * (1 - 1e-9)) {
                hz.push_back(f);
            }
        }
    }
    hz.push_back(to_hz);
    return hz;
}

void add_weighted(const AmplitudePiece& piece, const WeightCurve& points, double rate,
                  Amplitude& all) {
    const LinePiece& line = piece.gain;
    const auto hz = steps_of(points, hz_from_rad_per_sample(line.from, rate),
                             hz_from_rad_per_sample(line.to, rate));
    double from = line.from;
    for (std::size_t i = 0; i + 1 < hz.size(); ++i) {
        const double to = i + 2 < hz.size() ? rad_per_sample_from_hz(hz[i + 1], rate) : line.to;
        const double middle = (hz[i] + hz[i + 1]) / 2;
        all.push_back(
            {{from, to, line.at(from), line.at(to)}, piece.weight * weight_at(points, middle)});
        from = to;
    }
}

} // namespace

Expected<Amplitude> weighted_amplitude_of(const FirWish& wish, const Brief& brief, Least least) {
    if (auto ok = check(wish.weights, fir_weights); !ok) {
        return tl::unexpected(within("weights", ok.error()));
    }
    return amplitude_of(wish, brief, least).map([&](const Amplitude& wanted) {
        if (wish.weights.empty()) {
            return wanted;
        }
        Amplitude all;
        for (const AmplitudePiece& piece : wanted) {
            add_weighted(piece, wish.weights, brief.sample_rate_hz, all);
        }
        return all;
    });
}

Expected<Amplitude> amplitude_of(const FirWish& wish, const Brief& brief, Least least) {
    return wish.use_goal ? amplitude_of_goal(brief, least)
                         : amplitude_of_bands(wish.bands, brief.sample_rate_hz);
}

std::vector<LinePiece> joined(const Amplitude& wanted) {
    std::vector<LinePiece> lines;
    const LinePiece& first = wanted.front().gain;
    if (first.from > 0) {
        lines.push_back({0, first.from, first.at_from, first.at_from});
    }
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        const LinePiece& line = wanted[i].gain;
        lines.push_back(line);
        if (i + 1 < wanted.size() && wanted[i + 1].gain.from > line.to) {
            const LinePiece& next = wanted[i + 1].gain;
            lines.push_back({line.to, next.from, line.at_to, next.at_from});
        }
    }
    const LinePiece& last = wanted.back().gain;
    if (last.to < pi) {
        lines.push_back({last.to, pi, last.at_to, last.at_to});
    }
    return lines;
}

Expected<void> check_reach(const LinearPhaseType& type, const Amplitude& wanted) {
    const LinePiece& first = wanted.front().gain;
    const LinePiece& last = wanted.back().gain;
    const std::string name = fmt::format(
        "{} taps with {} symmetry (type {})", type.length(), type.is_odd() ? "odd" : "even",
        std::array{"I", "II", "III", "IV"}[static_cast<std::size_t>(type.number() - 1)]);
    if (type.unknowns() == 0) {
        return refuse("length", "one tap with odd symmetry can only be 0", "take more taps");
    }
    if (type.is_zero_at_0() && first.from == 0 && first.at_from != 0) {
        return refuse("symmetry", name + " let nothing through at 0 Hz",
                      "begin the band above 0 Hz, or use even symmetry");
    }
    if (type.is_zero_at_pi() && last.to >= pi && last.at_to != 0) {
        return refuse("length", name + " let nothing through at half the sample rate",
                      fmt::format("end the band below, or use {} or {} taps", type.length() - 1,
                                  type.length() + 1));
    }
    return {};
}

} // namespace syntonon
