// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/fractional_delay_fir.h"

#include "core/base/units.h"
#include "core/design/fir/least_squares.h"
#include "core/design/fractional_delay.h"
#include "core/math/fine_spectrum.h"

#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr double right_delay_samples = 0.01, right_level_db = 0.1;

// Up to where it does what it says.
double valid_to_hz(const std::vector<double>& taps, double delay, double rate) {
    constexpr int places = 4096;
    const FineSpectrum spectrum(taps);
    for (int k = 0; k <= places; ++k) {
        const double w = pi * k / places;
        const auto value = spectrum.at(w, 2 * pi);
        const double phase_delay = k == 0
                                       ? -(value.slope / value.h).imag()
                                       : delay - std::arg(value.h * std::polar(1.0, w * delay)) / w;
        if (std::abs(db_from_ratio(std::abs(value.h))) > right_level_db
            || std::abs(phase_delay - delay) > right_delay_samples) {
            return k == 0 ? 0 : hz_from_rad_per_sample(pi * (k - 1) / places, rate);
        }
    }
    return rate / 2;
}

FirMade with_band(std::vector<double> taps, const char* source, const FractionalDelayFir& method,
                  double rate) {
    const double valid = valid_to_hz(taps, method.delay_samples, rate);
    FirMade made{std::move(taps), source};
    made.steps = {{"Delay",
                   {{"τ", "asked for", method.delay_samples, "samples"},
                    {"fv", "right to 0.01 sample and 0.1 dB up to", valid, "Hz"}}}};
    made.marked_hz = {valid};
    return made;
}

} // namespace

Expected<FirMade> made(const FractionalDelayFir& method, const FirTask& task) {
    const bool by_squares = method.by == FractionalDelayFir::By::least_squares;
    const auto order = static_cast<int>(task.length) - 1;
    const Interpolation as = method.by == FractionalDelayFir::By::lagrange
                                 ? Interpolation::lagrange
                                 : Interpolation::windowed_sinc;
    const std::size_t most = by_squares ? 4096 : static_cast<std::size_t>(most_order(as)) + 1;
    for (auto ok :
         {check_length(task.length, most), check_delay(method.delay_samples, task.length)}) {
        if (!ok) {
            return tl::unexpected(ok.error());
        }
    }
    const double rate = task.brief.sample_rate_hz;
    if (!by_squares) {
        return with_band(as == Interpolation::lagrange ? lagrange_taps(order, method.delay_samples)
                                                       : sinc_taps(order, method.delay_samples),
                         "Laakso et al., Splitting the unit delay, 1996", method, rate);
    }
    if (!(method.band_hz > 0 && method.band_hz <= rate / 2)) {
        return refuse(
            "band_hz",
            fmt::format("{} Hz is not above 0 Hz and at most half the sample rate ({} Hz)",
                        method.band_hz, rate / 2),
            "move it there");
    }
    const Amplitude band{{{0, rad_per_sample_from_hz(method.band_hz, rate), 1, 1}, 1}};
    return least_squares(task.length, band, false, method.delay_samples, task.watch)
        .map([&](const LeastSquares& found) {
            return with_band(
                found.taps,
                "Least squared error up to the band's end (Laakso et al., Splitting the "
                "unit delay, 1996, eq. 29)",
                method, rate);
        });
}

} // namespace syntonon
