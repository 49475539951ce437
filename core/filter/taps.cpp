// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/taps.h"

#include "core/base/units.h"
#include "core/math/fft.h"
#include "core/math/roots_at_once.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <utility>

namespace syntonon {
namespace {

// Up to here summing tap by tap is quicker than sixteen neighbours' weights, and exact at zeros.
constexpr std::size_t summed_directly = 48;
// Rounding of a sum, against the sum of magnitudes.
constexpr double direct_floor = 4e-16, spectrum_floor = 4e-15;

int symmetry_of(const std::vector<double>& x) {
    bool even = true, odd = true;
    for (std::size_t i = 0, k = x.size(); i < k--; ++i) {
        even = even && x[i] == x[k];
        odd = odd && x[i] == -x[k];
    }
    return even ? 1 : odd ? -1 : 0;
}

class TapsProber : public Prober {
public:
    explicit TapsProber(Taps taps) : taps_(std::move(taps)) {
        if (taps_.values().size() > summed_directly) {
            taps_.spectrum(); // now rather than in the midst of a search
        }
    }

    FilterValue value(const CirclePoint& at) const override {
        return taps_.values().size() <= summed_directly ? summed(at) : looked_up(at);
    }
    // Linear phase is known without the level, at zeros too.
    double group_delay_samples(const CirclePoint& at) const override { return delay_of(value(at)); }
    ResponsePoint response(const CirclePoint& at) const override {
        const FilterValue here = value(at);
        ResponsePoint all = response_of(here, at);
        all.group_delay_samples = delay_of(here);
        return all;
    }

private:
    double delay_of(const FilterValue& here) const {
        if (taps_.symmetry() == 0) {
            return syntonon::group_delay_samples(here);
        }
        return std::abs(here.h) > here.floor ? centre() : std::numeric_limits<double>::quiet_NaN();
    }
    double centre() const { return (static_cast<double>(taps_.values().size()) - 1) / 2; }

    // Horner's rule in e^-jw.
    FilterValue summed(const CirclePoint& at) const {
        const std::complex<double> x(at.cosine, -at.sine);
        std::complex<double> h = 0, by_x = 0;
        for (std::size_t n = taps_.values().size(); n-- > 0;) {
            by_x = by_x * x + h;
            h = h * x + taps_.values()[n];
        }
        return {h, std::complex<double>(0, -1) * x * by_x, direct_floor * taps_.size()};
    }
    FilterValue looked_up(const CirclePoint& at) const {
        const auto [h, slope] = taps_.spectrum().at(at.hz, at.axis.sample_rate_hz);
        return {at.is_end() ? h.real() : h, slope, spectrum_floor * taps_.size()};
    }

    Taps taps_;
};

} // namespace

Taps::Taps(TapValues values)
    : values_(std::move(values)), symmetry_(symmetry_of(*values_)),
      prepared_(std::make_shared<Prepared>()) {
    for (std::size_t n = 0; n < values_->size(); ++n) {
        size_ += std::abs((*values_)[n]);
        main_ = std::abs((*values_)[n]) > std::abs((*values_)[main_]) ? n : main_;
    }
}

Taps::Taps(std::vector<double> values)
    : Taps(std::make_shared<const std::vector<double>>(std::move(values))) {}

const FineSpectrum& Taps::spectrum() const {
    std::call_once(prepared_->once, [&] { prepared_->spectrum.emplace(values()); });
    return *prepared_->spectrum;
}

std::shared_ptr<const Prober> prober(const Taps& taps) {
    return std::make_shared<TapsProber>(taps);
}

void add_telling_hz(const Taps& taps, const TellingRange& range, std::vector<double>& out) {
    const auto memory = static_cast<double>(taps.values().size());
    if (ripples_too_often(memory, range)) {
        return;
    }
    std::vector<double> seeds;
    add_ripple_hz(memory, range, seeds);
    const auto found = halved_until_smooth(*prober(taps), std::move(seeds), range);
    out.insert(out.end(), found.begin(), found.end());
}

Expected<Roots> roots_of(const Taps& taps) {
    const auto values = taps.values();
    const auto not_zero = [](double v) { return v != 0; };
    const auto first = std::ranges::find_if(values, not_zero);
    if (first == values.end()) {
        return Roots{{}, {}, 0, 0};
    }
    const auto last = std::find_if(values.rbegin(), values.rend(), not_zero).base();
    const std::span<const double> polynomial(first, last);
    if (polynomial.size() > most_taps_with_roots) {
        return refuse("",
                      fmt::format("{} taps have too many zeros to be worked out", values.size()),
                      fmt::format("they are shown up to {} taps", most_taps_with_roots));
    }
    auto zeros = polynomial_roots(polynomial);
    if (!zeros) {
        return refuse("", "the zeros of these taps were not found", "change a tap");
    }
    return Roots{std::move(*zeros), {}, *first, static_cast<double>(first - values.begin())};
}

double finite_samples(const Taps& taps) {
    return static_cast<double>(taps.values().size());
}

void run(const Taps& taps, std::span<double> signal) {
    std::ranges::copy(convolved(taps.values(), signal, signal.size()), signal.begin());
}

double latency_samples(const Taps& taps) {
    const auto first = std::ranges::find_if(taps.values(), [](double v) { return v != 0; });
    return first == taps.values().end() ? 0 : static_cast<double>(first - taps.values().begin());
}

Cost cost(const Taps& taps) {
    Cost cost;
    cost.taps = static_cast<int>(taps.values().size());
    const auto nothing = static_cast<int>(std::ranges::count(taps.values(), 0.0));
    const auto ones = static_cast<int>(
        std::ranges::count_if(taps.values(), [](double v) { return std::abs(v) == 1; }));
    cost.multiplies = cost.taps - nothing - ones;
    cost.adds = std::max(cost.taps - nothing - 1, 0);
    cost.state_words = std::max(cost.taps - 1, 0);
    return cost;
}

std::size_t bytes_of(const Taps& taps) {
    // The spectrum, whether it is there yet or not: twice the length, half of it, complex.
    constexpr std::size_t bytes_a_tap = sizeof(double) + sizeof(std::complex<double>);
    return taps.values().size() * bytes_a_tap;
}

} // namespace syntonon
