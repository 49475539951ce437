// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/nearest_words.h"

#include "core/filter/in_sections.h"

#include <cmath>
#include <fmt/format.h>
#include <optional>

namespace syntonon {
namespace {

std::string_view title_of(Structure structure) {
    return named(structures(), structure).title;
}

double limit_of(const WordFormat& format, const Network& network, std::size_t number) {
    const std::string_view name = network.coefficients[number];
    return name[0] == 'b'   ? format.b_below
           : name[0] == 'a' ? format.a_below
                            : std::numeric_limits<double>::infinity();
}

// "shift the coefficients by 1, or give their words 2 bits before the point: Q2.14"
std::string roomier(double value, const Arithmetic& how) {
    for (int more = 1; more <= 24; ++more) {
        Word word = coefficient_values(how);
        word.whole_bits += more;
        word.fraction_bits -= more;
        if (fits(value, word)) {
            return fmt::format("shift the coefficients by {}, or give their word {} bits before "
                               "the point: {}",
                               how.shift + more, how.coefficient.whole_bits + more,
                               text_of(Word::fixed(how.coefficient.whole_bits + more,
                                                   how.coefficient.fraction_bits - more)));
        }
    }
    return "choose a floating word";
}

std::string range_of(const Word& word) {
    return fmt::format("{} ({:.6g} to {:.6g})", text_of(word), least_of(word), greatest_of(word));
}

Problem beyond(const WordFormat& format, const Network& network, std::size_t number, double value) {
    const Arithmetic& how = format.sections;
    const Word word = coefficient_values(how);
    const std::string_view name = network.coefficients[number];
    if (fits(value, word)) {
        const double limit = limit_of(format, network, number);
        return {
            "",
            fmt::format("{} = {:.6g} is not within the processor's ±{:.6g}", name, value, limit),
            name[0] == 'b' ? "lower the section's gain and raise another's, or let the words be "
                             "searched: that shares the gains out"
                           : "choose a structure without this limit"};
    }
    std::string way_out = word.is_fixed() ? roomier(value, how) : "choose float64";
    if (name[0] == 'b' || name[0] == 'c' || name[0] == 'm' || name[0] == 'v') {
        way_out += "; or let the words be searched: that shares the gains out";
    }
    return {"",
            fmt::format("{} = {:.6g} is beyond {}{}", name, value, range_of(word),
                        how.shift == 0 ? "" : fmt::format(", shifted by {} as it is", how.shift)),
            way_out};
}

std::string place_of_section(std::size_t number) {
    return fmt::format("section {}", number);
}

} // namespace

bool holds(const WordFormat& format, const Network& network, std::size_t number, double value) {
    return fits(value, coefficient_values(format.sections))
           && std::abs(value) < limit_of(format, network, number);
}

bool holds(const WordFormat& format, const StructuredSection& section) {
    const Network& network = network_of(format.structure, section.real_poles);
    for (std::size_t i = 0; i < section.values.size(); ++i) {
        if (!holds(format, network, i, section.values[i])) {
            return false;
        }
    }
    return true;
}

Expected<StructuredSection> nearest_section(const Biquad& section, std::size_t number,
                                            const WordFormat& format) {
    auto made = structured(section, format.structure);
    if (!made) {
        return refuse(
            place_of_section(number),
            fmt::format("is not stable, and {} holds stable ones only", title_of(format.structure)),
            "choose a direct form");
    }
    const Network& network = network_of(format.structure, made->real_poles);
    const Word word = coefficient_values(format.sections);
    for (std::size_t i = 0; i < made->values.size(); ++i) {
        double& value = made->values[i];
        if (!holds(format, network, i, value)) {
            return tl::unexpected(
                within(place_of_section(number), beyond(format, network, i, value)));
        }
        value = rounded(value, word, Rounding::nearest);
    }
    return *made;
}

Expected<std::vector<double>> nearest_taps(const std::vector<double>& taps, const Arithmetic& how) {
    const Word word = coefficient_values(how);
    std::vector<double> made;
    made.reserve(taps.size());
    for (const double tap : taps) {
        if (!fits(tap, word)) {
            return refuse(fmt::format("tap {}", made.size() + 1),
                          fmt::format("{:.6g} is beyond {}", tap, range_of(word)),
                          word.is_fixed() ? roomier(tap, how) : "choose float64");
        }
        made.push_back(rounded(tap, word, Rounding::nearest));
    }
    return made;
}

Expected<WordChain> nearest_words(const SeriesParts& parts, const WordFormat& format) {
    for (const auto& [name, how] :
         {std::pair("sections", &format.sections), std::pair("taps", &format.taps)}) {
        if (auto ok = check(*how); !ok) {
            return tl::unexpected(within(name, ok.error()));
        }
    }
    if (format.structure == Structure::error_feedback && !format.sections.is_fixed()) {
        return refuse("structure", "error feedback belongs to fixed words",
                      "choose another structure or fixed words");
    }
    WordChain chain{format.structure, format.sections, format.taps, {}, {}, parts.delay_samples};
    for (const Biquad& section : parts.cascade.sections) {
        auto made = nearest_section(section, chain.sections.size() + 1, format);
        if (!made) {
            return tl::unexpected(made.error());
        }
        chain.sections.push_back(std::move(*made));
    }
    auto taps = nearest_taps(parts.taps, format.taps);
    if (!taps) {
        return tl::unexpected(taps.error());
    }
    chain.taps = std::move(*taps);
    return chain;
}

} // namespace syntonon
