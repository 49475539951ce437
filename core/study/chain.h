// A channel's signal path: a tree, since some kinds of stage hold chains of their own.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/composed.h"
#include "core/study/stage.h"

#include <cstddef>
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// A place between stages. Ids are unique in a channel at every depth.
struct Slot {
    std::string holder;    // the stage that holds the chain; empty: the channel itself
    std::size_t chain = 0; // which of the holder's chains
    std::size_t place = 0; // before the stage that stands there

    bool operator==(const Slot&) const = default;
};

// The chains that a stage holds, in their order; none for most kinds.
std::vector<const Chain*> chains_in(const Stage& stage);
std::vector<Chain*> chains_in(Stage& stage);

// Where the k-th of them stands in the stage, in a study file: "branches[0].stages".
std::string place_of_chain(const Stage& stage, std::size_t k);
std::string label_of_chain(const Stage& stage, std::size_t k); // for people: "× 0.5"

std::optional<ChainsLayout> layout_of(const Stage& stage); // nothing without chains
int depth_of(const Chain& chain);                          // of chains within chains; 0: none

// Which of its stages make up the chain, in their order: those that are switched on, from the last
// one on that stands for those above it.
std::vector<const Stage*> stages_that_count(const Chain& chain);

// At any depth; null or nothing where there is none.
const Stage* find_stage(const Chain& chain, std::string_view id);
std::optional<Slot> slot_of(const Chain& chain, std::string_view id);
const Chain* chain_at(const Chain& chain, const Slot& slot);

// "stages[2].branches[0].stages[1]"; empty where there is no such stage.
std::string path_of(const Chain& chain, std::string_view id);

// Every stage in the order of the signal, what is held after its holder.
using VisitStage = std::function<void(const Stage& stage, const Slot& slot, int depth)>;
void visit_stages(const Chain& chain, const VisitStage& visit);

// These say false, and change nothing, where the stage or the slot is not there. A place beyond the
// chain's end is its end.
bool edit_stage(Chain& chain, std::string_view id, const std::function<void(Stage&)>& change);
bool insert_stage(Chain& chain, const Slot& slot, Stage stage);
std::optional<Stage> take_out_stage(Chain& chain, std::string_view id);
// The slot's place counts without the moved stage. False into itself, too.
bool move_stage(Chain& chain, std::string_view id, const Slot& to);

// Every stage at every depth.
void edit_every_stage(Chain& chain, const std::function<void(Stage&)>& change);

// Gives the stage, and all that it holds, ids that nothing in the chain has: "s7".
void give_fresh_ids(Stage& stage, const Chain& chain);

} // namespace syntonon
