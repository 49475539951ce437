// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/coefficients.h"

#include "core/base/json.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/study/designed_chain.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

struct Scaled {
    double b0, b1, b2, a0, a1, a2, gain;
};

constexpr double Scaled::*member_of(Term term) {
    switch (term) {
    case Term::b0:
        return &Scaled::b0;
    case Term::b1:
        return &Scaled::b1;
    case Term::b2:
        return &Scaled::b2;
    case Term::a0:
        return &Scaled::a0;
    case Term::a1:
        return &Scaled::a1;
    case Term::a2:
        return &Scaled::a2;
    case Term::gain:
        return &Scaled::gain;
    }
    return nullptr;
}

Expected<Scaled> scaled(const Biquad& s, const CoefficientLayout& layout) {
    const double sign = layout.feedback == FeedbackSign::added ? -1 : 1;
    Scaled out{s.b0, s.b1, s.b2, 1, sign * s.a1, sign * s.a2, 1};
    if (layout.normalisation == Normalisation::b0_one) {
        if (s.b0 == 0) {
            return refuse("", "b0 is 0 and cannot be scaled to 1",
                          "choose the normalisation a0_one");
        }
        out.gain = s.b0;
        out.b0 = 1, out.b1 /= s.b0, out.b2 /= s.b0;
    } else if (layout.normalisation == Normalisation::a0_half) {
        for (double Scaled::*member :
             {&Scaled::b0, &Scaled::b1, &Scaled::b2, &Scaled::a0, &Scaled::a1, &Scaled::a2}) {
            out.*member /= 2;
        }
    }
    return out;
}

std::string number_text(double value, const CoefficientLayout& layout) {
    // A minus zero would read back as such and look like a deviation.
    value = value == 0 ? 0.0 : value;
    std::string text =
        layout.number == NumberType::real32
            ? fmt::format("{:.{}g}", static_cast<float>(value), std::min(layout.digits, 9))
            : text_with_digits(value, layout.digits);
    if (layout.format == FileFormat::c_header) {
        text += text.find_first_of(".e") == std::string::npos ? ".0" : "";
        text += layout.number == NumberType::real32 ? "f" : "";
    }
    return text;
}

using Rows = std::vector<std::vector<std::string>>;

Expected<Rows> rows_of(const Cascade& cascade, const CoefficientLayout& layout) {
    Rows rows;
    for (std::size_t i = 0; i < cascade.sections.size(); ++i) {
        const auto section = scaled(cascade.sections[i], layout);
        if (!section) {
            return tl::unexpected(within(fmt::format("section {}", i + 1), section.error()));
        }
        std::vector<std::string> row;
        for (const Term term : layout.order) {
            // Scaling, or a number type with a smaller range, may leave what no file can hold.
            const double value = (*section).*member_of(term);
            if (!std::isfinite(layout.number == NumberType::real32 ? static_cast<float>(value)
                                                                   : value)) {
                return refuse(fmt::format("section {}", i + 1),
                              fmt::format("{} does not fit the number type {}", key_of(term),
                                          key_of(layout.number)),
                              "choose double, or the normalisation a0_one");
            }
            row.push_back(number_text((*section).*member_of(term), layout));
        }
        rows.push_back(std::move(row));
    }
    return rows;
}

std::string joined(const std::vector<std::string>& parts, std::string_view between) {
    return fmt::format("{}", fmt::join(parts, between));
}

// One line, and nothing that could end the comment it stands in.
std::string harmless(std::string text) {
    for (auto at = text.find("*/"); at != std::string::npos; at = text.find("*/")) {
        text.replace(at, 2, "* /");
    }
    std::ranges::replace_if(
        text, [](unsigned char c) { return c < ' '; }, ' ');
    return text;
}

std::string_view meaning_of(FeedbackSign sign) {
    return sign == FeedbackSign::subtracted
               ? "y[n] = b0 x[n] + b1 x[n-1] + b2 x[n-2] - a1 y[n-1] - a2 y[n-2]"
               : "y[n] = b0 x[n] + b1 x[n-1] + b2 x[n-2] + a1 y[n-1] + a2 y[n-2]";
}

std::string_view meaning_of(Normalisation normalisation) {
    switch (normalisation) {
    case Normalisation::a0_one:
        return "each section is divided by its a0";
    case Normalisation::b0_one:
        return "b0 = 1 and a0 = 1; multiply each section's output by its gain";
    case Normalisation::a0_half:
        return "a0 = 1/2: double each section's result";
    }
    return "";
}

std::vector<std::string> head_lines(const CoefficientSet& set, const CoefficientLayout& layout) {
    return {
        "Syntonon coefficients",
        "study: " + harmless(set.study),
        "channel: " + harmless(set.channel),
        fmt::format("sample_rate_hz: {}", set.sample_rate_hz),
        fmt::format("sections: {}", set.cascade.sections.size()),
        fmt::format("number: {}", key_of(layout.number)),
        fmt::format("feedback: {}", key_of(layout.feedback)),
        fmt::format("  {}", meaning_of(layout.feedback)),
        fmt::format("normalisation: {}", key_of(layout.normalisation)),
        fmt::format("  {}", meaning_of(layout.normalisation)),
        fmt::format("digits: {}", layout.digits),
        "order: " + order_text(layout.order),
    };
}

std::string csv_text(const CoefficientSet& set, const CoefficientLayout& layout, const Rows& rows) {
    std::string text;
    for (const std::string& line : head_lines(set, layout)) {
        text += "# " + line + "\n";
    }
    std::vector<std::string> titles{"section"};
    for (const Term term : layout.order) {
        titles.emplace_back(key_of(term));
    }
    text += joined(titles, ",") + "\n";
    for (std::size_t i = 0; i < rows.size(); ++i) {
        text += fmt::format("{},{}\n", i + 1, joined(rows[i], ","));
    }
    return text;
}

std::string json_text(const CoefficientSet& set, const CoefficientLayout& layout,
                      const Rows& rows) {
    std::string text = "{\n \"format\": \"syntonon-coefficients\",\n";
    text += fmt::format(" \"study\": {},\n \"channel\": {},\n", json_string(set.study),
                        json_string(set.channel));
    text += fmt::format(" \"sample_rate_hz\": {},\n", set.sample_rate_hz);
    text += fmt::format(" \"number\": \"{}\",\n", key_of(layout.number));
    text += fmt::format(" \"feedback\": \"{}\",\n \"feedback_meaning\": \"{}\",\n",
                        key_of(layout.feedback), meaning_of(layout.feedback));
    text += fmt::format(" \"normalisation\": \"{}\",\n \"normalisation_meaning\": \"{}\",\n",
                        key_of(layout.normalisation), meaning_of(layout.normalisation));
    text += fmt::format(" \"digits\": {},\n \"order\": \"{}\",\n \"sections\": [", layout.digits,
                        order_text(layout.order));
    for (std::size_t i = 0; i < rows.size(); ++i) {
        text += i > 0 ? ",\n  {" : "\n  {";
        for (std::size_t k = 0; k < rows[i].size(); ++k) {
            text +=
                fmt::format("{}\"{}\": {}", k > 0 ? ", " : "", key_of(layout.order[k]), rows[i][k]);
        }
        text += "}";
    }
    return text + (rows.empty() ? "]\n}\n" : "\n ]\n}\n");
}

std::string slug(std::string_view name, char joint) {
    std::string text;
    for (const char c : lower_case(name)) {
        if ((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9')) {
            text += c;
        } else if (!text.empty() && text.back() != joint) {
            text += joint;
        }
    }
    while (!text.empty() && text.back() == joint) {
        text.pop_back();
    }
    return text.empty() ? "unnamed" : text;
}

std::string c_text(const CoefficientSet& set, const CoefficientLayout& layout, Rows rows) {
    std::string text;
    for (const std::string& line : head_lines(set, layout)) {
        text += (text.empty() ? "/* " : " * ") + line + "\n";
    }
    text += " */\n";
    // C names do not start with a digit.
    std::string name = slug(set.study, '_') + "_" + slug(set.channel, '_');
    name = std::isdigit(static_cast<unsigned char>(name.front())) ? "study_" + name : name;
    std::string upper = name;
    std::ranges::transform(upper, upper.begin(), [](char c) {
        return static_cast<char>(c >= 'a' && c <= 'z' ? c - 'a' + 'A' : c);
    });
    text += fmt::format(
        "#ifndef {0}_COEFFICIENTS_H\n#define {0}_COEFFICIENTS_H\n\n#define {0}_SECTIONS {1}\n\n",
        upper, rows.size());
    if (rows.empty()) {
        text += "/* There is no section; C has no empty arrays, so this one passes the signal "
                "unchanged. */\n";
        rows = *rows_of(Cascade{{Biquad{}}}, layout);
    }
    text += fmt::format("static const {} {}[{}][{}] = {{\n", key_of(layout.number), name,
                        rows.size(), layout.order.size());
    for (const auto& row : rows) {
        text += "    {" + joined(row, ", ") + "},\n";
    }
    return text + "};\n\n#endif\n";
}

} // namespace

Expected<CoefficientSet> coefficients_of(const Study& study, const Channel& channel,
                                         Briefs& briefs) {
    CoefficientSet set{study.name, channel.name, study.sample_rate_hz, {}};
    const DesignedChain chain = briefs.design(study, channel);
    const std::string place = "channel " + channel.id;
    if (!chain.problems.empty()) {
        return refuse(fmt::format("{}, {}", place, chain.problems.front().place),
                      chain.problems.front().reason, chain.problems.front().way_out);
    }
    if (!chain.waits_for.empty()) {
        return tl::unexpected(within(place, being_designed(chain.waits_for)));
    }
    for (std::size_t i = 0; i < channel.stages.size(); ++i) {
        const Stage& stage = *channel.stages[i];
        if (!stage.enabled) {
            continue;
        }
        const auto sections = chain.stages.at(stage.id).filter->sections();
        if (!sections) {
            return tl::unexpected(
                within(fmt::format("{}, stages[{}]", place, i), sections.error()));
        }
        set.cascade.sections.insert(set.cascade.sections.end(), sections->sections.begin(),
                                    sections->sections.end());
    }
    return set;
}

Expected<std::string> coefficient_text(const CoefficientSet& set, const CoefficientLayout& layout) {
    if (auto ok = check(layout); !ok) {
        return tl::unexpected(ok.error());
    }
    auto rows = rows_of(set.cascade, layout);
    if (!rows) {
        return tl::unexpected(rows.error());
    }
    switch (layout.format) {
    case FileFormat::csv:
        return csv_text(set, layout, *rows);
    case FileFormat::json:
        return json_text(set, layout, *rows);
    case FileFormat::c_header:
        return c_text(set, layout, std::move(*rows));
    }
    return refuse("format", "is not known", "choose csv, json or c_header");
}

Expected<Deviation> deviation_between(const CoefficientSet& design, const CoefficientSet& read) {
    const auto& wanted = design.cascade.sections;
    const auto& got = read.cascade.sections;
    if (wanted.size() != got.size()) {
        return refuse("sections",
                      fmt::format("the file has {}, the design {}", got.size(), wanted.size()),
                      "export again");
    }
    if (design.sample_rate_hz != read.sample_rate_hz) {
        return refuse("sample_rate_hz",
                      fmt::format("the file says {} Hz, the design {} Hz", read.sample_rate_hz,
                                  design.sample_rate_hz),
                      "export again");
    }
    Deviation worst;
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        for (const auto& [member, term] : {std::pair{&Biquad::b0, "b0"},
                                           {&Biquad::b1, "b1"},
                                           {&Biquad::b2, "b2"},
                                           {&Biquad::a1, "a1"},
                                           {&Biquad::a2, "a2"}}) {
            const double difference = std::abs(wanted[i].*member - got[i].*member);
            if (difference > worst.greatest_coefficient) {
                worst.greatest_coefficient = difference;
                worst.section = i + 1;
                worst.term = term;
            }
        }
    }
    constexpr double grid_points = 2000, floor_db = -200;
    const double high = nyquist_hz(design.sample_rate_hz);
    const double low = std::min(10.0, high / 100);
    std::vector<double> hz =
        Filter(design.cascade)
            .telling_hz({low, high, std::pow(high / low, 1 / grid_points), design.sample_rate_hz});
    for (double f = 0; f <= grid_points; ++f) {
        hz.push_back(std::min(high, low * std::pow(high / low, f / grid_points)));
    }
    const auto grid = FrequencyGrid::from_frequencies(std::move(hz), design.sample_rate_hz);
    if (!grid) {
        return tl::unexpected(grid.error());
    }
    const auto wanted_db = magnitude_db(design.cascade, *grid);
    const auto got_db = magnitude_db(read.cascade, *grid);
    for (std::size_t i = 0; i < grid->size(); ++i) {
        const double difference = std::abs(wanted_db[i] - got_db[i]);
        if (wanted_db[i] > floor_db && difference > worst.greatest_db) {
            worst.greatest_db = difference;
            worst.worst_hz = grid->frequency_hz()[i];
        }
    }
    return worst;
}

std::string coefficient_file_name(std::string_view study, std::string_view channel,
                                  std::string_view layout_name, FileFormat format) {
    return fmt::format("{}_{}_{}{}", slug(study, '-'), slug(channel, '-'), slug(layout_name, '-'),
                       extension_of(format));
}

} // namespace syntonon
