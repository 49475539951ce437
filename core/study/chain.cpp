// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/chain.h"

#include "core/study/kinds.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>
#include <utility>

namespace syntonon {
namespace {

std::ptrdiff_t signed_place(std::size_t place, const Chain& chain) {
    return static_cast<std::ptrdiff_t>(std::min(place, chain.size()));
}

// Calls use(chain, place) where the stage stands, its holders made one's own on the way.
bool at_stage(Chain& chain, std::string_view id,
              const std::function<void(Chain&, std::size_t)>& use) {
    const auto slot = slot_of(chain, id);
    if (!slot) {
        return false;
    }
    if (slot->holder.empty()) {
        use(chain, slot->place);
        return true;
    }
    return edit_stage(chain, slot->holder,
                      [&](Stage& holder) { use(*chains_in(holder).at(slot->chain), slot->place); });
}

void visit_from(const Chain& chain, const std::string& holder, std::size_t number, int depth,
                const VisitStage& visit) {
    for (std::size_t i = 0; i < chain.size(); ++i) {
        const Stage& stage = *chain[i];
        visit(stage, {holder, number, i}, depth);
        const auto held = chains_in(stage);
        for (std::size_t k = 0; k < held.size(); ++k) {
            visit_from(*held[k], stage.id, k, depth + 1, visit);
        }
    }
}

void rename_all(Stage& stage, std::set<std::string>& taken) {
    std::size_t n = taken.size() + 1;
    while (!taken.insert(fmt::format("s{}", n)).second) {
        ++n;
    }
    stage.id = fmt::format("s{}", n);
    for (Chain* held : chains_in(stage)) {
        for (auto& inner : *held) {
            rename_all(inner.edit(), taken);
        }
    }
}

} // namespace

std::vector<const Chain*> chains_in(const Stage& stage) {
    return std::visit(
        [](const auto& spec) -> std::vector<const Chain*> {
            if constexpr (requires { chains_of(spec); }) {
                return chains_of(spec);
            }
            return {};
        },
        *stage.spec);
}

std::vector<Chain*> chains_in(Stage& stage) {
    if (chains_in(std::as_const(stage)).empty()) {
        return {}; // the spec stays shared
    }
    return std::visit(
        [](auto& spec) -> std::vector<Chain*> {
            if constexpr (requires { chains_of(spec); }) {
                return chains_of(spec);
            }
            return {};
        },
        stage.spec.edit());
}

std::string place_of_chain(const Stage& stage, std::size_t k) {
    return std::visit(
        [k](const auto& spec) -> std::string {
            if constexpr (requires { chains_of(spec); }) {
                return place_of_chain(spec, k);
            }
            return {};
        },
        *stage.spec);
}

std::string label_of_chain(const Stage& stage, std::size_t k) {
    return std::visit(
        [k](const auto& spec) -> std::string {
            if constexpr (requires { chains_of(spec); }) {
                return label_of_chain(spec, k);
            }
            return {};
        },
        *stage.spec);
}

std::optional<ChainsLayout> layout_of(const Stage& stage) {
    return std::visit(
        [](const auto& spec) -> std::optional<ChainsLayout> {
            if constexpr (requires { chains_of(spec); }) {
                return layout_of(spec);
            }
            return std::nullopt;
        },
        *stage.spec);
}

int depth_of(const Chain& chain) {
    int depth = 0;
    visit_stages(chain, [&](const Stage& stage, const Slot&, int own) {
        depth = std::max(depth, own + (chains_in(stage).empty() ? 0 : 1));
    });
    return depth;
}

void visit_stages(const Chain& chain, const VisitStage& visit) {
    visit_from(chain, {}, 0, 0, visit);
}

std::vector<const Stage*> stages_that_count(const Chain& chain) {
    std::vector<const Stage*> counting;
    for (const auto& stage : chain) {
        if (stage->enabled) {
            if (stands_for_above(stage->spec)) {
                counting.clear();
            }
            counting.push_back(&*stage);
        }
    }
    return counting;
}

const Stage* find_stage(const Chain& chain, std::string_view id) {
    for (const auto& stage : chain) {
        if (stage->id == id) {
            return &*stage;
        }
        for (const Chain* held : chains_in(*stage)) {
            if (const Stage* found = find_stage(*held, id)) {
                return found;
            }
        }
    }
    return nullptr;
}

std::optional<Slot> slot_of(const Chain& chain, std::string_view id) {
    std::optional<Slot> found;
    visit_stages(chain, [&](const Stage& stage, const Slot& slot, int) {
        if (stage.id == id) {
            found = slot;
        }
    });
    return found;
}

std::string path_of(const Chain& chain, std::string_view id) {
    const auto slot = slot_of(chain, id);
    if (!slot) {
        return {};
    }
    return slot->holder.empty()
               ? fmt::format("stages[{}]", slot->place)
               : fmt::format("{}.{}[{}]", path_of(chain, slot->holder),
                             place_of_chain(*find_stage(chain, slot->holder), slot->chain),
                             slot->place);
}

const Chain* chain_at(const Chain& chain, const Slot& slot) {
    if (slot.holder.empty()) {
        return &chain;
    }
    const Stage* holder = find_stage(chain, slot.holder);
    const auto held = holder != nullptr ? chains_in(*holder) : std::vector<const Chain*>{};
    return slot.chain < held.size() ? held[slot.chain] : nullptr;
}

bool edit_stage(Chain& chain, std::string_view id, const std::function<void(Stage&)>& change) {
    for (auto& stage : chain) {
        if (stage->id == id) {
            change(stage.edit());
            return true;
        }
        // Looked for before anything is made one's own.
        const auto held = chains_in(*stage);
        for (std::size_t k = 0; k < held.size(); ++k) {
            if (find_stage(*held[k], id) != nullptr) {
                return edit_stage(*chains_in(stage.edit())[k], id, change);
            }
        }
    }
    return false;
}

bool insert_stage(Chain& chain, const Slot& slot, Stage stage) {
    if (chain_at(chain, slot) == nullptr) {
        return false;
    }
    const auto put = [&](Chain& to) {
        to.insert(to.begin() + signed_place(slot.place, to), std::move(stage));
    };
    if (slot.holder.empty()) {
        put(chain);
        return true;
    }
    return edit_stage(chain, slot.holder,
                      [&](Stage& holder) { put(*chains_in(holder)[slot.chain]); });
}

std::optional<Stage> take_out_stage(Chain& chain, std::string_view id) {
    std::optional<Stage> taken;
    at_stage(chain, id, [&](Chain& from, std::size_t place) {
        taken = *from[place];
        from.erase(from.begin() + static_cast<std::ptrdiff_t>(place));
    });
    return taken;
}

bool move_stage(Chain& chain, std::string_view id, const Slot& to) {
    const Stage* stage = find_stage(chain, id);
    if (stage == nullptr || chain_at(chain, to) == nullptr) {
        return false;
    }
    bool into_itself = to.holder == id;
    for (const Chain* held : chains_in(*stage)) {
        into_itself = into_itself || find_stage(*held, to.holder) != nullptr;
    }
    if (into_itself) {
        return false;
    }
    auto taken = take_out_stage(chain, id);
    return insert_stage(chain, to, std::move(*taken));
}

void edit_every_stage(Chain& chain, const std::function<void(Stage&)>& change) {
    std::vector<std::string> ids;
    visit_stages(chain, [&](const Stage& stage, const Slot&, int) { ids.push_back(stage.id); });
    for (const std::string& id : ids) {
        edit_stage(chain, id, change);
    }
}

void give_fresh_ids(Stage& stage, const Chain& chain) {
    std::set<std::string> taken;
    visit_stages(chain, [&](const Stage& other, const Slot&, int) { taken.insert(other.id); });
    rename_all(stage, taken);
}

} // namespace syntonon
