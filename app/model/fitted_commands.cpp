// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/fitted_commands.h"

#include "app/model/stage_commands.h"
#include "app/widgets/words.h"
#include "core/study/kinds.h"

namespace syntonon {

const FittedSpec* selected_fitted(const Session& session) {
    const Stage* stage = session.stage();
    return stage != nullptr ? std::get_if<FittedSpec>(&*stage->spec) : nullptr;
}

void edit_fitted(Session& session, const QString& name,
                 const std::function<void(FittedSpec&)>& change) {
    if (selected_fitted(session) != nullptr) {
        session.edit_stage(name.arg(spoken_name(*session.stage())),
                           [&](Stage& stage) { change(std::get<FittedSpec>(stage.spec.edit())); });
    }
}

} // namespace syntonon
