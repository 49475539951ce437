// What is worked out of the selected channel's analysis only when somebody looks.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/level_extrema.h"
#include "core/study/analog_side.h"
#include "core/study/analysis.h"
#include "core/study/identities.h"

#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace syntonon {

// The designed filter of a stage; nothing where it has none.
FilterOfStage filters_of(std::shared_ptr<const ChannelAnalysis> analysis);

class ChainFacts {
public:
    // Another analysis forgets what was known of the last one.
    void show(std::shared_ptr<const ChannelAnalysis> analysis, const Chain& chain);
    void clear();

    // Peaks and dips of the chain from 10 Hz to half the sample rate.
    const LevelExtrema& extrema();
    const std::vector<Identity>& identities();
    // Of some stages; see filter_of_parts().
    std::optional<Filter> filter_of(const std::set<std::string, std::less<>>& ids) const;
    // Of the chain with that loop's way back taken out; nothing where the stage is no loop.
    std::optional<Filter> without_feedback(const std::string& loop) const;
    // Of a sampled channel what is behind its mappings: the chain, or one of its stages, with
    // prototypes in the s-plane wherever there is one. Nothing where nothing is mapped.
    std::optional<Filter> analog(std::string_view stage = {});
    // The same stage by the bilinear transform; nothing where it is so anyway.
    std::optional<Filter> bilinear(const Stage& stage) const;

private:
    std::shared_ptr<const ChannelAnalysis> analysis_;
    Chain chain_;
    std::optional<LevelExtrema> extrema_;
    std::optional<std::vector<Identity>> identities_;
    DesignStore analog_designs_{DesignStore::usual_bytes / 8, analog_where_possible()};
    std::optional<DesignedChain> analog_;
};

} // namespace syntonon
