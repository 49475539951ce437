// The chain in the words of a delivery's processor, as it is drawn and judged.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/study/study.h"
#include "core/study/trace.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

struct WordsAnalysis {
    std::string delivery; // its name
    Filter chain;         // a wire when there is a problem
    Trace total;
    LevelTrace predicted;
    std::optional<Problem> problem; // why there are no words
    bool is_out_of_date = false;    // searched words were of another design: these are the nearest
    // On the drawing grid, of the parts that stand in series; so that a change works out one.
    struct Part {
        Filter filter;
        std::shared_ptr<const Response> response;
    };
    std::vector<Part> parts;
};

struct WordsQuestion {
    const Study& study;
    const Delivery& delivery; // of the study
    const Channel& channel;
    const Filter& chain; // the channel's, as designed
    const FrequencyGrid& grid;
    const CurveReader* measured; // null: none
};
// `last` is what was found on the same grid before; may be null.
std::shared_ptr<const WordsAnalysis> words_analysis(const WordsQuestion& question,
                                                    const WordsAnalysis* last);

} // namespace syntonon
