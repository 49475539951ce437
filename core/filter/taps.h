// A finite impulse response.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/filter/filter.h"
#include "core/math/fine_spectrum.h"

#include <memory>
#include <mutex>
#include <optional>
#include <vector>

namespace syntonon {

// The values are shared, never copied, however many filters, probes and specs hold them.
using TapValues = std::shared_ptr<const std::vector<double>>;

struct Taps {
    explicit Taps(TapValues values); // not null; empty: silence
    explicit Taps(std::vector<double> values);

    std::span<const double> values() const { return *values_; }
    const TapValues& shared() const { return values_; }
    // Worked out when first asked for; shared too.
    const FineSpectrum& spectrum() const;
    // +1 when taps[n] = taps[N - 1 - n], -1 when it is the opposite, else 0.
    int symmetry() const { return symmetry_; }
    double size() const { return size_; }             // sum of magnitudes
    std::size_t main_sample() const { return main_; } // the greatest; of equals the first

    bool operator==(const Taps& other) const { return *values_ == *other.values_; }

private:
    struct Prepared {
        std::once_flag once;
        std::optional<FineSpectrum> spectrum;
    };
    TapValues values_;
    int symmetry_ = 0;
    double size_ = 0;
    std::size_t main_ = 0;
    std::shared_ptr<Prepared> prepared_;
};

// Beyond this many taps the zeros are not worked out: double precision no longer tells them apart.
inline constexpr std::size_t most_taps_with_roots = 512;

std::shared_ptr<const Prober> prober(const Taps& taps);
void add_telling_hz(const Taps& taps, const TellingRange& range, std::vector<double>& out);
Expected<Roots> roots_of(const Taps& taps);
double finite_samples(const Taps& taps);
void run(const Taps& taps, std::span<double> signal);
double latency_samples(const Taps& taps);
Cost cost(const Taps& taps);
std::size_t bytes_of(const Taps& taps);

} // namespace syntonon
