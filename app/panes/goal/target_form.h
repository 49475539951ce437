// How a target is stated, and what it could follow.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/study/study.h"

#include <QString>
#include <utility>
#include <vector>

namespace syntonon {

enum TargetForm { by_points, by_house, by_curve, by_channel, by_take, by_stage };
TargetForm form_of(const Target& target);

// What a source of this form could name: as it is shown, and as name_of(source) writes it.
std::vector<std::pair<QString, QString>> followable(const Study& study, TargetForm form);
QString name_of(const TargetSource& source);
TargetSource source_from(TargetForm form, const QString& name, double smoothing_oct);

} // namespace syntonon
