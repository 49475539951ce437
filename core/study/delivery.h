// What is handed over.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/unknown_keys.h"
#include "core/study/device_target.h"
#include "core/word/layout.h"
#include "core/word/structure.h"

#include <string>
#include <vector>

namespace syntonon {

// Words that were searched for a channel, and what for: see words.h.
struct FoundWords {
    std::string channel; // its id
    std::string fitted_to;
    std::vector<StructuredSection> sections;
    std::vector<double> taps;
    double worst_db = 0; // greatest deviation of their level
    UnknownKeys unknown = {};

    bool operator==(const FoundWords&) const = default;
};

// A set of files, one a channel or more, in one layout.
struct Delivery {
    std::string id;
    std::string name;
    std::vector<std::string> channels; // ids; empty: all sampled channels
    CoefficientLayout layout;
    // Of the files without their ending: see file_pattern.h. Empty: "{study}_{channel}_{delivery}".
    std::string file_pattern = {};
    bool indexed = true;   // a number stands before each row of CSV, text and hexadecimal words
    std::string form = {}; // the text that FileFormat::form fills in

    // For which processor: of the study's or of those that come with the program; empty: numbers as
    // designed. Its words and its convention hold then.
    std::string processor = {};
    Structure structure = Structure::direct_form_1;
    bool searched = false; // words searched for instead of the nearest
    int block_frames = 0;  // 0: the processor's first size
    std::vector<FoundWords> found = {};

    DeviceTarget device = {}; // to be sent to, besides or instead of files
    UnknownKeys unknown = {};

    bool operator==(const Delivery&) const = default;
};

} // namespace syntonon
