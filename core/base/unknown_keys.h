// What a study file holds that this version does not know, kept so that saving loses nothing.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <map>
#include <string>

namespace syntonon {

// Key -> the value's JSON text, as it stood beside the keys that are known.
using UnknownKeys = std::map<std::string, std::string>;

} // namespace syntonon
