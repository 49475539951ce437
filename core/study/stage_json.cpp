// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/stage_json.h"

#include "core/study/chain.h"
#include "core/study/kinds.h"

#include <fmt/format.h>
#include <set>
#include <utility>

namespace syntonon {
namespace {

// Reads the alternative whose kind is `kind`; an unknown kind fails with the list of known ones.
template <std::size_t... i>
StageSpec read_kind(ObjectReader& object, const std::string& kind, std::index_sequence<i...>) {
    StageSpec spec;
    const auto try_kind = [&]<class Spec>(Spec candidate) {
        if (kind != Spec::kind) {
            return false;
        }
        read_spec(object, candidate);
        spec = std::move(candidate);
        return true;
    };
    if (!(try_kind(std::variant_alternative_t<i, AnyKind::variant>{}) || ...)) {
        std::string known;
        ((known += (known.empty() ? "" : ", ")
                   + std::string(std::variant_alternative_t<i, AnyKind::variant>::kind)),
         ...);
        object.fail("kind",
                    fmt::format("“{}” is not a kind of stage that this version knows", kind),
                    "use one of: " + known);
    }
    return spec;
}

void check_ids(const Chain& chain, const std::string& place, std::set<std::string>& ids,
               ReadLog& log) {
    for (std::size_t i = 0; i < chain.size(); ++i) {
        const std::string stage_place = fmt::format("{}[{}]", place, i);
        if (!ids.insert(chain[i]->id).second) {
            log.fail({stage_place + ".id",
                      fmt::format("“{}” is taken by an earlier stage", chain[i]->id),
                      "give each stage its own id"});
        }
        const auto held = chains_in(*chain[i]);
        for (std::size_t k = 0; k < held.size(); ++k) {
            check_ids(*held[k], fmt::format("{}.{}", stage_place, place_of_chain(*chain[i], k)),
                      ids, log);
        }
    }
}

} // namespace

Stage read_stage(ObjectReader object) {
    Stage stage;
    stage.id = object.text("id");
    const std::string kind = object.text("kind");
    stage.enabled = object.boolean_or("enabled", true);
    stage.name = object.text_or("name", "");
    stage.spec =
        read_kind(object, kind, std::make_index_sequence<std::variant_size_v<AnyKind::variant>>());
    stage.unknown = object.unknown();
    return stage;
}

Chain read_stages(ObjectReader& object) {
    Chain stages = read_chain(object, "stages");
    std::set<std::string> ids;
    check_ids(stages, object.path_of("stages"), ids, object.log());
    return stages;
}

Json stage_json(const Stage& stage) {
    Json object;
    object.set("id", stage.id);
    std::visit([&](const auto& spec) { object.set("kind", spec.kind); }, *stage.spec);
    object.set("enabled", stage.enabled);
    if (!stage.name.empty()) {
        object.set("name", stage.name);
    }
    std::visit([&](const auto& spec) { write_spec(object, spec); }, *stage.spec);
    object.set_unknown(stage.unknown);
    return object;
}

Chain read_chain(ObjectReader& object, std::string_view key) {
    Chain chain;
    object.each(key, [&](ObjectReader stage) { chain.emplace_back(read_stage(std::move(stage))); });
    return chain;
}

Json chain_json(const Chain& chain) {
    return list_json(chain, [](const auto& stage) { return stage_json(*stage); });
}

} // namespace syntonon
