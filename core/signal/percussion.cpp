// SPDX-License-Identifier: GPL-3.0-or-later
// Struck things: damped modes and bursts of noise.
#include "core/base/units.h"
#include "core/math/seeded.h"
#include "core/signal/makers.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

// What is struck adds itself to the signal from a sample on.
struct Struck {
    std::vector<double>& out;
    std::size_t from;
    double rate_hz;

    template <class Value>
    void add(double lasts_s, Value value) const {
        const auto count = static_cast<std::size_t>(lasts_s * rate_hz);
        for (std::size_t n = 0; n < count && from + n < out.size(); ++n) {
            out[from + n] += value(static_cast<double>(n) / rate_hz);
        }
    }
};

// A drum skin: its pitch falls as it dies away.
void add_drum(const Struck& struck, double strength) {
    constexpr double from_hz = 140, to_hz = 52, falls_s = 0.03, dies_s = 0.11;
    struck.add(0.6, [&](double t) {
        const double periods =
            to_hz * t + (from_hz - to_hz) * falls_s * (1 - std::exp(-t / falls_s));
        return strength * std::exp(-t / dies_s) * std::sin(2 * pi * periods);
    });
}

// Bright noise: the difference of neighbours.
void add_hiss(const Struck& struck, double strength, double dies_s, Seeded& random) {
    double before = 0;
    struck.add(8 * dies_s, [&](double t) {
        const double now = random.normal();
        const double value = strength * std::exp(-t / dies_s) * (now - before);
        before = now;
        return value;
    });
}

void add_rattle(const Struck& struck, double strength, Seeded& random) {
    constexpr double skin_hz = 187, dies_s = 0.05;
    struck.add(0.4, [&](double t) {
        return strength * std::exp(-t / dies_s)
               * (0.5 * std::sin(2 * pi * skin_hz * t) + 0.35 * random.normal());
    });
}

} // namespace

std::vector<double> made(const PercussionRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    Seeded random(recipe.seed);
    const double quarter_beat_s = 15 / recipe.beats_per_minute;
    constexpr std::array drum = {0, 6, 10}, rattle = {4, 12, 15};
    const auto is_in = [](const auto& places, std::size_t place) {
        return std::ranges::find(places, static_cast<int>(place)) != places.end();
    };
    for (std::size_t i = 0;; ++i) {
        constexpr std::size_t bar = 16;
        const double at =
            std::round(static_cast<double>(i) * quarter_beat_s * extent.sample_rate_hz);
        if (at >= static_cast<double>(out.size())) {
            break;
        }
        const Struck struck{out, static_cast<std::size_t>(at), extent.sample_rate_hz};
        if (is_in(drum, i % bar)) {
            add_drum(struck, 1);
        }
        if (is_in(rattle, i % bar)) {
            add_rattle(struck, i % bar == 15 ? 0.3 : 0.8, random);
        }
        if (i % 2 == 0) {
            add_hiss(struck, i % 4 == 0 ? 0.12 : 0.2, i % bar == 14 ? 0.08 : 0.015, random);
        }
    }
    scale_to_peak(out, ratio_from_db(recipe.peak_db));
    return out;
}

std::vector<double> made(const ClapperRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    Seeded random(recipe.seed);
    struct Mode {
        double hz, dies_s, strength;
    };
    constexpr std::array modes = {Mode{870, 0.011, 0.6},  Mode{1430, 0.008, 1},
                                  Mode{2260, 0.006, 0.8}, Mode{3170, 0.004, 0.6},
                                  Mode{4480, 0.003, 0.5}, Mode{6350, 0.002, 0.35}};
    constexpr double first_s = 0.05;
    for (double t = first_s;; t += recipe.every_ms * 1e-3) {
        const double at = std::round(t * extent.sample_rate_hz);
        if (at >= static_cast<double>(out.size())) {
            break;
        }
        const Struck struck{out, static_cast<std::size_t>(at), extent.sample_rate_hz};
        for (const Mode& mode : modes) {
            // No two strokes are quite alike.
            const double hz = mode.hz * random.between(0.985, 1.015);
            const double strength = mode.strength * random.between(0.7, 1);
            if (hz < extent.sample_rate_hz / 2) {
                struck.add(10 * mode.dies_s, [&](double s) {
                    return strength * std::exp(-s / mode.dies_s) * std::sin(2 * pi * hz * s);
                });
            }
        }
        add_hiss(struck, 0.4, 0.0007, random);
    }
    scale_to_peak(out, ratio_from_db(recipe.peak_db));
    return out;
}

} // namespace syntonon
