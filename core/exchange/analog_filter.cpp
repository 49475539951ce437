// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/analog_filter.h"

#include "core/base/json.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/exchange/difference_equation.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <iterator>
#include <utility>

namespace syntonon {
namespace {

constexpr int exact_digits = 17;

std::string exact_text(double value) {
    return text_with_digits(value == 0 ? 0.0 : value, exact_digits);
}

// By powers of 1/s to powers of s, both as long as the denominator.
void polynomials_of(const Rational& rational, AnalogFilterText& found) {
    const Coefficients c = coefficients_of(rational);
    const std::size_t length = std::max(c.numerator.size(), c.denominator.size());
    found.numerator = c.numerator;
    found.denominator = c.denominator;
    found.numerator.resize(length, 0.0);
    found.denominator.resize(length, 0.0);
    // Powers of s that neither has.
    while (found.numerator.size() > 1 && found.numerator.back() == 0
           && found.denominator.back() == 0) {
        found.numerator.pop_back();
        found.denominator.pop_back();
    }
    const auto first = std::ranges::find_if(found.numerator, [](double v) { return v != 0; });
    if (first != found.numerator.end()) {
        found.numerator.erase(found.numerator.begin(), first);
    }
}

constexpr std::array section_titles{"b2", "b1", "b0", "a2", "a1", "a0"};

std::array<double, 6> numbers_of(const AnalogSection& s) {
    return {s.b2, s.b1, s.b0, s.a2, s.a1, s.a0};
}

std::string plain_text(const AnalogFilterText& f) {
    std::string text = fmt::format("Syntonon analog filter\nstudy: {}\nchannel: {}\n",
                                   one_line(f.study), one_line(f.channel));
    const auto out = std::back_inserter(text);
    if (f.cascade) {
        fmt::format_to(out, "\nSections, s in rad/s: gain, natural frequency, Q\n");
        for (std::size_t i = 0; i < f.cascade->sections.size(); ++i) {
            const AnalogSection& s = f.cascade->sections[i];
            const NaturalFrequency natural = natural_frequency_of(s);
            fmt::format_to(out, "{}  gain {}  w0 {} rad/s = {} Hz{}\n", i + 1,
                           exact_text(gain_of(s)), exact_text(natural.rad_per_s),
                           exact_text(hz_from_rad_per_s(natural.rad_per_s)),
                           natural.q ? "  Q " + exact_text(*natural.q) : ", first order");
        }
        for (const std::string& line : difference_equations(Filter(*f.cascade), exact_digits)) {
            fmt::format_to(out, "{}\n", line);
        }
    }
    fmt::format_to(out, "\nN(s) / D(s), s by 2 pi 1 kHz, highest power first\n");
    for (const auto& [name, c] : {std::pair{"N", &f.numerator}, {"D", &f.denominator}}) {
        fmt::format_to(out, "{}:", name);
        for (const double value : *c) {
            fmt::format_to(out, " {}", exact_text(value));
        }
        text += "\n";
    }
    fmt::format_to(out, "\nH(s) = gain prod(s - zero) / prod(s - pole), rad/s\ngain {}\n",
                   exact_text(f.roots.gain));
    for (const auto& [name, roots] :
         {std::pair{"zero", &f.roots.zeros}, {"pole", &f.roots.poles}}) {
        for (const auto& root : *roots) {
            fmt::format_to(out, "{} {} {} j {}\n", name, exact_text(root.real()),
                           root.imag() < 0 ? "-" : "+", exact_text(std::abs(root.imag())));
        }
    }
    return text;
}

// One row a number; a root is two, its real and its imaginary part.
std::string csv(const AnalogFilterText& f) {
    std::string text = "item,index,value,second\n";
    const auto out = std::back_inserter(text);
    for (std::size_t i = 0; f.cascade && i < f.cascade->sections.size(); ++i) {
        const AnalogSection& s = f.cascade->sections[i];
        const NaturalFrequency natural = natural_frequency_of(s);
        fmt::format_to(out, "section_gain,{},{},\n", i + 1, exact_text(gain_of(s)));
        fmt::format_to(out, "section_w0_rad_per_s,{},{},\n", i + 1, exact_text(natural.rad_per_s));
        if (natural.q) {
            fmt::format_to(out, "section_q,{},{},\n", i + 1, exact_text(*natural.q));
        }
        const auto numbers = numbers_of(s);
        for (std::size_t k = 0; k < numbers.size(); ++k) {
            fmt::format_to(out, "section_{},{},{},\n", section_titles[k], i + 1,
                           exact_text(numbers[k]));
        }
    }
    for (const auto& [name, c] :
         {std::pair{"numerator", &f.numerator}, {"denominator", &f.denominator}}) {
        for (std::size_t k = 0; k < c->size(); ++k) {
            fmt::format_to(out, "{},{},{},\n", name, c->size() - 1 - k, exact_text((*c)[k]));
        }
    }
    fmt::format_to(out, "gain,,{},\n", exact_text(f.roots.gain));
    for (const auto& [name, roots] :
         {std::pair{"zero", &f.roots.zeros}, {"pole", &f.roots.poles}}) {
        for (std::size_t i = 0; i < roots->size(); ++i) {
            fmt::format_to(out, "{},{},{},{}\n", name, i + 1, exact_text((*roots)[i].real()),
                           exact_text((*roots)[i].imag()));
        }
    }
    return text;
}

std::string list_text(const std::vector<double>& values) {
    std::string text = "[";
    for (std::size_t i = 0; i < values.size(); ++i) {
        text += (i > 0 ? ", " : "") + exact_text(values[i]);
    }
    return text + "]";
}

std::string list_text(const std::vector<std::complex<double>>& roots) {
    std::string text = "[";
    for (std::size_t i = 0; i < roots.size(); ++i) {
        text += fmt::format("{}[{}, {}]", i > 0 ? ", " : "", exact_text(roots[i].real()),
                            exact_text(roots[i].imag()));
    }
    return text + "]";
}

std::string json(const AnalogFilterText& f) {
    std::string text = "{\n \"format\": \"syntonon-analog-filter\",\n";
    const auto out = std::back_inserter(text);
    fmt::format_to(out, " \"study\": {},\n \"channel\": {},\n", json_string(f.study),
                   json_string(f.channel));
    if (f.cascade) {
        text += " \"sections\": [";
        for (std::size_t i = 0; i < f.cascade->sections.size(); ++i) {
            const AnalogSection& s = f.cascade->sections[i];
            const NaturalFrequency natural = natural_frequency_of(s);
            fmt::format_to(out, "{}\n  {{\"gain\": {}, \"w0_rad_per_s\": {}", i > 0 ? "," : "",
                           exact_text(gain_of(s)), exact_text(natural.rad_per_s));
            if (natural.q) {
                fmt::format_to(out, ", \"q\": {}", exact_text(*natural.q));
            }
            const auto numbers = numbers_of(s);
            for (std::size_t k = 0; k < numbers.size(); ++k) {
                fmt::format_to(out, ", \"{}\": {}", section_titles[k], exact_text(numbers[k]));
            }
            text += "}";
        }
        text += "\n ],\n";
    }
    fmt::format_to(out,
                   " \"polynomial_unit_rad_per_s\": {},\n \"numerator\": {},\n"
                   " \"denominator\": {},\n \"gain\": {},\n \"zeros\": {},\n \"poles\": {}\n}}\n",
                   exact_text(polynomial_unit_rad_per_s), list_text(f.numerator),
                   list_text(f.denominator), exact_text(f.roots.gain), list_text(f.roots.zeros),
                   list_text(f.roots.poles));
    return text;
}

} // namespace

NaturalFrequency natural_frequency_of(const AnalogSection& s) {
    if (order_of(s) < 2) {
        return {s.a1 != 0 ? s.a0 / s.a1 : 0, std::nullopt};
    }
    const double w0 = std::sqrt(s.a0 / s.a2);
    return {w0, w0 * s.a2 / s.a1};
}

double gain_of(const AnalogSection& s) {
    const double above = s.b2 != 0 ? s.b2 : s.b1 != 0 ? s.b1 : s.b0;
    return above / (s.a2 != 0 ? s.a2 : s.a1 != 0 ? s.a1 : s.a0);
}

Expected<AnalogFilterText> analog_filter_of(const Study& study, const Channel& channel,
                                            Briefs& briefs) {
    const std::string place = "channel " + channel.id;
    if (channel.domain != Domain::analog) {
        return refuse(place, "is sampled", "take its coefficients instead");
    }
    const DesignedChain chain = briefs.design(study, channel);
    if (!chain.problems.empty()) {
        return tl::unexpected(within(place, chain.problems.front()));
    }
    if (!chain.waits_for.empty()) {
        return tl::unexpected(within(place, being_designed(chain.waits_for)));
    }
    const auto& roots = chain.filter.roots();
    const auto& rational = chain.filter.rational();
    if (!roots || !rational) {
        return tl::unexpected(within(place, !roots ? roots.error() : rational.error()));
    }
    AnalogFilterText found{study.name, channel.name, {}, *roots, {}, {}};
    if (auto cascade = chain.filter.analog_sections()) {
        found.cascade = std::move(*cascade);
    }
    polynomials_of(*rational, found);
    return found;
}

std::string analog_text(const AnalogFilterText& filter, AnalogFormat format) {
    switch (format) {
    case AnalogFormat::csv:
        return csv(filter);
    case AnalogFormat::json:
        return json(filter);
    case AnalogFormat::text:
        break;
    }
    return plain_text(filter);
}

} // namespace syntonon
