// The study's processors: each change a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <string>

namespace syntonon {

// In the place of the one with that id: the study's own, or one of the program's, which the study
// then has its own of. Refused where it contradicts itself.
Expected<void> put_processor(Session& session, const Processor& processor, const QString& what);
// The study's own goes; one of the program's of that id stands again.
void remove_processor(Session& session, const std::string& id);
// Under an id and a name of its own; gives the id.
std::string copy_processor(Session& session, const Processor& processor);
bool is_own_processor(const Study& study, const std::string& id);

} // namespace syntonon
