// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/crossover.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/design/fir/ideal_taps.h"
#include "core/design/mapped_roots.h"
#include "core/filter/form.h"
#include "core/math/polynomial_zeros.h"
#include "core/math/window.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <fmt/format.h>
#include <numeric>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using CrossoverField = NumberField<CrossoverSpec>;

constexpr std::array crossover_families = std::to_array<NamedValue<CrossoverFamily>>({
    {CrossoverFamily::linkwitz_riley, "linkwitz_riley", "Linkwitz-Riley"},
    {CrossoverFamily::butterworth, "butterworth", "Butterworth"},
    {CrossoverFamily::bessel, "bessel", "Bessel"},
    {CrossoverFamily::linear_phase, "linear_phase", "Linear phase"},
    {CrossoverFamily::subtractive, "subtractive", "Subtractive"},
});

constexpr int longest_crossover = 65'537;

template <std::size_t k>
constexpr CrossoverField frequency(std::string_view key, const char* caption) {
    return {key,
            caption,
            "Hz",
            Dimension::frequency,
            1, // below, double coefficients begin to miss
            greatest_analog_hz,
            FieldSteps::by_ratio,
            [](const CrossoverSpec& s) {
                return k < s.frequencies_hz.size() ? std::optional(s.frequencies_hz[k])
                                                   : std::nullopt;
            },
            [](CrossoverSpec& s, double v) {
                if (k < s.frequencies_hz.size()) {
                    s.frequencies_hz[k] = v;
                }
            }};
}

constexpr std::array crossover_fields = std::to_array<CrossoverField>({
    {"order", "Order", "", Dimension::plain, 1, most_crossover_order, FieldSteps::whole,
     [](const CrossoverSpec& s) {
         return has_order(s.family) ? std::optional<double>(s.order) : std::nullopt;
     },
     [](CrossoverSpec& s, double v) { s.order = static_cast<int>(std::lround(v)); }},
    frequency<0>("frequencies_hz[0]", "Crosses at"),
    frequency<1>("frequencies_hz[1]", "and at"),
    frequency<2>("frequencies_hz[2]", "and at"),
    {"length", "Length", "taps", Dimension::plain, 3, longest_crossover, FieldSteps::whole,
     [](const CrossoverSpec& s) {
         return s.family == CrossoverFamily::linear_phase ? std::optional<double>(s.length)
                                                          : std::nullopt;
     },
     [](CrossoverSpec& s, double v) { s.length = static_cast<int>(std::lround(v)); }},
    {"stop_attenuation_db", "Attenuation", "dB", Dimension::level, 21, 200, FieldSteps::by_one,
     [](const CrossoverSpec& s) {
         return s.family == CrossoverFamily::linear_phase ? std::optional(s.stop_attenuation_db)
                                                          : std::nullopt;
     },
     [](CrossoverSpec& s, double v) { s.stop_attenuation_db = v; }},
    {"way", "Way", "", Dimension::plain, 1, most_crossover_frequencies + 1, FieldSteps::whole,
     [](const CrossoverSpec& s) { return std::optional<double>(s.way); },
     [](CrossoverSpec& s, double v) { s.way = static_cast<int>(std::lround(v)); }},
    {"height_m", "Height", "m", Dimension::plain, -100, 100, FieldSteps::by_tenth,
     [](const CrossoverSpec& s) { return std::optional(s.height_m); },
     [](CrossoverSpec& s, double v) { s.height_m = v; }},
});

Expected<void> check_frequencies(const CrossoverSpec& spec, const Axis& axis) {
    const auto& all = spec.frequencies_hz;
    if (all.empty() || all.size() > most_crossover_frequencies) {
        return refuse("frequencies_hz", fmt::format("are {}", all.size()),
                      fmt::format("give 1 to {}", most_crossover_frequencies));
    }
    for (std::size_t k = 0; k < all.size(); ++k) {
        const std::string place = fmt::format("frequencies_hz[{}]", k);
        if (!(all[k] < axis.end_hz())) {
            return refuse(place,
                          fmt::format("{} is not below half the sample rate ({})",
                                      frequency_text(all[k]), frequency_text(axis.end_hz())),
                          "lower it");
        }
        if (k > 0 && !(all[k] > all[k - 1])) {
            return refuse(place, "is not above the one before it", "let them ascend");
        }
    }
    return {};
}

Expected<void> check_family(const CrossoverSpec& spec, const Axis& axis) {
    const auto refuse_order = [&](const char* why, const char* way_out) {
        return refuse("order", fmt::format("{}: {}", spec.order, why), way_out);
    };
    if (spec.family == CrossoverFamily::linkwitz_riley && spec.order % 2 != 0) {
        return refuse_order("a Linkwitz-Riley low-pass is one of half the order twice",
                            "make it even");
    }
    if (spec.family == CrossoverFamily::butterworth && spec.order % 2 == 0) {
        return refuse_order("low- and high-pass of an even order add up to a hump of 3 dB",
                            "make it odd, or choose Linkwitz-Riley");
    }
    if (spec.family == CrossoverFamily::linear_phase && spec.length % 2 == 0) {
        return refuse("length", fmt::format("{} taps have no middle one", spec.length),
                      "make it odd");
    }
    const bool needs_samples = spec.family == CrossoverFamily::linear_phase
                               || (spec.family == CrossoverFamily::subtractive && spec.delayed);
    if (axis.is_analog() && needs_samples) {
        return refuse("family", "taps and delays are made in the z-plane",
                      "choose another one, or a sampled channel");
    }
    return {};
}

Expected<void> check(const CrossoverSpec& spec, const Axis& axis) {
    if (auto ok = check_frequencies(spec, axis).and_then([&] { return check_fields(spec); }); !ok) {
        return ok;
    }
    if (spec.way > ways_of(spec)) {
        return refuse(
            "way",
            fmt::format("{} is not there: the crossover has {} ways", spec.way, ways_of(spec)),
            "lower it, or add a frequency");
    }
    return check_family(spec, axis);
}

Expected<Prototype> prototype_of(CrossoverFamily family, int order) {
    switch (family) {
    case CrossoverFamily::linkwitz_riley:
        return linkwitz_riley_prototype(order);
    case CrossoverFamily::butterworth:
        return butterworth_prototype(order);
    default:
        return bessel_prototype(order, BesselEdge::level);
    }
}

// What low- and high-pass add up to, as an all-pass at 1 rad/s: its poles. With n the order of the
// Butterworth polynomial B, a Linkwitz-Riley pair adds up to B(-s) / B(s), since
// 1 +- s^2n = B(s) B(-s). A Butterworth pair adds up to (1 + p s^n) / B(s), the roots of whose
// numerator in the left half are poles that go; those with p pole^n = 1 stay, mirrored in the
// numerator.
std::vector<Complex> poles_of_sum(const CrossoverSpec& spec) {
    if (spec.family == CrossoverFamily::linkwitz_riley) {
        return butterworth_prototype(spec.order / 2)->poles;
    }
    std::vector<Complex> poles = butterworth_prototype(spec.order)->poles;
    const int polarity = polarity_of(spec.family, spec.order);
    std::erase_if(poles, [&](const Complex& pole) {
        return std::pow(pole, spec.order).real() * polarity < 0;
    });
    return poles;
}

// The two sides of a split, and what they add up to.
struct Split {
    Filter low, high, sum;
};

class SplitDesigner {
public:
    SplitDesigner(const CrossoverSpec& spec, const Axis& axis) : spec_(spec), axis_(axis) {}

    Expected<Split> split_at(double hz) const {
        const auto prototype = prototype_of(spec_.family, spec_.order);
        if (!prototype) {
            return tl::unexpected(prototype.error());
        }
        const double edge = edge_of(hz);
        auto low =
            sections(band_roots(*prototype, ClassicalBand::low_pass, {edge, edge}, 1), false, 1);
        if (!low) {
            return tl::unexpected(low.error());
        }
        if (spec_.family == CrossoverFamily::subtractive) {
            return spec_.delayed ? Expected<Split>(with_delayed_rest(*low))
                                 : with_rest(*prototype, *low, edge);
        }
        auto high = sections(band_roots(*prototype, ClassicalBand::high_pass, {edge, edge}, 1),
                             true, polarity_of(spec_.family, spec_.order));
        if (!high) {
            return tl::unexpected(high.error());
        }
        Split split{*std::move(low), *std::move(high), Filter()};
        if (spec_.filled && is_filled_at_will(spec_.family)) {
            auto sum = all_pass(edge);
            if (!sum) {
                return tl::unexpected(sum.error());
            }
            split.sum = *std::move(sum);
        }
        return split;
    }

private:
    double edge_of(double hz) const {
        return axis_.is_analog()
                   ? 2 * pi * hz
                   : 2 * axis_.sample_rate_hz * std::tan(pi * hz / axis_.sample_rate_hz);
    }

    Expected<Filter> sections(const BandRoots& roots, bool is_high, int polarity) const {
        const auto band = is_high ? ClassicalBand::high_pass : ClassicalBand::low_pass;
        const SectionPlan plan;
        SectionDrafts drafts =
            axis_.is_analog() ? analog_drafts(roots, band, plan.pairing)
                              : bilinear_drafts(roots, band, plan.pairing, axis_.sample_rate_hz);
        if (auto ok = check_drafts(drafts.drafts, axis_); !ok) {
            return refuse("order",
                          "coefficients in double precision cannot hold this crossover: "
                              + ok.error().reason,
                          "choose a lower order, or frequencies further from the ends");
        }
        drafts.reference.level *= polarity;
        return sections_of(std::move(drafts.drafts), plan, drafts.reference, axis_).filter;
    }

    Expected<Filter> all_pass(double edge) const {
        BandRoots roots;
        int sign = 1; // sections go by the magnitude at 0 Hz, where a zero at the right turns it
        for (const Complex& pole : poles_of_sum(spec_)) {
            sign = pole.imag() == 0 ? -sign : sign;
            roots.poles.push_back(pole * edge);
            roots.zeros.push_back(-std::conj(pole) * edge);
        }
        return roots.poles.empty() ? Filter() : sections(roots, false, sign);
    }

    // 1 - b / D(s) = (D(s) - D(0)) / D(s).
    Expected<Split> with_rest(const Prototype& prototype, Filter low, double edge) const {
        std::vector<double> numerator = multiplied_out(1, prototype.poles);
        numerator.pop_back();
        const auto zeros = polynomial_zeros(numerator);
        BandRoots roots;
        roots.zeros.emplace_back(0);
        if (zeros) {
            for (const Complex& zero : zeros->zeros) {
                roots.zeros.push_back(zero * edge);
            }
        }
        for (const Complex& pole : prototype.poles) {
            roots.poles.push_back(pole * edge);
        }
        auto high = sections(roots, true, 1);
        if (!high || !zeros) {
            return refuse("order", "what the low-pass leaves over has no roots to be found",
                          "lower it");
        }
        return Split{std::move(low), *std::move(high), Filter()};
    }

    // The delay is about that of the low-pass at 0 Hz.
    Split with_delayed_rest(const Filter& low) const {
        const double samples = low.response_at(0, axis_).group_delay_samples;
        const Filter delay(Delay{static_cast<std::size_t>(std::lround(samples))});
        return {low, Filter(ParallelSum{{{1, delay}, {-1, low}}}), delay};
    }

    const CrossoverSpec& spec_;
    Axis axis_;
};

// A low-pass with linear phase that is 1 at 0 Hz, and half of that at the frequency.
std::vector<double> low_taps(const CrossoverSpec& spec, double hz, double sample_rate_hz) {
    const double w = rad_per_sample_from_hz(hz, sample_rate_hz);
    const auto length = static_cast<std::size_t>(spec.length);
    const std::array lines = {LinePiece{0, w, 1, 1}};
    std::vector<double> taps = ideal_taps(lines, length, static_cast<double>(length - 1) / 2);
    const Window window{WindowShape::kaiser, kaiser_beta(spec.stop_attenuation_db), {}};
    const std::vector<double> weights = window_values(window, length);
    std::ranges::transform(taps, weights, taps.begin(), std::multiplies());
    for (std::size_t n = 0; n < length / 2; ++n) { // to the bit
        taps[length - 1 - n] = taps[n];
    }
    const double sum = std::accumulate(taps.begin(), taps.end(), 0.0);
    std::ranges::for_each(taps, [sum](double& tap) { tap /= sum; });
    return taps;
}

// The difference of two low-passes; all of them add up to one tap in the middle.
Filter linear_phase_way(const CrossoverSpec& spec, double sample_rate_hz) {
    const auto length = static_cast<std::size_t>(spec.length);
    const auto way = static_cast<std::size_t>(spec.way - 1);
    std::vector<double> taps(length, 0.0);
    if (way < spec.frequencies_hz.size()) {
        taps = low_taps(spec, spec.frequencies_hz[way], sample_rate_hz);
    } else {
        taps[length / 2] = 1;
    }
    if (way > 0) {
        const auto below = low_taps(spec, spec.frequencies_hz[way - 1], sample_rate_hz);
        std::ranges::transform(taps, below, taps.begin(), std::minus());
    }
    return Filter(Taps(std::move(taps)));
}

Expected<Filter> filter_of_way(const CrossoverSpec& spec, const Axis& axis) {
    if (spec.family == CrossoverFamily::linear_phase) {
        return linear_phase_way(spec, axis.sample_rate_hz);
    }
    const SplitDesigner designer(spec, axis);
    std::vector<Filter> parts;
    for (std::size_t k = 0; k < spec.frequencies_hz.size(); ++k) {
        auto split = designer.split_at(spec.frequencies_hz[k]);
        if (!split) {
            return tl::unexpected(split.error());
        }
        const auto at = static_cast<int>(k) + 1;
        Filter& part = at < spec.way ? split->high : at == spec.way ? split->low : split->sum;
        if (!(part == Filter())) {
            parts.push_back(std::move(part));
        }
    }
    return series(parts);
}

std::string meaning_of_sum(const CrossoverSpec& spec) {
    switch (spec.family) {
    case CrossoverFamily::linear_phase:
        return "All ways add up to a delay";
    case CrossoverFamily::subtractive:
        return spec.delayed ? "All ways add up to a delay" : "All ways add up to their input";
    case CrossoverFamily::bessel:
        return "The sum of all ways is not flat";
    default:
        return spec.filled || spec.frequencies_hz.size() == 1
                   ? "All ways add up to an all-pass"
                   : "Two ways add up to an all-pass; more than two are not filled";
    }
}

Working working_of(const CrossoverSpec& spec, const Filter& filter, const Axis& axis) {
    Working shown;
    shown.method = fmt::format("{} crossover: {}",
                               named<CrossoverFamily>(crossover_families, spec.family).title,
                               meaning_of_sum(spec));
    for (const double hz : spec.frequencies_hz) {
        WorkingStep step{fmt::format("Split at {}", frequency_text(hz)), {}};
        step.numbers.push_back({"f", "where the ways cross", hz, "Hz"});
        if (has_order(spec.family)) {
            step.numbers.push_back({"N", "order", static_cast<double>(spec.order), ""});
            step.numbers.push_back({"p", "polarity of the high-pass",
                                    static_cast<double>(polarity_of(spec.family, spec.order)), ""});
        } else {
            step.numbers.push_back(
                {"β", "of Kaiser's window", kaiser_beta(spec.stop_attenuation_db), ""});
        }
        shown.steps.push_back(std::move(step));
        shown.marked_hz.push_back(hz);
    }
    add_roots(shown, filter, axis.sample_rate_hz);
    return shown;
}

// "to 300 Hz", "0.3–2 kHz", "from 2 kHz".
std::string band_text(const CrossoverSpec& spec) {
    const auto& all = spec.frequencies_hz;
    const auto way = static_cast<std::size_t>(std::max(spec.way, 1)) - 1;
    if (all.empty() || way > all.size()) {
        return {};
    }
    const auto text = [](double hz) { return frequency_text(hz, 4); };
    if (way == 0) {
        return "to " + text(all[0]);
    }
    return way == all.size() ? "from " + text(all.back())
                             : frequency_range_text(all[way - 1], all[way], 4);
}

} // namespace

std::span<const NamedValue<CrossoverFamily>> names_of_crossover_families() {
    return crossover_families;
}

int ways_of(const CrossoverSpec& spec) {
    return static_cast<int>(spec.frequencies_hz.size()) + 1;
}

CrossoverSpec with_shared(const CrossoverSpec& settings, const CrossoverSpec& own) {
    CrossoverSpec both = settings;
    both.way = own.way;
    both.height_m = own.height_m;
    return both;
}

bool is_filled_at_will(CrossoverFamily family) {
    return family == CrossoverFamily::linkwitz_riley || family == CrossoverFamily::butterworth;
}

bool has_order(CrossoverFamily family) {
    return family != CrossoverFamily::linear_phase;
}

int polarity_of(CrossoverFamily family, int order) {
    const auto alternating = [](int n) { return n % 2 == 0 ? 1 : -1; };
    switch (family) {
    case CrossoverFamily::linkwitz_riley:
        return alternating(order / 2);
    case CrossoverFamily::butterworth:
        return alternating((order - 1) / 2);
    case CrossoverFamily::bessel: {
        // Where they cross the high-pass is the low-pass' conjugate.
        Complex low = 1;
        const auto prototype = bessel_prototype(order, BesselEdge::level);
        for (const Complex& pole : prototype ? prototype->poles : std::vector<Complex>()) {
            low /= 1.0 - Complex(0, 1) / pole;
        }
        return std::abs(low.real()) >= std::abs(low.imag()) ? 1 : -1;
    }
    default:
        return 1;
    }
}

Expected<Design> design(const CrossoverSpec& spec, const Brief& brief, const Watch&) {
    const Axis axis = brief.axis();
    if (auto ok = check(spec, axis); !ok) {
        return tl::unexpected(ok.error());
    }
    return filter_of_way(spec, axis).map([&](const Filter& filter) {
        return Design{filter, [spec, filter, axis] { return working_of(spec, filter, axis); }};
    });
}

std::span<const NumberField<CrossoverSpec>> fields_of(const CrossoverSpec&) {
    return crossover_fields;
}

std::string way_name(int way, int ways) {
    constexpr std::array<std::string_view, 4> four = {"Low", "Low mid", "High mid", "High"};
    if (way <= 1 || way >= ways) {
        return std::string(way <= 1 ? four.front() : four.back());
    }
    return std::string(ways == 3 ? "Mid" : four[static_cast<std::size_t>(way) - 1]);
}

std::string title_of(const CrossoverSpec& spec) {
    return way_name(spec.way, ways_of(spec)) + " " + band_text(spec);
}

std::string summary_of(const CrossoverSpec& spec) {
    const std::string family(named<CrossoverFamily>(crossover_families, spec.family).title);
    return has_order(spec.family) ? fmt::format("{} {}", family, spec.order)
                                  : fmt::format("{}, {} taps", family, spec.length);
}

std::string spoken_name_of(const CrossoverSpec& spec) {
    return "Crossover " + band_text(spec);
}

} // namespace syntonon
