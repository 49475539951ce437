// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/energy.h"

#include "core/base/units.h"
#include "core/curve/gate.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double floor_db = -120, most_db = 120;

double clarity_db(double early, double late) {
    return late > 0 && early > 0 ? std::clamp(db_from_power(early / late), -most_db, most_db)
           : early > 0           ? most_db
                                 : -most_db;
}

} // namespace

EnergyOverTime energy_over_time(const ImpulseResponse& impulse, double window_s,
                                std::size_t places) {
    const auto& x = impulse.samples;
    EnergyOverTime made;
    if (x.empty() || places < 2) {
        return made;
    }
    made.from_s = impulse.seconds_of(0);
    made.step_s = static_cast<double>(x.size() - 1) / impulse.sample_rate_hz
                  / static_cast<double>(places - 1);
    const double reach = std::max(1.0, window_s * impulse.sample_rate_hz / 2);
    std::vector<double> powers(places);
    for (std::size_t i = 0; i < places; ++i) {
        const double middle = static_cast<double>(i) * made.step_s * impulse.sample_rate_hz;
        const auto from = static_cast<std::size_t>(std::max(0.0, std::ceil(middle - reach)));
        const auto to = std::min(x.size(), static_cast<std::size_t>(middle + reach) + 1);
        double sum = 0, weights = 0;
        for (std::size_t n = from; n < to; ++n) {
            const double weight =
                0.5 + 0.5 * std::cos(pi * (static_cast<double>(n) - middle) / reach);
            sum += weight * x[n] * x[n];
            weights += weight;
        }
        powers[i] = weights > 0 ? sum / weights : 0;
    }
    const double greatest = std::ranges::max(powers);
    for (const double power : powers) {
        made.level_db.push_back(power > 0 ? std::max(floor_db, db_from_power(power / greatest))
                                          : floor_db);
    }
    return made;
}

EarlyAndLate early_and_late(const ImpulseResponse& impulse) {
    const double arrival = arrival_s(impulse);
    double to_50 = 0, to_80 = 0, all = 0, moment = 0;
    // A sample belongs to the arrival by half a sample: it is found between samples.
    const double begin = -0.5 / impulse.sample_rate_hz;
    for (std::size_t n = 0; n < impulse.samples.size(); ++n) {
        const double s = impulse.seconds_of(n) - arrival;
        const double power = impulse.samples[n] * impulse.samples[n];
        if (s < begin) {
            continue;
        }
        all += power;
        moment += power * s;
        to_50 += s < 0.05 ? power : 0;
        to_80 += s < 0.08 ? power : 0;
    }
    if (!(all > 0)) {
        return {};
    }
    return {clarity_db(to_50, all - to_50), clarity_db(to_80, all - to_80), to_50 / all,
            moment / all};
}

} // namespace syntonon
