// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/repeat.h"

#include "core/filter/repeated.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::array repeat_fields = std::to_array<NumberField<RepeatSpec>>({
    {"count", "Count", "times", Dimension::plain, 1, 128, FieldSteps::whole,
     [](const RepeatSpec& s) { return std::optional<double>(s.count); },
     [](RepeatSpec& s, double v) { s.count = static_cast<int>(std::lround(v)); }},
});

// Whether the level, so many times, is one that a number can hold.
bool is_within_numbers(const Filter& one, int count) {
    constexpr double rate = 48000, most_db = 3000;
    const Probe probe(one, rate);
    constexpr std::array hz{0.0, 20.0, 200.0, 1000.0, 5000.0, 15000.0, 24000.0};
    return std::ranges::all_of(hz, [&](double f) { return count * probe.level_db(f) <= most_db; });
}

Working working_of_repeat(int count, const Filter& one) {
    const Cost cost = one.cost();
    return {
        "The stages inside, one time after the other: H = H1 to the power of n",
        {{"Repeat",
          {{"n", "count", static_cast<double>(count), ""},
           {"sections", "of one time", static_cast<double>(cost.sections), ""},
           {"taps", "of one time", static_cast<double>(cost.taps), ""},
           {"delay", "of one time, until the first answer", one.latency_samples(), "samples"}}}}};
}

} // namespace

bool RepeatSpec::operator==(const RepeatSpec& other) const = default;

std::vector<const Chain*> chains_of(const RepeatSpec& spec) {
    return {&spec.stages};
}

std::vector<Chain*> chains_of(RepeatSpec& spec) {
    return {&spec.stages};
}

Expected<Design> compose(const RepeatSpec& spec, std::span<const Filter> chains) {
    if (auto ok = check_fields(spec); !ok) {
        return tl::unexpected(ok.error());
    }
    if (!is_within_numbers(chains[0], spec.count)) {
        return refuse("count", "the gain, so many times, is beyond all numbers",
                      "repeat it less often or lower the gain inside");
    }
    return Design{repeated(chains[0], static_cast<std::size_t>(spec.count)),
                  [count = spec.count, one = chains[0]] { return working_of_repeat(count, one); },
                  {}};
}

std::string place_of_chain(const RepeatSpec&, std::size_t) {
    return "stages";
}

std::string label_of_chain(const RepeatSpec& spec, std::size_t) {
    return fmt::format("{} times", spec.count);
}

std::span<const NumberField<RepeatSpec>> fields_of(const RepeatSpec&) {
    return repeat_fields;
}

std::string title_of(const RepeatSpec&) {
    return "Repeat";
}

std::string summary_of(const RepeatSpec& spec) {
    return label_of_chain(spec, 0);
}

std::string spoken_name_of(const RepeatSpec& spec) {
    return "Repeat " + summary_of(spec);
}

} // namespace syntonon
