// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_view.h"

#include "core/base/units.h"

#include <QObject>

namespace syntonon {

double hz_of(AxisUnit unit, double sample_rate_hz) {
    switch (unit) {
    case AxisUnit::hz:
        return 1;
    case AxisUnit::rad_per_s:
        return hz_from_rad_per_s(1);
    case AxisUnit::rad_per_sample:
        return hz_from_rad_per_sample(1, sample_rate_hz);
    case AxisUnit::of_sample_rate:
        return sample_rate_hz;
    case AxisUnit::of_nyquist:
        return nyquist_hz(sample_rate_hz);
    }
    return 1;
}

QString title_of(AxisUnit unit) {
    switch (unit) {
    case AxisUnit::hz:
        return QObject::tr("Hz");
    case AxisUnit::rad_per_s:
        return QObject::tr("rad/s");
    case AxisUnit::rad_per_sample:
        return QObject::tr("rad/sample");
    case AxisUnit::of_sample_rate:
        return QObject::tr("× sample rate");
    case AxisUnit::of_nyquist:
        return QObject::tr("× Nyquist");
    }
    return {};
}

QString title_of(Lane lane) {
    const std::array titles = {QObject::tr("Magnitude"), QObject::tr("Weight"),
                               QObject::tr("Phase"), QObject::tr("Delay"), QObject::tr("Roots")};
    return titles.at(static_cast<std::size_t>(lane));
}

double round_step(double at_least) {
    const double decade = std::pow(10, std::floor(std::log10(at_least) + 1e-9));
    for (const double part : {1.0, 2.0, 5.0}) {
        if (part * decade >= at_least * (1 - 1e-9)) {
            return part * decade;
        }
    }
    return 10 * decade;
}

} // namespace syntonon
