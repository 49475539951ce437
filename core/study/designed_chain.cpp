// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/designed_chain.h"

#include "core/study/kinds.h"

#include <fmt/format.h>
#include <span>
#include <utility>

namespace syntonon {
namespace {

// A filter in the signal's way, and whether it is a last good one instead of the right one.
struct Link {
    Filter filter;
    bool waits = false;
};

class ChainDesigner {
public:
    ChainDesigner(const ChainBrief& brief, DesignStore& store, const LastFilter& last)
        : given_(brief), store_(store), last_(last), above_{brief.brief.above} {}

    // `place` is the chain's: "stages" or "stages[2].branches[0].stages".
    Link design(const Chain& chain, const std::string& place, bool is_on) {
        const std::size_t from = above_.size();
        const bool waited = above_waits_;
        bool waits = false;
        for (std::size_t i = 0; i < chain.size(); ++i) {
            const bool counts = is_on && chain[i]->enabled;
            const std::string stage_place = fmt::format("{}[{}]", place, i);
            own_from_ = from;
            DesignedStage stage = design_stage(*chain[i], stage_place, counts);
            note(*chain[i], stage, stage_place, counts);
            if (chain[i]->enabled) {
                waits = waits || stage.is_waiting;
                above_waits_ = above_waits_ || stage.is_waiting;
                if (stage.filter) {
                    if (stands_for_above(chain[i]->spec)) {
                        above_.resize(from);
                    }
                    above_.push_back(*stage.filter);
                }
            }
            found_.stages.insert_or_assign(chain[i]->id, std::move(stage));
        }
        Filter whole = series(std::span(above_).subspan(from));
        above_.resize(from);
        above_waits_ = waited;
        return {std::move(whole), waits};
    }

    DesignedChain take() { return std::move(found_); }

private:
    void note(const Stage& stage, const DesignedStage& designed, const std::string& place,
              bool counts) {
        if (designed.is_waiting) {
            if (counts && found_.waits_for.empty()) {
                found_.waits_for = spoken_name_of(stage);
            }
        } else if (!designed.filter) {
            auto& problems = counts ? found_.problems : found_.problems_of_what_is_off;
            problems.push_back(within(place, designed.filter.error()));
        }
    }

    DesignedStage design_stage(const Stage& stage, const std::string& place, bool is_on) {
        return std::visit(
            [&](const auto& spec) {
                if constexpr (requires { chains_of(spec); }) {
                    return depth_ < deepest_chain ? composed(spec, place, is_on)
                                                  : refused(too_deep());
                } else {
                    return designed(stage);
                }
            },
            *stage.spec);
    }

    template <class Spec>
    DesignedStage composed(const Spec& spec, const std::string& place, bool is_on) {
        std::vector<Filter> filters;
        bool waits = false;
        const auto chains = chains_of(spec);
        ++depth_;
        for (std::size_t k = 0; k < chains.size(); ++k) {
            Link link =
                design(*chains[k], fmt::format("{}.{}", place, place_of_chain(spec, k)), is_on);
            filters.push_back(std::move(link.filter));
            waits = waits || link.waits;
        }
        --depth_;
        auto made = compose(spec, filters);
        return made ? DesignedStage{made->filter, made->working, waits, {}, {}, made->note}
                    : refused(made.error());
    }

    DesignedStage designed(const Stage& stage) {
        const Needs needs = store_.needs_of(stage.spec);
        if (needs.wished && given_.no_wished) {
            return refused(*given_.no_wished);
        }
        if (needs.seen && given_.no_seen) {
            return refused(*given_.no_seen);
        }
        if ((needs.wished && given_.wished_waits)
            || ((needs.above || needs.seen) && above_waits_)) {
            return waiting(stage);
        }
        const Brief brief = brief_for(needs, stands_for_above(stage.spec));
        auto result = store_.is_quick(stage.spec) ? store_.design(stage.spec, brief)
                                                  : store_.find(stage.spec, brief);
        if (result == nullptr) {
            found_.jobs.push_back({spoken_name_of(stage), stage.spec, brief});
            return waiting(stage);
        }
        DesignedStage made =
            *result
                ? DesignedStage{(*result)->filter, (*result)->working, {}, {}, {}, (*result)->note}
                : refused(result->error());
        made.design = std::move(result);
        if (needs.any()) {
            made.brief = std::make_shared<const Brief>(brief);
        }
        return made;
    }

    DesignedStage waiting(const Stage& stage) const {
        const auto last = last_ ? last_(stage.id) : std::nullopt;
        DesignedStage held = last ? DesignedStage{*last, {}, {}, {}, {}}
                                  : refused(being_designed(spoken_name_of(stage)));
        held.is_waiting = true;
        return held;
    }
    static Problem too_deep() {
        return {"", fmt::format("chains nest deeper than {}", deepest_chain),
                "move the stage one level up"};
    }
    static DesignedStage refused(Problem problem) {
        return {tl::unexpected(std::move(problem)), {}, {}, {}, {}};
    }

    // What stands above is put together only for who asks.
    Brief brief_for(const Needs& needs, bool of_own_chain) const {
        Brief brief = only(given_.brief, needs);
        if (needs.above || needs.seen) {
            brief.above = series(std::span(above_).subspan(of_own_chain ? own_from_ : 0));
        }
        return brief;
    }

    const ChainBrief& given_;
    DesignStore& store_;
    const LastFilter& last_;
    std::vector<Filter> above_; // of the stage that is being designed
    bool above_waits_ = false;  // one of them is a last good one
    std::size_t own_from_ = 0;  // where those of its own chain begin
    int depth_ = 0;             // of the stage that is being composed
    DesignedChain found_;
};

} // namespace

DesignedChain design_chain(const Chain& chain, const ChainBrief& brief, DesignStore& store,
                           const LastFilter& last) {
    ChainDesigner designer(brief, store, last);
    Link whole = designer.design(chain, "stages", true);
    DesignedChain all = designer.take();
    all.filter = std::move(whole.filter);
    return all;
}

Needs needs_of(const Chain& chain, const DesignStore& store, Counting counting) {
    Needs all;
    const auto add = [&](const Needs& needs) {
        all.wished = all.wished || needs.wished;
        all.seen = all.seen || needs.seen;
        all.above = all.above || needs.above;
    };
    for (const auto& stage : chain) {
        if (counting == Counting::what_is_on && !stage->enabled) {
            continue;
        }
        add(store.needs_of(stage->spec));
        for (const Chain* held : chains_in(*stage)) {
            add(needs_of(*held, store, counting));
        }
    }
    return all;
}

bool is_quick(const Chain& chain, const DesignStore& store) {
    bool quick = true;
    visit_stages(chain, [&](const Stage& stage, const Slot&, int) {
        quick = quick && store.is_quick(stage.spec);
    });
    return quick;
}

Problem being_designed(const std::string& name) {
    return {"", fmt::format("“{}” is being designed", name), "wait until that is done"};
}

} // namespace syntonon
