// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/tone_meter.h"

#include "core/base/units.h"
#include "core/engine/filter_engine.h"
#include "core/engine/render.h"
#include "core/filter/filter.h"
#include "core/signal/make_signal.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace syntonon {
namespace {

// The amplitude of the sine that is nearest to the samples from `from` on: the normal equations for
// a cos + b sin.
double amplitude_of(const std::vector<double>& signal, std::size_t from, double rad_per_sample) {
    double cc = 0, ss = 0, cs = 0, c1 = 0, s1 = 0;
    for (std::size_t n = from; n < signal.size(); ++n) {
        const double turned = rad_per_sample * static_cast<double>(n);
        const double c = std::cos(turned), s = std::sin(turned);
        cc += c * c;
        ss += s * s;
        cs += c * s;
        c1 += c * signal[n];
        s1 += s * signal[n];
    }
    const double determinant = cc * ss - cs * cs;
    return std::hypot((c1 * ss - s1 * cs) / determinant, (s1 * cc - c1 * cs) / determinant);
}

} // namespace

Expected<double> measured_gain_db(const Filter& filter, double frequency_hz,
                                  double sample_rate_hz) {
    constexpr std::size_t longest = std::size_t(1) << 20, least_measured = 4096;
    constexpr double died_away_db = 160, periods = 8, silent_db = 250;
    if (!filter.is_analog() && !filter.is_stable()) {
        return refuse("", "the chain is unstable", "mend it");
    }
    auto engine = engine_of(filter);
    if (!engine) {
        return tl::unexpected(engine.error());
    }
    const auto measured = static_cast<std::size_t>(std::max(
        static_cast<double>(least_measured), std::ceil(periods * sample_rate_hz / frequency_hz)));
    const double turn = rad_per_sample_from_hz(frequency_hz, sample_rate_hz);
    // Poles that lie together die away more slowly than one of them: on until two readings agree.
    constexpr double close_db = 1e-4;
    double before = infinity;
    for (std::size_t settles = memory_samples(filter, died_away_db, longest); settles < longest;
         settles = 2 * settles + measured) {
        auto tone =
            make_signal(ToneRecipe{frequency_hz, 0, 0}, {sample_rate_hz, settles + measured});
        if (!tone) {
            return tl::unexpected(tone.error());
        }
        (*engine)->reset();
        (*engine)->process(*tone);
        const double now = db_from_ratio(amplitude_of(*tone, settles, turn));
        if (std::abs(now - before) < close_db || now < -silent_db) {
            return now;
        }
        before = now;
    }
    return refuse("", "the chain rings for too long to be measured", "lower its highest Q");
}

} // namespace syntonon
