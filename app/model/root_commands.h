// What one does to roots: each a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/roots_in_hand.h"
#include "app/model/session.h"
#include "core/design/root_numbers.h"
#include "core/study/opened.h"

#include <QString>
#include <complex>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

// Where a root is now; nothing where it is no longer there.
std::optional<std::complex<double>> value_of(const Session& session, const RootRef& root);
// "pole pair 870 Hz", "real zero −1.0000"
QString name_of_root(const std::complex<double>& root, bool pole, const Axis& axis);

// One drag, from the press on: every move starts from where the roots were then.
class RootDrag {
public:
    // Of several that belong together, as key presses do, with one gesture.
    RootDrag(Session& session, const RootRef& held, const QString& gesture = {});

    const RootRef& held() const { return held_; }
    const std::complex<double>& from() const { return from_; }
    // The held root goes there, and the others in hand along with it. `snap`: see root_edits.h. The
    // reason where its stage cannot.
    Expected<void> move_to(std::complex<double> to, double snap);
    // From now on stages of roots or coefficients keep their level at this frequency.
    void keep_level_at(std::optional<double> hz) { kept_hz_ = hz; }
    void cancel();

private:
    struct Part {
        std::string stage;
        StageSpec spec;
        Filter filter;
        Brief brief;
        std::vector<RootPlace> places;
        std::complex<double> from; // of the first place
    };
    void keep_in_hand(std::complex<double> to);
    Expected<StageSpec> moved(const Part& part, std::complex<double> to, double snap) const;

    Session& session_;
    RootRef held_;    // as it was counted at the press
    RootRef in_hand_; // and as it is counted now
    std::complex<double> from_;
    std::vector<Part> parts_;
    QString gesture_;
    std::optional<double> kept_hz_;
};

// Changes roots of the stages that own them, stage by stage; refused where one of them is neither
// `roots` nor coefficients.
using ChangeRoots = std::function<RootsSpec(const RootsSpec&, std::span<const RootPlace>, Domain)>;
Expected<void> change_roots(Session& session, const QString& name, const std::set<RootRef>& roots,
                            const ChangeRoots& change);

// Into the selected stage where it is of that kind, else into a new one behind it; then it is in
// hand.
void add_root(Session& session, bool pole, std::complex<double> at);

// One number of a root, as typed; steps in a row with `continuing` are one.
Expected<void> set_root_number(Session& session, const RootRef& root, RootNumber which,
                               double value, bool continuing);

// Every pole of the chain that does not die away, mirrored; refused where a stage cannot.
Expected<void> reflect_poles_inside(Session& session);

// What is given up and lost by it, in plain words; the stage stands in its place.
Expected<QString> open_stage(Session& session, std::string id, OpenedAs as);

} // namespace syntonon
