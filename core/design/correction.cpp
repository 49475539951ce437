// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/correction.h"

#include "core/base/number_text.h"
#include "core/design/weight_curve.h"
#include "core/filter/biquad.h"
#include "core/filter/form.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <iterator>

namespace syntonon {
namespace {

constexpr std::array correction_methods = std::to_array<NamedValue<std::size_t>>({
    {0, "sections", "Sections"},
    {1, "taps", "Taps"},
});
constexpr std::array correction_phases = std::to_array<NamedValue<TapsCorrection::Phase>>({
    {TapsCorrection::Phase::minimum, "minimum", "Minimum phase"},
    {TapsCorrection::Phase::linear, "linear", "Linear phase"},
    {TapsCorrection::Phase::mixed, "mixed", "Mixed phase"},
});
constexpr std::array correction_overs = std::to_array<NamedValue<CorrectionOver>>({
    {CorrectionOver::average, "average", "their average"},
    {CorrectionOver::worst_position, "worst_position", "the worst position"},
});
constexpr std::array correction_matches = std::to_array<NamedValue<CorrectionMatch>>({
    {CorrectionMatch::magnitude, "magnitude", "Level"},
    {CorrectionMatch::complex, "complex", "Level and phase"},
    {CorrectionMatch::delay, "delay", "Level and group delay"},
});

using CorrectionField = NumberField<CorrectionSpec>;

template <auto member>
constexpr CorrectionField common(std::string_view key, const char* caption, const char* unit,
                                 Dimension dimension, double least, double most, FieldSteps steps) {
    return {key,
            caption,
            unit,
            dimension,
            least,
            most,
            steps,
            [](const CorrectionSpec& s) { return std::optional<double>(s.*member); },
            [](CorrectionSpec& s, double v) { s.*member = v; }};
}

template <class Method, auto member>
std::optional<double> get_of_method(const CorrectionSpec& spec) {
    const auto* method = std::get_if<Method>(&spec.method);
    return method != nullptr ? std::optional<double>(method->*member) : std::nullopt;
}

template <class Method, auto member>
void set_of_method(CorrectionSpec& spec, double value) {
    if (auto* method = std::get_if<Method>(&spec.method)) {
        using Number = std::remove_reference_t<decltype(method->*member)>;
        if constexpr (std::is_same_v<Number, int>) {
            method->*member = static_cast<int>(std::lround(value));
        } else {
            method->*member = value;
        }
    }
}

template <class Method, auto member>
constexpr CorrectionField of_method(std::string_view key, const char* caption, const char* unit,
                                    Dimension dimension, double least, double most,
                                    FieldSteps steps) {
    return {key,
            caption,
            unit,
            dimension,
            least,
            most,
            steps,
            get_of_method<Method, member>,
            set_of_method<Method, member>};
}

constexpr double most_limit_db = 60;
constexpr int most_sections = 128, shortest_taps = 64, longest_taps = 1 << 18;

// The plainest ones, not that of all-passes and those of pre-ringing, only where they count.
std::optional<double> get_pre_ringing(const CorrectionSpec& spec, double TapsCorrection::*member) {
    const auto* taps = std::get_if<TapsCorrection>(&spec.method);
    return taps != nullptr && taps->phase == TapsCorrection::Phase::mixed
               ? std::optional(taps->*member)
               : std::nullopt;
}

constexpr std::array correction_fields = std::to_array<CorrectionField>({
    common<&CorrectionSpec::from_hz>("from_hz", "From", "Hz", Dimension::frequency, 1, 1e6,
                                     FieldSteps::by_ratio),
    common<&CorrectionSpec::to_hz>("to_hz", "to", "Hz", Dimension::frequency, 1, 1e6,
                                   FieldSteps::by_ratio),
    common<&CorrectionSpec::boost_limit_db>("boost_limit_db", "Boost up to", "dB", Dimension::level,
                                            0, most_limit_db, FieldSteps::by_tenth),
    common<&CorrectionSpec::cut_limit_db>("cut_limit_db", "Cut up to", "dB", Dimension::level, 0,
                                          most_limit_db, FieldSteps::by_tenth),
    common<&CorrectionSpec::smoothing_oct>("smoothing_oct", "Smoothing", "oct", Dimension::plain, 0,
                                           2, FieldSteps::by_tenth),
    common<&CorrectionSpec::spread_db>("spread_db", "Spread", "dB", Dimension::level, 0,
                                       most_limit_db, FieldSteps::by_tenth),
    common<&CorrectionSpec::dip_db>("dip_db", "Dips", "dB", Dimension::level, 0, most_limit_db,
                                    FieldSteps::by_tenth),
    of_method<SectionsCorrection, &SectionsCorrection::count>(
        "count", "Sections", "", Dimension::plain, 1, most_sections, FieldSteps::whole),
    {"tolerance_db", "Tolerance", "dB", Dimension::level, 0.01, most_limit_db, FieldSteps::by_tenth,
     [](const CorrectionSpec& s) {
         const auto* sections = std::get_if<SectionsCorrection>(&s.method);
         return sections != nullptr ? sections->tolerance_db : std::nullopt;
     },
     [](CorrectionSpec& s, double v) {
         if (auto* sections = std::get_if<SectionsCorrection>(&s.method)) {
             sections->tolerance_db = v;
         }
     }},
    of_method<SectionsCorrection, &SectionsCorrection::section_boost_limit_db>(
        "section_boost_limit_db", "Section to", "dB", Dimension::level, 0, most_limit_db,
        FieldSteps::by_tenth),
    of_method<SectionsCorrection, &SectionsCorrection::section_cut_limit_db>(
        "section_cut_limit_db", "down to", "dB", Dimension::level, 0, most_limit_db,
        FieldSteps::by_tenth),
    of_method<SectionsCorrection, &SectionsCorrection::greatest_q>(
        "greatest_q", "Greatest Q", "", Dimension::plain, 0.3, 100, FieldSteps::by_ratio),
    of_method<SectionsCorrection, &SectionsCorrection::gain_step_db>(
        "gain_step_db", "Gain steps", "dB", Dimension::level, 0, 6, FieldSteps::by_tenth),
    of_method<SectionsCorrection, &SectionsCorrection::frequency_steps_oct>(
        "frequency_steps_oct", "Frequencies", "an octave", Dimension::plain, 0, 1000,
        FieldSteps::whole),
    {"all_passes", "All-passes", "", Dimension::plain, 0, 32, FieldSteps::whole,
     [](const CorrectionSpec& s) {
         return minds_timing(s)
                    ? get_of_method<SectionsCorrection, &SectionsCorrection::all_passes>(s)
                    : std::nullopt;
     },
     set_of_method<SectionsCorrection, &SectionsCorrection::all_passes>},
    of_method<TapsCorrection, &TapsCorrection::length>("length", "Length", "taps", Dimension::plain,
                                                       shortest_taps, longest_taps,
                                                       FieldSteps::whole),
    {"delay_samples", "Delay", "samples", Dimension::plain, 0, longest_taps, FieldSteps::whole,
     [](const CorrectionSpec& s) {
         const auto* taps = std::get_if<TapsCorrection>(&s.method);
         return taps != nullptr && taps->delay_samples ? std::optional<double>(*taps->delay_samples)
                                                       : std::nullopt;
     },
     [](CorrectionSpec& s, double v) {
         if (auto* taps = std::get_if<TapsCorrection>(&s.method)) {
             taps->delay_samples = static_cast<int>(std::lround(v));
         }
     }},
    {"window_parameter", "Window's", "", Dimension::plain, 0, 1000, FieldSteps::by_tenth,
     [](const CorrectionSpec& s) {
         const auto* taps = std::get_if<TapsCorrection>(&s.method);
         return taps != nullptr && !parameter_of(taps->window.shape).name.empty()
                    ? std::optional(taps->window.parameter)
                    : std::nullopt;
     },
     [](CorrectionSpec& s, double v) {
         if (auto* taps = std::get_if<TapsCorrection>(&s.method)) {
             taps->window.parameter = v;
         }
     }},
    {"pre_ringing_db", "Pre-ringing below", "dB", Dimension::level, -200, 0, FieldSteps::by_one,
     [](const CorrectionSpec& s) { return get_pre_ringing(s, &TapsCorrection::pre_ringing_db); },
     set_of_method<TapsCorrection, &TapsCorrection::pre_ringing_db>},
    {"pre_ringing_ms", "earlier than", "ms", Dimension::plain, 0, 1000, FieldSteps::by_tenth,
     [](const CorrectionSpec& s) { return get_pre_ringing(s, &TapsCorrection::pre_ringing_ms); },
     set_of_method<TapsCorrection, &TapsCorrection::pre_ringing_ms>},
});

// Of the found sections, one number each.
std::size_t count_found(const CorrectionSpec& spec) {
    const auto* sections = std::get_if<SectionsCorrection>(&spec.method);
    return sections != nullptr ? sections->found.size() : 0;
}
ParametricSpec& found_at(CorrectionSpec& spec, std::size_t i) {
    return std::get<SectionsCorrection>(spec.method).found[i].section;
}
const ParametricSpec& found_at(const CorrectionSpec& spec, std::size_t i) {
    return std::get<SectionsCorrection>(spec.method).found[i].section;
}
template <auto member>
constexpr NumberRow<CorrectionSpec> found_row(std::string_view key, const char* caption,
                                              const char* unit, double least, double most) {
    return {key,
            caption,
            unit,
            count_found,
            [](const CorrectionSpec& s, std::size_t i) { return found_at(s, i).*member; },
            [](CorrectionSpec& s, std::size_t i, double v) { found_at(s, i).*member = v; },
            least,
            most,
            1};
}
constexpr std::array found_rows = {
    found_row<&ParametricSpec::frequency_hz>("section_frequency_hz", "Frequency of section", "Hz",
                                             least_frequency_hz, 1e6),
    found_row<&ParametricSpec::gain_db>("section_gain_db", "Gain of section", "dB",
                                        -greatest_gain_db, greatest_gain_db),
    NumberRow<CorrectionSpec>{
        "section_q", "Width of section", "", count_found,
        [](const CorrectionSpec& s, std::size_t i) { return found_at(s, i).width.value; },
        [](CorrectionSpec& s, std::size_t i, double v) { found_at(s, i).width.value = v; }, least_q,
        greatest_q, 1}};

Working working_of_sections(const SectionsCorrection& method) {
    Working shown{"What the fit found, one after the other", {}};
    for (std::size_t i = 0; i < method.found.size(); ++i) {
        const ParametricSpec& section = method.found[i].section;
        WorkingStep step{fmt::format("Section {}: {}{}", i + 1, title_of(section),
                                     method.found[i].locked ? ", locked" : ""),
                         {{"f0", "frequency", section.frequency_hz, "Hz"},
                          {"G", "gain", section.gain_db, "dB"}}};
        step.numbers.push_back({"", "width as stated", section.width.value, ""});
        shown.steps.push_back(std::move(step));
        shown.marked_hz.push_back(section.frequency_hz);
    }
    if (shown.steps.empty()) {
        shown.steps.push_back({"Nothing yet", {{"", "sections found", 0, ""}}});
    }
    return shown;
}

Expected<Design> design_found(const SectionsCorrection& method, const Brief& brief) {
    Cascade all;
    for (std::size_t i = 0; i < method.found.size(); ++i) {
        const auto section = parametric_filter(method.found[i].section, brief.axis());
        if (!section) {
            return tl::unexpected(within(fmt::format("sections[{}]", i), section.error()));
        }
        const auto parts = section->sections();
        if (!parts) {
            return tl::unexpected(within(fmt::format("sections[{}]", i), parts.error()));
        }
        all.sections.insert(all.sections.end(), parts->sections.begin(), parts->sections.end());
    }
    Filter filter = all.sections.empty() ? Filter() : Filter(std::move(all));
    return Design{std::move(filter), [method] { return working_of_sections(method); }};
}

Working working_of_taps(const TapsCorrection& method) {
    const double count = method.found != nullptr ? static_cast<double>(method.found->size()) : 0;
    WorkingStep step{"Taps", {{"N", "as many", count, "taps"}}};
    if (count > 0) {
        step.numbers.push_back(
            {"", "the sound stands at", static_cast<double>(method.sound_at_samples), "samples"});
    }
    if (method.phase == TapsCorrection::Phase::mixed && count > 0) {
        step.numbers.push_back({"f", "timing corrected up to", method.timing_up_to_hz, "Hz"});
        step.numbers.push_back(
            {"", "pre-ringing of the worst position", method.worst_pre_ringing_db, "dB"});
    }
    return {"What the fit found", {step}};
}

Expected<Design> design_found(const TapsCorrection& method, const Brief&) {
    return Design{method.found != nullptr ? Filter(Taps(method.found)) : Filter(),
                  [method] { return working_of_taps(method); }};
}

tl::unexpected<Problem> contradicts(const char* place, std::string reason, const char* way_out) {
    return refuse(place, std::move(reason), way_out);
}

// Points of a limit by frequency.
template <class Limit>
Expected<void> check_points(const std::vector<Limit>& limits, double Limit::*value,
                            std::string_view list, std::string_view key, double least,
                            double most) {
    for (std::size_t i = 0; i < limits.size(); ++i) {
        const double before = i > 0 ? limits[i - 1].frequency_hz : 0;
        if (!(limits[i].frequency_hz > before)) {
            return refuse(
                fmt::format("{}[{}].frequency_hz", list, i),
                fmt::format("{} Hz does not follow {} Hz", limits[i].frequency_hz, before),
                "sort the points by frequency and give each once");
        }
        if (!(limits[i].*value >= least && limits[i].*value <= most)) {
            return refuse(fmt::format("{}[{}].{}", list, i, key),
                          fmt::format("{} is out of range", limits[i].*value),
                          fmt::format("stay between {} and {}", least, most));
        }
    }
    return {};
}

Expected<void> check_limits(const SectionsCorrection& method) {
    if (method.section_boost_limit_db == 0 && method.section_cut_limit_db == 0) {
        return contradicts("section_boost_limit_db",
                           "no section may boost, and none may cut: none is left",
                           "raise it or section_cut_limit_db");
    }
    return check_points(method.q_limits, &QLimit::q, "q_limits", "q", 0.3, 100);
}
Expected<void> check_limits(const TapsCorrection& method) {
    if (method.delay_samples && *method.delay_samples >= method.length) {
        return refuse("delay_samples",
                      fmt::format("the sound cannot stand at tap {} of {}", *method.delay_samples,
                                  method.length),
                      "ask for less, or for more taps");
    }
    return check(method.window);
}

} // namespace

bool TapsCorrection::operator==(const TapsCorrection& other) const {
    const bool same_taps =
        found == other.found
        || (found != nullptr && other.found != nullptr && *found == *other.found);
    return same_taps && length == other.length && phase == other.phase
           && delay_samples == other.delay_samples && window == other.window
           && sound_at_samples == other.sound_at_samples && pre_ringing_db == other.pre_ringing_db
           && pre_ringing_ms == other.pre_ringing_ms && timing_up_to_hz == other.timing_up_to_hz
           && worst_pre_ringing_db == other.worst_pre_ringing_db;
}

std::span<const NamedValue<std::size_t>> names_of_correction_methods() {
    return correction_methods;
}
std::span<const NamedValue<TapsCorrection::Phase>> names_of_correction_phases() {
    return correction_phases;
}
std::span<const NamedValue<CorrectionOver>> names_of_correction_overs() {
    return correction_overs;
}

double boost_limit_at(const CorrectionSpec& spec, double hz) {
    const auto& limits = spec.boost_limits;
    if (limits.empty()) {
        return spec.boost_limit_db;
    }
    const auto above = std::ranges::upper_bound(limits, hz, {}, &BoostLimit::frequency_hz);
    if (above == limits.begin() || above == limits.end()) {
        return above == limits.begin() ? limits.front().boost_db : limits.back().boost_db;
    }
    const BoostLimit& below = *std::prev(above);
    return std::lerp(below.boost_db, above->boost_db,
                     std::log(hz / below.frequency_hz)
                         / std::log(above->frequency_hz / below.frequency_hz));
}

std::span<const NamedValue<CorrectionMatch>> names_of_correction_matches() {
    return correction_matches;
}

bool minds_timing(const CorrectionSpec& spec) {
    const auto* sections = std::get_if<SectionsCorrection>(&spec.method);
    return sections != nullptr && sections->match != CorrectionMatch::magnitude;
}

double q_limit_at(const SectionsCorrection& method, double hz) {
    if (method.q_limits.empty()) {
        return method.greatest_q;
    }
    WeightCurve curve;
    for (const QLimit& limit : method.q_limits) {
        curve.push_back({limit.frequency_hz, limit.q, {}});
    }
    return weight_at(curve, hz);
}

std::size_t found_count(const CorrectionSpec& spec) {
    const auto* taps = std::get_if<TapsCorrection>(&spec.method);
    return taps == nullptr ? count_found(spec) : taps->found != nullptr ? taps->found->size() : 0;
}

bool is_fitted(const CorrectionSpec& spec) {
    return !spec.fitted_to.empty();
}

Expected<void> check_settings(const CorrectionSpec& spec) {
    if (auto ok = check_fields(spec); !ok) {
        return ok;
    }
    if (!(spec.from_hz < spec.to_hz)) {
        return contradicts(
            "to_hz", fmt::format("{} Hz is not above from_hz, {} Hz", spec.to_hz, spec.from_hz),
            "raise it or lower from_hz");
    }
    if (auto ok = check_points(spec.boost_limits, &BoostLimit::boost_db, "boost_limits", "boost_db",
                               0, most_limit_db);
        !ok) {
        return ok;
    }
    if (spec.boost_limit_db == 0 && spec.boost_limits.empty() && spec.cut_limit_db == 0) {
        return contradicts("boost_limit_db", "neither boost nor cut is allowed: nothing is left",
                           "raise it or cut_limit_db");
    }
    return std::visit([](const auto& method) { return check_limits(method); }, spec.method);
}

Expected<Design> design(const CorrectionSpec& spec, const Brief& brief, const Watch&) {
    if (auto ok = check_sampled(brief, "a correction is made of samples' sections or taps"); !ok) {
        return tl::unexpected(ok.error());
    }
    if (auto ok = check_fields(spec); !ok) {
        return tl::unexpected(ok.error());
    }
    return std::visit([&](const auto& method) { return design_found(method, brief); }, spec.method);
}

std::span<const NumberField<CorrectionSpec>> fields_of(const CorrectionSpec&) {
    return correction_fields;
}

std::span<const NumberRow<CorrectionSpec>> rows_of(const CorrectionSpec&) {
    return found_rows;
}

std::string title_of(const CorrectionSpec&) {
    return "Correction";
}

std::string summary_of(const CorrectionSpec& spec) {
    const std::size_t count = found_count(spec);
    const char* what = spec.method.index() == 0 ? (count == 1 ? "section" : "sections") : "taps";
    return count == 0 ? "not fitted" : fmt::format("{} {}", count, what);
}

std::string spoken_name_of(const CorrectionSpec& spec) {
    return "Correction " + frequency_text(spec.from_hz) + "–" + frequency_text(spec.to_hz);
}

} // namespace syntonon
