// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/oversampled.h"

#include "core/filter/form.h"
#include "core/math/complex_parts.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <numbers>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using modelled::HalfBandCoefficients;

constexpr double half_bands_rounding = 4e-16;

// With the derivative of its logarithm, both by the angle.
struct Turning {
    Complex value, log_slope;
};

Turning all_passes(const HalfBandCoefficients& c, std::size_t first, const Complex& x) {
    Turning all{1, 0};
    for (std::size_t i = first; i < c.count; i += 2) {
        const double a = c.a.at(i);
        const Complex above = a + x, below = inverse_of(1.0 + a * x);
        all.value = times(all.value, times(above, below));
        all.log_slope += times(Complex(0, a * a - 1) * x, times(inverse_of(above), below));
    }
    return all;
}

class OversampledProber : public Prober {
public:
    explicit OversampledProber(const Oversampled& of)
        : inner_(of.inner.prober()), half_band_(of.half_band) {}

    FilterValue value(const CirclePoint& at) const override {
        const double rate = at.axis.sample_rate_hz;
        const Axis inner_axis(2 * rate);
        const FilterValue here = inner_->value(circle_point(at.hz, inner_axis));
        FilterValue folded = inner_->value(circle_point(rate - at.hz, inner_axis));
        folded.h = std::conj(folded.h); // at -v
        folded.slope = -std::conj(folded.slope);

        const Complex back = std::conj(forward_half(at));
        const Complex x = times(back, back);
        const Turning first = all_passes(half_band_, 0, x), second = all_passes(half_band_, 1, x);
        const Complex late = times(back, second.value);
        const Complex late_slope = times(late, second.log_slope - Complex(0, 0.5));
        const Complex first_slope = times(first.value, first.log_slope);
        const Complex passes = 0.5 * (first.value + late), stops = 0.5 * (first.value - late);
        const Complex passes_slope = 0.5 * (first_slope + late_slope),
                      stops_slope = 0.5 * (first_slope - late_slope);

        const Complex through = times(passes, passes), over = times(stops, stops);
        const Complex sum = times(through, here.h) - times(over, folded.h);
        const Complex sum_slope =
            2.0 * times(times(passes, passes_slope), here.h) + 0.5 * times(through, here.slope)
            - 2.0 * times(times(stops, stops_slope), folded.h) - 0.5 * times(over, folded.slope);
        const Complex v = std::conj(back);
        const double floor =
            std::norm(passes) * here.floor + std::norm(stops) * folded.floor
            + half_bands_rounding
                  * (size_of(passes) * size_of(here.h) + size_of(stops) * size_of(folded.h));
        return {times(v, sum), times(v, sum_slope + Complex(0, 0.5) * sum), floor};
    }
    ResponsePoint response(const CirclePoint& at) const override {
        return response_of(value(at), at);
    }

private:
    // e^(j w/2), of what is kept of w.
    static Complex forward_half(const CirclePoint& at) {
        return {std::sqrt(at.half_cosine_squared), std::sqrt(at.half_sine_squared)};
    }

    std::shared_ptr<const Prober> inner_;
    HalfBandCoefficients half_band_;
};

std::vector<Complex> poles_of_half_band(const HalfBandCoefficients& c) {
    std::vector<Complex> poles;
    for (std::size_t i = 0; i < c.count; ++i) {
        poles.insert(poles.end(), 2, -c.a.at(i));
    }
    return poles;
}

Expected<std::vector<Complex>> poles_of(const Oversampled& of) {
    std::vector<Complex> poles = poles_of_half_band(of.half_band);
    std::vector<Complex> inner;
    if (const auto* deeper = std::get_if<Oversampled>(&of.inner.form())) {
        auto found = poles_of(*deeper);
        if (!found) {
            return found;
        }
        inner = std::move(*found);
    } else {
        const auto& roots = of.inner.roots();
        if (!roots) {
            return tl::unexpected(roots.error());
        }
        inner = roots->poles;
    }
    for (const Complex& pole : inner) {
        poles.push_back(pole * pole);
    }
    return poles;
}

} // namespace

std::shared_ptr<const Prober> prober(const Oversampled& of) {
    return std::make_shared<OversampledProber>(of);
}

void add_telling_hz(const Oversampled& of, const TellingRange& range, std::vector<double>& out) {
    std::vector<double> seeds;
    if (auto poles = poles_of(of)) {
        Roots known;
        known.poles = std::move(*poles);
        add_near_roots(known, range, seeds);
    }
    const auto found = halved_until_smooth(*prober(of), std::move(seeds), range);
    out.insert(out.end(), found.begin(), found.end());
}

double finite_samples(const Oversampled& of) {
    return of.inner.finite_samples() + 2 * static_cast<double>(of.half_band.count);
}

Expected<double> slowest_pole_radius(const Oversampled& of, double) {
    return poles_of(of).map([](const std::vector<Complex>& poles) {
        double slowest = 0;
        for (const Complex& pole : poles) {
            slowest = std::max(slowest, std::abs(pole));
        }
        return slowest;
    });
}

void run(const Oversampled& of, std::span<double> signal) {
    OversampledRun at_work(of);
    for (double& sample : signal) {
        sample = at_work.take(sample);
    }
}

double latency_samples(const Oversampled& of) {
    return of.inner.latency_samples();
}

Cost cost(const Oversampled& of) {
    const Cost inner = of.inner.cost();
    const int sections = static_cast<int>(of.half_band.count);
    Cost all;
    all.sections = inner.sections;
    all.taps = inner.taps;
    all.multiplies = 2 * inner.multiplies + 2 * sections + 1;
    all.adds = 2 * inner.adds + 4 * sections + 1;
    all.state_words = inner.state_words + std::int64_t{2} * sections;
    return all;
}

std::size_t bytes_of(const Oversampled& of) {
    return of.inner.bytes();
}

Expected<Rational> rational_of(const Oversampled& of) {
    auto poles = poles_of(of);
    if (!poles) {
        return tl::unexpected(poles.error());
    }
    const double any_rate = 1;
    const auto degree = static_cast<std::size_t>(finite_samples(of));
    const std::size_t length = quick_fft_length(degree + 1);
    RealFft round_the_circle(length);
    const OversampledProber prober(of);
    for (std::size_t k = 0; k <= length / 2; ++k) {
        const CirclePoint at =
            circle_point(any_rate * static_cast<double>(k) / static_cast<double>(length), any_rate);
        const Complex x(at.cosine, -at.sine);
        Complex below = 1;
        for (const Complex& pole : *poles) {
            below = times(below, 1.0 - times(pole, x));
        }
        round_the_circle.spectrum()[k] =
            times(prober.value(at).h, below) / static_cast<double>(length);
    }
    round_the_circle.to_signal();
    std::vector<PolynomialProduct> terms;
    for (std::size_t power = 0; power <= degree; ++power) {
        terms.push_back({round_the_circle.signal()[power], power, {}, {}});
    }
    Rational found;
    found.numerator.sums.push_back(std::make_shared<const PolynomialSum>(std::move(terms)));
    found.denominator.roots = std::move(*poles);
    return found;
}

Expected<int> poles_outside(const Oversampled& of) {
    return poles_of(of).map([](std::vector<Complex> poles) {
        Roots known;
        known.poles = std::move(poles);
        return unstable_poles(known);
    });
}

double at_once(const Oversampled& of) {
    return OversampledRun(of).at_once();
}

OversampledRun::OversampledRun(const Oversampled& of) {
    const Filter* inner = nullptr;
    std::size_t count = 0;
    for (const Oversampled* level = &of; level != nullptr;
         level = std::get_if<Oversampled>(&inner->form())) {
        half_bands_.push_back(level->half_band);
        states_at_.push_back(count);
        count += 2 * level->half_band.count;
        inner = &level->inner;
    }
    states_at_.push_back(count);
    if (const auto* cascade = std::get_if<Cascade>(&inner->form())) {
        sections_ = cascade->sections;
    }
    states_.assign(count + 2 * sections_.size(), 0.0);
    at_once_ = take(1);
    for (double& state : states_) {
        rest();
        state = 1;
        held_by_state_.push_back(take(0));
    }
    rest();
}

double OversampledRun::take(double input) {
    return take(0, input);
}

void OversampledRun::rest() {
    std::ranges::fill(states_, 0.0);
}

double OversampledRun::held() const {
    double all = 0;
    for (std::size_t i = 0; i < states_.size(); ++i) {
        all += held_by_state_[i] * states_[i];
    }
    return all;
}

double OversampledRun::take(std::size_t level, double x) {
    double* state = states_.data() + states_at_[level];
    if (level == half_bands_.size()) {
        for (const Biquad& s : sections_) {
            const double y = s.b0 * x + state[0];
            state[0] = modelled::flushed(s.b1 * x - s.a1 * y + state[1]);
            state[1] = modelled::flushed(s.b2 * x - s.a2 * y);
            state += 2;
            x = y;
        }
        return x;
    }
    const std::size_t up = states_at_[level], down = up + half_bands_[level].count;
    const double earlier = take(level + 1, chain(level, 0, up, x));
    const double later = take(level + 1, chain(level, 1, up, x));
    return 0.5 * (chain(level, 0, down, later) + chain(level, 1, down, earlier));
}

double OversampledRun::chain(std::size_t level, std::size_t first, std::size_t states, double x) {
    const HalfBandCoefficients& c = half_bands_[level];
    for (std::size_t i = first; i < c.count; i += 2) {
        double& state = states_[states + i];
        const double y = c.a.at(i) * x + state;
        state = modelled::flushed(x - c.a.at(i) * y);
        x = y;
    }
    return x;
}

} // namespace syntonon
