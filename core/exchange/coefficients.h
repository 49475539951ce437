// Coefficient files: out, in again, and compared.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/filter/cascade.h"
#include "core/study/briefs.h"
#include "core/study/layout.h"
#include "core/study/study.h"

#include <string>
#include <string_view>
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
};

// Sections, delay and taps of everything that is switched on in the channel. Refuses, naming the
// stage, what cannot be designed, is still being designed or is made of something else.
Expected<CoefficientSet> coefficients_of(const Study& study, const Channel& channel,
                                         Briefs& briefs);

// The file's text. Its head says study, channel, sample rate, number of sections, number type, sign
// of a1 and a2, normalisation, order and digits, one "key: value" a line. Refuses a layout that
// does not pass check() and a section that cannot be normalised in it.
Expected<std::string> coefficient_text(const CoefficientSet& set, const CoefficientLayout& layout);

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

// "brightwater-dome_zenith_c-float.h"
std::string coefficient_file_name(std::string_view study, std::string_view channel,
                                  std::string_view layout_name, FileFormat format);

} // namespace syntonon
