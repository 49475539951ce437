// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/fir_commands.h"

#include "app/model/selected_fir.h"
#include "core/study/chain.h"

namespace syntonon {
namespace {

std::string name_of_take(const FirSpec& spec) {
    std::string name = title_of(spec);
    if (const auto* windowed = std::get_if<WindowedFir>(&spec.method)) {
        name += ", ";
        name += named<WindowShape>(names_of_windows(), windowed->window.shape).title;
    }
    return name + ", " + summary_of(spec);
}

} // namespace

void edit_fir(Session& session, const QString& name, const std::function<void(StageSpec&)>& change,
              const QString& gesture) {
    const FirSpec* spec = selected_fir(session);
    Keeping& keeping = session.keeping();
    const bool is_first = gesture.isEmpty() || gesture != keeping.gesture;
    if (spec == nullptr || !keeping.is_on || !is_first) {
        session.edit_stage(
            name, [&](Stage& stage) { change(stage.spec); }, gesture);
        return;
    }
    keeping.gesture = gesture;
    Take take;
    take.id = fresh_take_id(*session.channel());
    take.name = name_of_take(*spec);
    take.stages = session.channel()->stages;
    session.edit_channel(
        name,
        [&, id = session.selection().stage](Channel& channel) {
            channel.takes.emplace_back(take);
            edit_stage(channel.stages, id, [&](Stage& stage) { change(stage.spec); });
        },
        gesture);
}

} // namespace syntonon
