// SPDX-License-Identifier: GPL-3.0-or-later
// Something like a voice: a source of pulses and breath through four resonances that move from
// vowel to vowel (G. Fant, Acoustic Theory of Speech Production, 1960; the pulse after A. E.
// Rosenberg, Effect of glottal pulse shape on the quality of natural vowels, JASA 49, 1971).
#include "core/base/units.h"
#include "core/math/seeded.h"
#include "core/signal/makers.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

constexpr std::size_t formants = 4;
using Mouth = std::array<double, formants>; // resonances in Hz

constexpr std::array mouths = {Mouth{730, 1090, 2440, 3400}, Mouth{530, 1840, 2480, 3500},
                               Mouth{270, 2290, 3010, 3600}, Mouth{570, 840, 2410, 3300},
                               Mouth{300, 870, 2240, 3300},  Mouth{490, 1350, 1690, 3300}};
constexpr Mouth widths = {70, 90, 130, 180};

struct Syllable {
    double from_s, lasts_s, strength, pitch;
    Mouth mouth;
    bool begins_with_hiss;
};

std::vector<Syllable> spoken(double lasts_s, Seeded& random) {
    std::vector<Syllable> all;
    double t = 0.15;
    while (t < lasts_s) {
        const std::size_t words = 5 + random.below(6);
        for (std::size_t i = 0; i < words && t < lasts_s; ++i) {
            const double along = static_cast<double>(i) / static_cast<double>(words);
            const double lasts = random.between(0.14, 0.26);
            all.push_back({t, lasts, random.between(0.55, 1) * (1 - 0.35 * along),
                           1.12 - 0.28 * along + random.between(-0.05, 0.05),
                           mouths[random.below(mouths.size())], random.uniform() < 0.35});
            t += lasts + (random.uniform() < 0.3 ? random.between(0.04, 0.1) : 0.01);
        }
        t += random.between(0.45, 0.85); // breath
    }
    return all;
}

// y[n] = g x[n] + 2 r cos(w) y[n-1] - r^2 y[n-2], 1 at 0 Hz
class Resonance {
public:
    double next(double x, double hz, double width_hz, double rate_hz) {
        const double r = std::exp(-pi * width_hz / rate_hz);
        const double c = 2 * r * std::cos(2 * pi * std::min(hz, 0.45 * rate_hz) / rate_hz);
        const double y = (1 - c + r * r) * x + c * y1_ - r * r * y2_;
        y2_ = y1_;
        y1_ = y;
        return y;
    }

private:
    double y1_ = 0, y2_ = 0;
};

// The flow of air over one period, 0 to 1: it opens slowly and closes quickly.
double air(double along) {
    constexpr double opens = 0.4, closes = 0.16;
    if (along < opens) {
        return 0.5 * (1 - std::cos(pi * along / opens));
    }
    return along < opens + closes ? std::cos(pi / 2 * (along - opens) / closes) : 0;
}

// Rises and falls within 30 ms.
double envelope(const Syllable& syllable, double t) {
    constexpr double edge_s = 0.03;
    const double into = t - syllable.from_s, left = syllable.lasts_s - into;
    const double edge = std::clamp(std::min(into, left) / edge_s, 0.0, 1.0);
    return syllable.strength * 0.5 * (1 - std::cos(pi * edge));
}

class Voice {
public:
    Voice(const NarrationRecipe& recipe, double rate_hz)
        : pitch_hz_(recipe.pitch_hz), rate_hz_(rate_hz), random_(recipe.seed + 1),
          mouth_(mouths[0]) {}

    double next(const Syllable* syllable, double t) {
        const double loud = syllable != nullptr ? envelope(*syllable, t) : 0;
        if (syllable != nullptr) {
            constexpr double moves_s = 0.025;
            for (std::size_t i = 0; i < formants; ++i) {
                mouth_[i] += (syllable->mouth[i] - mouth_[i]) / (moves_s * rate_hz_);
            }
        }
        constexpr double hiss_s = 0.07;
        const bool hisses =
            syllable != nullptr && syllable->begins_with_hiss && t - syllable->from_s < hiss_s;
        return hisses ? through_teeth(loud) : through_mouth(loud, syllable, t);
    }

private:
    double through_mouth(double loud, const Syllable* syllable, double t) {
        const double wave = 1 + 0.012 * std::sin(2 * pi * 5.3 * t);
        periods_ += pitch_hz_ * wave * (syllable != nullptr ? syllable->pitch : 1) / rate_hz_;
        periods_ -= std::floor(periods_);
        const double flow = air(periods_);
        // The lips radiate the change of the flow.
        double sound = loud * ((flow - flow_before_) * rate_hz_ / 4000 + 0.01 * random_.normal());
        flow_before_ = flow;
        for (std::size_t i = 0; i < formants; ++i) {
            sound = resonances_[i].next(sound, mouth_[i], widths[i], rate_hz_);
        }
        return sound;
    }
    double through_teeth(double loud) {
        constexpr double hiss_hz = 5600, hiss_width_hz = 1300;
        const double now = random_.normal(), change = now - noise_before_;
        noise_before_ = now;
        return 0.06 * loud * teeth_.next(change, hiss_hz, hiss_width_hz, rate_hz_);
    }

    double pitch_hz_, rate_hz_;
    Seeded random_;
    Mouth mouth_;
    std::array<Resonance, formants> resonances_;
    Resonance teeth_;
    double periods_ = 0, flow_before_ = 0, noise_before_ = 0;
};

} // namespace

std::vector<double> made(const NarrationRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    Seeded random(recipe.seed);
    const double lasts_s = static_cast<double>(out.size()) / extent.sample_rate_hz;
    const std::vector<Syllable> syllables = spoken(lasts_s, random);
    Voice voice(recipe, extent.sample_rate_hz);
    std::size_t i = 0;
    for (std::size_t n = 0; n < out.size(); ++n) {
        const double t = static_cast<double>(n) / extent.sample_rate_hz;
        while (i < syllables.size() && t >= syllables[i].from_s + syllables[i].lasts_s) {
            ++i;
        }
        const bool speaks = i < syllables.size() && t >= syllables[i].from_s;
        out[n] = voice.next(speaks ? &syllables[i] : nullptr, t);
    }
    scale_to_peak(out, ratio_from_db(recipe.peak_db));
    return out;
}

} // namespace syntonon
