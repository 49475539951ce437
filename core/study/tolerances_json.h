// Tolerances, and the edges of bands, in JSON.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/json.h"
#include "core/design/tolerances.h"
#include "core/study/json_reader.h"

#include <array>
#include <string_view>

namespace syntonon {

// One or two, as the band has them; a second one may be kept from when it had two.
void read_edges(ObjectReader& object, std::string_view key, ClassicalBand band,
                std::array<double, 2>& edges);
// The second one too where it is not as usual.
Json edges_json(const std::array<double, 2>& edges, const std::array<double, 2>& usual,
                ClassicalBand band);

void read_tolerances(ObjectReader object, ClassicalBand band, Tolerances& t);
Json tolerances_json(const Tolerances& t, ClassicalBand band);

} // namespace syntonon
