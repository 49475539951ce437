// A measured or imported response.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/base/unknown_keys.h"
#include "core/curve/measurement.h"

#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// Frequencies ascend strictly and are positive; phase is empty or as long as the frequencies, and
// wrapped or not as it came. Between its points a curve is straight in dB over log frequency.
struct Curve {
    std::string id;
    std::string name;
    std::vector<double> frequency_hz;
    std::vector<double> magnitude_db;
    std::vector<double> phase_deg;
    std::string colour = {}; // "#B4561F", or empty: the window chooses
    std::string source = {}; // where it came from, for people: "rows/zenith-a.txt, 25 Nov 2026"
    UnknownKeys unknown = {};
    std::optional<CurveOrigin> origin = {}; // of one that is worked out, see worked_out.h
    double delay_s = 0;                     // that its phase had and that was taken out of it

    bool operator==(const Curve&) const = default;
    bool has_phase() const { return !phase_deg.empty(); }
    double low_hz() const { return frequency_hz.front(); }
    double high_hz() const { return frequency_hz.back(); }
    bool covers(double hz) const { return hz >= low_hz() && hz <= high_hz(); }
};

// No level in dB of anything; powers of ten of what lies beyond could not be held.
inline constexpr double greatest_curve_level_db = 10'000;

// Refuses an empty curve, unequal lengths, frequencies that do not ascend or are not positive,
// values that are not finite, levels beyond greatest_curve_level_db.
Expected<void> check(const Curve& curve);

// A curve made quick to ask. Phase is unwrapped once, each step taken as less than half a turn.
class CurveReader {
public:
    explicit CurveReader(const Curve& curve); // must have passed check()

    // Interpolated; beyond its ends the curve's end value. Ask `covers` where that matters.
    double magnitude_db_at(double hz) const;
    double phase_deg_at(double hz) const; // unwrapped; 0 without phase
    bool covers(double hz) const { return hz >= low_hz_ && hz <= high_hz_; }
    double low_hz() const { return low_hz_; }
    double high_hz() const { return high_hz_; }
    const std::vector<double>& frequency_hz() const { return frequency_hz_; }

private:
    double at(const std::vector<double>& values, double hz) const;

    double low_hz_, high_hz_;
    std::vector<double> frequency_hz_, log_hz_, magnitude_db_, phase_deg_;
};

// The mean in dB over log frequency within [from_hz, to_hz]; refuses a range that the curve
// does not reach.
Expected<double> mean_level_db(const Curve& curve, double from_hz, double to_hz);

} // namespace syntonon
