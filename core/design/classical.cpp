// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/classical.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/design/classical_plan.h"
#include "core/design/classical_working.h"
#include "core/design/impulse_invariance.h"
#include "core/design/mapped_roots.h"
#include "core/design/tolerance_fields.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

using Spec = ClassicalSpec;
using Family = ClassicalFamily;
using Band = ClassicalBand;

constexpr std::array families = std::to_array<NamedValue<Family>>({
    {Family::butterworth, "butterworth", "Butterworth"},
    {Family::chebyshev, "chebyshev", "Chebyshev"},
    {Family::inverse_chebyshev, "inverse_chebyshev", "Inverse Chebyshev"},
    {Family::elliptic, "elliptic", "Elliptic"},
    {Family::bessel, "bessel", "Bessel"},
    {Family::legendre, "legendre", "Legendre"},
    {Family::gaussian, "gaussian", "Gaussian"},
    {Family::linkwitz_riley, "linkwitz_riley", "Linkwitz-Riley"},
    {Family::synchronous, "synchronous", "Synchronous"},
});
constexpr std::array mappings = std::to_array<NamedValue<PlaneMapping>>({
    {PlaneMapping::bilinear, "bilinear", "Bilinear"},
    {PlaneMapping::impulse_invariant, "impulse_invariant", "Impulse invariant"},
    {PlaneMapping::matched, "matched", "Matched z"},
});
constexpr std::array betters = std::to_array<NamedValue<Better>>({
    {Better::pass_edge, "pass_edge", "Pass edge"},
    {Better::stop_edge, "stop_edge", "Stop edge"},
    {Better::ripple, "ripple", "Ripple"},
    {Better::attenuation, "attenuation", "Attenuation"},
});

constexpr std::array bessel_edges = std::to_array<NamedValue<BesselEdge>>({
    {BesselEdge::level, "level", "Half power"},
    {BesselEdge::delay, "delay", "Delay"},
});
constexpr std::array pairings = std::to_array<NamedValue<SectionPairing>>({
    {SectionPairing::nearest, "nearest", "Nearest zeros"},
    {SectionPairing::as_designed, "as_designed", "As designed"},
});
constexpr std::array section_orders = std::to_array<NamedValue<SectionOrder>>({
    {SectionOrder::q_ascending, "q_ascending", "Ascending Q"},
    {SectionOrder::q_descending, "q_descending", "Descending Q"},
    {SectionOrder::least_peak, "least_peak", "Least peak level"},
});
constexpr std::array section_gains = std::to_array<NamedValue<SectionGain>>({
    {SectionGain::unity, "unity", "Unity in the passband"},
    {SectionGain::equal_peaks, "equal_peaks", "Equal peaks"},
});

using Get = std::optional<double> (*)(const Spec&);
using Set = void (*)(Spec&, double);
constexpr double greatest_db = 1000;

constexpr NumberField<Spec> edge(std::string_view key, const char* caption, Get get, Set set) {
    return {
        key, caption, "Hz", Dimension::frequency, 1e-6, greatest_analog_hz, FieldSteps::by_ratio,
        get, set};
}
constexpr NumberField<Spec> decibels(std::string_view key, const char* caption, Get get, Set set) {
    return {key, caption, "dB",
            // Neither 0 nor less, but that is for the designer to say.
            Dimension::level, 0, greatest_db, FieldSteps::by_tenth, get, set};
}
std::optional<double> only_if(bool applies, double value) {
    return applies ? std::optional(value) : std::nullopt;
}

const std::array classical_fields = joined_fields(
    std::to_array<NumberField<Spec>>({
        {"order", "Order", "", Dimension::plain, 1, most_prototype_order, FieldSteps::whole,
         [](const Spec& s) { return only_if(!s.by_tolerances, s.order); },
         [](Spec& s, double v) { s.order = static_cast<int>(std::lround(v)); }},
        edge(
            "edges_hz[0]", "Edge",
            [](const Spec& s) { return only_if(!s.by_tolerances, s.edges_hz[0]); },
            [](Spec& s, double v) { s.edges_hz[0] = v; }),
        edge(
            "edges_hz[1]", "to",
            [](const Spec& s) {
                return only_if(!s.by_tolerances && has_two_edges(s.band), s.edges_hz[1]);
            },
            [](Spec& s, double v) { s.edges_hz[1] = v; }),
        decibels(
            "pass_ripple_db", "Ripple",
            [](const Spec& s) {
                return only_if(!s.by_tolerances && has_pass_ripple(s.family), s.pass_ripple_db);
            },
            [](Spec& s, double v) { s.pass_ripple_db = v; }),
        decibels(
            "stop_attenuation_db", "Attenuation",
            [](const Spec& s) {
                return only_if(!s.by_tolerances && has_stop_attenuation(s.family),
                               s.stop_attenuation_db);
            },
            [](Spec& s, double v) { s.stop_attenuation_db = v; }),
    }),
    ToleranceFields<Spec>::all());

SectionDrafts drafts_of(const Spec& spec, const ClassicalPlan& plan, const BandRoots& roots,
                        const Axis& axis) {
    const SectionPairing pairing = spec.sections.pairing;
    if (axis.is_analog()) {
        return analog_drafts(roots, plan.band, pairing);
    }
    switch (spec.mapping) {
    case PlaneMapping::impulse_invariant:
        return impulse_invariant_drafts(roots, plan.band, pairing, axis.sample_rate_hz);
    case PlaneMapping::matched:
        return matched_drafts(roots, plan.band, pairing, axis.sample_rate_hz);
    case PlaneMapping::bilinear:
        break;
    }
    return bilinear_drafts(roots, plan.band, pairing, axis.sample_rate_hz);
}

Expected<void> check_mapping(const Spec& spec, const Axis& axis) {
    const bool passes_half_rate = spec.band == Band::high_pass || spec.band == Band::band_stop;
    if (!axis.is_analog() && spec.mapping == PlaneMapping::impulse_invariant && passes_half_rate) {
        return refuse(
            "mapping",
            fmt::format("a {} passes all frequencies without end, and sampling its impulse "
                        "response would fold them all into one",
                        title_of(spec.band)),
            "use bilinear or matched");
    }
    return {};
}

bool is_exact_at_edges(const Spec& spec, const Axis& axis) {
    return axis.is_analog() || spec.mapping == PlaneMapping::bilinear;
}

std::vector<std::complex<double>> edges_in_z(const ClassicalPlan& plan, const Axis& axis) {
    std::vector<std::complex<double>> places;
    for (std::size_t i = 0; i < (has_two_edges(plan.band) ? 2U : 1U); ++i) {
        const double half_angle = std::atan(plan.edges_rad_per_s[i] / (2 * axis.sample_rate_hz));
        places.push_back(std::polar(1.0, 2 * half_angle));
    }
    return places;
}

// How far the coefficients, rounded to doubles, are from the edge that was asked for.
double miss_db(const Spec& spec, const ClassicalPlan& plan, const Prototype& prototype,
               const Filter& filter, const Axis& axis) {
    const double wanted =
        plan.family == Family::bessel ? level_db_of(prototype, 1) : level_at_edge_db(plan);
    double most = 0;
    for (std::size_t i = 0; i < (has_two_edges(plan.band) ? 2U : 1U); ++i) {
        const double hz = spec.by_tolerances ? edge_hz(plan.edges_rad_per_s[i], spec.mapping, axis)
                                             : spec.edges_hz[i];
        most = std::max(most, std::abs(filter.response_at(hz, axis).magnitude_db - wanted));
    }
    return most;
}

tl::unexpected<Problem> cannot_be_held(const Spec& spec, const std::string& how_far) {
    return refuse(spec.by_tolerances ? "spec" : "order",
                  "coefficients in double precision cannot hold this filter: " + how_far,
                  "choose a lower order, more ripple, a wider band, or edges further from 0 Hz and "
                  "from half the sample rate");
}

std::string note_of(double miss) {
    constexpr double worth_saying_db = 1e-6;
    return miss > worth_saying_db ? fmt::format("edge missed by {:.1g} dB", miss) : "";
}

} // namespace

bool has_pass_ripple(Family family) {
    return family == Family::chebyshev || family == Family::elliptic;
}

bool has_stop_attenuation(Family family) {
    return family == Family::inverse_chebyshev || family == Family::elliptic;
}

bool is_quick(const Spec& spec) {
    constexpr int quick_order = 8;
    const int order = has_two_edges(spec.band) ? 2 * spec.order : spec.order;
    return spec.mapping != PlaneMapping::impulse_invariant
           || (!spec.by_tolerances && order <= quick_order);
}

std::span<const NumberField<Spec>> fields_of(const Spec&) {
    return classical_fields;
}

std::vector<std::string_view> fields_moving_roots(const Spec& spec, bool poles) {
    if (spec.by_tolerances || (!poles && !has_stop_attenuation(spec.family))) {
        return {};
    }
    std::vector<std::string_view> keys{"edges_hz[0]"};
    if (has_two_edges(spec.band)) {
        keys.emplace_back("edges_hz[1]");
    }
    return keys;
}

Expected<Design> design(const Spec& spec, const Brief& brief, const Watch&) {
    const Axis axis = brief.axis();
    if (auto ok = check_mapping(spec, axis); !ok) {
        return tl::unexpected(ok.error());
    }
    const auto plan = plan_of(spec, axis);
    if (!plan) {
        return tl::unexpected(plan.error());
    }
    const auto prototype = prototype_of(*plan);
    if (!prototype) {
        return tl::unexpected(prototype.error());
    }
    const BandRoots roots =
        band_roots(*prototype, plan->band, plan->edges_rad_per_s, level_at_0(*plan));
    if (!axis.is_analog() && spec.mapping == PlaneMapping::impulse_invariant
        && roots.zeros_at_infinity == 0) {
        return refuse("mapping",
                      fmt::format("an even order of {} lets a rest of all frequencies through, so "
                                  "its impulse response holds an impulse that cannot be sampled",
                                  title_of(spec.family)),
                      "use bilinear or matched, or an odd order");
    }
    SectionDrafts drafts = drafts_of(spec, *plan, roots, axis);
    if (auto ok = check_drafts(drafts.drafts, axis); !ok) {
        return cannot_be_held(spec, ok.error().reason);
    }
    if (is_exact_at_edges(spec, axis)) {
        drafts.reference.edges = edges_in_z(*plan, axis);
    }
    SectionsMade made =
        sections_of(std::move(drafts.drafts), spec.sections, drafts.reference, axis);
    double miss = 0;
    if (is_exact_at_edges(spec, axis)) {
        miss = miss_db(spec, *plan, *prototype, made.filter, axis);
        if (!(miss <= greatest_miss_db)) {
            return cannot_be_held(spec, std::isfinite(miss)
                                            ? fmt::format("it misses its edge by {:.2g} dB", miss)
                                            : std::string("it has no level at its edge"));
        }
    }
    return Design{made.filter,
                  [spec, axis, plan = *plan, prototype = *prototype, made] {
                      return classical_working({spec, axis, plan, prototype, made});
                  },
                  note_of(miss)};
}

std::span<const NamedValue<Family>> names_of_families() {
    return families;
}
std::span<const NamedValue<PlaneMapping>> names_of_mappings() {
    return mappings;
}
std::span<const NamedValue<Better>> names_of_betters() {
    return betters;
}

std::span<const NamedValue<BesselEdge>> names_of_bessel_edges() {
    return bessel_edges;
}
std::span<const NamedValue<SectionPairing>> names_of_pairings() {
    return pairings;
}
std::span<const NamedValue<SectionOrder>> names_of_section_orders() {
    return section_orders;
}
std::span<const NamedValue<SectionGain>> names_of_section_gains() {
    return section_gains;
}

std::string_view title_of(Family family) {
    return named<Family>(families, family).title;
}

std::string title_of(const Spec& spec) {
    return fmt::format("{} {}", title_of(spec.family), title_of(spec.band));
}

std::string summary_of(const Spec& spec) {
    const auto& edges = spec.by_tolerances ? spec.tolerances.pass_edges_hz : spec.edges_hz;
    return (has_two_edges(spec.band) ? frequency_range_text(edges[0], edges[1], 4)
                                     : frequency_text(edges[0], 4))
           + (spec.by_tolerances
                  ? fmt::format(", {:.3g} dB down", stop_attenuation_db_of(spec.tolerances))
                  : fmt::format(", order {}", spec.order));
}

std::string spoken_name_of(const Spec& spec) {
    const auto& edges = spec.by_tolerances ? spec.tolerances.pass_edges_hz : spec.edges_hz;
    return title_of(spec) + " " + frequency_text(edges[0], 4);
}

} // namespace syntonon
