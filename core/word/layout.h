// How coefficients are laid out for a processor.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

enum class FileFormat {
    csv,
    json,
    c_header,
    text,       // a row a section, parted by blanks
    cpp_class,  // a class that filters
    instrument, // a class whose stages are set while it sounds, a test and a host
    lv2,        // the same as a plug-in
    hex_words,  // a word a line
    verilog,    // words for $readmemh, modules and a test bench
    wav,        // the taps as sound
    form        // a text of one's own, filled in
};
enum class NumberType { real64, real32 }; // C's double and float

// Which sign a1 and a2 carry.
enum class FeedbackSign {
    subtracted, // y = b0 x + b1 x' + b2 x'' - a1 y' - a2 y'': as in the transfer function's
                // denominator
    added       // y = ... + a1 y' + a2 y'': the processor only adds
};

// What each section is scaled by.
enum class Normalisation {
    a0_one, // a0 = 1
    b0_one, // b0 = 1; the section's gain stands beside it as a term of its own
    a0_half // everything halved, so that a1 (up to 2) fits a fraction below 1
};

enum class Term { b0, b1, b2, a0, a1, a2, gain };

// Written from the stages and not from sections.
inline bool is_of_stages(FileFormat format) {
    return format == FileFormat::instrument || format == FileFormat::lv2;
}

// How a processor wants the numbers of a section in a direct form.
struct SectionConvention {
    FeedbackSign feedback = FeedbackSign::subtracted;
    Normalisation normalisation = Normalisation::a0_one;
    std::vector<Term> order = {Term::b0, Term::b1, Term::b2, Term::a1, Term::a2};

    bool operator==(const SectionConvention&) const = default;
};

struct CoefficientLayout : SectionConvention {
    FileFormat format = FileFormat::csv;
    NumberType number = NumberType::real64;
    int digits = 17; // significant; 17 keep a double, 9 a float

    bool operator==(const CoefficientLayout&) const = default;
};

// Refuses an order that lacks b0, b1, b2, a1 or a2 (b0 may be left out when it is 1), repeats a
// term, or does not match the normalisation (`gain` belongs to b0_one and nothing else).
Expected<void> check(const SectionConvention& convention);
// The same, and digits outside 1 to 17.
Expected<void> check(const CoefficientLayout& layout);

std::string_view key_of(FileFormat format);           // "csv", "json", "c_header" ... as it stands
std::string_view key_of(NumberType number);           // "double", "float"
std::string_view key_of(FeedbackSign sign);           // "subtracted", "added"
std::string_view key_of(Normalisation normalisation); // "a0_one", "b0_one", "a0_half"
std::string_view key_of(Term term);                   // "b0" ... "gain"
std::string_view extension_of(FileFormat format);     // ".csv", ".json", ".h"

std::optional<FileFormat> file_format_from_key(std::string_view key);
std::optional<NumberType> number_type_from_key(std::string_view key);
std::optional<FeedbackSign> feedback_sign_from_key(std::string_view key);
std::optional<Normalisation> normalisation_from_key(std::string_view key);

// "b0 b1 b2 a1 a2" and back; refuses words that are no terms.
std::string order_text(const std::vector<Term>& order);
Expected<std::vector<Term>> order_from_text(std::string_view text);

} // namespace syntonon
