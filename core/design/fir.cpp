// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/design/fir/phase_form.h"
#include "core/design/fir/spec_parts.h"
#include "core/design/taps_working.h"
#include "core/filter/form.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

constexpr std::array phases = std::to_array<NamedValue<FirPhase>>({
    {FirPhase::as_made, "as_made", "as made"},
    {FirPhase::linear, "linear", "linear"},
    {FirPhase::minimum, "minimum", "minimum"},
    {FirPhase::maximum, "maximum", "maximum"},
    {FirPhase::between, "between", "between"},
});
constexpr std::array symmetries = std::to_array<NamedValue<FirSymmetry>>({
    {FirSymmetry::even, "even", "even"},
    {FirSymmetry::odd, "odd", "odd"},
});
constexpr std::array forms = std::to_array<NamedValue<EquirippleFir::Form>>({
    {EquirippleFir::Form::linear, "linear", "linear phase"},
    {EquirippleFir::Form::half_band, "half_band", "half-band"},
    {EquirippleFir::Form::magnitude_only, "magnitude_only", "least magnitude error"},
});
constexpr std::array scales = std::to_array<NamedValue<WindowedFir::Scale>>({
    {WindowedFir::Scale::none, "none", "as it comes"},
    {WindowedFir::Scale::unity, "unity", "unity"},
});
constexpr std::array betweens = std::to_array<NamedValue<SampledFir::Between>>({
    {SampledFir::Between::straight, "straight", "straight lines"},
    {SampledFir::Between::best, "best", "best values"},
});
constexpr std::array fir_interpolations = std::to_array<NamedValue<FractionalDelayFir::By>>({
    {FractionalDelayFir::By::lagrange, "lagrange", "Lagrange"},
    {FractionalDelayFir::By::windowed_sinc, "windowed_sinc", "Windowed sinc"},
    {FractionalDelayFir::By::least_squares, "least_squares", "Least squares"},
});

template <std::size_t... i>
constexpr auto method_names(std::index_sequence<i...>) {
    return std::array{NamedValue<std::size_t>{i, std::variant_alternative_t<i, FirMethod>::key,
                                              std::variant_alternative_t<i, FirMethod>::title}...};
}
constexpr auto methods = method_names(std::make_index_sequence<std::variant_size_v<FirMethod>>());

template <std::size_t... i>
FirMethod method_at(std::size_t index, std::index_sequence<i...>) {
    FirMethod method;
    ((index == i ? void(method.emplace<i>()) : void()), ...);
    return method;
}

bool has_odd_symmetry(const FirSpec& spec) {
    return std::visit(
        [](const auto& method) {
            if constexpr (requires { method.symmetry; }) {
                return method.symmetry == FirSymmetry::odd;
            }
            return false;
        },
        spec.method);
}

bool leaves_samples_to_program(const SampledFir& method) {
    return method.samples.empty()
               ? method.between == SampledFir::Between::best
               : std::ranges::any_of(method.samples, [](const auto& s) { return !s.gain; });
}

bool turns_phase(const FirSpec& spec) {
    return spec.phase != FirPhase::as_made
           && (spec.phase != FirPhase::linear || method_as<FromChainFir>(spec) != nullptr);
}

Expected<void> check_phase(const FirSpec& spec) {
    if (!turns_phase(spec) || method_as<FromChainFir>(spec) != nullptr) {
        return {};
    }
    if (!may_turn_phase(spec)) {
        return refuse("phase",
                      !has_odd_symmetry(spec)
                          ? "and a delay of its own exclude one another"
                          : "and odd symmetry exclude one another: its sign would be lost",
                      "leave one of them out");
    }
    return {};
}

Expected<FirMade> with_other_phase(FirMade made, const FirSpec& spec, const Watch& watch) {
    return with_phase(made.taps, phase_share_of(spec), watch).map([&](const PhaseForm& form) {
        made.taps = form.taps;
        WorkingStep step{"Phase",
                         {{"λ", "0 minimum, 1/2 linear, 1 maximum", phase_share_of(spec), ""}}};
        if (form.fft_length > 0) {
            step.numbers.push_back({"L", "transform of the cepstrum",
                                    static_cast<double>(form.fft_length), "samples"});
        }
        step.numbers.push_back(
            {"ε", "greatest change of level within 100 dB of the greatest", form.error_db, "dB"});
        made.steps.push_back(std::move(step));
        made.source += form.fft_length > 0
                           ? "; phase by the cepstrum (Oppenheim and Schafer, section 13.5)"
                           : "; phase by zeros mirrored at the unit circle";
        return std::move(made);
    });
}

Expected<FirMade> made_of(const FirSpec& spec, const Brief& brief, const Watch& watch) {
    const FirTask task{static_cast<std::size_t>(spec.length), spec.wish, brief, watch};
    if (method_as<FromChainFir>(spec) != nullptr && turns_phase(spec)) {
        return made_of_magnitude(task, phase_share_of(spec));
    }
    auto made =
        std::visit([&](const auto& method) { return syntonon::made(method, task); }, spec.method);
    return made && turns_phase(spec) ? with_other_phase(std::move(*made), spec, watch) : made;
}

Working working_of(const FirMade& made, const Filter& filter, double rate) {
    Working shown{made.source, made.steps, made.marked_hz, made.window};
    shown.steps.push_back(step_of_taps(std::get<Taps>(filter.form()), rate));
    return shown;
}

} // namespace

std::span<const NamedValue<std::size_t>> names_of_methods() {
    return methods;
}
FirMethod fir_method(std::size_t index) {
    return method_at(index, std::make_index_sequence<std::variant_size_v<FirMethod>>());
}
FirSpec with_method(FirSpec spec, std::size_t index) {
    constexpr int longest_interpolator = 65, usual_interpolator = 32;
    spec.method = fir_method(index);
    if (method_as<FractionalDelayFir>(spec) != nullptr && spec.length > longest_interpolator) {
        spec.length = usual_interpolator;
    }
    return spec;
}
std::span<const NamedValue<FirPhase>> names_of_phases() {
    return phases;
}
std::span<const NamedValue<FirSymmetry>> names_of_symmetries() {
    return symmetries;
}
std::span<const NamedValue<EquirippleFir::Form>> names_of_forms() {
    return forms;
}
std::span<const NamedValue<WindowedFir::Scale>> names_of_scales() {
    return scales;
}
std::span<const NamedValue<FractionalDelayFir::By>> names_of_fir_interpolations() {
    return fir_interpolations;
}

std::span<const NamedValue<SampledFir::Between>> names_of_betweens() {
    return betweens;
}

bool weighs_errors(const FirSpec& spec) {
    const auto* equiripple = method_as<EquirippleFir>(spec);
    const auto* sampled = method_as<SampledFir>(spec);
    return method_as<LeastSquaresFir>(spec) != nullptr
           || (sampled != nullptr && sampled->samples.empty()
               && leaves_samples_to_program(*sampled))
           || (equiripple != nullptr && !equiripple->by_tolerances
               && equiripple->form != EquirippleFir::Form::half_band);
}

bool takes_bands(const FirSpec& spec) {
    const auto* windowed = method_as<WindowedFir>(spec);
    const auto* sampled = method_as<SampledFir>(spec);
    const auto* equiripple = method_as<EquirippleFir>(spec);
    return (windowed != nullptr && windowed->by == WindowedFir::By::bands)
           || (sampled != nullptr && sampled->samples.empty())
           || (equiripple != nullptr && (!equiripple->by_tolerances || spec.wish.use_goal))
           || method_as<LeastSquaresFir>(spec) != nullptr;
}

bool may_turn_phase(const FirSpec& spec) {
    const auto* delay = own_delay(spec);
    const bool is_delayed =
        (delay != nullptr && *delay) || method_as<FractionalDelayFir>(spec) != nullptr;
    return !has_odd_symmetry(spec) && !is_delayed;
}

double phase_share_of(const FirSpec& spec) {
    return spec.phase == FirPhase::minimum   ? 0
           : spec.phase == FirPhase::maximum ? 1
           : spec.phase == FirPhase::between ? spec.phase_share
                                             : 0.5;
}

bool length_follows(const FirSpec& spec) {
    const auto* equiripple = method_as<EquirippleFir>(spec);
    return tolerances_in_force(spec) != nullptr
           || (equiripple != nullptr && equiripple->by_tolerances);
}

const std::optional<double>* delay_of_its_own(const FirSpec& spec) {
    const auto* sampled = method_as<SampledFir>(spec);
    const bool is_linear_alone = length_follows(spec) || turns_phase(spec) || has_odd_symmetry(spec)
                                 || (sampled != nullptr && leaves_samples_to_program(*sampled));
    return is_linear_alone ? nullptr : own_delay(spec);
}
std::optional<double>* delay_of_its_own(FirSpec& spec) {
    std::optional<double>* found = nullptr;
    if (delay_of_its_own(std::as_const(spec)) != nullptr) {
        std::visit(
            [&](auto& method) {
                if constexpr (requires { method.delay_samples.has_value(); }) {
                    found = &method.delay_samples;
                }
            },
            spec.method);
    }
    return found;
}

bool replaces_above(const FirSpec& spec) {
    return method_as<FromChainFir>(spec) != nullptr;
}

const Tolerances* tolerances_in_force(const FirSpec& spec) {
    const auto* windowed = method_as<WindowedFir>(spec);
    const auto* equiripple = method_as<EquirippleFir>(spec);
    return windowed != nullptr && windowed->by == WindowedFir::By::tolerances
               ? &windowed->tolerances
           : equiripple != nullptr && equiripple->by_tolerances && !spec.wish.use_goal
               ? &equiripple->tolerances
               : nullptr;
}
Tolerances* tolerances_in_force(FirSpec& spec) {
    auto* windowed = std::get_if<WindowedFir>(&spec.method);
    auto* equiripple = std::get_if<EquirippleFir>(&spec.method);
    return tolerances_in_force(std::as_const(spec)) == nullptr ? nullptr
           : windowed != nullptr                               ? &windowed->tolerances
                                                               : &equiripple->tolerances;
}

ClassicalBand band_of(const FirSpec& spec) {
    const auto* windowed = method_as<WindowedFir>(spec);
    const auto* equiripple = method_as<EquirippleFir>(spec);
    return windowed != nullptr     ? windowed->band
           : equiripple != nullptr ? equiripple->band
                                   : ClassicalBand::low_pass;
}

Needs needs_of(const FirSpec& spec) {
    Needs needs;
    needs.wished = takes_bands(spec) && spec.wish.use_goal;
    needs.above = replaces_above(spec);
    return needs;
}

Expected<Design> design(const FirSpec& spec, const Brief& brief, const Watch& watch) {
    for (auto ok : {check_sampled(brief, "an FIR filter is a row of samples"), check_fields(spec),
                    check_phase(spec)}) {
        if (!ok) {
            return tl::unexpected(ok.error());
        }
    }
    return made_of(spec, brief, watch).map([&](FirMade made) {
        Taps taps(std::move(made.taps));
        const Filter filter(std::move(taps));
        const std::string note = made.note;
        return Design{filter,
                      [made = std::move(made), filter, rate = brief.sample_rate_hz] {
                          return working_of(made, filter, rate);
                      },
                      note};
    });
}

bool is_quick(const FirSpec& spec) {
    constexpr int quick_exchange = 151, quick_squares = 512, quick_phase = 65, quick_samples = 255,
                  quick = 16384;
    if (length_follows(spec) || method_as<FromChainFir>(spec) != nullptr
        || (turns_phase(spec) && spec.length > quick_phase)) {
        return false;
    }
    const auto* equiripple = method_as<EquirippleFir>(spec);
    const auto* sampled = method_as<SampledFir>(spec);
    if (equiripple != nullptr) {
        return spec.length <= quick_exchange
               && equiripple->form != EquirippleFir::Form::magnitude_only;
    }
    const bool by_squares = method_as<LeastSquaresFir>(spec) != nullptr
                            || method_as<FractionalDelayFir>(spec) != nullptr;
    const bool has_equations =
        sampled != nullptr
        && (!sampled->samples.empty() || sampled->between == SampledFir::Between::best);
    return spec.length <= (by_squares ? quick_squares : has_equations ? quick_samples : quick);
}

std::string title_of(const FirSpec& spec) {
    return method_as<FromChainFir>(spec) != nullptr
               ? "Chain as FIR"
               : std::string(methods[spec.method.index()].title) + " FIR";
}

std::string summary_of(const FirSpec& spec) {
    const std::string phase =
        turns_phase(spec) ? fmt::format(", {}", named<FirPhase>(phases, spec.phase).title) : "";
    if (length_follows(spec)) {
        return (tolerances_in_force(spec) != nullptr
                    ? std::string(title_of(band_of(spec))) + " by tolerances"
                    : "By the goal's corridor")
               + phase;
    }
    return fmt::format("{} taps{}", spec.length, phase);
}

std::string spoken_name_of(const FirSpec& spec) {
    return title_of(spec) + " of " + summary_of(spec);
}

} // namespace syntonon
