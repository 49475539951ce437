// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/part_curves.h"

#include "core/filter/form.h"
#include "core/study/kinds.h"

#include <array>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

Filter scaled(double factor, const Filter& filter) {
    return factor == 1 ? filter : series(std::array{Filter(Gain{factor}), filter});
}

// Some stages of a chain, the others taken away.
class Parts {
public:
    Parts(const std::set<std::string, std::less<>>& ids, const FilterOfStage& filter_of)
        : ids_(ids), filter_of_(filter_of) {}

    std::optional<Filter> of(const Chain& chain) const {
        std::vector<Filter> row;
        for (const auto& stage : chain) {
            if (const auto one = of(*stage)) {
                row.push_back(*one);
            }
        }
        return row.empty() ? std::nullopt : std::optional(series(row));
    }

private:
    std::optional<Filter> of(const Stage& stage) const {
        return ids_.contains(stage.id)
                   ? filter_of_(stage)
                   : std::visit([&](const auto& spec) { return within(spec); }, *stage.spec);
    }
    template <class Leaf>
    std::optional<Filter> within(const Leaf&) const {
        return {};
    }
    std::optional<Filter> within(const SplitSpec& split) const {
        ParallelSum sum;
        for (const Branch& branch : split.branches) {
            if (const auto one = of(branch.stages)) {
                sum.branches.push_back({branch.factor, *one});
            }
        }
        return sum.branches.empty() ? std::nullopt
               : sum.branches.size() == 1
                   ? std::optional(scaled(sum.branches[0].factor, sum.branches[0].filter))
                   : std::optional(Filter(std::move(sum)));
    }
    std::optional<Filter> within(const LoopSpec& loop) const {
        auto forward = of(loop.forward);
        const auto back = of(loop.feedback.stages);
        if (!back) {
            return forward;
        }
        return scaled(loop.feedback.factor, forward ? series(std::array{*forward, *back}) : *back);
    }
    std::optional<Filter> within(const RepeatSpec& repeat) const {
        const auto one = of(repeat.stages);
        return one ? std::optional(repeated(*one, static_cast<std::size_t>(repeat.count))) : one;
    }

    const std::set<std::string, std::less<>>& ids_;
    const FilterOfStage& filter_of_;
};

Filter as_it_is(const Chain& chain, const FilterOfStage& filter_of) {
    std::vector<Filter> row;
    for (const Stage* stage : stages_that_count(chain)) {
        row.push_back(filter_of(*stage).value_or(Filter()));
    }
    return series(row);
}

std::optional<Filter> composed_with(const Stage& stage, std::string_view id, const Filter& instead,
                                    const FilterOfStage& filter_of) {
    return std::visit(
        [&](const auto& spec) -> std::optional<Filter> {
            if constexpr (requires { chains_of(spec); }) {
                std::vector<Filter> filters;
                for (const Chain* chain : chains_of(spec)) {
                    const auto changed = filter_with(*chain, id, instead, filter_of);
                    filters.push_back(changed ? *changed : as_it_is(*chain, filter_of));
                }
                const auto made = compose(spec, filters);
                return made ? std::optional(made->filter) : std::nullopt;
            } else {
                return {};
            }
        },
        *stage.spec);
}

bool holds_stage(const Stage& stage, std::string_view id) {
    return std::ranges::any_of(
        chains_in(stage), [&](const Chain* chain) { return find_stage(*chain, id) != nullptr; });
}

} // namespace

std::optional<Filter> filter_of_parts(const Chain& chain,
                                      const std::set<std::string, std::less<>>& ids,
                                      const FilterOfStage& filter_of) {
    return Parts(ids, filter_of).of(chain);
}

std::optional<Filter> filter_with(const Chain& chain, std::string_view id, const Filter& instead,
                                  const FilterOfStage& filter_of) {
    std::vector<Filter> row;
    bool is_there = false;
    for (const Stage* stage : stages_that_count(chain)) {
        std::optional<Filter> one;
        if (stage->id == id) {
            one = instead;
        } else if (holds_stage(*stage, id)) {
            one = composed_with(*stage, id, instead, filter_of);
        } else {
            row.push_back(filter_of(*stage).value_or(Filter()));
            continue;
        }
        if (!one) {
            return std::nullopt;
        }
        is_there = true;
        row.push_back(*one);
    }
    return is_there ? std::optional(series(row)) : std::nullopt;
}

std::vector<PartCurve> part_curves(const Filter& filter) {
    std::vector<PartCurve> curves;
    if (const auto* loop = std::get_if<Loop>(&filter.form())) {
        const Filter round = series(std::array{loop->forward, loop->feedback});
        curves.push_back({"open_loop", "round the loop", scaled(loop->factor, round)});
        curves.push_back({"forward", "without feedback", loop->forward});
        curves.push_back(
            {"added", "added by the way back", Filter(Loop{Filter(), loop->factor, round})});
    } else if (const auto* sum = std::get_if<ParallelSum>(&filter.form())) {
        for (std::size_t k = 0; k < sum->branches.size(); ++k) {
            const auto& branch = sum->branches[k];
            curves.push_back({fmt::format("branch_{}", k + 1), fmt::format("branch {}", k + 1),
                              scaled(branch.factor, branch.filter)});
        }
        if (sum->branches.size() == 2) {
            ParallelSum difference = *sum;
            difference.branches[1].factor *= -1;
            curves.push_back(
                {"difference", "difference of the branches", Filter(std::move(difference))});
        }
    }
    return curves;
}

} // namespace syntonon
