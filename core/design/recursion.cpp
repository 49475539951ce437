// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/recursion.h"

#include "core/base/number_text.h"
#include "core/filter/form.h"
#include "core/math/polynomial_zeros.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

constexpr double worth_saying = 1e-10;

template <bool (*has)(RecursionForm), auto member>
std::optional<double> start_number(const RecursionSpec& spec) {
    return spec.start && has(spec.start->form) ? std::optional<double>(*spec.start.*member)
                                               : std::nullopt;
}

template <auto member>
void set_start_number(RecursionSpec& spec, double value) {
    if (spec.start) {
        *spec.start.*member = value;
    }
}

constexpr std::array start_fields =
    std::to_array<NumberField<RecursionSpec>>(
        {
            {"start.frequency_hz", "Frequency", "Hz", Dimension::frequency, 0.001, 1e8,
             FieldSteps::by_ratio, start_number<has_frequency, &RecursionStart::frequency_hz>,
             set_start_number<&RecursionStart::frequency_hz>},
            {"start.bandwidth_hz", "Bandwidth", "Hz", Dimension::frequency, 1e-6, 1e8,
             FieldSteps::by_ratio, start_number<has_bandwidth, &RecursionStart::bandwidth_hz>,
             set_start_number<&RecursionStart::bandwidth_hz>},
            {"start.time_constant_ms", "Time constant", "ms", Dimension::time, 1e-4, 1e7,
             FieldSteps::by_ratio,
             start_number<has_time_constant, &RecursionStart::time_constant_ms>,
             set_start_number<&RecursionStart::time_constant_ms>},
            {"start.leak", "Leak a sample", "", Dimension::plain, 1e-9, 1, FieldSteps::by_ratio,
             start_number<has_leak, &RecursionStart::leak>,
             set_start_number<&RecursionStart::leak>},
            {"start.length", "Length", "samples", Dimension::plain, 1, most_length,
             FieldSteps::whole, start_number<has_length, &RecursionStart::length>,
             [](RecursionSpec& spec, double value) {
                 if (spec.start) {
                     spec.start->length = static_cast<int>(std::lround(value));
                 }
             }},
        });

template <auto member>
constexpr NumberRow<RecursionSpec> row_of(std::string_view key, const char* caption) {
    return {key,
            caption,
            "",
            [](const RecursionSpec& s) { return s.start ? 0 : (s.*member).size(); },
            [](const RecursionSpec& s, std::size_t i) { return (s.*member)[i]; },
            [](RecursionSpec& s, std::size_t i, double v) { (s.*member)[i] = v; }};
}

constexpr std::array coefficient_rows = {row_of<&RecursionSpec::b>("b", "b"),
                                         row_of<&RecursionSpec::a>("a", "a")};

Expected<void> check_row(const char* name, const std::vector<double>& row) {
    constexpr std::size_t most = most_recursion_order + 1;
    if (row.empty() || row.size() > most) {
        return refuse(
            name,
            row.empty() ? "has no coefficients"
                        : fmt::format("has {} coefficients: order {}", row.size(), row.size() - 1),
            fmt::format("give 1 to {}", most));
    }
    const auto odd = std::ranges::find_if_not(row, [](double v) { return std::isfinite(v); });
    if (odd != row.end()) {
        return refuse(fmt::format("{}[{}]", name, odd - row.begin()), "is not a finite number",
                      "give a number");
    }
    return {};
}

Expected<void> check(const Coefficients& c) {
    for (auto ok : {check_row("b", c.numerator), check_row("a", c.denominator)}) {
        if (!ok) {
            return ok;
        }
    }
    if (c.denominator[0] == 0) {
        const bool all = std::ranges::all_of(c.denominator, [](double v) { return v == 0; });
        return refuse("a[0]", "is 0: y[n] itself would not be in the equation",
                      all ? "give a[0], mostly 1" : "leave the leading zeros of a out");
    }
    // Squares of what they are times a[0] must be numbers, and not all nothing.
    constexpr double most_times = 1e150, least_times = 1e-150;
    for (const auto& [name, row] : {std::pair("b", &c.numerator), std::pair("a", &c.denominator)}) {
        const auto odd = std::ranges::find_if(*row, [&](double v) {
            return !(std::abs(v) <= most_times * std::abs(c.denominator[0]));
        });
        if (odd != row->end()) {
            return refuse(fmt::format("{}[{}]", name, odd - row->begin()),
                          fmt::format("is {} beside an a[0] of {}", *odd, c.denominator[0]),
                          "scale it to within 1e150 times a[0]");
        }
    }
    const double most =
        std::abs(std::ranges::max(c.numerator, {}, [](double v) { return std::abs(v); }));
    if (most > 0 && most < least_times * std::abs(c.denominator[0])) {
        return refuse("b",
                      fmt::format("has {} at most beside an a[0] of {}", most, c.denominator[0]),
                      "scale it to above 1e-150 times a[0]");
    }
    return {};
}

// Zeros at the end say nothing.
std::span<const double> without_trailing_zeros(const std::vector<double>& row) {
    std::size_t count = row.size();
    while (count > 1 && row[count - 1] == 0) {
        --count;
    }
    return std::span(row).first(count);
}

struct Made {
    Filter filter;
    double round_trip = 0;
};

Filter one_section(std::span<const double> b, std::span<const double> a) {
    const auto at = [&](std::span<const double> row, std::size_t k) {
        return k < row.size() ? row[k] / a[0] : 0.0;
    };
    return Cascade{{Biquad{at(b, 0), at(b, 1), at(b, 2), at(a, 1), at(a, 2)}}};
}

Filter taps_of(std::span<const double> b, double a0) {
    auto taps = std::make_shared<std::vector<double>>(b.begin(), b.end());
    for (double& tap : *taps) {
        tap /= a0;
    }
    return Taps(TapValues(std::move(taps)));
}

Expected<PolynomialZeros> zeros_of(const char* name, std::span<const double> row,
                                   const Watch& watch) {
    auto found = polynomial_zeros(row, [&watch] { return watch.is_stopped(); });
    if (watch.is_stopped()) {
        return stopped();
    }
    if (!found) {
        return refuse(name, "has zeros that were not found",
                      "scale the coefficients so that they differ less in size");
    }
    return *found;
}

Expected<Made> made_of_zeros(std::span<const double> b, std::span<const double> a,
                             const Watch& watch) {
    const auto first = std::ranges::find_if(b, [](double v) { return v != 0; });
    const auto delay = static_cast<std::size_t>(first - b.begin());
    const auto zeros = zeros_of("b", b.subspan(delay), watch);
    watch.report(0.5);
    const auto poles = zeros_of("a", a, watch);
    if (!zeros || !poles) {
        return tl::unexpected(zeros ? poles.error() : zeros.error());
    }
    const Roots roots{zeros->zeros, poles->zeros, *first / a[0], static_cast<double>(delay)};
    return Made{filter_of_roots(roots), std::max(zeros->round_trip, poles->round_trip)};
}

Expected<Made> made_of(const Coefficients& c, const Watch& watch) {
    const auto b = without_trailing_zeros(c.numerator), a = without_trailing_zeros(c.denominator);
    if (a.size() <= 3 && b.size() <= 3) {
        return Made{one_section(b, a)};
    }
    if (a.size() == 1) {
        return Made{taps_of(b, a[0])};
    }
    if (std::ranges::all_of(b, [](double v) { return v == 0; })) {
        return Made{Gain{0}};
    }
    return made_of_zeros(b, a, watch);
}

std::size_t order_of(const Coefficients& c) {
    return std::max(without_trailing_zeros(c.numerator).size(),
                    without_trailing_zeros(c.denominator).size())
           - 1;
}

// Roots that cancel do nothing in a filter that works exactly, and drift apart in one that rounds.
std::string note_of(const Filter& filter, double round_trip) {
    if (!std::holds_alternative<Cascade>(filter.form())) {
        return {}; // nothing is fed back
    }
    const auto& roots = filter.roots();
    constexpr double together = 1e-9;
    if (roots) {
        for (const auto& pole : roots->poles) {
            const bool cancelled = std::abs(std::abs(pole) - 1) < together
                                   && std::ranges::any_of(roots->zeros, [&](const auto& zero) {
                                          return std::abs(zero - pole) < together;
                                      });
            if (cancelled) {
                return "a zero cancels a pole on the circle: what rounding leaves there rings on";
            }
        }
    }
    return round_trip > worth_saying
               ? fmt::format("its roots, multiplied out, miss a coefficient by {} of itself",
                             text_with_digits(round_trip, 2))
               : std::string();
}

WorkingStep step_of(const char* title, const char* symbol, const std::vector<double>& row) {
    WorkingStep step{title, {}};
    for (std::size_t k = 0; k < row.size(); ++k) {
        step.numbers.push_back({fmt::format("{}{}", symbol, k), "", row[k], ""});
    }
    return step;
}

Working working_of(const Coefficients& c, const Filter& filter, double round_trip, double rate) {
    Working shown{
        "a0 y[n] = Σ bk x[n−k] − Σ ak y[n−k]; zeros of the polynomials by eigenvalues of "
        "the balanced companion matrix (Parlett and Reinsch, 1969), polished in more digits",
        {}};
    shown.steps.push_back(step_of("Feeds x forward", "b", c.numerator));
    shown.steps.push_back(step_of("Feeds y back", "a", c.denominator));
    shown.steps.push_back(
        {"There and back",
         {{"ε", "greatest relative difference of a coefficient, multiplied out of the zeros",
           round_trip, ""}}});
    add_roots(shown, filter, rate);
    return shown;
}

} // namespace

std::span<const NumberField<RecursionSpec>> fields_of(const RecursionSpec&) {
    return start_fields;
}

std::span<const NumberRow<RecursionSpec>> rows_of(const RecursionSpec&) {
    return coefficient_rows;
}

std::vector<std::string_view> fields_moving_roots(const RecursionSpec& spec, bool poles) {
    std::vector<std::string_view> keys;
    for (const auto& field : start_fields) {
        if (poles && field.get(spec) && field.steps != FieldSteps::whole) {
            keys.push_back(field.key);
        }
    }
    return keys;
}

std::optional<RootsSpec> own_roots(const RecursionSpec& spec, const Filter& filter) {
    if (spec.start || !filter.roots()) {
        return std::nullopt;
    }
    const Roots& roots = *filter.roots();
    return RootsSpec{roots.zeros, roots.poles, roots.gain};
}

RecursionSpec with_own_roots(const RecursionSpec& spec, const Filter& filter,
                             const RootsSpec& roots) {
    RecursionSpec result;
    const double a0 = spec.a[0];
    result.b.assign(static_cast<std::size_t>(filter.roots()->delay_samples), 0.0);
    const auto row = multiplied_out(roots.gain * a0, roots.zeros);
    result.b.insert(result.b.end(), row.begin(), row.end());
    result.a = multiplied_out(a0, roots.poles);
    return result;
}

std::optional<RecursionSpec> freed(const RecursionSpec& spec, const Brief& brief) {
    const auto made = coefficients_of(spec, brief.sample_rate_hz);
    return spec.start && made ? std::optional(RecursionSpec{made->numerator, made->denominator, {}})
                              : std::nullopt;
}

Expected<Coefficients> coefficients_of(const RecursionSpec& spec, double sample_rate_hz) {
    if (!spec.start) {
        return Coefficients{spec.b, spec.a};
    }
    if (auto ok = check_fields(spec); !ok) {
        return tl::unexpected(ok.error());
    }
    return coefficients_of(*spec.start, sample_rate_hz).map_error([](const Problem& problem) {
        return within("start", problem);
    });
}

Expected<Design> design(const RecursionSpec& spec, const Brief& brief, const Watch& watch) {
    if (auto ok = check_sampled(brief, "a recursion runs from sample to sample"); !ok) {
        return tl::unexpected(ok.error());
    }
    const auto coefficients = coefficients_of(spec, brief.sample_rate_hz);
    if (!coefficients) {
        return tl::unexpected(coefficients.error());
    }
    if (auto ok = check(*coefficients); !ok) {
        return tl::unexpected(ok.error());
    }
    return made_of(*coefficients, watch).map([&](const Made& made) {
        return Design{made.filter,
                      [made, c = *coefficients, rate = brief.sample_rate_hz] {
                          return working_of(c, made.filter, made.round_trip, rate);
                      },
                      note_of(made.filter, made.round_trip)};
    });
}

bool is_quick(const RecursionSpec& spec) {
    constexpr std::size_t quick_order = 24;
    return spec.start || order_of({spec.b, spec.a}) <= quick_order;
}

std::string title_of(const RecursionSpec& spec) {
    return spec.start ? std::string(title_of(spec.start->form)) : "Recursion";
}

std::string summary_of(const RecursionSpec& spec) {
    if (!spec.start) {
        return fmt::format("{} b, {} a", spec.b.size(), spec.a.size());
    }
    const RecursionForm form = spec.start->form;
    return has_frequency(form)       ? frequency_text(spec.start->frequency_hz)
           : has_time_constant(form) ? text_with_digits(spec.start->time_constant_ms, 3) + " ms"
           : has_leak(form)          ? "leak " + text_with_digits(spec.start->leak, 3)
                                     : fmt::format("{} samples", spec.start->length);
}

std::string spoken_name_of(const RecursionSpec& spec) {
    return spec.start ? title_of(spec) + " " + summary_of(spec)
                      : fmt::format("Recursion of order {}", order_of({spec.b, spec.a}));
}

} // namespace syntonon
