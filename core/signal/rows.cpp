// SPDX-License-Identifier: GPL-3.0-or-later
// Signals that are rows of plain numbers.
#include "core/base/units.h"
#include "core/signal/makers.h"

#include <algorithm>

namespace syntonon {

std::vector<double> made(const ImpulseRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    const auto at = static_cast<std::size_t>(recipe.at_samples);
    if (at < out.size()) {
        out[at] = ratio_from_db(recipe.peak_db);
    }
    return out;
}

std::vector<double> made(const StepRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    const std::size_t at = std::min(static_cast<std::size_t>(recipe.at_samples), out.size());
    std::fill(out.begin() + static_cast<std::ptrdiff_t>(at), out.end(),
              ratio_from_db(recipe.peak_db));
    return out;
}

std::vector<double> made(const PulseTrainRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    const auto period = static_cast<std::size_t>(recipe.period_samples);
    const auto width = static_cast<std::size_t>(recipe.width_samples);
    const double height = ratio_from_db(recipe.peak_db);
    for (std::size_t n = 0; n < out.size(); ++n) {
        out[n] = n % period < width ? height : 0;
    }
    return out;
}

std::vector<double> made(const OffsetRecipe& recipe, const SignalExtent& extent) {
    return std::vector<double>(extent.samples, recipe.value);
}

std::vector<double> made(const NumbersRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out = recipe.values;
    out.resize(extent.samples);
    return out;
}

std::vector<double> made(const SpikesOnRampRecipe& recipe, const SignalExtent& extent) {
    std::vector<double> out(extent.samples);
    const auto every = static_cast<std::size_t>(recipe.every_samples);
    const double last = static_cast<double>(std::max<std::size_t>(out.size(), 2) - 1);
    for (std::size_t n = 0; n < out.size(); ++n) {
        const double along = static_cast<double>(n) / last;
        out[n] = recipe.from + (recipe.to - recipe.from) * along;
        if (n % every == every - 1) {
            out[n] += recipe.height;
        }
    }
    return out;
}

} // namespace syntonon
