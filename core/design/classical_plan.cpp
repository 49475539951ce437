// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/classical_plan.h"

#include "core/base/units.h"
#include "core/design/ripple_factor.h"
#include "core/math/false_position.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

using Family = ClassicalFamily;
using Band = ClassicalBand;
using Edges = std::array<double, 2>;

// Attenuation in dB of a prototype at x, its edge being at 1.
double attenuation_db(const Prototype& prototype, double x) {
    const std::complex<double> s(0, x);
    double log_power = 0;
    for (const auto& pole : prototype.poles) {
        log_power += std::log(std::norm(s - pole) / std::norm(pole));
    }
    for (const auto& zero : prototype.zeros) {
        log_power -= std::log(std::norm(s - zero) / std::norm(zero));
    }
    return 10 / std::log(10.0) * log_power;
}

// Where a prototype that only falls is so far down.
double place_of(const Prototype& prototype, double db) {
    double high = 1;
    while (attenuation_db(prototype, high) < db && high < 1e30) {
        high *= 2;
    }
    double low = high;
    while (attenuation_db(prototype, low) > db && low > 1e-30) {
        low /= 2;
    }
    const auto off = [&](double log_x) { return attenuation_db(prototype, std::exp(log_x)) - db; };
    return std::exp(
        false_position(off, std::log(low), std::log(high), 1e-16, 200).value_or(std::log(high)));
}

Expected<void> check_edge(const std::string& place, double hz, const Axis& axis) {
    if (!(hz > 0) || !std::isfinite(hz)) {
        return refuse(place, fmt::format("{} Hz is not above 0", hz), "give a positive frequency");
    }
    if (!axis.is_analog() && !(hz < axis.end_hz())) {
        return refuse(
            place,
            fmt::format("{} Hz is not below half the sample rate ({} Hz)", hz, axis.end_hz()),
            "choose a lower frequency or a higher sample rate");
    }
    if (!(hz <= greatest_analog_hz)) {
        return refuse(place, fmt::format("{} Hz is too high", hz), "stay below 1e9 Hz");
    }
    return {};
}

Expected<void> check_edges(std::string_view place, const Edges& hz, Band band, const Axis& axis) {
    for (std::size_t i = 0; i < (has_two_edges(band) ? 2U : 1U); ++i) {
        if (auto ok = check_edge(fmt::format("{}[{}]", place, i), hz[i], axis); !ok) {
            return ok;
        }
    }
    if (has_two_edges(band) && !(hz[0] < hz[1])) {
        return refuse(fmt::format("{}[1]", place),
                      fmt::format("{} Hz is not above the lower edge ({} Hz)", hz[1], hz[0]),
                      "put the edges in order");
    }
    return {};
}

// The stop edges stand on the passband's other side.
Expected<void> check_stop_edges(const Tolerances& t, Band band) {
    const auto& [p1, p2] = t.pass_edges_hz;
    const auto& [s1, s2] = t.stop_edges_hz;
    const auto wrong = [](std::size_t i, double stop, const char* side, double pass) {
        return refuse(fmt::format("spec.stop_edges_hz[{}]", i),
                      fmt::format("{} Hz is not {} the pass edge ({} Hz)", stop, side, pass),
                      "leave the filter some width to fall in");
    };
    switch (band) {
    case Band::low_pass:
        return s1 > p1 ? Expected<void>() : wrong(0, s1, "above", p1);
    case Band::high_pass:
        return s1 < p1 ? Expected<void>() : wrong(0, s1, "below", p1);
    case Band::band_pass:
        return !(s1 < p1)   ? wrong(0, s1, "below", p1)
               : !(s2 > p2) ? wrong(1, s2, "above", p2)
                            : Expected<void>();
    case Band::band_stop:
        return !(s1 > p1)   ? wrong(0, s1, "above", p1)
               : !(s2 < p2) ? wrong(1, s2, "below", p2)
                            : Expected<void>();
    }
    return {};
}

Expected<void> check_levels(const Tolerances& t) {
    if (t.pass_as_ratio) {
        const auto& [low, high] = t.pass_ratio;
        if (!(low > 0 && low < 1)) {
            return refuse("spec.pass_ratio[0]",
                          fmt::format("no filter with the gain 1 falls to {} at most", low),
                          "give a ratio between 0 and 1");
        }
        if (!(high >= 1) || !std::isfinite(high)) {
            return refuse("spec.pass_ratio[1]",
                          fmt::format("a filter with the gain 1 goes beyond {}", high),
                          "give 1 or more, or change the level with a gain stage");
        }
    } else if (!(t.pass_ripple_db > 0) || !std::isfinite(t.pass_ripple_db)) {
        return refuse("spec.pass_ripple_db", fmt::format("{} dB is not above 0", t.pass_ripple_db),
                      "allow some ripple: no filter is flat and falls");
    }
    if (t.stop_as_ratio ? !(t.stop_ratio > 0 && t.stop_ratio < 1)
                        : !(t.stop_attenuation_db > 0) || !std::isfinite(t.stop_attenuation_db)) {
        return t.stop_as_ratio ? refuse("spec.stop_ratio",
                                        fmt::format("{} is not between 0 and 1", t.stop_ratio),
                                        "give the greatest gain in the stopband")
                               : refuse("spec.stop_attenuation_db",
                                        fmt::format("{} dB is not above 0", t.stop_attenuation_db),
                                        "give the least attenuation in the stopband");
    }
    if (!(stop_attenuation_db_of(t) > pass_ripple_db_of(t))) {
        return refuse(t.stop_as_ratio ? "spec.stop_ratio" : "spec.stop_attenuation_db",
                      "the stopband is no lower than the passband",
                      "ask for more attenuation, or less ripple");
    }
    return {};
}

Edges analog_edges(const Edges& hz, const ClassicalSpec& spec, const Axis& axis) {
    Edges found{};
    for (std::size_t i = 0; i < (has_two_edges(spec.band) ? 2U : 1U); ++i) {
        found[i] = analog_edge_rad_per_s(hz[i], spec.mapping, axis);
    }
    return found;
}

// Where a stop edge stands in the low-pass prototype whose pass edge is at 1.
double in_prototype(double stop, const Edges& pass, Band band) {
    const double middle_squared = pass[0] * pass[1], width = pass[1] - pass[0];
    switch (band) {
    case Band::low_pass:
        return stop / pass[0];
    case Band::high_pass:
        return pass[0] / stop;
    case Band::band_pass:
        return std::abs(stop * stop - middle_squared) / (width * stop);
    case Band::band_stop:
        break;
    }
    return width * stop / std::abs(middle_squared - stop * stop);
}

// Edges of the band when the prototype's own edge is at `edge` instead of 1.
Edges widened(const Edges& pass, Band band, double edge) {
    if (band == Band::low_pass || band == Band::high_pass) {
        return {band == Band::low_pass ? pass[0] * edge : pass[0] / edge, 0};
    }
    const double width = (pass[1] - pass[0]) * (band == Band::band_pass ? edge : 1 / edge);
    const double upper = width / 2 + std::hypot(width / 2, std::sqrt(pass[0] * pass[1]));
    return {pass[0] * pass[1] / upper, upper};
}

std::optional<double> unrounded_order(Family family, const FoundOrder& f) {
    const double ratio = f.stop_ripple_factor / f.pass_ripple_factor;
    switch (family) {
    case Family::butterworth:
        return std::log(ratio) / std::log(f.stop_edge);
    case Family::chebyshev:
    case Family::inverse_chebyshev:
        return std::acosh(ratio) / std::acosh(f.stop_edge);
    case Family::elliptic:
        return period_ratio(modulus_of(1 / ratio)) / period_ratio(modulus_of(1 / f.stop_edge));
    case Family::linkwitz_riley: {
        const auto less_1 = [](double db) { return std::expm1(db / 20 * std::log(10.0)); };
        return std::log(less_1(f.stop_attenuation_db) / less_1(f.pass_ripple_db))
               / std::log(f.stop_edge);
    }
    default:
        return std::nullopt;
    }
}

tl::unexpected<Problem> beyond_most(std::string what) {
    return refuse("spec", std::move(what),
                  "widen the transition, allow more ripple, ask for less attenuation or choose a "
                  "steeper family");
}

// The least order of a family without a formula.
Expected<int> searched_order(ClassicalPlan plan, const FoundOrder& f) {
    const auto suffices = [&](int order) {
        plan.order = order;
        const auto prototype = prototype_of(plan);
        return prototype
               && place_of(*prototype, f.stop_attenuation_db)
                          / place_of(*prototype, f.pass_ripple_db)
                      <= f.stop_edge * (1 + 1e-12);
    };
    if (!suffices(most_prototype_order)) {
        return beyond_most(fmt::format("an order of {} is not enough", most_prototype_order));
    }
    int low = 0, high = most_prototype_order; // low does not suffice
    while (high - low > 1) {
        const int middle = (low + high) / 2;
        (suffices(middle) ? high : low) = middle;
    }
    return high;
}

Expected<int> rounded_order(const ClassicalPlan& plan, const FoundOrder& f) {
    if (!f.unrounded) {
        return searched_order(plan, f);
    }
    constexpr double hardly = 1e-9; // above a whole number: rounding
    if (!(*f.unrounded - hardly <= most_prototype_order)) {
        return beyond_most(fmt::format("it takes an order of {:.4g}, and {} is the most",
                                       *f.unrounded, most_prototype_order));
    }
    const int order = std::max(1, static_cast<int>(std::ceil(*f.unrounded - hardly)));
    return plan.family == Family::linkwitz_riley ? order + order % 2 : order;
}

// Spends what rounding left over: sets ripple and attenuation, and returns where the prototype's
// own edge is when the pass edge is at 1.
Expected<double> spend(Better better, const FoundOrder& f, ClassicalPlan& plan) {
    const bool holds_pass = better == Better::stop_edge || better == Better::attenuation;
    const double stop_over_pass = f.stop_ripple_factor / f.pass_ripple_factor;
    const double at_stop = std::cosh(plan.order * std::acosh(f.stop_edge)); // Chebyshev's T_n
    const double reached = std::cosh(std::acosh(stop_over_pass) / plan.order);
    plan.pass_ripple_db = f.pass_ripple_db;
    plan.stop_attenuation_db = f.stop_attenuation_db;
    switch (plan.family) {
    case Family::chebyshev:
        if (better == Better::ripple) {
            plan.pass_ripple_db = db_of_ripple_factor(f.stop_ripple_factor / at_stop);
        }
        return better == Better::pass_edge ? f.stop_edge / reached : 1;
    case Family::inverse_chebyshev:
        if (better == Better::attenuation) {
            plan.stop_attenuation_db = db_of_ripple_factor(f.pass_ripple_factor * at_stop);
        }
        return better == Better::stop_edge ? reached : f.stop_edge;
    case Family::elliptic: {
        const double least_k1 = discrimination_of(plan.order, modulus_of(1 / f.stop_edge)).k;
        if (better == Better::attenuation) {
            plan.stop_attenuation_db = db_of_ripple_factor(f.pass_ripple_factor / least_k1);
        } else if (better == Better::ripple) {
            plan.pass_ripple_db = db_of_ripple_factor(f.stop_ripple_factor * least_k1);
        }
        const double k = selectivity_of(plan.order, modulus_of(1 / stop_over_pass)).k;
        return better == Better::pass_edge ? f.stop_edge * k : 1;
    }
    default:
        break;
    }
    return prototype_of(plan).map([&](const Prototype& prototype) {
        return holds_pass ? 1 / place_of(prototype, f.pass_ripple_db)
                          : f.stop_edge / place_of(prototype, f.stop_attenuation_db);
    });
}

Expected<ClassicalPlan> plan_by_tolerances(const ClassicalSpec& spec, const Axis& axis,
                                           ClassicalPlan plan) {
    const Tolerances& t = spec.tolerances;
    for (auto ok : {check_edges("spec.pass_edges_hz", t.pass_edges_hz, spec.band, axis),
                    check_edges("spec.stop_edges_hz", t.stop_edges_hz, spec.band, axis),
                    check_stop_edges(t, spec.band), check_levels(t)}) {
        if (!ok) {
            return tl::unexpected(ok.error());
        }
    }
    FoundOrder f;
    f.pass_rad_per_s = analog_edges(t.pass_edges_hz, spec, axis);
    f.stop_rad_per_s = analog_edges(t.stop_edges_hz, spec, axis);
    f.pass_ripple_db = pass_ripple_db_of(t);
    f.stop_attenuation_db = stop_attenuation_db_of(t);
    f.pass_ripple_factor = ripple_factor_of(f.pass_ripple_db);
    f.stop_ripple_factor = ripple_factor_of(f.stop_attenuation_db);
    f.stop_edge = in_prototype(f.stop_rad_per_s[0], f.pass_rad_per_s, spec.band);
    if (has_two_edges(spec.band)) {
        const double upper = in_prototype(f.stop_rad_per_s[1], f.pass_rad_per_s, spec.band);
        f.deciding_edge = upper < f.stop_edge ? 1 : 0;
        f.stop_edge = std::min(f.stop_edge, upper);
    }
    f.unrounded = unrounded_order(spec.family, f);
    const auto order = rounded_order(plan, f);
    if (!order) {
        return tl::unexpected(order.error());
    }
    plan.order = *order;
    const auto edge = spend(spec.better, f, plan);
    if (!edge) {
        return tl::unexpected(edge.error());
    }
    plan.edges_rad_per_s = widened(f.pass_rad_per_s, spec.band, *edge);
    plan.found = f;
    return plan;
}

} // namespace

double analog_edge_rad_per_s(double hz, PlaneMapping mapping, const Axis& axis) {
    return axis.is_analog() || mapping != PlaneMapping::bilinear
               ? rad_per_s_from_hz(hz)
               : 2 * axis.sample_rate_hz * std::tan(axis.rad_per_sample(hz) / 2);
}

double edge_hz(double rad_per_s, PlaneMapping mapping, const Axis& axis) {
    return axis.is_analog() || mapping != PlaneMapping::bilinear
               ? hz_from_rad_per_s(rad_per_s)
               : axis.sample_rate_hz / pi * std::atan(rad_per_s / (2 * axis.sample_rate_hz));
}

double level_db_of(const Prototype& prototype, double rad_per_s) {
    return -attenuation_db(prototype, rad_per_s);
}

double level_at_0(const ClassicalPlan& plan) {
    return has_pass_ripple(plan.family) && plan.order % 2 == 0 ? ratio_from_db(-plan.pass_ripple_db)
                                                               : 1;
}

double level_at_edge_db(const ClassicalPlan& plan) {
    switch (plan.family) {
    case Family::chebyshev:
    case Family::elliptic:
        return -plan.pass_ripple_db;
    case Family::inverse_chebyshev:
        return -plan.stop_attenuation_db;
    case Family::linkwitz_riley:
        return db_from_ratio(0.5);
    default:
        return db_from_power(0.5);
    }
}

Expected<Prototype> prototype_of(const ClassicalPlan& plan) {
    switch (plan.family) {
    case Family::butterworth:
        return butterworth_prototype(plan.order);
    case Family::chebyshev:
        return chebyshev_prototype(plan.order, plan.pass_ripple_db);
    case Family::inverse_chebyshev:
        return inverse_chebyshev_prototype(plan.order, plan.stop_attenuation_db);
    case Family::elliptic:
        return elliptic_prototype(plan.order, plan.pass_ripple_db, plan.stop_attenuation_db);
    case Family::bessel:
        return bessel_prototype(plan.order, plan.normalised_to);
    case Family::legendre:
        return legendre_prototype(plan.order);
    case Family::gaussian:
        return gaussian_prototype(plan.order);
    case Family::linkwitz_riley:
        return linkwitz_riley_prototype(plan.order);
    case Family::synchronous:
        break;
    }
    return synchronous_prototype(plan.order);
}

Expected<ClassicalPlan> plan_of(const ClassicalSpec& spec, const Axis& axis) {
    if (spec.family == Family::linkwitz_riley && has_two_edges(spec.band)) {
        return refuse("band", "a Linkwitz-Riley filter is a low-pass or a high-pass",
                      "choose one of them, or another family");
    }
    ClassicalPlan plan{spec.family, spec.band, 0, 0, 0, spec.normalised_to, {}, {}};
    if (spec.by_tolerances) {
        return plan_by_tolerances(spec, axis, plan);
    }
    if (auto ok = check_edges("edges_hz", spec.edges_hz, spec.band, axis); !ok) {
        return tl::unexpected(ok.error());
    }
    plan.order = spec.order;
    plan.pass_ripple_db = has_pass_ripple(spec.family) ? spec.pass_ripple_db : 0;
    plan.stop_attenuation_db = has_stop_attenuation(spec.family) ? spec.stop_attenuation_db : 0;
    plan.edges_rad_per_s = analog_edges(spec.edges_hz, spec, axis);
    return plan;
}

} // namespace syntonon
