// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_ticks.h"

#include "core/base/units.h"

#include <cmath>

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

// Ticks at given places, with the shown number a factor or a function away.
class PlacedTicker : public QCPAxisTicker {
protected:
    int getSubTickCount(double) override { return 0; }
};

class FrequencyTicker : public PlacedTicker {
public:
    FrequencyTicker(double unit_hz, bool linear, bool kilo)
        : unit_hz_(unit_hz), linear_(linear), kilo_(kilo) {}

protected:
    QVector<double> createTickVector(double, const QCPRange& range) override {
        constexpr int lines = 8;
        const double low = range.lower / unit_hz_, high = range.upper / unit_hz_;
        const bool few = !linear_ && low > 0 && high / low < 5;
        QVector<double> ticks = linear_ || few
                                    ? multiples(round_step((high - low) / lines), low, high)
                                    : one_two_five(low, high);
        for (double& tick : ticks) {
            tick *= unit_hz_;
        }
        return ticks;
    }
    QString getTickLabel(double tick, const QLocale&, QChar, int) override {
        const double shown = tick / unit_hz_;
        return kilo_ && std::abs(shown) >= 1000 ? number_text(shown / 1000, false) + "k"
                                                : number_text(shown, false);
    }

private:
    double unit_hz_;
    bool linear_, kilo_;
};

class ValueTicker : public PlacedTicker {
public:
    ValueTicker(double step, bool with_sign) : step_(step), with_sign_(with_sign) {}

protected:
    QVector<double> createTickVector(double, const QCPRange& range) override {
        return multiples(step_, range.lower, range.upper);
    }
    QString getTickLabel(double tick, const QLocale&, QChar, int) override {
        return number_text(tick, with_sign_);
    }

private:
    double step_;
    bool with_sign_;
};

// The axis is in dB (or powers of ten), the numbers are ratios.
class RatioTicker : public PlacedTicker {
public:
    explicit RatioTicker(double axis_a_decade) : axis_a_decade_(axis_a_decade) {}

protected:
    QVector<double> createTickVector(double, const QCPRange& range) override {
        const double low = ratio(range.lower), high = ratio(range.upper);
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
            tick = axis_a_decade_ * std::log10(tick);
        }
        return ticks;
    }
    QString getTickLabel(double tick, const QLocale&, QChar, int) override {
        return number_text(ratio(tick), false);
    }

private:
    double ratio(double axis) const { return std::pow(10, axis / axis_a_decade_); }
    double axis_a_decade_;
};

double degrees_step(double at_least) {
    for (const double step : {1.0, 2.0, 5.0, 10.0, 15.0, 30.0, 45.0, 90.0, 180.0, 360.0}) {
        if (step >= at_least) {
            return step;
        }
    }
    return 360 * std::ceil(at_least / 360);
}

QSharedPointer<QCPAxisTicker> even_ticks(double step, bool with_sign) {
    return QSharedPointer<QCPAxisTicker>(new ValueTicker(step, with_sign));
}

} // namespace

QSharedPointer<QCPAxisTicker> frequency_ticker(const LaneView& view, double sample_rate_hz) {
    const bool kilo = view.frequency_unit == AxisUnit::hz
                      || view.frequency_unit == AxisUnit::rad_per_s;
    return QSharedPointer<QCPAxisTicker>(new FrequencyTicker(
        hz_of(view.frequency_unit, sample_rate_hz), view.linear_frequency, kilo));
}

QSharedPointer<QCPAxisTicker> value_ticker(Lane lane, const LaneView& view, const LaneRange& range,
                                           double sample_rate_hz, double pixels) {
    const double lines = std::max(2.0, pixels / pixels_a_line);
    const bool ratio = lane == Lane::magnitude && view.level == LevelScale::ratio;
    if (ratio || lane == Lane::weight) {
        return QSharedPointer<QCPAxisTicker>(new RatioTicker(ratio ? 20 : 1));
    }
    if (lane == Lane::magnitude && view.level == LevelScale::linear_ratio) {
        return even_ticks(
            round_step((ratio_from_db(range.high) - ratio_from_db(range.low)) / lines), false);
    }
    const double least = (range.high - range.low) / lines;
    if (lane == Lane::phase) {
        return view.radians ? even_ticks(round_step(rad_from_deg(least)), true)
                            : even_ticks(range.step > 0 ? range.step : degrees_step(least), true);
    }
    if (lane == Lane::delay && view.delay_unit != TimeUnit::ms) {
        const double shown = samples_of({least, TimeUnit::ms}, sample_rate_hz);
        return even_ticks(round_step(from_samples(shown, view.delay_unit, sample_rate_hz)), false);
    }
    return even_ticks(range.step > 0 ? range.step : round_step(least), lane != Lane::delay);
}

} // namespace syntonon
