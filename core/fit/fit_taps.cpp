// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fit_taps.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/curve/curve_spectrum.h"
#include "core/design/fir/phase_form.h"
#include "core/fit/seen_timing.h"
#include "core/math/fft.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <complex>
#include <fmt/format.h>

namespace syntonon {
namespace {

using Bins = std::vector<std::complex<double>>;

// Fine enough that what is cut off of a response in time has died away.
std::size_t transform_length(std::size_t taps) {
    constexpr std::size_t least = 1 << 14, times = 4;
    return std::max(least, times * std::bit_ceil(taps));
}

std::vector<double> wanted_magnitude(const CorrectionAim& aim, std::size_t transform,
                                     double sample_rate_hz) {
    std::vector<double> magnitude;
    magnitude.reserve(transform / 2 + 1);
    for (std::size_t k = 0; k <= transform / 2; ++k) {
        const double hz = static_cast<double>(k) * sample_rate_hz / static_cast<double>(transform);
        magnitude.push_back(ratio_from_db(wanted_gain_db(aim, hz)));
    }
    return magnitude;
}

Bins transformed(const std::vector<double>& signal, std::size_t transform) {
    RealFft fft(transform);
    std::ranges::copy(signal, fft.signal().begin());
    std::ranges::fill(fft.signal().subspan(signal.size()), 0.0);
    fft.to_spectrum();
    return {fft.spectrum().begin(), fft.spectrum().end()};
}

// How far before the sound it is worth it to begin, at most half of the taps: of a circular
// response, whose last half comes before its first sample.
std::size_t least_delay(const std::vector<double>& response, std::size_t length) {
    constexpr double least_share = 1e-5; // of the greatest: 100 dB
    double greatest = 0;
    for (const double x : response) {
        greatest = std::max(greatest, std::abs(x));
    }
    std::size_t before = 0;
    for (std::size_t back = 1; back <= length / 2; ++back) {
        before =
            std::abs(response[response.size() - back]) > least_share * greatest ? back : before;
    }
    return before;
}

// A circular response's taps about the sound: as many as there may be, weighted with the window. Of
// linear phase as many before it as behind it.
FoundTaps cut_out_of(const std::vector<double>& response, const TapsCorrection& method) {
    const auto length = static_cast<std::size_t>(method.length);
    const bool is_linear = method.phase == TapsCorrection::Phase::linear;
    const std::size_t sound = method.delay_samples ? static_cast<std::size_t>(*method.delay_samples)
                              : is_linear          ? (length - 1) / 2
                                                   : least_delay(response, length);
    const std::size_t nearer = std::min(sound, length - 1 - sound);
    const std::size_t before = is_linear ? nearer : sound;
    const std::size_t behind = is_linear ? nearer : length - 1 - sound;
    FoundTaps found;
    found.delay_samples = static_cast<double>(sound);
    found.taps.resize(length);
    const std::vector<double> fade_out = window_values(method.window, 2 * behind + 1);
    for (std::size_t n = 0; n <= behind; ++n) {
        found.taps[sound + n] = response[n] * fade_out[behind + n];
    }
    const std::vector<double> fade_in = window_values(method.window, 2 * before + 1);
    for (std::size_t n = 1; n <= before; ++n) {
        // Of linear phase symmetric to the bit, which a transform is not.
        const double value = is_linear ? response[n] : response[response.size() - n];
        found.taps[sound - n] = value * fade_in[before - n];
    }
    return found;
}

class MixedPhase {
public:
    MixedPhase(const CorrectionSpec& spec, const CorrectionAim& aim, const Brief& brief,
               std::size_t transform)
        : spec_(spec), method_(std::get<TapsCorrection>(spec.method)), brief_(brief),
          transform_(transform), step_hz_(brief.sample_rate_hz / static_cast<double>(transform)),
          minimum_(
              transformed(taps_of_magnitude(wanted_magnitude(aim, transform, brief.sample_rate_hz),
                                            transform / 2, 0),
                          transform)) {}

    Expected<FoundTaps> found(const Watch& watch) {
        auto timing = seen_timing(brief_, spec_.from_hz, spec_.to_hz);
        if (!timing) {
            return tl::unexpected(within("phase", timing.error()));
        }
        timing_ = std::move(*timing);
        add_positions();
        const double furthest = spec_.to_hz;
        double fine = 0;
        FoundTaps best = taps_up_to(0);
        constexpr int halvings = 7;
        double low = std::log2(spec_.from_hz), high = std::log2(furthest);
        if (FoundTaps all = taps_up_to(furthest); is_quiet(all)) {
            return all;
        }
        for (int i = 0; i < halvings; ++i) {
            if (watch.is_stopped()) {
                return stopped();
            }
            watch.report(static_cast<double>(i) / halvings);
            const double middle = (low + high) / 2;
            FoundTaps attempt = taps_up_to(std::exp2(middle));
            if (is_quiet(attempt)) {
                low = middle;
                fine = std::exp2(middle);
                best = std::move(attempt);
            } else {
                high = middle;
            }
        }
        best.timing_up_to_hz = fine;
        return best;
    }

private:
    // What each position with phase comes to on the bins, without a filter.
    void add_positions() {
        for (const SeenCurve& position : brief_.seen.positions) {
            if (position.curve->phase_deg.empty()) {
                continue;
            }
            const Curve curve = behind_stages(*position.curve, brief_);
            Bins bins = spectrum_of(curve, transform_, brief_.sample_rate_hz);
            as_they_are_db_.push_back(pre_ringing_of(bins));
            positions_.push_back(std::move(bins));
        }
    }

    double pre_ringing_of(const Bins& bins) const {
        return pre_ringing_level_db(impulse_of(bins, transform_), method_.pre_ringing_ms / 1e3,
                                    brief_.sample_rate_hz);
    }

    // What a position does by itself is not the filter's.
    bool is_quiet(const FoundTaps& found) const {
        for (std::size_t p = 0; p < positions_.size(); ++p) {
            if (found.pre_ringing_db[p]
                > std::max(method_.pre_ringing_db, as_they_are_db_[p] + 0.1)) {
                return false;
            }
        }
        return true;
    }

    // The share of the excess phase that is inverted: all of it up to half an octave below `hz`,
    // none from half an octave above.
    static double share_at(double hz, double up_to_hz) {
        const double octaves = up_to_hz > 0 ? std::log2(hz / up_to_hz) : 1;
        return std::clamp(0.5 - octaves, 0.0, 1.0);
    }

    FoundTaps taps_up_to(double up_to_hz) const {
        Bins bins = minimum_;
        for (std::size_t k = 1; k < bins.size(); ++k) {
            const double hz = static_cast<double>(k) * step_hz_;
            if (const double share = share_at(hz, up_to_hz); share > 0) {
                const double excess =
                    share * at_hz(timing_.curve.frequency_hz, timing_.excess_deg, hz);
                bins[k] *= std::polar(1.0, -rad_from_deg(excess));
            }
        }
        FoundTaps found = cut_out_of(impulse_of(bins, transform_), method_);
        found.timing_up_to_hz = up_to_hz;
        const Bins filter = transformed(found.taps, transform_);
        for (const Bins& position : positions_) {
            Bins heard = position;
            for (std::size_t k = 0; k < heard.size(); ++k) {
                heard[k] *= filter[k];
            }
            found.pre_ringing_db.push_back(pre_ringing_of(heard));
        }
        return found;
    }

    const CorrectionSpec& spec_;
    const TapsCorrection& method_;
    const Brief& brief_;
    std::size_t transform_;
    double step_hz_;
    Bins minimum_; // the level's own phase
    SeenTiming timing_;
    std::vector<Bins> positions_;
    std::vector<double> as_they_are_db_;
};

} // namespace

double pre_ringing_level_db(const std::vector<double>& response, double before_s,
                            double sample_rate_hz) {
    const auto main = std::ranges::max_element(response, {}, [](double x) { return std::abs(x); });
    const auto at = static_cast<std::size_t>(main - response.begin());
    const auto before = static_cast<std::size_t>(std::lround(before_s * sample_rate_hz));
    // Circular: what stands in the last half comes before the first sample.
    const std::size_t length = response.size(), half = length / 2;
    double greatest = 0;
    for (std::size_t back = before + 1; back < half; ++back) {
        greatest = std::max(greatest, std::abs(response[(at + length - back) % length]));
    }
    return *main != 0 ? db_from_ratio(greatest / std::abs(*main)) : -infinity;
}

Expected<FoundTaps> find_taps(const CorrectionSpec& spec, const CorrectionAim& aim,
                              const Brief& brief, const Watch& watch) {
    const auto& method = std::get<TapsCorrection>(spec.method);
    const auto length = static_cast<std::size_t>(method.length);
    // What rings shorter than a period cannot tell it from 0 Hz.
    const double least = brief.sample_rate_hz / spec.from_hz;
    if (static_cast<double>(length) < least) {
        return refuse("length",
                      fmt::format("{} taps last less than one period of {}", length,
                                  frequency_text(spec.from_hz)),
                      fmt::format("use {:.0f} or more, or begin higher", std::ceil(least)));
    }
    const std::size_t transform = transform_length(length);
    if (method.phase == TapsCorrection::Phase::mixed) {
        return MixedPhase(spec, aim, brief, transform).found(watch);
    }
    // Zero phase, or all of it behind the sound.
    const std::vector<double> wanted = wanted_magnitude(aim, transform, brief.sample_rate_hz);
    std::vector<double> response;
    if (method.phase == TapsCorrection::Phase::linear) {
        response = impulse_of({wanted.begin(), wanted.end()}, transform);
    } else {
        response = taps_of_magnitude(wanted, transform / 2, 0);
        response.resize(transform);
    }
    return cut_out_of(response, method);
}

} // namespace syntonon
