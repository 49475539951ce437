// The properties of an object one by one, as AES70 sets and tells them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/oca/settings.h"
#include "core/device/oca/status.h"

#include <tl/expected.hpp>
#include <vector>

namespace syntonon::oca {

struct SingleValue {
    PropertyId property;
    Bytes bytes;

    bool operator==(const SingleValue&) const = default;
};
// All of a setting, and those that differ between two of one kind.
std::vector<SingleValue> values_of(const Setting& setting);
std::vector<SingleValue> changed_values(const Setting& before, const Setting& after);

// What the object is set to after the command, which may set all of it or one property. Refused:
// no such method, parameters that are not its.
tl::expected<Setting, Status> setting_after(const Setting& now, const Command& command);

} // namespace syntonon::oca
