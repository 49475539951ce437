// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/circle_zeros.h"

#include "core/base/units.h"
#include "core/design/fir/amplitude.h"
#include "core/filter/taps.h"
#include "core/math/false_position.h"
#include "core/math/fft.h"
#include "core/math/fine_spectrum.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace syntonon {
namespace {

constexpr double faintest = 1e-15; // of the greatest magnitude

// A(w) from the spectrum: turned back by the delay, and by the j of odd symmetry.
class Amplitudes {
public:
    Amplitudes(std::span<const double> taps, int symmetry)
        : spectrum_(taps), middle_((static_cast<double>(taps.size()) - 1) / 2),
          is_odd_(symmetry < 0) {}
    double at(double w) const {
        const auto turned =
            spectrum_.at(w, 2 * pi).h * std::polar(1.0, std::remainder(w * middle_, 2 * pi));
        return is_odd_ ? turned.imag() : turned.real();
    }

private:
    FineSpectrum spectrum_;
    double middle_;
    bool is_odd_;
};

constexpr double far_enough = 6; // where E1 and the Gaussians have died away

// E1(v^2), v > 0 up to far_enough: -gamma - log v^2 + Ein(v^2), where Ein is entire and looked up
// by cubics through four places; right to 1e-12.
class ExponentialIntegral {
public:
    ExponentialIntegral() {
        ein_.push_back(0);
        for (std::size_t i = 1; i < places; ++i) {
            const double v = static_cast<double>(i) * step;
            ein_.push_back(-std::expint(-v * v) + euler + std::log(v * v));
        }
    }
    double operator()(double v) const {
        const double place = std::min(v / step, static_cast<double>(places - 3));
        const auto i = std::max<std::size_t>(static_cast<std::size_t>(place), 1);
        const double t = place - static_cast<double>(i);
        const double* y = &ein_[i - 1];
        const double ein =
            y[0] * (-t * (t - 1) * (t - 2) / 6) + y[1] * ((t + 1) * (t - 1) * (t - 2) / 2)
            + y[2] * (-(t + 1) * t * (t - 2) / 2) + y[3] * ((t + 1) * t * (t - 1) / 6);
        return ein - euler - std::log(v * v);
    }

private:
    static constexpr std::size_t places = 4096;
    static constexpr double step = (far_enough + 0.1) / places, euler = std::numbers::egamma;
    std::vector<double> ein_;
};

// Places on the whole circle.
class Splitting {
public:
    explicit Splitting(std::size_t places)
        : count_(places), step_(2 * pi / static_cast<double>(places)),
          cut_off_(static_cast<double>(places) / 12), deviation_(std::sqrt(2.0) / cut_off_),
          fft_(places) {
        for (double u = 0; u < 1.5 * far_enough; u += step_ / deviation_) {
            bell_.push_back(std::exp(-u * u / 2));
        }
    }

    std::vector<double> freed(std::span<const double> magnitude, std::span<const double> zeros) {
        const double floor = std::ranges::max(magnitude) * faintest;
        std::vector<double> log;
        log.reserve(magnitude.size());
        for (const double value : magnitude) {
            log.push_back(std::log(std::max(value, floor)));
        }
        add_smooth_parts(zeros);
        for (std::size_t k = 0; k < log.size(); ++k) {
            log[k] -= fft_.signal()[k];
        }
        for (const double zero : zeros) {
            take_near_part(zero, log);
            if (zero > 0 && zero < pi) {
                take_near_part(-zero, log);
                take_near_part(2 * pi - zero, log);
            }
        }
        for (const double zero : zeros) {
            bridge(zero, log);
        }
        return log;
    }

private:
    // The signal becomes the smooth part of log |B|.
    void add_smooth_parts(std::span<const double> zeros) {
        std::ranges::fill(fft_.signal(), 0.0);
        for (const double zero : zeros) {
            spread(zero);
            if (zero > 0 && zero < pi) {
                spread(2 * pi - zero);
            }
        }
        fft_.to_spectrum();
        // log |1 - e^jx| is - sum cos(nx)/n; -E1((cut_off x/2)^2)/2 has - erf(n/cut_off)/n of it.
        fft_.spectrum()[0] /= cut_off_ * std::sqrt(pi);
        for (std::size_t n = 1; n < fft_.spectrum().size(); ++n) {
            const double y = static_cast<double>(n) / cut_off_;
            fft_.spectrum()[n] *= -0.5 / static_cast<double>(n) * std::erfc(y) * std::exp(y * y);
        }
        fft_.to_signal();
    }
    // A Gaussian of unit area whose transform is e^(-n^2 / cut_off^2); of its places only two
    // exponentials are asked for (L. Greengard and J.-Y. Lee, Accelerating the nonuniform fast
    // Fourier transform, SIAM Review 46, 2004).
    void spread(double zero) {
        const auto middle = static_cast<std::ptrdiff_t>(std::lround(zero / step_));
        const auto all = static_cast<std::ptrdiff_t>(count_);
        const double u = (static_cast<double>(middle) * step_ - zero) / deviation_;
        const double ratio = std::exp(-u * step_ / deviation_);
        const double top = std::exp(-u * u / 2) * step_ / (deviation_ * std::sqrt(2 * pi));
        double up = top, down = top;
        for (std::size_t i = 0; i < bell_.size(); ++i) {
            const auto aside = static_cast<std::ptrdiff_t>(i);
            at_place((middle + aside) % all) += up * bell_[i];
            if (i > 0) {
                at_place((middle - aside + all) % all) += down * bell_[i];
            }
            up *= ratio;
            down /= ratio;
        }
    }
    double& at_place(std::ptrdiff_t i) { return fft_.signal()[static_cast<std::size_t>(i)]; }

    void take_near_part(double zero, std::vector<double>& log) const {
        const double reach = 2 * far_enough / cut_off_;
        const auto first = static_cast<std::ptrdiff_t>(std::ceil((zero - reach) / step_));
        const auto last = static_cast<std::ptrdiff_t>(std::floor((zero + reach) / step_));
        for (std::ptrdiff_t i = std::max<std::ptrdiff_t>(first, 0);
             i <= std::min(last, static_cast<std::ptrdiff_t>(log.size()) - 1); ++i) {
            const double v = std::abs(cut_off_ * (static_cast<double>(i) * step_ - zero) / 2);
            if (v != 0) {
                log[static_cast<std::size_t>(i)] += exponential_integral(v) / 2;
            }
        }
    }
    // At a place on the zero itself nothing is left to be told apart.
    void bridge(double zero, std::vector<double>& log) const {
        const auto at = static_cast<std::size_t>(std::lround(zero / step_));
        const double aside = zero / step_ - static_cast<double>(at);
        constexpr double on_it = 1e-4;
        if (std::abs(aside) < on_it) {
            const double before = at > 0 ? log[at - 1] : log[1];
            const double after = at + 1 < log.size() ? log[at + 1] : log[log.size() - 2];
            log[at] = (before + after) / 2;
        }
    }

    std::size_t count_;
    double step_, cut_off_, deviation_;
    std::vector<double> bell_; // the Gaussian about a place, step by step
    RealFft fft_;
    ExponentialIntegral exponential_integral;
};

} // namespace

std::vector<double> circle_zeros(std::span<const double> taps, std::size_t fft_length) {
    const Taps held(std::vector<double>(taps.begin(), taps.end()));
    if (held.symmetry() == 0 || taps.size() < 2) {
        return {};
    }
    const LinearPhaseType type(taps.size(), held.symmetry() < 0);
    const Amplitudes amplitude(taps, held.symmetry());
    RealFft fft(fft_length);
    std::ranges::fill(fft.signal(), 0.0);
    std::ranges::copy(taps, fft.signal().begin());
    fft.to_spectrum();
    const double middle = (static_cast<double>(taps.size()) - 1) / 2;
    const auto at = [&](std::size_t k) {
        const double turns = std::remainder(
            static_cast<double>(k) * (middle / static_cast<double>(fft_length)), 1.0);
        const auto turned = fft.spectrum()[k] * std::polar(1.0, 2 * pi * turns);
        return type.is_odd() ? turned.imag() : turned.real();
    };
    std::vector<double> zeros;
    if (type.is_zero_at_0()) {
        zeros.push_back(0);
    }
    const std::size_t first = type.is_zero_at_0() ? 1 : 0;
    const std::size_t last = fft_length / 2 - (type.is_zero_at_pi() ? 1 : 0);
    double before = at(first);
    for (std::size_t k = first + 1; k <= last; ++k) {
        const double here = at(k);
        if ((before < 0) != (here < 0)) {
            const double step = 2 * pi / static_cast<double>(fft_length);
            const double from = static_cast<double>(k - 1) * step;
            const auto zero =
                false_position([&](double w) { return amplitude.at(w); }, from, from + step, 1e-15);
            zeros.push_back(zero.value_or(from + step / 2));
        }
        before = here;
    }
    if (type.is_zero_at_pi()) {
        zeros.push_back(pi);
    }
    return zeros;
}

std::vector<double> log_without_zeros(std::span<const double> magnitude,
                                      std::span<const double> zeros_w) {
    return Splitting(2 * (magnitude.size() - 1)).freed(magnitude, zeros_w);
}

} // namespace syntonon
