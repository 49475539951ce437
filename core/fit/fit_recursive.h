// From a target to the poles and zeros of a recursive filter.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/fit_figures.h"
#include "core/fit/fitted.h"
#include "core/fit/fitted_aim.h"
#include "core/fit/fitted_to.h"

#include <functional>
#include <optional>
#include <vector>

namespace syntonon {

using FittedSoFar = std::function<void(const FittedSpec&)>;

// The spec with what was found, and what it was fitted to. The same spec and brief give the same
// roots. Stopped by the watch, the best so far is handed over. Refuses what fitted_aim() does.
Expected<FittedSpec> fit(const FittedSpec& spec, const Brief& brief, const Watch& watch,
                         const FittedSoFar& so_far = {});

std::optional<OutOfDate> out_of_date(const FittedSpec& spec, const Brief& brief);
Expected<FitFigures> figures_of_fit(const FittedSpec& spec, const Brief& brief);

// What a fit of each order comes to: more does not help where the weight does not ask for it.
struct OrderError {
    int order = 0;
    double rms = 0, worst = 0; // in dB of the level; of a delay in ms, of a phase in degrees
};
// With as many zeros as the spec has, at most the order; `heard` hears of each as it comes. Ends
// early when the watch says stop. Refused as fit() is.
Expected<std::vector<OrderError>>
errors_by_order(const FittedSpec& spec, const Brief& brief, const std::vector<int>& orders,
                const Watch& watch, const std::function<void(const OrderError&)>& heard = {});

} // namespace syntonon
