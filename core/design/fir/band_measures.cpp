// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/band_measures.h"

#include "core/base/units.h"
#include "core/design/fir/compared_phases.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <limits>

namespace syntonon {
namespace {

// |H| at equal steps from 0 to pi.
class Magnitudes {
public:
    explicit Magnitudes(std::span<const double> taps) : taps_(taps) {
        constexpr std::size_t places = 32, least_size = 1024;
        const std::size_t size =
            quick_fft_length(std::max<std::size_t>(least_size, places * taps.size()));
        RealFft fft(size);
        std::ranges::fill(fft.signal(), 0.0);
        std::ranges::copy(taps, fft.signal().begin());
        fft.to_spectrum();
        step_ = 2 * pi / static_cast<double>(size);
        for (const std::complex<double>& h : fft.spectrum()) {
            values_.push_back(std::abs(h));
        }
    }

    // In between two of them the sum itself.
    double at(double w) const {
        std::complex<double> sum = 0;
        for (std::size_t n = taps_.size(); n-- > 0;) {
            sum = sum * std::polar(1.0, -w) + taps_[n];
        }
        return std::abs(sum);
    }
    std::size_t size() const { return values_.size(); }
    double w_of(std::size_t k) const { return step_ * static_cast<double>(k); }
    double operator[](std::size_t k) const { return values_[k]; }
    std::size_t from(double w) const {
        return std::min(size() - 1, static_cast<std::size_t>(std::ceil(std::max(w, 0.0) / step_)));
    }

private:
    std::span<const double> taps_;
    double step_ = 1;
    std::vector<double> values_;
};

class Measured {
public:
    Measured(const Magnitudes& h, double greatest) : h_(h), greatest_(greatest) {}

    void take(const AmplitudePiece& piece) {
        is_stop_ = std::max(std::abs(piece.gain.at_from), std::abs(piece.gain.at_to))
                   < stop_below * greatest_;
        add(piece, piece.gain.from, h_.at(piece.gain.from));
        for (std::size_t k = h_.from(piece.gain.from); k < h_.size() && h_.w_of(k) < piece.gain.to;
             ++k) {
            add(piece, h_.w_of(k), h_[k]);
        }
        add(piece, piece.gain.to, h_.at(piece.gain.to));
    }

    BandMeasures all() const {
        BandMeasures measures;
        measures.error = error_;
        if (stop_ >= 0) {
            measures.attenuation_db = -db_from_ratio(stop_);
        }
        if (most_ >= 0) {
            measures.ripple_db = db_from_ratio(most_) - db_from_ratio(least_);
        }
        return measures;
    }

private:
    static constexpr double stop_below = 0.1;

    void add(const AmplitudePiece& piece, double w, double h) {
        const double gain = std::abs(piece.gain.at(w));
        error_ = std::max(error_, piece.weight * std::abs(h - gain));
        if (is_stop_) {
            stop_ = std::max(stop_, h);
        } else if (gain > 0) {
            most_ = std::max(most_, h / gain);
            least_ = std::min(least_, h / gain);
        }
    }

    const Magnitudes& h_;
    double greatest_;
    bool is_stop_ = false;
    double error_ = 0, stop_ = -1, most_ = -1, least_ = std::numeric_limits<double>::infinity();
};

std::optional<double> widest_gap(const Amplitude& wanted) {
    std::optional<double> widest;
    for (std::size_t i = 0; i + 1 < wanted.size(); ++i) {
        const LinePiece &before = wanted[i].gain, &after = wanted[i + 1].gain;
        if (after.from > before.to && before.at_to != after.at_from) {
            widest = std::max(widest.value_or(0), after.from - before.to);
        }
    }
    return widest;
}

// From an edge outwards to the first lobe, and back to where its band's greatest is reached.
// `away`: of |H| from the band's gain. Nothing where there is no lobe before `end`.
template <class Away>
std::optional<std::size_t> band_end(std::size_t edge, std::size_t end, const Away& away) {
    const bool is_up = end > edge;
    const auto next = [is_up](std::size_t k) { return is_up ? k + 1 : k - 1; };
    std::size_t k = edge;
    while (k != end && away(next(k)) <= away(k)) { // down to where it crosses, or comes nearest
        k = next(k);
    }
    if (k == end) {
        return std::nullopt;
    }
    double greatest = 0;
    for (std::size_t i = k;; i = next(i)) {
        greatest = std::max(greatest, away(i));
        if (i == end) {
            break;
        }
    }
    std::size_t first = edge;
    while (first != k && away(first) > greatest) {
        first = next(first);
    }
    return first;
}

} // namespace

BandMeasures band_measures(std::span<const double> taps, const Amplitude& wanted) {
    const Magnitudes h(taps);
    double greatest = 0;
    for (const AmplitudePiece& piece : wanted) {
        greatest = std::max({greatest, std::abs(piece.gain.at_from), std::abs(piece.gain.at_to)});
    }
    Measured measured(h, greatest);
    for (const AmplitudePiece& piece : wanted) {
        measured.take(piece);
    }
    BandMeasures all = measured.all();
    all.transition_w = widest_gap(wanted);
    all.delay_samples = phase_facts(taps).mean_delay;
    return all;
}

Amplitude natural_bands(std::span<const double> taps, std::span<const double> edges_w,
                        bool begins_with_pass) {
    const Magnitudes h(taps);
    Amplitude bands;
    bool passes = begins_with_pass;
    for (std::size_t i = 0; i <= edges_w.size(); ++i, passes = !passes) {
        const auto away = [&](std::size_t k) { return std::abs(h[k] - (passes ? 1 : 0)); };
        const std::size_t low = i > 0 ? h.from(edges_w[i - 1]) : 0;
        const std::size_t high = i < edges_w.size() ? h.from(edges_w[i]) : h.size() - 1;
        const auto from = i > 0 ? band_end(low, high, away) : std::optional(low);
        const auto to = i < edges_w.size() ? band_end(high, low, away) : std::optional(high);
        if (from && to && *from < *to) {
            const double gain = passes ? 1 : 0;
            bands.push_back({{h.w_of(*from), h.w_of(*to), gain, gain}, 1});
        }
    }
    return bands;
}

} // namespace syntonon
