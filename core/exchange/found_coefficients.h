// Coefficients that others wrote: what a text holds is recognised, as far as it is not said.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/exchange/held_word.h"
#include "core/filter/filter.h"
#include "core/filter/rational.h"
#include "core/filter/roots.h"
#include "core/study/chain.h"
#include "core/word/layout.h"
#include "core/word/processor.h"

#include <array>
#include <cstddef>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

enum class CoefficientsAs {
    sections, // of second order, one after the other
    fraction, // b and a of any order; of several, one after the other
    taps
};
inline constexpr std::array all_coefficients_as = {CoefficientsAs::sections,
                                                   CoefficientsAs::fraction, CoefficientsAs::taps};
std::string_view key_of(CoefficientsAs as); // "sections", "fraction", "taps"
std::optional<CoefficientsAs> coefficients_as_from_key(std::string_view key);

// What is said of a text; goes before what the text says of itself.
struct CoefficientReading {
    std::optional<CoefficientsAs> as = {};
    std::optional<std::vector<Term>> order = {}; // of a row; may have a0 where that is not 1
    std::optional<FeedbackSign> feedback = {};
    std::optional<Normalisation> normalisation = {};
    std::optional<HeldWord> words = {}, tap_words = {};
};
// As a processor wants its numbers.
CoefficientReading reading_for(const Processor& processor);

// Poles of all that was found, with either sign of what is fed back.
struct SignJudgement {
    double radius = 0;       // the greatest as it was read
    double other_radius = 0; // with the other sign
    bool is_said = false;    // else it is the one of a stable filter, subtracted of two

    bool is_stable() const { return radius < 1; }
    // Unstable as it is said, stable with the other sign.
    bool is_suspect() const { return is_said && !is_stable() && other_radius < 1; }
};

struct FoundCoefficients {
    CoefficientsAs as = CoefficientsAs::sections; // what was taken, first of all
    std::vector<Coefficients> fractions;          // sections, too; a0 as it was written
    std::vector<double> taps;
    std::size_t delay_samples = 0;
    std::optional<Roots> roots;   // of a formula of factors, in the place of fractions
    SectionConvention convention; // of tables; feedback of all
    std::optional<HeldWord> words;
    std::optional<double> sample_rate_hz; // that the text states
    SignJudgement sign;
    std::vector<std::string> notes; // how it was recognised, a sentence each
};

// Understood, in this order: transfer functions and difference equations (read_transfer.h); this
// program's own coefficient files; named numbers (b0 … a2 for each section, or more of them); rows
// of b and of a; tables of 5 or 6 columns, the sixth a0, after an index or not, in one of a few
// orders: the first whose sections are stable with one of the signs; else taps. Words need their
// format, unless a0 is among them. Refused with the line, besides what written_numbers.h says: rows
// of other lengths than the order has, a0 = 0, an analog filter, fractions beyond order 200, more
// than 1000 sections.
Expected<FoundCoefficients> found_coefficients(std::string_view text,
                                               const CoefficientReading& reading = {});
Expected<FoundCoefficients> found_coefficients_in_file(const std::filesystem::path& path,
                                                       const CoefficientReading& reading = {});

// The other sign of what is fed back in all fractions.
void turn_feedback(FoundCoefficients& found);

// What it does, made as its stages are: of the highest orders that takes a second.
Expected<Filter> filter_of(const FoundCoefficients& found, const Axis& axis);

// One stage, named so, for what is recursive (several sections are held by a `repeat` of 1), one
// for the taps, one for the delay.
Chain chain_of(const FoundCoefficients& found, const std::string& name);

} // namespace syntonon
