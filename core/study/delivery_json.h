// Deliveries in JSON.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/json.h"
#include "core/study/delivery.h"
#include "core/study/json_reader.h"

namespace syntonon {

Delivery read_delivery(ObjectReader object);
Json delivery_json(const Delivery& delivery);

// The convention of a direct form: "feedback", "normalisation", "order".
void read_convention(ObjectReader& object, SectionConvention& convention);
void write_convention(Json& object, const SectionConvention& convention);

} // namespace syntonon
