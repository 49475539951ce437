// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/gate.h"

#include "core/base/units.h"
#include "core/math/fft.h"
#include "core/math/window.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <fmt/format.h>

namespace syntonon {
namespace {

// From 0 to 1 as half a period of a cosine.
double rise(double share) {
    return share <= 0 ? 0 : share >= 1 ? 1 : 0.5 - 0.5 * std::cos(pi * share);
}

double share_between(double from, double to, double value) {
    return to > from ? (value - from) / (to - from) : value >= to ? 1 : 0;
}

// The samples that the gate lets through, and where the first of them stands.
struct Gated {
    std::vector<double> samples;
    double begins_s = 0; // after the middle
};

Gated gated(const ImpulseResponse& impulse, const Gate& gate, double middle_s) {
    Gated made;
    for (std::size_t n = 0; n < impulse.samples.size(); ++n) {
        const double s = impulse.seconds_of(n) - middle_s;
        if (s < gate.from_s || s > gate.to_s) {
            continue;
        }
        if (made.samples.empty()) {
            made.begins_s = s;
        }
        made.samples.push_back(impulse.samples[n] * gate_at(gate, s));
    }
    return made;
}

// Without the standard's care for infinities, which costs more than the product.
std::complex<double> times(std::complex<double> a, std::complex<double> b) {
    return {a.real() * b.real() - a.imag() * b.imag(), a.real() * b.imag() + a.imag() * b.real()};
}

void add_point(Curve& curve, double hz, std::complex<double> value) {
    constexpr double least_db = -400;
    const double magnitude = std::sqrt(std::norm(value));
    curve.frequency_hz.push_back(hz);
    curve.magnitude_db.push_back(magnitude > 0 ? std::max(db_from_ratio(magnitude), least_db)
                                               : least_db);
    curve.phase_deg.push_back(deg_from_rad(std::arg(value)));
}

void add_bins(const Gated& part, double rate_hz, double from_hz, Curve& curve) {
    RealFft fft(quick_fft_length(std::max<std::size_t>(part.samples.size(), 2)));
    std::ranges::fill(std::ranges::copy(part.samples, fft.signal().begin()).out, fft.signal().end(),
                      0.0);
    fft.to_spectrum();
    const double step_hz = rate_hz / static_cast<double>(fft.length());
    constexpr double rounding = 1e-9; // of the same gate about another middle: the same bins
    for (std::size_t k = 1; k < fft.spectrum().size(); ++k) {
        const double hz = static_cast<double>(k) * step_hz;
        if (hz >= from_hz * (1 - rounding)) {
            add_point(curve, hz, fft.spectrum()[k] * std::polar(1.0, -2 * pi * hz * part.begins_s));
        }
    }
}

// Every fourth sample of what was low-passed: right to about 1e-7 up to an eighth of the new rate.
Gated every_fourth(const Gated& part, double rate_hz) {
    // A sinc under a Kaiser window, -6 dB at an eighth of the old rate: 150 dB down from 5/24 of
    // it, level to 1/24.
    constexpr int reach = 31;
    static const std::vector<double> taps = [] {
        constexpr double stop_db = 150;
        auto made = window_values({WindowShape::kaiser, kaiser_beta(stop_db), {}}, 2 * reach + 1);
        int n = -reach;
        for (double& tap : made) {
            tap *= n == 0 ? 0.25 : std::sin(pi * n / 4) / (pi * n);
            ++n;
        }
        return made;
    }();
    const auto size = static_cast<std::ptrdiff_t>(part.samples.size());
    Gated made;
    made.begins_s = part.begins_s - reach / rate_hz;
    for (std::ptrdiff_t middle = -reach; middle < size + reach; middle += 4) {
        double sum = 0;
        for (std::ptrdiff_t n = std::max<std::ptrdiff_t>(middle - reach, 0);
             n <= std::min(middle + reach, size - 1); ++n) {
            sum += part.samples[static_cast<std::size_t>(n)]
                   * taps[static_cast<std::size_t>(n - middle + reach)];
        }
        made.samples.push_back(4 * sum); // as loud as all of them
    }
    return made;
}

// Of a window of so many periods to each side, faded over its outer half: 0.5 - 0.5 cos(2 pi s /
// reach) there.
std::complex<double> sum_of_cycles(const Gated& part, double rate_hz, double hz, double cycles) {
    const double reach_s = cycles / hz;
    const auto sample_at = [&](double s) {
        return static_cast<std::size_t>(std::ceil(std::clamp(
            (s - part.begins_s) * rate_hz, 0.0, static_cast<double>(part.samples.size()))));
    };
    const std::size_t from = sample_at(-reach_s), to = sample_at(reach_s);
    const double first_s = part.begins_s + static_cast<double>(from) / rate_hz;
    const std::complex<double> turn = std::polar(1.0, -2 * pi * hz / rate_hz);
    const std::complex<double> fade_turn = std::polar(1.0, 2 * pi / (reach_s * rate_hz));
    std::complex<double> phasor = std::polar(1.0, -2 * pi * hz * first_s);
    std::complex<double> fade = std::polar(1.0, 2 * pi * first_s / reach_s);
    std::complex<double> sum;
    for (std::size_t n = from; n < to; ++n) {
        const double s = part.begins_s + static_cast<double>(n) / rate_hz;
        const double weight = std::abs(s) * 2 > reach_s ? 0.5 - 0.5 * fade.real() : 1;
        sum += part.samples[n] * weight * phasor;
        phasor = times(phasor, turn);
        fade = times(fade, fade_turn);
    }
    return sum;
}

// Each frequency has a window of its own, so each is summed by itself; low ones of fewer samples.
void add_by_cycles(Gated part, const Gate& gate, double rate_hz, double from_hz, Curve& curve) {
    constexpr double points_an_octave = 96;
    const double step = std::exp2(1 / points_an_octave);
    std::vector<double> all_hz;
    for (double hz = from_hz; hz <= rate_hz / 2; hz *= step) {
        all_hz.push_back(hz);
    }
    std::vector<std::complex<double>> values(all_hz.size());
    for (std::size_t i = all_hz.size(); i-- > 0;) {
        constexpr double fourth_is_enough = 1.0 / 96; // of the rate
        while (all_hz[i] < rate_hz * fourth_is_enough) {
            part = every_fourth(part, rate_hz);
            rate_hz /= 4;
        }
        values[i] = sum_of_cycles(part, rate_hz, all_hz[i], *gate.cycles);
    }
    for (std::size_t i = 0; i < all_hz.size(); ++i) {
        add_point(curve, all_hz[i], values[i]);
    }
}

} // namespace

Expected<void> check(const Gate& gate) {
    const double times[] = {gate.from_s, gate.full_from_s, gate.full_to_s, gate.to_s};
    constexpr const char* names[] = {"from_s", "full_from_s", "full_to_s", "to_s"};
    for (std::size_t i = 0; i < std::size(times); ++i) {
        if (!std::isfinite(times[i]) || (i > 0 && times[i] < times[i - 1])) {
            return refuse(names[i],
                          fmt::format("{} s does not follow what stands before", times[i]),
                          "let the times of a gate ascend");
        }
    }
    if (!(gate.to_s > gate.from_s)) {
        return refuse("to_s", "the gate has no length", "let it end later");
    }
    if (gate.cycles && !(*gate.cycles > 0 && std::isfinite(*gate.cycles))) {
        return refuse("cycles", "is not positive", "give some periods, or leave it out");
    }
    return {};
}

double gate_at(const Gate& gate, double s) {
    return rise(share_between(gate.from_s, gate.full_from_s, s))
           * (1 - rise(share_between(gate.full_to_s, gate.to_s, s)));
}

double gate_at(const Gate& gate, double s, double hz) {
    const double all = gate_at(gate, s);
    return gate.cycles ? all * rise(2 * (1 - std::abs(s) * hz / *gate.cycles)) : all;
}

double least_told_hz(const Gate& gate) {
    return 2 / (gate.full_to_s + gate.to_s - gate.from_s - gate.full_from_s);
}

double arrival_s(const ImpulseResponse& impulse) {
    const auto& x = impulse.samples;
    const auto highest = std::ranges::max_element(x, {}, [](double v) { return std::abs(v); });
    if (highest == x.end() || *highest == 0) {
        return 0;
    }
    const auto n = static_cast<std::size_t>(highest - x.begin());
    double between = 0;
    if (n > 0 && n + 1 < x.size()) {
        const double before = x[n - 1] * x[n - 1], at = x[n] * x[n], after = x[n + 1] * x[n + 1];
        const double bend = before - 2 * at + after;
        between = bend < 0 ? std::clamp((before - after) / (2 * bend), -0.5, 0.5) : 0;
    }
    return impulse.seconds_of(n) + between / impulse.sample_rate_hz;
}

Expected<Curve> gated_response(const ImpulseResponse& impulse, const Gate& gate, double middle_s) {
    if (auto ok = check(gate); !ok) {
        return tl::unexpected(within("gate", ok.error()));
    }
    const Gated part = gated(impulse, gate, middle_s);
    if (std::ranges::all_of(part.samples, [](double x) { return x == 0; })) {
        return refuse("gate", "holds nothing but silence", "move it to where the response is");
    }
    Curve curve;
    const double from_hz = std::min(least_told_hz(gate), impulse.sample_rate_hz / 4);
    if (gate.cycles) {
        add_by_cycles(part, gate, impulse.sample_rate_hz, from_hz, curve);
    } else {
        add_bins(part, impulse.sample_rate_hz, from_hz, curve);
    }
    return curve;
}

} // namespace syntonon
