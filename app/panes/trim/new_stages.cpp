// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/new_stages.h"

#include "app/panes/trim/trim_panels.h"

#include <utility>

namespace syntonon {
namespace {

template <std::size_t... i>
std::vector<NewStage> offers_of_all(std::index_sequence<i...>) {
    std::vector<NewStage> offers;
    (offer(std::variant_alternative_t<i, AnyKind::variant>(), offers), ...);
    return offers;
}

} // namespace

const std::vector<NewStage>& new_stages() {
    static const std::vector<NewStage> all =
        offers_of_all(std::make_index_sequence<std::variant_size_v<AnyKind::variant>>());
    return all;
}

} // namespace syntonon
