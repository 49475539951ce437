// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/root_commands.h"

#include "app/model/stage_commands.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/study/kinds.h"
#include "core/study/root_drag.h"

#include <algorithm>
#include <map>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

const Roots* roots_of_stage(const Session& session, const std::string& id) {
    const auto analysis = session.analysis();
    const StageAnalysis* stage = analysis != nullptr ? analysis->stage(id) : nullptr;
    return stage != nullptr && stage->filter && stage->filter->roots() ? &*stage->filter->roots()
                                                                       : nullptr;
}

Brief brief_of(const Session& session, const StageAnalysis& stage) {
    return stage.brief != nullptr ? *stage.brief : brief_at(session.axis());
}

tl::unexpected<Problem> gone() {
    return refuse("", "the root is no longer there", "take another one");
}

using SpecsByStage = std::vector<std::pair<std::string, StageSpec>>;

void put_specs(Chain& chain, const SpecsByStage& specs) {
    for (const auto& one : specs) {
        edit_stage(chain, one.first, [&](Stage& stage) { stage.spec = one.second; });
    }
}

std::map<std::string, std::vector<RootPlace>> by_stage(const std::set<RootRef>& roots) {
    std::map<std::string, std::vector<RootPlace>> places;
    for (const RootRef& root : roots) {
        places[root.stage].push_back(root.place);
    }
    return places;
}

Expected<StageSpec> changed(const Session& session, const std::string& id,
                            std::span<const RootPlace> places, const ChangeRoots& change) {
    const Stage* stage = session.stage(id);
    const StageAnalysis* analysis = stage != nullptr ? session.analysis()->stage(id) : nullptr;
    if (analysis == nullptr || !analysis->filter) {
        return gone();
    }
    const auto own = own_roots(stage->spec, *analysis->filter);
    if (!own) {
        return refuse("", fmt::format("“{}” is not made of roots", title_of(*stage)),
                      "open it into roots first (Stage menu)");
    }
    const StageSpec made =
        with_own_roots(stage->spec, *analysis->filter, change(*own, places, session.axis().domain));
    const auto tried = design(made, brief_of(session, *analysis), Watch());
    return tried ? Expected<StageSpec>(made) : tl::unexpected(tried.error());
}

} // namespace

std::optional<Complex> value_of(const Session& session, const RootRef& root) {
    const Roots* roots = roots_of_stage(session, root.stage);
    if (roots == nullptr) {
        return std::nullopt;
    }
    const auto& list = root.place.is_pole ? roots->poles : roots->zeros;
    return root.place.index < list.size() ? std::optional(list[root.place.index]) : std::nullopt;
}

QString name_of_root(const Complex& root, bool pole, const Axis& axis) {
    const double hz = number_of(root, RootNumber::frequency_hz, axis);
    const QString where = QString::fromStdString(frequency_text(hz));
    if (root.imag() != 0) {
        return (pole ? QObject::tr("pole pair %1") : QObject::tr("zero pair %1")).arg(where);
    }
    const QString at = axis.is_analog() ? where : fixed_number(root.real(), 4);
    return (pole ? QObject::tr("real pole %1") : QObject::tr("real zero %1")).arg(at);
}

RootDrag::RootDrag(Session& session, const RootRef& held, const QString& gesture)
    : session_(session), held_(held), in_hand_(held), from_(value_of(session, held).value_or(0)),
      gesture_(gesture.isEmpty() ? session.new_gesture() : gesture) {
    std::set<RootRef> all = session.roots_in_hand().roots();
    if (!all.contains(held)) {
        all = {held};
    }
    for (const auto& [id, places] : by_stage(all)) {
        const Stage* stage = session.stage(id);
        const auto from = value_of(session, {id, places.front()});
        if (stage != nullptr && from) {
            const StageAnalysis& analysis = *session.analysis()->stage(id);
            parts_.push_back(
                {id, stage->spec, *analysis.filter, brief_of(session, analysis), places, *from});
        }
    }
}

Expected<StageSpec> RootDrag::moved(const Part& part, Complex to, double snap) const {
    if (const auto own = own_roots(part.spec, part.filter)) {
        const RootPlace& led = part.stage == held_.stage ? held_.place : part.places.front();
        RootsSpec result = syntonon::moved(*own, part.places, led, to, snap);
        if (kept_hz_) {
            const Axis axis = session_.axis();
            const Complex at = axis.is_analog() ? Complex(0, rad_per_s_from_hz(*kept_hz_))
                                                : std::polar(1.0, axis.rad_per_sample(*kept_hz_));
            result = as_loud_as(std::move(result), *own, at, axis.domain);
        }
        return with_own_roots(part.spec, part.filter, result);
    }
    const RootPlace& led = part.stage == held_.stage ? held_.place : part.places.front();
    return with_root_moved(part.spec, part.filter, part.brief, led, to, snap);
}

Expected<void> RootDrag::move_to(Complex to, double snap) {
    SpecsByStage all;
    // From the origin nothing can be turned: the others stay.
    const Complex by = from_ == 0.0        ? Complex(1, 0)
                       : from_.imag() >= 0 ? to / from_
                                           : std::conj(to / from_);
    for (const Part& part : parts_) {
        const bool leads = part.stage == held_.stage;
        const Complex turned = part.from.imag() < 0    ? part.from * std::conj(by)
                               : part.from.imag() == 0 ? Complex(part.from.real() * std::abs(by), 0)
                                                       : part.from * by;
        auto made = moved(part, leads ? to : turned, snap);
        if (made) {
            all.emplace_back(part.stage, std::move(*made));
        } else if (leads) {
            return tl::unexpected(made.error());
        }
    }
    const QString what =
        parts_.size() > 1 || (parts_.size() == 1 && parts_[0].places.size() > 1)
            ? tr("Move roots")
            : tr("Move the %1").arg(name_of_root(from_, held_.place.is_pole, session_.axis()));
    session_.edit_channel(
        what, [&](Channel& channel) { put_specs(channel.stages, all); }, gesture_);
    keep_in_hand(to);
    return {};
}

// Searched roots come in an order of their own: the one in hand is the one that was moved.
void RootDrag::keep_in_hand(Complex to) {
    if (session_.roots_in_hand().roots() != std::set<RootRef>{in_hand_}) {
        return; // several
    }
    const Roots* roots = roots_of_stage(session_, held_.stage);
    const auto* list = roots == nullptr      ? nullptr
                       : held_.place.is_pole ? &roots->poles
                                             : &roots->zeros;
    if (list == nullptr || list->empty()) {
        return;
    }
    const auto nearest = std::ranges::min_element(
        *list, {}, [&](const Complex& root) { return std::abs(root - to); });
    in_hand_.place.index = static_cast<std::size_t>(nearest - list->begin());
    session_.roots_in_hand().hold({in_hand_});
}

void RootDrag::cancel() {
    session_.cancel_gesture(gesture_);
}

Expected<void> change_roots(Session& session, const QString& name, const std::set<RootRef>& roots,
                            const ChangeRoots& change) {
    SpecsByStage all;
    for (const auto& [id, places] : by_stage(roots)) {
        auto made = changed(session, id, places, change);
        if (!made) {
            return tl::unexpected(made.error());
        }
        all.emplace_back(id, std::move(*made));
    }
    if (!all.empty()) {
        session.edit_channel(name, [&](Channel& channel) { put_specs(channel.stages, all); });
    }
    return {};
}

void add_root(Session& session, bool pole, Complex at) {
    if (session.channel() == nullptr) {
        return;
    }
    const Stage* stage = session.stage();
    const auto* own = stage != nullptr ? std::get_if<RootsSpec>(&*stage->spec) : nullptr;
    const RootsSpec made = with_added(own != nullptr ? *own : RootsSpec(), pole, at);
    const QString what = name_of_root(at, pole, session.axis());
    if (own != nullptr) {
        session.edit_stage(tr("Add a %1").arg(what), [&](Stage& s) { s.spec = made; });
    } else {
        add_stage(session, made);
    }
    const std::size_t count = list_of(made, pole).size();
    session.roots_in_hand().hold(
        {{session.selection().stage, {pole, count - (at.imag() != 0 ? 2 : 1)}}});
}

Expected<void> set_root_number(Session& session, const RootRef& root, RootNumber which,
                               double value, bool continuing) {
    const auto now = value_of(session, root);
    const Stage* stage = session.stage(root.stage);
    if (!now || stage == nullptr) {
        return gone();
    }
    const Complex upper(now->real(), std::abs(now->imag()));
    const Complex to = with_number(upper, which, value, session.axis());
    const StageAnalysis& analysis = *session.analysis()->stage(root.stage);
    auto made = with_root_moved(stage->spec, *analysis.filter, brief_of(session, analysis),
                                root.place, now->imag() < 0 ? std::conj(to) : to, 0);
    if (!made) {
        return tl::unexpected(made.error());
    }
    if (const auto tried = design(*made, brief_of(session, analysis), Watch()); !tried) {
        return tl::unexpected(tried.error());
    }
    const QString what = name_of_root(*now, root.place.is_pole, session.axis());
    session.edit_channel(
        tr("Change the %1").arg(what),
        [&](Channel& channel) {
            edit_stage(channel.stages, root.stage, [&](Stage& s) { s.spec = *made; });
        },
        continuing ? session.continuing_gesture("root " + QString::fromStdString(root.stage))
                   : QString());
    return {};
}

Expected<void> reflect_poles_inside(Session& session) {
    std::set<RootRef> outside;
    const auto analysis = session.analysis();
    if (analysis == nullptr) {
        return {};
    }
    const bool is_analog = session.axis().is_analog();
    std::set<std::string> off; // with all that they hold
    visit_stages(session.channel()->stages, [&](const Stage& stage, const Slot& slot, int) {
        if (!stage.enabled || off.contains(slot.holder)) {
            off.insert(stage.id);
            return;
        }
        const Roots* roots = roots_of_stage(session, stage.id);
        if (roots == nullptr || layout_of(stage)) {
            return;
        }
        for (std::size_t i = 0; i < roots->poles.size(); ++i) {
            const Complex& pole = roots->poles[i];
            if (is_analog ? pole.real() > 0 : std::abs(pole) > 1) {
                outside.insert({stage.id, {true, i}});
            }
        }
    });
    if (outside.empty()) {
        return refuse("", "no stage has a pole of its own outside the circle",
                      "drag one that is on it inside, or turn the loop down");
    }
    return change_roots(session, tr("Reflect poles inside"), outside,
                        [](const RootsSpec& spec, std::span<const RootPlace>, Domain domain) {
                            return reflected_inside(spec, domain);
                        });
}

namespace {

// Those before the slot in its chain.
void switch_off_above(Chain& stages, const Slot& slot) {
    const Chain above = *chain_at(stages, slot);
    for (std::size_t i = 0; i < slot.place; ++i) {
        edit_stage(stages, above[i]->id, [](Stage& s) { s.enabled = false; });
    }
}

} // namespace

// NOLINTNEXTLINE(performance-unnecessary-value-param): the widget it comes from may change
Expected<QString> open_stage(Session& session, std::string id, OpenedAs as) {
    const Stage* stage = session.stage(id);
    const StageAnalysis* analysis = stage != nullptr ? session.analysis()->stage(id) : nullptr;
    if (analysis == nullptr || analysis->is_waiting) {
        return refuse("", "no stage is there to be opened", "select one");
    }
    if (!analysis->filter) {
        return tl::unexpected(analysis->filter.error());
    }
    const auto made = opened(*stage, *analysis->filter, as);
    if (!made) {
        return tl::unexpected(within(fmt::format("“{}”", title_of(*stage)), made.error()));
    }
    const QString name = spoken_name(*stage);
    const Slot slot = *slot_of(session.channel()->stages, id);
    const bool stood_for_above = stands_for_above(stage->spec);
    Stage last = *stage;
    last.spec = made->specs.back();
    give_fresh_ids(last, session.channel()->stages); // of what it holds
    last.id = id;
    session.edit_channel(tr("Open %1").arg(name), [&](Channel& channel) {
        for (std::size_t i = 0; i + 1 < made->specs.size(); ++i) {
            Stage before;
            before.spec = made->specs[i];
            give_fresh_ids(before, channel.stages);
            insert_stage(channel.stages, {slot.holder, slot.chain, slot.place + i},
                         std::move(before));
        }
        edit_stage(channel.stages, id, [&](Stage& s) { s = last; });
        if (stood_for_above) {
            switch_off_above(channel.stages, slot);
        }
    });
    session.select_stage(id);
    QStringList words;
    if (stood_for_above) {
        words << tr("the stages above, for which it stood, are switched off");
    }
    if (!made->given_up.empty()) {
        words << QString::fromStdString(made->given_up);
    }
    if (!made->lost.empty()) {
        words << QString::fromStdString(made->lost);
    }
    return words.isEmpty() ? tr("%1 is open: nothing is given up").arg(name)
                           : tr("%1 is open: %2").arg(name, words.join("; "));
}

} // namespace syntonon
