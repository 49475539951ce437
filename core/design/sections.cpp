// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/sections.h"

#include "core/base/units.h"
#include "core/design/section_rounding.h"
#include "core/filter/form.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <limits>
#include <numeric>
#include <type_traits>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using Wide = std::complex<long double>;
using Values = std::vector<double>;

double distance(const RootPair& a, const RootPair& b) {
    return std::abs(a.roots.front() - b.roots.front());
}

// A draft with its denominator rounded and its numerator not yet scaled.
struct Rounded {
    SectionDraft draft;
    std::array<double, 3> a{};
    double gain = 1;
};

Wide value_at(const std::array<long double, 3>& c, int degree, Wide at, bool is_z) {
    if (is_z) { // powers of 1/z
        const Wide x = Wide(1) / at;
        return c[0] + x * (c[1] + x * c[2]);
    }
    Wide value = c[0];
    for (int i = 1; i <= degree; ++i) {
        value = value * at + c[static_cast<std::size_t>(i)];
    }
    return value;
}

std::array<long double, 3> wide(const std::array<double, 3>& c) {
    return {c[0], c[1], c[2]};
}

// |N / D| at the reference, with the denominator that is rounded already: so the gain is right
// though the poles moved a little.
double level_at(const Rounded& section, const GainReference& reference, bool is_z) {
    const SectionDraft& draft = section.draft;
    if (reference.at_infinity) {
        return static_cast<double>(draft.zeros.c[0] / static_cast<long double>(section.a[0]));
    }
    const Wide at(reference.at);
    return static_cast<double>(
        std::abs(value_at(draft.zeros.c, draft.zeros.count(), at, is_z)
                 / value_at(wide(section.a), draft.poles.count(), at, is_z)));
}

std::array<double, 3> scaled(const std::array<long double, 3>& c, double gain) {
    std::array<double, 3> b{};
    std::ranges::transform(c, b.begin(), [&](long double v) {
        return static_cast<double>(v * static_cast<long double>(gain));
    });
    return b;
}

Filter filter_of(const std::vector<Rounded>& sections, bool is_z) {
    Cascade sampled;
    AnalogCascade analog;
    Roots roots;
    roots.domain = is_z ? Domain::sampled : Domain::analog;
    for (const Rounded& s : sections) {
        const SectionDraft& draft = s.draft;
        const auto b = scaled(draft.zeros.c, s.gain);
        for (const auto& [from, to] :
             {std::pair{&draft.zeros, &roots.zeros}, {&draft.poles, &roots.poles}}) {
            std::ranges::copy_if(from->roots, std::back_inserter(*to),
                                 [&](const Complex& root) { return !is_z || root != 0.0; });
        }
        if (is_z) {
            const auto first = std::ranges::find_if(b, [](double v) { return v != 0; });
            roots.delay_samples += static_cast<double>(first - b.begin());
            roots.gain *= *first;
            sampled.sections.push_back({b[0], b[1], b[2], s.a[1], s.a[2]});
        } else {
            roots.gain *= b[0];
            analog.sections.push_back(
                analog_section(b, draft.zeros.count(), s.a, draft.poles.count()));
        }
    }
    return is_z ? Filter(std::move(sampled), std::move(roots))
                : Filter(std::move(analog), std::move(roots));
}

// The sections' gains are exact ones from here on: their denominators are rounded anew.
Filter rounded_well(const std::vector<Rounded>& sections, const GainReference& reference,
                    Roots roots) {
    std::vector<ScaledDraft> exact;
    for (const Rounded& s : sections) {
        const Wide at(reference.at);
        const auto with_rounded = value_at(wide(s.a), 2, at, true);
        const auto with_exact = value_at(s.draft.poles.c, 2, at, true);
        exact.push_back(
            {s.draft, static_cast<long double>(s.gain) * std::abs(with_exact / with_rounded)});
    }
    std::vector<Complex> places{reference.at};
    places.insert(places.end(), reference.edges.begin(), reference.edges.end());
    Cascade cascade{rounded_together(exact, places)};
    roots.gain = 1;
    for (const Biquad& section : cascade.sections) {
        roots.gain *= section.b0 != 0 ? section.b0 : section.b1 != 0 ? section.b1 : section.b2;
    }
    return {std::move(cascade), std::move(roots)};
}

// Where levels are looked at: a grid over all roots, and places around each.
FrequencyGrid looked_at(const Filter& whole, const Axis& axis) {
    constexpr double ratio = 1.02;
    double least = axis.end_hz(), most = least * 1e-9;
    for (const auto* roots : {&whole.roots()->zeros, &whole.roots()->poles}) {
        for (const Complex& root : *roots) {
            const double hz = axis.is_analog() ? hz_from_rad_per_s(std::abs(root))
                                               : hz_from_rad_per_sample(std::abs(std::log(root)),
                                                                        axis.sample_rate_hz);
            if (hz > 0 && std::isfinite(hz)) {
                least = std::min(least, hz);
                most = std::max(most, hz);
            }
        }
    }
    const double low = least / 4, high = std::min(axis.end_hz(), most * 4);
    Values hz = whole.telling_hz({low, high, ratio, axis});
    for (double f = low; f < high; f *= ratio) {
        hz.push_back(f);
    }
    hz.push_back(high);
    return *FrequencyGrid::from_frequencies(std::move(hz), axis);
}

double peak_with(const Values& sum, const Values& level) {
    double peak = -std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < sum.size(); ++i) {
        peak = std::max(peak, sum[i] + level[i]);
    }
    return peak;
}

void add_to(Values& sum, const Values& level) {
    std::ranges::transform(sum, level, sum.begin(), std::plus<>());
}

// After each section, from their levels over a grid.
Values running_peaks_db(const std::vector<Values>& levels) {
    Values sum(levels.front().size(), 0.0), peaks;
    for (const Values& level : levels) {
        peaks.push_back(peak_with(sum, level));
        add_to(sum, level);
    }
    return peaks;
}

std::vector<Values> levels_of(const std::vector<Rounded>& sections, const Axis& axis) {
    const bool is_z = !axis.is_analog();
    const FrequencyGrid grid = looked_at(filter_of(sections, is_z), axis);
    std::vector<Values> levels;
    for (const Rounded& section : sections) {
        levels.push_back(filter_of({section}, is_z).magnitude_db(grid));
    }
    return levels;
}

// Of those that are left the one whose output peaks least goes next.
std::vector<Rounded> least_peaks_first(const std::vector<Rounded>& sections, const Axis& axis) {
    const std::vector<Values> levels = levels_of(sections, axis);
    std::vector<std::size_t> left(sections.size());
    std::iota(left.begin(), left.end(), std::size_t{0});
    Values sum(levels.front().size(), 0.0);
    std::vector<Rounded> ordered;
    while (!left.empty()) {
        const auto next = std::ranges::min_element(
            left, {}, [&](std::size_t i) { return peak_with(sum, levels[i]); });
        add_to(sum, levels[*next]);
        ordered.push_back(sections[*next]);
        left.erase(next);
    }
    return ordered;
}

void put_in_order(std::vector<Rounded>& sections, SectionOrder order, const Axis& axis) {
    if (order == SectionOrder::least_peak) {
        sections = least_peaks_first(sections, axis);
        return;
    }
    const double sign = order == SectionOrder::q_ascending ? 1 : -1;
    std::ranges::stable_sort(sections, {}, [&](const Rounded& s) { return sign * s.draft.q; });
}

// So that the level peaks equally after each section; the whole gain stays.
void equalise_peaks(std::vector<Rounded>& sections, const Axis& axis) {
    const Values peaks = running_peaks_db(levels_of(sections, axis));
    double last_db = 0;
    for (std::size_t i = 0; i < peaks.size(); ++i) {
        const double total_db = peaks.back() - peaks[i];
        sections[i].gain *= ratio_from_db(total_db - last_db);
        last_db = total_db;
    }
}

} // namespace

AnalogSection analog_section(const std::array<double, 3>& b, int zeros,
                             const std::array<double, 3>& a, int poles) {
    const auto from_below = [](const std::array<double, 3>& c, int degree) {
        std::array<double, 3> low{}; // by ascending power
        for (int i = 0; i <= degree; ++i) {
            low[static_cast<std::size_t>(i)] = c[static_cast<std::size_t>(degree - i)];
        }
        return low;
    };
    const auto n = from_below(b, zeros), d = from_below(a, poles);
    return {n[2], n[1], n[0], d[2], d[1], d[0]};
}

std::vector<SectionDraft> paired(std::vector<SectionDraft> poles, std::vector<RootPair> zeros,
                                 SectionPairing pairing) {
    std::vector<SectionDraft*> choosing;
    for (SectionDraft& draft : poles) {
        choosing.push_back(&draft);
    }
    std::ranges::stable_sort(choosing, {}, [](const SectionDraft* d) { return -d->poles.count(); });
    if (pairing == SectionPairing::nearest) {
        std::ranges::stable_sort(choosing, {}, [](const SectionDraft* d) {
            return std::pair(-d->poles.count(), -d->q);
        });
    }
    for (SectionDraft* draft : choosing) {
        auto own = std::ranges::find_if(
            zeros, [&](const RootPair& pair) { return pair.count() == draft->poles.count(); });
        if (own != zeros.end() && pairing == SectionPairing::nearest) {
            own = std::ranges::min_element(zeros, {}, [&](const RootPair& pair) {
                return pair.count() == draft->poles.count()
                           ? distance(pair, draft->poles)
                           : std::numeric_limits<double>::infinity();
            });
        }
        if (own != zeros.end()) {
            draft->zeros = *own;
            zeros.erase(own);
        }
    }
    return poles;
}

Complex product_at(const std::vector<SectionDraft>& drafts, Complex z) {
    Wide all = 1;
    for (const SectionDraft& draft : drafts) {
        all *=
            value_at(draft.zeros.c, 2, Wide(z), true) / value_at(draft.poles.c, 2, Wide(z), true);
    }
    return Complex(all);
}

// In z: |a2| < 1 and |a1| < 1 + a2 (E. I. Jury, Theory and Application of the z-Transform Method,
// 1964). In s: all of one sign.
Expected<void> check_drafts(const std::vector<SectionDraft>& drafts, const Axis& axis) {
    for (const SectionDraft& draft : drafts) {
        const auto a1 = static_cast<double>(draft.poles.c[1]),
                   a2 = static_cast<double>(draft.poles.c[2]);
        const bool dies_away = axis.is_analog() ? a1 > 0 && (draft.poles.count() < 2 || a2 > 0)
                                                : std::abs(a2) < 1 && std::abs(a1) < 1 + a2;
        if (!dies_away) {
            return refuse("", "a pole of it comes to lie where it rings on for ever",
                          "move the edges");
        }
    }
    return {};
}

SectionsMade sections_of(std::vector<SectionDraft> drafts, const SectionPlan& plan,
                         const GainReference& reference, const Axis& axis) {
    const bool is_z = !axis.is_analog();
    std::vector<Rounded> rounded;
    for (SectionDraft& draft : drafts) {
        Rounded section{std::move(draft), {}, 1};
        std::ranges::transform(section.draft.poles.c, section.a.begin(),
                               [](long double v) { return static_cast<double>(v); });
        section.gain = 1 / level_at(section, reference, is_z);
        rounded.push_back(std::move(section));
    }
    put_in_order(rounded, plan.order, axis);
    if (plan.gain == SectionGain::equal_peaks) {
        equalise_peaks(rounded, axis);
    }
    rounded.front().gain *= reference.level;
    SectionsMade made{filter_of(rounded, is_z), {}};
    if (is_z) {
        made.filter = rounded_well(rounded, reference, *made.filter.roots());
    }
    for (const Rounded& section : rounded) {
        made.q.push_back(section.draft.q);
    }
    return made;
}

std::vector<double> peak_levels_db(const Filter& cascade, const Axis& axis) {
    const FrequencyGrid grid = looked_at(cascade, axis);
    std::vector<Values> levels;
    const auto add = [&](const auto& sections) {
        using Form = std::decay_t<decltype(sections)>;
        for (const auto& section : sections.sections) {
            levels.push_back(Filter(Form{{section}}).magnitude_db(grid));
        }
    };
    if (const auto* sampled = std::get_if<Cascade>(&cascade.form())) {
        add(*sampled);
    } else if (const auto* analog = std::get_if<AnalogCascade>(&cascade.form())) {
        add(*analog);
    }
    return levels.empty() ? Values{} : running_peaks_db(levels);
}

} // namespace syntonon
