// Words as rows: hexadecimal, values, arrays.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/number_text.h"
#include "core/exchange/c_number.h"
#include "core/exchange/coefficient_writers.h"
#include "core/exchange/source_writers.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

std::string head_of(const DeliveredChannel& channel, std::string_view start,
                    const std::string& order, std::string_view number) {
    const CoefficientSet& set = channel.set;
    CoefficientLayout layout;
    static_cast<SectionConvention&>(layout) = channel.convention;
    std::string text;
    for (std::string line : head_lines(set, layout)) {
        if (line.starts_with("order: ")) {
            line = "order: " + order;
        } else if (line.starts_with("number: ")) {
            line = fmt::format("number: {}", number);
        } else if (line.starts_with("digits: ") || line.starts_with("normalisation: ")
                   || line == fmt::format("  {}", meaning_of(layout.normalisation))) {
            continue; // of decimal numbers
        }
        text += fmt::format("{}{}\n", start, line);
    }
    return text;
}

// How to read a pattern.
std::string words_line(const Arithmetic& how) {
    if (!how.is_fixed()) {
        return "IEEE 754, " + text_of(how.coefficient);
    }
    return fmt::format("two's complement, {} bits; value = word times 2^{}", how.coefficient.bits(),
                       how.shift - how.coefficient.fraction_bits);
}

std::string order_of(const WordRows& rows) {
    return fmt::format("{}", fmt::join(rows.titles, " "));
}

std::string cell_text(double value, const Arithmetic& how, FileFormat format) {
    if (format != FileFormat::c_header) {
        return text_with_digits(value, 17);
    }
    return c_number(value, how);
}

std::string c_type_of(const Arithmetic& how) {
    return how.is_fixed() ? (how.coefficient.bits() <= 32 ? "int32_t" : "int64_t")
           : how.coefficient.kind == WordKind::float32 ? "float"
                                                       : "double";
}

std::string c_words_text(const DeliveredChannel& channel, const WordRows& rows) {
    const Arithmetic& how = channel.words->section_words;
    const std::string name = source_name(channel.set);
    std::string upper = name;
    std::ranges::transform(upper, upper.begin(), [](char c) {
        return static_cast<char>(c >= 'a' && c <= 'z' ? c - 'a' + 'A' : c);
    });
    std::string text = head_of(channel, " * ", order_of(rows), "whole");
    text.replace(0, 3, "/* ");
    text += fmt::format(" * {}\n */\n#ifndef {}_WORDS_H\n#define {}_WORDS_H\n\n", words_line(how),
                        upper, upper);
    text += how.is_fixed() ? "#include <stdint.h>\n\n" : "";
    text += fmt::format("#define {}_SECTIONS {}\n", upper, rows.rows.size());
    if (!rows.rows.empty()) {
        text += fmt::format("\nstatic const {} {}[{}][{}] = {{\n", c_type_of(how), name,
                            rows.rows.size(), rows.titles.size());
        for (const auto& row : rows.rows) {
            std::vector<std::string> cells;
            for (const double value : row) {
                cells.push_back(cell_text(value, how, FileFormat::c_header));
            }
            text += fmt::format("    {{{}}},\n", fmt::join(cells, ", "));
        }
        text += "};\n";
    }
    if (channel.words->delay_samples > 0) {
        text += fmt::format("\n#define {}_DELAY_SAMPLES {}\n", upper, channel.words->delay_samples);
    }
    if (const auto& taps = channel.words->taps; !taps.empty()) {
        const Arithmetic& of_taps = channel.words->tap_words;
        std::vector<std::string> cells;
        for (const double tap : taps) {
            cells.push_back(cell_text(tap, of_taps, FileFormat::c_header));
        }
        text += fmt::format("\n/* {} */\n#define {}_TAPS {}\n\nstatic const {} {}_taps[{}] = {{\n"
                            "    {},\n}};\n",
                            words_line(of_taps), upper, taps.size(), c_type_of(of_taps), name,
                            taps.size(), fmt::join(cells, ",\n    "));
    }
    return text + "\n#endif\n";
}

} // namespace

Expected<std::string> hex_words_text(const DeliveredChannel& channel, bool indexed) {
    if (!channel.words) {
        return refuse("format", "hexadecimal words need a processor whose words they are",
                      "choose a processor for the delivery");
    }
    const auto rows = word_rows(channel);
    if (!rows) {
        return tl::unexpected(rows.error());
    }
    const WordChain& words = *channel.words;
    std::string text = head_of(channel, "# ", order_of(*rows), "hexadecimal");
    text += fmt::format("# {}\n", words_line(words.section_words));
    for (std::size_t i = 0; i < rows->rows.size(); ++i) {
        text += indexed ? fmt::format("{}", i + 1) : "";
        for (std::size_t k = 0; k < rows->rows[i].size(); ++k) {
            text += (k > 0 || indexed ? " " : "")
                    + word_hexadecimal(rows->rows[i][k], words.section_words);
        }
        text += "\n";
    }
    text += words.taps.empty() ? "" : fmt::format("# taps; {}\n", words_line(words.tap_words));
    for (std::size_t k = 0; k < words.taps.size(); ++k) {
        text += indexed ? fmt::format("{} ", k) : "";
        text += word_hexadecimal(words.taps[k], words.tap_words) + "\n";
    }
    return text;
}

Expected<std::string> word_table_text(const DeliveredChannel& channel,
                                      const CoefficientLayout& layout, bool indexed) {
    const auto rows = word_rows(channel);
    if (!rows) {
        return tl::unexpected(rows.error());
    }
    if (layout.format == FileFormat::c_header) {
        return c_words_text(channel, *rows);
    }
    const Arithmetic& how = channel.words->section_words;
    const char* between = layout.format == FileFormat::csv ? "," : " ";
    std::string text = head_of(channel, "# ", order_of(*rows), "double");
    if (layout.format == FileFormat::csv) {
        text += fmt::format("{}{}\n", indexed ? "section," : "", fmt::join(rows->titles, between));
    }
    for (std::size_t i = 0; i < rows->rows.size(); ++i) {
        std::vector<std::string> cells;
        if (indexed) {
            cells.push_back(std::to_string(i + 1));
        }
        for (const double value : rows->rows[i]) {
            cells.push_back(cell_text(value, how, layout.format));
        }
        text += fmt::format("{}\n", fmt::join(cells, between));
    }
    if (!channel.words->taps.empty()) {
        text +=
            layout.format == FileFormat::csv ? (indexed ? "tap,value\n" : "value\n") : "# taps\n";
    }
    for (std::size_t k = 0; k < channel.words->taps.size(); ++k) {
        text += indexed ? fmt::format("{}{}", k, between) : "";
        text += cell_text(channel.words->taps[k], how, layout.format) + "\n";
    }
    return text;
}

} // namespace syntonon
