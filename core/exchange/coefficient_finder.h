// Coefficients among written numbers. See found_coefficients.h.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/found_coefficients.h"
#include "core/exchange/written_numbers.h"

namespace syntonon {

Expected<FoundCoefficients> find_coefficients(const WrittenNumbers& text,
                                              const CoefficientReading& reading);

} // namespace syntonon
