// SPDX-License-Identifier: GPL-3.0-or-later
// An FIR's numbers, as fields and rows.
#include "core/design/fir.h"
#include "core/design/fir/spec_parts.h"

#include <cmath>
#include <type_traits>
#include <utility>

namespace syntonon {
namespace {

bool has_window_parameter(const WindowedFir& method) {
    return method.by != WindowedFir::By::tolerances
           && !parameter_of(method.window.shape).name.empty();
}

using Field = NumberField<FirSpec>;
constexpr double longest = 1 << 20;

template <class Method, auto member>
std::optional<double> get_member(const FirSpec& spec) {
    const Method* method = method_as<Method>(spec);
    return method != nullptr ? std::optional<double>(method->*member) : std::nullopt;
}
template <class Method, auto member>
void set_member(FirSpec& spec, double value) {
    if (auto* method = std::get_if<Method>(&spec.method)) {
        if constexpr (std::is_same_v<std::remove_cvref_t<decltype(std::declval<Method&>().*member)>,
                                     int>) {
            method->*member = static_cast<int>(std::lround(value));
        } else {
            method->*member = value;
        }
    }
}
template <std::size_t i>
std::optional<double> get_edge(const FirSpec& spec) {
    const auto* method = method_as<WindowedFir>(spec);
    const bool is_there = method != nullptr && method->by == WindowedFir::By::edges
                          && (i == 0 || has_two_edges(method->band));
    return is_there ? std::optional(method->edges_hz[i]) : std::nullopt;
}
template <std::size_t i>
void set_edge(FirSpec& spec, double value) {
    if (auto* method = std::get_if<WindowedFir>(&spec.method)) {
        method->edges_hz[i] = value;
    }
}
// Of the two pulses with a roll-off, either.
template <auto first, auto second>
std::optional<double> get_either(const FirSpec& spec) {
    const auto value = get_member<RaisedCosineFir, first>(spec);
    return value ? value : get_member<RootRaisedCosineFir, second>(spec);
}
template <auto first, auto second>
void set_either(FirSpec& spec, double value) {
    set_member<RaisedCosineFir, first>(spec, value);
    set_member<RootRaisedCosineFir, second>(spec, value);
}

std::optional<double> get_length(const FirSpec& spec) {
    return length_follows(spec) ? std::nullopt : std::optional<double>(spec.length);
}
std::optional<double> get_symbol_rate(const FirSpec& spec) {
    const auto value =
        get_either<&RaisedCosineFir::symbol_rate_hz, &RootRaisedCosineFir::symbol_rate_hz>(spec);
    return value ? value : get_member<GaussianPulseFir, &GaussianPulseFir::symbol_rate_hz>(spec);
}
void set_symbol_rate(FirSpec& spec, double value) {
    set_either<&RaisedCosineFir::symbol_rate_hz, &RootRaisedCosineFir::symbol_rate_hz>(spec, value);
    set_member<GaussianPulseFir, &GaussianPulseFir::symbol_rate_hz>(spec, value);
}
std::optional<double> get_window_parameter(const FirSpec& spec) {
    const auto* method = method_as<WindowedFir>(spec);
    return method != nullptr && has_window_parameter(*method)
               ? std::optional(method->window.parameter)
               : std::nullopt;
}
void set_window_parameter(FirSpec& spec, double value) {
    if (auto* method = std::get_if<WindowedFir>(&spec.method)) {
        method->window.parameter = value;
    }
}
std::optional<double> get_delay(const FirSpec& spec) {
    const auto* delay = own_delay(spec);
    return delay != nullptr
               ? *delay
               : get_member<FractionalDelayFir, &FractionalDelayFir::delay_samples>(spec);
}
void set_delay(FirSpec& spec, double value) {
    std::visit(
        [value](auto& method) {
            if constexpr (requires { method.delay_samples; }) {
                method.delay_samples = value;
            }
        },
        spec.method);
}
std::optional<double> get_band_end(const FirSpec& spec) {
    const auto* method = method_as<FractionalDelayFir>(spec);
    return method != nullptr && method->by == FractionalDelayFir::By::least_squares
               ? std::optional(method->band_hz)
               : std::nullopt;
}
std::optional<double> get_share(const FirSpec& spec) {
    return spec.phase == FirPhase::between ? std::optional(spec.phase_share) : std::nullopt;
}

constexpr auto own_fields = std::to_array<Field>({
    {"length", "Length", "taps", Dimension::plain, 1, longest, FieldSteps::whole, get_length,
     [](FirSpec& s, double v) { s.length = static_cast<int>(std::lround(v)); }},
    {"edges_hz[0]", "Edge", "Hz", Dimension::frequency, 1e-6, 1e8, FieldSteps::by_ratio,
     get_edge<0>, set_edge<0>},
    {"edges_hz[1]", "to", "Hz", Dimension::frequency, 1e-6, 1e8, FieldSteps::by_ratio, get_edge<1>,
     set_edge<1>},
    {"window_parameter", "Window's", "", Dimension::plain, 0, 1000, FieldSteps::by_tenth,
     get_window_parameter, set_window_parameter},
    {"delay_samples", "Delay", "samples", Dimension::plain, 0, longest, FieldSteps::by_tenth,
     get_delay, set_delay},
    {"band_hz", "Right up to", "Hz", Dimension::frequency, 1e-6, 1e8, FieldSteps::by_ratio,
     get_band_end, set_member<FractionalDelayFir, &FractionalDelayFir::band_hz>},
    {"symbol_rate_hz", "Symbol rate", "Hz", Dimension::frequency, 1e-6, 1e8, FieldSteps::by_ratio,
     get_symbol_rate, set_symbol_rate},
    {"roll_off", "Roll-off", "", Dimension::plain, 0, 1, FieldSteps::by_tenth,
     get_either<&RaisedCosineFir::roll_off, &RootRaisedCosineFir::roll_off>,
     set_either<&RaisedCosineFir::roll_off, &RootRaisedCosineFir::roll_off>},
    {"bandwidth_time", "Bandwidth × time", "", Dimension::plain, 1e-3, 100, FieldSteps::by_ratio,
     get_member<GaussianPulseFir, &GaussianPulseFir::bandwidth_time>,
     set_member<GaussianPulseFir, &GaussianPulseFir::bandwidth_time>},
    {"power", "Times", "", Dimension::plain, 1, 64, FieldSteps::whole,
     get_member<MovingAverageFir, &MovingAverageFir::power>,
     set_member<MovingAverageFir, &MovingAverageFir::power>},
    {"degree", "Degree", "", Dimension::plain, 0, 64, FieldSteps::whole,
     get_member<SavitzkyGolayFir, &SavitzkyGolayFir::degree>,
     set_member<SavitzkyGolayFir, &SavitzkyGolayFir::degree>},
    {"derivative", "Derivative", "", Dimension::plain, 0, 64, FieldSteps::whole,
     get_member<SavitzkyGolayFir, &SavitzkyGolayFir::derivative>,
     set_member<SavitzkyGolayFir, &SavitzkyGolayFir::derivative>},
    {"phase_share", "Phase", "0 to 1", Dimension::plain, 0, 1, FieldSteps::by_tenth, get_share,
     [](FirSpec& s, double v) { s.phase_share = v; }},
});

std::size_t band_count(const FirSpec& spec) {
    return takes_bands(spec) && !spec.wish.use_goal ? spec.wish.bands.size() : 0;
}
template <auto member>
constexpr NumberRow<FirSpec> band_row(std::string_view key, const char* caption, const char* unit) {
    return {key,
            caption,
            unit,
            band_count,
            [](const FirSpec& s, std::size_t i) { return s.wish.bands[i].*member; },
            [](FirSpec& s, std::size_t i, double v) { s.wish.bands[i].*member = v; },
            -1e300,
            1e300,
            1};
}
constexpr std::array band_rows = {
    band_row<&FirBand::from_hz>("band_from_hz", "Start of band", "Hz"),
    band_row<&FirBand::to_hz>("band_to_hz", "End of band", "Hz"),
    band_row<&FirBand::gain>("band_gain", "Gain of band", ""),
    band_row<&FirBand::weight>("band_weight", "Weight of band", "")};

} // namespace

std::span<const NumberField<FirSpec>> fields_of(const FirSpec&) {
    static const auto all = joined_fields(own_fields, ToleranceFields<FirSpec>::all());
    return all;
}

std::span<const NumberRow<FirSpec>> rows_of(const FirSpec&) {
    return band_rows;
}

} // namespace syntonon
