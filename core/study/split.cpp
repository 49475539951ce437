// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/split.h"

#include "core/filter/parallel.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

Working working_of_split(const ParallelSum& sum) {
    Working shown{"Each branch times its factor, summed", {}};
    for (std::size_t k = 0; k < sum.branches.size(); ++k) {
        const auto& branch = sum.branches[k];
        const Cost cost = branch.filter.cost();
        shown.steps.push_back(
            {fmt::format("Branch {}", k + 1),
             {{"factor", "", branch.factor, ""},
              {"delay", "until the first answer", branch.filter.latency_samples(), "samples"},
              {"sections", "", static_cast<double>(cost.sections), ""},
              {"taps", "", static_cast<double>(cost.taps), ""}}});
    }
    return shown;
}

// Whether nothing comes out at any of some frequencies that have little to do with one another.
bool is_silent(const Filter& filter) {
    constexpr double rate = 48000;
    const Probe probe(filter, rate);
    constexpr std::array hz{17.3, 231.0, 997.0, 3271.0, 7919.0, 13001.0, 19997.0, 23003.0};
    return std::ranges::all_of(hz, [&](double f) {
        const FilterValue value = probe.value(f);
        return std::abs(value.h) <= 4 * value.floor;
    });
}

std::string note_of_split(const ParallelSum& sum, const Filter& filter) {
    for (std::size_t k = 0; k < sum.branches.size(); ++k) {
        if (sum.branches[k].factor == 0) {
            return fmt::format("factor 0: branch {} is silent", k + 1);
        }
    }
    return is_silent(filter) ? "the branches cancel: nothing comes out" : "";
}

constexpr std::array branch_rows = std::to_array<NumberRow<SplitSpec>>({
    {"branches", "Factor of branch", "", [](const SplitSpec& s) { return s.branches.size(); },
     [](const SplitSpec& s, std::size_t i) { return s.branches[i].factor; },
     [](SplitSpec& s, std::size_t i, double v) { s.branches[i].factor = v; }, -1e6, 1e6, 1},
});

} // namespace

std::span<const NumberRow<SplitSpec>> rows_of(const SplitSpec&) {
    return branch_rows;
}

bool Branch::operator==(const Branch& other) const = default;
bool SplitSpec::operator==(const SplitSpec& other) const = default;

std::vector<const Chain*> chains_of(const SplitSpec& spec) {
    std::vector<const Chain*> chains;
    for (const Branch& branch : spec.branches) {
        chains.push_back(&branch.stages);
    }
    return chains;
}

std::vector<Chain*> chains_of(SplitSpec& spec) {
    std::vector<Chain*> chains;
    for (Branch& branch : spec.branches) {
        chains.push_back(&branch.stages);
    }
    return chains;
}

std::string place_of_chain(const SplitSpec&, std::size_t k) {
    return fmt::format("branches[{}].stages", k);
}

std::string label_of_chain(const SplitSpec& spec, std::size_t k) {
    return "× " + short_number(spec.branches.at(k).factor);
}

Expected<Design> compose(const SplitSpec& spec, std::span<const Filter> chains) {
    if (spec.branches.size() < 2) {
        return refuse("branches", fmt::format("{} are not enough", spec.branches.size()),
                      "give at least two");
    }
    ParallelSum sum;
    for (std::size_t k = 0; k < spec.branches.size(); ++k) {
        if (!std::isfinite(spec.branches[k].factor)) {
            return refuse(fmt::format("branches[{}].factor", k), "is not a finite number",
                          "give a number");
        }
        sum.branches.push_back({spec.branches[k].factor, chains[k]});
    }
    Filter filter(sum);
    return Design{filter, [sum] { return working_of_split(sum); }, note_of_split(sum, filter)};
}

std::string title_of(const SplitSpec&) {
    return "Split";
}

std::string summary_of(const SplitSpec& spec) {
    return fmt::format("{} branches", spec.branches.size());
}

std::string spoken_name_of(const SplitSpec& spec) {
    return "Split of " + summary_of(spec);
}

} // namespace syntonon
