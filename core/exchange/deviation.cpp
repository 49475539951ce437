// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/exchange/coefficients.h"
#include "core/filter/filter.h"

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

Expected<void> compare_levels(const CoefficientSet& design, const Cascade& got, Deviation& worst) {
    constexpr double grid_points = 2000, floor_db = -200;
    const double high = nyquist_hz(design.sample_rate_hz);
    const double low = std::min(10.0, high / 100);
    std::vector<double> hz =
        Filter(design.cascade)
            .telling_hz({low, high, std::pow(high / low, 1 / grid_points), design.sample_rate_hz});
    for (double f = 0; f <= grid_points; ++f) {
        hz.push_back(std::min(high, low * std::pow(high / low, f / grid_points)));
    }
    const auto grid = FrequencyGrid::from_frequencies(std::move(hz), design.sample_rate_hz);
    if (!grid) {
        return tl::unexpected(grid.error());
    }
    const auto wanted_db = magnitude_db(design.cascade, *grid);
    const auto got_db = magnitude_db(got, *grid);
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
    Deviation worst;
    compare_coefficients(design.cascade, read.cascade, worst);
    if (auto ok = compare_levels(design, read.cascade, worst); !ok) {
        return tl::unexpected(ok.error());
    }
    return worst;
}

} // namespace syntonon
