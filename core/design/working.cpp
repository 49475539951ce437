// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/working.h"

#include "core/base/units.h"

#include <fmt/format.h>

namespace syntonon {
namespace {

void add_list(Working& working, const char* title, const char* letter,
              const std::vector<std::complex<double>>& roots, double sample_rate_hz,
              bool is_analog) {
    WorkingStep step{title, {}};
    for (std::size_t i = 0; i < roots.size(); ++i) {
        const auto add = [&](const char* part, const char* meaning, double value, const char* of) {
            step.numbers.push_back(
                {fmt::format(fmt::runtime(part), letter, i + 1), meaning, value, of});
        };
        const char* unit = is_analog ? "rad/s" : "";
        add("Re {}{}", "real part", roots[i].real(), unit);
        add("Im {}{}", "imaginary part", roots[i].imag(), unit);
        add("|{}{}|", is_analog ? "distance from 0" : "radius", std::abs(roots[i]), unit);
        if (is_analog) {
            add("f({}{})", "that distance as a frequency", hz_from_rad_per_s(std::abs(roots[i])),
                "Hz");
        } else {
            add("f({}{})", "angle as a frequency",
                hz_from_rad_per_sample(std::arg(roots[i]), sample_rate_hz), "Hz");
        }
    }
    if (!step.numbers.empty()) {
        working.steps.push_back(std::move(step));
    }
}

} // namespace

void add_roots(Working& working, const Filter& filter, double sample_rate_hz) {
    if (const auto& roots = filter.roots()) {
        add_list(working, "Poles", "p", roots->poles, sample_rate_hz,
                 roots->domain == Domain::analog);
        add_list(working, "Zeros", "z", roots->zeros, sample_rate_hz,
                 roots->domain == Domain::analog);
    }
}

} // namespace syntonon
