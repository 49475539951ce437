// The four desks: arrangements of the window, each for one part of the work.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>
#include <array>
#include <optional>

namespace syntonon {

enum class Desk { measure, shape, listen, deliver }; // in the order of the work
inline constexpr std::array all_desks = {Desk::measure, Desk::shape, Desk::listen, Desk::deliver};

QString title_of(Desk desk);
QString key_of(Desk desk); // "measure", for what is remembered
std::optional<Desk> desk_from_key(const QString& key);

} // namespace syntonon
