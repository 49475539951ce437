// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_ticks.h"

#include "app/plot/roots_lane.h"
#include "core/base/units.h"

#include <cmath>
#include <functional>

namespace syntonon {
namespace {

constexpr double pixels_a_line = 34;

QString number_text(double value, bool with_sign) {
    // What is left of 0 after additions is 0.
    if (std::abs(value) < 1e-9) {
        return QStringLiteral("0");
    }
    const QString number = QString::number(std::abs(value), 'g', 4);
    return value < 0   ? QStringLiteral("−") + number
           : with_sign ? QStringLiteral("+") + number
                       : number;
}

// All multiples of `step` in the range.
QVector<double> multiples(double step, double low, double high) {
    QVector<double> ticks;
    for (double n = std::ceil(low / step - 1e-9); n * step <= high + step * 1e-9; ++n) {
        ticks.append(n * step);
    }
    return ticks;
}

// 1, 2 and 5 times powers of ten in the range, which must be positive.
QVector<double> one_two_five(double low, double high) {
    QVector<double> ticks;
    for (double decade = std::pow(10, std::floor(std::log10(low))); decade <= high; decade *= 10) {
        for (const double part : {1.0, 2.0, 5.0}) {
            if (part * decade >= low * (1 - 1e-9) && part * decade <= high * (1 + 1e-9)) {
                ticks.append(part * decade);
            }
        }
    }
    return ticks;
}

using TickText = std::function<QString(double)>;

std::vector<AxisTick> labelled(const QVector<double>& places, const TickText& text) {
    std::vector<AxisTick> ticks;
    for (const double place : places) {
        ticks.push_back({place, text(place)});
    }
    return ticks;
}

std::vector<AxisTick> even_ticks(double step, bool with_sign, double low, double high) {
    return labelled(multiples(step, low, high),
                    [with_sign](double tick) { return number_text(tick, with_sign); });
}

// The axis is in dB (or powers of ten), the numbers are ratios.
std::vector<AxisTick> ratio_ticks(double axis_a_decade, double axis_low, double axis_high) {
    const auto ratio = [axis_a_decade](double axis) { return std::pow(10, axis / axis_a_decade); };
    const double low = ratio(axis_low), high = ratio(axis_high);
    constexpr int lines = 6;
    const double decades = std::log10(high / low);
    QVector<double> ticks;
    if (decades < 0.7) {
        ticks = multiples(round_step((high - low) / lines), low, high);
    } else if (decades <= 2.5) {
        ticks = one_two_five(low, high);
    } else {
        for (double n = std::ceil(std::log10(low)); n <= std::log10(high) + 1e-9; ++n) {
            ticks.append(std::pow(10, n));
        }
    }
    for (double& tick : ticks) {
        tick = axis_a_decade * std::log10(tick);
    }
    return labelled(ticks, [&](double tick) { return number_text(ratio(tick), false); });
}

QString root_width_text(RootWidth width, int decade) {
    if (width == RootWidth::decay) {
        return decade < 0 ? QObject::tr("%1 ms").arg(std::pow(10, decade + 3))
                          : QObject::tr("%1 s").arg(std::pow(10, decade));
    }
    return decade < 3 ? QObject::tr("%1 Hz").arg(std::pow(10, decade))
                      : QObject::tr("%1 kHz").arg(std::pow(10, decade - 3));
}

// Decades of decay below the circle and of growth above it, or of bandwidth, as close together as
// they can be read.
std::vector<AxisTick> root_ticks(RootWidth width, double low, double high, double pixels) {
    constexpr double least_apart = 17; // pixels
    const double room = least_apart * (high - low) / std::max(pixels, 1.0);
    // A bandwidth of 1 Hz decays in ln(1000)/pi s.
    const double shift = width == RootWidth::decay ? 0 : std::log10(std::log(1000.0) / pi);
    std::vector<AxisTick> ticks{
        {circle_on_lane, width == RootWidth::decay ? QStringLiteral("∞") : QStringLiteral("0")}};
    double last = circle_on_lane;
    constexpr int widest = 6;
    for (int decade = 1; decade >= -widest; --decade) {
        const double place = decade + shift;
        if (last - place < room) {
            continue;
        }
        last = place;
        const QString text = root_width_text(width, width == RootWidth::decay ? decade : -decade);
        ticks.push_back({place, text});
        ticks.push_back({2 * circle_on_lane - place, text});
    }
    std::erase_if(ticks,
                  [&](const AxisTick& tick) { return tick.place < low || tick.place > high; });
    return ticks;
}

double degrees_step(double at_least) {
    for (const double step : {1.0, 2.0, 5.0, 10.0, 15.0, 30.0, 45.0, 90.0, 180.0, 360.0}) {
        if (step >= at_least) {
            return step;
        }
    }
    return 360 * std::ceil(at_least / 360);
}

} // namespace

std::vector<AxisTick> frequency_ticks(const LaneView& view, double sample_rate_hz, double low_hz,
                                      double high_hz) {
    constexpr int lines = 8;
    const double unit_hz = hz_of(view.frequency_unit, sample_rate_hz);
    const bool kilo =
        view.frequency_unit == AxisUnit::hz || view.frequency_unit == AxisUnit::rad_per_s;
    const double low = low_hz / unit_hz, high = high_hz / unit_hz;
    const bool few = !view.linear_frequency && low > 0 && high / low < 5;
    QVector<double> ticks = view.linear_frequency || few
                                ? multiples(round_step((high - low) / lines), low, high)
                                : one_two_five(low, high);
    for (double& tick : ticks) {
        tick *= unit_hz;
    }
    return labelled(ticks, [&](double tick) {
        const double shown = tick / unit_hz;
        return kilo && std::abs(shown) >= 1000 ? number_text(shown / 1000, false) + "k"
                                               : number_text(shown, false);
    });
}

std::vector<AxisTick> value_ticks(Lane lane, const LaneView& view, const LaneRange& range,
                                  double sample_rate_hz, double pixels, double axis_low,
                                  double axis_high) {
    const double lines = std::max(2.0, pixels / pixels_a_line);
    const auto even = [&](double step, bool with_sign) {
        return even_ticks(step, with_sign, axis_low, axis_high);
    };
    const bool ratio = lane == Lane::magnitude && view.level == LevelScale::ratio;
    if (ratio || lane == Lane::weight) {
        return ratio_ticks(ratio ? 20 : 1, axis_low, axis_high);
    }
    if (lane == Lane::magnitude && view.level == LevelScale::linear_ratio) {
        return even(round_step((axis_high - axis_low) / lines), false);
    }
    if (lane == Lane::roots) {
        return root_ticks(view.root_width, axis_low, axis_high, pixels);
    }
    const double least = (range.high - range.low) / lines;
    if (lane == Lane::phase) {
        return view.radians ? even(round_step(rad_from_deg(least)), true)
                            : even(range.step > 0 ? range.step : degrees_step(least), true);
    }
    if (lane == Lane::delay && view.delay_unit != TimeUnit::ms) {
        const double shown = samples_of({least, TimeUnit::ms}, sample_rate_hz);
        return even(round_step(from_samples(shown, view.delay_unit, sample_rate_hz)), false);
    }
    return even(range.step > 0 ? range.step : round_step(least), lane != Lane::delay);
}

} // namespace syntonon
