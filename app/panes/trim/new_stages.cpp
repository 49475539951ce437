// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/new_stages.h"

#include "core/study/kinds.h"

namespace syntonon {

const std::vector<NewStage>& new_stages() {
    static const std::vector<NewStage> all = [] {
        std::vector<NewStage> offers;
        offer_parametric(offers);
        return offers;
    }();
    return all;
}

} // namespace syntonon
