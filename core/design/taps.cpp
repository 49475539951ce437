// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/taps.h"

#include "core/design/taps_working.h"
#include "core/filter/form.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace syntonon {
namespace {

Working working_of_taps(const Filter& filter, double sample_rate_hz) {
    Working shown{"Taps as stated", {step_of_taps(std::get<Taps>(filter.form()), sample_rate_hz)}};
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
