// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/taps.h"

#include "core/filter/form.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace syntonon {
namespace {

Working working_of_taps(const Filter& filter, double sample_rate_hz) {
    const auto& taps = std::get<Taps>(filter.form());
    const auto values = taps.values();
    double sum = 0, alternating = 0, energy = 0;
    for (std::size_t n = 0; n < values.size(); ++n) {
        sum += values[n];
        alternating += n % 2 == 0 ? values[n] : -values[n];
        energy += values[n] * values[n];
    }
    WorkingStep step{"Of the taps", {}};
    step.numbers = {{"N", "number of taps", static_cast<double>(values.size()), ""},
                    {"Σ h", "gain at 0 Hz", sum, ""},
                    {"Σ (−1)ⁿ h", "gain at half the sample rate", alternating, ""},
                    {"Σ h²", "energy", energy, ""},
                    {"Σ |h|", "greatest output for an input within ±1", taps.size(), ""}};
    if (taps.symmetry() != 0) {
        step.numbers.push_back({"(N − 1)/2",
                                taps.symmetry() > 0 ? "delay: the taps are symmetric"
                                                    : "delay: the taps are antisymmetric",
                                (static_cast<double>(values.size()) - 1) / 2, "samples"});
    }
    Working shown{"Taps as stated", {step}};
    add_roots(shown, filter, sample_rate_hz);
    return shown;
}

constexpr std::array tap_rows = std::to_array<NumberRow<TapsSpec>>({
    {"taps", "Tap", "", [](const TapsSpec& s) { return s.taps->size(); },
     [](const TapsSpec& s, std::size_t i) { return (*s.taps)[i]; },
     [](TapsSpec& s, std::size_t i, double v) {
         std::vector<double> taps = *s.taps;
         taps[i] = v;
         s.taps = std::make_shared<const std::vector<double>>(std::move(taps));
     }},
});

} // namespace

std::span<const NumberRow<TapsSpec>> rows_of(const TapsSpec&) {
    return tap_rows;
}

Expected<Design> design(const TapsSpec& spec, const Brief& brief, const Watch&) {
    if (auto ok = check_sampled(brief, "an FIR filter is a row of samples"); !ok) {
        return tl::unexpected(ok.error());
    }
    const auto& values = *spec.taps;
    if (values.empty() || values.size() > most_taps) {
        return refuse(
            "taps",
            fmt::format("{} taps are too {}", values.size(), values.empty() ? "few" : "many"),
            fmt::format("give 1 to {}", most_taps));
    }
    const auto odd = std::ranges::find_if_not(values, [](double v) { return std::isfinite(v); });
    if (odd != values.end()) {
        return refuse(fmt::format("taps[{}]", odd - values.begin()), "is not a finite number",
                      "give a number");
    }
    const Filter filter{Taps(spec.taps)};
    return Design{filter,
                  [filter, rate = brief.sample_rate_hz] { return working_of_taps(filter, rate); }};
}

std::string title_of(const TapsSpec&) {
    return "Taps";
}

std::string summary_of(const TapsSpec& spec) {
    return fmt::format("{} {}", spec.taps->size(), spec.taps->size() == 1 ? "tap" : "taps");
}

std::string spoken_name_of(const TapsSpec& spec) {
    return "FIR of " + summary_of(spec);
}

} // namespace syntonon
