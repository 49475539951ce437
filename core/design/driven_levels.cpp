// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/driven_levels.h"

#include "core/base/units.h"
#include "core/filter/modelled/ladder.h"

#include <cmath>
#include <limits>

namespace syntonon {
namespace {

std::complex<double> value_of(const ModelledRoots& roots, std::complex<double> s) {
    std::complex<double> h = roots.gain;
    for (const auto& zero : roots.zeros) {
        h *= s - zero;
    }
    for (const auto& pole : roots.poles) {
        h /= s - pole;
    }
    return h;
}

double level_db_of(const LadderModel& model, double peak, double w) {
    if (!model.build.saturating) {
        return db_from_ratio(std::abs(value_of(modelled_roots(model.build, model.knobs), {0, w})));
    }
    const auto driven = modelled::driven_response(model.build, model.knobs.resonance,
                                                  peak * ratio_from_db(model.knobs.drive_db), w);
    return driven ? db_from_ratio(std::abs(*driven)) : std::numeric_limits<double>::quiet_NaN();
}

double level_db_of(const StateVariableModel& model, double peak, double w) {
    const double through =
        model.build.saturating
            ? modelled::describing_gain(peak * ratio_from_db(model.knobs.drive_db))
            : 1;
    const double one = std::abs(value_of(modelled_roots(model.build, model.knobs), {0, w}));
    return db_from_ratio(through) + static_cast<double>(model.build.in_series) * db_from_ratio(one);
}

} // namespace

std::vector<double> driven_level_db(const FilterModel& model, double peak,
                                    std::span<const double> hz, const Watch& watch) {
    std::vector<double> levels;
    for (const double f : hz) {
        levels.push_back(watch.is_stopped()
                             ? std::numeric_limits<double>::quiet_NaN()
                             : std::visit(
                                 [&](const auto& made) {
                                     return level_db_of(made, peak, f / made.knobs.frequency_hz);
                                 },
                                 model));
    }
    return levels;
}

std::vector<PolesAtResonance> poles_by_resonance(const FilterModel& model, std::size_t count) {
    constexpr double beyond = 1.2, below = 0.9995;
    std::vector<PolesAtResonance> found;
    for (std::size_t i = 0; i < count; ++i) {
        const double share =
            count > 1 ? static_cast<double>(i) / static_cast<double>(count - 1) : 0;
        std::visit(
            [&](auto made) {
                const bool is_ladder = std::is_same_v<decltype(made), LadderModel>;
                made.knobs.resonance = share * (is_ladder ? beyond : below);
                found.push_back(
                    {made.knobs.resonance, modelled_roots(made.build, made.knobs).poles});
            },
            model);
    }
    return found;
}

} // namespace syntonon
