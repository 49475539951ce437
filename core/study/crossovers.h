// Crossovers over a study's channels: stages of kind `crossover` with the same link are one, each
// being a way of it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/crossover.h"
#include "core/study/briefs.h"
#include "core/study/study.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

struct WayPlace {
    std::string channel, stage; // ids

    bool operator==(const WayPlace&) const = default;
};

// Null where there is no such stage.
const CrossoverSpec* crossover_at(const Study& study, const WayPlace& place);

// The places of the ways that stand together with one of them, by way, the lowest first; nothing
// where a way stands nowhere. Of several channels with the same way (left and right) that counts
// which is next to the asking one: of ways below it the next channel before it, of those above it
// the next behind it. Without a link it stands alone.
std::vector<std::optional<WayPlace>> ways_around(const Study& study, const WayPlace& asking);

// What was changed in one stage of a crossover since `before` is given to all others with its link,
// in channels' chains at every depth; takes stay as they are.
void share_crossovers(const Study& before, Study& after);

std::string fresh_link(const Study& study); // "crossover-2"

// The channel has that way of the crossover afterwards, with the settings of the asking stage: at
// the top of its chain, or where it had another way of the same one.
void put_way(Study& study, const WayPlace& asking, int way, const std::string& channel);
// No channel has it any more of those that stand together with the asking one, which stays.
void take_way(Study& study, const WayPlace& asking, int way);

// So many ways, 2 to 4: frequencies are added above the last or taken away from there, and the
// highest way stays the highest. Ways that are no longer there leave their channels; the asking one
// stays, as the highest if need be.
void set_ways(Study& study, const WayPlace& asking, int ways);

// Who could have the ways that stand nowhere yet: the other measured channels without a crossover,
// by where each of them plays (the middle of its power over log frequency), the lowest first.
// Nothing where they are not as many as those ways.
struct WayOffer {
    int way = 1;
    std::string channel; // its id

    bool operator==(const WayOffer&) const = default;
};
std::vector<WayOffer> ways_by_range(const Study& study, const WayPlace& asking, Briefs& briefs);

// The middle of a way's band, where it is alone: an octave and more within its ends, two octaves
// wide where it is open, and within what the axis and the measured curve (null: none) have. Nothing
// where that leaves no range.
struct HzRange {
    double from_hz = 0, to_hz = 0;
};
std::optional<HzRange> middle_of_way(const CrossoverSpec& spec, const Axis& axis,
                                     const Curve* measured);

// Level and delay of the ways made alike by what was measured of each in the middle of its band,
// crossover stages aside: as alignment.h does. Refused where fewer than two ways have a level and
// an arrival; says which lacks what. What has to be designed for that is waited for.
Expected<void> align_ways(Study& study, std::span<const std::optional<WayPlace>> ways,
                          Briefs& briefs);

// Stages of one link that contradict one another in what they share: "channels[1].stages[0]".
std::vector<Problem> contradicting_crossovers(const Study& study);

} // namespace syntonon
