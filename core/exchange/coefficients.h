// Coefficient files: out, in again, and compared.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/cascade.h"
#include "core/study/briefs.h"
#include "core/study/study.h"
#include "core/word/layout.h"

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace syntonon {

// What a file is about; it stands in the file's head.
struct CoefficientSet {
    std::string study;
    std::string channel;
    double sample_rate_hz = 0;
    Cascade cascade;
    // One after the other with the sections, in whatever order.
    std::size_t delay_samples = 0;
    std::vector<double> taps = {}; // empty: no FIR
    // Further lines of the head: what made it. Keys are plain words.
    std::vector<std::pair<std::string, std::string>> about = {};
};

// See channel_parts.h.
Expected<CoefficientSet> coefficients_of(const Study& study, const Channel& channel,
                                         Briefs& briefs);

// The file's text. Its head says study, channel, sample rate, number of sections, number type, sign
// of a1 and a2, normalisation, order and digits, one "key: value" a line. Refuses a layout that
// does not pass check(), a section that cannot be normalised in it, and formats that are no tables
// of numbers (see delivered_files.h). `indexed`: rows of CSV and text begin with their number.
Expected<std::string> coefficient_text(const CoefficientSet& set, const CoefficientLayout& layout,
                                       bool indexed = true);

struct ReadCoefficients {
    CoefficientSet set; // back in this program's convention: a0 = 1, a1 and a2 subtracted
    CoefficientLayout layout;
};

// Reads what coefficient_text writes, going by the file's own head. Refuses, naming the line or
// key.
Expected<ReadCoefficients> read_coefficients(std::string_view text);

// How far a set that was read back is from the design.
struct Deviation {
    double greatest_coefficient = 0; // absolute, of any b or a
    std::size_t section = 0;         // where that is; counted from 1, 0 when there is none
    std::string term;                // "a1"; "tap", counted from 1, too
    double greatest_db = 0; // of the whole cascade's level, where the design is above -200 dB
    double worst_hz = 0;
};

// Over 10 Hz to half the sample rate and around every root. Refuses differing numbers of sections
// or taps and other delays.
Expected<Deviation> deviation_between(const CoefficientSet& design, const CoefficientSet& read);
// Of the levels alone, whatever sections they are made of: words may stand in another order.
Expected<Deviation> level_deviation_between(const CoefficientSet& design,
                                            const CoefficientSet& read);

} // namespace syntonon
