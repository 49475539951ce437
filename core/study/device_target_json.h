// A delivery's device in a study file.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/json.h"
#include "core/study/device_target.h"
#include "core/study/json_reader.h"

namespace syntonon {

DeviceTarget read_device_target(ObjectReader object);
Json device_target_json(const DeviceTarget& target);

} // namespace syntonon
