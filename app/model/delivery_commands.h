// The study's deliveries: each change a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <functional>
#include <string>

namespace syntonon {

// A copy under an id and a name of its own; gives the id. One for all channels leaves out those
// that have no coefficients, as networks.
std::string add_delivery(Session& session, Delivery like);
void remove_delivery(Session& session, const std::string& id);
// Changes in a row of the same delivery, named alike, become one step.
void edit_delivery(Session& session, const std::string& id, const QString& what,
                   const std::function<void(Delivery&)>& change);

} // namespace syntonon
