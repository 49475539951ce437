// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/correction_commands.h"

#include "app/model/stage_commands.h"
#include "app/widgets/words.h"
#include "core/study/begin_corrections.h"
#include "core/study/fit_stages.h"
#include "core/study/kinds.h"

namespace syntonon {
namespace {

using FoundSections = std::vector<FoundSection>;

void edit_found(Session& session, const QString& name,
                const std::function<void(FoundSections&)>& change, const QString& gesture = {}) {
    edit_correction(
        session, name,
        [&](CorrectionSpec& spec) {
            if (auto* method = std::get_if<SectionsCorrection>(&spec.method)) {
                change(method->found);
            }
        },
        gesture);
}

} // namespace

const CorrectionSpec* selected_correction(const Session& session) {
    const Stage* stage = session.stage();
    return stage != nullptr ? std::get_if<CorrectionSpec>(&*stage->spec) : nullptr;
}

Expected<void> begin_corrections(Session& session) {
    BegunCorrections begun = with_corrections(session.study());
    if (begun.places.empty()) {
        return refuse("", "no channel has a measured set", "import measurements");
    }
    const FitPlace first = begun.places.front();
    if (begun.made_goal || begun.added) {
        session.edit(
            tr("Begin to correct %1")
                .arg(counted(static_cast<qint64>(begun.places.size()), "channel", "channels")),
            [&](Study& study) { study = std::move(begun.study); });
    }
    const auto& channels = session.study().channels;
    const auto at =
        std::ranges::find(channels, first.channel, [](const auto& channel) { return channel->id; });
    session.select_channel(static_cast<int>(at - channels.begin()));
    session.select_stage(first.stage);
    return {};
}

void edit_correction(Session& session, const QString& name,
                     const std::function<void(CorrectionSpec&)>& change, const QString& gesture) {
    if (selected_correction(session) != nullptr) {
        session.edit_stage(
            name.contains(QStringLiteral("%1")) ? name.arg(spoken_name(*session.stage())) : name,
            [&](Stage& stage) { change(std::get<CorrectionSpec>(stage.spec.edit())); }, gesture);
    }
}

void change_found(Session& session, std::size_t at,
                  const std::function<void(ParametricSpec&)>& change, const QString& gesture) {
    edit_found(
        session, tr("Change a section of %1"),
        [&](FoundSections& found) {
            if (at < found.size()) {
                change(found[at].section);
                found[at].locked = true;
            }
        },
        gesture);
}

void lock_found(Session& session, const std::set<int>& rows, bool locked) {
    edit_found(session, locked ? tr("Lock sections of %1") : tr("Unlock sections of %1"),
               [&](FoundSections& found) {
                   for (const int row : rows) {
                       if (const auto at = static_cast<std::size_t>(row); at < found.size()) {
                           found[at].locked = locked;
                       }
                   }
               });
}

void remove_found(Session& session, const std::set<int>& rows) {
    edit_found(session, tr("Remove sections of %1"), [&](FoundSections& found) {
        int at = 0;
        std::erase_if(found, [&](const FoundSection&) { return rows.contains(at++); });
    });
}

void add_found(Session& session, const ParametricSpec& section) {
    edit_found(session, tr("Add a section to %1"), [&](FoundSections& found) {
        found.push_back({section, true, {}});
    });
}

void open_into_stages(Session& session) {
    const Stage* stage = session.stage();
    const auto specs = stage != nullptr ? stages_of_found(stage->spec) : std::vector<StageSpec>();
    if (specs.empty()) {
        return;
    }
    const std::string id = stage->id;
    std::string first;
    session.edit_channel(tr("Open %1 into stages").arg(spoken_name(*stage)), [&](Channel& channel) {
        const auto slot = slot_of(channel.stages, id);
        const auto old = take_out_stage(channel.stages, id);
        Slot to = *slot;
        for (const StageSpec& spec : specs) {
            Stage one;
            one.spec = spec;
            one.enabled = old->enabled;
            give_fresh_ids(one, channel.stages);
            first = first.empty() ? one.id : first;
            insert_stage(channel.stages, to, std::move(one));
            ++to.place;
        }
    });
    session.select_stage(first);
}

} // namespace syntonon
