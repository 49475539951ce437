// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/before_after.h"

#include "core/base/units.h"
#include "core/curve/curve_spectrum.h"
#include "core/curve/level_means.h"
#include "core/math/fft.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <numeric>

namespace syntonon {
namespace {

constexpr double no_number = std::numeric_limits<double>::quiet_NaN();

using Samples = std::vector<double>;

class BeforeAfterMaker {
public:
    BeforeAfterMaker(const Filter& chain, const Axis& axis, const BeforeAfterWindow& window)
        : chain_(chain), axis_(axis), window_(window), length_(transform_length()) {
        constexpr double lowest_hz = 10, highest_hz = 40'000;
        constexpr std::size_t count = 600;
        const auto grid = *FrequencyGrid::logarithmic(
            lowest_hz, std::min(highest_hz, axis.end_hz() * (1 - 1e-9)), count, axis);
        hz_.assign(grid.frequency_hz().begin(), grid.frequency_hz().end());
        constexpr double lowest_db = -300; // of a zero: the mean shall be one
        Samples level = chain.magnitude_db(grid);
        for (double& db : level) {
            db = std::max(db, lowest_db);
        }
        chain_db_ = LevelMeans(hz_, level);
    }

    BeforeAfter made(const Measured& measured) {
        BeforeAfter result;
        result.hz = hz_;
        result.width_oct = window_.width_oct;
        const auto from = static_cast<std::ptrdiff_t>(std::floor(window_.from_s * rate()));
        const auto to = static_cast<std::ptrdiff_t>(std::ceil(window_.to_s * rate()));
        for (std::ptrdiff_t n = from; n <= to; ++n) {
            result.seconds.push_back(static_cast<double>(n) / rate());
        }
        const bool in_time = !axis_.is_analog();
        if (in_time) {
            bins_of_chain();
        }
        result.together = levels_of(*measured.curve, measured.name());
        const auto timing = in_time && measured.timing ? bins_of(**measured.timing) : Bins();
        if (!timing.empty()) {
            zero_before_ = main_sample(impulse_of(timing, length_));
            zero_after_ = main_sample(impulse_of(behind_chain(timing), length_));
            result.later_s = static_cast<double>(zero_after_ - zero_before_) / rate();
            add_times(timing, from, to, result.together);
        }
        for (const MeasuredPosition& position : measured.positions) {
            if (measured.positions.size() < 2) {
                break;
            }
            result.positions.push_back(levels_of(*position.curve, position.curve->name));
            if (!timing.empty() && position.curve->has_phase()) {
                add_times(bins_of(*position.curve), from, to, result.positions.back());
            }
        }
        return result;
    }

private:
    using Bins = std::vector<std::complex<double>>;

    static double magnitude(double x) { return std::abs(x); }
    double rate() const { return axis_.sample_rate_hz; }

    // Fine enough for what is shown, and that low frequencies of a room and of the chain have died
    // away.
    std::size_t transform_length() const {
        constexpr double least_s = 0.7;
        const double samples =
            std::max(least_s, 2 * (window_.to_s - window_.from_s)) * axis_.sample_rate_hz;
        constexpr std::size_t most = 1 << 20;
        const auto taps = static_cast<std::size_t>(
            std::clamp(4 * chain_.latency_samples(), 1.0, static_cast<double>(most)));
        return std::min(most, std::bit_ceil(std::max(taps, static_cast<std::size_t>(samples))));
    }

    BeforeAfter::Place levels_of(const Curve& curve, const std::string& name) const {
        BeforeAfter::Place place;
        place.name = name;
        const LevelMeans seen(curve.frequency_hz, curve.magnitude_db);
        for (const double hz : hz_) {
            const bool is_there = curve.covers(hz);
            const double before = is_there ? seen.over(hz, window_.width_oct) : no_number;
            place.before_db.push_back(before);
            place.after_db.push_back(before + chain_db_.over(hz, window_.width_oct));
        }
        return place;
    }

    // Unwrapped and in the axis' range.
    Bins bins_of(const Curve& curve) const {
        const CurveReader reader(curve);
        Curve unwrapped;
        for (const double hz : curve.frequency_hz) {
            if (hz < axis_.end_hz()) {
                unwrapped.frequency_hz.push_back(hz);
                unwrapped.magnitude_db.push_back(reader.magnitude_db_at(hz));
                unwrapped.phase_deg.push_back(reader.phase_deg_at(hz));
            }
        }
        if (unwrapped.frequency_hz.size() < 2) {
            return {};
        }
        Bins bins = spectrum_of(unwrapped, length_, rate());
        fade_ends(unwrapped, bins);
        return bins;
    }

    // What is cut off at the ends of what was measured would ring all over the picture.
    void fade_ends(const Curve& curve, Bins& bins) const {
        constexpr double fade_oct = 0.5;
        const double step_hz = rate() / static_cast<double>(length_);
        for (std::size_t k = 1; k < bins.size(); ++k) {
            const double hz = static_cast<double>(k) * step_hz;
            const double inside_oct =
                std::min(std::log2(curve.high_hz() / hz), std::log2(2 * hz / curve.low_hz()));
            const double place = std::clamp(inside_oct / fade_oct, 0.0, 1.0);
            bins[k] *= 0.5 - 0.5 * std::cos(pi * place);
        }
    }

    void bins_of_chain() {
        RealFft fft(length_);
        const Samples impulse = chain_.impulse_response(length_);
        std::ranges::copy(impulse, fft.signal().begin());
        fft.to_spectrum();
        chain_bins_.assign(fft.spectrum().begin(), fft.spectrum().end());
    }

    Bins behind_chain(Bins bins) const {
        std::ranges::transform(bins, chain_bins_, bins.begin(), std::multiplies());
        return bins;
    }

    // Of a circular response: negative in its last half.
    static std::ptrdiff_t main_sample(const Samples& impulse) {
        const auto at = std::ranges::max_element(impulse, {}, magnitude) - impulse.begin();
        const auto length = static_cast<std::ptrdiff_t>(impulse.size());
        return at < length / 2 ? at : at - length;
    }

    void add_times(const Bins& bins, std::ptrdiff_t from, std::ptrdiff_t to,
                   BeforeAfter::Place& place) const {
        const Samples before = impulse_of(bins, length_);
        const Samples after = impulse_of(behind_chain(bins), length_);
        const double greatest = std::abs(*std::ranges::max_element(before, {}, magnitude));
        if (greatest == 0) {
            return;
        }
        const auto length = static_cast<std::ptrdiff_t>(length_);
        for (std::ptrdiff_t n = from; n <= to; ++n) {
            const auto at = [&](std::ptrdiff_t zero) {
                return static_cast<std::size_t>(((zero + n) % length + length) % length);
            };
            place.impulse_before.push_back(before[at(zero_before_)] / greatest);
            place.impulse_after.push_back(after[at(zero_after_)] / greatest);
        }
    }

    const Filter& chain_;
    Axis axis_;
    BeforeAfterWindow window_;
    std::size_t length_;
    std::ptrdiff_t zero_before_ = 0, zero_after_ = 0;
    std::vector<double> hz_;
    LevelMeans chain_db_{{{1.0}}, {{0.0}}};
    Bins chain_bins_;
};

} // namespace

BeforeAfter before_after_of(const Measured& measured, const Filter& chain, const Axis& axis,
                            const TargetCurve* target, const BeforeAfterWindow& window) {
    BeforeAfter result = BeforeAfterMaker(chain, axis, window).made(measured);
    for (const double hz : target != nullptr ? result.hz : std::vector<double>()) {
        result.target_db.push_back(target->value_at(hz).value_or(no_number));
    }
    return result;
}

std::vector<double> running_sum(const std::vector<double>& impulse) {
    std::vector<double> sum(impulse.size());
    std::partial_sum(impulse.begin(), impulse.end(), sum.begin());
    return sum;
}

} // namespace syntonon
