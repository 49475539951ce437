// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/exchange/coefficients.h"
#include "core/filter/filter.h"
#include "core/filter/taps.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

void compare_coefficients(const Cascade& wanted, const Cascade& got, Deviation& worst) {
    for (std::size_t i = 0; i < wanted.sections.size(); ++i) {
        for (const auto& [member, term] : {std::pair{&Biquad::b0, "b0"},
                                           {&Biquad::b1, "b1"},
                                           {&Biquad::b2, "b2"},
                                           {&Biquad::a1, "a1"},
                                           {&Biquad::a2, "a2"}}) {
            const double difference =
                std::abs(wanted.sections[i].*member - got.sections[i].*member);
            if (difference > worst.greatest_coefficient) {
                worst.greatest_coefficient = difference;
                worst.section = i + 1;
                worst.term = term;
            }
        }
    }
}

void compare_taps(const std::vector<double>& wanted, const std::vector<double>& got,
                  Deviation& worst) {
    for (std::size_t k = 0; k < wanted.size(); ++k) {
        const double difference = std::abs(wanted[k] - got[k]);
        if (difference > worst.greatest_coefficient) {
            worst.greatest_coefficient = difference;
            worst.section = k + 1;
            worst.term = "tap";
        }
    }
}

Filter filter_of(const CoefficientSet& set) {
    std::vector<Filter> parts{Filter(set.cascade)};
    if (!set.taps.empty()) {
        parts.emplace_back(Taps(set.taps));
    }
    return series(parts);
}

Expected<void> compare_levels(const CoefficientSet& design, const CoefficientSet& read,
                              Deviation& worst) {
    const Filter wanted = filter_of(design), got = filter_of(read);
    constexpr double grid_points = 2000, floor_db = -200;
    const double high = nyquist_hz(design.sample_rate_hz);
    const double low = std::min(10.0, high / 100);
    std::vector<double> hz = wanted.telling_hz(
        {low, high, std::pow(high / low, 1 / grid_points), design.sample_rate_hz});
    for (double f = 0; f <= grid_points; ++f) {
        hz.push_back(std::min(high, low * std::pow(high / low, f / grid_points)));
    }
    const auto grid = FrequencyGrid::from_frequencies(std::move(hz), design.sample_rate_hz);
    if (!grid) {
        return tl::unexpected(grid.error());
    }
    const auto wanted_db = wanted.magnitude_db(*grid), got_db = got.magnitude_db(*grid);
    for (std::size_t i = 0; i < grid->size(); ++i) {
        const double difference = std::abs(wanted_db[i] - got_db[i]);
        if (wanted_db[i] > floor_db && difference > worst.greatest_db) {
            worst.greatest_db = difference;
            worst.worst_hz = grid->frequency_hz()[i];
        }
    }
    return {};
}

} // namespace

Expected<Deviation> deviation_between(const CoefficientSet& design, const CoefficientSet& read) {
    const auto& wanted = design.cascade.sections;
    const auto& got = read.cascade.sections;
    if (wanted.size() != got.size()) {
        return refuse("sections",
                      fmt::format("the file has {}, the design {}", got.size(), wanted.size()),
                      "export again");
    }
    if (design.sample_rate_hz != read.sample_rate_hz) {
        return refuse("sample_rate_hz",
                      fmt::format("the file says {} Hz, the design {} Hz", read.sample_rate_hz,
                                  design.sample_rate_hz),
                      "export again");
    }
    if (design.taps.size() != read.taps.size() || design.delay_samples != read.delay_samples) {
        return refuse("taps",
                      fmt::format("the file has {} and a delay of {} samples, the design {} and {}",
                                  read.taps.size(), read.delay_samples, design.taps.size(),
                                  design.delay_samples),
                      "export again");
    }
    Deviation worst;
    compare_coefficients(design.cascade, read.cascade, worst);
    compare_taps(design.taps, read.taps, worst);
    if (auto ok = compare_levels(design, read, worst); !ok) {
        return tl::unexpected(ok.error());
    }
    return worst;
}

Expected<Deviation> level_deviation_between(const CoefficientSet& design,
                                            const CoefficientSet& read) {
    Deviation worst;
    if (auto ok = compare_levels(design, read, worst); !ok) {
        return tl::unexpected(ok.error());
    }
    return worst;
}

} // namespace syntonon
