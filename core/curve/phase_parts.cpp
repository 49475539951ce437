// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/phase_parts.h"

#include "core/base/units.h"
#include "core/curve/curve_delay.h"
#include "core/math/fft.h"

#include <algorithm>
#include <bit>
#include <cmath>

namespace syntonon {
namespace {

// Below its low end a level goes on falling as it does there, like a high-pass; never rising, and
// no steeper than four orders do. Above its high end it stays.
class LevelBeyond {
public:
    explicit LevelBeyond(const CurveReader& reader) : reader_(reader) {
        constexpr double looked_at_oct = 0.5, steepest_db = 24;
        const double within =
            std::min(reader.low_hz() * std::exp2(looked_at_oct), reader.high_hz());
        const double rise =
            reader.magnitude_db_at(within) - reader.magnitude_db_at(reader.low_hz());
        slope_db_oct_ =
            std::clamp(rise / octaves_between(reader.low_hz(), within), 0.0, steepest_db);
    }
    double db_at(double hz) const {
        const double below = std::max(0.0, octaves_between(hz, reader_.low_hz()));
        return reader_.magnitude_db_at(hz) - slope_db_oct_ * below;
    }

private:
    const CurveReader& reader_;
    double slope_db_oct_ = 0;
};

// Of bins from 0 to half the rate, in rad.
class MinimumPhase {
public:
    MinimumPhase(const CurveReader& reader, double sample_rate_hz)
        : fft_(length_for(reader.low_hz(), sample_rate_hz)),
          step_hz_(sample_rate_hz / static_cast<double>(fft_.length())) {
        constexpr double neper = 0.11512925464970229; // of a dB
        const LevelBeyond level(reader);
        for (std::size_t k = 0; k < fft_.spectrum().size(); ++k) {
            const double hz = std::max(static_cast<double>(k), 0.25) * step_hz_;
            fft_.spectrum()[k] = neper * level.db_at(hz);
        }
        fft_.to_signal();
        // The part before time 0 is turned over onto that behind it.
        const auto cepstrum = fft_.signal();
        const std::size_t half = cepstrum.size() / 2;
        const double scale = 1 / static_cast<double>(cepstrum.size());
        for (std::size_t n = 0; n < cepstrum.size(); ++n) {
            const double share = n == 0 || n == half ? 1 : n < half ? 2 : 0;
            cepstrum[n] *= share * scale;
        }
        fft_.to_spectrum();
    }
    double at(double hz) {
        const auto bins = fft_.spectrum();
        const double place = std::min(hz / step_hz_, static_cast<double>(bins.size() - 1));
        const auto k = std::min(static_cast<std::size_t>(place), bins.size() - 2);
        const double share = place - static_cast<double>(k);
        // A cubic through the two bins with the slopes of their neighbours: a line would leave
        // steps in the delay. The phase is odd about 0 Hz.
        const double before = k > 0 ? bins[k - 1].imag() : -bins[1].imag();
        const double a = bins[k].imag(), b = bins[k + 1].imag();
        const double behind = k + 2 < bins.size() ? bins[k + 2].imag() : a;
        const double slope_a = (b - before) / 2, slope_b = (behind - a) / 2;
        const double bend = 3 * (b - a) - 2 * slope_a - slope_b;
        const double twist = 2 * (a - b) + slope_a + slope_b;
        return a + share * (slope_a + share * (bend + share * twist));
    }

private:
    // Fine enough for the lowest frequency, and for the cepstrum to have died away.
    static std::size_t length_for(double low_hz, double sample_rate_hz) {
        constexpr double bins_below = 16;
        constexpr std::size_t least = std::size_t(1) << 16, most = std::size_t(1) << 20;
        const double wanted = bins_below * sample_rate_hz / low_hz;
        return std::clamp(std::bit_ceil(static_cast<std::size_t>(std::min(wanted, 1e9))), least,
                          most);
    }

    RealFft fft_;
    double step_hz_;
};

} // namespace

Expected<PhaseParts> phase_parts(const Curve& curve, double sample_rate_hz) {
    if (!curve.has_phase() || curve.frequency_hz.size() < 2) {
        return refuse("", "the curve has no phase",
                      "import one with phase, or an impulse response");
    }
    if (!(curve.high_hz() <= sample_rate_hz / 2)) {
        return refuse("sample_rate_hz", "is less than twice the curve's highest frequency",
                      "give the rate that it was measured at");
    }
    const CurveReader reader(curve);
    MinimumPhase minimum(reader, sample_rate_hz);
    Curve excess = curve;
    PhaseParts parts;
    for (std::size_t i = 0; i < curve.frequency_hz.size(); ++i) {
        const double hz = curve.frequency_hz[i];
        parts.minimum_deg.push_back(deg_from_rad(minimum.at(hz)));
        excess.phase_deg[i] = reader.phase_deg_at(hz) - parts.minimum_deg[i];
    }
    parts.excess_deg = excess.phase_deg;
    parts.excess_delay_s = group_delay_s(excess);
    return parts;
}

std::vector<double> minimum_phase_deg(std::vector<double> frequency_hz,
                                      std::vector<double> level_db, double sample_rate_hz) {
    Curve level;
    level.frequency_hz = std::move(frequency_hz);
    level.magnitude_db = std::move(level_db);
    const CurveReader reader(level);
    MinimumPhase minimum(reader, sample_rate_hz);
    std::vector<double> phase;
    for (const double hz : level.frequency_hz) {
        phase.push_back(deg_from_rad(minimum.at(hz)));
    }
    return phase;
}

} // namespace syntonon
