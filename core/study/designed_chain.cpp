// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/designed_chain.h"

#include "core/study/kinds.h"

#include <fmt/format.h>
#include <span>
#include <utility>

namespace syntonon {
namespace {

class ChainDesigner {
public:
    ChainDesigner(const Brief& brief, DesignStore& store, const Watch& watch)
        : brief_(brief), store_(store), watch_(watch), above_{brief.above} {}

    // `place` leads to the chain: "" or "stages[2].branches[0].".
    Filter design(const Chain& chain, const std::string& place, bool is_on) {
        const std::size_t from = above_.size();
        for (std::size_t i = 0; i < chain.size(); ++i) {
            const bool counts = is_on && chain[i]->enabled;
            const std::string stage_place = fmt::format("{}stages[{}]", place, i);
            DesignedStage stage = design_stage(*chain[i], stage_place, counts);
            if (!stage.filter) {
                auto& problems = counts ? found_.problems : found_.problems_of_what_is_off;
                problems.push_back(within(stage_place, stage.filter.error()));
            } else if (chain[i]->enabled) {
                above_.push_back(*stage.filter);
            }
            found_.stages.insert_or_assign(chain[i]->id, std::move(stage));
        }
        Filter whole = series(std::span(above_).subspan(from));
        above_.resize(from);
        return whole;
    }

    DesignedChain take() { return std::move(found_); }

private:
    DesignedStage design_stage(const Stage& stage, const std::string& place, bool is_on) {
        return std::visit(
            [&](const auto& spec) {
                if constexpr (requires { chains_of(spec); }) {
                    return composed(spec, place, is_on);
                } else {
                    const auto result = store_.design(stage.spec, brief_for(stage.spec), watch_);
                    return *result ? DesignedStage{(*result)->filter, (*result)->working}
                                   : DesignedStage{tl::unexpected(result->error()), {}};
                }
            },
            *stage.spec);
    }
    template <class Spec>
    DesignedStage composed(const Spec& spec, const std::string& place, bool is_on) {
        std::vector<Filter> filters;
        const auto chains = chains_of(spec);
        for (std::size_t k = 0; k < chains.size(); ++k) {
            filters.push_back(
                design(*chains[k], fmt::format("{}.{}.", place, place_of_chain(spec, k)), is_on));
        }
        auto made = compose(spec, filters);
        return made ? DesignedStage{made->filter, made->working}
                    : DesignedStage{tl::unexpected(made.error()), {}};
    }

    // What stands above is put together only for who asks.
    Brief brief_for(const StageSpec& spec) const {
        Brief brief = brief_;
        const Needs needs = store_.needs_of(spec);
        if (needs.above || needs.seen) {
            brief.above = series(above_);
        }
        return brief;
    }

    const Brief& brief_;
    DesignStore& store_;
    const Watch& watch_;
    std::vector<Filter> above_; // of the stage that is being designed
    DesignedChain found_;
};

} // namespace

DesignedChain design_chain(const Chain& chain, const Brief& brief, DesignStore& store,
                           const Watch& watch) {
    ChainDesigner designer(brief, store, watch);
    Filter filter = designer.design(chain, {}, true);
    DesignedChain all = designer.take();
    all.filter = std::move(filter);
    return all;
}

} // namespace syntonon
