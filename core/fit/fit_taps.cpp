// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fit_taps.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/curve/phase_parts.h"
#include "core/design/fir/phase_form.h"
#include "core/fit/joint_sections.h"
#include "core/math/fft.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <complex>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr double fade_oct = JointSections::fade_oct; // of sections and taps alike

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

std::vector<double> in_time(const Bins& bins, std::size_t transform) {
    RealFft fft(transform);
    std::ranges::copy(bins, fft.spectrum().begin());
    fft.to_signal();
    std::vector<double> signal(fft.signal().begin(), fft.signal().end());
    for (double& x : signal) {
        x /= static_cast<double>(transform);
    }
    return signal;
}

// A measured curve behind the stages above: level and unwrapped phase at the curve's points.
Curve behind(const SampledCurve& seen, const Brief& brief) {
    Curve curve;
    const double end_hz = brief.axis().end_hz();
    for (std::size_t i = 0; i < seen.frequency_hz.size(); ++i) {
        if (seen.frequency_hz[i] < end_hz) {
            curve.frequency_hz.push_back(seen.frequency_hz[i]);
            curve.magnitude_db.push_back(seen.level_db[i]);
            curve.phase_deg.push_back(seen.phase_deg[i]);
        }
    }
    const auto grid = *FrequencyGrid::from_frequencies(curve.frequency_hz, brief.axis());
    const Response above = brief.above.response(grid);
    double last = 0, turns = 0;
    for (std::size_t i = 0; i < curve.phase_deg.size(); ++i) {
        const double now = curve.phase_deg[i];
        turns += i > 0 ? std::remainder(now - last, 360.0) - (now - last) : 0;
        last = now;
        curve.phase_deg[i] = now + turns + deg_from_rad(above.phase_rad[i]);
        curve.magnitude_db[i] += above.magnitude_db[i];
    }
    return curve;
}

// By the excess phase above a frequency, weighted alike in every octave: the delay, in seconds,
// and the turns at 0 Hz, whole or half ones (a loudspeaker that is connected the wrong way round).
struct Straight {
    double delay_s = 0, at_zero_deg = 0;
};
Straight straight_part(const Curve& curve, const std::vector<double>& excess_deg, double from_hz,
                       double to_hz) {
    double ff = 0, fp = 0;
    const auto each = [&](auto take) {
        for (std::size_t i = 1; i < curve.frequency_hz.size(); ++i) {
            const double hz = curve.frequency_hz[i];
            if (hz >= from_hz && hz <= to_hz) {
                take(hz, excess_deg[i], std::log(hz / curve.frequency_hz[i - 1]) / hz);
            }
        }
    };
    // The slope between neighbours does not know about turns at 0 Hz.
    double mean_f = 0, mean_p = 0, weights = 0;
    each([&](double hz, double phase, double weight) {
        mean_f += weight * hz;
        mean_p += weight * phase;
        weights += weight;
    });
    each([&](double hz, double phase, double weight) {
        ff += weight * (hz - mean_f / weights) * (hz - mean_f / weights);
        fp += weight * (hz - mean_f / weights) * (phase - mean_p / weights);
    });
    const double slope = ff > 0 ? fp / ff : 0; // degrees per Hz
    const double at_zero = weights > 0 ? (mean_p - slope * mean_f) / weights : 0;
    return {-slope / 360, 180 * std::round(at_zero / 180)};
}

// Interpolated over log frequency; at the ends as there.
double at_hz(const std::vector<double>& hz, const std::vector<double>& values, double at) {
    const auto above = std::ranges::upper_bound(hz, at);
    const auto i = static_cast<std::size_t>(above - hz.begin());
    if (i == 0 || i == hz.size()) {
        return i == 0 ? values.front() : values.back();
    }
    const double share = std::log(at / hz[i - 1]) / std::log(hz[i] / hz[i - 1]);
    return std::lerp(values[i - 1], values[i], share);
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
        if (auto ok = look_at_timing(); !ok) {
            return tl::unexpected(ok.error());
        }
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
    Expected<void> look_at_timing() {
        if (brief_.seen.timing == nullptr || brief_.seen.timing->phase_deg.empty()) {
            return refuse("phase",
                          "mixed phase needs a timing, and not every position of the set has phase",
                          "measure impulse responses, or use minimum or linear phase");
        }
        timing_ = behind(*brief_.seen.timing, brief_);
        const auto parts = phase_parts(timing_, brief_.sample_rate_hz);
        if (!parts) {
            return tl::unexpected(within("phase", parts.error()));
        }
        excess_deg_ = parts->excess_deg;
        const double from = std::min(std::max(spec_.from_hz, 500.0), spec_.to_hz / 2);
        const Straight straight = straight_part(timing_, excess_deg_, from, spec_.to_hz);
        for (std::size_t i = 0; i < excess_deg_.size(); ++i) {
            excess_deg_[i] +=
                360 * straight.delay_s * timing_.frequency_hz[i] - straight.at_zero_deg;
        }
        return {};
    }

    // What each position with phase comes to on the bins, without a filter.
    void add_positions() {
        for (const SeenCurve& position : brief_.seen.positions) {
            if (position.curve->phase_deg.empty()) {
                continue;
            }
            const Curve curve = behind(*position.curve, brief_);
            Bins bins(transform_ / 2 + 1);
            for (std::size_t k = 1; k < bins.size(); ++k) {
                const double hz = static_cast<double>(k) * step_hz_;
                if (hz >= curve.low_hz() / 2 && hz <= curve.high_hz()) {
                    const double db = at_hz(curve.frequency_hz, curve.magnitude_db, hz);
                    const double deg = at_hz(curve.frequency_hz, curve.phase_deg, hz);
                    bins[k] = std::polar(ratio_from_db(db), rad_from_deg(deg));
                }
            }
            as_they_are_db_.push_back(pre_ringing_of(bins));
            positions_.push_back(std::move(bins));
        }
    }

    double pre_ringing_of(const Bins& bins) const {
        return pre_ringing_level_db(in_time(bins, transform_), method_.pre_ringing_ms / 1e3,
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
                const double excess = share * at_hz(timing_.frequency_hz, excess_deg_, hz);
                bins[k] *= std::polar(1.0, -rad_from_deg(excess));
            }
        }
        FoundTaps found = cut_out_of(in_time(bins, transform_));
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

    // Of a circular response whose last half comes before its first sample as many taps as there
    // may be, from where it is first worth it: no more delay than that takes, at most half of them.
    FoundTaps cut_out_of(const std::vector<double>& response) const {
        constexpr double least_share = 1e-5; // of the greatest: 100 dB
        const auto length = static_cast<std::size_t>(method_.length);
        double greatest = 0;
        for (const double x : response) {
            greatest = std::max(greatest, std::abs(x));
        }
        std::size_t before = 0;
        for (std::size_t back = 1; back <= length / 2; ++back) {
            const double x = response[transform_ - back];
            before = std::abs(x) > least_share * greatest ? back : before;
        }
        FoundTaps found;
        found.taps.resize(length);
        for (std::size_t n = 0; n < length; ++n) {
            found.taps[n] = response[(n + transform_ - before) % transform_];
        }
        // Half a period of a cosine over a part of either end.
        const auto fade = [&](std::size_t faded, auto tap) {
            for (std::size_t n = 0; n < faded; ++n) {
                const double place = (static_cast<double>(n) + 0.5) / static_cast<double>(faded);
                found.taps[tap(n)] *= 0.5 - 0.5 * std::cos(pi * place);
            }
        };
        fade(before / 8, [](std::size_t n) { return n; });
        fade(length / 8, [length](std::size_t n) { return length - 1 - n; });
        found.delay_samples = static_cast<double>(before);
        return found;
    }

    const CorrectionSpec& spec_;
    const TapsCorrection& method_;
    const Brief& brief_;
    std::size_t transform_;
    double step_hz_;
    Bins minimum_; // the level's own phase
    Curve timing_;
    std::vector<double> excess_deg_; // at its points, without delay and turns
    std::vector<Bins> positions_;
    std::vector<double> as_they_are_db_;
};

} // namespace

double wanted_gain_db(const CorrectionAim& aim, double hz) {
    const double low = aim.hz.front(), high = aim.hz.back();
    if (hz >= low && hz <= high) {
        return at_hz(aim.hz, aim.gain_db, hz);
    }
    const double edge = hz < low ? aim.gain_db.front() : aim.gain_db.back();
    const double octaves = hz <= 0 ? fade_oct : std::abs(std::log2(hz / (hz < low ? low : high)));
    return edge * std::max(0.0, 1 - octaves / fade_oct);
}

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
    const bool is_linear = method.phase == TapsCorrection::Phase::linear;
    // An even length could not let half the sample rate pass: one tap of it stays 0.
    const std::size_t made = is_linear && length % 2 == 0 ? length - 1 : length;
    FoundTaps found;
    found.taps = taps_of_magnitude(wanted_magnitude(aim, transform, brief.sample_rate_hz), made,
                                   is_linear ? 0.5 : 0);
    found.taps.resize(length);
    found.delay_samples = is_linear ? static_cast<double>(made - 1) / 2 : 0;
    return found;
}

} // namespace syntonon
