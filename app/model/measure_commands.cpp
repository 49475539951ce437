// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/measure_commands.h"

#include "app/widgets/words.h"
#include "core/curve/worked_out.h"
#include "core/study/origins.h"

#include <algorithm>
#include <utility>

namespace syntonon {
namespace {

bool is_among(const std::vector<std::string>& ids, const std::string& id) {
    return std::ranges::find(ids, id) != ids.end();
}

QString gate_name(const Session& session, const std::string& id) {
    const NamedGate* gate = gate_of(session.study(), id);
    return gate != nullptr ? QString::fromStdString(gate->name) : tr("all of it");
}

// Changes a copy, works out the chosen curves anew, and shows it only if that went well.
template <class Change, class Chosen>
Expected<void> change_and_work_out(Session& session, const QString& name, const QString& gesture,
                                   Change change, Chosen chosen) {
    Study changed = session.study();
    change(changed);
    if (auto ok = work_out_curves(changed, chosen); !ok) {
        return ok;
    }
    session.edit(
        name, [&](Study& study) { study = std::move(changed); }, gesture);
    return {};
}

// With `change` at the origin of each of the curves that have one.
template <class Change>
Expected<void> change_origins(Session& session, const QString& name,
                              const std::vector<std::string>& curves, Change change,
                              const QString& gesture = {}) {
    return change_and_work_out(
        session, name, gesture,
        [&](Study& study) {
            for (auto& curve : study.curves) {
                if (is_among(curves, curve->id) && curve->origin) {
                    change(*curve.edit().origin);
                }
            }
        },
        [&](const Curve& curve) { return is_among(curves, curve.id); });
}

template <class Chosen>
Expected<void> change_gate_of(Session& session, const std::string& gate, const Gate& to,
                              const QString& gesture, Chosen chosen) {
    if (auto ok = check(to); !ok) {
        return ok;
    }
    return change_and_work_out(
        session, tr("Change gate %1").arg(gate_name(session, gate)), gesture,
        [&](Study& study) {
            for (NamedGate& named : study.gates) {
                named.gate = named.id == gate ? to : named.gate;
            }
        },
        chosen);
}

} // namespace

Expected<void> choose_gate(Session& session, const std::vector<std::string>& curves,
                           const std::string& gate) {
    return change_origins(session, tr("Gate %1").arg(gate_name(session, gate)), curves,
                          [&](CurveOrigin& origin) { origin.gate = gate; });
}

Expected<void> change_gate(Session& session, const std::string& gate, const Gate& to,
                           const QString& gesture) {
    return change_gate_of(session, gate, to, gesture,
                          [&](const Curve& curve) { return curve.origin->gate == gate; });
}

Expected<void> drag_gate(Session& session, const std::string& gate, const Gate& to,
                         const QString& gesture, const std::vector<std::string>& looked_at) {
    return change_gate_of(session, gate, to, gesture, [&](const Curve& curve) {
        return curve.origin->gate == gate && is_among(looked_at, curve.id);
    });
}

Expected<void> end_gate_drag(Session& session, const std::string& gate, const QString& gesture) {
    const NamedGate* now = gate_of(session.study(), gate);
    auto done = now != nullptr ? change_gate(session, gate, now->gate, gesture) : Expected<void>();
    if (!done) {
        session.cancel_gesture(gesture);
    }
    return done;
}

Expected<std::string> add_gate(Session& session, const std::string& like,
                               const std::vector<std::string>& curves) {
    const NamedGate* found = gate_of(session.study(), like);
    NamedGate made = found != nullptr ? *found : NamedGate{"", "gate", Gate(), {}};
    made.name += found != nullptr ? tr(", copy").toStdString() : "";
    made.id = fresh_id(session.study(), made.name);
    made.unknown = {};
    return change_and_work_out(
               session, tr("New gate"), {},
               [&](Study& study) {
                   study.gates.push_back(made);
                   for (auto& curve : study.curves) {
                       if (is_among(curves, curve->id) && curve->origin) {
                           curve.edit().origin->gate = made.id;
                       }
                   }
               },
               [&](const Curve& curve) { return is_among(curves, curve.id); })
        .map([&] { return made.id; });
}

void rename_gate(Session& session, const std::string& gate, const QString& name) {
    if (name.trimmed().isEmpty()) {
        return;
    }
    session.edit(tr("Rename gate %1").arg(gate_name(session, gate)), [&](Study& study) {
        for (NamedGate& named : study.gates) {
            if (named.id == gate) {
                named.name = name.trimmed().toStdString();
            }
        }
    });
}

Expected<void> remove_gate(Session& session, const std::string& gate) {
    std::vector<std::string> users;
    for (const auto& curve : session.study().curves) {
        if (curve->origin && curve->origin->gate == gate) {
            users.push_back(curve->id);
        }
    }
    return change_and_work_out(
        session, tr("Remove gate %1").arg(gate_name(session, gate)), {},
        [&](Study& study) {
            std::erase_if(study.gates, [&](const NamedGate& named) { return named.id == gate; });
            for (auto& curve : study.curves) {
                if (is_among(users, curve->id)) {
                    curve.edit().origin->gate.clear();
                }
            }
        },
        [&](const Curve& curve) { return is_among(users, curve.id); });
}

Expected<void> set_middle(Session& session, const std::string& curve,
                          std::optional<double> middle_s, const QString& gesture) {
    return change_origins(
        session, middle_s ? tr("Set the arrival") : tr("Find the arrival"), {curve},
        [&](CurveOrigin& origin) { origin.middle_s = middle_s; }, gesture);
}

std::string add_microphone(Session& session, Curve microphone) {
    microphone.id = fresh_id(session.study(), microphone.name);
    std::string id = microphone.id;
    session.edit(tr("Add microphone %1").arg(QString::fromStdString(microphone.name)),
                 [&](Study& study) { study.microphones.emplace_back(std::move(microphone)); });
    return id;
}

Expected<void> choose_microphone(Session& session, const std::vector<std::string>& curves,
                                 const std::string& microphone) {
    const Curve* found = microphone_of(session.study(), microphone);
    return change_and_work_out(
        session,
        found != nullptr ? tr("Take out microphone %1").arg(QString::fromStdString(found->name))
                         : tr("Take out no microphone"),
        {},
        [&](Study& study) {
            for (auto& curve : study.curves) {
                if (is_among(curves, curve->id)) {
                    keep_as_measured(curve.edit());
                    curve.edit().origin->microphone = microphone;
                }
            }
        },
        [&](const Curve& curve) { return is_among(curves, curve.id); });
}

Expected<void> remove_microphone(Session& session, const std::string& microphone) {
    const auto uses = [&](const Curve& curve) {
        return curve.origin && curve.origin->microphone == microphone;
    };
    std::vector<std::string> users;
    for (const auto& curve : session.study().curves) {
        if (uses(*curve)) {
            users.push_back(curve->id);
        }
    }
    return change_and_work_out(
        session, tr("Remove a microphone"), {},
        [&](Study& study) {
            std::erase_if(study.microphones, [&](const auto& m) { return m->id == microphone; });
            for (auto& curve : study.curves) {
                if (is_among(users, curve->id)) {
                    curve.edit().origin->microphone.clear();
                }
            }
        },
        [&](const Curve& curve) { return is_among(users, curve.id); });
}

void choose_average(Session& session, AverageOf average) {
    session.edit_channel(tr("Average the positions"),
                         [&](Channel& channel) { channel.average = average; });
}

std::vector<std::string> positions_of(const Channel& channel) {
    std::vector<std::string> ids;
    for (const Position& position : channel.measured) {
        ids.push_back(position.curve);
    }
    return ids;
}

} // namespace syntonon
