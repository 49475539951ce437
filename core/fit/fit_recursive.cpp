// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/fit_recursive.h"

#include "core/design/all_pass_pair.h"

#include "core/fit/recursive/find_roots.h"
#include "core/fit/recursive/impulse_models.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <iterator>

namespace syntonon {
namespace {

std::string settings_text(const FittedSpec& spec) {
    std::string text = fmt::format("{};", zeros_wanted(spec));
    for (const auto& field : fields_of(spec)) {
        if (const auto value = field.get(spec)) {
            text += fmt::format("{} {};", field.key, *value);
        }
    }
    text += named<FittedMatch>(names_of_fitted_matches(), spec.match).key;
    text += named<FittedErrors>(names_of_fitted_errors(), spec.errors).key;
    text += named<FittedAxis>(names_of_fitted_axes(), spec.axis).key;
    text += spec.match == FittedMatch::phase ? ";" + spec.channel : "";
    if (spec.match == FittedMatch::impulse) {
        text += named<ImpulseMethod>(names_of_impulse_methods(), spec.method).key;
        text += ";" + spec.curve;
    }
    return text;
}

AimToNote to_note(const FittedAim& aim) {
    return {aim.response.hz, aim.response.level_db, aim.response.phase_rad};
}

FittedSpec with_roots(FittedSpec spec, const FittedAim& aim, Roots roots) {
    spec.zeros = std::move(roots.zeros);
    spec.poles = std::move(roots.poles);
    spec.gain = roots.gain;
    FittedTo now = fitted_to(settings_text(spec), to_note(aim));
    spec.fitted_to = std::move(now.digest);
    spec.fitted_aim_db = std::move(now.aim_db);
    spec.fitted_aim_deg = std::move(now.aim_deg);
    return spec;
}

FittedSpec with_all_passes(FittedSpec spec, const FittedAim& aim, const AllPasses& found,
                           double sample_rate_hz) {
    Roots roots = all_pass_of(roots_of(RootFactors{0, false, found.poles}).poles);
    const bool by_phase = spec.match == FittedMatch::phase;
    roots.gain *= found.half_turns % 2 == 0 ? 1 : -1;
    spec.delay_ms = by_phase ? 0 : 1e3 * seconds_from_samples(found.delay_samples, sample_rate_hz);
    spec.delay_samples = by_phase ? static_cast<int>(std::lround(found.delay_samples)) : 0;
    spec.bound = 0;
    return with_roots(std::move(spec), aim, std::move(roots));
}

RootsWanted wanted_by(const FittedSpec& spec) {
    return {spec.order, zeros_wanted(spec), spec.greatest_q, spec.errors == FittedErrors::greatest};
}

// About the delay that is best, in ms.
TimingError delay_error_of(const DelayAim& aim, const std::vector<double>& added_samples,
                           double sample_rate_hz) {
    double sum = 0, weights = 0;
    for (std::size_t i = 0; i < aim.size(); ++i) {
        sum += aim.weight[i] * (added_samples[i] + aim.delay_samples[i]);
        weights += aim.weight[i];
    }
    const double common = aim.up_to_a_delay ? sum / weights : 0;
    TimingError error;
    error.by_delay = true;
    double squares = 0;
    for (std::size_t i = 0; i < aim.size(); ++i) {
        const double off_ms =
            1e3 * std::abs(added_samples[i] + aim.delay_samples[i] - common) / sample_rate_hz;
        squares += aim.weight[i] * off_ms * off_ms;
        if (aim.weight[i] > 0 && off_ms > error.worst) {
            error.worst = off_ms;
            error.worst_hz = aim.hz[i];
        }
    }
    error.rms = std::sqrt(squares / weights);
    return error;
}

LevelError error_of(const FittedAim& aim, const std::vector<double>& gain_db) {
    LevelError error;
    double squares = 0, weights = 0;
    for (std::size_t i = 0; i < gain_db.size(); ++i) {
        const double weight = aim.response.weight[i];
        const double off = std::abs(gain_db[i] - aim.response.level_db[i]);
        squares += weight * off * off;
        weights += weight;
        if (weight > 0 && off > error.worst_db) {
            error.worst_db = off;
            error.worst_hz = aim.response.hz[i];
        }
    }
    error.rms_db = std::sqrt(squares / weights);
    return error;
}

AllPasses all_passes_for(const FittedSpec& spec, const DelayAim& aim, double sample_rate_hz,
                         const Watch& watch,
                         const std::function<void(const AllPasses&)>& hear = {}) {
    return find_delays(aim, sample_rate_hz, spec.order, spec.greatest_q,
                       spec.errors == FittedErrors::greatest, watch, hear);
}

// Of the samples that count and a little beyond, where the model rings on.
FitFigures::Impulse impulse_error_of(const FittedSpec& spec, const FittedAim& aim,
                                     const Filter& model) {
    const std::size_t count = aim.impulse_delay + 2 * aim.impulse.size();
    const auto is = model.impulse_response(count);
    double off = 0, all = 0;
    for (std::size_t n = 0; n < count; ++n) {
        const std::size_t place = n - aim.impulse_delay; // wraps round before it
        const double should = place < aim.impulse.size() ? aim.impulse[place] : 0;
        off += (is[n] - should) * (is[n] - should);
        all += should * should;
    }
    return {off / all, spec.bound};
}

TimingError phase_error_of(const FittedAim& aim, const std::vector<double>& phase_rad) {
    TimingError error;
    double squares = 0, weights = 0;
    for (std::size_t i = 0; i < phase_rad.size(); ++i) {
        const double weight = aim.response.weight[i];
        const double off = std::abs(
            deg_from_rad(std::remainder(phase_rad[i] - aim.response.phase_rad[i], 2 * pi)));
        squares += weight * off * off;
        weights += weight;
        if (weight > 0 && off > error.worst) {
            error.worst = off;
            error.worst_hz = aim.response.hz[i];
        }
    }
    error.rms = std::sqrt(squares / weights);
    return error;
}

// What was found for an impulse response, at one order.
struct FoundModel {
    Roots roots; // their delay is part of the model
    double bound = 0;
};

FoundModel found_of(BalancedModel model) {
    return {std::move(model.roots), model.bound};
}

Expected<FoundModel> model_of(const FittedSpec& spec, const FittedAim& aim, const Watch& watch) {
    if (spec.method == ImpulseMethod::balanced_truncation) {
        return balanced_truncation(aim.impulse, spec.order).map(found_of);
    }
    const int zeros = zeros_wanted(spec);
    const RationalModel model =
        spec.method == ImpulseMethod::prony
            ? with_poles_inside(aim.impulse, prony(aim.impulse, zeros, spec.order))
            : steiglitz_mcbride(aim.impulse, zeros, spec.order, watch);
    auto roots = roots_of(model);
    if (!roots) {
        return refuse("order", "the model's roots cannot be told apart in double precision",
                      "lower it, or choose balanced truncation");
    }
    return FoundModel{*std::move(roots), 0};
}

FittedSpec with_model(const FittedSpec& spec, const FittedAim& aim, const FoundModel& found) {
    FittedSpec made = with_roots(spec, aim, found.roots);
    made.bound = found.bound;
    made.delay_samples =
        static_cast<int>(aim.impulse_delay) + static_cast<int>(found.roots.delay_samples);
    made.delay_ms = 0;
    return made;
}

Expected<OrderError> error_of_model(const FittedSpec& spec, const FittedAim& aim,
                                    const Brief& brief, const Watch& watch,
                                    const BalancedStates* states) {
    const auto found = states != nullptr
                           ? Expected<FoundModel>(found_of(cut_down(*states, spec.order)))
                           : model_of(spec, aim, watch);
    if (!found) {
        return tl::unexpected(found.error());
    }
    const auto made = design(with_model(spec, aim, *found), brief, watch);
    if (!made) {
        return tl::unexpected(made.error());
    }
    const auto grid = *FrequencyGrid::from_frequencies(aim.response.hz, brief.axis());
    const LevelError error = error_of(aim, made->filter.magnitude_db(grid));
    return OrderError{spec.order, error.rms_db, error.worst_db};
}

Expected<OrderError> error_of_phase(const FittedSpec& spec, const FittedAim& aim,
                                    const Brief& brief, const Watch& watch) {
    const AllPasses found = all_passes_for(spec, *aim.delay, brief.sample_rate_hz, watch);
    const auto made = design(with_all_passes(spec, aim, found, brief.sample_rate_hz), brief, watch);
    if (!made) {
        return tl::unexpected(made.error());
    }
    const auto grid = *FrequencyGrid::from_frequencies(aim.response.hz, brief.axis());
    const TimingError error = phase_error_of(aim, made->filter.response(grid).phase_rad);
    return OrderError{spec.order, error.rms, error.worst};
}

// Found once for all orders, of a method that has some.
std::optional<BalancedStates> states_for(const FittedSpec& spec, const FittedAim& aim,
                                         const std::vector<int>& orders) {
    if (spec.match != FittedMatch::impulse || spec.method != ImpulseMethod::balanced_truncation
        || orders.empty()) {
        return std::nullopt;
    }
    auto states = balanced_states(aim.impulse, std::ranges::max(orders));
    return states ? std::optional(*std::move(states)) : std::nullopt;
}

Expected<OrderError> error_of_order(const FittedSpec& spec, const FittedAim& aim,
                                    const Brief& brief, const Watch& watch,
                                    const BalancedStates* states) {
    if (spec.match == FittedMatch::impulse) {
        return error_of_model(spec, aim, brief, watch, states);
    }
    const double sample_rate_hz = brief.sample_rate_hz;
    if (spec.match == FittedMatch::phase) {
        return error_of_phase(spec, aim, brief, watch);
    }
    if (aim.delay) {
        const AllPasses found = all_passes_for(spec, *aim.delay, sample_rate_hz, watch);
        const JointDelays task(*aim.delay, sample_rate_hz, spec.greatest_q);
        const TimingError error =
            delay_error_of(*aim.delay, task.delay_samples(found), sample_rate_hz);
        return OrderError{spec.order, error.rms, error.worst};
    }
    const JointRoots task(aim.response, sample_rate_hz, spec.greatest_q);
    const RootFactors found = find_roots(aim.response, sample_rate_hz, wanted_by(spec), watch);
    const LevelError error = error_of(aim, task.level_db(found));
    return OrderError{spec.order, error.rms_db, error.worst_db};
}

} // namespace

Expected<FittedSpec> fit(const FittedSpec& spec, const Brief& brief, const Watch& watch,
                         const FittedSoFar& so_far) {
    const auto aim = fitted_aim(spec, brief);
    if (!aim) {
        return tl::unexpected(aim.error());
    }
    if (spec.match == FittedMatch::impulse) {
        return model_of(spec, *aim, watch).map([&](const FoundModel& found) {
            return with_model(spec, *aim, found);
        });
    }
    const double rate_hz = brief.sample_rate_hz;
    if (aim->delay) {
        const auto hear = [&](const AllPasses& found) {
            if (so_far) {
                so_far(with_all_passes(spec, *aim, found, rate_hz));
            }
        };
        return with_all_passes(spec, *aim, all_passes_for(spec, *aim->delay, rate_hz, watch, hear),
                               rate_hz);
    }
    const auto hear = [&](const RootFactors& found) {
        if (so_far) {
            so_far(with_roots(spec, *aim, roots_of(found)));
        }
    };
    FittedSpec found = with_roots(
        spec, *aim, roots_of(find_roots(aim->response, rate_hz, wanted_by(spec), watch, hear)));
    found.delay_ms = 0;
    found.delay_samples = 0;
    found.bound = 0;
    return found;
}

std::optional<OutOfDate> out_of_date(const FittedSpec& spec, const Brief& brief) {
    if (!is_fitted(spec)) {
        return std::nullopt;
    }
    const auto aim = fitted_aim(spec, brief);
    return aim ? out_of_date(settings_text(spec),
                             {spec.fitted_to, spec.fitted_aim_db, spec.fitted_aim_deg},
                             to_note(*aim))
               : std::nullopt;
}

Expected<FitFigures> figures_of_fit(const FittedSpec& spec, const Brief& brief) {
    const auto aim = fitted_aim(spec, brief);
    if (!aim) {
        return tl::unexpected(aim.error());
    }
    const auto made = design(spec, brief, Watch());
    if (!made) {
        return tl::unexpected(made.error());
    }
    const ResponseAim& response = aim->response;
    const auto grid = *FrequencyGrid::from_frequencies(response.hz, brief.axis());
    const Response now = made->filter.response(grid);
    const std::vector<double> none(response.size(), 0.0);
    FitFigures figures;
    figures.found = spec.poles.size();
    figures.hz = response.hz;
    if (aim->delay && !aim->delay->by_phase()) {
        const double rate_hz = brief.sample_rate_hz;
        figures.timing =
            FitFigures::Timing{delay_error_of(*aim->delay, none, rate_hz),
                               delay_error_of(*aim->delay, now.group_delay_samples, rate_hz)};
        return figures;
    }
    if (spec.match == FittedMatch::impulse) {
        figures.impulse = impulse_error_of(spec, *aim, made->filter);
    }
    figures.together = {error_of(*aim, none), error_of(*aim, now.magnitude_db)};
    std::ranges::transform(now.magnitude_db, response.level_db,
                           std::back_inserter(figures.left_over_db), std::minus());
    if (!response.phase_rad.empty()) {
        figures.timing =
            FitFigures::Timing{phase_error_of(*aim, none), phase_error_of(*aim, now.phase_rad)};
    }
    return figures;
}

Expected<std::vector<OrderError>>
errors_by_order(const FittedSpec& spec, const Brief& brief, const std::vector<int>& orders,
                const Watch& watch, const std::function<void(const OrderError&)>& heard) {
    const auto aim = fitted_aim(spec, brief);
    if (!aim) {
        return tl::unexpected(aim.error());
    }
    const auto states = states_for(spec, *aim, orders);
    std::vector<OrderError> errors;
    for (const int order : orders) {
        FittedSpec one = spec;
        one.order = order;
        if (one.numerator_order) {
            one.numerator_order = std::min(*one.numerator_order, order);
        }
        const auto error =
            error_of_order(one, *aim, brief, watch.part_of(errors.size(), orders.size()),
                           states ? &*states : nullptr);
        if (!error) {
            return tl::unexpected(error.error());
        }
        if (watch.is_stopped()) {
            break;
        }
        errors.push_back(*error);
        if (heard) {
            heard(*error);
        }
        watch.report(static_cast<double>(errors.size()) / static_cast<double>(orders.size()));
    }
    return errors;
}

} // namespace syntonon
