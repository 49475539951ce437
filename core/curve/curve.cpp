// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/curve/curve.h"

#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

std::vector<double> unwrapped(std::vector<double> deg) {
    for (std::size_t i = 1; i < deg.size(); ++i) {
        deg[i] = deg[i - 1] + std::remainder(deg[i] - deg[i - 1], 360.0);
    }
    return deg;
}

std::string element(const char* field, std::size_t i) {
    return fmt::format("{}[{}]", field, i);
}

Expected<void> check_finite(const char* field, const std::vector<double>& values) {
    const auto bad = std::ranges::find_if_not(values, [](double v) { return std::isfinite(v); });
    if (bad == values.end()) {
        return {};
    }
    return refuse(element(field, static_cast<std::size_t>(bad - values.begin())),
                  "is not a finite number", "remove the point or give a number");
}

} // namespace

Expected<void> check(const Curve& curve) {
    const std::size_t count = curve.frequency_hz.size();
    if (count == 0) {
        return refuse("frequency_hz", "the curve has no points", "give at least one");
    }
    if (curve.magnitude_db.size() != count) {
        return refuse("magnitude_db",
                      fmt::format("{} values for {} frequencies", curve.magnitude_db.size(), count),
                      "give one magnitude a frequency");
    }
    if (curve.has_phase() && curve.phase_deg.size() != count) {
        return refuse("phase_deg",
                      fmt::format("{} values for {} frequencies", curve.phase_deg.size(), count),
                      "give one phase a frequency, or none");
    }
    for (std::size_t i = 0; i < count; ++i) {
        const double f = curve.frequency_hz[i];
        if (!(f > 0) || !std::isfinite(f)) {
            return refuse(element("frequency_hz", i), fmt::format("{} Hz is not positive", f),
                          "remove the point");
        }
        if (i > 0 && !(f > curve.frequency_hz[i - 1])) {
            return refuse(element("frequency_hz", i),
                          fmt::format("{} Hz does not follow {} Hz", f, curve.frequency_hz[i - 1]),
                          "sort the points by frequency and give each once");
        }
    }
    if (auto ok = check_finite("magnitude_db", curve.magnitude_db); !ok) {
        return ok;
    }
    const auto& levels = curve.magnitude_db;
    const auto far = std::ranges::find_if(
        levels, [](double db) { return std::abs(db) > greatest_curve_level_db; });
    if (far != levels.end()) {
        return refuse(element("magnitude_db", static_cast<std::size_t>(far - levels.begin())),
                      fmt::format("{} dB is no level", *far),
                      fmt::format("give values within ±{} dB", greatest_curve_level_db));
    }
    return check_finite("phase_deg", curve.phase_deg);
}

CurveReader::CurveReader(const Curve& curve)
    : low_hz_(curve.low_hz()), high_hz_(curve.high_hz()), frequency_hz_(curve.frequency_hz),
      log_hz_(curve.frequency_hz), magnitude_db_(curve.magnitude_db),
      phase_deg_(unwrapped(curve.phase_deg)) {
    std::ranges::transform(log_hz_, log_hz_.begin(), [](double f) { return std::log(f); });
}

double CurveReader::at(const std::vector<double>& values, double hz) const {
    if (hz <= low_hz_) {
        return values.front();
    }
    if (hz >= high_hz_) {
        return values.back();
    }
    const auto above = std::ranges::upper_bound(frequency_hz_, hz);
    const auto i = static_cast<std::size_t>(above - frequency_hz_.begin());
    const double part = (std::log(hz) - log_hz_[i - 1]) / (log_hz_[i] - log_hz_[i - 1]);
    return values[i - 1] + part * (values[i] - values[i - 1]);
}

double CurveReader::magnitude_db_at(double hz) const {
    return at(magnitude_db_, hz);
}

double CurveReader::phase_deg_at(double hz) const {
    return phase_deg_.empty() ? 0.0 : at(phase_deg_, hz);
}

Expected<double> mean_level_db(const Curve& curve, double from_hz, double to_hz) {
    const double low = std::max(from_hz, curve.low_hz());
    const double high = std::min(to_hz, curve.high_hz());
    if (!(low < high)) {
        return refuse("",
                      fmt::format("the curve has nothing between {} and {}",
                                  frequency_text(from_hz), frequency_text(to_hz)),
                      fmt::format("choose a range within {} to {}", frequency_text(curve.low_hz()),
                                  frequency_text(curve.high_hz())));
    }
    const CurveReader reader(curve);
    std::vector<double> corners{low};
    std::ranges::copy_if(curve.frequency_hz, std::back_inserter(corners),
                         [&](double f) { return f > low && f < high; });
    corners.push_back(high);
    double area = 0; // trapezia are exact: the curve is straight between its corners
    for (std::size_t i = 1; i < corners.size(); ++i) {
        area += (reader.magnitude_db_at(corners[i]) + reader.magnitude_db_at(corners[i - 1])) / 2
                * std::log(corners[i] / corners[i - 1]);
    }
    return area / std::log(high / low);
}

} // namespace syntonon
