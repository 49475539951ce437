// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/object_stages.h"

#include "core/device/curve_setting.h"
#include "core/device/oca/setting_text.h"
#include "core/filter/in_sections.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <memory>
#include <utility>

namespace syntonon::oca {
namespace {

using Stages = Expected<std::optional<StageSpec>>;

constexpr std::array<std::pair<ParametricForm, ParametricShape>, 8> forms = {{
    {ParametricForm::peak, ParametricShape::peak},
    {ParametricForm::low_shelf, ParametricShape::low_shelf},
    {ParametricForm::high_shelf, ParametricShape::high_shelf},
    {ParametricForm::low_pass, ParametricShape::low_pass},
    {ParametricForm::high_pass, ParametricShape::high_pass},
    {ParametricForm::band_pass, ParametricShape::band_pass},
    {ParametricForm::all_pass, ParametricShape::all_pass},
    {ParametricForm::notch, ParametricShape::notch},
}};
constexpr std::array<std::pair<ClassicalForm, ClassicalFamily>, 4> families = {{
    {ClassicalForm::butterworth, ClassicalFamily::butterworth},
    {ClassicalForm::bessel, ClassicalFamily::bessel},
    {ClassicalForm::chebyshev, ClassicalFamily::chebyshev},
    {ClassicalForm::linkwitz_riley, ClassicalFamily::linkwitz_riley},
}};

bool has_gain(ParametricForm form) {
    return form == ParametricForm::peak || form == ParametricForm::low_shelf
           || form == ParametricForm::high_shelf;
}

tl::unexpected<Problem> no_stage(const Setting& setting) {
    return refuse("", "no stage does what " + text_of(setting) + " does",
                  "leave this object out, or set it to another form");
}

Stages stage_for(const GainSetting& s, double) {
    return s.gain_db == 0 ? Stages(std::nullopt)
                          : Stages(StageSpec(GainSpec{s.gain_db, false, {}}));
}
Stages stage_for(const MuteSetting& s, double) {
    return s.is_muted ? Stages(StageSpec(GainSpec{0, false, 0.0})) : Stages(std::nullopt);
}
Stages stage_for(const PolaritySetting& s, double) {
    return s.is_inverted ? Stages(StageSpec(GainSpec{0, true, {}})) : Stages(std::nullopt);
}
Stages stage_for(const DelaySetting& s, double) {
    return s.seconds == 0 ? Stages(std::nullopt)
                          : Stages(StageSpec(DelaySpec{DelayUnit::ms, s.seconds * 1e3}));
}
Stages stage_for(const ParametricSetting& s, double) {
    if (is_idle(s)) {
        return std::nullopt;
    }
    const auto found = std::ranges::find(forms, s.form, &decltype(forms)::value_type::first);
    if (found == forms.end()) {
        return no_stage(s);
    }
    const double gain_db = has_gain(found->second) ? s.in_band_gain_db : 0;
    return StageSpec(parametric(found->second, s.frequency_hz, gain_db, s.width));
}
Stages stage_for(const ClassicalSetting& s, double) {
    const auto found = std::ranges::find(families, s.form, &decltype(families)::value_type::first);
    if (found == families.end()
        || (s.passband != Passband::low_pass && s.passband != Passband::high_pass)) {
        return no_stage(s);
    }
    ClassicalSpec spec;
    spec.family = found->second;
    spec.band =
        s.passband == Passband::low_pass ? ClassicalBand::low_pass : ClassicalBand::high_pass;
    spec.order = s.order;
    spec.edges_hz[0] = s.frequency_hz;
    spec.pass_ripple_db = s.form == ClassicalForm::chebyshev ? s.parameter : spec.pass_ripple_db;
    return StageSpec(spec);
}
Stages stage_for(const PolynomialSetting& s, double) {
    if (is_idle(s)) {
        return std::nullopt;
    }
    RecursionSpec spec;
    spec.b.assign(s.numerator.begin(), s.numerator.end());
    spec.a.assign(s.denominator.begin(), s.denominator.end());
    return StageSpec(spec);
}
Stages stage_for(const FirSetting& s, double) {
    if (is_idle(s)) {
        return std::nullopt;
    }
    return StageSpec(
        TapsSpec{std::make_shared<const std::vector<double>>(s.taps.begin(), s.taps.end())});
}
Stages stage_for(const CurveSetting& s, double sample_rate_hz) {
    return is_idle(s) ? Stages(std::nullopt)
                      : Stages(StageSpec(TapsSpec{std::make_shared<const std::vector<double>>(
                          taps_of(s, sample_rate_hz))}));
}

std::optional<Setting> parametric_setting(const ParametricSpec& spec, double sample_rate_hz) {
    const auto q = width_as(spec, WidthKind::q, Axis(sample_rate_hz));
    if (spec.order != 2 || spec.mapping != ParametricMapping::bilinear || !q) {
        return std::nullopt;
    }
    const auto found = std::ranges::find(forms, spec.shape, &decltype(forms)::value_type::second);
    ParametricSetting setting;
    setting.frequency_hz = static_cast<float>(spec.frequency_hz);
    setting.form = found->first;
    setting.width = static_cast<float>(*q);
    setting.in_band_gain_db = has_gain(spec.shape) ? static_cast<float>(spec.gain_db) : 0;
    return setting;
}

std::optional<Setting> classical_setting(const ClassicalSpec& spec) {
    const auto family =
        std::ranges::find(families, spec.family, &decltype(families)::value_type::second);
    const bool is_pass =
        spec.band == ClassicalBand::low_pass || spec.band == ClassicalBand::high_pass;
    if (family == families.end() || !is_pass || spec.by_tolerances
        || spec.mapping != PlaneMapping::bilinear || spec.normalised_to != BesselEdge::level
        || spec.order < 1 || spec.order > 0xffff) {
        return std::nullopt;
    }
    ClassicalSetting setting;
    setting.frequency_hz = static_cast<float>(spec.edges_hz[0]);
    setting.passband =
        spec.band == ClassicalBand::low_pass ? Passband::low_pass : Passband::high_pass;
    setting.form = family->first;
    setting.order = static_cast<std::uint16_t>(spec.order);
    setting.parameter =
        spec.family == ClassicalFamily::chebyshev ? static_cast<float>(spec.pass_ripple_db) : 0;
    return setting;
}

bool is_one(const std::vector<float>& values) {
    return !values.empty() && values[0] == 1
           && std::all_of(values.begin() + 1, values.end(), [](float value) { return value == 0; });
}

} // namespace

Expected<std::optional<StageSpec>> stage_from(const Setting& setting, double sample_rate_hz) {
    return std::visit([&](const auto& one) { return stage_for(one, sample_rate_hz); }, setting);
}

std::optional<Setting> setting_for(const StageSpec& spec, Kind kind, double sample_rate_hz) {
    if (const auto* bell = std::get_if<ParametricSpec>(&*spec)) {
        return kind == Kind::parametric_filter ? parametric_setting(*bell, sample_rate_hz)
                                               : std::nullopt;
    }
    if (const auto* classical = std::get_if<ClassicalSpec>(&*spec)) {
        return kind == Kind::classical_filter ? classical_setting(*classical) : std::nullopt;
    }
    if (const auto* gain = std::get_if<GainSpec>(&*spec)) {
        const double factor = factor_of(*gain);
        if (kind == Kind::gain && factor > 0) {
            return GainSetting{static_cast<float>(20 * std::log10(factor))};
        }
        return kind == Kind::polarity && factor == -1
                   ? std::optional<Setting>(PolaritySetting{true})
                   : std::nullopt;
    }
    const auto* delay = std::get_if<DelaySpec>(&*spec);
    if (delay != nullptr && kind == Kind::delay && delay->interpolation == Interpolation::none) {
        return DelaySetting{
            static_cast<float>(std::round(samples_of(*delay, sample_rate_hz)) / sample_rate_hz)};
    }
    return std::nullopt;
}

Expected<FilterSettings> settings_for(const Filter& filter, double sample_rate_hz) {
    return series_parts_of(filter.form()).map([&](const SeriesParts& parts) {
        FilterSettings made;
        const auto f = [](double value) { return static_cast<float>(value); };
        for (const Biquad& s : parts.cascade.sections) {
            made.sections.push_back({{f(s.b0), f(s.b1), f(s.b2)}, {1, f(s.a1), f(s.a2)}});
        }
        if (!parts.taps.empty()) {
            made.taps.emplace().taps.assign(parts.taps.begin(), parts.taps.end());
        }
        if (parts.delay_samples > 0) {
            made.delay = DelaySetting{f(static_cast<double>(parts.delay_samples) / sample_rate_hz)};
        }
        return made;
    });
}

Setting idle_setting(const Setting& now) {
    if (const auto* bell = std::get_if<ParametricSetting>(&now)) {
        ParametricSetting idle = *bell;
        idle.in_band_gain_db = 0;
        idle.form = has_gain(idle.form) ? idle.form : ParametricForm::peak;
        return idle;
    }
    Setting idle = now;
    if (auto* curve = std::get_if<CurveSetting>(&idle)) { // as many points as before, all flat
        std::ranges::fill(curve->amplitude, 1.0f);
        std::ranges::fill(curve->phase_rad, 0.0f);
        return idle;
    }
    std::visit([](auto& one) { one = std::decay_t<decltype(one)>(); }, idle);
    return idle;
}

bool is_idle(const Setting& setting) {
    if (const auto* bell = std::get_if<ParametricSetting>(&setting)) {
        return bell->form == ParametricForm::none
               || (has_gain(bell->form) && bell->in_band_gain_db == 0);
    }
    if (const auto* s = std::get_if<PolynomialSetting>(&setting)) {
        return is_one(s->numerator) && is_one(s->denominator);
    }
    if (const auto* s = std::get_if<FirSetting>(&setting)) {
        return is_one(s->taps);
    }
    if (const auto* s = std::get_if<CurveSetting>(&setting)) {
        return std::ranges::all_of(s->amplitude, [](float value) { return value == 1; })
               && std::ranges::all_of(s->phase_rad, [](float value) { return value == 0; });
    }
    // No classical filter does nothing.
    return !std::holds_alternative<ClassicalSetting>(setting) && setting == idle_setting(setting);
}

} // namespace syntonon::oca
